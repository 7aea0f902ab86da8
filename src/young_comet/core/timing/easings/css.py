"""The easings of CSS: linear, cubic-bezier(), steps() and linear(), and hold.

Source: CSS Easing Functions Level 2 (W3C). ``hold`` (the value stays until the next key) is
ours; it equals steps(1, jump-end) but is what people ask for by name.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from ....errors import DocumentError
from .base import Easing, Handles, is_finite, number_text

MAX_STEPS = 1000
MAX_STOPS = 200


@dataclass(frozen=True, slots=True)
class Linear(Easing):
    @property
    def text(self) -> str:
        return "linear"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        return progress

    def at_many(self, progress: np.ndarray, duration_s: float = 1.0) -> np.ndarray:
        return progress

    @property
    def handles(self) -> Handles:
        return (1 / 3, 1 / 3, 2 / 3, 2 / 3)

    def reversed(self) -> Easing:
        return self

    splits = True

    def split(self, progress: float, duration_s: float = 1.0) -> tuple[Easing, Easing]:
        return (self, self)

    @property
    def leave(self) -> float:
        return 0.0

    @property
    def arrive(self) -> float:
        return 0.0


@dataclass(frozen=True, slots=True)
class Hold(Easing):
    """The first key's value until the second key's moment."""

    @property
    def text(self) -> str:
        return "hold"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        return 1.0 if progress >= 1.0 else 0.0

    @property
    def tail(self) -> str:
        return "hold"

    def reversed(self) -> Easing:
        return Steps(1, "jump-start")

    @property
    def leave(self) -> float:
        return 0.0

    @property
    def arrive(self) -> float:
        return 0.0


@dataclass(frozen=True, slots=True)
class CubicBezier(Easing):
    """The curve (0,0) (x1,y1) (x2,y2) (1,1); x1 and x2 in 0..1 so that it is a function.

    ``name`` is the CSS keyword it was written as, if any.
    """

    x1: float
    y1: float
    x2: float
    y2: float
    name: str = field(default="", compare=False)

    def __post_init__(self) -> None:
        values = (self.x1, self.y1, self.x2, self.y2)
        if not is_finite(*values):
            raise DocumentError.expected("easing", "four finite numbers", values)
        if not (0 <= self.x1 <= 1 and 0 <= self.x2 <= 1):
            raise DocumentError.expected(
                "easing", "cubic-bezier x1 and x2 within 0..1", (self.x1, self.x2)
            )
        if max(abs(self.y1), abs(self.y2)) > 100:
            raise DocumentError.expected(
                "easing", "cubic-bezier y1 and y2 within -100..100", (self.y1, self.y2)
            )

    @classmethod
    def limited(cls, x1: float, y1: float, x2: float, y2: float) -> CubicBezier:
        """The nearest one whose numbers are allowed, rounded as it is written."""
        x = [round(min(1.0, max(0.0, value)), 5) for value in (x1, x2)]
        y = [round(min(100.0, max(-100.0, value)), 5) for value in (y1, y2)]
        return cls(x[0], y[0], x[1], y[1])

    @property
    def text(self) -> str:
        if self.name:
            return self.name
        numbers = (self.x1, self.y1, self.x2, self.y2)
        return f"cubic-bezier({', '.join(number_text(value) for value in numbers)})"

    @property
    def handles(self) -> Handles:
        return (self.x1, self.y1, self.x2, self.y2)

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        if progress <= 0.0:
            return 0.0
        if progress >= 1.0:
            return 1.0
        result: float = _bezier(self.y1, self.y2, self.parameter(progress))
        return result

    def at_many(self, progress: np.ndarray, duration_s: float = 1.0) -> np.ndarray:
        x = np.clip(progress, 0.0, 1.0)
        low, high, s = np.zeros_like(x), np.ones_like(x), x.copy()
        for _ in range(40):
            error = _bezier(self.x1, self.x2, s) - x
            if np.abs(error).max(initial=0.0) < 1e-10:
                break
            high = np.where(error > 0, s, high)
            low = np.where(error > 0, low, s)
            slope = _bezier_slope(self.x1, self.x2, s)
            steep = slope > 1e-9
            nearer = s - error / np.where(steep, slope, 1.0)
            inside = steep & (nearer > low) & (nearer < high)
            s = np.where(inside, nearer, (low + high) / 2)
        y = _bezier(self.y1, self.y2, s)
        return np.where(progress <= 0, 0.0, np.where(progress >= 1, 1.0, y))

    def parameter(self, x: float) -> float:
        """The curve's parameter where its x is ``x``, to 1e-9.

        Newton steps kept inside a shrinking bracket: x(s) is monotone, but its slope may
        vanish at the ends, where Newton alone would leave the interval.
        """
        low, high, s = 0.0, 1.0, x
        for _ in range(64):
            error = _bezier(self.x1, self.x2, s) - x
            if abs(error) < 1e-10:
                break
            if error > 0:
                high = s
            else:
                low = s
            slope = _bezier_slope(self.x1, self.x2, s)
            s = s - error / slope if slope > 1e-9 else math.inf
            if not low < s < high:
                s = (low + high) / 2
        return s

    def reversed(self) -> Easing:
        names = {"ease-in": "ease-out", "ease-out": "ease-in", "ease-in-out": "ease-in-out"}
        x1, y1, x2, y2 = (round(1 - v, 12) for v in (self.x2, self.y2, self.x1, self.y1))
        return CubicBezier(x1, y1, x2, y2, names.get(self.name, ""))

    splits = True

    def split(self, progress: float, duration_s: float = 1.0) -> tuple[Easing, Easing] | None:
        """Exact: de Casteljau's construction, each half stretched to the unit square."""
        if not 0 < progress < 1:
            return None
        s = self.parameter(progress)
        p0, p1, p2, p3 = (0.0, 0.0), (self.x1, self.y1), (self.x2, self.y2), (1.0, 1.0)
        a, b, c = _between(p0, p1, s), _between(p1, p2, s), _between(p2, p3, s)
        d, e = _between(a, b, s), _between(b, c, s)
        x, y = _between(d, e, s)
        if min(abs(y), abs(1 - y)) < 1e-6 or not 0 < x < 1:
            return None
        left = (a[0] / x, a[1] / y, d[0] / x, d[1] / y)
        right = (
            (e[0] - x) / (1 - x), (e[1] - y) / (1 - y), (c[0] - x) / (1 - x), (c[1] - y) / (1 - y)
        )  # fmt: skip
        if max(abs(v) for v in (left[1], left[3], right[1], right[3])) > 100:
            return None
        return CubicBezier(*_in_unit(left)), CubicBezier(*_in_unit(right))

    @property
    def leave(self) -> float:
        return _softness(self.x1, self.y1)

    @property
    def arrive(self) -> float:
        return _softness(1 - self.x2, 1 - self.y2)


def _in_unit(h: Handles) -> Handles:
    """Float noise must not push a handle's x out of 0..1."""
    return (min(1.0, max(0.0, h[0])), h[1], min(1.0, max(0.0, h[2])), h[3])


def _between(p: tuple[float, float], q: tuple[float, float], s: float) -> tuple[float, float]:
    return (p[0] + (q[0] - p[0]) * s, p[1] + (q[1] - p[1]) * s)


def _bezier(a: float, b: float, s: Any) -> Any:
    return ((1 + 3 * a - 3 * b) * s + (3 * b - 6 * a)) * s * s + 3 * a * s


def _bezier_slope(a: float, b: float, s: Any) -> Any:
    return 3 * (1 + 3 * a - 3 * b) * s * s + 2 * (3 * b - 6 * a) * s + 3 * a


def _softness(x: float, y: float) -> float:
    """How far a handle reaches along time while the value lags behind it, 0..1."""
    if x <= 0 or y >= x:
        return 0.0
    return min(1.0, x * (1 - max(0.0, y) / x))


STEP_POSITIONS = ("jump-start", "jump-end", "jump-none", "jump-both")
_STEP_WORDS = {"start": "jump-start", "end": "jump-end"}


@dataclass(frozen=True, slots=True)
class Steps(Easing):
    """``count`` equal intervals; ``position`` tells at which ends there are jumps."""

    count: int
    position: str = "jump-end"

    def __post_init__(self) -> None:
        if self.position in _STEP_WORDS:
            object.__setattr__(self, "position", _STEP_WORDS[self.position])
        if self.position not in STEP_POSITIONS:
            raise DocumentError.expected(
                "easing", "steps(count, one of " + ", ".join(STEP_POSITIONS) + ")", self.position
            )
        least = 2 if self.position == "jump-none" else 1
        if not least <= self.count <= MAX_STEPS:
            raise DocumentError.expected("easing", f"{least} to {MAX_STEPS} steps", self.count)

    @property
    def text(self) -> str:
        return f"steps({self.count}, {self.position})"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        if progress >= 1.0:
            return 1.0
        jumps = self.count + {"jump-none": -1, "jump-both": 1}.get(self.position, 0)
        step = math.floor(max(0.0, progress) * self.count + 1e-9)
        if self.position in ("jump-start", "jump-both"):
            step += 1
        return min(step, jumps) / jumps

    @property
    def tail(self) -> str:
        return "steps"

    splits = True

    def split(self, progress: float, duration_s: float = 1.0) -> tuple[Easing, Easing] | None:
        """Exact: linear() with upright lines where the steps are."""
        stops: list[tuple[float, float]] = []
        for number in range(self.count):
            level = self.at(number / self.count)
            stops += [(level, number / self.count), (level, (number + 1) / self.count)]
        if stops[0][0] > 0:
            stops.insert(0, (0.0, 0.0))
        if stops[-1][0] < 1:
            stops.append((1.0, 1.0))
        return LinearStops(tuple(stops)).split(progress) if len(stops) <= MAX_STOPS else None

    def reversed(self) -> Easing:
        if (self.count, self.position) == (1, "jump-start"):
            return Hold()
        other = {"jump-start": "jump-end", "jump-end": "jump-start"}
        return Steps(self.count, other.get(self.position, self.position))

    @property
    def leave(self) -> float:
        return 0.0

    @property
    def arrive(self) -> float:
        return 0.0


@dataclass(frozen=True, slots=True)
class LinearStops(Easing):
    """CSS linear(): straight lines through (output, input) stops, inputs ascending in 0..1."""

    stops: tuple[tuple[float, float], ...]

    def __post_init__(self) -> None:
        if not 2 <= len(self.stops) <= MAX_STOPS:
            raise DocumentError.expected("easing", f"2 to {MAX_STOPS} stops in linear()", "")
        if not is_finite(*(value for stop in self.stops for value in stop)):
            raise DocumentError.expected("easing", "finite numbers in linear()", self.stops)

    @property
    def text(self) -> str:
        parts = (f"{number_text(out)} {number_text(at * 100)}%" for out, at in self.stops)
        return f"linear({', '.join(parts)})"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        # It may begin and end elsewhere than at 0 and 1; stops that begin later or end sooner go on
        # along their first and last line (CSS Easing 2, section 2.2).
        progress = min(1.0, max(0.0, progress))
        inputs = [stop[1] for stop in self.stops]
        index = min(max(bisect_right(inputs, progress) - 1, 0), len(self.stops) - 2)
        (a, x), (b, y) = self.stops[index], self.stops[index + 1]
        return b if y - x < 1e-12 else a + (b - a) * (progress - x) / (y - x)

    def reversed(self) -> Easing:
        stops = ((round(1 - out, 12), round(1 - at, 12)) for out, at in reversed(self.stops))
        return LinearStops(tuple(stops))

    splits = True

    def split(self, progress: float, duration_s: float = 1.0) -> tuple[Easing, Easing] | None:
        """Exact: each half keeps its stops."""
        middle = self.at(progress)
        if not (0 < progress < 1) or abs(middle) < 1e-6 or abs(1 - middle) < 1e-6:
            return None
        left = [(out / middle, at / progress) for out, at in self.stops if at <= progress]
        rest, span = 1 - middle, 1 - progress
        right = [
            ((out - middle) / rest, (at - progress) / span)
            for out, at in self.stops
            if at > progress
        ]
        return LinearStops((*left, (1.0, 1.0))), LinearStops(((0.0, 0.0), *right))


def linear_stops(arguments: str) -> LinearStops:
    """The stops of ``linear(0, 0.5 20% 40%, 1)``; missing inputs are spread evenly (section
    2.2.1 of the standard). Raises ValueError."""
    points: list[list[float | None]] = []
    for part in arguments.split(","):
        words = part.split()
        numbers = [float(word) for word in words if not word.endswith("%")]
        places = [float(word[:-1]) / 100 for word in words if word.endswith("%")]
        if len(numbers) != 1 or len(places) > 2:
            raise ValueError(part)
        points += [[numbers[0], place] for place in places] or [[numbers[0], None]]
    if len(points) < 2:
        raise ValueError(arguments)
    if points[0][1] is None:
        points[0][1] = 0.0
    if points[-1][1] is None:
        points[-1][1] = 1.0
    largest = 0.0
    for point in points:
        if point[1] is not None:
            point[1] = largest = max(largest, point[1])
    for index, point in enumerate(points):
        if point[1] is None:
            after = next(i for i in range(index, len(points)) if points[i][1] is not None)
            low, high = points[index - 1][1], points[after][1]
            assert low is not None and high is not None
            point[1] = low + (high - low) / (after - index + 1)
    return LinearStops(tuple((float(out or 0), float(at or 0)) for out, at in points))
