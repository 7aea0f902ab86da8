"""Colours changed pixel by pixel: tables, matrices, maps of luminance, 3-D tables.

All take premultiplied BGRA (h, w, 4) uint8 and give a new picture; they work on straight
colours, as SVG's feColorMatrix and feComponentTransfer do, and premultiply again.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from .colour import Rgba
from .fixed import over_full, times, whole_pixels
from .kernel import Few, kernel, sample
from .noise import add_grain, grain_columns, grain_row
from .raster import Raster

# Rec. 709 luma weights, as SVG's feColorMatrix uses them.
LUMA = (0.2126, 0.7152, 0.0722)


@kernel(inner=True)
def _looked_up(row: np.ndarray, tables: np.ndarray, into: np.ndarray) -> None:
    """A row of bytes that is not opaque everywhere, channel by channel."""
    for x in range(len(row) // 4):
        a = np.uint32(row[4 * x + 3])
        into[4 * x + 3] = row[4 * x + 3]
        if a == 255:
            for c in range(3):
                into[4 * x + c] = tables[c, row[4 * x + c]]
        elif a == 0:
            for c in range(3):
                into[4 * x + c] = 0
        else:
            for c in range(3):
                straight = (np.uint32(row[4 * x + c]) * np.uint32(255) + (a >> 1)) // a
                value = np.uint32(tables[c, min(np.uint32(255), straight)]) * a
                into[4 * x + c] = over_full(value)


@kernel(fastmath=True)
def _toned(
    pixels: np.ndarray, tables: np.ndarray, dark: np.ndarray, darkens: bool, out: np.ndarray,
    grainy: bool, left: int, top: int, z: int, seed: int, strength: float, grey: bool,
) -> None:  # fmt: skip
    height, width = pixels.shape[:2]
    columns = grain_columns(left, width if grainy else 0)
    values = np.empty((3, width if grainy else 0), np.float32)
    # Tables of whole pixels, of blue and green together: a row is looked up as if it were opaque,
    # which most are.
    opaque, both, byte = np.uint32(0xFF000000), np.uint64(0xFFFF), np.uint64(0xFF)
    reds = (tables[2].astype(np.uint32) << np.uint32(16)) | opaque
    pairs = np.empty(65536, np.uint16)
    for green in range(256):
        high = np.uint16(tables[1, green]) << np.uint16(8)
        for blue in range(256):
            pairs[green * 256 + blue] = high | np.uint16(tables[0, blue])
    found = np.empty(width, np.uint32)
    for y in range(height):
        row, into = whole_pixels(pixels[y], width), whole_pixels(out[y], width)
        common = opaque
        for x in range(width):
            common &= row[x]
            p = np.uint64(row[x])
            found[x] = np.uint32(pairs[p & both]) | reds[(p >> np.uint64(16)) & byte]
        if common != opaque:
            _looked_up(row.view(np.uint8), tables, found.view(np.uint8))
        if darkens:
            shade = dark[y]
            for x in range(width):
                rest = times(found[x], np.uint32(255) - np.uint32(shade[x]))
                into[x] = rest & ~opaque | found[x] & opaque
        else:
            into[:] = found
        if grainy:
            grain_row(into, columns, values, top + y, z, seed, strength, grey)


_NOTHING = np.zeros((1, 1), np.uint8)
_SAME = np.stack([np.arange(256, dtype=np.uint8)] * 3)


@dataclass(frozen=True, slots=True)
class Grain:
    """Noise for every pixel, by its place beside (``left``, ``top``), a moment and a seed: of a
    deviation (levels), one number for all channels or one each."""

    left: int
    top: int
    moment: int
    seed: int
    strength: float
    grey: bool


_NO_GRAIN = Grain(0, 0, 0, 0, 0.0, True)


@dataclass(frozen=True, slots=True)
class Toned:
    """Pixels (h, w, 4) whose colours are still to be looked up in ``tables`` (3, 256) uint8, those
    of blue, green and red for straight colours, then darkened by ``dark`` (h, w) uint8, then given
    ``grain``. ``owned`` pixels are written over."""

    base: np.ndarray
    tables: np.ndarray
    dark: np.ndarray | None
    owned: bool
    grain: Grain | None = None
    stays = False

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns."""
        return int(self.base.shape[0]), int(self.base.shape[1])

    @property
    def nbytes(self) -> int:
        """Bytes that it holds."""
        return int(self.base.nbytes)

    def pixels(self) -> np.ndarray:
        """The pixels (h, w, 4)."""
        out = self.base if self.owned else np.empty_like(self.base)
        dark = _NOTHING if self.dark is None else self.dark
        g = self.grain or _NO_GRAIN
        _toned(
            self.base, self.tables, dark, self.dark is not None, out, self.grain is not None,
            g.left, g.top, g.moment, g.seed, g.strength, g.grey,
        )  # fmt: skip
        return out

    def copy(self) -> Toned:
        """The same with pixels of its own."""
        return Toned(self.base.copy(), self.tables, self.dark, self.owned, self.grain)


def toned(
    raster: Raster,
    *,
    tables: np.ndarray | None = None,
    dark: np.ndarray | None = None,
    owned: bool = False,
) -> Raster:
    """A raster with colours through tables, then darkened. Several steps after one another are one
    pass over the pixels, made when these are asked for. ``owned`` pixels are written over."""
    mine = _SAME if tables is None else tables
    before = raster.source
    if isinstance(before, Toned) and before.dark is None and before.grain is None:
        # A step more: the tables of both are one.
        rows = zip(mine, before.tables, strict=True)
        mine = np.stack([later[earlier] for later, earlier in rows])
        source = Toned(before.base, mine, dark, before.owned)
    else:
        source = Toned(raster.pixels, mine, dark, owned)
    return Raster(source, raster.left, raster.top)


def grained(raster: Raster, grain: Grain, *, owned: bool = False) -> Raster:
    """A raster with noise. After steps of ``toned`` it is one pass over the pixels with them, made
    when these are asked for. ``owned`` pixels are written over."""
    before = raster.source
    if isinstance(before, Toned) and before.grain is None:
        return Raster(replace(before, grain=grain), raster.left, raster.top)
    pixels, g = raster.pixels if owned else raster.pixels.copy(), grain
    add_grain(pixels, g.left, g.top, g.moment, g.seed, g.strength, g.grey)
    return Raster(pixels, raster.left, raster.top)


def channel_tables(red: np.ndarray, green: np.ndarray, blue: np.ndarray) -> np.ndarray:
    """Tables of 256 (0..1 as floats, or uint8) as ``toned`` takes them."""
    return np.stack([as_bytes(blue), as_bytes(green), as_bytes(red)])


def as_bytes(table: np.ndarray) -> np.ndarray:
    """A table of floats 0..1 as uint8."""
    if table.dtype == np.uint8:
        return table
    result: np.ndarray = np.rint(np.clip(table, 0, 1) * 255).astype(np.uint8)
    return result


@kernel(error_model="numpy", fastmath=True)
def _matrix(pixels: np.ndarray, m: np.ndarray) -> np.ndarray:
    width = pixels.shape[1]
    out = np.empty((pixels.shape[0], width * 4), np.uint8)
    full, half, zero = np.float32(255), np.float32(0.5), np.float32(0)
    for y in range(pixels.shape[0]):
        row, into = pixels[y].reshape(width * 4), out[y]
        for x in range(width):
            a = np.float32(row[4 * x + 3])
            k = full / max(np.float32(1), a)
            b, g, r = (
                np.float32(row[4 * x]) * k,
                np.float32(row[4 * x + 1]) * k,
                np.float32(row[4 * x + 2]) * k,
            )
            na = m[3, 0] * r + m[3, 1] * g + m[3, 2] * b + m[3, 3] * a + m[3, 4]
            na = min(full, max(zero, na))
            scale = na / full
            for c in range(3):
                value = m[c, 0] * r + m[c, 1] * g + m[c, 2] * b + m[c, 3] * a + m[c, 4]
                value = min(full, max(zero, value)) * scale
                into[4 * x + 2 - c] = np.uint8(value + half)
            into[4 * x + 3] = np.uint8(na + half)
    return out.reshape(pixels.shape)


def with_matrix(pixels: np.ndarray, matrix: np.ndarray) -> np.ndarray:
    """SVG's feColorMatrix: rows R, G, B, A over columns R, G, B, A, 1 (Filter Effects 1, 9.6).

    The last column is in 0..1.
    """
    m = np.asarray(matrix, np.float32).copy()
    m[:, 4] *= 255
    return _matrix(pixels, m)


@kernel()
def _by_luma(pixels: np.ndarray, table: np.ndarray, amount: int) -> np.ndarray:
    width = pixels.shape[1]
    out = np.empty((pixels.shape[0], width * 4), np.uint8)
    keep = np.uint32(256 - amount)
    for y in range(pixels.shape[0]):
        row, into = pixels[y].reshape(width * 4), out[y]
        for x in range(width):
            a = np.uint32(row[4 * x + 3])
            if a == 0:
                for c in range(4):
                    into[4 * x + c] = 0
                continue
            luma = np.uint32(row[4 * x]) * np.uint32(4732)
            luma += np.uint32(row[4 * x + 1]) * np.uint32(46871)
            luma += np.uint32(row[4 * x + 2]) * np.uint32(13933)
            level = (luma >> np.uint32(8)) * np.uint32(255) // (a << np.uint32(8))
            level = min(np.uint32(255), level)
            strong = np.uint32(amount)
            na = (a * keep + a * np.uint32(table[level, 3]) // np.uint32(255) * strong) >> 8
            for c in range(3):
                new = np.uint32(table[level, c]) * a // np.uint32(255)
                new = new * np.uint32(table[level, 3]) // np.uint32(255)
                into[4 * x + c] = (np.uint32(row[4 * x + c]) * keep + new * strong) >> 8
            into[4 * x + 3] = na
    return out.reshape(pixels.shape)


def by_luma(pixels: np.ndarray, table: np.ndarray, amount: float = 1.0) -> np.ndarray:
    """Each pixel's luma looked up in a table (256, 4) uint8 of straight BGRA; mixed with the
    picture by the amount."""
    return _by_luma(pixels, table, round(min(1.0, max(0.0, amount)) * 256))


@kernel(error_model="numpy", fastmath=True)
def _cube(pixels: np.ndarray, table: np.ndarray, size: int, amount: float) -> np.ndarray:
    width = pixels.shape[1]
    out = np.empty((pixels.shape[0], width * 4), np.uint8)
    top, one, zero, half = np.float32(size - 1), np.float32(1), np.float32(0), np.float32(0.5)
    last, wide = size - 2, size * size
    for y in range(pixels.shape[0]):
        row, into = pixels[y].reshape(width * 4), out[y]
        for x in range(width):
            at = 4 * x
            into[at + 3] = row[at + 3]
            if row[at + 3] == 0:
                into[at] = into[at + 1] = into[at + 2] = 0
                continue
            a = np.float32(row[at + 3])
            k = top / a
            b = min(top, np.float32(row[at]) * k)
            g = min(top, np.float32(row[at + 1]) * k)
            r = min(top, np.float32(row[at + 2]) * k)
            ib, ig, ir = min(last, int(b)), min(last, int(g)), min(last, int(r))
            fb, fg, fr = b - np.float32(ib), g - np.float32(ig), r - np.float32(ir)
            base = (ib * wide + ig * size + ir) * 3
            for c in range(3):
                p = base + c
                lo = table[p] + (table[p + 3] - table[p]) * fr
                q = p + 3 * size
                lo += (table[q] + (table[q + 3] - table[q]) * fr - lo) * fg
                p += 3 * wide
                hi = table[p] + (table[p + 3] - table[p]) * fr
                q = p + 3 * size
                hi += (table[q] + (table[q + 3] - table[q]) * fr - hi) * fg
                value = min(one, max(zero, lo + (hi - lo) * fb)) * a
                old = np.float32(row[at + 2 - c])
                into[at + 2 - c] = np.uint8(old + (value - old) * amount + half)
    return out.reshape(pixels.shape)


def through_cube(pixels: np.ndarray, table: np.ndarray, amount: float = 1.0) -> np.ndarray:
    """A 3-D table (n, n, n, 3) float32, indexed blue, green, red, giving red, green, blue 0..1;
    trilinear between its entries."""
    flat = np.ascontiguousarray(table, np.float32).reshape(-1)
    return _cube(pixels, flat, table.shape[0], float(np.float32(amount)))


def straight_bgra(colour: Rgba) -> tuple[int, int, int, int]:
    """A colour as four bytes, straight."""
    r, g, b, a = (round(min(1.0, max(0.0, c)) * 255) for c in colour)
    return (b, g, r, a)


def curve_table(points: Iterable[Iterable[float]]) -> np.ndarray:
    """256 values of the curve through points with rising x in 0..1: monotone cubics between
    them (Fritsch and Carlson, SIAM J. Numer. Anal. 17, 1980), level beyond the ends."""
    return _curve(tuple((x, y) for x, y in points))


@lru_cache(maxsize=256)
def _curve(points: tuple[tuple[float, float], ...]) -> np.ndarray:
    xs, ys = (np.array([p[i] for p in points], np.float64) for i in (0, 1))
    at = np.linspace(0, 1, 256)
    if len(xs) == 1:
        return np.full(256, ys[0])
    h = np.diff(xs)
    slopes = np.diff(ys) / h
    m = np.empty(len(xs))
    m[0], m[-1] = slopes[0], slopes[-1]
    for i in range(1, len(xs) - 1):
        a, b = slopes[i - 1], slopes[i]
        if a * b <= 0:
            m[i] = 0.0
        else:
            w0, w1 = 2 * h[i] + h[i - 1], h[i] + 2 * h[i - 1]
            m[i] = (w0 + w1) / (w0 / a + w1 / b)
    index = np.clip(np.searchsorted(xs, at, side="right") - 1, 0, len(xs) - 2)
    t = np.clip((at - xs[index]) / h[index], 0, 1)
    t2, t3 = t * t, t * t * t
    return (
        (2 * t3 - 3 * t2 + 1) * ys[index]
        + (t3 - 2 * t2 + t) * h[index] * m[index]
        + (3 * t2 - 2 * t3) * ys[index + 1]
        + (t3 - t2) * h[index] * m[index + 1]
    )


@sample
def _sample(few: Few) -> None:
    tables = np.stack([np.arange(256, dtype=np.uint8)] * 3)
    for pixels, coverage in few.layouts():
        found = toned(Raster(pixels), tables=tables, dark=coverage, owned=True)
        assert found.pixels is pixels
    with_matrix(few.pixels, np.eye(4, 5))
    by_luma(few.pixels, np.zeros((256, 4), np.uint8))
    through_cube(few.pixels, np.zeros((2, 2, 2, 3), np.float32))
