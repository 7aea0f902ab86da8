"""Motion blur: the picture of a layer that moves while the shutter is open."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Protocol

import numpy as np

from ..effects import cut, grown, laid_in
from ..effects.base import Region, join, meet, region_of, size_of
from ..frame.contents import Texts
from ..frame.pieces import straight
from ..frame.resolved import ResolvedLayer
from ..geometry.affine import Affine, Box, Point
from ..pixels.blur import directional
from ..pixels.flow import grid_of, smeared
from ..pixels.mean import mean
from ..pixels.raster import Raster, empty
from ..pixels.whole import mixed
from ..transitions import STEPS
from .flowing import Stretch, stretches
from .slicing import Opened

# Ways shorter than this are taken to parts of a pixel, px, in pictures of so many pixels at most.
_SHORT, _MOST_FINELY = 6.0, 1_000_000
# What goes less far than this while the shutter is open does not move, px; and what stays, to the
# eye of anybody who measures.
_LITTLE, _STILL = 0.7, 0.05
# Layers so many times as large one way as the other are squeezed.
_SQUEEZED = 8.0


class Moments(Protocol):
    """Who draws a layer at one moment."""

    view: Affine
    region: Region
    unit: float
    open_pieces: Opened | None
    """The pieces that are being smeared."""
    passing: bool
    """Whether what is drawn is one of many states that are mixed."""

    @property
    def library(self) -> Texts:
        """Must. Who sets texts."""
        ...

    def still(self, layer: ResolvedLayer, region: Region) -> Raster:
        """Must. A state as it is seen, within a region."""
        ...

    def placed(
        self, layer: ResolvedLayer, scale: float, region: Region, area: Region | None = None
    ) -> Raster:
        """Must. A state's sheet of a scale, warped to where it is; made over an area where one is
        given."""
        ...

    def shared_area(
        self, states: Sequence[ResolvedLayer], scale: float, region: Region
    ) -> Region | None:
        """Must. Over which area a sheet is made once for all states; None where that would be more
        work than once for each."""
        ...

    def sheet_scale(self, layer: ResolvedLayer) -> float:
        """Must. The scale of a state's sheet, working pixels to one of the layer."""
        ...


def in_motion(pictures: Moments, layer: ResolvedLayer) -> Raster:
    """The mean of a moving layer's states, each place smeared over its way to the next."""
    states, region = layer.shutter, pictures.region
    first = states[0]
    if _only_masks(states):
        masks = tuple(state.masks for state in states)
        pictures.passing = False
        return pictures.still(replace(first, mask_moments=masks), region)
    alike = all(s.sheet_signature == first.sheet_signature for s in states)
    box = first.content.box(pictures.library)
    # Pieces may turn with their layer as little as nobody sees beside their own ways.
    most = _STILL if alike else _LITTLE
    flat = all(s.lens is None for s in states) and _turned(states, box) * pictures.unit <= most
    if flat and (alike or _only_pieces(states)):
        shots = _shots(pictures, states, box)
        if shots:
            return _weighted([(_shifted(pictures, shot), len(shot)) for shot in shots], region)
    # A sheet that stays as it is is made once, at the scale of the nearest state; outlines that
    # need none are drawn anew each time.
    drawn = flat_outlines(first) and all(s.lens is None for s in states)
    scale = max(pictures.sheet_scale(s) for s in states) if alike and not drawn else 0.0
    parts, found = [], stretches(states, pictures.view, box)
    wide = grown(pictures.region, max(part.longest for part in found) / 2 + 2)
    area = pictures.shared_area(states, scale, wide) if scale else None
    for part in found:
        sharp = _sharp(pictures, states[part.first : part.after], scale, wide, area)
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


def _sharp(
    pictures: Moments,
    states: Sequence[ResolvedLayer],
    scale: float,
    region: Region,
    area: Region | None,
) -> list[Raster]:
    """States as they are seen; sheets of a scale, warped, where one is given, made over an area."""
    if not scale:
        return [pictures.still(state, region) for state in states]
    return [pictures.placed(state, scale, region, area) for state in states]


def _line(pictures: Moments, raster: Raster, way: tuple[float, float]) -> Raster:
    """A raster smeared along a way. Short ones are taken to parts of a pixel: copies moved by whole
    ones would be seen to step."""
    if raster.is_empty:
        return raster
    length = math.hypot(*way)
    around = grown(region_of(raster), length / 2 + 1)
    if length < _SHORT and size_of(around) < _MOST_FINELY:
        return smeared(raster, np.broadcast_to(way, _grid_size(around)), around)
    pixels = directional(laid_in(raster, around), length, math.degrees(math.atan2(way[1], way[0])))
    return cut(Raster(pixels, around[0], around[1]), pictures.region)


def _grid_size(region: Region) -> tuple[int, int, int]:
    x, y = grid_of(region)
    return (y.shape[0], x.shape[1], 2)


# Into how many parts the time that the shutter is open is parted where pieces go crooked ways.
_PARTINGS = (1, 2, 3, 4, 6, 8)


def _shots(
    pictures: Moments, states: Sequence[ResolvedLayer], box: Box
) -> list[Sequence[ResolvedLayer]]:
    """The states of a layer that only shifts, parted so that in each part it goes a nearly straight
    way at a nearly even speed, and so do its pieces; none where that takes too many."""
    pieces = states[0].slices != states[-1].slices
    for count in _PARTINGS if pieces else (1,):
        if count > 1 and 3 * count > len(states):
            break
        ends = np.linspace(0, len(states), count + 1).round().astype(int).tolist()
        shots = [states[a:b] for a, b in pairwise(ends)]
        if all(_goes_straight(pictures, shot, box) for shot in shots):
            return shots
    return []


def _goes_straight(pictures: Moments, states: Sequence[ResolvedLayer], box: Box) -> bool:
    points = _points(pictures, states)
    even = points[0] + (points[-1] - points[0]) * np.linspace(0, 1, len(points))[:, None]
    if float(np.abs(points - even).max()) > 0.75:
        return False
    first = states[0]
    slices = [each.slices for each in states if each.slices is not None]
    if not slices or slices[0] == slices[-1]:
        return True
    m = first.matrix
    if m.max_scale**2 > _SQUEEZED * abs(m.determinant):
        return False  # in the space of what is so thin the way of the layer is very long
    if math.dist(points[0], points[-1]) > _LITTLE and (first.masks or first.effects):
        return False  # those go with the layer, not with its pieces
    return straight(slices, box, m.max_scale * pictures.unit)


def _points(pictures: Moments, states: Sequence[ResolvedLayer]) -> np.ndarray:
    return np.array([(s.matrix.e, s.matrix.f) for s in states]) * pictures.unit


def _shifted(pictures: Moments, states: Sequence[ResolvedLayer]) -> Raster:
    """A layer that only shifts along a nearly straight way at a nearly even speed: one picture,
    smeared. Pieces on their way are smeared one by one."""
    points = _points(pictures, states)
    # The states stand in the middles of their steps.
    whole = (points[-1] - points[0]) * len(points) / max(1, len(points) - 1)
    length = float(np.hypot(*whole))
    middle = (points[0] + points[-1]) / 2 / pictures.unit
    a, b = states[0].matrix, states[-1].matrix
    turned = [(p + q) / 2 for p, q in zip(a.as_tuple()[:4], b.as_tuple()[:4], strict=True)]
    m = Affine(turned[0], turned[1], turned[2], turned[3], float(middle[0]), float(middle[1]))
    state = replace(states[len(states) // 2], matrix=m)
    opened, closed = states[0].slices, states[-1].slices
    if opened != closed and opened and closed:
        # They go with the layer and by themselves at once.
        along = _in_the_layer(m, whole / pictures.unit)
        pictures.open_pieces = Opened(opened, closed, len(states), along)
        try:
            return pictures.still(state, pictures.region)
        finally:
            pictures.open_pieces = None
    if length < 0.5:
        return pictures.still(state, pictures.region)
    raster = pictures.still(state, grown(pictures.region, length / 2 + 1))
    return _line(pictures, raster, (float(whole[0]), float(whole[1])))


def _in_the_layer(matrix: Affine, way: np.ndarray) -> Point:
    """A way in the scene as one in a layer's space; none where that has no size."""
    m = matrix
    try:
        back = Affine(m.a, m.b, m.c, m.d, 0.0, 0.0).inverse()
    except ValueError:
        return (0.0, 0.0)
    return back((float(way[0]), float(way[1])))


def _only_pieces(states: tuple[ResolvedLayer, ...]) -> bool:
    """Whether states differ in nothing but their place and how far their pieces are."""
    first = replace(states[0], slices=None).sheet_signature
    cut_all = all(s.slices is not None for s in states)
    return cut_all and all(replace(s, slices=None).sheet_signature == first for s in states)


def _only_masks(states: Sequence[ResolvedLayer]) -> bool:
    """Whether states differ in nothing but their masks, and all that is done after those is the
    same for their mean as the mean of it."""
    first = states[0]
    if not all(state.masks for state in states):
        return False
    if not all(STEPS[each.kind].spatial for each in first.effects):
        return False
    bare = replace(first, masks=())
    return all(replace(state, masks=()) == bare for state in states)


def _turned(states: Sequence[ResolvedLayer], box: Box) -> float:
    """How far a corner of a layer's box is moved by how it turns, grows or leans, px, at most."""
    first = states[0].matrix
    corners = [(x, y) for x in (box[0], box[2]) for y in (box[1], box[3])]
    far = 0.0
    for m in (state.matrix for state in states[1:]):
        by = Affine(m.a - first.a, m.b - first.b, m.c - first.c, m.d - first.d, 0.0, 0.0)
        far = max(far, *(math.hypot(*by(corner)) for corner in corners))
    return far
