"""Contact sheets for approval: frames of a film with their times, on one page, as PNG or PDF."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from ..geometry.affine import Affine
from ..geometry.outline import from_svg_path, skia_matrix
from ..pixels.canvas import Canvas, Stroke
from ..pixels.colour import Rgba, parse_colour
from ..timing import format_timecode
from ..typography.setting import SetTexts, shipped_only
from ..typography.style import plainly
from .films import Film, Part, Tick
from .frames import PartZip
from .moments import Moments
from .sound import Soundtrack
from .still import encode_png
from .translated import translated

MOST_TILES = 12
# The page in pixels, at 200 for an inch: a sheet of A4, lying.
_PAGE, _DPI = (2339, 1654), 200.0
_EDGE, _GAP, _HEAD, _FOOT = 110, 44, 210, 58
_PAPER, _INK, _FAINT = "#f7f4ee", "#1d2030", "#8b8a93"


def picked(moments: Moments) -> list[int]:
    """The moments that a sheet shows: as many as it has room for, from the first to the last."""
    count = min(MOST_TILES, moments.count)
    return sorted({round(n) for n in np.linspace(0, moments.count - 1, count).tolist()})


class _Tiles(PartZip):
    """Keeps the frames of a part that are picked, no larger than they are shown."""

    def __init__(self, path: Path, numbers: dict[int, int], size: tuple[int, int]) -> None:
        super().__init__(path)
        self._numbers, self._size, self._next = numbers, size, 0

    def write(self, pixels: np.ndarray) -> None:
        """One opaque BGRA frame."""
        number, self._next = self._numbers.get(self._next), self._next + 1
        if number is None:
            return
        smaller = self._size[0] < pixels.shape[1]
        how = cv2.INTER_AREA if smaller else cv2.INTER_CUBIC
        tile = cv2.resize(pixels, self._size, interpolation=how)
        self.add(str(number), encode_png(np.ascontiguousarray(tile)))


@dataclass(frozen=True)
class ContactSheet:
    """A page of frames as ``kind``, "png" or "pdf"."""

    kind: str
    passes: int = 1

    def begin(self, film: Film, part: Part) -> _Tiles:
        """Keeps what is picked."""
        wanted = {n - part.first: n for n in picked(film.moments) if part.first <= n < part.last}
        return _Tiles(part.path, wanted, _grid(film)[2])

    def finish(
        self, film: Film, parts: Sequence[Part], target: Path, sound: Soundtrack | None, tick: Tick
    ) -> None:
        """Lays the tiles onto the page."""
        tiles: dict[int, np.ndarray] = {}
        for part in parts:
            with zipfile.ZipFile(part.path) as kept:
                for entry in kept.infolist():
                    data = np.frombuffer(kept.read(entry), np.uint8)
                    tile = cv2.imdecode(data, cv2.IMREAD_COLOR)
                    assert tile is not None
                    tiles[int(entry.filename)] = tile
        page = _page(film, tiles)
        with translated("the contact sheet could not be written"):
            target.write_bytes(encode_png(page) if self.kind == "png" else _pdf(page, film.name))


def _grid(film: Film) -> tuple[int, int, tuple[int, int]]:
    """Columns and rows, and the size of a tile: the largest with which all have room."""
    count, (width, height) = len(picked(film.moments)), film.size
    best = (1, count, (1, 1))
    for columns in range(1, count + 1):
        rows = -(-count // columns)
        wide = (_PAGE[0] - 2 * _EDGE - (columns - 1) * _GAP) / columns
        high = (_PAGE[1] - _EDGE - _HEAD - rows * (_FOOT + _GAP)) / rows
        scale = min(wide / width, high / height)
        size = (max(1, int(width * scale)), max(1, int(height * scale)))
        if size[0] > best[2][0]:
            best = (columns, rows, size)
    return best


def _page(film: Film, tiles: dict[int, np.ndarray]) -> np.ndarray:
    pixels = np.zeros((_PAGE[1], _PAGE[0], 4), np.uint8)
    canvas = Canvas(pixels)
    canvas.clear(parse_colour(_PAPER))
    texts = SetTexts(shipped_only)
    _write(canvas, texts, film.name, (_EDGE, 92), 56, 700, _INK)
    size, rate = f"{film.size[0]} × {film.size[1]}", film.moments.scene_rate.label
    facts = f"{size}  ·  {rate} frames a second"
    _write(canvas, texts, facts, (_EDGE, 148), 30, 400, _FAINT)
    columns, rows, (wide, high) = _grid(film)
    # What is left of the page's height parts the rows.
    room = _PAGE[1] - _EDGE - _HEAD - rows * (high + _FOOT)
    gap = min(3 * _GAP, max(_GAP // 2, room // max(1, rows)))
    across = columns * wide + (columns - 1) * _GAP
    left = (_PAGE[0] - across) // 2
    for place, number in enumerate(sorted(tiles)):
        x = left + place % columns * (wide + _GAP)
        y = _HEAD + place // columns * (high + _FOOT + gap)
        tile = tiles[number]
        pixels[y : y + high, x : x + wide, :3] = tile
        edge = from_svg_path(f"M{x} {y}h{wide}v{high}h{-wide}Z")
        canvas.stroke(edge.skia_path, Stroke(1.5), parse_colour(_FAINT), skia_matrix(Affine()), 0.5)
        code = format_timecode(film.moments.time(number), film.moments.scene_rate)
        _write(canvas, texts, code, (x, y + high + 34), 28, 500, _INK, "jetbrains-mono")
    return pixels


def _write(
    canvas: Canvas, texts: SetTexts, words: str, at: tuple[float, float], size: float,
    weight: float, colour: str, font: str = "inter",
) -> None:  # fmt: skip
    """A line of text that begins at a point, its middle at that height."""
    style = plainly(font, weight, size, "left", side=True)
    outline = texts.text(words[:200], style).outline
    ink: Rgba = parse_colour(colour)
    if not outline.is_empty:
        canvas.fill(outline.skia_path, ink, skia_matrix(Affine.shift(*at)), 1.0)


def _pdf(page: np.ndarray, title: str) -> bytes:
    target = io.BytesIO()
    rgb = np.ascontiguousarray(page[:, :, 2::-1])
    Image.fromarray(rgb, "RGB").save(
        target, "PDF", resolution=_DPI, title=title, quality=92, producer="Young Comet"
    )
    return target.getvalue()


PNG_SHEET, PDF_SHEET = ContactSheet("png"), ContactSheet("pdf")
