"""A layer's picture cut into pieces, each where it is."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np

from ..effects import cut, grown, laid_in
from ..effects.base import Region, meet, region_of
from ..geometry.affine import Affine, Box
from ..geometry.outline import skia_matrix
from ..pixels import coverage as covers
from ..pixels.blend import blend, fade, scale_by
from ..pixels.blur import directional
from ..pixels.raster import Raster, empty
from .draw import content_box
from .pieces import PieceState, piece_states
from .placing import outset, tight, warped
from .resolved import ResolvedLayer

if TYPE_CHECKING:
    from .sheets import LayerPictures


def sliced(
    pictures: LayerPictures, raster: Raster, layer: ResolvedLayer, working: Affine, area: Region
) -> Raster:
    """The pieces where they are. Those at rest are taken as one area, so that no seam shows
    between them."""
    slices = layer.slices
    assert slices is not None
    box = content_box(layer.content, pictures.library)
    own = region_of(raster)
    result = empty(max(0, area[2] - area[0]), max(0, area[3] - area[1]))
    if result.size == 0 or raster.is_empty:
        return Raster(result, area[0], area[1])
    matrix = skia_matrix(working)
    states = piece_states(slices, box)
    opened = pictures.open_pieces or (slices, slices)
    ways = [
        (a.matrix(a.piece.middle), b.matrix(b.piece.middle))
        for a, b in zip(*(piece_states(s, box) for s in opened), strict=True)
    ]
    resting = np.zeros(raster.pixels.shape[:2], np.uint16)
    moving = []
    for state, (start, end) in zip(states, ways, strict=True):
        far = math.dist(start, end) * working.a
        if _rests(state, box, working.a) and far < 0.5:
            resting += covers.covered(state.piece.outline.skia_path, matrix, own)
        elif state.opacity > 0 and abs(state.matrix.determinant) > 1e-9:
            moving.append((state, (end[0] - start[0], end[1] - start[1]), far))
    if resting.any():
        # Two edges that meet share a pixel's coverage; what rounding takes is given back.
        resting[resting >= 240] = 255
        rest = raster.pixels.copy()
        scale_by(rest, resting.astype(np.uint8))
        result = laid_in(Raster(rest, raster.left, raster.top), area)
    for state, way, far in moving:
        _lay_piece(result, area, raster, state, way, far, working)
    return tight(Raster(result, area[0], area[1]))


def _lay_piece(
    result: np.ndarray,
    area: Region,
    raster: Raster,
    state: PieceState,
    way: tuple[float, float],
    far: float,
    working: Affine,
) -> None:
    """Lays one piece where it is onto a result that covers an area, smeared along its way."""
    form = state.piece.outline
    part = meet(outset(working.box(form.bounds), 1), region_of(raster))
    piece = cut(raster, part)
    if piece.is_empty:
        return
    pixels = piece.pixels.copy()
    scale_by(pixels, covers.covered(form.skia_path, skia_matrix(working), part))
    if state.opacity < 1:
        fade(pixels, state.opacity)
    small = tight(Raster(pixels, piece.left, piece.top))
    wide = grown(area, far / 2 + 1)
    there = warped(small, working @ state.matrix @ working.inverse(), wide)
    if not there.is_empty and far >= 1:
        around = grown(region_of(there), far / 2 + 1)
        turned = math.degrees(math.atan2(way[1], way[0]))
        there = Raster(directional(laid_in(there, around), far, turned), around[0], around[1])
    there = cut(there, area)
    if not there.is_empty:
        y, x = there.top - area[1], there.left - area[0]
        blend(result[y : y + there.height, x : x + there.width], there.pixels)


def slice_reach(layer: ResolvedLayer, scale: float, box: Box) -> float:
    """How far pieces may be from their places, working px."""
    slices = layer.slices
    assert slices is not None
    size = math.hypot(box[2] - box[0], box[3] - box[1])
    far = math.hypot(*slices.offset) * 1.6
    if slices.rotation_deg:
        far += size
    far += size * max(0.0, slices.scale - 1)
    return far * scale + 2


def _rests(state: PieceState, box: Box, scale: float) -> bool:
    """Whether a piece is so near to its place that nothing of it would be seen to move."""
    if state.at_rest:
        return True
    if state.opacity < 0.998:
        return False
    left, top, right, bottom = box
    corners = ((left, top), (right, top), (right, bottom), (left, bottom))
    return all(math.dist(state.matrix(p), p) * scale < 0.05 for p in corners)
