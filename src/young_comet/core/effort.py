"""How much work one operation may cause.

Operations compute on what people and files give them: a few thousand samples can ask for minutes of
fitting. Whoever computes long says how much, in units of about a millisecond on a slow machine;
whoever starts an operation says how much there may be. Counting work, not time, gives the same
answer everywhere.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from ..errors import DocumentError

# What an operation of the editor may cause.
OPERATION = 4_000.0

_left: ContextVar[list[float] | None] = ContextVar("effort_left", default=None)


@contextmanager
def limited(units: float = OPERATION) -> Iterator[None]:
    """Within, so much may be spent; within another limit, that one counts."""
    if _left.get() is not None:
        yield
        return
    token = _left.set([units])
    try:
        yield
    finally:
        _left.reset(token)


def spend(units: float) -> None:
    """Says that so much work follows; DocumentError where that is more than there may be."""
    left = _left.get()
    if left is None:
        return
    left[0] -= units
    if left[0] < 0:
        raise DocumentError(
            "this would take too long: choose fewer layers, a shorter span or a larger tolerance"
        )
