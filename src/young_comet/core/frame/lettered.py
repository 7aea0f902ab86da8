"""A set text as the pieces that are painted: what each is, where, and as which surface."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from ..geometry.affine import Affine, Box
from ..geometry.outline import Outline, rectangle
from ..geometry.projective import Projective
from ..typography.layout import TextLayout
from ..typography.units import units_of
from .contents.base import Texts
from .contents.text import PLAIN, Carrying, Dress, TextContent, TextUnit, Wiped
from .surface import Surface
from .units import Eye, Frame, is_seen, map_of

# Halves are cut so far above the line that letters stand on, in parts of its ascent.
_CUT = 0.3
# So much of the room that a digit rolls in lies above the line that it stands on.
_ROOM = 0.86
# What has no stroke is drawn with a pen of this width, in parts of the size.
PEN = 0.016


@dataclass(frozen=True, slots=True)
class Painted:
    """An outline (``area``), what is laid over which box, and the surface that it is painted as."""

    area: Outline
    box: Box
    surface: Surface

    @property
    def edge(self) -> Outline:
        """What a stroke follows."""
        return self.area.merged() if self.surface.is_lined else self.area


@dataclass(frozen=True, slots=True)
class UnitPiece:
    """A unit on its way: what is painted of it, from where it rests to where it is (``place``), how
    much of it is seen, how far blurred (px), the outline within which it is seen, where it rests,
    the ``half`` of it that it is, and the wipes that it takes along, with the boxes that they go
    over."""

    painted: tuple[Painted, ...]
    outline: Outline
    place: Affine | Projective
    opacity: float
    blur_px: float
    window: Outline | None
    half: Outline | None
    wipes: tuple[tuple[Box, Wiped], ...]


def backs(content: TextContent, layout: TextLayout) -> Iterator[Painted]:
    """The boxes behind a text; on a path there are none."""
    if content.along is not None:
        return
    for backing in content.backings:
        surface = Surface(backing.paint)
        for box in backing.boxes(layout, units_of(content.text, "words")):
            yield Painted(box, box.bounds, surface)


def resting(content: TextContent, layout: TextLayout) -> Iterator[Painted]:
    """What of a text is not on its way."""
    moving = {index for unit in content.units for index in range(unit.first, unit.last)}
    for dress in sorted(content.dressed(layout), key=lambda each: each.first):
        area = layout.outline_of(
            lambda c, a=dress.first, b=dress.last: a <= c < b and c not in moving  # type: ignore[misc]
        )
        if not area.is_empty:
            yield Painted(area, _laid_over(dress, layout), dress.surface)


def on_their_way(content: TextContent, layout: TextLayout, texts: Texts) -> Iterator[UnitPiece]:
    """The units of a text that are seen somewhere."""
    if not content.units:
        return
    dresses = sorted(content.dressed(layout), key=lambda dress: dress.first)
    starts = [dress.first for dress in dresses]
    for unit in _stacked(content.units, content.stacking):
        if unit.place.opacity <= 0 or not (unit.place.sx and unit.place.sy):
            continue
        if any(each.wipe.shown <= 0 for each in unit.wipes):
            continue
        place = place_in(layout, unit, content.eye)
        if place is None:
            continue
        first = max(0, bisect_right(starts, unit.first) - 1)
        painted = tuple(_of_unit(unit, dresses[first:], layout, content.style.largest_px))
        if not painted:
            continue
        whole = UnitPiece(
            painted, layout.outline_between(unit.first, unit.last), place, unit.place.opacity,
            unit.look.blur_px, _window(layout, unit), None, tuple(_wipes(layout, unit)),
        )  # fmt: skip
        if unit.rolled < 1:
            yield from _rolled(content, layout, texts, unit, whole)
        else:
            yield from _halved(layout, unit, whole)


def _stacked(units: tuple[TextUnit, ...], stacking: str) -> Sequence[TextUnit]:
    """Units in the order in which they are painted."""
    if stacking == "back":
        return units[::-1]
    if stacking == "middle":
        middle = (units[0].first + units[-1].last) / 2
        return sorted(units, key=lambda u: -abs((u.first + u.last) / 2 - middle))
    return units


def _rolled(
    content: TextContent, layout: TextLayout, texts: Texts, unit: TextUnit, whole: UnitPiece
) -> Iterator[UnitPiece]:
    """A letter that comes up in a room as high as an em, and the earlier one, which goes before
    it."""
    box = layout.resting_box(unit.first, unit.last)
    line = layout.line_of(unit.first)
    if box is None or line is None:
        yield whole
        return
    left, _, right, _ = box
    high = content.style.largest_px
    top, bottom = line.baseline - _ROOM * high, line.baseline + (1 - _ROOM) * high
    middle = Affine.shift((left + right) / 2, (top + bottom) / 2)
    room = rectangle(right - left, high).mapped(middle)
    before = replace(content, text=content.earlier).layout(texts)
    gone = before.outline_between(unit.first, unit.last)
    earlier = tuple(replace(each, area=gone) for each in whole.painted[:1] if not gone.is_empty)
    for painted, by in ((earlier, -unit.rolled), (whole.painted, 1 - unit.rolled)):
        slid = Affine.shift(0.0, by * high)
        moved = tuple(replace(each, area=each.area.mapped(slid)) for each in painted)
        if moved:
            yield replace(whole, painted=moved, half=room)


def _halved(layout: TextLayout, unit: TextUnit, whole: UnitPiece) -> Iterator[UnitPiece]:
    """A unit whose halves are apart as two pieces, cut where small letters have their middle."""
    dx, dy = unit.look.apart
    if (dx, dy) == (0.0, 0.0) or layout.cell_places:
        yield whole
        return
    line = layout.line_of(unit.first)
    if line is None:
        yield whole
        return
    cut = line.baseline - _CUT * line.ascent
    left, top, right, bottom = whole.outline.bounds
    far = max(right - left, bottom - top) + 100.0
    for sign, high, low in ((1, min(top, cut) - far, cut), (-1, cut, max(bottom, cut) + far)):
        middle = Affine.shift((left + right) / 2, (high + low) / 2)
        half = rectangle(right - left + 2 * far, low - high).mapped(middle)
        slid = Affine.shift(sign * dx, sign * dy)
        yield replace(whole, place=_then(slid, whole.place), half=half)


def _of_unit(
    unit: TextUnit, dresses: list[Dress], layout: TextLayout, size_px: float
) -> Iterator[Painted]:
    look = unit.look
    for dress in dresses:
        if dress.first >= unit.last:
            return
        area = layout.outline_between(max(dress.first, unit.first), min(dress.last, unit.last))
        if area.is_empty:
            continue
        surface = dress.surface
        if look is not PLAIN:
            surface = surface.displaced(look.tint, look.tinted, look.filled, look.wider_px)
            surface = surface.drawing(look.drawn, max(2.0, PEN * size_px))
        yield Painted(area, _laid_over(dress, layout), surface)


def _laid_over(dress: Dress, layout: TextLayout) -> Box:
    if dress.across == "block":
        return layout.box
    return layout.outline_between(dress.first, dress.last).bounds


def _window(layout: TextLayout, unit: TextUnit) -> Outline | None:
    box = None if unit.window is None else layout.resting_box(*unit.window)
    if box is None:
        return None
    left, top, right, bottom = box
    middle = Affine.shift((left + right) / 2, (top + bottom) / 2)
    return rectangle(right - left, bottom - top).mapped(middle)


def _wipes(layout: TextLayout, unit: TextUnit) -> Iterator[tuple[Box, Wiped]]:
    for each in unit.wipes:
        ink = layout.outline_between(each.first, each.last)
        if each.wipe.shown < 1 and not ink.is_empty:
            yield ink.bounds, each


def unit_map(
    unit: TextUnit | Carrying, box: Box, turned_deg: float = 0.0, eye: Eye | None = None
) -> Affine | Projective:
    """Where a unit of a text is: moved, turned and scaled about the middle of its letters or about
    its own point, along and across a baseline that is turned so far."""
    place = unit.place
    if turned_deg:
        dx, dy = Affine.rotation(turned_deg)((place.dx, place.dy))
        place = place._replace(dx=dx, dy=dy)
    if unit.about is not None:
        return map_of(place, Frame(unit.about, (0.0, 0.0), turned_deg), eye)
    return map_of(place, Frame.of(box, turned_deg), eye)


def place_in(layout: TextLayout, unit: TextUnit, eye: Eye | None) -> Affine | Projective | None:
    """Where a unit of a set text is, with all that it lies within; None where nothing is seen."""
    there: Affine | Projective = Affine()
    chain: list[TextUnit | Carrying] = [unit, *unit.within]
    for each in chain:
        outline = layout.outline_between(each.first, each.last)
        if outline.is_empty:
            if each is unit:
                return None
            continue
        turned = layout.turned_deg(each.first, each.last)
        own = unit_map(each, outline.bounds, turned, eye)
        if not is_seen(own):
            return None
        there = own if each is unit else _then(there, own)
    return there


def _then(first: Affine | Projective, after: Affine | Projective) -> Affine | Projective:
    if isinstance(first, Affine) and isinstance(after, Affine):
        return after @ first
    return _projective(after) @ _projective(first)


def _projective(matrix: Affine | Projective) -> Projective:
    return Projective.of(matrix) if isinstance(matrix, Affine) else matrix
