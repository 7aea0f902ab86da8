"""Where a picture is not transparent: a convex polygon about it, and what of each strip of a frame
that polygon reaches."""

from __future__ import annotations

import cv2
import numpy as np

from .fixed import whole_pixels
from .kernel import Few, inlined, kernel, sample

_ROWS = 8  # so many rows are taken as one
_BLOCK = 32  # so many pixels are looked at together


@inlined
def _any(row: np.ndarray, first: int) -> np.uint32:
    """Alphas of a block of pixels, put together."""
    found = np.uint32(0)
    for x in range(_BLOCK):
        found |= row[first + x]
    return found >> np.uint32(24)


@inlined
def _first(row: np.ndarray, until: int) -> int:
    """The first of so many pixels that is not transparent, ``until`` where none is."""
    x = 0
    while x + _BLOCK <= until and _any(row, x) == 0:
        x += _BLOCK
    while x < until and row[x] >> np.uint32(24) == 0:
        x += 1
    return x


@inlined
def _after_last(row: np.ndarray, since: int) -> int:
    """What comes after the last pixel that is not transparent, ``since`` where none is from there
    on."""
    x = len(row)
    while x - _BLOCK >= since and _any(row, x - _BLOCK) == 0:
        x -= _BLOCK
    while x > since and row[x - 1] >> np.uint32(24) == 0:
        x -= 1
    return x


@kernel()
def filled(pixels: np.ndarray, step: int) -> np.ndarray:
    """For each ``step`` rows of (h, w, 4) the first column that is not transparent in one of them
    and the one after the last, (n, 2) int32; the width and 0 where all are."""
    height, width = pixels.shape[:2]
    out = np.empty(((height + step - 1) // step, 2), np.int32)
    for group in range(len(out)):
        first, last = width, 0
        for y in range(group * step, min(height, (group + 1) * step)):
            row = whole_pixels(pixels[y], width)
            first = _first(row, first)
            last = _after_last(row, last)
        out[group, 0], out[group, 1] = first, last
    return out


@kernel()
def bounds(pixels: np.ndarray) -> tuple[int, int, int, int]:
    """The first column and row of (h, w, 4) that are not transparent, and those after the last;
    four 0 where all are."""
    height, width = pixels.shape[:2]
    left, top, right, bottom = width, height, 0, 0
    for y in range(height):
        row = whole_pixels(pixels[y], width)
        x = _first(row, width)
        if x == width:
            continue
        left, top, bottom = min(left, x), min(top, y), y + 1
        right = _after_last(row, right)
    if right <= left:
        return 0, 0, 0, 0
    return left, top, right, bottom


def hull(pixels: np.ndarray) -> np.ndarray:
    """The corners (n, 2) float64 of a convex polygon about all pixels of (h, w, 4) that are not
    transparent, x and y on their edges; none where all of them are."""
    found = filled(pixels, _ROWS)
    groups = np.flatnonzero(found[:, 0] < found[:, 1]).astype(np.int32)
    if not len(groups):
        return np.zeros((0, 2))
    above = groups * _ROWS
    below = np.minimum(above + _ROWS, pixels.shape[0])
    sides = [np.stack([found[groups, i], y], axis=1) for i in (0, 1) for y in (above, below)]
    corners: np.ndarray = cv2.convexHull(np.concatenate(sides).astype(np.int32))[:, 0]
    return corners.astype(np.float64)


@kernel()
def reached(polygon: np.ndarray, lines: np.ndarray, around: float) -> np.ndarray:
    """From where to where (n - 1, 2) a convex polygon (m, 2) float64 and ``around`` more on all
    sides reach between two neighbours each of ``lines`` (n,) float64, which are ys in rising order;
    from infinity to minus infinity where they do not reach."""
    out = np.empty((len(lines) - 1, 2))
    for strip in range(len(out)):
        top, bottom = lines[strip] - around, lines[strip + 1] + around
        first, last = np.inf, -np.inf
        for i in range(len(polygon)):
            # Each side, as far as it lies between the two lines.
            x, y = polygon[i - 1]
            dx, dy = polygon[i, 0] - x, polygon[i, 1] - y
            if min(y, y + dy) > bottom or max(y, y + dy) < top:
                continue
            enters, leaves = 0.0, 1.0
            if dy != 0:
                a, b = (top - y) / dy, (bottom - y) / dy
                enters, leaves = max(0.0, min(a, b)), min(1.0, max(a, b))
            first = min(first, x + dx * enters, x + dx * leaves)
            last = max(last, x + dx * enters, x + dx * leaves)
        out[strip, 0], out[strip, 1] = first - around, last + around
    return out


@sample
def _sample(few: Few) -> None:
    filled(few.pixels, 2)
    bounds(few.pixels)
    reached(np.zeros((2, 2)), np.zeros(2), 1.0)
