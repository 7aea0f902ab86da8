"""Motion blur: the picture of a layer that moves while the shutter is open."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from ..effects import cut, grown, laid_in
from ..effects.base import Region, join, region_of
from ..geometry.affine import Affine
from ..pixels.blur import directional
from ..pixels.mean import mean
from ..pixels.raster import Raster, empty
from .resolved import ResolvedLayer

if TYPE_CHECKING:
    from .sheets import LayerPictures

# States whose steps differ by less than this, output px, count as being on one way.
_SAME_STEP = 1.0


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
    steps = [_step(pictures, states, index) for index in range(len(states))]
    step = (sum(x for x, _ in steps) / len(steps), sum(y for _, y in steps) / len(steps))
    if all(math.dist(step, each) < _SAME_STEP for each in steps):
        # One way for all: their mean is smeared once.
        wide = grown(pictures.region, math.hypot(*step) / 2 + 1)
        whole = _mean([_state(pictures, state, scale, wide) for state in states], wide)
        return _along(pictures, whole, step)
    smeared = []
    for state, each in zip(states, steps, strict=True):
        wide = grown(pictures.region, math.hypot(*each) / 2 + 1)
        smeared.append(_along(pictures, _state(pictures, state, scale, wide), each))
    return _mean(smeared, pictures.region)


def _mean(rasters: list[Raster], place: Region) -> Raster:
    """The mean of rasters over all that they cover; nothing at a place where that is nothing."""
    region: Region = (0, 0, 0, 0)
    for raster in rasters:
        region = join(region, region_of(raster)) if not raster.is_empty else region
    if region[2] <= region[0] or region[3] <= region[1]:
        return Raster(empty(0, 0), place[0], place[1])
    shown = [raster for raster in rasters if not raster.is_empty]
    return Raster(mean(shown, region, len(rasters)), region[0], region[1])


def _step(
    pictures: LayerPictures, states: tuple[ResolvedLayer, ...], index: int
) -> tuple[float, float]:
    """How far a state is from the next, in output pixels."""
    first, last = max(0, index - 1), min(len(states) - 1, index + 1)
    a, b = states[first].matrix, states[last].matrix
    share = pictures.unit / max(1, last - first)
    return ((b.e - a.e) * share, (b.f - a.f) * share)


def _state(pictures: LayerPictures, state: ResolvedLayer, scale: float, region: Region) -> Raster:
    return pictures.placed(state, scale, region) if scale else pictures.still(state, region)


def _along(pictures: LayerPictures, raster: Raster, way: tuple[float, float]) -> Raster:
    """A raster smeared along a way; one too short to be seen leaves it as it is."""
    length = math.hypot(*way)
    if length < 1.5:
        return cut(raster, pictures.region)
    return _line(pictures, raster, length, math.degrees(math.atan2(way[1], way[0])))


def _line(pictures: LayerPictures, raster: Raster, length: float, angle: float) -> Raster:
    if raster.is_empty:
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
