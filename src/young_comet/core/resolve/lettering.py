"""What moves and fronts do to the letters of a text: where each is, how it is set and painted."""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any

import numpy as np

from ..catalog import FRONTS
from ..frame.contents import PLAIN, Carrying, TextContent, TextUnit, UnitLook, Wiped
from ..frame.units import UnitPlace, place_of
from ..geometry.affine import Point
from ..geometry.trail import trail
from ..moves import REST, TEXT_UNITS, Moment, Pose, Wipe
from ..pixels.colour import Rgba, mix
from ..timing.spread import ranks, settled
from ..typography.graphemes import Range
from ..typography.style import Letters, Stretch, TextStyle
from ..typography.units import units_of
from .context import Resolver
from .letter_places import Middles, Pivots, Windows, span_around
from .moves import Worn, moment_of, worn
from .values import LayerValues

_CAPITALS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
MAX_UNITS = 2000
# From the smallest to the largest.
_NESTED = ("letters", "words", "runs", "lines")


@dataclass
class _Unit:
    """What is done to a unit altogether."""

    pose: Pose = REST
    skew: Point = (0.0, 0.0)
    look: UnitLook = PLAIN
    pivot: str = "middle"
    seen: str = "everywhere"
    wipe: Wipe | None = None
    rolled: float = 1.0

    @property
    def rests(self) -> bool:
        still = self.pose == REST and self.skew == (0.0, 0.0) and self.rolled == 1
        return still and self.look is PLAIN and self.wipe is None


@dataclass
class _Set:
    """How letters are set otherwise: what is added to their style."""

    weight: float = 0.0
    width: float = 0.0
    slant: float = 0.0
    tracking: float = 0.0
    raised: float = 0.0
    size: float = 1.0

    def of(self, letters: Letters) -> Letters:
        """Letters with it; in steps that nobody sees, so that what is drawn can be kept."""
        return replace(
            letters,
            weight=float(round(min(1000.0, max(1.0, letters.weight + self.weight)))),
            width=round(max(1.0, letters.width + self.width) * 2) / 2,
            slant_deg=round(min(75.0, max(-75.0, letters.slant_deg + self.slant)), 2),
            tracking=letters.tracking + self.tracking,
            raised=letters.raised + self.raised,
            size_px=max(0.01, letters.size_px * self.size),
        )


@dataclass
class _Found:
    """What was found of a text: its units on their way, by what they are, and letters set
    otherwise."""

    units: dict[str, dict[Range, _Unit]] = field(default_factory=dict)
    set: dict[Range, _Set] = field(default_factory=dict)
    boxes: dict[Range, float] = field(default_factory=dict)
    cursor: bool = False

    def unit(self, by: str, span: Range) -> _Unit:
        return self.units.setdefault(by, {}).setdefault(span, _Unit())


def lettered(evaluator: Resolver, v: LayerValues, content: TextContent) -> TextContent:
    """A text with its letters, words, lines and runs where moves and fronts have them."""
    found = _Found()
    if v.moved:
        _moved(evaluator, v, content, found)
        _fronted(evaluator, v, content, found)
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


def _moved(evaluator: Resolver, v: LayerValues, content: TextContent, found: _Found) -> None:
    for each in worn(evaluator, v):
        if each.over not in TEXT_UNITS:
            continue
        ranges = ranges_of(evaluator, content, each.over)
        at = ranks(len(ranges), *_ordered(each.params, "spread."))
        moments = unit_moments(evaluator, v, each, content, ranges)
        for nth, (span, moment) in enumerate(zip(ranges, moments, strict=True)):
            pose = each.pose(moment, at[nth], len(ranges))
            found.cursor = found.cursor or pose.cursor
            if pose != REST:
                _pose(found.unit(each.over, span), pose)
            if pose.tracking:
                found.set.setdefault(span, _Set()).tracking += pose.tracking
    # What draws the whole layer draws its lines at once.
    drawn = evaluator.pose(v).drawn if v.moved else 1.0
    if drawn < 1:
        for span in ranges_of(evaluator, content, "lines"):
            unit = found.unit("lines", span)
            unit.look = replace(unit.look, drawn=unit.look.drawn * drawn)


def _pose(unit: _Unit, pose: Pose) -> None:
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
        box = layout.resting_box(first, last) if layout is not None else None
        if box is not None:
            size = (box[2] - box[0], box[3] - box[1])
        found.append(replace(base, nth=nth, size=size, em=em))
    return found


def _ordered(params: dict[str, Any], prefix: str = "") -> tuple[str, int]:
    return str(params.get(prefix + "order", "forward")), round(params.get("seed", 1))


# Fronts


def _fronted(evaluator: Resolver, v: LayerValues, content: TextContent, found: _Found) -> None:
    for front in v.layer.fronts:
        if not front.on:
            continue
        progress = v(FRONTS.prefix(front.id) + "progress") / 100
        if progress >= 1:
            continue
        params = v.own(FRONTS, front)
        pairs = (params["offset"], params["scale"], params["skew"], params["apart"])
        poses = any(params[name] for name in _POSED) or any(any(pair) for pair in pairs)
        by = params["by"]
        ranges = ranges_of(evaluator, content, by)
        at = _reached(evaluator, content, ranges, params)
        profile = evaluator.easing(params["profile"])
        sets = any(params[name] for name in _SET)
        for span, rank in zip(ranges, at, strict=True):
            away = 1 - settled(progress, rank, len(ranges), params["width"], profile)
            if away:
                if sets:
                    _resize(found.set.setdefault(span, _Set()), away, params)
                if poses:
                    _displace(found.unit(by, span), away, params)
                if params["box"]:
                    grown = min(1.0, max(0.0, 1 + away * params["box"] / 100))
                    found.boxes[span] = found.boxes.get(span, 1.0) * grown


_SET = ("weight", "width-axis", "slant", "tracking", "raised", "size")
_POSED = (
    "rotation", "tilt", "turn", "opacity", "blur", "fill", "tint", "outline", "others", "wiped",
    "undrawn", "way",
)  # fmt: skip


def _resize(own: _Set, away: float, params: dict[str, Any]) -> None:
    """Letters that are so far (0..1, beyond where they overshoot) from rest, set otherwise."""
    own.weight += away * params["weight"]
    own.width += away * params["width-axis"]
    own.slant += away * params["slant"]
    own.tracking += away * params["tracking"]
    own.raised += away * params["raised"]
    own.size *= max(0.0, 1 + away * params["size"] / 100)


def _displace(unit: _Unit, away: float, params: dict[str, Any]) -> None:
    """A unit that is so far from rest."""
    pairs = (params["offset"], params["scale"], params["skew"])
    (dx, dy), (sx, sy), (kx, ky) = pairs
    unit.pose = unit.pose.then(
        Pose(
            offset=(away * dx, away * dy),
            rotation_deg=away * params["rotation"],
            scale=(max(0.0, 1 + away * sx / 100), max(0.0, 1 + away * sy / 100)),
            opacity=min(1.0, max(0.0, 1 + away * params["opacity"] / 100)),
            tilt_deg=away * params["tilt"],
            turn_deg=away * params["turn"],
            scrambled=min(1.0, max(0.0, away * params["others"] / 100)),
        )
    )
    if params["way"]:
        unit.pose = unit.pose.then(Pose(offset=_on_its_way(params["way"], away)))
    unit.skew = (unit.skew[0] + away * kx, unit.skew[1] + away * ky)
    if params["pivot"] != "middle":
        unit.pivot = params["pivot"]
    if params["seen"] != "everywhere":
        unit.seen = params["seen"]
    if away * params["wiped"] > 0:
        shown = max(0.0, 1 - away * params["wiped"] / 100)
        unit.wipe = Wipe(params["wipe"], shown, params["wipe-angle"], params["wipe-soft"])
    unit.look = _look(unit.look, away, params)


def _on_its_way(path: str, away: float) -> Point:
    """How far from its end one is on a path that is so far from there; beyond, where it overshoots,
    straight on."""
    way = trail(path)
    if way.is_empty:
        return (0.0, 0.0)
    ends, _ = way.at(np.array([way.length * (1 - away), way.length]))
    x, y = ends[0] - ends[1]
    return (float(x), float(y))


def _look(look: UnitLook, away: float, params: dict[str, Any]) -> UnitLook:
    blur, tint = max(0.0, away * params["blur"]), min(1.0, max(0.0, away * params["tint"] / 100))
    fill = min(1.0, max(0.0, 1 + away * params["fill"] / 100))
    outline = away * params["outline"]
    undrawn = min(1.0, max(0.0, away * params["undrawn"] / 100))
    ax, ay = params["apart"]
    apart = (away * ax, away * ay)
    if not (blur or tint or outline or undrawn or any(apart)) and fill == 1:
        return look
    colour: Rgba = params["colour"]
    whole = 1 - (1 - look.tinted) * (1 - tint)
    mixed = mix(look.tint, colour, tint / whole) if whole and look.tinted else colour
    return UnitLook(
        mixed, whole, look.filled * fill, look.wider_px + outline,
        (look.blur_px**2 + blur**2) ** 0.5, look.drawn * (1 - undrawn),
        (look.apart[0] + apart[0], look.apart[1] + apart[1]),
    )  # fmt: skip


# Units


def ranges_of(evaluator: Resolver, content: TextContent, by: str) -> Sequence[Range]:
    """The units of a text: lines as they are broken, runs as they are styled."""
    if by == "lines":
        lines = evaluator.set_text(content).lines
        spans = ((line.first, line.last) for line in lines)
        return [(a, b) for a, b in spans if content.text[a:b].strip()]
    if by == "runs":
        return _runs(content)
    return units_of(content.text, by)[:MAX_UNITS]


def _runs(content: TextContent) -> list[Range]:
    """The stretches of one style, without blanks at their ends."""
    length = len(content.text)
    cuts = {0, length}
    for each in content.style.runs:
        cuts |= {min(each.first, length), min(each.last, length)}
    for dress in content.dresses:
        cuts |= {min(dress.first, length), min(dress.last, length)}
    ordered = sorted(cuts)
    found = []
    for a, b in pairwise(ordered):
        inner = content.text[a:b]
        if inner.strip():
            first = a + len(inner) - len(inner.lstrip())
            found.append((first, first + len(inner.strip())))
    return found


def _reached(
    evaluator: Resolver, content: TextContent, ranges: Sequence[Range], params: dict[str, Any]
) -> list[float]:
    """When a front reaches each unit."""
    order, seed = _ordered(params)
    by: list[float] | None = None
    if order == "long":
        order, by = "by-place", _lengths(content.text, ranges)
    elif order == "by-place":
        about = Middles(evaluator.set_text(content))
        by = [about(span, span)[0] for span in ranges]
    elif order == "path":
        about = Middles(evaluator.set_text(content))
        places = [about(span, span) for span in ranges]
        order, by = "by-place", trail(params["path"]).nearest(places)
    return ranks(len(ranges), order, seed, by)


def _lengths(text: str, ranges: Sequence[Range]) -> list[float]:
    """How long each unit is; a letter counts as its word."""
    words = units_of(text, "words")
    found = []
    for span in ranges:
        first, last = span_around(words, span[0]) or span
        found.append(float(max(last - first, span[1] - span[0])))
    return found


def _made(
    evaluator: Resolver, content: TextContent, units: dict[str, dict[Range, _Unit]]
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
        unit = own.get(span, _Unit())
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


def _wiped(span: Range, unit: _Unit) -> Iterator[Wiped]:
    if unit.wipe is not None:
        yield Wiped(*span, unit.wipe)


def _place(unit: _Unit) -> UnitPlace:
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


def _style(style: TextStyle, found: _Found) -> TextStyle:
    """The style with letters that are set otherwise."""
    if not found.set:
        return style
    worn: dict[int, _Set] = {}
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


def _sum(a: _Set, b: _Set) -> _Set:
    return _Set(
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
