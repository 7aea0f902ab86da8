"""Boxes behind the letters of a text."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from ...geometry.affine import Affine, Box, Point
from ...geometry.outline import Outline, rectangle
from ...pixels.canvas import Paint
from ...typography.graphemes import Range
from ...typography.layout import Line, TextLayout
from ..surface import PictureFill, Surface

# Of a line's ascent and descent: about as high as its capitals, as low as its descenders.
_HIGH, _LOW = 0.8, 0.9


@dataclass(frozen=True)
class Backing:
    """A box behind some characters (first, before last): one behind all of them, each line or each
    word (``across``). It reaches beyond them by a padding, px, and has grown so far, 0..1, from
    where they begin, one line after the other; behind some of them (first, before last) only so far
    (``reached``, 0..1)."""

    first: int
    last: int
    across: str
    paint: Paint
    padding: Point
    radius_px: float
    skew_deg: float
    grown: float
    reached: tuple[tuple[int, int, float], ...] = ()

    @property
    def reach(self) -> float:
        """How far it goes beyond the box of its text, px, without its skew."""
        return max(0.0, *self.padding)

    def between(self, other: Backing, amount: float) -> Backing | None:
        """A mixture; None behind other characters."""
        if (self.first, self.last, self.across) != (other.first, other.last, other.across):
            return None

        def at(p: float, q: float) -> float:
            return p + (q - p) * amount

        padding = (at(self.padding[0], other.padding[0]), at(self.padding[1], other.padding[1]))
        surface = Surface(self.paint).between(Surface(other.paint), amount)
        if surface is None or surface.fill is None or isinstance(surface.fill, PictureFill):
            return None
        return replace(
            self, paint=surface.fill, padding=padding,
            radius_px=at(self.radius_px, other.radius_px), grown=at(self.grown, other.grown),
            skew_deg=at(self.skew_deg, other.skew_deg),
            reached=_reached_between(self.reached, other.reached, amount),
        )  # fmt: skip

    def boxes(self, layout: TextLayout, words: Sequence[Range]) -> Iterator[Outline]:
        """Its outlines, in the layer's space; bent as the letters are on a path."""
        for straight in self._straight(layout, words):
            yield layout.bent(straight)

    def _straight(self, layout: TextLayout, words: Sequence[Range]) -> Iterator[Outline]:
        spans = [(self.first, self.last)]
        if self.across == "word":
            spans = [(max(a, self.first), min(b, self.last)) for a, b in words]
        found: list[tuple[Box, bool, float]] = []
        for first, last in spans:
            for line in layout.lines:
                a, b = max(first, line.first), min(last, line.last)
                box = _behind(line, a, b)
                if box is not None:
                    found.append((box, line.runs_left, self._share(line, a, b)))
        if self.across == "block" and found:
            lefts, tops, rights, feet = zip(*(box for box, *_ in found), strict=True)
            share = sum(each[2] for each in found) / len(found)
            found = [((min(lefts), min(tops), max(rights), max(feet)), found[0][1], share)]
        left = self.grown * sum(self._wide(box) for box, *_ in found)
        for box, runs_left, share in found:
            wide = min(left, self._wide(box))
            left -= wide
            if wide * share > 0:
                yield self._outline(box, wide * share, runs_left)

    def _share(self, line: Line, first: int, last: int) -> float:
        """How much of the width of a line's characters has been reached."""
        if not self.reached:
            return 1.0
        cells = [c for c in line.cells if c.first < last and c.last > first]
        whole = sum(c.right - c.left for c in cells)
        if whole <= 0:
            return 1.0
        known = {at: share for a, b, share in self.reached for at in range(a, b)}
        # Blanks go along with what is before them.
        covered, share = 0.0, 1.0
        for cell in cells:
            share = known.get(cell.first, share)
            covered += share * (cell.right - cell.left)
        return min(1.0, max(0.0, covered / whole))

    def _wide(self, box: Box) -> float:
        return max(0.0, box[2] - box[0] + 2 * self.padding[0])

    def _outline(self, box: Box, wide: float, runs_left: bool) -> Outline:
        x, y = self.padding
        high = max(0.0, box[3] - box[1] + 2 * y)
        begin = box[2] + x - wide if runs_left else box[0] - x
        radius = min(self.radius_px, wide / 2, high / 2)
        middle = Affine.shift(begin + wide / 2, (box[1] + box[3]) / 2)
        skewed = Affine(c=-math.tan(math.radians(self.skew_deg)))
        return rectangle(wide, high, radius).mapped(middle @ skewed)


def _reached_between(
    a: tuple[tuple[int, int, float], ...], b: tuple[tuple[int, int, float], ...], amount: float
) -> tuple[tuple[int, int, float], ...]:
    """How far it has grown between two states; what only one of them tells of is whole in the
    other."""
    if a == b:
        return a
    one, other = ({(p, q): share for p, q, share in each} for each in (a, b))
    return tuple(
        (*span, one.get(span, 1.0) + (other.get(span, 1.0) - one.get(span, 1.0)) * amount)
        for span in sorted(one.keys() | other.keys())
    )


def _behind(line: Line, first: int, last: int) -> Box | None:
    """The box of a line's characters; None where it has none of them."""
    cells = [c for c in line.cells if c.first < last and c.last > first]
    if not cells or first >= last:
        return None
    top, foot = line.baseline - _HIGH * line.ascent, line.baseline + _LOW * line.descent
    return (min(c.left for c in cells), top, max(c.right for c in cells), foot)
