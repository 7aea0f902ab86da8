"""The units of a text: its letters, words and lines, as ranges of characters."""

from __future__ import annotations

import unicodedata
from functools import lru_cache

Range = tuple[int, int]
_JOINERS = "\u200d\ufe0e\ufe0f"


@lru_cache(maxsize=512)
def units_of(text: str, by: str) -> tuple[Range, ...]:
    """Ranges (first, one after the last) of letters, words or lines in their order; white space
    belongs to none. A letter has its combining marks with it.

    >>> units_of("Go on", "words")
    ((0, 2), (3, 5))
    """
    if by == "lines":
        return tuple((a, b) for a, b in _split(text, "\n") if text[a:b].strip())
    if by == "words":
        return tuple(_words(text))
    return tuple(_letters(text))


def _split(text: str, at: str) -> list[Range]:
    ranges, start = [], 0
    for index, letter in enumerate(text):
        if letter == at:
            ranges.append((start, index))
            start = index + 1
    ranges.append((start, len(text)))
    return ranges


def _words(text: str) -> list[Range]:
    ranges: list[Range] = []
    start: int | None = None
    for index, letter in enumerate(text + " "):
        if letter.isspace():
            if start is not None:
                ranges.append((start, index))
            start = None
        elif start is None:
            start = index
    return ranges


def _letters(text: str) -> list[Range]:
    ranges: list[Range] = []
    joined = False
    for index, letter in enumerate(text):
        belongs = unicodedata.combining(letter) or letter in _JOINERS or joined
        if belongs and ranges and ranges[-1][1] == index:
            ranges[-1] = (ranges[-1][0], index + 1)
        elif not letter.isspace():
            ranges.append((index, index + 1))
        joined = letter == "\u200d"
    return ranges
