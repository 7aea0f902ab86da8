"""Easings cut in two at a moment."""

from __future__ import annotations

from .base import Easing
from .css import LinearStops

# Stops by which a stretch is followed that has no exact form.
_STOPS = 180


def split_easing(
    easing: Easing, progress: float, duration_s: float = 1.0
) -> tuple[Easing, Easing] | None:
    """The easings of the two stretches before and after a moment (0..1), so that a key put there
    changes nothing; None where a stretch has no travel that could be eased. Those that have no
    exact form are followed by linear() with many stops."""
    if easing.splits:
        return easing.split(progress, duration_s)
    middle = easing.at(progress, duration_s)
    if not (0 < progress < 1) or abs(middle) < 1e-6 or abs(1 - middle) < 1e-6:
        return None

    def stretch(start: float, end: float, low: float, high: float) -> Easing:
        stops = []
        for i in range(_STOPS + 1):
            p = start + (end - start) * i / _STOPS
            value = (easing.at(p, duration_s) - low) / (high - low)
            stops.append((round(value, 5), i / _STOPS))
        return LinearStops(((0.0, 0.0), *stops[1:-1], (1.0, 1.0)))

    return stretch(0.0, progress, 0.0, middle), stretch(progress, 1.0, middle, 1.0)
