"""Compositing and blending: W3C "Compositing and Blending Level 1", and plus-lighter of Level 2.

Pictures are premultiplied BGRA uint8, coverages (h, w) uint8.
co = cs as (1 - ab) + cb ab (1 - as) + as ab B(cb, cs), with as times the opacity given. Normal and
the intricate modes are Skia's, the others compiled loops (``modes``). Work on coverages is done by
compiled loops too, whose arithmetic is kept in 32 bits so that the compiler makes vector code.
"""

from __future__ import annotations

import numpy as np
import skia

from .canvas import SKIA_MODES
from .colour import Rgba
from .fixed import mixed, over_full, times, whole_pixels
from .kernel import Few, kernel, sample
from .modes import LOOPS

BLEND_MODES = tuple(SKIA_MODES)


def _info(pixels: np.ndarray) -> skia.ImageInfo:
    height, width = pixels.shape[:2]
    return skia.ImageInfo.Make(width, height, skia.kBGRA_8888_ColorType, skia.kPremul_AlphaType)


def _image(pixels: np.ndarray) -> skia.Image:
    return skia.Image.MakeFromRaster(skia.Pixmap(_info(pixels), pixels, pixels.strides[0]))


def _draw(low: np.ndarray, top: np.ndarray, mode: skia.BlendMode, opacity: float) -> None:
    surface = skia.Surface.MakeRasterDirect(_info(low), low, low.strides[0])
    paint = skia.Paint(BlendMode=mode, Alphaf=min(1.0, max(0.0, opacity)))
    surface.getCanvas().drawImage(_image(top), 0, 0, skia.SamplingOptions(), paint)


def rows(pixels: np.ndarray) -> np.ndarray:
    """The bytes of a picture, or of a part of one, row by row: (h, bytes from row to row). What
    lies in a row beyond the part's width is not to be touched."""
    shape = (pixels.shape[0], pixels.strides[0])
    return np.lib.stride_tricks.as_strided(pixels, shape, (pixels.strides[0], 1))


def blend(low: np.ndarray, top: np.ndarray, mode: str = "normal", opacity: float = 1.0) -> None:
    """Blends ``top`` onto ``low`` in place; both (h, w, 4), ``mode`` one of BLEND_MODES."""
    if top.shape != low.shape:
        raise ValueError(f"expected two pictures of one size, got {low.shape} and {top.shape}")
    if not top.size or opacity <= 0:
        return
    if mode in LOOPS:
        LOOPS[mode](rows(low), rows(top), low.shape[1], round(min(1.0, opacity) * 255))
    else:
        _draw(low, top, SKIA_MODES[mode], opacity)


@kernel()
def _lay_faintly(
    low: np.ndarray, top: np.ndarray, opacity: np.float32, left: int, above: int, seed: int
) -> None:
    full = np.float32(1 / 255)
    for y in range(low.shape[0]):
        for x in range(low.shape[1]):
            if top[y, x, 3] == 0:
                continue
            h = np.uint32(left + x) * np.uint32(0x9E3779B1) ^ np.uint32(above + y) * np.uint32(
                0x85EBCA77
            )
            h = (h ^ np.uint32(seed) * np.uint32(0xC2B2AE3D)) & np.uint32(0xFFFFFFFF)
            h = (h ^ (h >> np.uint32(15))) * np.uint32(0x2C1B3C6D)
            h = (h ^ (h >> np.uint32(12))) * np.uint32(0x297A2D39)
            h = h ^ (h >> np.uint32(15))
            chance = np.float32(h & np.uint32(0xFFFFFF)) * np.float32(1 / 16777216)
            keep = np.float32(1) - np.float32(top[y, x, 3]) * opacity * full
            for c in range(4):
                value = np.float32(top[y, x, c]) * opacity + np.float32(low[y, x, c]) * keep
                low[y, x, c] = np.uint8(min(np.float32(255), value + chance))


def lay_faintly(
    low: np.ndarray, top: np.ndarray, opacity: float, at: tuple[int, int], seed: int
) -> None:
    """Puts a picture over another in place, each level rounded up or down by chance, as far as it
    lies between two: many that are hardly seen add up to what they are together. ``at`` is where
    the pictures' corner lies; the same place and seed give the same."""
    if top.size and opacity > 0:
        _lay_faintly(low, top, np.float32(min(1.0, opacity)), at[0], at[1], seed)


def under(top: np.ndarray, low: np.ndarray, opacity: float = 1.0) -> None:
    """Puts a picture beneath ``top``, in place (destination-over)."""
    if not top.size:
        return
    _draw(top, low, skia.BlendMode.kDstOver, opacity)


@kernel()
def _beside(low: np.ndarray, top: np.ndarray) -> None:
    width = top.shape[1]
    full = np.uint32(255)
    for y in range(low.shape[0]):
        row, other = low[y, : width * 4].view(np.uint32), whole_pixels(top[y], width)
        for x in range(width):
            bare = np.uint32(full - np.uint32(other[x] >> np.uint32(24)))
            there = max(np.uint32(1), np.uint32(row[x] >> np.uint32(24)))
            keep = min(full, np.uint32(np.uint32(full * bare) // there))
            row[x] = np.uint32(other[x] + times(row[x], keep))


def lay_beside(low: np.ndarray, top: np.ndarray) -> None:
    """Puts a picture beside another in place: of what a pixel has left each takes what it needs,
    so that edges that meet close (X Rendering Extension, DisjointOver); over it where there is too
    little."""
    if top.size:
        _beside(rows(low), top)


@kernel()
def _scale(pixels: np.ndarray, coverage: np.ndarray, out: np.ndarray) -> None:
    width = coverage.shape[1]
    for y in range(coverage.shape[0]):
        row, into = whole_pixels(pixels[y], width), whole_pixels(out[y], width)
        cover = coverage[y]
        for x in range(width):
            into[x] = times(row[x], np.uint32(cover[x]))


def scale_by(pixels: np.ndarray, coverage: np.ndarray) -> None:
    """Every channel times a coverage (h, w) / 255, in place."""
    _scale(pixels, coverage, pixels)


def scaled(pixels: np.ndarray, coverage: np.ndarray) -> np.ndarray:
    """New pixels, every channel times a coverage (h, w) / 255."""
    out = np.empty_like(pixels)
    _scale(pixels, coverage, out)
    return out


@kernel(fastmath=True)
def by_order(
    first: np.ndarray, second: np.ndarray, order: np.ndarray, reached: float, soft: float
) -> np.ndarray:
    """The second picture (h, w, 4) where an order (h, w) float32 is below what is ``reached``, the
    first where it is not, mixed smoothly over ``soft`` of it."""
    out = np.empty(first.shape, np.uint8)
    width = first.shape[1]
    line, k = np.float32(reached), np.float32(1 / soft)
    zero, one, two, three = np.float32(0), np.float32(1), np.float32(2), np.float32(3)
    even, odd = np.uint32(0x00FF00FF), np.uint32(0xFF00FF00)
    half, full = np.uint32(0x00800080), np.uint32(256)
    for y in range(first.shape[0]):
        low, high = whole_pixels(first[y], width), whole_pixels(second[y], width)
        into, places = whole_pixels(out[y], width), order[y]
        for x in range(width):
            t = min(one, max(zero, (line - places[x]) * k))
            share = np.uint32(np.int32(t * t * (three - two * t) * np.float32(256) + 0.5))
            a, b, rest = low[x], high[x], full - share
            evens = ((a & even) * rest + (b & even) * share + half) >> np.uint32(8)
            odds = ((a >> np.uint32(8)) & even) * rest + ((b >> np.uint32(8)) & even) * share + half
            into[x] = (evens & even) | (odds & odd)
    return out


@kernel()
def keep_alpha(pixels: np.ndarray, source: np.ndarray) -> None:
    """Gives a picture another picture's alpha, its colours held within it, in place."""
    width = pixels.shape[1]
    for y in range(pixels.shape[0]):
        row, other = pixels[y].reshape(width * 4), source[y].reshape(width * 4)
        for x in range(width):
            a = other[4 * x + 3]
            for c in range(3):
                row[4 * x + c] = min(a, row[4 * x + c])
            row[4 * x + 3] = a


@kernel()
def _looked_up(field: np.ndarray, table: np.ndarray) -> np.ndarray:
    height, width = field.shape
    out, places = np.empty(field.shape, np.uint32), np.empty(width, np.uint32)
    top = np.float32(table.shape[0] - 1)
    zero, half = np.float32(0), np.float32(0.5)
    for y in range(height):
        row, into = field[y], out[y]
        for x in range(width):
            places[x] = np.uint32(np.int32(min(top, max(zero, row[x] * top)) + half))
        for x in range(width):
            into[x] = table[np.uint64(places[x])]
    return out


def looked_up(field: np.ndarray, table: np.ndarray) -> np.ndarray:
    """A field (h, w) float32 of 0..1 as colours of a table (n, 4) uint8."""
    found = _looked_up(field, table.view(np.uint32).reshape(-1))
    return found.view(np.uint8).reshape(*field.shape, 4)


@kernel()
def _fade(pixels: np.ndarray, opacity: int) -> None:
    row_length = pixels.shape[1] * 4
    k, half, shift = np.uint32(opacity), np.uint32(1 << 15), np.uint32(16)
    for y in range(pixels.shape[0]):
        row = pixels[y].reshape(row_length)
        for x in range(row_length):
            row[x] = (np.uint32(row[x]) * k + half) >> shift


def fade(pixels: np.ndarray, opacity: float) -> None:
    """Every channel times an opacity 0..1, in place."""
    if opacity < 1:
        _fade(pixels, round(max(0.0, opacity) * 65536))


@kernel()
def _lay_through(low: np.ndarray, top: np.ndarray, cover: np.ndarray, opacity: int) -> None:
    height, width = cover.shape
    strong, half, shift = np.uint32(opacity), np.uint32(1 << 15), np.uint32(16)
    full = np.uint32(255)
    for y in range(height):
        row, other = low[y, : width * 4].view(np.uint32), whole_pixels(top[y], width)
        covers = cover[y]
        for x in range(width):
            k = (np.uint32(covers[x]) * strong + half) >> shift
            a = over_full((other[x] >> np.uint32(24)) * k)
            row[x] = mixed(other[x], k, row[x], full - a)


def lay_through(low: np.ndarray, top: np.ndarray, cover: np.ndarray, opacity: float = 1.0) -> None:
    """Lays a picture, where a coverage (h, w) lets it through, onto ``low`` in place: what
    ``scaled`` and then ``blend`` do in two steps, within a level."""
    _lay_through(rows(low), top, cover, round(min(1.0, max(0.0, opacity)) * 65536))


@kernel()
def _lay_ink(low: np.ndarray, alpha: np.ndarray, cover: np.ndarray, ink: int, opacity: int) -> None:
    """``ink`` is an opaque pixel."""
    height, width = alpha.shape
    strong, half, shift = np.uint32(opacity), np.uint32(1 << 15), np.uint32(16)
    full = np.uint32(255)
    for y in range(height):
        row = low[y, : width * 4].view(np.uint32)
        levels, covers = alpha[y], cover[y]
        for x in range(width):
            p = over_full(np.uint32(levels[x]) * np.uint32(covers[x]))
            k = (p * strong + half) >> shift
            row[x] = mixed(np.uint32(ink), k, row[x], full - k)


def lay_ink(
    low: np.ndarray,
    alpha: np.ndarray,
    colour: Rgba,
    opacity: float = 1.0,
    cover: np.ndarray | None = None,
) -> None:
    """Lays a colour, where an alpha (h, w) is and a coverage (h, w) lets it through, onto a
    picture in place: ``tinted`` and ``blend`` in one step."""
    r, g, b = (round(c * 255) for c in colour[:3])
    strong = round(min(1.0, max(0.0, colour[3] * opacity)) * 65536)
    if cover is None:
        cover = np.full_like(alpha, 255)
    _lay_ink(rows(low), alpha, cover, 255 << 24 | r << 16 | g << 8 | b, strong)


def _ink(colour: Rgba, opacity: float) -> np.ndarray:
    """Premultiplied blue, green, red and alpha of a colour, times 65536."""
    a = colour[3] * opacity
    r, g, b = (round(c * a * 65536) for c in colour[:3])
    return np.array([b, g, r, round(a * 65536)], np.uint32)


@kernel()
def _tint(alpha: np.ndarray, b: int, g: int, r: int, a: int) -> np.ndarray:
    width = alpha.shape[1]
    out = np.empty((alpha.shape[0], width * 4), np.uint8)
    cb, cg, cr, ca = np.uint32(b), np.uint32(g), np.uint32(r), np.uint32(a)
    half, shift = np.uint32(1 << 15), np.uint32(16)
    for y in range(alpha.shape[0]):
        row, source = out[y], alpha[y]
        for x in range(width):
            k = np.uint32(source[x])
            row[4 * x] = (k * cb + half) >> shift
            row[4 * x + 1] = (k * cg + half) >> shift
            row[4 * x + 2] = (k * cr + half) >> shift
            row[4 * x + 3] = (k * ca + half) >> shift
    return out.reshape(alpha.shape[0], width, 4)


def tinted(alpha: np.ndarray, colour: Rgba, opacity: float = 1.0) -> np.ndarray:
    """A colour where an alpha (h, w) is: a picture (h, w, 4)."""
    return _tint(alpha, *_ink(colour, opacity))


@kernel()
def _towards(low: np.ndarray, goal: np.ndarray, coverage: np.ndarray) -> None:
    width = coverage.shape[1]
    for y in range(coverage.shape[0]):
        row, other = whole_pixels(low[y], width), whole_pixels(goal[y], width)
        cover = coverage[y]
        for x in range(width):
            k = np.uint32(cover[x])
            row[x] = mixed(other[x], k, row[x], np.uint32(255) - k)


def lay_tinted(
    low: np.ndarray, alpha: np.ndarray, colour: Rgba, mode: str = "normal", opacity: float = 1.0
) -> None:
    """Blends a colour, where an alpha (h, w) is, onto a picture in place."""
    if mode == "normal":
        lay_ink(low, np.ascontiguousarray(alpha), colour, opacity)
        return
    blend(low, tinted(np.ascontiguousarray(alpha), colour), mode, opacity)


def atop(
    low: np.ndarray, top: np.ndarray, covered: np.ndarray, below: np.ndarray, opacity: float
) -> None:
    """Source-atop of layers that lie on a ground already, in place: ``low`` shows layers of a
    coverage (h, w) over a picture ``below``, and ``top`` is to appear on the layers only.

    With x = low - below (1 - ab) for the layers alone, they become top ab + x (1 - as), which is
    then laid on the ground again.
    """
    ab = covered.astype(np.float32)[:, :, None] / np.float32(255)
    shown = top.astype(np.float32) * np.float32(opacity)
    rest = shown[:, :, 3:] / np.float32(255)
    value = shown * ab + low * (1 - rest) + below * ((1 - ab) * rest)
    low[:] = np.clip(np.rint(value), 0, 255).astype(np.uint8)


def blend_towards(low: np.ndarray, goal: np.ndarray, coverage: np.ndarray) -> None:
    """``low`` becomes ``goal`` as far as the coverage (h, w) says, in place."""
    _towards(low, goal, coverage)


@kernel()
def _cover(coverage: np.ndarray, top: np.ndarray, opacity: int, remove: bool) -> None:
    for y in range(top.shape[0]):
        for x in range(top.shape[1]):
            a = (np.uint32(top[y, x, 3]) * np.uint32(opacity) + np.uint32(128)) >> np.uint32(8)
            rest = over_full(np.uint32(coverage[y, x]) * (np.uint32(255) - a))
            coverage[y, x] = rest if remove else rest + a


def cover(coverage: np.ndarray, top: np.ndarray, opacity: float) -> None:
    """What a picture adds to a coverage (h, w), in place."""
    _cover(coverage, top, round(opacity * 256), False)


def uncover(coverage: np.ndarray, top: np.ndarray, opacity: float) -> None:
    """What a picture takes from a coverage (h, w), in place."""
    _cover(coverage, top, round(opacity * 256), True)


@kernel()
def luminance(pixels: np.ndarray) -> np.ndarray:
    """Luminance times alpha (h, w) uint8: Rec. 709 weights on sRGB values, as CSS Masking's
    luminance masks are computed."""
    width = pixels.shape[1]
    out = np.empty((pixels.shape[0], width), np.uint8)
    for y in range(pixels.shape[0]):
        row, into = pixels[y].reshape(width * 4), out[y]
        for x in range(width):
            value = np.uint32(row[4 * x]) * np.uint32(4732)
            value += np.uint32(row[4 * x + 1]) * np.uint32(46871)
            value += np.uint32(row[4 * x + 2]) * np.uint32(13933)
            into[x] = (value + np.uint32(32768)) >> np.uint32(16)
    return out


@sample
def _sample(few: Few) -> None:
    colour = (1.0, 0.5, 0.2, 1.0)
    for pixels, coverage in few.layouts():
        scale_by(pixels, coverage)
        lay_beside(pixels, pixels.copy())
        fade(pixels, 0.5)
        lay_faintly(pixels, pixels.copy(), 0.01, (0, 0), 1)
        keep_alpha(pixels, pixels.copy())
        blend_towards(pixels, pixels.copy(), coverage)
        cover(coverage, pixels, 0.5)
        lay_through(pixels, pixels.copy(), coverage, 0.5)
        lay_ink(pixels, coverage, colour, 0.5, coverage)
        luminance(pixels)
        by_order(pixels, pixels.copy(), np.zeros(coverage.shape, np.float32), 0.5, 0.1)
        for mode in LOOPS:
            blend(pixels, pixels.copy(), mode, 0.5)
    tinted(few.coverage, colour)
    looked_up(few.plane, np.zeros((8, 4), np.uint8))
