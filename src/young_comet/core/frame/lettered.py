"""A set text as the pieces that are painted: what each is, where, and as which surface."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from ..geometry.affine import Affine, Box
from ..geometry.outline import Outline
from ..geometry.projective import Projective
from ..typography.layout import TextLayout, box_outline
from ..typography.units import units_of
from .contents.base import Texts
from .contents.text import Dress, TextContent
from .contents.text_units import PLAIN, TextUnit, Wiped, then
from .surface import Surface

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
    """The boxes behind a text."""
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
    for index in _stacked(content.units, content.stacking):
        unit, place = content.units[index], content.place_of(index, layout)
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


def _stacked(units: tuple[TextUnit, ...], stacking: str) -> Sequence[int]:
    """Which units are painted, by their indices in that order."""
    order = range(len(units))
    if stacking == "back":
        return order[::-1]
    if stacking == "middle":
        middle = (units[0].first + units[-1].last) / 2
        return sorted(order, key=lambda k: -abs((units[k].first + units[k].last) / 2 - middle))
    return order


def _rolled(
    content: TextContent, layout: TextLayout, texts: Texts, unit: TextUnit, whole: UnitPiece
) -> Iterator[UnitPiece]:
    """A letter that comes up in a room as high as an em, and the earlier one, which goes before
    it."""
    box = layout.flat_box(unit.first, unit.last)
    line = layout.line_of(unit.first)
    if box is None or line is None:
        yield whole
        return
    high = content.style.largest_px
    top, bottom = line.baseline - _ROOM * high, line.baseline + (1 - _ROOM) * high
    into = layout.place_of(unit.first)
    room = box_outline((box[0], top, box[2], bottom)).mapped(into)
    before = replace(content, text=content.earlier).layout(texts)
    gone = before.outline_between(unit.first, unit.last)
    earlier = tuple(replace(each, area=gone) for each in whole.painted[:1] if not gone.is_empty)
    for painted, by in ((earlier, -unit.rolled), (whole.painted, 1 - unit.rolled)):
        slid = into @ Affine.shift(0.0, by * high) @ into.inverse()
        moved = tuple(replace(each, area=each.area.mapped(slid)) for each in painted)
        if moved:
            yield replace(whole, painted=moved, half=room)


def _halved(layout: TextLayout, unit: TextUnit, whole: UnitPiece) -> Iterator[UnitPiece]:
    """A unit whose halves are apart as two pieces, cut where small letters have their middle."""
    dx, dy = unit.look.apart
    line = layout.line_of(unit.first)
    if (dx, dy) == (0.0, 0.0) or line is None:
        yield whole
        return
    cut = line.baseline - _CUT * line.ascent
    left, top, right, bottom = whole.outline.bounds
    far = max(right - left, bottom - top) + 100.0
    turned = Affine.rotation(layout.turned_deg(unit.first, unit.last))
    for sign in (1, -1):
        if layout.cell_places:
            half = _half_along(layout, unit, cut, sign * far)
        else:
            ends = (min(top, cut) - far, cut) if sign > 0 else (cut, max(bottom, cut) + far)
            half = box_outline((left - far, ends[0], right + far, ends[1]))
        slid = Affine.shift(*turned((sign * dx, sign * dy)))
        if half is not None:
            yield replace(whole, place=then(slid, whole.place), half=half)


def _half_along(layout: TextLayout, unit: TextUnit, cut: float, far: float) -> Outline | None:
    """The upper halves of a unit's letters on a path, or the lower ones where ``far`` is less than
    0: as far as that from where they are cut, and wide enough to meet."""
    wider = abs(far) if unit.last - unit.first == 1 else 0.25 * (layout.height or abs(far))

    def half(box: Box) -> Box:
        ends = (min(box[1], cut) - far, cut) if far > 0 else (cut, max(box[3], cut) - far)
        return (box[0] - wider, ends[0], box[2] + wider, ends[1])

    return layout.form_of(unit.first, unit.last, half)


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
    if unit.window is None:
        return None
    if layout.cell_places and unit.window == (unit.first, unit.last):
        # A letter is as straight as it stands.
        return layout.form_of(unit.first, unit.last, lambda room: room)
    return layout.resting_form(*unit.window)


def _wipes(layout: TextLayout, unit: TextUnit) -> Iterator[tuple[Box, Wiped]]:
    for each in unit.wipes:
        ink = layout.outline_between(each.first, each.last)
        if each.wipe.shown < 1 and not ink.is_empty:
            yield ink.bounds, each
