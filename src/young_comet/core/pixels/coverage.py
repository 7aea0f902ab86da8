"""Coverages: how much of each pixel a form takes, (h, w) uint8."""

from __future__ import annotations

import math
from collections.abc import Iterable

import cv2
import numpy as np
import skia

from .blur import gaussian, in_levels, reach_of
from .fixed import over_full
from .kernel import Few, inlined, kernel, sample

Region = tuple[int, int, int, int]


def covered(path: skia.Path, matrix: skia.Matrix, region: Region, grow: float = 0.0) -> np.ndarray:
    """What a filled path covers of a region; ``grow`` (px of the path's space) moves its edge
    outwards, or inwards where negative."""
    left, top, right, bottom = region
    result = np.zeros((max(0, bottom - top), max(0, right - left)), np.uint8)
    if result.size == 0:
        return result
    info = skia.ImageInfo.MakeA8(result.shape[1], result.shape[0])
    surface = skia.Surface.MakeRasterDirect(info, result, result.strides[0])
    canvas = surface.getCanvas()
    canvas.translate(-left, -top)
    canvas.concat(matrix)
    canvas.drawPath(path, skia.Paint(AntiAlias=True))
    if grow:
        pen = skia.Paint(
            AntiAlias=True,
            Style=skia.Paint.kStroke_Style,
            StrokeWidth=2 * abs(grow),
            StrokeJoin=skia.Paint.kRound_Join,
            StrokeCap=skia.Paint.kRound_Cap,
        )
        if grow < 0:
            pen.setBlendMode(skia.BlendMode.kDstOut)
        canvas.drawPath(path, pen)
    return result


def feathered(
    path: skia.Path,
    matrix: skia.Matrix,
    region: Region,
    grow: float,
    feather: tuple[float, float],
) -> np.ndarray:
    """As ``covered``, with an edge that is soft over a width (px of the region) along x and y:
    a gaussian whose standard deviation is half of it."""
    sx, sy = feather[0] / 2, feather[1] / 2
    if max(sx, sy) < 0.1:
        return covered(path, matrix, region, grow)
    if max(sx, sy) > _WIDE:
        return _widely(path, matrix, region, grow, (sx, sy))
    pad = reach_of(max(sx, sy))
    wide = (region[0] - pad, region[1] - pad, region[2] + pad, region[3] + pad)
    soft = gaussian(covered(path, matrix, wide, grow), sx, sy)
    return np.ascontiguousarray(soft[pad:-pad, pad:-pad])


# Edges of a larger deviation are drawn on a coarser grid, of which it is at most so many pixels.
_WIDE = 64.0
# Such deviations are in turn blurred on blocks of at most so many of those.
_BLOCK = 32


def _widely(
    path: skia.Path,
    matrix: skia.Matrix,
    region: Region,
    grow: float,
    sigmas: tuple[float, float],
) -> np.ndarray:
    """An edge so soft that the form need not be drawn pixel by pixel: drawn at a power of two of
    their size, blurred there and enlarged. The work is bounded, whatever the deviations."""
    if region[2] <= region[0] or region[3] <= region[1]:
        return covered(path, matrix, region)
    steps = [2 ** math.ceil(math.log2(max(1.0, sigma / _WIDE))) for sigma in sigmas]
    # Area averages and linear enlarging widen as well (see ``gaussian``).
    rest = [math.sqrt(s * s - (q * q - 1) / 4) / q for s, q in zip(sigmas, steps, strict=True)]
    (qx, qy), (pad_x, pad_y) = steps, (reach_of(rest[0]) + 1, reach_of(rest[1]) + 1)
    # Whole blocks of pixels of the coarse grid, which stays where it is as the region moves.
    left = (region[0] // qx - pad_x) // _BLOCK * _BLOCK
    top = (region[1] // qy - pad_y) // _BLOCK * _BLOCK
    wide = (left, top, -(-region[2] // qx) + pad_x, -(-region[3] // qy) + pad_y)
    small = skia.Matrix.Scale(1 / qx, 1 / qy).preConcat(matrix)
    soft = gaussian(covered(path, small, wide, grow), rest[0], rest[1])
    # Where the middle of the region's first pixel lies among the coarse ones.
    x, y = (region[0] + 0.5) / qx - left - 0.5, (region[1] + 0.5) / qy - top - 0.5
    part = cv2.warpAffine(
        soft.astype(np.uint16) * np.uint16(257),
        np.array([[1 / qx, 0, x], [0, 1 / qy, y]]),
        (region[2] - region[0], region[3] - region[1]),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
    )
    return in_levels(part)


def half_plane(
    point: tuple[float, float], normal: tuple[float, float], region: Region, soft: float
) -> np.ndarray:
    """The side of a line that its unit normal points to; the edge is soft as a gaussian's of a
    standard deviation in px, at least as an anti-aliased one."""
    shape = (max(0, region[3] - region[1]), max(0, region[2] - region[0]))
    # The edge lies within a few pixels, or deviations, of the line: a table of 2048 steps over it.
    if soft < 0.3:
        half, table = 0.5, _LINEAR
    else:
        half, table = 4 * soft, _NORMAL
    out = np.empty(shape, np.uint8)
    far = (region[0] + 0.5 - point[0]) * normal[0] + (region[1] + 0.5 - point[1]) * normal[1]
    _by_table(out, far, normal, half, table)
    return out


_STEPS = 2048
_LINEAR = np.rint(np.linspace(0, 255, _STEPS)).astype(np.uint8)
# The normal distribution's sums over +-4 deviations.
_NORMAL = np.array([
    round(255 * (1 + math.erf(t / math.sqrt(2))) / 2) for t in np.linspace(-4, 4, _STEPS).tolist()
], np.uint8)  # fmt: skip


@kernel(fastmath=True)
def _by_table(
    out: np.ndarray, far: float, normal: tuple[float, float], half: float, table: np.ndarray
) -> None:
    """Values of a table by how far each pixel is from a line, -``half`` to ``half`` px; ``far`` is
    how far the first one is, which grows by a normal's x and y."""
    last, zero = np.float32(len(table) - 1), np.float32(0)
    k = np.float32((len(table) - 1) / (2 * half))
    across = np.float32(normal[0] * (len(table) - 1) / (2 * half))
    for y in range(out.shape[0]):
        row = out[y]
        start = np.float32(far + y * normal[1] + half) * k
        for x in range(out.shape[1]):
            at = min(last, max(zero, start + np.float32(x) * across)) + np.float32(0.5)
            row[x] = table[np.uint32(np.int32(at))]


MODES = ("union", "minus", "intersect", "exclude")


def joined(below: np.ndarray, other: np.ndarray, mode: str) -> np.ndarray:
    """Two coverages as one: Porter and Duff's over (union), out (minus), in (intersect) and xor
    (exclude) of their alphas."""
    return _joined(below, other, MODES.index(mode))


@kernel()
def _joined(below: np.ndarray, other: np.ndarray, mode: int) -> np.ndarray:
    out = np.empty(below.shape, np.uint8)
    full = np.uint32(255)
    for y in range(below.shape[0]):
        row, own, into = below[y], other[y], out[y]
        for x in range(below.shape[1]):
            a, b = np.uint32(row[x]), np.uint32(own[x])
            if mode == 0:
                value = full - _product(full - a, full - b)
            elif mode == 1:
                value = _product(a, full - b)
            elif mode == 2:
                value = _product(a, b)
            else:
                value = min(full, _product(a, full - b) + _product(b, full - a))
            into[x] = value
    return out


@inlined
def _product(a: np.uint32, b: np.uint32) -> np.uint32:
    return over_full(np.uint32(np.uint32(a) * np.uint32(b)))


def scaled(coverage: np.ndarray, opacity: float) -> np.ndarray:
    """A coverage times an opacity 0..1."""
    return coverage if opacity >= 1 else cv2.convertScaleAbs(coverage, alpha=max(0.0, opacity))


def mean(coverages: Iterable[np.ndarray]) -> np.ndarray:
    """The mean of at most 256 coverages of one size."""
    total, count = np.zeros(0, np.uint16), 0
    for each in coverages:
        total = total + each if count else each.astype(np.uint16)
        count += 1
    return cv2.convertScaleAbs(total, alpha=1 / max(1, count))


@kernel()
def shared(whole: np.ndarray, shown: np.ndarray) -> np.ndarray:
    """The coverage (h, w) uint8 of forms that meet without overlapping: ``whole`` is the sum of
    theirs, ``shown`` the sum times their opacities, both (h, w) uint16. What rounding takes where
    they meet is given back."""
    out = np.empty(whole.shape, np.uint8)
    for y in range(whole.shape[0]):
        all_, some, into = whole[y], shown[y], out[y]
        for x in range(whole.shape[1]):
            full, part = np.uint32(all_[x]), np.uint32(some[x])
            if full >= 240:
                part = np.uint32((part * np.uint32(255) + (full >> np.uint32(1))) // full)
            into[x] = min(part, np.uint32(255))
    return out


@kernel()
def _let_through(
    values: np.ndarray, shift: int, opacity: int, inverted: bool, into: np.ndarray, x: int, y: int
) -> None:
    k, half, down = np.uint32(opacity), np.uint32(1 << 15), np.uint32(16)
    first, flip = np.uint32(shift), np.uint32(255 if inverted else 0)
    width = values.shape[1]
    for row in range(values.shape[0]):
        source, out = values[row], into[y + row, x : x + width]
        for i in range(width):
            out[i] = (((np.uint32(source[i]) >> first) * k + half) >> down) ^ flip


def let_through(
    values: np.ndarray,
    opacity: float,
    inverted: bool,
    shape: tuple[int, int],
    corner: tuple[int, int] = (0, 0),
) -> np.ndarray:
    """The coverage (h, w) of that shape that a matte gives: a coverage, or the alpha of a picture
    (h, w, 4), times an opacity, and what that leaves of 255 if inverted. ``corner`` says at which
    column and row the values begin; around them there is nothing to see."""
    cover = np.full(shape, 255 if inverted else 0, np.uint8)
    if values.size:
        alphas = values.ndim == 3
        flat = values.view(np.uint32)[:, :, 0] if alphas else values
        strong = round(min(1.0, max(0.0, opacity)) * 65536)
        _let_through(flat, 24 if alphas else 0, strong, inverted, cover, *corner)
    return cover


@sample
def _sample(few: Few) -> None:
    half_plane((1.0, 1.0), (1.0, 0.0), (0, 0, 4, 4), 1.0)
    for pixels, coverage in few.layouts():
        let_through(pixels, 0.5, True, pixels.shape[:2])
        let_through(coverage, 0.5, True, pixels.shape[:2])
        joined(coverage, coverage, "union")
        shared(coverage.astype(np.uint16), coverage.astype(np.uint16))
