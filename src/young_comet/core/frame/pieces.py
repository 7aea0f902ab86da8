"""Layers cut into pieces: where the cuts run, and where each piece is on its way."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import zip_longest

from ..geometry import outline as outlines
from ..geometry.affine import Affine, Box, Point
from ..geometry.contours import parse_contours
from ..geometry.outline import Outline
from ..geometry.projective import Projective
from .slices import Cut, Slices
from .units import RESTING, Frame, UnitPlace, furthest, map_of, space_of

MAX_PIECES = 4000
MAX_LINES = 12


@dataclass(frozen=True)
class Piece:
    """One piece's form in the layer's space, and what it turns about."""

    outline: Outline
    frame: Frame

    @cached_property
    def form(self) -> Outline:
        """Its form within what is cut, beyond which its outline goes on."""
        return self.outline.joined(outlines.polygon(list(self.frame.corners())), "intersect")

    @property
    def middle(self) -> Point:
        """The middle of its box."""
        return self.frame.middle

    @property
    def along(self) -> float:
        """Where it stands from left to right, then from top to bottom: what orders go by."""
        return self.middle[0] + self.middle[1] * 1e-3


@dataclass(frozen=True, slots=True)
class PieceState:
    """A piece where it is: how its plane is mapped into the layer's, and its opacity 0..1. At
    rest it is whole; ``near`` is how much nearer to the eye than the plane its middle is, px."""

    piece: Piece
    matrix: Affine | Projective
    opacity: float
    at_rest: bool
    near: float = 0.0


@lru_cache(maxsize=64)
def cut_pieces(cut: Cut, box: Box) -> tuple[Piece, ...]:
    """The pieces of a content box, which together cover it and all around it without a gap."""
    if cut.kind == "strips":
        return _strips(cut.count, cut.angle_deg, box)
    if cut.kind == "tiles":
        return _tiles(cut.grid, cut.angle_deg, box)
    if cut.kind == "wedges":
        return _wedges(cut.count, cut.angle_deg, box)
    return _along_lines(cut.lines, box)


def _turned(angle_deg: float, box: Box) -> tuple[Affine, Box]:
    """From a turned frame about the box's middle to the layer, and the box's extent in it."""
    left, top, right, bottom = box
    there = Affine.shift((left + right) / 2, (top + bottom) / 2) @ Affine.rotation(angle_deg)
    return there, there.inverse().box(box)


def _far(box: Box) -> float:
    return 4 * (abs(box[2] - box[0]) + abs(box[3] - box[1])) + 4000


def _piece(there: Affine, points: list[Point], middle: Point, half: Point, angle: float) -> Piece:
    return Piece(outlines.polygon([there(p) for p in points]), Frame(there(middle), half, angle))


def _strips(count: int, angle_deg: float, box: Box) -> tuple[Piece, ...]:
    """Strips across the angle; the outer ones go on beyond the box, for strokes and glows."""
    there, (left, top, right, bottom) = _turned(angle_deg, box)
    far = _far(box)
    step = (right - left) / count
    pieces = []
    for i in range(count):
        x0 = left - far if i == 0 else left + i * step
        x1 = right + far if i == count - 1 else left + (i + 1) * step
        corners = [(x0, top - far), (x1, top - far), (x1, bottom + far), (x0, bottom + far)]
        middle = (left + (i + 0.5) * step, (top + bottom) / 2)
        pieces.append(_piece(there, corners, middle, (step / 2, (bottom - top) / 2), angle_deg))
    return tuple(pieces)


def _tiles(grid: tuple[int, int], angle_deg: float, box: Box) -> tuple[Piece, ...]:
    there, (left, top, right, bottom) = _turned(angle_deg, box)
    columns, rows = grid
    far, dx, dy = _far(box), (right - left) / columns, (bottom - top) / rows
    pieces = []
    for j in range(rows):
        y0 = top - far if j == 0 else top + j * dy
        y1 = bottom + far if j == rows - 1 else top + (j + 1) * dy
        for i in range(columns):
            x0 = left - far if i == 0 else left + i * dx
            x1 = right + far if i == columns - 1 else left + (i + 1) * dx
            middle = (left + (i + 0.5) * dx, top + (j + 0.5) * dy)
            corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
            pieces.append(_piece(there, corners, middle, (dx / 2, dy / 2), angle_deg))
    return tuple(pieces)


def _wedges(count: int, angle_deg: float, box: Box) -> tuple[Piece, ...]:
    left, top, right, bottom = box
    centre = ((left + right) / 2, (top + bottom) / 2)
    if count == 1:
        return _strips(1, angle_deg, box)
    far, near = _far(box), math.hypot(right - left, bottom - top) / 4
    there = Affine.shift(*centre) @ Affine.rotation(angle_deg - 90)
    pieces = []
    for i in range(count):
        a0, a1 = (math.radians(360 * k / count) for k in (i, i + 1))
        # Enough points that the wedge reaches far out on all its width.
        steps = max(1, math.ceil(360 / count / 45))
        rim = [a0 + (a1 - a0) * k / steps for k in range(steps + 1)]
        points = [(0.0, 0.0), *((far * math.cos(a), far * math.sin(a)) for a in rim)]
        half = (a0 + a1) / 2
        middle = (near * math.cos(half), near * math.sin(half))
        # Along its axis from the point where all meet to as far beyond its middle.
        wide = near * math.tan(min(1.4, math.pi / count))
        angle = angle_deg - 90 + math.degrees(half)
        pieces.append(_piece(there, points, middle, (near, wide), angle))
    return tuple(pieces)


def _along_lines(lines: str, box: Box) -> tuple[Piece, ...]:
    """Each drawn line, gone on straight beyond its ends, parts every piece that it crosses."""
    far = _far(box)
    whole = outlines.rectangle(2 * far, 2 * far).mapped(
        Affine.shift((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    )
    parts = [whole]
    for contour in parse_contours(lines)[:MAX_LINES]:
        if not contour.segment_count:
            continue
        side = _side_of([p.at for p in contour.points], far)
        split = []
        for part in parts:
            for how in ("intersect", "minus"):
                piece = part.joined(side, how)
                if not piece.is_empty:
                    split.append(piece)
        parts = split
    content = outlines.polygon(
        [(box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3])]
    )
    pieces = []
    for part in parts:
        shown = part.joined(content, "intersect")
        if shown.is_empty:
            continue
        pieces.append(Piece(part, Frame.of(shown.bounds)))
    return tuple(pieces)


def _side_of(points: list[Point], far: float) -> Outline:
    """All that lies on one side of a line whose ends go on straight."""
    (x0, y0), (x1, y1) = points[0], points[-1]
    start = _beyond(points[1], points[0], far * 2)
    end = _beyond(points[-2], points[-1], far * 2)
    dx, dy = x1 - x0, y1 - y0
    size = math.hypot(dx, dy) or 1.0
    nx, ny = -dy / size * far * 3, dx / size * far * 3
    corners = [start, *points, end, (end[0] + nx, end[1] + ny), (start[0] + nx, start[1] + ny)]
    return outlines.polygon(corners)


def _beyond(a: Point, b: Point, by: float) -> Point:
    dx, dy = b[0] - a[0], b[1] - a[1]
    size = math.hypot(dx, dy) or 1.0
    return (b[0] + dx / size * by, b[1] + dy / size * by)


# Pieces go straight where their middle is at most so far, px, or such a part of its way, from where
# it would be at an even speed, a corner goes at most so far another way, px, and no more of their
# opacity changes.
_OFF_THE_WAY, _UNEVEN, _BENT, _AS_OPAQUE = 0.75, 40, 1.0, 0.2


def piece_states(slices: Slices, box: Box) -> list[PieceState]:
    """Where every piece is at its moment, in the order in which they were cut."""
    states = []
    # Should lines part what is drawn otherwise than what was measured, the rest is in place.
    for piece, place in zip_longest(cut_pieces(slices.cut, box), slices.places):
        if piece is None:
            break
        place = place or RESTING
        near = space_of(place, piece.frame).depth_at(piece.middle) if place.in_space else 0.0
        matrix = map_of(place, piece.frame, slices.eye)
        states.append(PieceState(piece, matrix, place.opacity, _at_rest(place), near))
    return states


def _at_rest(place: UnitPlace) -> bool:
    if place is RESTING:
        return True
    return all(abs(a - b) < 1e-6 for a, b in zip(place[:8], RESTING[:8], strict=True))


def slice_reach(slices: Slices, scale: float, box: Box, painted: Box) -> float:
    """How far what pieces show may be from where it rests, working px; ``box`` is what is cut,
    ``painted`` what is drawn."""
    margin = max(box[0] - painted[0], box[1] - painted[1], painted[2] - box[2], painted[3] - box[3])
    states = [each for each in piece_states(slices, box) if not each.at_rest]
    far = max((furthest(s.matrix, s.piece.frame, max(0.0, margin)) for s in states), default=0.0)
    return min(far, 1e6) * scale + 2


def straight(slices: Sequence[Slices], box: Box, scale: float) -> bool:
    """Whether every piece goes a straight way at an even speed, hardly turns and stays about as
    opaque in a series of moments, so that one picture smeared along its way is the mean of them;
    ``scale`` is how large the layer is seen."""
    first, middle, last = (piece_states(slices[i], box) for i in (0, len(slices) // 2, -1))
    share = len(slices) // 2 / max(1, len(slices) - 1)
    for a, m, b in zip(first, middle, last, strict=True):
        if abs(b.opacity - a.opacity) > _AS_OPAQUE:
            return False
        if a.matrix == m.matrix == b.matrix:
            continue
        at = a.piece.middle
        (ax, ay), (mx, my), (bx, by) = a.matrix(at), m.matrix(at), b.matrix(at)
        way = (bx - ax, by - ay)
        off = math.hypot(mx - ax - way[0] * share, my - ay - way[1] * share)
        if off * scale > max(_OFF_THE_WAY, math.hypot(*way) * scale / _UNEVEN):
            return False
        for corner in a.piece.frame.corners():
            p, q = a.matrix(corner), b.matrix(corner)
            if math.hypot(q[0] - p[0] - way[0], q[1] - p[1] - way[1]) * scale > _BENT:
                return False
    return True


def pieces_shift(first: Slices, last: Slices, box: Box) -> float:
    """How far a corner of a piece goes at most between two moments, px of the layer."""
    most = 0.0
    for a, b in zip(piece_states(first, box), piece_states(last, box), strict=True):
        if a.matrix != b.matrix:
            corners = a.piece.frame.corners()
            most = max(most, *(math.dist(a.matrix(p), b.matrix(p)) for p in corners))
    return min(most, 1e5)
