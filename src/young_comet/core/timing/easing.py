"""Easings: how a value travels from one key to the next.

Source: CSS Easing Functions Level 1 (W3C), sections on linear and cubic Bezier easing. In a
document an easing is its CSS text; ``hold`` (keep the value until the next key) is ours.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

from ...errors import DocumentError


class Easing(Protocol):
    """Progress in, eased progress out; both 0..1 at the ends, the output may overshoot."""

    def at(self, progress: float) -> float:
        """Must. Eased progress at ``progress`` in 0..1."""
        ...

    @property
    def leave(self) -> float:
        """Must. 0..1: how softly the first key is left; the length of its comet's tail."""
        ...

    @property
    def arrive(self) -> float:
        """Must. 0..1: how softly the second key is reached."""
        ...


@dataclass(frozen=True, slots=True)
class Linear:
    leave: float = 0.0
    arrive: float = 0.0

    def at(self, progress: float) -> float:
        return progress


@dataclass(frozen=True, slots=True)
class Hold:
    """The first key's value until the second key's moment."""

    leave: float = 0.0
    arrive: float = 0.0

    def at(self, progress: float) -> float:
        return 1.0 if progress >= 1.0 else 0.0


@dataclass(frozen=True, slots=True)
class CubicBezier:
    """The curve (0,0) (x1,y1) (x2,y2) (1,1); x1 and x2 in 0..1 so that it is a function."""

    x1: float
    y1: float
    x2: float
    y2: float

    def __post_init__(self) -> None:
        values = (self.x1, self.y1, self.x2, self.y2)
        if not all(math.isfinite(v) for v in values):
            raise DocumentError.expected("easing", "four finite numbers", values)
        if not (0 <= self.x1 <= 1 and 0 <= self.x2 <= 1):
            raise DocumentError.expected(
                "easing", "cubic-bezier x1 and x2 within 0..1", (self.x1, self.x2)
            )
        if max(abs(self.y1), abs(self.y2)) > 100:
            raise DocumentError.expected(
                "easing", "cubic-bezier y1 and y2 within -100..100", (self.y1, self.y2)
            )

    def at(self, progress: float) -> float:
        if progress <= 0.0:
            return 0.0
        if progress >= 1.0:
            return 1.0
        return _bezier(self.y1, self.y2, self.parameter(progress))

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

    @property
    def leave(self) -> float:
        return _softness(self.x1, self.y1)

    @property
    def arrive(self) -> float:
        return _softness(1 - self.x2, 1 - self.y2)


def _bezier(a: float, b: float, s: float) -> float:
    return ((1 + 3 * a - 3 * b) * s + (3 * b - 6 * a)) * s * s + 3 * a * s


def _bezier_slope(a: float, b: float, s: float) -> float:
    return 3 * (1 + 3 * a - 3 * b) * s * s + 2 * (3 * b - 6 * a) * s + 3 * a


def _softness(x: float, y: float) -> float:
    """How far a handle reaches along time while the value lags behind it, 0..1."""
    if x <= 0 or y >= x:
        return 0.0
    return min(1.0, x * (1 - max(0.0, y) / x))


KEYWORDS: dict[str, Easing] = {
    "linear": Linear(),
    "ease": CubicBezier(0.25, 0.1, 0.25, 1.0),
    "ease-in": CubicBezier(0.42, 0.0, 1.0, 1.0),
    "ease-out": CubicBezier(0.0, 0.0, 0.58, 1.0),
    "ease-in-out": CubicBezier(0.42, 0.0, 0.58, 1.0),
    "hold": Hold(),
}

_CALL = re.compile(r"\s*([a-z-]+)\s*\(([^()]*)\)\s*")


def easing_names() -> tuple[str, ...]:
    """The keywords, in the order menus show them."""
    return tuple(KEYWORDS)


@lru_cache(maxsize=4096)
def parse_easing(text: str) -> Easing:
    """The easing meant by its text; DocumentError says what is known if it means none."""
    if easing := KEYWORDS.get(text.strip()):
        return easing
    if (match := _CALL.fullmatch(text)) and match[1] == "cubic-bezier":
        try:
            numbers = [float(part) for part in match[2].split(",")]
        except ValueError:
            numbers = []
        if len(numbers) == 4:
            return CubicBezier(*numbers)
    known = ", ".join(KEYWORDS)
    raise DocumentError.expected("easing", f"one of {known} or cubic-bezier(x1, y1, x2, y2)", text)
