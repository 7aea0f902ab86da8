"""Cubic Bezier segments travelled by arc length."""

from __future__ import annotations

import math

import numpy as np

from .affine import Point

_SAMPLES = 200


class PathSegment:
    """One cubic from ``p0`` to ``p3``; ``at`` takes a fraction of its length, not its parameter.

    Beyond 0..1 (an easing that overshoots) it goes on straight along the end's direction.
    """

    def __init__(self, p0: Point, p1: Point, p2: Point, p3: Point) -> None:
        self.points = np.array([p0, p1, p2, p3], dtype=np.float64)
        s = np.linspace(0.0, 1.0, _SAMPLES + 1)
        # Length by Simpson's rule on the speed, each step by its ends and its middle.
        ends = np.hypot(*_derivative(self.points, s[:, None]).T)
        middles = np.hypot(*_derivative(self.points, (s[:-1] + s[1:])[:, None] / 2).T)
        steps = (ends[:-1] + 4 * middles + ends[1:]) / 6 / _SAMPLES
        self._lengths = np.concatenate([[0.0], np.cumsum(steps)])
        self._parameters = s

    @classmethod
    def from_handles(cls, p0: Point, out: Point, into: Point, p3: Point) -> PathSegment:
        """Handles are offsets from their own point."""
        return cls(p0, (p0[0] + out[0], p0[1] + out[1]), (p3[0] + into[0], p3[1] + into[1]), p3)

    @property
    def length(self) -> float:
        """Its length."""
        return float(self._lengths[-1])

    @property
    def handles(self) -> tuple[Point, Point]:
        """Offsets of the two control points from their own ends: out of p0, into p3."""
        out, into = self.points[1] - self.points[0], self.points[2] - self.points[3]
        return (float(out[0]), float(out[1])), (float(into[0]), float(into[1]))

    def parameter(self, fraction: float) -> float:
        """The cubic's own parameter after a fraction of the length, 0..1."""
        target = min(1.0, max(0.0, fraction)) * self.length
        s = float(np.interp(target, self._lengths, self._parameters))
        index = min(int(s * _SAMPLES), _SAMPLES - 1)
        # One Newton step from the table: the length gained since the entry before.
        speed = math.hypot(*self._velocity(s))
        if speed > 1e-9:
            start = self._parameters[index]
            gained = (
                (s - start)
                * (
                    math.hypot(*self._velocity(start))
                    + 4 * math.hypot(*self._velocity((start + s) / 2))
                    + speed
                )
                / 6
            )
            s -= (self._lengths[index] + gained - target) / speed
        # Where the curve nearly stands still the step may be far too long.
        return float(min(self._parameters[index + 1], max(self._parameters[index], s)))

    def at(self, fraction: float) -> Point:
        """The point after ``fraction`` of the length."""
        if self.length < 1e-9:
            return (float(self.points[0, 0]), float(self.points[0, 1]))
        if fraction < 0 or fraction > 1:
            return self._beyond(fraction)
        return self.point(self.parameter(fraction))

    def at_many(self, fractions: np.ndarray) -> np.ndarray:
        """Points (n, 2) after fractions (n,) of the length; beyond 0..1 straight on."""
        inside = np.clip(fractions, 0.0, 1.0)
        s = np.interp(inside * self.length, self._lengths, self._parameters)[:, None]
        r = 1 - s
        p = self.points
        found = r**3 * p[0] + 3 * r * r * s * p[1] + 3 * r * s * s * p[2] + s**3 * p[3]
        over = fractions - inside
        if np.any(over):
            ends = np.where((over > 0)[:, None], self.direction(1.0), self.direction(0.0))
            found = found + ends * (over * self.length)[:, None]
        result: np.ndarray = found
        return result

    def point(self, s: float) -> Point:
        """The point at the cubic's own parameter."""
        r = 1 - s
        a, b, c, d = r**3, 3 * r * r * s, 3 * r * s * s, s**3
        (x0, y0), (x1, y1), (x2, y2), (x3, y3) = self.points.tolist()
        return (a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3)

    def direction(self, fraction: float) -> Point:
        """The unit vector along the path after a fraction of its length; (0, 0) for a point.

        Where a handle has no length the direction is that of the next control point.
        """
        s = self.parameter(fraction)
        for at in (s, s + (1e-3 if s < 0.5 else -1e-3)):
            vx, vy = self._velocity(at)
            size = math.hypot(vx, vy)
            if size > 1e-6 * max(1.0, self.length):
                return (vx / size, vy / size)
        chord = self.points[3] - self.points[0]
        size = float(np.hypot(*chord))
        return (float(chord[0]) / size, float(chord[1]) / size) if size > 1e-9 else (0.0, 0.0)

    def split(self, fraction: float) -> tuple[PathSegment, PathSegment]:
        """The two stretches before and after a fraction of the length (de Casteljau)."""
        s = self.parameter(fraction)
        p0, p1, p2, p3 = self.points
        a, b, c = p0 + (p1 - p0) * s, p1 + (p2 - p1) * s, p2 + (p3 - p2) * s
        d, e = a + (b - a) * s, b + (c - b) * s
        middle = d + (e - d) * s
        return _segment(p0, a, d, middle), _segment(middle, e, c, p3)

    def _velocity(self, s: float) -> Point:
        r = 1 - s
        (x0, y0), (x1, y1), (x2, y2), (x3, y3) = self.points.tolist()
        a, b, c = 3 * r * r, 6 * r * s, 3 * s * s
        return (
            a * (x1 - x0) + b * (x2 - x1) + c * (x3 - x2),
            a * (y1 - y0) + b * (y2 - y1) + c * (y3 - y2),
        )

    def _beyond(self, fraction: float) -> Point:
        if fraction > 1:
            (x, y), (dx, dy) = self.at(1.0), self.direction(1.0)
            far = (fraction - 1) * self.length
        else:
            (x, y), (dx, dy) = self.at(0.0), self.direction(0.0)
            far = fraction * self.length
        return (x + dx * far, y + dy * far)


def _segment(*points: np.ndarray) -> PathSegment:
    p0, p1, p2, p3 = ((float(p[0]), float(p[1])) for p in points)
    return PathSegment(p0, p1, p2, p3)


def _derivative(points: np.ndarray, s: np.ndarray) -> np.ndarray:
    """Velocity (n, 2) of the cubic at parameters (n, 1)."""
    r = 1 - s
    result: np.ndarray = (
        3 * r * r * (points[1] - points[0])
        + 6 * r * s * (points[2] - points[1])
        + 3 * s * s * (points[3] - points[2])
    )
    return result
