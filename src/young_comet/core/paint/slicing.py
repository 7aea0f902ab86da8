"""A layer's picture cut into pieces, each where it is."""

from __future__ import annotations

import math

import numpy as np

from ..effects import cut, grown, laid_in
from ..effects.base import Region, join, meet, region_of
from ..frame.pieces import PieceState, piece_states
from ..frame.slices import Slices
from ..frame.units import is_seen
from ..geometry.affine import Affine, Box
from ..geometry.outline import skia_matrix
from ..geometry.projective import Projective
from ..pixels import coverage as covers
from ..pixels.blend import blend, scale_by
from ..pixels.blur import directional
from ..pixels.raster import Raster, empty
from ..plan.regions import outset
from .placing import in_perspective, tight, warped


def sliced(
    raster: Raster,
    slices: Slices,
    box: Box,
    opened: tuple[Slices, Slices] | None,
    working: Affine,
    area: Region,
) -> Raster:
    """The pieces of a raster where they are, the nearest to the eye on top; ``box`` is what is cut,
    ``opened`` their first and last state where they are smeared. Those at rest are taken as one
    area, so that no seam shows between them."""
    result = empty(max(0, area[2] - area[0]), max(0, area[3] - area[1]))
    if result.size == 0 or raster.is_empty:
        return Raster(result, area[0], area[1])
    states = piece_states(slices, box)
    opened = opened or (slices, slices)
    ways = [
        (a.matrix(a.piece.middle), b.matrix(b.piece.middle))
        for a, b in zip(*(piece_states(s, box) for s in opened), strict=True)
    ]
    # Pieces that are moved alike are laid as one, so that no seam shows between them.
    alike: dict[tuple[float, ...], list[PieceState]] = {}
    places: dict[tuple[float, ...], tuple[Affine | Projective, tuple[float, float], float]] = {}
    for state, (start, end) in zip(states, ways, strict=True):
        way = (end[0] - start[0], end[1] - start[1])
        far = math.dist(start, end) * working.a
        rests = far < 0.5 and _rests(state, box, working.a)
        if state.opacity <= 0 or not is_seen(state.matrix):
            continue
        place = Affine() if rests else state.matrix
        smear = (0.0, 0.0) if rests else way
        numbers = place.as_tuple() if isinstance(place, Affine) else place.m
        # The lower row of a map in perspective is small.
        key = tuple(round(v, 6 if k != 6 and k != 7 else 12) for k, v in enumerate(numbers))
        key = (*key, *(round(v, 6) for v in smear))
        alike.setdefault(key, []).append(state)
        places[key] = (place, smear, 0.0 if rests else far)
    # Those at rest lie below the others in the plane.
    still = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0)
    for key in sorted(alike, key=lambda key: (round(alike[key][0].near, 3), key != still)):
        _lay_pieces(result, area, raster, alike[key], *places[key], working)
    return tight(Raster(result, area[0], area[1]))


def _lay_pieces(
    result: np.ndarray,
    area: Region,
    raster: Raster,
    states: list[PieceState],
    place: Affine | Projective,
    way: tuple[float, float],
    far: float,
    working: Affine,
) -> None:
    """Lays pieces that are moved alike onto a result that covers an area, smeared along their
    way."""
    part: Region = (0, 0, 0, 0)
    for state in states:
        bounds = meet(outset(working.box(state.piece.outline.bounds), 1), region_of(raster))
        part = join(part, bounds)
    piece = cut(raster, part)
    if piece.is_empty:
        return
    part = region_of(piece)
    pixels = piece.pixels.copy()
    scale_by(pixels, _cover(states, part, working))
    small = tight(Raster(pixels, piece.left, piece.top))
    if place == Affine() and far < 0.5:
        there = small
    else:
        wide = grown(area, far / 2 + 1)
        there = _placed(small, place, working, wide)
    if not there.is_empty and far >= 1:
        around = grown(region_of(there), far / 2 + 1)
        turned = math.degrees(math.atan2(way[1], way[0]))
        there = Raster(directional(laid_in(there, around), far, turned), around[0], around[1])
    there = cut(there, area)
    if not there.is_empty:
        y, x = there.top - area[1], there.left - area[0]
        blend(result[y : y + there.height, x : x + there.width], there.pixels)


def _placed(raster: Raster, place: Affine | Projective, working: Affine, wide: Region) -> Raster:
    if isinstance(place, Affine):
        return warped(raster, working @ place @ working.inverse(), wide)
    there = Projective.of(working) @ place @ Projective.of(working.inverse())
    return in_perspective(raster, there, wide)


def _cover(states: list[PieceState], region: Region, working: Affine) -> np.ndarray:
    """How much of each pixel of a region some pieces cover, each with its opacity, (h, w) uint8.
    They share the pixels where they meet; what rounding takes there is given back."""
    matrix = skia_matrix(working)
    shape = (region[3] - region[1], region[2] - region[0])
    if len(states) == 1:
        cover = covers.covered(states[0].piece.outline.skia_path, matrix, region)
        return covers.scaled(cover, states[0].opacity)
    whole, shown = np.zeros(shape, np.float32), np.zeros(shape, np.float32)
    for state in states:
        cover = covers.covered(state.piece.outline.skia_path, matrix, region)
        whole += cover
        shown += cover * np.float32(state.opacity)
    full = np.where(whole >= 240, shown * (np.float32(255) / np.maximum(whole, 1)), shown)
    return np.rint(np.minimum(full, 255)).astype(np.uint8)


def _rests(state: PieceState, box: Box, scale: float) -> bool:
    """Whether a piece is so near to its place that nothing of it would be seen to move."""
    if state.at_rest:
        return True
    left, top, right, bottom = box
    corners = ((left, top), (right, top), (right, bottom), (left, bottom))
    return all(math.dist(state.matrix(p), p) * scale < 0.05 for p in corners)
