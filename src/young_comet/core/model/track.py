"""Values over time: interpolation between keys."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..geometry.bezier import PathSegment
from ..timing.easings import CubicBezier, Easing
from .specs import Kind

# Beside a segment that stands still and jumps, a smooth key rests.
_WHOLE = ("hold", "steps")


@dataclass(frozen=True, slots=True)
class Key:
    """A value at a time (s), the easing towards the next key, and path handles of a point.

    ``handle_out`` and ``handle_in`` are offsets from the value, in the point's own units.
    ``smooth`` keeps the speed through the key continuous without passing its neighbours.
    """

    time_s: float
    value: Any
    easing: Easing
    handle_in: tuple[float, float] = (0.0, 0.0)
    handle_out: tuple[float, float] = (0.0, 0.0)
    smooth: bool = False


@dataclass(frozen=True, slots=True)
class Cycle:
    """What happens after the last key: ``mode`` loop, there-and-back or build-on.

    ``times`` is how often the keys are played altogether; None for ever.
    """

    mode: str
    times: int | None = None


class Track:
    """Keys in the order of their times, readable at any time.

    Before the first key the value stays; after the last it stays or the keys repeat. Between
    two keys it is mixed by the first key's easing; a point whose keys have handles travels
    along the cubic Bezier between them, its progress measured by arc length. With an ``even``
    pace a point travels the whole path at one speed, whatever lies between.
    """

    def __init__(
        self, kind: Kind, keys: Sequence[Key], cycle: Cycle | None = None, *, even: bool = False
    ) -> None:
        if not keys:
            raise ValueError("a track needs at least one key")
        self.kind = kind
        self.keys = tuple(keys)
        self.cycle = cycle if len(keys) > 1 else None
        self.even = even and kind is Kind.POINT and len(keys) > 2
        self._times = [key.time_s for key in keys]
        self._paths: dict[int, PathSegment | None] = {}
        self._eased: dict[int, Easing] = {}
        self._distances: list[float] | None = None

    @property
    def start_s(self) -> float:
        """When its first key is."""
        return self._times[0]

    @property
    def end_s(self) -> float:
        """When its last key is."""
        return self._times[-1]

    def at(self, time_s: float) -> Any:
        """The value at a time, s from the layer's start."""
        if self.cycle is None or time_s < self.end_s - 1e-9:
            return self._once(time_s)
        turn, local, _ = self.folded(time_s)
        value = self._once(local)
        if self.cycle.mode == "build-on" and turn:
            way = self.kind.step(self.keys[0].value, self.keys[-1].value)
            return self.kind.add_step(value, way, turn)
        return value

    def values(self, times: np.ndarray) -> np.ndarray:
        """Values (n, d) of a number (d 1) or point (d 2) at times (n,), faster than one by one."""
        keys = self.keys
        rows = np.array([np.atleast_1d(key.value) for key in keys], dtype=np.float64)
        if self.cycle is not None or self.even:
            return np.array([np.atleast_1d(self.at(float(t))) for t in times], dtype=np.float64)
        index = np.searchsorted(self._times, times + 1e-9, side="right") - 1
        result = rows[np.clip(index, 0, len(keys) - 1)]
        for segment in np.unique(index):
            if not 0 <= segment < len(keys) - 1:
                continue
            mine = index == segment
            span = self._times[segment + 1] - self._times[segment]
            progress = np.clip((times[mine] - self._times[segment]) / span, 0.0, 1.0)
            eased = self.easing(int(segment)).at_many(progress, span)
            if path := self.path(int(segment)):
                result[mine] = path.at_many(eased)
            else:
                a, b = rows[segment], rows[segment + 1]
                result[mine] = a + (b - a) * eased[:, None]
        return result

    def folded(self, time_s: float) -> tuple[int, float, bool]:
        """For a repeated track: the number of the turn from 0, the time within the keys, and
        whether all turns have been played."""
        if self.cycle is None or time_s < self.end_s - 1e-9:
            return (0, time_s, False)
        length = self.end_s - self.start_s
        times = self.cycle.times
        turn = math.floor((time_s - self.start_s) / length + 1e-9)
        ended = times is not None and turn >= times
        if times is not None and ended:
            turn, local = times - 1, self.end_s
        else:
            local = min(self.end_s, max(self.start_s, time_s - turn * length))
        if self.cycle.mode == "there-and-back" and turn % 2:
            local = self.start_s + self.end_s - local
        return (turn, local, ended)

    def segment_at(self, time_s: float) -> int:
        """The number of the segment (or last key) that a time within the keys lies in."""
        return bisect_right(self._times, time_s + 1e-9) - 1

    def _once(self, time_s: float) -> Any:
        index = self.segment_at(time_s)
        if index < 0:
            return self.keys[0].value
        if index == len(self.keys) - 1:
            return self.keys[-1].value
        if self.even:
            return self._evenly(time_s)
        first, second = self.keys[index], self.keys[index + 1]
        span = second.time_s - first.time_s
        progress = min(1.0, max(0.0, (time_s - first.time_s) / span))
        if not self.kind.mixes:
            return first.value
        eased = self.easing(index).at(progress, span)
        if eased == 0.0:
            return first.value
        if self.kind is Kind.POINT and (path := self.path(index)):
            return path.at(eased)
        return self.kind.mix(first.value, second.value, eased)

    def path(self, index: int) -> PathSegment | None:
        """The curve of a segment of points; None where it is straight."""
        if index not in self._paths:
            first, second = self.keys[index], self.keys[index + 1]
            curved = self.kind is Kind.POINT and (any(first.handle_out) or any(second.handle_in))
            self._paths[index] = (
                PathSegment.from_handles(
                    first.value, first.handle_out, second.handle_in, second.value
                )
                if curved
                else None
            )
        return self._paths[index]

    def length(self, index: int) -> float:
        """How far a segment travels, in the value's own units (along its curve)."""
        if path := self.path(index):
            return path.length
        return math.hypot(*self.kind.step(self.keys[index].value, self.keys[index + 1].value))

    def easing(self, index: int) -> Easing:
        """The easing that a segment really has: the first key's, bent at smooth keys."""
        if index not in self._eased:
            self._eased[index] = self._bent(index)
        return self._eased[index]

    def _bent(self, index: int) -> Easing:
        easing = self.keys[index].easing
        handles = easing.handles
        leave, arrive = self.through_speed(index), self.through_speed(index + 1)
        if handles is None or (leave is None and arrive is None):
            return easing
        span = self._times[index + 1] - self._times[index]
        length = self.length(index)
        x1, y1, x2, y2 = handles
        per_third = span / (3 * length) if length > 1e-9 else 0.0
        if leave is not None:
            x1, y1 = 1 / 3, leave * per_third
        if arrive is not None:
            x2, y2 = 2 / 3, 1 - arrive * per_third
        if max(abs(y1), abs(y2)) > 100:
            return easing
        return CubicBezier(x1, y1, x2, y2)

    def through_speed(self, index: int) -> float | None:
        """The speed (units/s along the way) at which a smooth key is passed; None where a key
        is not smooth or has nothing on one of its sides.

        Fritsch and Butland's weighted harmonic mean of the neighbouring speeds (SIAM J. Sci.
        Stat. Comput. 5, 1984), which keeps the curve monotone; a bend in the way takes the
        cosine of its angle off, so a way back is a stop. Beside a segment that keeps a shape
        of its own (a spring, say) the speed is that segment's at the key.
        """
        if not 0 < index < len(self.keys) - 1 or not self.keys[index].smooth:
            return None
        for beside, end in ((index - 1, 1.0), (index, 0.0)):
            easing = self.keys[beside].easing
            if easing.handles is None:
                if easing.tail in _WHOLE:
                    return 0.0
                span = self._times[beside + 1] - self._times[beside]
                return max(0.0, easing.slope(end, span)) * self.length(beside) / span
        before = self._times[index] - self._times[index - 1]
        after = self._times[index + 1] - self._times[index]
        d0, d1 = self.length(index - 1) / before, self.length(index) / after
        bend = self._bend(index)
        if d0 <= 0 or d1 <= 0 or bend <= 0:
            return 0.0
        w0, w1 = 2 * after + before, after + 2 * before
        return bend * (w0 + w1) / (w0 / d0 + w1 / d1)

    def _bend(self, index: int) -> float:
        """Cosine of the angle between the ways into and out of a key; 1 is straight on."""
        ways: list[tuple[float, ...]] = []
        for segment, end in ((index - 1, 1.0), (index, 0.0)):
            if path := self.path(segment):
                ways.append(path.direction(end))
                continue
            way = self.kind.step(self.keys[segment].value, self.keys[segment + 1].value)
            size = math.hypot(*way)
            ways.append(tuple(part / size for part in way) if size > 1e-12 else ())
        a, b = ways
        count = min(len(a), len(b))
        return sum(p * q for p, q in zip(a[:count], b[:count], strict=True))

    # An even pace

    def _evenly(self, time_s: float) -> Any:
        distances = self.distances()
        progress = (time_s - self.start_s) / (self.end_s - self.start_s)
        index, fraction = self.along(progress * distances[-1])
        if path := self.path(index):
            return path.at(fraction)
        return self.kind.mix(self.keys[index].value, self.keys[index + 1].value, fraction)

    def distances(self) -> list[float]:
        """How far along the whole path each key lies."""
        if self._distances is None:
            total, self._distances = 0.0, [0.0]
            for index in range(len(self.keys) - 1):
                total += self.length(index)
                self._distances.append(total)
        return self._distances

    def along(self, distance: float) -> tuple[int, float]:
        """Segment and fraction of it after a distance along the whole path."""
        distances = self.distances()
        index = min(max(bisect_right(distances, distance) - 1, 0), len(self.keys) - 2)
        length = distances[index + 1] - distances[index]
        return index, (distance - distances[index]) / length if length > 1e-12 else 0.0

    def direction(self, time_s: float) -> tuple[float, float]:
        """The unit vector in which a point travels; while it rests that of where it goes next,
        or came from last. (0, 0) where it never moves."""
        if self.kind is not Kind.POINT or len(self.keys) < 2:
            return (0.0, 0.0)
        turn, local, _ = self.folded(time_s)
        back = self.cycle is not None and self.cycle.mode == "there-and-back" and turn % 2 == 1
        if self.even:
            span = self.end_s - self.start_s
            progress = min(1.0, max(0.0, (local - self.start_s) / span))
            index, fraction = self.along(progress * self.distances()[-1])
        else:
            index = min(max(self.segment_at(local), 0), len(self.keys) - 2)
            first, second = self._times[index], self._times[index + 1]
            progress = min(1.0, max(0.0, (local - first) / (second - first)))
            fraction = min(1.0, max(0.0, self.easing(index).at(progress, second - first)))
        way = self._way(index, fraction)
        return (-way[0], -way[1]) if back else way

    def _way(self, index: int, fraction: float) -> tuple[float, float]:
        order = [index, *range(index + 1, len(self.keys) - 1), *range(index - 1, -1, -1)]
        for number in order:
            at = fraction if number == index else (0.0 if number > index else 1.0)
            if path := self.path(number):
                way = path.direction(at)
            else:
                dx, dy = self.kind.step(self.keys[number].value, self.keys[number + 1].value)
                size = math.hypot(dx, dy)
                way = (dx / size, dy / size) if size > 1e-9 else (0.0, 0.0)
            if way != (0.0, 0.0):
                return way
        return (0.0, 0.0)
