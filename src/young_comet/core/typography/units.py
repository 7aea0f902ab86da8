"""The units of a text: its letters, words and lines, as ranges of characters."""

from __future__ import annotations

import re
from functools import lru_cache

from .graphemes import Range, graphemes

_WORD = re.compile(r"\S+")
_LINE = re.compile(r"[^\n]+")


@lru_cache(maxsize=512)
def units_of(text: str, by: str) -> tuple[Range, ...]:
    """Ranges (first, one after the last) of letters, words or lines in their order; white space
    belongs to none. A letter is a grapheme cluster: it has its combining marks with it.

    >>> units_of("Go on", "words")
    ((0, 2), (3, 5))
    """
    if by == "lines":
        return tuple(m.span() for m in _LINE.finditer(text) if m[0].strip())
    if by == "words":
        return tuple(m.span() for m in _WORD.finditer(text))
    return tuple((a, b) for a, b in graphemes(text) if not text[a:b].isspace())
