"""What a layer's masks let through."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ..effects.base import Region
from ..frame.resolved import ResolvedLayer, ResolvedMask
from ..geometry.affine import Affine
from ..geometry.outline import Outline, from_svg_path, skia_matrix
from ..geometry.projective import Projective
from ..pixels import coverage as covers
from ..plan.masks import JOIN_PX, mask_place


def mask_coverage(layer: ResolvedLayer, working: Affine, region: Region) -> np.ndarray:
    """What a layer's masks let through over a region of working pixels; the mean of that while the
    shutter is open.

    The first mask acts on an empty sheet where it adds, on a full one where it takes away.
    """
    moments = layer.mask_moments or (layer.masks,)
    covers_of = (_at_once(masks, layer, working, region) for masks in moments)
    return covers.mean(covers_of) if len(moments) > 1 else next(covers_of)


def _at_once(
    masks: Sequence[ResolvedMask], layer: ResolvedLayer, working: Affine, region: Region
) -> np.ndarray:
    result: np.ndarray | None = None
    for mask in masks:
        own = _one_mask(mask, layer, working, region)
        if result is None:
            result = 255 - own if mask.mode == "minus" else own
        else:
            result = covers.joined(result, own, mask.mode)
    assert result is not None
    return result


def _one_mask(
    mask: ResolvedMask, layer: ResolvedLayer, working: Affine, region: Region
) -> np.ndarray:
    try:
        matrix = mask_place(mask, layer, working)
    except ValueError:
        return np.zeros((region[3] - region[1], region[2] - region[0]), np.uint8)
    outline = None if mask.half_plane else from_svg_path(mask.path)
    # In perspective a line stays a line; edges are as soft as they are at the mask's middle.
    near = matrix if isinstance(matrix, Affine) else _near(matrix, outline)
    scale = near.mean_scale
    if outline is None:
        coverage = _half_plane(mask, near, scale, region)
    else:
        feather = (mask.feather[0] * scale, mask.feather[1] * scale)
        path, there = outline.skia_path, skia_matrix(matrix)
        grow = mask.grow
        if mask.joins and scale > 0:
            grow = max(grow, JOIN_PX / scale)
        coverage = covers.feathered(path, there, region, grow, feather)
    if mask.inverted:
        coverage = 255 - coverage
    return covers.scaled(coverage, mask.opacity)


def _near(matrix: Projective, outline: Outline | None) -> Affine:
    """A map as it is near a mask's middle."""
    left, top, right, bottom = outline.bounds if outline else (0.0, 0.0, 0.0, 0.0)
    middle = ((left + right) / 2, (top + bottom) / 2)
    return matrix.near(middle)


def _half_plane(mask: ResolvedMask, matrix: Affine, scale: float, region: Region) -> np.ndarray:
    """The kept side lies towards the mask's own x axis."""
    nx, ny = matrix.d, -matrix.c  # the normal of the image of the y axis
    if matrix.determinant < 0:
        nx, ny = -nx, -ny
    size = math.hypot(nx, ny)
    if size < 1e-9:
        return np.zeros((region[3] - region[1], region[2] - region[0]), np.uint8)
    nx, ny = nx / size, ny / size
    x, y = matrix.e - nx * mask.grow * scale, matrix.f - ny * mask.grow * scale
    soft = math.hypot(nx * mask.feather[0], ny * mask.feather[1]) * scale / 2
    return covers.half_plane((x, y), (nx, ny), region, soft)
