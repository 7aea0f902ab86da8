"""Cubic Bezier segments travelled by arc length."""

from __future__ import annotations

import numpy as np

from .affine import Point

_SAMPLES = 128


class PathSegment:
    """One cubic from ``p0`` to ``p3``; ``at`` takes a fraction of its length, not its parameter.

    Beyond 0..1 (an easing that overshoots) it goes on straight along the end's direction.
    """

    def __init__(self, p0: Point, p1: Point, p2: Point, p3: Point) -> None:
        self.points = np.array([p0, p1, p2, p3], dtype=np.float64)
        s = np.linspace(0.0, 1.0, _SAMPLES + 1)[:, None]
        curve = _cubic(self.points, s)
        steps = np.hypot(*np.diff(curve, axis=0).T)
        self._lengths = np.concatenate([[0.0], np.cumsum(steps)])
        self._parameters = s[:, 0]

    @classmethod
    def from_handles(cls, p0: Point, out: Point, into: Point, p3: Point) -> PathSegment:
        """Handles are offsets from their own point."""
        return cls(p0, (p0[0] + out[0], p0[1] + out[1]), (p3[0] + into[0], p3[1] + into[1]), p3)

    @property
    def length(self) -> float:
        return float(self._lengths[-1])

    def at(self, fraction: float) -> Point:
        """The point after ``fraction`` of the length."""
        if self.length < 1e-9:
            return (float(self.points[0, 0]), float(self.points[0, 1]))
        if fraction < 0 or fraction > 1:
            return self._beyond(fraction)
        s = float(np.interp(fraction * self.length, self._lengths, self._parameters))
        x, y = _cubic(self.points, np.array([[s]]))[0]
        return (float(x), float(y))

    def _beyond(self, fraction: float) -> Point:
        end, near = (1.0, 0.999) if fraction > 1 else (0.0, 0.001)
        a, b = self.at(end), self.at(near)
        size = float(np.hypot(a[0] - b[0], a[1] - b[1])) or 1.0
        far = (fraction - end if fraction > 1 else -fraction) * self.length / size
        return (a[0] + (a[0] - b[0]) * far, a[1] + (a[1] - b[1]) * far)


def _cubic(points: np.ndarray, s: np.ndarray) -> np.ndarray:
    """Points (n, 2) of the cubic at parameters (n, 1)."""
    r = 1 - s
    return (
        r**3 * points[0] + 3 * r * r * s * points[1] + 3 * r * s * s * points[2] + s**3 * points[3]
    )
