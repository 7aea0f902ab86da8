"""Files changed at random: what is read must be refused with words or be usable, in bounded time.

Whatever is accepted is shown as well: a picture's pixels, frames of a clip, a text set in a font, a
drawing, a colour table.
"""

from __future__ import annotations

import io
import json
import random
import time
import zipfile
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

from PIL import Image
from tests.build import layer, png, project
from tests.footage import animation, video

from young_comet.core.frame.contents import ClipContent, PictureContent
from young_comet.core.model import Asset
from young_comet.core.paint import MediaLibrary
from young_comet.core.typography.shipped import FACES_DIR
from young_comet.core.typography.style import plainly
from young_comet.edits.patch import plain
from young_comet.errors import DocumentError, MediaError, NotFoundError
from young_comet.store import AssetStore, read_archive

KITE = """<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="60" height="40" viewBox="0 0 60 40">
<style>.sail { fill: #ff7a45; } #bow { stroke: #2f9fb3; }</style>
<defs><linearGradient id="g"><stop offset="0" stop-color="#fff"/><stop offset="1" stop-color="#000" stop-opacity="0.5"/></linearGradient>
<filter id="f" x="-1" width="3"><feGaussianBlur stdDeviation="2"/><feOffset dx="1"/></filter>
<pattern id="p" width="4" height="4" patternUnits="userSpaceOnUse"><rect width="2" height="2"/></pattern>
<clipPath id="c"><circle cx="20" cy="20" r="15"/></clipPath><mask id="m"><rect width="30" height="30" fill="url(#g)"/></mask></defs>
<g transform="rotate(10 20 20) scale(1.2)" opacity="0.8"><path class="sail" d="M0 0L30 5L20 30Z" filter="url(#f)"/>
<rect id="bow" x="5" y="5" width="20" height="9" fill="url(#p)" clip-path="url(#c)" mask="url(#m)" stroke-dasharray="2 1"/></g>
<use xlink:href="#bow" x="10"/><text x="3" y="30" font-size="9">Gull</text></svg>"""
NUMBERS = (
    "0",
    "-1",
    "1e9",
    "1e38",
    "1e308",
    "nan",
    "inf",
    "0.0000001",
    "99999999",
    "4294967296",
    "-2147483648",
    "%",
)


@dataclass
class Found:
    """What a run has found."""

    tried: int = 0
    accepted: Counter[str] = field(default_factory=Counter)
    refused: Counter[str] = field(default_factory=Counter)
    slowest: tuple[float, str] = (0.0, "")
    seconds: Counter[str] = field(default_factory=Counter)
    troubles: list[str] = field(default_factory=list)


def seeds() -> dict[str, bytes]:
    """One small file of every kind that is read."""
    made: dict[str, bytes] = {
        "png": png(40, 30),
        "png-alpha": png(20, 20, (9, 9, 9, 90)),
        "svg": KITE.encode(),
    }
    for name, mode in (("JPEG", "RGB"), ("WEBP", "RGBA"), ("GIF", "P"), ("JPEG", "CMYK")):
        target = io.BytesIO()
        Image.effect_noise((48, 32), 60).convert("RGB").convert(mode).save(target, name)
        made[f"{name}-{mode}".lower()] = target.getvalue()
    made["gif"], made["apng"] = animation(4), animation(4, "PNG")
    made["webp-moving"] = animation(4, "WEBP")
    made["mp4"] = video(12)
    made["mov"] = video(8, codec="prores_ks", format="mov", pix_fmt="yuv422p10le")
    made["webm"] = video(8, codec="libvpx-vp9", format="webm", pix_fmt="yuva420p")
    faces = sorted(FACES_DIR.rglob("*.*tf*")) + sorted(FACES_DIR.rglob("*.woff2"))
    smallest = min(faces, key=lambda file: file.stat().st_size)
    made["font"] = smallest.read_bytes()
    rows = "\n".join(f"{r} {g} {b}" for b in (0, 1) for g in (0, 1) for r in (0, 1))
    made["cube"] = f'TITLE "Dusk"\nLUT_3D_SIZE 2\nDOMAIN_MIN 0 0 0\n{rows}\n'.encode()
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(
            "project.json",
            json.dumps(plain(project(layer("kite", "shape"), layer("name", "text")))),
        )
    made["zip"] = target.getvalue()
    return made


def mutated(chance: random.Random, kind: str, data: bytes) -> bytes:
    """A file with some of it changed."""
    if kind in ("svg", "cube") and chance.random() < 0.8:
        return _text_mutated(chance, data.decode()).encode("utf-8", "replace")
    result = bytearray(data)
    for _ in range(chance.choice([1, 1, 2, 5, 30])):
        at = (
            chance.randrange(len(result))
            if chance.random() < 0.6
            else chance.randrange(min(64, len(result)))
        )
        roll = chance.random()
        if roll < 0.4:
            result[at] ^= 1 << chance.randrange(8)
        elif roll < 0.6:
            result[at] = chance.choice([0, 1, 0x7F, 0x80, 0xFF])
        elif roll < 0.7:
            result[at : at + 4] = chance.choice(
                [b"\xff\xff\xff\xff", b"\0\0\0\0", b"\x7f\xff\xff\xff", b"\x80\0\0\0"]
            )
        elif roll < 0.8:
            end = at + chance.randrange(1, 200)
            result[at:at] = result[at:end]
        elif roll < 0.9 and len(result) > 40:
            del result[at : at + chance.randrange(1, 60)]
        elif len(result) > 40:
            del result[chance.randrange(8, len(result)) :]
        if not result:
            result = bytearray(data[:10])
    return bytes(result)


def _text_mutated(chance: random.Random, text: str) -> str:
    for _ in range(chance.choice([1, 1, 2, 4])):
        words = text.split('"') if chance.random() < 0.5 else text.split(" ")
        join = '"' if '"' in text and len(words) == len(text.split('"')) else " "
        index = chance.randrange(len(words))
        roll = chance.random()
        if roll < 0.45:
            words[index] = chance.choice(NUMBERS)
        elif roll < 0.6:
            words[index] = words[index] * chance.choice([2, 30])
        elif roll < 0.75:
            words[index] = chance.choice(
                [
                    "url(#c)",
                    "url(#f)",
                    "#bow",
                    "url(#p)",
                    "url(#m)",
                    "data:image/png;base64,AA",
                    "&#0;",
                    "]]>",
                    "<g>",
                ]
            )
        elif roll < 0.9:
            del words[index]
        else:
            words.insert(index, chance.choice(words))
        text = join.join(words)
    return text


def run(folder: Path, seed: int, count: int) -> Found:
    """Mutates and reads so many files."""
    chance, found = random.Random(seed), Found()
    store = AssetStore(folder / "assets", max_bytes=20 * 2**20, max_pixels=20_000_000)
    made = seeds()
    kinds = list(made)
    while found.tried < count:
        kind = kinds[found.tried % len(kinds)]
        found.tried += 1
        data = mutated(chance, kind, made[kind])
        began = time.monotonic()
        try:
            if kind == "zip":
                path = folder / "fuzz.zip"
                path.write_bytes(data)
                read_archive(path, store)
            else:
                show(store, store.ingest(f"kite.{kind}", data, "a1"))
            found.accepted[kind] += 1
        except (MediaError, DocumentError):
            found.refused[kind] += 1
        except Exception as error:
            keep = folder / f"trouble-{len(found.troubles)}.{kind}"
            keep.write_bytes(data)
            found.troubles.append(
                f"{kind}: {type(error).__name__}: {str(error)[:200]} ({keep.name})"
            )
        took = time.monotonic() - began
        found.seconds[kind] += took  # type: ignore[assignment]
        if took > found.slowest[0]:
            found.slowest = (took, kind)
    return found


def show(store: AssetStore, asset: Asset) -> None:
    """Uses an accepted file as a scene would; a file that is damaged further in says so."""
    library = MediaLibrary(store, drawings=store, limit_bytes=32 * 2**20)
    try:
        if asset.kind in ("picture", "svg"):
            size = (asset.width, asset.height)
            library.picture(PictureContent(asset.hash, asset.kind == "svg", size, *size), 0.5)
        elif asset.kind == "clip":
            for share in (0.0, 0.5, 0.99):
                library.clip(
                    ClipContent(asset.hash, asset.duration_s * share, asset.width, asset.height)
                )
        elif asset.kind == "font":
            library.text("Gull 12", plainly(f"asset:{asset.hash}", 400, 40, "left"))
        elif asset.kind == "table":
            library.table(asset.hash)
    except (MediaError, NotFoundError):
        pass


if __name__ == "__main__":
    import sys
    import tempfile

    place = Path(tempfile.mkdtemp(prefix="media-fuzz-"))
    result = run(place, int(sys.argv[1]), int(sys.argv[2]))
    print({k: round(v, 1) for k, v in result.seconds.items()})
    print(result.tried, "tried;", dict(result.accepted), "accepted; slowest", result.slowest, place)
    for trouble in result.troubles[:40]:
        print(trouble)
