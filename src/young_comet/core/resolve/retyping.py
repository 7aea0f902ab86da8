"""One text becoming another: letters of both travel, others leave and arrive; numbers count."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import replace
from difflib import SequenceMatcher
from itertools import zip_longest

from ..frame.contents import Content, DrawingContent, PartContent, TextContent, Texts, TextUnit
from ..frame.surface import Surface
from ..frame.units import UnitPlace
from ..geometry.affine import Affine, Box
from ..geometry.contours import contours_of, write_contours
from ..geometry.outline import rectangle
from ..typography.graphemes import Range
from ..typography.layout import TextLayout
from ..typography.units import units_of

# What leaves has left by here; what arrives begins here.
_LEFT, _BEGINS = 0.55, 0.45
# How far letters rise while they come and go, and how much of the time their turns are spread over.
_RISE_EM, _SPREAD = 0.4, 0.4
# Longer texts cross over as a whole.
_MOST_LETTERS = 400
_NUMBER = re.compile(r"(?P<lead>\D*?)(?P<number>-?\d[\d,]*(?:\.\d+)?)(?P<tail>\D*)")


def retyped(
    a: TextContent, b: TextContent, amount: float, texts: Texts
) -> tuple[Content, ...] | None:
    """What a text is on its way to another, the lowest first: the boxes behind them, the one, the
    other. None where there is nothing between them: other faces, paths, letters that are on a way
    of their own."""
    counted = _counted(a.text, b.text, amount)
    if counted is not None:
        # The same letters in all: one text.
        return _one(replace(a, text=counted), replace(b, text=counted), amount)
    bare = not (a.units or b.units or a.along or b.along)
    plain = not (a.earlier or b.earlier or a.others or b.others or a.cursor or b.cursor)
    style = a.style.between(b.style, amount)
    if style is None or not (bare and plain) or max(len(a.text), len(b.text)) > _MOST_LETTERS:
        return None
    surface = a.surface.between(b.surface, amount)
    first = replace(a, style=style, surface=surface or a.surface)
    second = replace(b, style=style, surface=surface or b.surface)
    boxes = _boxes(first, second, amount, texts)
    if boxes is None:
        return None
    first, second = replace(first, backings=()), replace(second, backings=())
    kept = _kept(a.text, b.text)
    places = first.layout(texts), second.layout(texts)
    size = style.largest_px
    goes = [_leaving(unit, amount, size, at) for at, unit in _rest(a.text, [p for p, _ in kept])]
    comes = [_arriving(unit, amount, size, at) for at, unit in _rest(b.text, [q for _, q in kept])]
    for one, other in kept:
        way = _between(places, one, other)
        there = UnitPlace(way[0] * amount, way[1] * amount)
        goes.append(TextUnit(*one, there))
        comes.append(TextUnit(*other, UnitPlace(opacity=0.0)))
    return (
        *boxes,
        replace(first, units=tuple(sorted(goes, key=_first))),
        replace(second, units=tuple(sorted(comes, key=_first))),
    )


def _boxes(
    a: TextContent, b: TextContent, amount: float, texts: Texts
) -> tuple[DrawingContent, ...] | None:
    """The boxes behind two texts, between them: each as wide as the way is far; what only one of
    them has grows from its begin. None where they are no counterparts."""
    if len(a.backings) != len(b.backings):
        return None
    layouts = a.layout(texts), b.layout(texts)
    words = units_of(a.text, "words"), units_of(b.text, "words")
    parts: list[PartContent] = []
    for one, other in zip(a.backings, b.backings, strict=True):
        mixed = Surface(one.paint).between(Surface(other.paint), amount)
        if mixed is None or one.skew_deg != other.skew_deg:
            return None
        found = [
            [outline.bounds for outline in each.boxes(layout, units)]
            for each, layout, units in zip((one, other), layouts, words, strict=True)
        ]
        radius = one.radius_px + (other.radius_px - one.radius_px) * amount
        for p, q in zip_longest(*found):
            left, top, right, foot = (
                u + (w - u) * amount for u, w in zip(p or _begin(q), q or _begin(p), strict=True)
            )
            high = foot - top
            lean = math.tan(math.radians(one.skew_deg))
            wide = max(0.0, right - left - abs(lean) * high)
            there = Affine.shift((left + right) / 2, (top + foot) / 2) @ Affine(c=-lean)
            outline = rectangle(wide, high, min(radius, wide / 2, high / 2)).mapped(there)
            parts.append(PartContent(write_contours(contours_of(outline)), mixed, 1.0))
    return (DrawingContent(tuple(parts)),) if parts else ()


def _begin(box: Box) -> Box:
    """A box that has not begun to grow."""
    return (box[0], box[1], box[0], box[3])


def _one(a: TextContent, b: TextContent, amount: float) -> tuple[TextContent, ...] | None:
    between = a.between(b, amount)
    return None if between is None else (between,)


def _first(unit: TextUnit) -> int:
    return unit.first


def _counted(a: str, b: str, amount: float) -> str | None:
    """The number between two texts that differ in one only, written as they are; None where they
    are no such texts.

    >>> _counted("Day 1", "Day 5", 0.5)
    'Day 3'
    """
    one, other = _NUMBER.fullmatch(a), _NUMBER.fullmatch(b)
    if one is None or other is None or max(len(a), len(b)) > 40:
        return None
    if (one["lead"], one["tail"]) != (other["lead"], other["tail"]):
        return None
    start, end = (float(each["number"].replace(",", "")) for each in (one, other))
    decimals = max(len(each["number"].partition(".")[2]) for each in (one, other))
    grouped = "," if "," in one["number"] or "," in other["number"] else ""
    value = start + (end - start) * amount
    digits = min(len(each["number"].lstrip("-").partition(".")[0]) for each in (one, other))
    zeros = digits if one["number"].startswith("0") or other["number"].startswith("0") else 1
    width = zeros + (decimals + 1 if decimals else 0) + (value < 0)
    number = f"{value:0{width}{grouped}.{decimals}f}"
    return f"{one['lead']}{number}{one['tail']}"


def _kept(a: str, b: str) -> list[tuple[Range, Range]]:
    """The letters of a text that another has too, in an order that both have."""
    one, other = units_of(a, "letters"), units_of(b, "letters")
    letters = [a[p:q] for p, q in one], [b[p:q] for p, q in other]
    found = []
    for block in SequenceMatcher(None, *letters, autojunk=False).get_matching_blocks():
        for step in range(block.size):
            found.append((one[block.a + step], other[block.b + step]))
    return found


def _rest(text: str, kept: Sequence[Range]) -> list[tuple[float, Range]]:
    """The other letters, each with how far (0..1) it is among them."""
    known = set(kept)
    rest = [unit for unit in units_of(text, "letters") if unit not in known]
    return [(at / max(1, len(rest) - 1), unit) for at, unit in enumerate(rest)]


def _leaving(unit: Range, amount: float, size: float, at: float) -> TextUnit:
    share = _turn(amount / _LEFT, at)
    return TextUnit(*unit, UnitPlace(dy=-_RISE_EM * size * share * share, opacity=1 - share))


def _arriving(unit: Range, amount: float, size: float, at: float) -> TextUnit:
    left = 1 - _turn((amount - _BEGINS) / (1 - _BEGINS), at)
    return TextUnit(*unit, UnitPlace(dy=_RISE_EM * size * left * left, opacity=1 - left))


def _turn(share: float, at: float) -> float:
    """How far one of several is that have their turns one after another."""
    return min(1.0, max(0.0, (share - _SPREAD * at) / (1 - _SPREAD)))


def _between(
    places: tuple[TextLayout, TextLayout], one: Range, other: Range
) -> tuple[float, float]:
    """The way from where a letter rests in a text to where it does in the other, px."""
    a, b = places[0].resting_box(*one), places[1].resting_box(*other)
    if a is None or b is None:
        return (0.0, 0.0)
    return ((b[0] + b[2] - a[0] - a[2]) / 2, (b[1] + b[3] - a[1] - a[3]) / 2)
