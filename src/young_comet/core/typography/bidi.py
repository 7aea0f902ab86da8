"""In which direction letters run: the levels of the bidirectional algorithm (UAX 9, by
python-bidi)."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence
from functools import lru_cache
from itertools import groupby
from typing import Any

from bidi import algorithm

_RIGHT = frozenset(("R", "AL", "AN", "RLE", "RLO", "RLI"))
_BLANK = frozenset(("WS", "S", "BN", "LRI", "RLI", "FSI", "PDI"))
# The steps of the algorithm take a list of characters apart; longer texts than this run one way.
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
    base = algorithm.get_base_level(line)
    storage: dict[str, Any] = algorithm.get_empty_storage()
    storage |= {"base_level": base, "base_dir": "LR"[base]}
    algorithm.get_embedding_levels(line, storage)
    for index, each in enumerate(storage["chars"]):
        each["index"] = index
    for step in (
        algorithm.explicit_embed_and_overrides,
        algorithm.resolve_weak_types,
        algorithm.resolve_neutral_types,
        algorithm.resolve_implicit_levels,
    ):
        step(storage, False)
    known = {each["index"]: each["level"] for each in storage["chars"]}
    found: list[int] = []
    for index in range(len(line)):
        found.append(known.get(index, found[-1] if found else base))
    return base, tuple(found)


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
