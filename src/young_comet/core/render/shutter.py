"""Motion blur: the picture of a layer that moves while the shutter is open."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from ..effects import cut, grown, laid_in
from ..effects.base import Region, join, region_of
from ..geometry.affine import Affine
from ..pixels.blend import Mean
from ..pixels.blur import directional
from ..pixels.raster import Raster, empty
from .resolved import ResolvedLayer

if TYPE_CHECKING:
    from .sheets import LayerPictures


def in_motion(pictures: LayerPictures, layer: ResolvedLayer) -> Raster:
    """The mean of a moving layer's states, each smeared over the step to the next."""
    states = layer.shutter
    first = states[0]
    alike = all(s.sheet_signature == first.sheet_signature for s in states)
    flat = all(s.lens is None and _linear(s) == _linear(first) for s in states)
    if flat and (alike or _only_pieces(states)):
        straight = _shifted(pictures, states)
        if straight is not None:
            return straight
    # A sheet that stays as it is is made once, at the scale of the nearest state.
    scale = max(pictures.sheet_scale(s) for s in states) if alike else 0.0
    rasters = [_smeared(pictures, states, index, scale) for index in range(len(states))]
    region: Region = (0, 0, 0, 0)
    for raster in rasters:
        region = join(region, region_of(raster)) if raster.pixels.size else region
    width, height = region[2] - region[0], region[3] - region[1]
    if width <= 0 or height <= 0:
        return Raster(empty(0, 0), pictures.region[0], pictures.region[1])
    mean = Mean(width, height)
    for raster in rasters:
        if raster.pixels.size:
            mean.add(raster.pixels, raster.left - region[0], raster.top - region[1])
    return Raster(mean.result(len(states)), region[0], region[1])


def _smeared(
    pictures: LayerPictures, states: tuple[ResolvedLayer, ...], index: int, scale: float
) -> Raster:
    state = states[index]
    before, after = states[max(0, index - 1)], states[min(len(states) - 1, index + 1)]
    steps = max(1, min(len(states) - 1, index + 1) - max(0, index - 1))
    dx = (after.matrix.e - before.matrix.e) * pictures.unit / steps
    dy = (after.matrix.f - before.matrix.f) * pictures.unit / steps
    length = math.hypot(dx, dy)
    region = pictures.region if length < 1.5 else grown(pictures.region, length / 2 + 1)
    raster = pictures.placed(state, scale, region) if scale else pictures.still(state, region)
    if length < 1.5:
        return raster
    return _line(pictures, raster, length, math.degrees(math.atan2(dy, dx)))


def _line(pictures: LayerPictures, raster: Raster, length: float, angle: float) -> Raster:
    if raster.pixels.size == 0:
        return raster
    around = grown(region_of(raster), length / 2 + 1)
    pixels = directional(laid_in(raster, around), length, angle)
    return cut(Raster(pixels, around[0], around[1]), pictures.region)


def _shifted(pictures: LayerPictures, states: tuple[ResolvedLayer, ...]) -> Raster | None:
    """A layer that only shifts along a nearly straight way at a nearly even speed: one
    picture, smeared. None where the way bends. Pieces on their way are smeared one by one."""
    points = np.array([(s.matrix.e, s.matrix.f) for s in states]) * pictures.unit
    step = (points[-1] - points[0]) / max(1, len(points) - 1)
    even = points[0] + step * np.arange(len(points))[:, None]
    if float(np.abs(points - even).max()) > 0.75:
        return None
    whole = step * len(points)  # the states stand in the middles of their steps
    length = float(np.hypot(*whole))
    middle = (points[0] + points[-1]) / 2 / pictures.unit
    state = states[len(states) // 2]
    m = state.matrix
    at = Affine(m.a, m.b, m.c, m.d, float(middle[0]), float(middle[1]))
    state = replace(state, matrix=at)
    if states[0].slices != states[-1].slices and states[0].slices and states[-1].slices:
        pictures.open_pieces = (states[0].slices, states[-1].slices)
    try:
        if length < 0.5:
            return pictures.still(state, pictures.region)
        raster = pictures.still(state, grown(pictures.region, length / 2 + 1))
    finally:
        pictures.open_pieces = None
    return _line(pictures, raster, length, math.degrees(math.atan2(whole[1], whole[0])))


def _only_pieces(states: tuple[ResolvedLayer, ...]) -> bool:
    """Whether states differ in nothing but their place and how far their pieces are."""
    first = replace(states[0], slices=None).sheet_signature
    cut_all = all(s.slices is not None for s in states)
    return cut_all and all(replace(s, slices=None).sheet_signature == first for s in states)


def _linear(layer: ResolvedLayer) -> tuple[float, ...]:
    return tuple(round(v, 9) for v in layer.matrix.as_tuple()[:4])
