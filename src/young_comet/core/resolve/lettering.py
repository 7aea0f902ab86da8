"""What moves and fronts do to the letters of a text: where each is, how it is set and painted."""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from dataclasses import replace

from ..frame.contents import PLAIN, Carrying, TextContent, TextUnit, UnitLook, Wiped
from ..frame.units import UnitPlace, place_of
from ..moves import REST, TEXT_UNITS, Moment, Pose
from ..pixels.colour import mix
from ..timing.spread import ranks
from ..typography.graphemes import Range
from ..typography.style import Stretch, TextStyle
from .context import Resolver
from .fronts import fronted
from .letter_places import Pivots, Windows, span_around
from .letter_units import ordered, ranges_of
from .letter_ways import Found, OnItsWay, SetOtherwise
from .moves import Worn, moment_of, worn
from .values import LayerValues

_CAPITALS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
# From the smallest to the largest.
_NESTED = ("letters", "words", "runs", "lines")


def lettered(evaluator: Resolver, v: LayerValues, content: TextContent) -> TextContent:
    """A text with its letters, words, lines and runs where moves and fronts have them."""
    found = Found()
    if v.moved:
        _moved(evaluator, v, content, found)
        fronted(evaluator, v, content, found)
    for index in range(len(content.earlier)):
        if content.earlier[index] != content.text[index]:
            found.unit("letters", (index, index + 1)).rolled = content.rolled
    style = _style(content.style, found)
    if style is not content.style:
        content = replace(content, style=style)
    if found.boxes and content.backings:
        reached = tuple((*span, share) for span, share in sorted(found.boxes.items()))
        behind = tuple(replace(each, reached=reached) for each in content.backings)
        content = replace(content, backings=behind)
    units = {
        by: spans
        for by, spans in found.units.items()
        if any(not unit.rests for unit in spans.values())
    }
    if not units:
        return content
    made = _made(evaluator, content, units)
    places = [unit.place for unit in made] + [c.place for unit in made for c in unit.within]
    eye = evaluator.places.eye_of(v) if any(place.in_space for place in places) else None
    others = ""
    if any(unit.scrambled > 0 for unit in made):
        others = scrambled_text(content.text, made, v.local_s)
    return replace(content, others=others, units=made, cursor=found.cursor, eye=eye)


# Moves


def _moved(evaluator: Resolver, v: LayerValues, content: TextContent, found: Found) -> None:
    for each in worn(evaluator, v):
        if each.over not in TEXT_UNITS:
            continue
        ranges = ranges_of(evaluator, content, each.over)
        at = ranks(len(ranges), *ordered(each.params, "spread."))
        moments = unit_moments(evaluator, v, each, content, ranges)
        for nth, (span, moment) in enumerate(zip(ranges, moments, strict=True)):
            pose = each.pose(moment, at[nth], len(ranges))
            found.cursor = found.cursor or pose.cursor
            if pose != REST:
                _pose(found.unit(each.over, span), pose)
            if pose.tracking:
                found.set.setdefault(span, SetOtherwise()).tracking += pose.tracking
    # What draws the whole layer draws its lines at once.
    drawn = evaluator.pose(v).drawn if v.moved else 1.0
    if drawn < 1:
        for span in ranges_of(evaluator, content, "lines"):
            unit = found.unit("lines", span)
            unit.look = replace(unit.look, drawn=unit.look.drawn * drawn)


def _pose(unit: OnItsWay, pose: Pose) -> None:
    """A unit that a move has in a pose."""
    unit.pose = unit.pose.then(pose)
    if pose.blur_px or pose.drawn < 1:
        drawn = unit.look.drawn * pose.drawn
        unit.look = replace(unit.look, blur_px=unit.pose.blur_px, drawn=drawn)
    if pose.clipped:
        unit.seen = "own"
    if pose.wipe is not None and pose.wipe.shown < 1:
        unit.wipe = pose.wipe


def unit_moments(
    evaluator: Resolver, v: LayerValues, each: Worn, content: TextContent, ranges: Sequence[Range]
) -> list[Moment]:
    """What a move may know of each of the units of a text that it goes over."""
    base = moment_of(evaluator, v, each, 0, len(ranges))
    em, leading = content.style.size_px, content.style.leading
    # What comes from behind its own edge must be hidden by it: its size is measured then.
    edged = each.params.get("start") == "edge"
    layout = evaluator.set_text(content) if edged else None
    found = []
    for nth, (first, last) in enumerate(ranges):
        size = (em * 0.62 * (last - first), em * leading / 100)
        if each.over == "lines":
            size = (base.size[0] or size[0], size[1])
        box = layout.flat_box(first, last) if layout is not None else None
        if box is not None:
            size = (box[2] - box[0], box[3] - box[1])
        found.append(replace(base, nth=nth, size=size, em=em))
    return found


# Units


def _made(
    evaluator: Resolver, content: TextContent, units: dict[str, dict[Range, OnItsWay]]
) -> tuple[TextUnit, ...]:
    """The units on their way. Where some are of letters and some of words, each letter goes along
    with its word."""
    kinds = [by for by in _NESTED if by in units]
    smallest = kinds[0] if len(kinds) == 1 else "letters"
    pivots = {u.pivot for spans in units.values() for u in spans.values()}
    pivot = Pivots(evaluator, content) if pivots != {"middle"} else None
    own = units.get(smallest, {})
    outer = [(by, sorted(units[by])) for by in kinds if by != smallest]
    windows = Windows(evaluator, content)
    spans = own.keys() if not outer else set(ranges_of(evaluator, content, smallest))
    made = []
    for span in sorted(spans):
        unit = own.get(span, OnItsWay())
        carried: list[Carrying] = []
        look, opacity, scrambled = unit.look, unit.pose.opacity, unit.pose.scrambled
        window, wipes = windows(span, unit.seen), list(_wiped(span, unit))
        for by, larger in outer:
            around = span_around(larger, span[0])
            if around is None:
                continue
            carrier = units[by][around]
            about = pivot(around, carrier.pivot) if pivot is not None else None
            carried.append(Carrying(*around, _place(carrier), about))
            look = _both(look, carrier.look)
            window = window or windows(around, carrier.seen)
            wipes += _wiped(around, carrier)
            opacity *= carrier.pose.opacity
            scrambled = max(scrambled, carrier.pose.scrambled)
        if unit.rests and not carried:
            continue
        place = _place(unit)._replace(opacity=min(1.0, max(0.0, opacity)))
        about = pivot(span, unit.pivot) if pivot is not None else None
        made.append(
            TextUnit(
                *span,
                place,
                scrambled,
                look,
                about,
                tuple(carried),
                window,
                tuple(wipes),
                unit.rolled,
            )
        )
    return tuple(made)


def _wiped(span: Range, unit: OnItsWay) -> Iterator[Wiped]:
    if unit.wipe is not None:
        yield Wiped(*span, unit.wipe)


def _place(unit: OnItsWay) -> UnitPlace:
    place = place_of(unit.pose)
    return place._replace(skew_x=unit.skew[0], skew_y=unit.skew[1]) if any(unit.skew) else place


def _both(one: UnitLook, other: UnitLook) -> UnitLook:
    if one is PLAIN or other is PLAIN:
        return other if one is PLAIN else one
    whole = 1 - (1 - one.tinted) * (1 - other.tinted)
    tint = mix(one.tint, other.tint, other.tinted / whole) if whole else one.tint
    return UnitLook(
        tint, whole, one.filled * other.filled, one.wider_px + other.wider_px,
        (one.blur_px**2 + other.blur_px**2) ** 0.5, one.drawn * other.drawn,
        (one.apart[0] + other.apart[0], one.apart[1] + other.apart[1]),
    )  # fmt: skip


# Letters


def _style(style: TextStyle, found: Found) -> TextStyle:
    """The style with letters that are set otherwise."""
    if not found.set:
        return style
    worn: dict[int, SetOtherwise] = {}
    for (first, last), each in found.set.items():
        for index in range(first, last):
            before = worn.get(index)
            worn[index] = each if before is None else _sum(before, each)
    runs = [(run.first, run.last) for run in style.runs]
    letters = {span: run.letters for span, run in zip(runs, style.runs, strict=True)}
    varied: list[Stretch] = []
    for index in sorted(worn):
        around = span_around(runs, index)
        base = style.letters if around is None else letters[around]
        varied.append(Stretch(index, index + 1, worn[index].of(base)))
    return replace(style, varied=tuple(varied))


def _sum(a: SetOtherwise, b: SetOtherwise) -> SetOtherwise:
    return SetOtherwise(
        a.weight + b.weight, a.width + b.width, a.slant + b.slant, a.tracking + b.tracking,
        a.raised + b.raised, a.size * b.size,
    )  # fmt: skip


def scrambled_text(text: str, units: tuple[TextUnit, ...], time_s: float) -> str:
    """Letters that have not settled yet are others, new ones some times a second."""
    letters = list(text)
    step = int(time_s * 14)
    for unit in units:
        for index in range(unit.first, min(unit.last, len(letters))):
            if unit.scrambled > 0 and letters[index].isalnum():
                chance = random.Random(index * 7919 + step)
                letter = chance.choice(_CAPITALS)
                letters[index] = letter if letters[index].isupper() else letter.lower()
    return "".join(letters)
