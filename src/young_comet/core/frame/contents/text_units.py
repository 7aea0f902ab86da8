"""Letters, words and lines of a text on their way: what each is, and where it is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from ...geometry.affine import Affine, Box, Point
from ...geometry.outline import Outline
from ...geometry.projective import Projective
from ...moves import Wipe
from ...pixels.colour import Rgba, mix
from ...typography.graphemes import Range
from ...typography.layout import TextLayout, box_about
from ..units import Eye, Frame, UnitPlace, is_seen, map_of, place_between


@dataclass(frozen=True)
class UnitLook:
    """How a unit on its way is painted otherwise: so much (0..1) of a tint, so much (0..1) of its
    fill, a stroke so much wider, px, blurred by a standard deviation in px. What is ``drawn`` of it
    (0..1) is first an outline that is drawn, then its fill. Its upper half is ``apart`` by so much,
    px, its lower half as much the other way."""

    tint: Rgba = (0.0, 0.0, 0.0, 1.0)
    tinted: float = 0.0
    filled: float = 1.0
    wider_px: float = 0.0
    blur_px: float = 0.0
    drawn: float = 1.0
    apart: Point = (0.0, 0.0)

    def between(self, other: UnitLook, amount: float) -> UnitLook:
        """A mixture."""

        def at(p: float, q: float) -> float:
            return p + (q - p) * amount

        tint = mix(self.tint, other.tint, amount)
        if not self.tinted or not other.tinted:
            tint = self.tint if self.tinted else other.tint
        return UnitLook(
            tint, at(self.tinted, other.tinted), at(self.filled, other.filled),
            at(self.wider_px, other.wider_px), at(self.blur_px, other.blur_px),
            at(self.drawn, other.drawn),
            (at(self.apart[0], other.apart[0]), at(self.apart[1], other.apart[1])),
        )  # fmt: skip


PLAIN = UnitLook()


@dataclass(frozen=True)
class Carrying:
    """A larger unit (characters, the last excluded) on its way, which takes smaller ones along."""

    first: int
    last: int
    place: UnitPlace
    about: Point | None = None


@dataclass(frozen=True)
class Wiped:
    """What a wipe has come to over the box of some characters (the last excluded) at rest."""

    first: int
    last: int
    wipe: Wipe


@dataclass(frozen=True)
class TextUnit:
    """A letter, word or line of a text, as its characters (first, one after the last), on its
    way; ``scrambled`` ones are other letters. It turns about a point of the text (``about``), or
    else about its own middle, and goes along with what it lies ``within``, the innermost first. It
    is seen where the characters of its ``window`` rest, and as far as ``wipes`` that it takes along
    show it. What is ``rolled`` so far (0..1) comes up in place of an earlier letter, which goes."""

    first: int
    last: int
    place: UnitPlace
    scrambled: float = 0.0
    look: UnitLook = PLAIN
    about: Point | None = None
    within: tuple[Carrying, ...] = ()
    window: Range | None = None
    wipes: tuple[Wiped, ...] = ()
    rolled: float = 1.0

    @property
    def is_gone(self) -> bool:
        """Whether nothing of it is seen, wherever it is."""
        if self.place.opacity <= 0 or not (self.place.sx and self.place.sy):
            return True
        return any(each.wipe.shown <= 0 for each in self.wipes)

    def at_rest(self) -> TextUnit:
        """The same unit where it rests."""
        within = tuple(replace(each, place=UnitPlace()) for each in self.within)
        return TextUnit(self.first, self.last, UnitPlace(), about=self.about, within=within)

    def between(self, other: TextUnit, amount: float) -> TextUnit | None:
        """A mixture; None where they are not carried by the same."""
        spans = [[(c.first, c.last) for c in unit.within] for unit in (self, other)]
        if spans[0] != spans[1]:
            return None
        within = tuple(
            replace(a, place=place_between(a.place, b.place, amount))
            for a, b in zip(self.within, other.within, strict=True)
        )
        scrambled = self.scrambled + (other.scrambled - self.scrambled) * amount
        place = place_between(self.place, other.place, amount)
        look = self.look.between(other.look, amount)
        window = self.window if other.window is None else other.window
        wipes = _wipes_between(self.wipes, other.wipes, amount)
        rolled = self.rolled + (other.rolled - self.rolled) * amount
        return TextUnit(
            self.first, self.last, place, scrambled, look, self.about, within, window, wipes, rolled
        )


def _wipes_between(a: tuple[Wiped, ...], b: tuple[Wiped, ...], amount: float) -> tuple[Wiped, ...]:
    """Wipes between two states; where only one has them, the other is shown whole."""
    if not a or not b:
        share = amount if b else 1 - amount
        return tuple(
            replace(each, wipe=replace(each.wipe, shown=1 + (each.wipe.shown - 1) * share))
            for each in a or b
        )
    if len(a) != len(b):
        return b if amount >= 0.5 else a
    return tuple(
        replace(
            q, wipe=replace(q.wipe, shown=p.wipe.shown + (q.wipe.shown - p.wipe.shown) * amount)
        )
        for p, q in zip(a, b, strict=True)
    )


def unit_map(
    unit: TextUnit | Carrying, outline: Outline, turned_deg: float = 0.0, eye: Eye | None = None
) -> Affine | Projective:
    """Where a unit of a text is: moved, turned and scaled about the middle of its letters or about
    its own point, along and across a baseline that is turned so far."""
    place = unit.place
    if turned_deg:
        dx, dy = Affine.rotation(turned_deg)((place.dx, place.dy))
        place = place._replace(dx=dx, dy=dy)
    if unit.about is not None:
        return map_of(place, Frame(unit.about, (0.0, 0.0), turned_deg), eye)
    if not turned_deg:
        return map_of(place, Frame.of(outline.bounds), eye)
    along = Affine.rotation(-turned_deg)
    flat = Frame.of(outline.mapped(along).bounds)
    return map_of(place, Frame(along.inverse()(flat.middle), flat.half, turned_deg), eye)


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
        own = unit_map(each, outline, turned, eye)
        if not is_seen(own):
            return None
        there = own if each is unit else then(there, own)
    return there


def then(first: Affine | Projective, after: Affine | Projective) -> Affine | Projective:
    """A map, and another after it."""
    if isinstance(first, Affine) and isinstance(after, Affine):
        return after @ first
    return _projective(after) @ _projective(first)


def _projective(matrix: Affine | Projective) -> Projective:
    return Projective.of(matrix) if isinstance(matrix, Affine) else matrix


def box_of_units(
    placed: Iterable[tuple[TextUnit, Affine | Projective]], layout: TextLayout, size_px: float,
    edge_px: float,
) -> Box | None:  # fmt: skip
    """What units of a text may be seen in, each with its place, px of its layer; ``edge_px`` is how
    far what is painted reaches beyond their outlines. None where one of them comes near the eye."""
    boxes = []
    for unit, place in placed:
        left, top, right, bottom = layout.outline_between(unit.first, unit.last).bounds
        look = unit.look
        by = edge_px + 2 * max(0.0, look.wider_px) + max(map(abs, look.apart))
        if look.drawn < 1:
            by += 2 + 0.05 * size_px
        if unit.rolled < 1:  # the digit that goes and the one that comes have a room of their own
            by += size_px
        own = (left - by, top - by, right + by, bottom + by)
        if isinstance(place, Projective):
            corners = [(x, y) for x in (own[0], own[2]) for y in (own[1], own[3])]
            if not place.in_front(own):
                return None
            xs, ys = zip(*map(place, corners), strict=True)
            there = (min(xs), min(ys), max(xs), max(ys))
            larger = place.scales(((own[0] + own[2]) / 2, (own[1] + own[3]) / 2))[0]
        else:
            there, larger = place.box(own), place.max_scale
        soft = 3 * look.blur_px * max(1.0, larger)
        boxes.append((there[0] - soft, there[1] - soft, there[2] + soft, there[3] + soft))
    return box_about(boxes) if boxes else (0.0, 0.0, 0.0, 0.0)
