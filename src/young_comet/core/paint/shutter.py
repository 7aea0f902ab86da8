"""Motion blur: the picture of a layer that moves while the shutter is open."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Protocol

import numpy as np

from ..effects import cut, grown, laid_in
from ..effects.base import Region, join, meet, region_of
from ..frame.contents import Texts
from ..frame.pieces import bent
from ..frame.resolved import ResolvedLayer
from ..frame.slices import Slices
from ..geometry.affine import Affine
from ..pixels.blur import directional
from ..pixels.flow import grid_of, smeared
from ..pixels.mean import mean
from ..pixels.raster import Raster, empty
from ..pixels.whole import mixed
from .flowing import Stretch, stretches


class Moments(Protocol):
    """Who draws a layer at one moment."""

    view: Affine
    region: Region
    unit: float
    open_pieces: tuple[Slices, Slices] | None
    """First and last state of the pieces that are being smeared."""

    @property
    def library(self) -> Texts:
        """Must. Who sets texts."""
        ...

    def still(self, layer: ResolvedLayer, region: Region) -> Raster:
        """Must. A state as it is seen, within a region."""
        ...

    def placed(self, layer: ResolvedLayer, scale: float, region: Region) -> Raster:
        """Must. A state's sheet of a scale, warped to where it is."""
        ...

    def sheet_scale(self, layer: ResolvedLayer) -> float:
        """Must. The scale of a state's sheet, working pixels to one of the layer."""
        ...


def in_motion(pictures: Moments, layer: ResolvedLayer) -> Raster:
    """The mean of a moving layer's states, each place smeared over its way to the next."""
    states = layer.shutter
    first = states[0]
    alike = all(s.sheet_signature == first.sheet_signature for s in states)
    flat = all(s.lens is None and _linear(s) == _linear(first) for s in states)
    if flat and (alike or _only_pieces(states)):
        straight = _shifted(pictures, states)
        if straight is not None:
            return straight
    # A sheet that stays as it is is made once, at the scale of the nearest state; outlines that
    # need none are drawn anew each time.
    drawn = flat_outlines(first) and all(s.lens is None for s in states)
    scale = max(pictures.sheet_scale(s) for s in states) if alike and not drawn else 0.0
    box = first.content.box(pictures.library)
    parts = []
    for part in stretches(states, pictures.view, box):
        wide = grown(pictures.region, part.longest / 2 + 2)
        sharp = [_state(pictures, s, scale, wide) for s in states[part.first : part.after]]
        parts.append((_flowed(_mean(sharp, wide), part, pictures.region), part.after - part.first))
    return _weighted(parts, pictures.region)


def _weighted(parts: list[tuple[Raster, int]], place: Region) -> Raster:
    """The mean of rasters, each of which counts so many times."""
    if len(parts) == 1:
        return parts[0][0]
    region: Region = (0, 0, 0, 0)
    for raster, _ in parts:
        region = join(region, region_of(raster)) if not raster.is_empty else region
    if region[2] <= region[0] or region[3] <= region[1]:
        return Raster(empty(0, 0), place[0], place[1])
    whole, so_far = laid_in(parts[0][0], region), parts[0][1]
    for raster, count in parts[1:]:
        so_far += count
        share = count / so_far
        whole = mixed(whole, laid_in(raster, region), share)
    return Raster(whole, region[0], region[1])


def flat_outlines(layer: ResolvedLayer) -> bool:
    """Whether a layer is drawn from outlines, without masks, effects or pieces."""
    if layer.masks or layer.effects or layer.slices:
        return False
    return layer.content.outlined


def _flowed(raster: Raster, part: Stretch, region: Region) -> Raster:
    """A raster each place of which is smeared over its own way; cut to a region."""
    if raster.is_empty or part.longest < 2:
        return cut(raster, region)
    around = meet(grown(region_of(raster), part.longest / 2 + 1), region)
    if around[2] <= around[0] or around[3] <= around[1]:
        return Raster(empty(0, 0), region[0], region[1])
    return smeared(raster, part.ways(*grid_of(around)), around)


def _mean(rasters: list[Raster], place: Region) -> Raster:
    """The mean of rasters over all that they cover; nothing at a place where that is nothing."""
    region: Region = (0, 0, 0, 0)
    for raster in rasters:
        region = join(region, region_of(raster)) if not raster.is_empty else region
    if region[2] <= region[0] or region[3] <= region[1]:
        return Raster(empty(0, 0), place[0], place[1])
    shown = [raster for raster in rasters if not raster.is_empty]
    return Raster(mean(shown, region, len(rasters)), region[0], region[1])


def _state(pictures: Moments, state: ResolvedLayer, scale: float, region: Region) -> Raster:
    return pictures.placed(state, scale, region) if scale else pictures.still(state, region)


def _line(pictures: Moments, raster: Raster, length: float, angle: float) -> Raster:
    if raster.is_empty:
        return raster
    around = grown(region_of(raster), length / 2 + 1)
    pixels = directional(laid_in(raster, around), length, angle)
    return cut(Raster(pixels, around[0], around[1]), pictures.region)


def _shifted(pictures: Moments, states: tuple[ResolvedLayer, ...]) -> Raster | None:
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
    opened, closed = states[0].slices, states[-1].slices
    if opened != closed and opened and closed:
        if bent(opened, closed, states[0].content.box(pictures.library)) > 2:
            return None
        pictures.open_pieces = (opened, closed)
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
