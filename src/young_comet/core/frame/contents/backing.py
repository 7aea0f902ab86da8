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
    where they begin, one line after the other."""

    first: int
    last: int
    across: str
    paint: Paint
    padding: Point
    radius_px: float
    skew_deg: float
    grown: float

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
        )  # fmt: skip

    def boxes(self, layout: TextLayout, words: Sequence[Range]) -> Iterator[Outline]:
        """Its outlines, in the layer's space."""
        spans = [(self.first, self.last)]
        if self.across == "word":
            spans = [(max(a, self.first), min(b, self.last)) for a, b in words]
        found: list[tuple[Box, bool]] = []
        for first, last in spans:
            for line in layout.lines:
                box = _behind(line, max(first, line.first), min(last, line.last))
                if box is not None:
                    found.append((box, line.runs_left))
        if self.across == "block" and found:
            lefts, tops, rights, feet = zip(*(box for box, _ in found), strict=True)
            found = [((min(lefts), min(tops), max(rights), max(feet)), found[0][1])]
        left = self.grown * sum(self._wide(box) for box, _ in found)
        for box, runs_left in found:
            wide = min(left, self._wide(box))
            left -= wide
            if wide > 0:
                yield self._outline(box, wide, runs_left)

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


def _behind(line: Line, first: int, last: int) -> Box | None:
    """The box of a line's characters; None where it has none of them."""
    cells = [c for c in line.cells if c.first < last and c.last > first]
    if not cells or first >= last:
        return None
    top, foot = line.baseline - _HIGH * line.ascent, line.baseline + _LOW * line.descent
    return (min(c.left for c in cells), top, max(c.right for c in cells), foot)
