"""A source with a part that gives way: what comes before and after it is played as it is."""

from __future__ import annotations

# Just before the leaving part begins, what stands still stands there.
_BEFORE_S = 1e-5


def standing_second(
    local_s: float, length_s: float, source: tuple[float, float], standing: tuple[float, float]
) -> float:
    """The second of a source (from, to) that is shown at a moment of something that lasts a length.

    Up to the end of the standing part it is played from its start; what follows that part is played
    so that it ends with the length. Between the two the end of the standing part is held, or, where
    there is no room for all of it, the rest of it is left out.
    """
    start, end = source
    stands, leaves = (min(max(s, start), end) for s in standing)
    tail = end - leaves
    if local_s >= length_s - tail - 1e-9:
        return max(start, end - (length_s - local_s))
    moment = start + local_s
    return moment if moment < leaves - 1e-9 else max(stands, leaves - _BEFORE_S)
