"""Chance that is the same each time: of the same seed and number always the same."""

from __future__ import annotations

import math


def chance(seed: float, number: float) -> float:
    """A number in 0..1 for a place in a series; near seeds and numbers have nothing in common."""
    x = math.sin(number * 12.9898 + seed * 78.233) * 43758.5453
    return x - math.floor(x)


def lit(seed: int, nth: int, rate: float, time_s: float, share: float) -> bool:
    """Whether something that flickers, changing ``rate`` times a second, is already (or still) at
    rest at a moment: the likelier, the more of its way (``share``, 0..1) is behind it. Each of
    several, ``nth``, flickers by itself."""
    step = math.floor(time_s * rate)
    return chance(seed + 31 * nth, step) < float(min(1.0, max(0.0, share)) ** 0.8)
