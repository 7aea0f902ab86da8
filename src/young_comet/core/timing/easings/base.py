"""What every easing is: progress in, eased progress out."""

from __future__ import annotations

import math

import numpy as np

# An easing that can be drawn with two handles: x1, y1, x2, y2 of a CSS cubic-bezier().
Handles = tuple[float, float, float, float]

_STEP = 1e-4


class Easing:
    """How a value travels from one key to the next. Values are frozen and hashable.

    Both ends are fixed: 0 gives 0 and 1 gives 1; between them the result may overshoot.
    """

    splits = False
    """Whether ``split`` is known exactly."""

    @property
    def text(self) -> str:
        """Must. The easing as documents keep it; ``parse_easing(e.text)`` gives ``e`` again."""
        raise NotImplementedError

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        """Must. Eased progress at ``progress`` in 0..1.

        ``duration_s`` is the length of the segment: easings that follow a clock of their own
        (springs) need it, others ignore it.
        """
        raise NotImplementedError

    def at_many(self, progress: np.ndarray, duration_s: float = 1.0) -> np.ndarray:
        """May. As ``at`` for an array (n,) of float64."""
        return np.array([self.at(float(p), duration_s) for p in progress])

    @property
    def handles(self) -> Handles | None:
        """May. The handles of the cubic Bezier that is this easing exactly; None if none is."""
        return None

    @property
    def tail(self) -> str:
        """May. How its comet's tail is drawn: "soft", "hold", "wavy" or "steps"."""
        return "soft"

    def reversed(self) -> Easing:
        """May. The easing of the same way back, played backwards: 1 - e(1 - p)."""
        return Reversed(self)

    def split(self, progress: float, duration_s: float = 1.0) -> tuple[Easing, Easing] | None:
        """May, together with ``splits``. As ``split_easing``, exactly."""
        raise NotImplementedError

    def slope(self, progress: float, duration_s: float = 1.0) -> float:
        """Don't override. Eased progress gained for each unit of progress, numerically."""
        a, b = max(0.0, progress - _STEP), min(1.0, progress + _STEP)
        return (self.at(b, duration_s) - self.at(a, duration_s)) / (b - a)

    @property
    def leave(self) -> float:
        """May. 0..1: how softly the first key is left; the length of its comet's tail."""
        return _lag(lambda p: self.at(p))

    @property
    def arrive(self) -> float:
        """May. 0..1: how softly the second key is reached."""
        return _lag(lambda p: 1 - self.at(1 - p))


class Reversed(Easing):
    """Another easing played backwards on the way back."""

    __slots__ = ("inner",)

    def __init__(self, inner: Easing) -> None:
        self.inner = inner

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Reversed) and other.inner == self.inner

    def __hash__(self) -> int:
        return hash(("reversed", self.inner))

    @property
    def text(self) -> str:
        return f"reversed({self.inner.text})"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        return 1 - self.inner.at(1 - progress, duration_s)

    @property
    def tail(self) -> str:
        return self.inner.tail

    def reversed(self) -> Easing:
        return self.inner


def _lag(curve: object) -> float:
    """How long the value stays within a tenth of the way, beyond what a straight line does."""
    assert callable(curve)
    for i in range(1, 101):
        if abs(curve(i / 100)) >= 0.1:
            return max(0.0, min(1.0, (i / 100 - 0.1) * 1.7))
    return 1.0


def number_text(value: float) -> str:
    """A number as short as it can be written with five decimals."""
    text = f"{value:.5f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def is_finite(*values: float) -> bool:
    """Whether all are plain numbers."""
    return all(math.isfinite(value) for value in values)
