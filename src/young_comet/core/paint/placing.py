"""Rasters put where they are seen: warped, in perspective, cut tight."""

from __future__ import annotations

import numpy as np

from ..effects.base import Region, meet, region_of
from ..geometry.affine import Affine
from ..geometry.projective import Projective
from ..pixels.hull import bounds
from ..pixels.raster import Raster, empty
from ..pixels.resample import MipPyramid
from ..pixels.whole import averaged, projected, rimmed
from ..plan.regions import outset


def tight(raster: Raster) -> Raster:
    """A raster without the empty rows and columns about it."""
    x0, y0, x1, y1 = bounds(raster.pixels)
    if x1 <= x0:
        return Raster(empty(0, 0), raster.left, raster.top)
    part = np.ascontiguousarray(raster.pixels[y0:y1, x0:x1])
    return Raster(part, raster.left + x0, raster.top + y0)


def warped(
    raster: Raster,
    matrix: Affine,
    region: Region,
    mips: MipPyramid | None = None,
    soft: bool = False,
) -> Raster:
    """A raster under an affine map of its frame, within a region; ``mips`` are those of its
    pixels where they are there already. ``soft`` where it need not stay sharp between pixels."""
    if raster.is_empty:
        return Raster(empty(0, 0), region[0], region[1])
    placed = matrix @ Affine.shift(raster.left, raster.top)
    mips = mips or MipPyramid(raster.pixels)
    found = mips.draw(placed.as_tuple(), region, quick=True, soft=soft)
    return found or Raster(empty(0, 0), region[0], region[1])


def in_perspective(raster: Raster, there: Projective, region: Region) -> Raster:
    """A raster seen in perspective, within a region. Where it is shrunk a lot it is computed
    twice as large and averaged, so that its edges stay smooth."""
    left, top, right, bottom = region_of(raster)
    box = (float(left), float(top), float(right), float(bottom))
    outer = region
    if raster.is_empty:
        return Raster(empty(0, 0), region[0], region[1])
    least = 1.0
    if there.in_front(box):
        xs, ys = zip(*there.corners(box), strict=True)
        outer = meet(outset((min(xs), min(ys), max(xs), max(ys)), 1), region)
        least = min(
            there.scales(p)[1] for p in ((left, top), (right, top), (right, bottom), (left, bottom))
        )
    width, height = outer[2] - outer[0], outer[3] - outer[1]
    if width <= 0 or height <= 0:
        return Raster(empty(0, 0), region[0], region[1])
    factor = 1 if least > 0.5 else 2 if least > 0.2 else 3
    source = rimmed(raster.pixels)
    pre = np.array([[1, 0, left - 1 + 0.5], [0, 1, top - 1 + 0.5], [0, 0, 1]], np.float64)
    post = np.array(
        [
            [factor, 0, -outer[0] * factor - 0.5],
            [0, factor, -outer[1] * factor - 0.5],
            [0, 0, 1],
        ],
        np.float64,
    )
    matrix = post @ there.array @ pre
    size = (width * factor, height * factor)
    back = np.linalg.inv(matrix)
    pixels = projected(source, back, size)
    if not there.in_front(box):
        # What lies behind the eye would come through upside down.
        x = (np.arange(size[0]))[None, :]
        y = (np.arange(size[1]))[:, None]
        w = back[2, 0] * x + back[2, 1] * y + back[2, 2]
        middle = back @ np.array([size[0] / 2, size[1] / 2, 1.0])
        pixels[(w * np.sign(middle[2] or 1.0)) <= 0] = 0
    if factor > 1:
        pixels = averaged(pixels, (width, height))
    return Raster(np.ascontiguousarray(pixels), outer[0], outer[1])
