"""Where stretches of a set text rest: their middles, what they turn about, where they are seen."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence

from ..frame.contents import TextContent
from ..geometry.affine import Point
from ..typography.graphemes import Range
from ..typography.layout import TextLayout
from ..typography.units import units_of
from .context import Resolver

# The middle of a line's letters lies so far above its baseline, in parts of the size.
_MIDDLE = 0.36


def span_around(spans: Sequence[Range], index: int) -> Range | None:
    """The one of some spans, in order, that a character lies in."""
    at = bisect_right(spans, index, key=lambda span: span[0]) - 1
    return spans[at] if at >= 0 and index < spans[at][1] else None


class Middles:
    """Where stretches of a set text have their middle, or stand; what was asked is kept."""

    def __init__(self, layout: TextLayout) -> None:
        self._layout = layout
        self._cells = sorted(
            ((cell, line) for line in layout.lines for cell in line.cells),
            key=lambda each: each[0].first,
        )
        self._known: dict[tuple[Range, bool], Point] = {}

    def __call__(self, span: Range, whole: Range, foot: bool = False) -> Point:
        """The middle of the letters of ``whole``, or where they stand (``foot``). On a path it is
        where the letters of ``span`` have it."""
        key = (whole, foot)
        if key not in self._known:
            self._known[key] = self._flat(whole, foot)
        into = self._layout.cell_places.get(span[0])
        return into(self._known[key]) if into is not None else self._known[key]

    def _flat(self, whole: Range, foot: bool) -> Point:
        first = bisect_left(self._cells, whole[0], key=lambda each: each[0].first)
        last = bisect_left(self._cells, whole[1], key=lambda each: each[0].first)
        found = self._cells[first:last]
        if not found:
            return (0.0, 0.0)
        left = min(cell.left for cell, _ in found)
        right = max(cell.right for cell, _ in found)
        lines = {id(line): line for _, line in found}.values()
        heights = [
            line.baseline if foot else line.baseline - _MIDDLE * line.ascent for line in lines
        ]
        return ((left + right) / 2, sum(heights) / len(heights))


class Pivots:
    """What the units of a text turn about."""

    def __init__(self, evaluator: Resolver, content: TextContent) -> None:
        layout = evaluator.set_text(content)
        self._middles = Middles(layout)
        self._whole = (0, len(content.text))
        self._within = {
            "word": units_of(content.text, "words"),
            "line": [(line.first, line.last) for line in layout.lines],
        }

    def __call__(self, span: Range, pivot: str) -> Point | None:
        """None for a unit's own middle."""
        if pivot == "middle":
            return None
        whole = span
        if pivot == "block":
            whole = self._whole
        elif pivot in self._within:
            whole = span_around(self._within[pivot], span[0]) or span
        return self._middles(span, whole, foot=pivot == "baseline")


class Windows:
    """Where units on their way are seen, as the characters that rest there."""

    def __init__(self, evaluator: Resolver, content: TextContent) -> None:
        self._evaluator, self._content = evaluator, content
        self._spans: dict[str, Sequence[Range]] = {}

    def __call__(self, span: Range, seen: str) -> Range | None:
        """None for everywhere."""
        if seen == "everywhere":
            return None
        return span if seen == "own" else span_around(self._of(seen), span[0]) or span

    def _of(self, seen: str) -> Sequence[Range]:
        if seen not in self._spans:
            if seen == "word":
                self._spans[seen] = units_of(self._content.text, "words")
            else:
                lines = self._evaluator.set_text(self._content).lines
                self._spans[seen] = [(line.first, line.last) for line in lines]
        return self._spans[seen]
