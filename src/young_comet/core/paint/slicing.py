"""A layer's picture cut into pieces, each where it is."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import Any, NamedTuple, Protocol

import numpy as np

from ..effects import cut, grown, laid_in
from ..effects.base import Region, join, meet, region_of
from ..frame.pieces import PieceState, piece_states
from ..frame.slices import Slices
from ..frame.units import is_seen
from ..geometry.affine import Affine, Box, Point
from ..geometry.outline import skia_matrix
from ..geometry.projective import Projective
from ..pixels import coverage as covers
from ..pixels.blend import blend, lay_beside, scaled
from ..pixels.blur import directional
from ..pixels.raster import Raster, empty
from ..pixels.resample import MipPyramid
from ..plan.regions import outset
from .placing import in_perspective, tight, warped

# Where pieces are is told in blocks of so many pixels.
_BLOCK = 8
# Pieces cut out of a picture, and what they are drawn from when they are turned.
CutOut = tuple[Raster, MipPyramid]


class Opened(NamedTuple):
    """Pieces that are smeared: the first and the last of some moments, which stand in the middles
    of their steps, and how many those are; how far all of them go with their layer, px of it."""

    first: Slices
    last: Slices
    steps: int
    along: Point = (0.0, 0.0)

    def ways(self, box: Box) -> list[tuple[Point, Point]]:
        """Where the middle of each piece is halfway, and how far it goes."""
        found = []
        longer = self.steps / max(1, self.steps - 1)
        for a, b in zip(*(piece_states(s, box) for s in (self.first, self.last)), strict=True):
            (ax, ay), (bx, by) = a.matrix(a.piece.middle), b.matrix(b.piece.middle)
            way = ((bx - ax) * longer + self.along[0], (by - ay) * longer + self.along[1])
            found.append((((ax + bx) / 2, (ay + by) / 2), way))
        return found


class Knife(Protocol):
    """Who keeps the pieces that are cut out of a picture, while it is one of many states that are
    mixed."""

    passing: bool
    """Whether what is drawn is one of many states that are mixed."""

    def cut_out(self, key: tuple[Any, ...], make: Callable[[], CutOut]) -> CutOut:
        """Must. Those of a key: by which pieces of the picture, over which region."""
        ...


def sliced(
    raster: Raster,
    slices: Slices,
    box: Box,
    opened: Opened | None,
    working: Affine,
    area: Region,
    knife: Knife,
) -> Raster:
    """The pieces of a raster where they are, the nearest to the eye on top; ``box`` is what is cut,
    ``opened`` tells how they are smeared, if they are. Those at rest are taken as one
    area, so that no seam shows between them."""
    result = empty(max(0, area[2] - area[0]), max(0, area[3] - area[1]))
    if result.size == 0 or raster.is_empty:
        return Raster(result, area[0], area[1])
    states = piece_states(slices, box)
    ways = opened.ways(box) if opened else []
    # Pieces that are moved alike are laid as one, so that no seam shows between them.
    alike: dict[tuple[float, ...], list[int]] = {}
    places: dict[tuple[float, ...], tuple[Affine | Projective, tuple[float, float], float]] = {}
    for index, state in enumerate(states):
        if state.opacity <= 0 or not is_seen(state.matrix):
            continue
        matrix, way = state.matrix, (0.0, 0.0)
        if ways:
            halfway, way = ways[index]
            now = matrix(state.piece.middle)
            matrix = _then(matrix, Affine.shift(halfway[0] - now[0], halfway[1] - now[1]))
        far = math.hypot(*way) * working.a
        rests = far < 0.5 and _rests(state, box, working.a)
        place = Affine() if rests else matrix
        smear = (0.0, 0.0) if rests else way
        numbers = place.as_tuple() if isinstance(place, Affine) else place.m
        # The lower row of a map in perspective is small.
        key = tuple(round(v, 6 if k != 6 and k != 7 else 12) for k, v in enumerate(numbers))
        key = (*key, *(round(v, 6) for v in smear))
        alike.setdefault(key, []).append(index)
        places[key] = (place, smear, 0.0 if rests else far)
    taken = _Taken(area, working) if opened else None
    # Those at rest lie below the others in the plane.
    still = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0)
    for key in sorted(alike, key=lambda key: (round(states[alike[key][0]].near, 3), key != still)):
        which = {index: states[index] for index in alike[key]}
        beside = taken is not None and taken.has_room_for(which.values(), places[key][0])
        _lay_pieces(result, area, raster, which, *places[key], working, knife, beside)
    return tight(Raster(result, area[0], area[1]))


class _Taken:
    """Where pieces are, in blocks of pixels: which of them lie over others."""

    def __init__(self, area: Region, working: Affine) -> None:
        self._small = Affine.scaling(1 / _BLOCK, 1 / _BLOCK) @ working
        left, top, right, bottom = (each / _BLOCK for each in area)
        self._region = outset((left, top, right, bottom), 1)
        height, width = self._region[3] - self._region[1], self._region[2] - self._region[0]
        self._cover = np.zeros((height, width), np.uint16)

    def has_room_for(self, states: Iterable[PieceState], place: Affine | Projective) -> bool:
        """Whether pieces at a place lie over none that have been asked for before."""
        if isinstance(place, Affine):
            matrix = skia_matrix(self._small @ place)
        else:
            matrix = skia_matrix(Projective.of(self._small) @ place)
        before, own = self._cover, np.zeros_like(self._cover)
        for state in states:
            own += covers.covered(state.piece.form.skia_path, matrix, self._region)
        self._cover = np.minimum(before + np.minimum(own, 255), 255)
        over = np.minimum(own, 255).astype(np.int32) + before - 255
        return int(np.maximum(over, 0).sum()) < 255


def _then(matrix: Affine | Projective, shift: Affine) -> Affine | Projective:
    if isinstance(matrix, Affine):
        return shift @ matrix
    return Projective.of(shift) @ matrix


def _lay_pieces(
    result: np.ndarray,
    area: Region,
    raster: Raster,
    states: dict[int, PieceState],
    place: Affine | Projective,
    way: tuple[float, float],
    far: float,
    working: Affine,
    knife: Knife,
    beside: bool,
) -> None:
    """Lays pieces that are moved alike onto a result that covers an area, smeared along their
    way; ``beside`` tells that they lie over none of those that are there."""
    part: Region = (0, 0, 0, 0)
    for state in states.values():
        bounds = meet(outset(working.box(state.piece.outline.bounds), 1), region_of(raster))
        part = join(part, bounds)

    # Where all are as faint as each other they are cut out whole and laid so faintly.
    faint = {round(state.opacity, 6) for state in states.values()}
    opacity = max(1e-6, faint.pop()) if len(faint) == 1 else 1.0

    def cut_out() -> CutOut:
        piece = cut(raster, part)
        if not piece.is_empty:
            shares = [state.opacity / opacity for state in states.values()]
            cover = _cover(list(states.values()), shares, region_of(piece), working)
            piece = tight(Raster(scaled(piece.pixels, cover), piece.left, piece.top))
        return piece, MipPyramid(piece.pixels)

    which = tuple((index, round(each.opacity / opacity, 4)) for index, each in states.items())
    small, mips = knife.cut_out((which, part), cut_out)
    if small.is_empty:
        return
    if place == Affine() and far < 0.5:
        there = small
    else:
        wide = grown(area, far / 2 + 1)
        # What is smeared or mixed need not be sharper than the smear.
        there = _placed(small, mips, place, working, wide, soft=knife.passing or far >= 2)
    if not there.is_empty and far >= 1:
        around = grown(region_of(there), far / 2 + 1)
        turned = math.degrees(math.atan2(way[1], way[0]))
        there = Raster(directional(laid_in(there, around), far, turned), around[0], around[1])
    there = cut(there, area)
    if not there.is_empty:
        y, x = there.top - area[1], there.left - area[0]
        under = result[y : y + there.height, x : x + there.width]
        if beside and far >= 1 and opacity >= 1:  # where two smeared ones were, they were by turns
            lay_beside(under, there.pixels)
        else:
            blend(under, there.pixels, "normal", opacity)


def _placed(
    raster: Raster, mips: MipPyramid, place: Affine | Projective, working: Affine, wide: Region,
    soft: bool,
) -> Raster:  # fmt: skip
    if isinstance(place, Affine):
        there = working @ place @ working.inverse()
        return warped(raster, there, wide, mips, soft)
    space = Projective.of(working) @ place @ Projective.of(working.inverse())
    return in_perspective(raster, space, wide)


def _cover(
    states: list[PieceState], shares: list[float], region: Region, working: Affine
) -> np.ndarray:
    """How much of each pixel of a region some pieces cover, each times a share, (h, w) uint8.
    They share the pixels where they meet; what rounding takes there is given back."""
    matrix = skia_matrix(working)
    shape = (region[3] - region[1], region[2] - region[0])
    if len(states) == 1:
        cover = covers.covered(states[0].piece.outline.skia_path, matrix, region)
        return covers.scaled(cover, shares[0])
    whole, shown = np.zeros(shape, np.uint16), np.zeros(shape, np.uint16)
    for state, share in zip(states, shares, strict=True):
        part = meet(outset(working.box(state.piece.outline.bounds), 1), region)
        if part[2] <= part[0] or part[3] <= part[1]:
            continue
        cover = covers.covered(state.piece.outline.skia_path, matrix, part)
        place = (
            slice(part[1] - region[1], part[3] - region[1]),
            slice(part[0] - region[0], part[2] - region[0]),
        )
        whole[place] += cover
        shown[place] += covers.scaled(cover, share)
    return covers.shared(whole, shown)


def _rests(state: PieceState, box: Box, scale: float) -> bool:
    """Whether a piece is so near to its place that nothing of it would be seen to move."""
    if state.at_rest:
        return True
    left, top, right, bottom = box
    corners = ((left, top), (right, top), (right, bottom), (left, bottom))
    return all(math.dist(state.matrix(p), p) * scale < 0.05 for p in corners)
