"""Where lines may break (Unicode UAX 14, by uniseg)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache

from uniseg.linebreak import line_break_boundaries

# Between these a space always breaks (LB 18, and no rule before it says otherwise): a text is
# parted there, so that what is asked of the tables is short, and the same words are asked once.
_APART = re.compile(r"(?<=[A-Za-z,.;!?]) (?=[A-Za-z])")
# "and/or" and "C++" stay together, as browsers keep them: among ASCII letters and signs a line
# breaks after a blank, a hyphen or a question mark only.
_WHOLE = re.compile(r"[!-,./-9:->@-~][!-~]")
# So many letters are asked about at once, and so many beside them are looked at.
_WINDOW, _BESIDE = 128, 24
_WORD = re.compile(r"[A-Za-z]*[,.;!?]?\Z")


@lru_cache(maxsize=256)
def breaks(line: str) -> tuple[int, ...]:
    """The places within a line of text before which it may be broken, rising.

    >>> breaks("Let go of it")
    (4, 7, 10)
    """
    found: list[int] = []
    start = 0
    for apart in _APART.finditer(line):
        found += (start + at for at in _within(line[start : apart.start()]))
        found.append(apart.end())
        start = apart.end()
    found += (start + at for at in _within(line[start:]))
    return tuple(found)


def _windowed(words: str) -> Iterator[int]:
    """Of a long stretch, part by part: the rules look no further than a few letters, and what the
    tables are asked at once takes a time that grows with the square of it."""
    for start in range(0, len(words), _WINDOW // 2):
        low, high = max(0, start - _BESIDE), min(len(words), start + _WINDOW // 2 + _BESIDE)
        for at in _within(words[low:high]):
            if start <= low + at < start + _WINDOW // 2:
                yield low + at


@lru_cache(maxsize=8192)
def _within(words: str) -> tuple[int, ...]:
    if _WORD.match(words):
        return ()
    if len(words) > _WINDOW:
        return tuple(_windowed(words))
    ends = {0, len(words)}
    found = (at for at in line_break_boundaries(words) if at not in ends)
    return tuple(at for at in found if not _WHOLE.match(words, at - 1))
