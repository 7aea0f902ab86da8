"""In which direction letters run: the levels of the bidirectional algorithm (UAX 9), by ICU."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from functools import lru_cache
from itertools import groupby

_RIGHT = frozenset(("R", "AL", "AN", "RLE", "RLO", "RLI"))
_BLANK = frozenset(("WS", "S", "BN", "LRI", "RLI", "FSI", "PDI"))
# The time for pairs of brackets grows with their square; longer texts than this run one way.
_MOST = 20_000


def runs_left(line: str) -> bool:
    """Whether anything in it runs from the right."""
    return not line.isascii() and any(unicodedata.bidirectional(c) in _RIGHT for c in line)


@lru_cache(maxsize=512)
def levels(line: str) -> tuple[int, tuple[int, ...]]:
    """The base level of a paragraph, by its first strong letter, and the level of each character:
    even ones run from the left, odd ones from the right. Characters that only steer have the level
    of what is before them."""
    if not runs_left(line) or len(line) > _MOST:
        return 0, (0,) * len(line)
    import icu  # thirty megabytes, for those alone who write from the right

    paragraph = icu.Bidi()
    paragraph.setPara(icu.UnicodeString(line))
    of_units = iter(paragraph.getLevels())
    # ICU counts units of UTF-16: letters beyond the first plane have two.
    found = []
    for letter in line:
        found.append(next(of_units))
        if ord(letter) > 0xFFFF:
            next(of_units)
    return paragraph.getParaLevel(), tuple(found)


def of_line(line: str, base: int, found: Sequence[int]) -> list[int]:
    """The levels of a line that was broken off: blanks at its end have the base level (L1)."""
    result = list(found)
    for index in range(len(line) - 1, -1, -1):
        if unicodedata.bidirectional(line[index]) not in _BLANK:
            break
        result[index] = base
    return result


def in_order(found: Sequence[int]) -> list[int]:
    """The numbers of pieces with these levels in the order in which they are seen, from the left
    (L2)."""
    order = list(range(len(found)))
    if not found:
        return order
    odd = min((level for level in found if level % 2), default=max(found) + 1)
    for level in range(max(found), odd - 1, -1):
        turned: list[int] = []
        for high, piece in groupby(order, lambda n, level=level: found[n] >= level):  # type: ignore[misc]
            part = list(piece)
            turned += reversed(part) if high else part
        order = turned
    return order
