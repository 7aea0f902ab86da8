"""Texts."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Any, ClassVar

from ...geometry.affine import Affine, Box, Point
from ...geometry.outline import Outline, from_svg_path
from ...geometry.projective import Projective
from ...geometry.trail import trail
from ...typography.along import TextPath
from ...typography.layout import TextLayout, box_about
from ...typography.style import TextStyle
from ...typography.units import units_of
from ..surface import Surface
from ..units import Eye, UnitPlace
from .backing import Backing
from .base import Surfaced, Texts
from .text_units import Carrying, TextUnit, box_of_units, place_in

# Of more units than this nobody looks where each of them is, to tell how far a text reaches.
_MOST_BOXED = 400


@dataclass(frozen=True)
class Dress:
    """How some characters (first, before last) are painted. What is laid over a box (a gradient, a
    picture) is laid ``across`` the whole block, or each line, word or letter."""

    first: int
    last: int
    surface: Surface
    across: str = "block"


@dataclass(frozen=True)
class TextContent(Surfaced):
    """``units`` are those that are not at rest, and ``eye`` sees them where they are turned in
    space. A ``cursor`` stands after the last that is seen. ``along`` is the path that the text
    follows. What the ``surface`` is laid ``across`` is as in a ``Dress``; ``dresses`` are stretches
    that are painted otherwise, in the order of the text; ``backings`` lie behind its letters. Units
    on their way lie over one another as ``stacking`` says: later ones above (forward), earlier ones
    (back), or those in the middle. Where digits roll, those of the ``earlier`` text, as long as
    this one, have gone so far (``rolled``, 0..1). ``others`` are letters that stand in place of its
    own, character by character."""

    outlined: ClassVar[bool] = True

    text: str
    style: TextStyle
    surface: Surface
    along: TextPath | None = None
    units: tuple[TextUnit, ...] = ()
    cursor: bool = False
    eye: Eye | None = None
    across: str = "block"
    dresses: tuple[Dress, ...] = ()
    backings: tuple[Backing, ...] = ()
    stacking: str = "forward"
    earlier: str = ""
    rolled: float = 1.0
    others: str = ""

    def layout(self, texts: Texts) -> TextLayout:
        """The text, set. Other letters that stand in place of its own have the room of those."""
        own = texts.laid_out(self.text, self.style, self.along)
        if not self.others or self.others == self.text:
            return own
        other = texts.laid_out(self.others, self.style, self.along)
        if self.along is not None:
            return other
        a, b = self.text, self.others
        return own.with_letters_of(other, lambda index: a[index] != b[index])

    def box(self, texts: Texts) -> Box:
        return self.layout(texts).box

    def painted_box(self, texts: Texts, fixed_scale: float) -> Box:
        surfaces = (self.surface, *(dress.surface for dress in self.dresses))
        spot = (0.0, 0.0, 0.0, 0.0)
        edge = max(abs(side) for each in surfaces for side in each.around(spot, fixed_scale))
        box = self._with_units(self.layout(texts), edge)
        grown = [surface.around(box, fixed_scale) for surface in surfaces]
        lows, highs = zip(*((each[:2], each[2:]) for each in grown), strict=True)
        left, top = map(min, zip(*lows, strict=True))
        right, bottom = map(max, zip(*highs, strict=True))
        box = (left, top, right, bottom)
        if self.backings and self.along is not None:
            words, layout = units_of(self.text, "words"), self.layout(texts)
            behind = (each.boxes(layout, words) for each in self.backings)
            return box_about([box, *(part.bounds for boxes in behind for part in boxes)])
        return self._with_backings(box, self.layout(texts).box) if self.backings else box

    def _with_backings(self, box: Box, whole: Box) -> Box:
        reach = max(backing.reach for backing in self.backings)
        left, top = min(box[0], whole[0] - reach), min(box[1], whole[1] - reach)
        right, bottom = max(box[2], whole[2] + reach), max(box[3], whole[3] + reach)
        skew = max(abs(math.tan(math.radians(each.skew_deg))) for each in self.backings)
        lean = skew * (bottom - top) / 2
        return (left - lean, top, right + lean, bottom)

    def outline(self, texts: Texts) -> Outline:
        return self.layout(texts).merged_outline

    @property
    def plain(self) -> bool:
        """Whether all of it is painted at once."""
        return not self.dresses and self.across == "block" and not self.backings

    def dressed(self, layout: TextLayout) -> Iterator[Dress]:
        """What of it is painted at once: stretches that do not lie over one another."""
        bounds = [(dress.first, dress.last) for dress in self.dresses]
        gaps = _between_ranges(bounds, len(self.text))
        base = (Dress(a, b, self.surface, self.across) for a, b in gaps)
        for dress in (*base, *self.dresses):
            if dress.across == "block":
                yield dress
                continue
            if dress.across == "line":
                units: Sequence[tuple[int, int]] = [(li.first, li.last) for li in layout.lines]
            else:
                units = units_of(self.text, f"{dress.across}s")
            for a, b in units:
                first, last = max(a, dress.first), min(b, dress.last)
                if first < last:
                    yield replace(dress, first=first, last=last)

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
            rolled = own.rolled if own else 1.0
            units.append(replace(unit, place=place, scrambled=scrambled, rolled=rolled))
        for unit in seen.values():  # at rest at that moment
            place = UnitPlace(opacity=unit.place.opacity)
            units.append(replace(unit.at_rest(), place=place, rolled=unit.rolled))
        units.sort(key=lambda unit: unit.first)
        return replace(
            self, text=still.text, units=tuple(units), cursor=still.cursor, earlier=still.earlier,
            rolled=still.rolled, others=still.others,
        )  # fmt: skip

    def between(self, other: Any, amount: float) -> TextContent | None:
        """Of the same words in the same faces: size, weight, spacing, where it is on its path, and
        its units where they are."""
        if not isinstance(other, TextContent):
            return None
        style = self.style.between(other.style, amount)
        if style is None or self.text != other.text or self.across != other.across:
            return None
        if (self.earlier, self.others) != (other.earlier, other.others):
            return None
        if _travelled(other.along, self.along) != self.along:
            return None
        backings = _backings_between(self.backings, other.backings, amount)
        surface = self.surface.between(other.surface, amount)
        dresses = _dresses_between(self.dresses, other.dresses, amount)
        if surface is None or dresses is None or backings is None:
            return None

        def at(p: float, q: float) -> float:
            return p + (q - p) * amount

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
        return TextContent(
            self.text, style, surface, along, units, cursor, eye, self.across, dresses, backings,
            self.stacking, self.earlier, at(self.rolled, other.rolled), self.others,
        )  # fmt: skip

    def radius(self) -> float:
        if self.along is not None:
            bounds = from_svg_path(self.along.data).bounds
            return self.style.largest_px + max(map(abs, bounds))
        box = self.style.box
        if box is not None:
            return math.hypot(box.width, box.height) / 2
        return max(1, self._longest) * self.style.largest_px * 0.35

    def rim_shift(self, other: Any) -> float | None:
        """Where its size, its tracking or its place on a path changes."""
        if not isinstance(other, TextContent):
            return None
        if self.only_units_differ(other):
            return self._units_shift(other)
        a, b = self.style.letters, other.style.letters
        letters = replace(b, tracking=a.tracking, size_px=a.size_px)
        style = replace(other.style, letters=letters)
        if replace(other, style=style, along=_travelled(other.along, self.along)) != self:
            return None
        em = abs(b.tracking * b.size_px - a.tracking * a.size_px) / 1000
        wider = self._longest * (em + 0.6 * abs(b.size_px - a.size_px))
        shift = wider if self.style.align != "centre" else wider / 2
        if self.along is not None and other.along is not None:
            far = abs(other.along.offset - self.along.offset)
            shift += far * trail(self.along.data).length
            shift += abs(other.along.gap_px - self.along.gap_px)
        return shift

    def only_units_differ(self, other: Any) -> bool:
        return (
            isinstance(other, TextContent)
            and self != other
            and replace(other, units=self.units, rolled=self.rolled) == self
        )

    @property
    def _longest(self) -> int:
        return max(len(line) for line in self.text.split("\n"))

    def _units_shift(self, other: TextContent) -> float:
        """How far its units go to be where those of another are, px."""
        states = [{(u.first, u.last): u for u in each.units} for each in (self, other)]
        far = 0.0
        for span in states[0].keys() | states[1].keys():
            unit = states[0].get(span) or states[1][span].at_rest()
            goal = states[1].get(span) or states[0][span].at_rest()
            moved = _moved(unit.place, goal.place, self._arm(unit))
            moved += abs(goal.rolled - unit.rolled) * self.style.largest_px
            for p, q in zip(unit.within, goal.within, strict=False):
                moved += _moved(p.place, q.place, self._arm(p))
            far = max(far, moved)
        return far

    def _arm(self, unit: TextUnit | Carrying) -> float:
        """How far a unit reaches from what it turns about, px."""
        if unit.about is not None:
            return self.radius()
        return self.style.largest_px * max(0.5, 0.3 * (unit.last - unit.first))

    def _reach(self, place: UnitPlace, count: int, about: Point | None) -> float:
        """How far a unit of so many letters reaches beyond where it rests, px."""
        size = self.style.largest_px
        reach = math.hypot(place.dx, place.dy)
        larger = max(abs(place.sx), abs(place.sy))
        if place.in_space and self.eye is not None:
            # Nearer to the eye by as much as it is long.
            eye = abs(self.eye[2])
            larger *= min(20.0, eye / max(eye * 0.05, eye - size * count))
        if place.rotation_deg or place.skew_x or place.skew_y or larger > 1:
            # Words and lines turn about their middles or edges: they may reach as far as they are
            # long; what turns about another point, twice as far as that may be.
            wide = size * count if about is None else size * count + 2 * self.radius()
            lean = sum(abs(math.tan(math.radians(a))) for a in (place.skew_x, place.skew_y))
            reach += max(1.0, larger) * wide * (1 + min(12.0, lean))
        return reach

    def _with_units(self, layout: TextLayout, edge_px: float) -> Box:
        """The box of its letters, at rest and on their way."""
        box = layout.outline.bounds
        if not self.units:
            return box
        kept = self._boxes.get(edge_px)
        if kept is None or kept[0] is not layout:
            kept = (layout, self._units_box(layout, edge_px))
            self._boxes[edge_px] = kept
        return box_about([box, kept[1]])

    @cached_property
    def _boxes(self) -> dict[float, tuple[TextLayout, Box]]:
        return {}

    @cached_property
    def _places(self) -> dict[int, tuple[TextLayout, Affine | Projective | None]]:
        return {}

    def place_of(self, index: int, layout: TextLayout) -> Affine | Projective | None:
        """Where its unit of that index is, with all that it lies within; None where nothing of it
        is seen."""
        kept = self._places.get(index)
        if kept is None or kept[0] is not layout:
            unit = self.units[index]
            kept = (layout, None if unit.is_gone else place_in(layout, unit, self.eye))
            self._places[index] = kept
        return kept[1]

    def _units_box(self, layout: TextLayout, edge_px: float) -> Box:
        size = self.style.largest_px
        if len(self.units) <= _MOST_BOXED:
            places = (self.place_of(index, layout) for index in range(len(self.units)))
            seen = ((u, at) for u, at in zip(self.units, places, strict=True) if at is not None)
            found = box_of_units(seen, layout, size, edge_px)
            if found is not None:
                by = 0.2 * size if self.cursor else 0.0
                return (found[0] - by, found[1] - by, found[2] + by, found[3] + by)
        return self._about_units(layout.outline.bounds)

    def _about_units(self, box: Box) -> Box:
        """A box grown by how far its units may be on their way, at most."""
        size, far = self.style.largest_px, 0.0
        for unit in self.units:
            reach = self._reach(unit.place, unit.last - unit.first, unit.about)
            for each in unit.within:
                reach += self._reach(each.place, each.last - each.first, each.about)
            reach += max(map(abs, unit.look.apart))
            if unit.rolled < 1:  # the digit that goes and the one that comes have a room an em high
                reach += 0.5 * size
            far = max(far, reach + 3 * unit.look.blur_px + 2 * max(0.0, unit.look.wider_px))
            if unit.look.drawn < 1:
                far = max(far, reach + 2 + 0.05 * size)
        if self.cursor:
            far = max(far, size * 0.2)
        return (box[0] - far, box[1] - far, box[2] + far, box[3] + far)


def _between_ranges(ranges: Sequence[tuple[int, int]], length: int) -> list[tuple[int, int]]:
    """What of a length lies in none of some ranges, which are in order."""
    found, at = [], 0
    for first, last in (*ranges, (length, length)):
        if first > at:
            found.append((at, first))
        at = max(at, last)
    return found


def _dresses_between(
    a: tuple[Dress, ...], b: tuple[Dress, ...], amount: float
) -> tuple[Dress, ...] | None:
    if len(a) != len(b):
        return None
    found = []
    for p, q in zip(a, b, strict=True):
        surface = p.surface.between(q.surface, amount)
        if surface is None or replace(p, surface=q.surface) != q:
            return None
        found.append(replace(p, surface=surface))
    return tuple(found)


def _moved(a: UnitPlace, b: UnitPlace, radius: float) -> float:
    """How far what reaches so far goes from one place to another, px."""
    angles = (
        b.rotation_deg - a.rotation_deg, b.tilt_deg - a.tilt_deg, b.turn_deg - a.turn_deg,
        b.skew_x - a.skew_x, b.skew_y - a.skew_y,
    )  # fmt: skip
    turned = sum(abs(math.radians(angle)) for angle in angles)
    if a.pivot_x or a.pivot_y or b.pivot_x or b.pivot_y:
        radius *= 2
    grown = math.hypot(b.sx - a.sx, b.sy - a.sy)
    return math.hypot(b.dx - a.dx, b.dy - a.dy) + (turned + grown) * radius


def _backings_between(
    a: tuple[Backing, ...], b: tuple[Backing, ...], amount: float
) -> tuple[Backing, ...] | None:
    if len(a) != len(b):
        return None
    found = [p.between(q, amount) for p, q in zip(a, b, strict=True)]
    return None if None in found else tuple(each for each in found if each is not None)


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
        one = states[0].get(span) or states[1][span].at_rest()
        other = states[1].get(span) or states[0][span].at_rest()
        mixed = one.between(other, amount)
        if mixed is None:
            return b if amount >= 0.5 else a
        found.append(mixed)
    return tuple(found)


def _travelled(path: TextPath | None, to: TextPath | None) -> TextPath | None:
    """A path with its text where it is on another."""
    if path is None or to is None:
        return path
    return replace(path, offset=to.offset, gap_px=to.gap_px)
