"""Animations whose frames are pictures by themselves, each of what has changed since the one
before: APNG (W3C PNG, third edition, 11.3.4) and animated WebP (RFC 9649).

Every frame is encoded where it is rendered; the file is only put together.
"""

from __future__ import annotations

import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import BinaryIO

import numpy as np

from .films import Film, Part, Tick
from .frames import PartZip
from .sound import Soundtrack
from .still import encode_webp, png_of
from .translated import translated

Rect = tuple[int, int, int, int]  # left, top, width, height
_PNG = b"\x89PNG\r\n\x1a\n"
# libwebp's quality by ours.
_WEBP = {"draft": 60, "good": 80, "best": 95}


@dataclass(frozen=True)
class Patched:
    """A file of patches: how one is encoded, whose corners lie at multiples of ``step``, and how
    all become a file."""

    encode: Callable[[Film, np.ndarray], bytes]
    step: int
    join: Callable[[Film, Iterator[tuple[Rect, bytes]], BinaryIO], None]
    passes: int = 1

    def begin(self, film: Film, part: Part) -> PatchWriter:
        """Encodes what changes."""
        return PatchWriter(part.path, lambda pixels: self.encode(film, pixels), self.step)

    def finish(
        self, film: Film, parts: Sequence[Part], target: Path, sound: Soundtrack | None, tick: Tick
    ) -> None:
        """Puts the patches together; these files have no sound."""
        with translated("the animation could not be written"), open(target, "wb") as file:
            self.join(film, _patches(parts), file)


class PatchWriter(PartZip):
    """Keeps the patches of a part, whose first is the whole frame."""

    def __init__(self, path: Path, encode: Callable[[np.ndarray], bytes], step: int) -> None:
        super().__init__(path)
        self._encode, self._step = encode, step
        self._before: np.ndarray | None = None
        self._count = 0

    def write(self, pixels: np.ndarray) -> None:
        """One premultiplied BGRA frame."""
        left, top, width, height = changed(self._before, pixels, self._step)
        patch = np.ascontiguousarray(pixels[top : top + height, left : left + width])
        self._before = pixels.copy()
        name = f"{self._count}_{left}_{top}_{width}_{height}"
        self._count += 1
        self.add(name, self._encode(patch))


def changed(before: np.ndarray | None, pixels: np.ndarray, step: int) -> Rect:
    """The box of what differs from the frame before; a single pixel where nothing does."""
    height, width = pixels.shape[:2]
    if before is None:
        return (0, 0, width, height)
    differs = (before.view(np.uint32) != pixels.view(np.uint32))[:, :, 0]
    rows, columns = np.flatnonzero(differs.any(axis=1)), np.flatnonzero(differs.any(axis=0))
    if not len(rows):
        return (0, 0, 1, 1)
    left, top = int(columns[0]) // step * step, int(rows[0]) // step * step
    return (left, top, int(columns[-1]) + 1 - left, int(rows[-1]) + 1 - top)


def _patches(parts: Sequence[Part]) -> Iterator[tuple[Rect, bytes]]:
    for part in parts:
        with zipfile.ZipFile(part.path) as kept:
            for entry in kept.infolist():
                _, left, top, width, height = map(int, entry.filename.split("_"))
                yield (left, top, width, height), kept.read(entry)


# APNG


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def _png_chunks(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = len(_PNG)
    while at < len(data):
        size = struct.unpack_from(">I", data, at)[0]
        yield data[at + 4 : at + 8], data[at + 8 : at + 8 + size]
        at += 12 + size


def _join_apng(film: Film, patches: Iterator[tuple[Rect, bytes]], file: BinaryIO) -> None:
    lasts = Fraction(film.rate.den, film.rate.num).limit_denominator(0xFFFF)
    number = 0
    for index, ((left, top, width, height), data) in enumerate(patches):
        chunks = list(_png_chunks(data))
        if index == 0:
            head = next(body for kind, body in chunks if kind == b"IHDR")
            file.write(_PNG + _chunk(b"IHDR", head) + _chunk(b"sRGB", b"\0"))
            file.write(_chunk(b"acTL", struct.pack(">II", film.moments.count, film.settings.loops)))
        # Each patch stands in the place of what was there, and stays.
        control = struct.pack(
            ">IIIIIHHBB", number, width, height, left, top, lasts.numerator, lasts.denominator, 0, 0
        )
        file.write(_chunk(b"fcTL", control))
        number += 1
        for kind, body in chunks:
            if kind != b"IDAT":
                continue
            if index == 0:
                file.write(_chunk(b"IDAT", body))
            else:
                file.write(_chunk(b"fdAT", struct.pack(">I", number) + body))
                number += 1
    file.write(_chunk(b"IEND", b""))


# Animated WebP


def _riff(kind: bytes, data: bytes) -> bytes:
    return kind + struct.pack("<I", len(data)) + data + b"\0" * (len(data) % 2)


def _webp_chunks(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = 12
    while at + 8 <= len(data):
        size = struct.unpack_from("<I", data, at + 4)[0]
        yield data[at : at + 4], data[at + 8 : at + 8 + size]
        at += 8 + size + size % 2


def _three(value: int) -> bytes:
    return struct.pack("<I", value)[:3]


def _join_webp(film: Film, patches: Iterator[tuple[Rect, bytes]], file: BinaryIO) -> None:
    file.write(b"RIFF\0\0\0\0WEBP")
    width, height = film.size
    flags = 0x02 | (0x10 if film.clear else 0)
    file.write(_riff(b"VP8X", bytes([flags, 0, 0, 0]) + _three(width - 1) + _three(height - 1)))
    file.write(_riff(b"ANIM", bytes(4) + struct.pack("<H", film.settings.loops)))
    frame = Fraction(1000 * film.rate.den, film.rate.num)
    for index, ((left, top, wide, high), data) in enumerate(patches):
        lasts = round((index + 1) * frame) - round(index * frame)
        head = b"".join(_three(value) for value in (left // 2, top // 2, wide - 1, high - 1, lasts))
        # In the place of what was there (no blending), and it stays.
        body = b"".join(
            _riff(kind, part)
            for kind, part in _webp_chunks(data)
            if kind in (b"ALPH", b"VP8 ", b"VP8L")
        )
        file.write(_riff(b"ANMF", head + bytes([0x02]) + body))
    size = file.tell()
    file.seek(4)
    file.write(struct.pack("<I", size - 8))


APNG = Patched(lambda film, pixels: png_of(pixels, alpha=film.clear), 1, _join_apng)
WEBP = Patched(lambda film, pixels: encode_webp(pixels, _WEBP[film.quality.id]), 2, _join_webp)
