"""Pictures scaled, turned and moved: upright ones by windows, turned ones by OpenCV."""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Callable

import cv2
import numpy as np

from .hull import hull, reached
from .raster import Raster
from .scaling import KeptRows, scaled

# Turned pictures are sampled in strips of so many rows, each as wide as what it shows.
_STRIP = 48
# Upright pictures are made of the level of which the larger scale is at least this.
_SMALLEST = 0.35
# Half octaves below 1 that turned pictures are sampled of, of which so many are kept with so many
# pixels at most; one that is this near is taken alone.
_MOST_LEVELS, _KEPT, _MOST_PIXELS, _NEAR = 16, 2, 6_000_000, 0.04


class MipPyramid:
    """A picture with its halvings, drawn sharply and steadily at any scale.

    Where it stays upright its pixels are mixed by a window that fits the scale (``scaling``), of a
    level at which that is a third to two thirds. Where it is turned or skewed it is sampled
    bilinearly, of levels with more pixels than what they show needs: two neighbouring ones are
    mixed, so that nothing jumps while it grows.
    """

    def __init__(self, pixels: np.ndarray) -> None:
        self._levels = [pixels]
        self._opaque: bool | None = None
        # Those with pixels to spare, with one transparent pixel around: turned edges are smooth.
        self._spare: OrderedDict[int, np.ndarray] = OrderedDict()
        self._hull: np.ndarray | None = None
        self._rows = KeptRows()
        self.width, self.height = int(pixels.shape[1]), int(pixels.shape[0])

    @property
    def nbytes(self) -> int:
        """The bytes of all its levels."""
        levels = sum(level.nbytes for level in self._levels)
        levels += sum(level.nbytes for level in self._spare.values())
        return levels + self._rows.nbytes

    def draw(
        self,
        matrix: tuple[float, float, float, float, float, float],
        clip: tuple[int, int, int, int],
        *,
        quick: bool = False,
        soft: bool = False,
    ) -> Raster | None:
        """The picture under an SVG-style matrix from its pixels to the frame's.

        ``clip`` is (left, top, right, bottom) of the frame; the result covers only what the
        picture covers inside it. None if that is nothing. A ``quick`` drawing is bilinear and takes
        what is there: for one that is seldom drawn twice or mixed with many others, and for
        what has hard edges, in which a window would ring. A ``soft`` one is bilinear also where it
        only shifts.
        """
        a, b, c, d, e, f = matrix
        upright = b == c == 0
        outline = self._outline(matrix, upright)
        if not len(outline):
            return None
        (x0, y0), (x1, y1) = outline.min(axis=0), outline.max(axis=0)
        windowed = upright and (not quick or ((a, d) == (1, 1) and not soft))
        around = 0 if windowed else 1
        left, top = max(clip[0], math.floor(x0) - around), max(clip[1], math.floor(y0) - around)
        right = min(clip[2], math.ceil(x1) + around)
        bottom = min(clip[3], math.ceil(y1) + around)
        if right <= left or bottom <= top:
            return None
        region = (left, top, right, bottom)
        if windowed:
            return Raster(self._upright((a, d), (e, f), region), left, top)
        scale = max(math.hypot(a, b), math.hypot(c, d))
        if quick or scale < 1e-6:
            return Raster(
                self._sampled(self._quick_level(scale), matrix, region, outline), left, top
            )
        # The level that holds just what fits into so many pixels, and its finer neighbour.
        wanted = min(max(-2.0 * math.log2(scale), 0.0), _MOST_LEVELS)
        first = math.floor(wanted)
        share = wanted - first
        if share < _NEAR:
            share = 0.0
        elif share > 1 - _NEAR:
            first, share = first + 1, 0.0
        pixels = self._sampled(self._spare_level(first), matrix, region, outline)
        if share:
            coarser = self._sampled(self._spare_level(first + 1), matrix, region, outline)
            pixels = cv2.addWeighted(pixels, 1 - share, coarser, share, 0)
        return Raster(pixels, left, top)

    def _upright(
        self, scale: tuple[float, float], offset: tuple[float, float], region: tuple[int, ...]
    ) -> np.ndarray:
        whole = float(offset[0]).is_integer() and float(offset[1]).is_integer()
        if scale == (1, 1) and whole:
            return self._cut(round(offset[0]), round(offset[1]), *region)
        level, larger = 0, max(abs(scale[0]), abs(scale[1]))
        while larger * 2**level < _SMALLEST and max(self._level(level).shape[:2]) > 1:
            level += 1
        source = self._level(level)
        if self._opaque is None:
            self._opaque = bool((self._levels[0][:, :, 3] == 255).all())
        fx, fy = self.width / source.shape[1], self.height / source.shape[0]
        left, top, right, bottom = region
        return scaled(
            source, (scale[0] * fx, scale[1] * fy), offset, (left, top, right, bottom),
            opaque=self._opaque, kept=self._rows,
        )  # fmt: skip

    def _sampled(
        self,
        source: np.ndarray,
        matrix: tuple[float, ...],
        region: tuple[int, int, int, int],
        outline: np.ndarray,
    ) -> np.ndarray:
        """A region of what a level (with its rim) shows under a matrix, sampled bilinearly."""
        a, b, c, d, e, f = matrix
        left, top, right, bottom = region
        fx = self.width / (source.shape[1] - 2)
        fy = self.height / (source.shape[0] - 2)
        # Pixel centres: level pixel i lies at (i - 1 + 0.5) * f of the original (1 is the rim).
        forward = np.array(
            [
                [a * fx, c * fy, e - left - 0.5 - a * fx * 0.5 - c * fy * 0.5],
                [b * fx, d * fy, f - top - 0.5 - b * fx * 0.5 - d * fy * 0.5],
            ]
        )
        # A sample takes from pixels of the level that are less than one away.
        around = 1.5 * max(1.0, math.hypot(a * fx, b * fx), math.hypot(c * fy, d * fy))
        size = (right - left, bottom - top)
        return _turned(source, forward, size, outline - (left, top), around)

    def _quick_level(self, scale: float) -> np.ndarray:
        """The picture or the halving that is drawn at a scale of 0.5 to 1, with a rim."""
        level = 0
        while scale * 2 ** (level + 1) <= 1.0 and min(self._level(level).shape[:2]) > 8:
            level += 1
        return self._kept(-1 - level, lambda: self._level(level))

    def _spare_level(self, index: int) -> np.ndarray:
        """The picture made as small as ``index`` half octaves below 1, but on up to twice as many
        pixels to each side as it then has."""
        scale = 2.0 ** (-index / 2)

        def made() -> np.ndarray:
            pixels = self._levels[0].shape[0] * self._levels[0].shape[1]
            spare = min(2.0, math.sqrt(_MOST_PIXELS / max(1.0, pixels * scale * scale)))
            density = scale * max(1.0, spare)
            width = max(1, round(self.width * density))
            height = max(1, round(self.height * density))
            small = self._levels[0]
            if index:  # what is too fine goes first, on pixels that hold the rest
                size = (max(1, round(self.width * scale)), max(1, round(self.height * scale)))
                way = (size[0] / self.width, size[1] / self.height)
                small = self._upright(way, (0.0, 0.0), (0, 0, *size))
            way = (width / small.shape[1], height / small.shape[0])
            if way == (1, 1):
                return small
            return scaled(small, way, (0.0, 0.0), (0, 0, width, height), opaque=bool(self._opaque))

        return self._kept(index, made)

    def _kept(self, index: int, make: Callable[[], np.ndarray]) -> np.ndarray:
        if index not in self._spare:
            self._spare[index] = _padded(make()) if index < 0 else _softened(make())
            while len(self._spare) > _KEPT:
                self._spare.popitem(last=False)
        self._spare.move_to_end(index)
        return self._spare[index]

    def _outline(self, matrix: tuple[float, ...], upright: bool) -> np.ndarray:
        """Corners (n, 2) under a matrix about all that is not transparent: of the whole picture
        where it stays upright, else of a polygon about what it shows."""
        a, b, c, d, e, f = matrix
        w, h = self.width, self.height
        corners = np.array([(0, 0), (w, 0), (w, h), (0, h)], np.float64)
        if not upright:
            if self._hull is None:
                self._hull = hull(self._levels[0])
            corners = self._hull
        result: np.ndarray = corners @ np.array([[a, b], [c, d]]) + (e, f)
        return result

    def _cut(self, x: int, y: int, left: int, top: int, right: int, bottom: int) -> np.ndarray:
        return np.ascontiguousarray(self._levels[0][top - y : bottom - y, left - x : right - x])

    def _level(self, index: int) -> np.ndarray:
        while len(self._levels) <= index:
            last = self._levels[-1]
            size = (max(1, last.shape[1] // 2), max(1, last.shape[0] // 2))
            way = (size[0] / last.shape[1], size[1] / last.shape[0])
            self._levels.append(scaled(last, way, (0.0, 0.0), (0, 0, *size)))
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


def _padded(pixels: np.ndarray) -> np.ndarray:
    return cv2.copyMakeBorder(pixels, 1, 1, 1, 1, cv2.BORDER_CONSTANT)


def _softened(pixels: np.ndarray) -> np.ndarray:
    """Pixels with a rim: their edges fade over two pixels about where they are."""
    wide = cv2.copyMakeBorder(pixels, 1, 1, 1, 1, cv2.BORDER_REPLICATE)
    for lines in (wide, wide.transpose(1, 0, 2)):
        for index, share in ((0, 0.25), (-1, 0.25), (1, 0.75), (-2, 0.75)):
            if len(lines) > 3:
                lines[index] = np.rint(lines[index] * share)
    return wide


def resized(pixels: np.ndarray, width: int, height: int) -> np.ndarray:
    """Scaled to a size: area averaging down, bilinear up."""
    if pixels.shape[1] == width and pixels.shape[0] == height:
        return pixels
    shrink = width < pixels.shape[1]
    mode = cv2.INTER_AREA if shrink else cv2.INTER_LINEAR
    return cv2.resize(pixels, (width, height), interpolation=mode)
