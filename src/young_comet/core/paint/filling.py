"""Fills that are pictures: files, frames of footage, or other layers, laid into outlines."""

from __future__ import annotations

import math

import numpy as np

from ..effects.base import Region
from ..frame.surface import PictureFill
from ..geometry.affine import Affine, Box
from ..pixels.raster import empty
from ..pixels.whole import looked_up_again_and_again
from .studio import Studio

_MAX_TILE = 4096


def filling(
    fill: PictureFill, studio: Studio, matrix: Affine, filled: Box, region: Region
) -> np.ndarray:
    """The picture over a region of the output, (h, w, 4); ``matrix`` maps the layer's space to the
    output, ``filled`` is the box in it that is filled."""
    there = matrix @ fill.matrix(filled)
    width, height = region[2] - region[0], region[3] - region[1]
    if width <= 0 or height <= 0 or abs(there.determinant) < 1e-12:
        return empty(max(0, width), max(0, height))
    if fill.fit in ("fill", "stretch") and fill.into is None:
        # Its own soft edge lies outside the outline's.
        left, top, right, bottom = fill.box
        middle = ((left + right) / 2, (top + bottom) / 2)
        grow = 2.0 / max(1e-6, there.mean_scale)
        wider = Affine.scaling(
            1 + grow / max(1e-6, right - left), 1 + grow / max(1e-6, bottom - top)
        )
        there = there @ Affine.shift(*middle) @ wider @ Affine.shift(-middle[0], -middle[1])
    if fill.tiled:
        return _tiled(fill, studio, there, region)
    return _drawn(fill, studio, there, region)


def _drawn(fill: PictureFill, studio: Studio, there: Affine, region: Region) -> np.ndarray:
    """The picture once, its own space mapped by ``there``."""
    if fill.content is not None:
        return studio.content(fill.content, there, region)
    nothing = empty(region[2] - region[0], region[3] - region[1])
    if fill.layer is None:
        return nothing
    try:
        view = there @ fill.layer.matrix.inverse()
    except ValueError:
        return nothing
    return studio.layer(fill.layer, fill.frame, view, region)


def _tiled(fill: PictureFill, studio: Studio, there: Affine, region: Region) -> np.ndarray:
    """The picture again and again, one beside the other."""
    left, top, right, bottom = fill.box
    scale = there.max_scale
    width, height = (
        min(_MAX_TILE, max(1, math.ceil(side * scale))) for side in (right - left, bottom - top)
    )
    fit = Affine.scaling(width / max(1e-6, right - left), height / max(1e-6, bottom - top))
    tile = _drawn(fill, studio, fit @ Affine.shift(-left, -top), (0, 0, width, height))
    back = fit @ Affine.shift(-left, -top) @ there.inverse() @ Affine.shift(region[0], region[1])
    # Centres of pixels lie half a pixel in.
    back = Affine.shift(-0.5, -0.5) @ back @ Affine.shift(0.5, 0.5)
    xs = np.arange(region[2] - region[0], dtype=np.float64)[None, :]
    ys = np.arange(region[3] - region[1], dtype=np.float64)[:, None]
    x = np.mod(back.a * xs + back.c * ys + back.e, width).astype(np.float32)
    y = np.mod(back.b * xs + back.d * ys + back.f, height).astype(np.float32)
    return looked_up_again_and_again(tile, x, y)
