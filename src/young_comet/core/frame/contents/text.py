"""Texts."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any, ClassVar

from ...geometry.affine import Box, Point
from ...geometry.outline import Outline, from_svg_path
from ...geometry.trail import trail
from ...typography.along import TextPath
from ...typography.layout import TextLayout, TextStyle
from ..surface import Surface
from ..units import Eye, UnitPlace, place_between
from .base import Surfaced, Texts


@dataclass(frozen=True)
class TextUnit:
    """A letter, word or line of a text, as its characters (first, one after the last), on its
    way; ``scrambled`` ones are other letters."""

    first: int
    last: int
    place: UnitPlace
    scrambled: float = 0.0


@dataclass(frozen=True)
class TextContent(Surfaced):
    """``units`` are those that are not at rest, and ``eye`` sees them where they are turned in
    space. A ``cursor`` stands after the last that is seen. ``along`` is the path that the text
    follows."""

    outlined: ClassVar[bool] = True

    text: str
    style: TextStyle
    surface: Surface
    along: TextPath | None = None
    units: tuple[TextUnit, ...] = ()
    cursor: bool = False
    eye: Eye | None = None

    def layout(self, texts: Texts) -> TextLayout:
        """The text, set."""
        return texts.laid_out(self.text, self.style, self.along)

    def box(self, texts: Texts) -> Box:
        return self.layout(texts).box

    def painted_box(self, texts: Texts, fixed_scale: float) -> Box:
        box = self._with_units(self.layout(texts).outline.bounds)
        return self.surface.around(box, fixed_scale)

    def outline(self, texts: Texts) -> Outline:
        return self.layout(texts).merged_outline

    def touched(self, point: Point, texts: Texts) -> bool:
        """Anywhere in its box; along a path near its letters: within a ring of them lies something
        else."""
        layout = self.layout(texts)
        if self.along is not None:
            return layout.touches(point, self.style.size_px)
        left, top, right, bottom = layout.box
        return left <= point[0] <= right and top <= point[1] <= bottom

    def as_in(self, still: Any) -> TextContent:
        """With as much of its letters seen: a counter shows one number, letters that appear are
        there or not."""
        if not isinstance(still, TextContent):
            return self
        if len(self.text) != len(still.text):
            return still  # its units are other ones
        seen = {(unit.first, unit.last): unit for unit in still.units}
        units = []
        for unit in self.units:
            own = seen.pop((unit.first, unit.last), None)
            opacity, scrambled = (own.place.opacity, own.scrambled) if own else (1.0, 0.0)
            place = unit.place._replace(opacity=opacity)
            units.append(replace(unit, place=place, scrambled=scrambled))
        for unit in seen.values():  # at rest at that moment
            units.append(replace(unit, place=UnitPlace(opacity=unit.place.opacity)))
        units.sort(key=lambda unit: unit.first)
        return replace(self, text=still.text, units=tuple(units), cursor=still.cursor)

    def between(self, other: Any, amount: float) -> TextContent | None:
        """Of the same words in the same face: size, weight, spacing, where it is on its path, and
        its units where they are."""
        if not isinstance(other, TextContent):
            return None
        a, b = self.style, other.style
        alike = replace(
            b, weight=a.weight, size_px=a.size_px, tracking=a.tracking, leading=a.leading
        )
        if (self.text, a) != (other.text, alike) or _travelled(
            other.along, self.along
        ) != self.along:
            return None
        surface = self.surface.between(other.surface, amount)
        if surface is None:
            return None

        def at(p: float, q: float) -> float:
            return p + (q - p) * amount

        style = replace(
            a, weight=at(a.weight, b.weight), size_px=at(a.size_px, b.size_px),
            tracking=at(a.tracking, b.tracking), leading=at(a.leading, b.leading),
        )  # fmt: skip
        along = self.along
        if along is not None and other.along is not None:
            gap = at(along.gap_px, other.along.gap_px)
            along = replace(along, offset=at(along.offset, other.along.offset), gap_px=gap)
        units = _units_between(self.units, other.units, amount)
        cursor = (other if amount >= 0.5 else self).cursor
        eye = self.eye or other.eye
        if self.eye and other.eye:
            x, y, z = (at(p, q) for p, q in zip(self.eye, other.eye, strict=True))
            eye = (x, y, z)
        return TextContent(self.text, style, surface, along, units, cursor, eye)

    def radius(self) -> float:
        if self.along is not None:
            bounds = from_svg_path(self.along.data).bounds
            return self.style.size_px + max(map(abs, bounds))
        return max(1, self._longest) * self.style.size_px * 0.35

    def rim_shift(self, other: Any) -> float | None:
        """Where its size, its tracking or its place on a path changes."""
        if not isinstance(other, TextContent):
            return None
        if self.only_units_differ(other):
            return self._units_shift(other)
        a, b = self.style, other.style
        style = replace(b, tracking=a.tracking, size_px=a.size_px)
        if replace(other, style=style, along=_travelled(other.along, self.along)) != self:
            return None
        em = abs(b.tracking * b.size_px - a.tracking * a.size_px) / 1000
        wider = self._longest * (em + 0.6 * abs(b.size_px - a.size_px))
        shift = wider if a.align != "centre" else wider / 2
        if self.along is not None and other.along is not None:
            far = abs(other.along.offset - self.along.offset)
            shift += far * trail(self.along.data).length
            shift += abs(other.along.gap_px - self.along.gap_px)
        return shift

    def only_units_differ(self, other: Any) -> bool:
        return (
            isinstance(other, TextContent)
            and self != other
            and replace(other, units=self.units) == self
        )

    @property
    def _longest(self) -> int:
        return max(len(line) for line in self.text.split("\n"))

    def _units_shift(self, other: TextContent) -> float:
        """How far its units go to be where those of another are, px."""
        states = [{(u.first, u.last): u for u in each.units} for each in (self, other)]
        far = 0.0
        for span in states[0].keys() | states[1].keys():
            rest = TextUnit(*span, UnitPlace())
            a, b = (state.get(span, rest).place for state in states)
            radius = self.style.size_px * max(0.5, 0.3 * (span[1] - span[0]))
            angles = (
                b.rotation_deg - a.rotation_deg, b.tilt_deg - a.tilt_deg, b.turn_deg - a.turn_deg,
            )  # fmt: skip
            turned = sum(abs(math.radians(angle)) for angle in angles)
            if a.pivot_x or a.pivot_y or b.pivot_x or b.pivot_y:
                radius *= 2
            grown = math.hypot(b.sx - a.sx, b.sy - a.sy)
            far = max(far, math.hypot(b.dx - a.dx, b.dy - a.dy) + (turned + grown) * radius)
        return far

    def _with_units(self, box: Box) -> Box:
        """A box grown by how far its units are on their way."""
        if not self.units:
            return box
        size, far = self.style.size_px, 0.0
        for unit in self.units:
            place = unit.place
            reach = math.hypot(place.dx, place.dy)
            larger = max(abs(place.sx), abs(place.sy))
            if place.in_space and self.eye is not None:
                # Nearer to the eye by as much as it is long.
                eye = abs(self.eye[2])
                larger *= min(20.0, eye / max(eye * 0.05, eye - size * (unit.last - unit.first)))
            if place.rotation_deg or larger > 1:
                # Words and lines turn about their middles or edges: they may reach as far as they
                # are long.
                reach += max(1.0, larger) * size * (unit.last - unit.first)
            far = max(far, reach)
        if self.cursor:
            far = max(far, size * 0.2)
        return (box[0] - far, box[1] - far, box[2] + far, box[3] + far)


def _units_between(
    a: tuple[TextUnit, ...], b: tuple[TextUnit, ...], amount: float
) -> tuple[TextUnit, ...]:
    """Units between two states: one that only one of them has is at rest in the other. Where they
    are other stretches of the text, the nearer state has its own."""
    states = [{(u.first, u.last): u for u in units} for units in (a, b)]
    spans = sorted(states[0].keys() | states[1].keys())
    if any(p[1] > q[0] for p, q in pairwise(spans)):
        return b if amount >= 0.5 else a
    found = []
    for span in spans:
        p, q = (state.get(span, TextUnit(*span, UnitPlace())) for state in states)
        scrambled = p.scrambled + (q.scrambled - p.scrambled) * amount
        found.append(TextUnit(*span, place_between(p.place, q.place, amount), scrambled))
    return tuple(found)


def _travelled(path: TextPath | None, to: TextPath | None) -> TextPath | None:
    """A path with its text where it is on another."""
    if path is None or to is None:
        return path
    return replace(path, offset=to.offset, gap_px=to.gap_px)
