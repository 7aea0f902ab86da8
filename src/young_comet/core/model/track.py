"""Values over time: interpolation between keys."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..geometry.bezier import PathSegment
from ..pixels.colour import Rgba, mix
from ..timing.easing import Easing, Hold
from .specs import Kind


@dataclass(frozen=True, slots=True)
class Key:
    """A value at a time (s), the easing towards the next key, and path handles of a point.

    ``handle_out`` and ``handle_in`` are offsets from the value, in the point's own units.
    """

    time_s: float
    value: Any
    easing: Easing
    handle_in: tuple[float, float] = (0.0, 0.0)
    handle_out: tuple[float, float] = (0.0, 0.0)


class Track:
    """Keys in the order of their times, readable at any time.

    Before the first and after the last key the value stays. Between two keys it is mixed by
    the first key's easing; a point whose keys have handles travels along the cubic Bezier
    between them, its progress measured by arc length.
    """

    def __init__(self, kind: Kind, keys: Sequence[Key]) -> None:
        if not keys:
            raise ValueError("a track needs at least one key")
        self.kind = kind
        self.keys = tuple(keys)
        self._times = [key.time_s for key in keys]
        self._segments: dict[int, PathSegment | None] = {}

    def at(self, time_s: float) -> Any:
        index = bisect_right(self._times, time_s + 1e-9) - 1
        if index < 0:
            return self.keys[0].value
        if index == len(self.keys) - 1:
            return self.keys[-1].value
        first, second = self.keys[index], self.keys[index + 1]
        span = second.time_s - first.time_s
        progress = min(1.0, max(0.0, (time_s - first.time_s) / span))
        if progress == 0.0 or isinstance(first.easing, Hold) or not self.kind.can_mix:
            return first.value
        eased = first.easing.at(progress)
        if self.kind is Kind.POINT and (segment := self._segment(index)):
            return segment.at(eased)
        return mix_values(self.kind, first.value, second.value, eased)

    def _segment(self, index: int) -> PathSegment | None:
        if index not in self._segments:
            first, second = self.keys[index], self.keys[index + 1]
            curved = any(first.handle_out) or any(second.handle_in)
            self._segments[index] = (
                PathSegment.from_handles(
                    first.value, first.handle_out, second.handle_in, second.value
                )
                if curved
                else None
            )
        return self._segments[index]


def mix_values(kind: Kind, a: Any, b: Any, amount: float) -> Any:
    """``a`` at 0, ``b`` at 1, beyond the two outside 0..1 (colours and stops are clamped)."""
    if kind is Kind.NUMBER:
        return a + (b - a) * amount
    if kind is Kind.POINT:
        return (a[0] + (b[0] - a[0]) * amount, a[1] + (b[1] - a[1]) * amount)
    if kind is Kind.COLOUR:
        return mix(a, b, amount)
    if kind is Kind.STOPS:
        return mix_stops(a, b, amount)
    return a


Stops = tuple[tuple[float, Rgba], ...]


def mix_stops(a: Stops, b: Stops, amount: float) -> Stops:
    """Gradient stops mixed one by one; a list that is shorter repeats its last stop."""
    count = max(len(a), len(b))
    a += (a[-1],) * (count - len(a))
    b += (b[-1],) * (count - len(b))
    return tuple(
        (min(1.0, max(0.0, p + (q - p) * amount)), mix(c, d, amount))
        for (p, c), (q, d) in zip(a, b, strict=True)
    )
