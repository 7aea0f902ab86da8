"""What a person calls one letter: extended grapheme clusters (Unicode UAX 29)."""

from __future__ import annotations

from functools import lru_cache

import regex

Range = tuple[int, int]
_CLUSTER = regex.compile(r"\X")


@lru_cache(maxsize=512)
def graphemes(text: str) -> tuple[Range, ...]:
    """The clusters of a text as ranges of characters (first, one after the last).

    >>> graphemes("e\\u0301 a")
    ((0, 2), (2, 3), (3, 4))
    """
    if text.isascii() and "\r" not in text:
        return tuple((index, index + 1) for index in range(len(text)))
    return tuple(found.span() for found in _CLUSTER.finditer(text))
