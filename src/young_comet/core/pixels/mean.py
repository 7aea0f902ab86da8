"""The mean of pictures that lie at different places."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from .kernel import Few, kernel, sample
from .raster import Raster

# So many rows are summed at a time: the sums then stay near the processor.
_STRIP = 64


@kernel()
def _add(total: np.ndarray, pixels: np.ndarray, left: int, top: int) -> None:
    row = pixels.shape[1] * 4
    for y in range(pixels.shape[0]):
        into, other = total[top + y, left * 4 : left * 4 + row], pixels[y].reshape(row)
        for i in range(row):
            into[i] += np.uint16(other[i])


@kernel()
def _divide(total: np.ndarray, weight: int, out: np.ndarray) -> None:
    scale, half = np.uint32(65536 // weight + 1), np.uint32(weight // 2)
    for y in range(out.shape[0]):
        row, into = total[y], out[y].reshape(out.shape[1] * 4)
        for i in range(len(row)):
            into[i] = ((np.uint32(row[i]) + half) * scale) >> np.uint32(16)


def mean(rasters: Sequence[Raster], region: tuple[int, int, int, int], count: int) -> np.ndarray:
    """The sum over ``count`` of rasters that lie within a region (left, top, right, bottom), which
    is nothing where they are not: pixels (h, w, 4). ``count`` is at most 128."""
    left, top, right, bottom = region
    width, height = right - left, bottom - top
    out = np.empty((height, width, 4), np.uint8)
    total = np.empty((min(_STRIP, height), width * 4), np.uint16)
    for first in range(0, height, _STRIP):
        last = min(height, first + _STRIP)
        total[:] = 0
        for raster in rasters:
            down = raster.top - top
            begin, end = max(first, down), min(last, down + raster.height)
            if begin < end:
                part = raster.pixels[begin - down : end - down]
                _add(total, part, raster.left - left, begin - first)
        _divide(total[: last - first], count, out[first:last])
    return out


def mean_of_rows(
    pictures: Sequence[Callable[[int, int], np.ndarray]], width: int, height: int
) -> np.ndarray:
    """The mean (h, w, 4) of pictures, at most 128, each of which gives its rows from one to before
    another, (rows, w, 4)."""
    out = np.empty((height, width, 4), np.uint8)
    total = np.empty((min(_STRIP, height), width * 4), np.uint16)
    for first in range(0, height, _STRIP):
        last = min(height, first + _STRIP)
        total[:] = 0
        for rows in pictures:
            _add(total, rows(first, last), 0, 0)
        _divide(total[: last - first], len(pictures), out[first:last])
    return out


@sample
def _sample(few: Few) -> None:
    mean([Raster(few.pixels)], (0, 0, 4, 4), 1)
