"""The units of a text that moves and fronts go over, and the order in which they do."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

from ..frame.contents import TextContent
from ..geometry.trail import trail
from ..timing.spread import ranks
from ..typography.graphemes import Range
from ..typography.units import units_of
from .context import Resolver
from .letter_places import Middles, span_around

MAX_UNITS = 2000


def ordered(params: dict[str, Any], prefix: str = "") -> tuple[str, int]:
    """The order in which a front, or by "spread." a move, goes over units, with its seed."""
    return str(params.get(prefix + "order", "forward")), round(params.get("seed", 1))


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


def reached_at(
    evaluator: Resolver, content: TextContent, ranges: Sequence[Range], params: dict[str, Any]
) -> list[float]:
    """When a front reaches each unit."""
    order, seed = ordered(params)
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
