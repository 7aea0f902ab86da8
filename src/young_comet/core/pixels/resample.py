"""Pictures scaled, turned and moved: mip levels and affine warps with OpenCV."""

from __future__ import annotations

import math

import cv2
import numba
import numpy as np

from .hull import hull, reached
from .lanes import shared
from .raster import Raster

# Turned pictures are sampled in strips of so many rows, each as wide as what it shows.
_STRIP = 48
# From this magnification on, rows are sampled first and mixed afterwards.
_TALL = 1.5


class MipPyramid:
    """A picture with its halvings, drawn sharply and steadily at any scale below 2.

    A draw takes the level that leaves a scale of 0.5..1: bilinear sampling then neither
    aliases nor pulses while a picture slowly grows.
    """

    def __init__(self, pixels: np.ndarray) -> None:
        # One transparent pixel around it, so that turned edges are smooth.
        self._levels = [_padded(pixels)]
        self._hull: np.ndarray | None = None
        self.width, self.height = int(pixels.shape[1]), int(pixels.shape[0])

    @property
    def nbytes(self) -> int:
        return sum(level.nbytes for level in self._levels)

    def draw(
        self,
        matrix: tuple[float, float, float, float, float, float],
        clip: tuple[int, int, int, int],
    ) -> Raster | None:
        """The picture under an SVG-style matrix from its pixels to the frame's.

        ``clip`` is (left, top, right, bottom) of the frame; the result covers only what the
        picture covers inside it. None if that is nothing.
        """
        a, b, c, d, e, f = matrix
        upright = b == c == 0
        outline = self._outline(matrix, upright)
        if not len(outline):
            return None
        (x0, y0), (x1, y1) = outline.min(axis=0), outline.max(axis=0)
        left, top = max(clip[0], math.floor(x0) - 1), max(clip[1], math.floor(y0) - 1)
        right, bottom = min(clip[2], math.ceil(x1) + 1), min(clip[3], math.ceil(y1) + 1)
        if right <= left or bottom <= top:
            return None
        whole = e == round(e) and f == round(f)
        if (a, b, c, d) == (1, 0, 0, 1) and whole:
            return self._cut(round(e), round(f), left, top, right, bottom)
        if (a, b, c, d) == (1, 0, 0, 1) and (e == round(e) or f == round(f)):
            return self._slid(e, f, left, top, right, bottom)
        smallest = min(math.hypot(a, b), math.hypot(c, d))
        level = 0
        while smallest * 2 ** (level + 1) <= 1.0 and min(self._level(level).shape[:2]) > 8:
            level += 1
        source = self._level(level)
        fx = self.width / (source.shape[1] - 2)
        fy = self.height / (source.shape[0] - 2)
        # Pixel centres: level pixel i lies at (i - 1 + 0.5) * f of the original (1 is the pad).
        forward = np.array(
            [
                [a * fx, c * fy, e - left - 0.5 - a * fx * 0.5 - c * fy * 0.5],
                [b * fx, d * fy, f - top - 0.5 - b * fx * 0.5 - d * fy * 0.5],
            ]
        )
        size = (right - left, bottom - top)
        if upright and a > 0 and forward[1, 1] >= _TALL:
            return Raster(_enlarged(source, forward, size), left, top)
        if upright:
            pixels = cv2.warpAffine(
                source, forward, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT
            )
            return Raster(np.ascontiguousarray(pixels), left, top)
        # A sample takes from pixels of the level that are less than one away.
        around = 1.5 * max(1.0, math.hypot(a * fx, b * fx), math.hypot(c * fy, d * fy))
        return Raster(_turned(source, forward, size, outline - (left, top), around), left, top)

    def _outline(self, matrix: tuple[float, ...], upright: bool) -> np.ndarray:
        """Corners (n, 2) under a matrix about all that is not transparent: of the whole picture
        where it stays upright, else of a polygon about what it shows."""
        a, b, c, d, e, f = matrix
        w, h = self.width, self.height
        corners = np.array([(0, 0), (w, 0), (w, h), (0, h)], np.float64)
        if not upright:
            if self._hull is None:
                self._hull = hull(self._levels[0][1:-1, 1:-1])
            corners = self._hull
        return corners @ np.array([[a, b], [c, d]]) + (e, f)

    def _cut(self, x: int, y: int, left: int, top: int, right: int, bottom: int) -> Raster:
        source = self._levels[0]
        # The clip may reach one pixel beyond the padding; what is missing is transparent.
        pixels = np.zeros((bottom - top, right - left, 4), np.uint8)
        y0, x0 = max(0, y - 1 - top), max(0, x - 1 - left)
        part = source[max(0, top - y + 1) : bottom - y + 1, max(0, left - x + 1) : right - x + 1]
        pixels[y0 : y0 + part.shape[0], x0 : x0 + part.shape[1]] = part
        return Raster(pixels, left, top)

    def _slid(
        self, e: float, f: float, left: int, top: int, right: int, bottom: int
    ) -> Raster | None:
        """The picture moved by parts of a pixel along one axis: neighbours are mixed, which is what
        bilinear sampling comes to there."""
        x, y = math.floor(e), math.floor(f)
        left, top = max(left, x), max(top, y)
        right, bottom = min(right, x + self.width + 1), min(bottom, y + self.height + 1)
        if right <= left or bottom <= top:
            return None
        # From one row and column before on, which the mixing takes away.
        source = self._levels[0]
        rows = source.reshape(source.shape[0], -1)[top - y : bottom - y + 1]
        rows = rows[:, (left - x) * 4 : (right - x + 1) * 4]
        here, before = rows[1:, 4:], rows[1:, :-4] if e > x else rows[:-1, 4:]
        share = (e - x) + (f - y)
        pixels = cv2.addWeighted(here, 1 - share, before, share, 0)
        return Raster(pixels.reshape(bottom - top, right - left, 4), left, top)

    def _level(self, index: int) -> np.ndarray:
        while len(self._levels) <= index:
            last = self._levels[-1][1:-1, 1:-1]
            size = (max(1, last.shape[1] // 2), max(1, last.shape[0] // 2))
            half = cv2.resize(last, size, interpolation=cv2.INTER_AREA)
            self._levels.append(_padded(half))
        return self._levels[index]


def _turned(
    source: np.ndarray,
    forward: np.ndarray,
    size: tuple[int, int],
    outline: np.ndarray,
    around: float,
) -> np.ndarray:
    """``source`` under a map, sampled no farther than ``around`` its outline there; beyond lies
    nothing."""
    width, height = size
    pixels = np.empty((height, width, 4), np.uint8)
    lines = np.minimum(np.arange(0, height + _STRIP, _STRIP), height)
    spans = reached(outline, lines.astype(np.float64), around)
    first = np.floor(np.clip(spans[:, 0], 0, width)).astype(int).tolist()
    last = np.ceil(np.clip(spans[:, 1], 0, width)).astype(int).tolist()
    for row, end, x0, x1 in zip(lines[:-1].tolist(), lines[1:].tolist(), first, last, strict=True):
        strip = pixels[row:end]
        if x1 <= x0:
            strip[:] = 0
            continue
        strip[:, :x0], strip[:, x1:] = 0, 0
        there = forward - np.array([[0, 0, x0], [0, 0, row]])
        cv2.warpAffine(
            source, there, (x1 - x0, end - row), dst=strip[:, x0:x1], flags=cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_CONSTANT,
        )  # fmt: skip
    return pixels


def _enlarged(source: np.ndarray, forward: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """``source`` under an upright map that makes it taller: what bilinear sampling gives, first
    along the rows, of which there are fewer, then between them."""
    along = np.array([[forward[0, 0], 0.0, forward[0, 2]], [0.0, 1.0, 0.0]])
    rows = cv2.warpAffine(
        source, along, (size[0], source.shape[0]), flags=cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_CONSTANT,
    )  # fmt: skip
    at = np.rint((np.arange(size[1]) - forward[1, 2]) * (128 / forward[1, 1])).astype(np.int64)
    out = np.empty((size[1], size[0], 4), np.uint8)
    between_rows(rows.reshape(rows.shape[0], -1), at >> 7, at & 127, out.reshape(size[1], -1))
    return out


@numba.njit(nogil=True, cache=True)
def between_rows(rows: np.ndarray, first: np.ndarray, share: np.ndarray, out: np.ndarray) -> None:
    """Each row of ``out`` is mixed of the row ``first`` and the next, of which it has so many
    128ths; beyond the first and the last there is nothing."""
    last = rows.shape[0] - 1
    for y in range(out.shape[0]):
        into, at = out[y].view(np.uint32), first[y]
        if at < 0 or at >= last:
            into[:] = 0
            continue
        upper, lower = rows[at].view(np.uint32), rows[at + 1].view(np.uint32)
        k = np.uint32(share[y])
        for x in range(len(into)):
            into[x] = shared(upper[x], lower[x], k)


def _padded(pixels: np.ndarray) -> np.ndarray:
    return cv2.copyMakeBorder(pixels, 1, 1, 1, 1, cv2.BORDER_CONSTANT)


def resized(pixels: np.ndarray, width: int, height: int) -> np.ndarray:
    """Scaled to a size: area averaging down, bilinear up."""
    if pixels.shape[1] == width and pixels.shape[0] == height:
        return pixels
    shrink = width < pixels.shape[1]
    mode = cv2.INTER_AREA if shrink else cv2.INTER_LINEAR
    return cv2.resize(pixels, (width, height), interpolation=mode)
