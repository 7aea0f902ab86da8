"""Few keys that follow a given course: of a value, or of a point in the plane."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from ..effort import spend
from ..geometry.bezier import PathSegment
from ..geometry.fit import direction, fit_cubic, unit
from ..timing.easings import CubicBezier, Easing, Linear

Offset = tuple[float, float]
_REACHES = (0.04, 0.12, 0.22, 1 / 3, 0.45, 0.58, 0.72, 0.9)


@dataclass(frozen=True, slots=True)
class FittedKey:
    """A key of a fitted course; times as they came in, handles as offsets from the value."""

    time_s: float
    value: Any
    easing: Easing
    handle_in: Offset | None = None
    handle_out: Offset | None = None


def fit_easing(
    progress: np.ndarray, wanted: np.ndarray, slopes: tuple[float, float]
) -> tuple[CubicBezier, np.ndarray]:
    """The cubic-bezier() nearest to samples (n,) of eased progress, leaving and arriving with
    the given slopes, and its own values at the samples."""
    spend(3 + len(progress) / 300)
    s0, s1 = (min(60.0, max(-60.0, slope)) for slope in slopes)
    best = (float("inf"), 1 / 3, 1 / 3)

    def consider(x1: float, x2: float) -> None:
        nonlocal best
        values = _curve(progress, x1, s0 * x1, 1 - x2, 1 - s1 * x2)
        error = float(np.abs(values - wanted).max())
        if error < best[0]:
            best = (error, x1, x2)

    for x1 in _REACHES:
        for x2 in _REACHES:
            consider(x1, x2)
    step = 0.06
    for _ in range(5):
        _, x1, x2 = best
        for dx1 in (-step, 0.0, step):
            for dx2 in (-step, 0.0, step):
                if dx1 or dx2:
                    consider(min(1.0, max(0.001, x1 + dx1)), min(1.0, max(0.001, x2 + dx2)))
        step /= 2
    _, x1, x2 = best
    easing = CubicBezier.limited(x1, s0 * x1, 1 - x2, 1 - s1 * x2)
    return easing, easing.at_many(progress)


_TABLE = np.linspace(0.0, 1.0, 97)
_B1 = 3 * _TABLE * (1 - _TABLE) ** 2
_B2 = 3 * _TABLE**2 * (1 - _TABLE)
_B3 = _TABLE**3


def _curve(progress: np.ndarray, x1: float, y1: float, x2: float, y2: float) -> np.ndarray:
    """A cubic-bezier() read off a table: quick, and near enough to choose by."""
    result: np.ndarray = np.interp(progress, _B1 * x1 + _B2 * x2 + _B3, _B1 * y1 + _B2 * y2 + _B3)
    return result


def fit_values(times: np.ndarray, values: np.ndarray, tolerance: float) -> list[FittedKey]:
    """Keys whose curve stays within a tolerance of samples (n,) of a value, n >= 2.

    Between two turning points the curve is monotone, so that each stretch has an easing.
    """
    steps = np.diff(values)
    turns = [0]
    sign = 0.0
    for index, change in enumerate(steps):
        if abs(change) < 1e-12:
            continue
        if sign and np.sign(change) != sign and _swing(values, turns[-1], index, tolerance):
            turns.append(index)
        sign = float(np.sign(change))
    turns.append(len(values) - 1)
    slopes = np.gradient(values, times)
    keys: list[FittedKey] = []
    for a, b in pairwise(turns):
        if b > a:
            keys += _fit_stretch(times, values, slopes, a, b, set(turns), tolerance)
    keys.append(FittedKey(float(times[-1]), float(values[-1]), Linear()))
    return keys


def _swing(values: np.ndarray, last: int, index: int, tolerance: float) -> bool:
    """Whether a turning point is worth a key of its own."""
    result: bool = abs(values[index] - values[last]) > tolerance * 0.25
    return result


def _inside(worst: int, count: int) -> int:
    """Where a stretch of so many steps is split: where it strays most, but not so near an end that
    splitting could go on for ever."""
    least = max(1, count // 12)
    return min(max(least, worst), count - least)


def _fit_stretch(
    times: np.ndarray,
    values: np.ndarray,
    slopes: np.ndarray,
    a: int,
    b: int,
    turns: set[int],
    tolerance: float,
) -> list[FittedKey]:
    way = values[b] - values[a]
    first = (float(times[a]), float(values[a]))
    if b - a < 2 or np.abs(values[a : b + 1] - values[a]).max() < tolerance * 0.25:
        return [FittedKey(*first, Linear())]
    if abs(way) > tolerance * 0.05:
        span = times[b] - times[a]
        progress = (times[a : b + 1] - times[a]) / span
        wanted = (values[a : b + 1] - values[a]) / way
        # At a turning point the value rests; elsewhere its speed is kept.
        ends = [
            0.0 if i in turns and 0 < i < len(values) - 1 else slopes[i] * span / way
            for i in (a, b)
        ]
        easing, found = fit_easing(progress, wanted, (ends[0], ends[1]))
        off = np.abs(found - wanted) * abs(way)
        worst = int(np.argmax(off))
        if off[worst] <= tolerance:
            return [FittedKey(*first, easing)]
    else:
        worst = int(np.argmax(np.abs(values[a : b + 1] - values[a])))
    middle = a + _inside(worst, b - a)
    return [
        *_fit_stretch(times, values, slopes, a, middle, turns, tolerance),
        *_fit_stretch(times, values, slopes, middle, b, turns, tolerance),
    ]


def fit_motion(times: np.ndarray, points: np.ndarray, tolerance: float) -> list[FittedKey]:
    """Keys with path handles and easings whose motion is nowhere further than the tolerance
    from samples (n, 2) of a moving point at times (n,), n >= 2. Where it rests it gets two keys
    at one place."""
    velocity = np.gradient(points, times, axis=0)
    keys = _fit_course(times, points, velocity, 0, len(times) - 1, tolerance)
    end = points[-1]
    keys.append(FittedKey(float(times[-1]), (float(end[0]), float(end[1])), Linear()))
    return _with_handles_in(keys)


def _with_handles_in(keys: list[FittedKey]) -> list[FittedKey]:
    """Stretches carry the handle into their end in ``handle_in``; it belongs to the next key."""
    result = []
    into: Offset | None = None
    for key in keys:
        result.append(FittedKey(key.time_s, key.value, key.easing, into, key.handle_out))
        into = key.handle_in
    return result


def _fit_course(
    times: np.ndarray,
    points: np.ndarray,
    velocity: np.ndarray,
    a: int,
    b: int,
    tolerance: float,
) -> list[FittedKey]:
    part = points[a : b + 1]
    start = (float(part[0, 0]), float(part[0, 1]))
    first = float(times[a])
    if np.hypot(*(part - part[0]).T).max() < tolerance * 0.25:
        return [FittedKey(first, start, Linear())]
    steps = np.hypot(*np.diff(part, axis=0).T)
    travelled = np.concatenate([[0.0], np.cumsum(steps)])
    total = float(travelled[-1])
    if b - a < 2:
        return [FittedKey(first, start, Linear())]
    out = _heading(points, velocity, a, b, forward=True)
    into = _heading(points, velocity, a, b, forward=False)
    curve = fit_cubic(part, out, into)
    segment = PathSegment(*((float(p[0]), float(p[1])) for p in curve))
    span = float(times[b] - times[a])
    progress = (times[a : b + 1] - times[a]) / span
    speeds = [float(np.hypot(*velocity[i])) * span / max(total, 1e-9) for i in (a, b)]
    easing, found = fit_easing(progress, travelled / total, (speeds[0], speeds[1]))
    off = np.hypot(*(segment.at_many(found) - part).T)
    worst = int(np.argmax(off))
    if off[worst] <= tolerance:
        handle_out, handle_in = segment.handles
        return [FittedKey(first, start, easing, handle_in, handle_out)]
    middle = a + _inside(worst, b - a)
    return [
        *_fit_course(times, points, velocity, a, middle, tolerance),
        *_fit_course(times, points, velocity, middle, b, tolerance),
    ]


def _heading(
    points: np.ndarray, velocity: np.ndarray, a: int, b: int, *, forward: bool
) -> np.ndarray:
    """Direction from an end of a stretch into it; from further inside where it rests there."""
    end = a if forward else b
    sign = 1.0 if forward else -1.0
    if float(np.hypot(*velocity[end])) > 1e-6:
        return sign * unit(velocity[end])
    inner = points[a : b + 1] if forward else points[a : b + 1][::-1]
    for point in inner[1:]:
        way = unit(point - inner[0])
        if way.any():
            return way
    return sign * direction(points, end)
