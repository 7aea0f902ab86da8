"""What an uploaded file is: told by its content, checked, with a small picture of it.

These functions read bytes from strangers. They run in a process of their own (``foreign``).
"""

from __future__ import annotations

import re
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..core.audio import CHANNELS
from ..core.audio.beats import Beats, beats_of
from ..core.media import (
    Notes,
    SoundInfo,
    check_footage,
    check_picture,
    check_svg,
    decode_picture,
    decode_sound,
    draw_svg,
    has_pictures,
    is_animated,
    layer_parts,
    open_footage,
    pack_drawing,
    picture_thumbnail,
    read_cube,
    shapes_of,
    sound_kind,
    thumbnail,
)
from ..core.media.palette import declared, palette
from ..core.media.stretching import stretched
from ..core.typography import check_font
from ..core.typography.shipped import FACES_DIR
from ..errors import MediaError

THUMBNAIL_PX = 256
CUBE_TYPE = "text/x-cube"
_FONT_MAGIC = (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOF2", b"wOFF")


@dataclass(frozen=True)
class Examined:
    """What a file is. ``facts`` are fields of its Asset, ``plain`` the bytes that are stored in its
    place where they are others (an unpacked font), ``thumbnail`` a small WebP where it has one,
    ``notes`` what of it will not be seen, in sentences."""

    facts: dict[str, Any]
    plain: bytes | None = None
    thumbnail: bytes | None = None
    notes: tuple[str, ...] = ()


def examine(data: bytes, max_pixels: int) -> Examined:
    """What a file is. MediaError says what is wrong with it."""
    if data[:4] in _FONT_MAGIC:
        info, plain = check_font(data)
        media_type = "font/otf" if plain[:4] == b"OTTO" else "font/ttf"
        return Examined({"kind": "font", "media_type": media_type, "family": info.family}, plain)
    if looks_like_svg(data):
        notes = Notes()
        width, height = check_svg(data, notes)
        scale = min(4.0, THUMBNAIL_PX / max(width, height))
        small = thumbnail(draw_svg(data, scale, FACES_DIR), THUMBNAIL_PX)
        size = {"width": max(1, round(width)), "height": max(1, round(height))}
        facts = {"kind": "svg", "media_type": "image/svg+xml", **size}
        return Examined(facts, thumbnail=small, notes=notes.said())
    if looks_like_cube(data):
        read_cube(data)
        return Examined({"kind": "table", "media_type": CUBE_TYPE})
    kind = sound_kind(data)
    if kind and (kind not in ("mov", "matroska") or not has_pictures(data, kind)):
        return _sound(data)
    if kind or is_animated(data):
        return _clip(data, max_pixels)
    found = check_picture(data, max_pixels)
    facts = {"kind": "picture", "media_type": found.media_type,
             "width": found.width, "height": found.height}  # fmt: skip
    return Examined(facts, thumbnail=picture_thumbnail(data, max_pixels, THUMBNAIL_PX))


def _clip(data: bytes, max_pixels: int) -> Examined:
    info = check_footage(data, max_pixels)
    footage = open_footage(data, max_pixels)
    middle = footage.frame(info.frame_count // 2)
    facts: dict[str, Any] = {
        "kind": "clip", "media_type": info.media_type, "width": info.width, "height": info.height,
        "duration_s": round(info.duration_s, 6), "frame_count": info.frame_count,
        "rate": {"num": info.rate.num, "den": info.rate.den} if info.rate else None,
        "alpha": info.alpha,
    }  # fmt: skip
    notes: tuple[str, ...] = ()
    heard = _heard(data) if sound_kind(data) else None
    if heard is not None:
        facts |= {"channels": heard.channels, "sample_rate": heard.sample_rate}
        notes = ("It has sound: switch it on under Sound where the clip is placed", *heard.notes)
    return Examined(facts, thumbnail=thumbnail(middle, THUMBNAIL_PX), notes=notes)


def _sound(data: bytes) -> Examined:
    info = decode_sound(data, lambda block: None)
    if info is None:
        raise MediaError("there is neither a picture nor a sound in it")
    facts = {
        "kind": "sound", "media_type": info.media_type, "channels": info.channels,
        "sample_rate": info.sample_rate, "duration_s": round(info.duration_s, 6),
    }  # fmt: skip
    return Examined(facts, notes=info.notes)


def _heard(data: bytes) -> SoundInfo | None:
    """What can be heard of a clip; None where that is nothing, or cannot be read."""
    with suppress(MediaError):
        return decode_sound(data, lambda block: None)
    return None


def samples(data: bytes, path: str) -> int:
    """A sound's samples written to a file as they are mixed (float32, two channels by turns);
    their number."""
    with open(path, "wb") as file:
        info = decode_sound(data, lambda block: file.write(block.tobytes()))
    if info is None:
        raise MediaError("there is no sound in it")
    return info.samples


def longer(path: str, speed: float, target: str) -> None:
    """Decoded samples in a file at another speed and their own pitch, written to another file."""
    source = np.memmap(path, np.float32, "r").reshape(-1, CHANNELS)
    with open(target, "wb") as file:
        for piece in stretched(source, speed):
            file.write(np.ascontiguousarray(piece, np.float32).tobytes())


def beats(path: str) -> Beats | None:
    """The beats of decoded samples (float32, two channels by turns) in a file; None where there are
    none."""
    return beats_of(np.memmap(path, np.float32, "r").reshape(-1, CHANNELS))


def drawing(data: bytes, scale: float) -> bytes:
    """A vector picture at a scale, packed as it is kept."""
    return pack_drawing(draw_svg(data, scale, FACES_DIR))


def main_colours(data: bytes, kind: str, size: tuple[int, int], max_pixels: int) -> list[str]:
    """The main colours of a picture, the most frequent first; of a vector picture those that its
    paths name."""
    if kind == "svg":
        with suppress(MediaError):
            if named := declared(shapes_of(data)):
                return named
        return palette(draw_svg(data, min(1.0, 512 / max(size)), FACES_DIR))
    return palette(decode_picture(data, max_pixels))


def as_shapes(data: bytes) -> dict[str, Any]:
    """A vector picture as the parts and properties of a shape layer, and what is left out."""
    found = shapes_of(data)
    parts, properties = layer_parts(found)
    return {"parts": parts, "properties": properties, "notes": list(found.notes)}


def looks_like_svg(data: bytes) -> bool:
    """Whether bytes begin as an SVG does."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<") and b"<svg" in data[:65536]


def looks_like_cube(data: bytes) -> bool:
    """Whether a file is a colour table: text that tells its size."""
    start = data[:65536]
    return b"\0" not in start and re.search(rb"^\s*LUT_[13]D_SIZE\s", start, re.M) is not None
