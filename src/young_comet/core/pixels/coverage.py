"""Coverages: how much of each pixel a form takes, (h, w) uint8."""

from __future__ import annotations

import math

import cv2
import numpy as np
import skia

from .blur import gaussian, reach_of
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
    pad = reach_of(max(sx, sy))
    wide = (region[0] - pad, region[1] - pad, region[2] + pad, region[3] + pad)
    soft = gaussian(covered(path, matrix, wide, grow), sx, sy)
    return np.ascontiguousarray(soft[pad:-pad, pad:-pad])


def half_plane(
    point: tuple[float, float], normal: tuple[float, float], region: Region, soft: float
) -> np.ndarray:
    """The side of a line that its unit normal points to; the edge is soft as a gaussian's of a
    standard deviation in px, at least as an anti-aliased one."""
    x = np.arange(region[0], region[2], dtype=np.float32)[None, :] + np.float32(0.5)
    y = np.arange(region[1], region[3], dtype=np.float32)[:, None] + np.float32(0.5)
    far = (x - np.float32(point[0])) * np.float32(normal[0])
    far = far + (y - np.float32(point[1])) * np.float32(normal[1])
    if soft < 0.3:
        result: np.ndarray = np.rint(np.clip(far + np.float32(0.5), 0, 1) * 255).astype(np.uint8)
        return result
    # The normal distribution's sums, from a table of 2048 steps over +-4 deviations.
    table = np.array([(1 + math.erf(t / math.sqrt(2))) / 2 for t in np.linspace(-4, 4, 2048)])
    index = np.clip((far / np.float32(soft) + 4) * np.float32(2047 / 8), 0, 2047)
    result = np.rint(table * 255).astype(np.uint8)[index.astype(np.int32)]
    return result


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
    for pixels, coverage in few.layouts():
        let_through(pixels, 0.5, True, pixels.shape[:2])
        let_through(coverage, 0.5, True, pixels.shape[:2])
        joined(coverage, coverage, "union")
