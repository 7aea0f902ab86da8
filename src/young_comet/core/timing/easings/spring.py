"""A damped spring: pulled to its goal from rest, it swings and settles.

The closed form of m x'' + c x' + k (x - 1) = 0 with x(0) = x'(0) = 0 (any textbook on
mechanics): with w = sqrt(k / m) and the damping ratio z = c / (2 sqrt(k m)),

    z < 1   x = 1 - e^(-z w t) (cos d t + z w / d sin d t),  d = w sqrt(1 - z^2)
    z = 1   x = 1 - e^(-w t) (1 + w t)
    z > 1   x = 1 - (a e^(b t) - b e^(a t)) / (a - b),  a, b = -w (z -+ sqrt(z^2 - 1))
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from ....errors import DocumentError
from .base import Easing, is_finite, number_text

# Nearer than this to its goal, for good, a spring counts as settled.
SETTLED = 0.001
MAX_BOUNCE = 0.95


def spring_at(time_s: float, ratio: float, frequency: float) -> float:
    """Position at a time; ``frequency`` is the undamped angular one, in 1/s."""
    if time_s <= 0:
        return 0.0
    z, w, t = ratio, frequency, time_s
    if abs(z - 1) < 1e-6:
        return 1 - math.exp(-w * t) * (1 + w * t)
    if z < 1:
        d = w * math.sqrt(1 - z * z)
        return 1 - math.exp(-z * w * t) * (math.cos(d * t) + z * w / d * math.sin(d * t))
    root = math.sqrt(z * z - 1)
    a, b = -w * (z - root), -w * (z + root)
    return 1 - (a * math.exp(b * t) - b * math.exp(a * t)) / (a - b)


@lru_cache(maxsize=1024)
def settle_time(ratio: float, frequency: float) -> float:
    """Seconds after which the spring stays within SETTLED of its goal."""
    w = frequency
    if ratio < 1 - 1e-6:
        # The envelope e^(-z w t) / sqrt(1 - z^2) bounds the swing.
        return -math.log(SETTLED * math.sqrt(1 - ratio * ratio)) / (ratio * w)
    low, high = 0.0, 1.0 / w
    while 1 - spring_at(high, ratio, w) > SETTLED:
        high *= 2
    for _ in range(50):
        middle = (low + high) / 2
        if 1 - spring_at(middle, ratio, w) > SETTLED:
            low = middle
        else:
            high = middle
    return high


@dataclass(frozen=True, slots=True)
class Spring(Easing):
    """By stiffness (1/s^2 at mass 1), damping and mass: the spring keeps its own seconds."""

    stiffness: float
    damping: float
    mass: float = 1.0

    def __post_init__(self) -> None:
        limits = ((self.stiffness, 0.1, 1e5), (self.damping, 0.01, 1e4), (self.mass, 0.01, 1000))
        if not is_finite(self.stiffness, self.damping, self.mass) or not all(
            low <= value <= high for value, low, high in limits
        ):
            raise DocumentError.expected(
                "easing",
                "spring(stiffness 0.1..100000, damping 0.01..10000, mass 0.01..1000)",
                (self.stiffness, self.damping, self.mass),
            )

    @property
    def ratio(self) -> float:
        """Its damping ratio."""
        return self.damping / (2 * math.sqrt(self.stiffness * self.mass))

    @property
    def frequency(self) -> float:
        """Its undamped angular frequency."""
        return math.sqrt(self.stiffness / self.mass)

    @property
    def settles_s(self) -> float:
        """When it has settled, in seconds."""
        return settle_time(self.ratio, self.frequency)

    @property
    def text(self) -> str:
        numbers = (self.stiffness, self.damping, self.mass)
        return f"spring({', '.join(number_text(value) for value in numbers)})"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        if progress >= 1.0:
            return 1.0
        return spring_at(progress * duration_s, self.ratio, self.frequency)

    @property
    def tail(self) -> str:
        return "wavy"


@dataclass(frozen=True, slots=True)
class SoftSpring(Easing):
    """By bounciness (0: none, towards 1: ever more) and the time it takes to settle.

    Without ``settle_s`` it settles just at the next key.
    """

    bounce: float
    settle_s: float | None = None

    def __post_init__(self) -> None:
        if not is_finite(self.bounce) or not 0 <= self.bounce <= MAX_BOUNCE:
            raise DocumentError.expected(
                "easing", f"spring(bounciness 0..{MAX_BOUNCE})", self.bounce
            )
        if self.settle_s is not None and not 0.01 <= self.settle_s <= 600:
            raise DocumentError.expected(
                "easing", "a settle time from 0.01s to 600s in spring()", self.settle_s
            )

    @property
    def text(self) -> str:
        time = "" if self.settle_s is None else f", {number_text(self.settle_s)}s"
        return f"spring({number_text(self.bounce)}{time})"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        if progress >= 1.0:
            return 1.0
        ratio = 1 - self.bounce
        settle = duration_s if self.settle_s is None else self.settle_s
        frequency = settle_time(ratio, 1.0) / max(settle, 1e-6)
        return spring_at(progress * duration_s, ratio, frequency)

    @property
    def tail(self) -> str:
        return "wavy"
