"""A whole path travelled by its length."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from .affine import Point
from .outline import from_svg_path

_PLACES = 512  # by which the nearest is found
_STEPS = 64  # of each cubic; between them the parameter goes evenly with the length


class Trail:
    """The contours of a path one after another, travelled by arc length.

    A single closed contour goes round and round; else what lies before the start and beyond the
    end is straight, along the direction that the path has there.
    """

    def __init__(self, data: str) -> None:
        """``data`` is SVG path data; DocumentError if it cannot be read. It may be empty."""
        contours = from_svg_path(data).closed_cubics()
        self.closed = len(contours) == 1 and contours[0][1]
        self._cubics = np.array([c for cubics, _ in contours for c in cubics]).reshape(-1, 4, 2)
        # Lengths by Simpson's rule on the speed, each step by its ends and its middle.
        s = np.linspace(0.0, 1.0, 2 * _STEPS + 1)
        speed = np.linalg.norm(_derivatives(self._cubics[:, None], s[None, :]), axis=2)
        steps = (speed[:, :-1:2] + 4 * speed[:, 1::2] + speed[:, 2::2]) / 6 / _STEPS
        self._lengths = np.concatenate([[0.0], np.cumsum(steps.ravel())])

    @property
    def length(self) -> float:
        """Its whole length."""
        return float(self._lengths[-1])

    @property
    def is_empty(self) -> bool:
        """Whether there is no way to go."""
        return self.length < 1e-6

    def at(self, distances: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """The points (n, 2) after distances (n,) from the start, and the directions there (n,) in
        degrees, clockwise from the right."""
        distances = np.asarray(distances, np.float64)
        if self.closed:
            distances = distances % self.length
        inside = np.clip(distances, 0.0, self.length)
        step = np.searchsorted(self._lengths, inside, side="right") - 1
        step = np.clip(step, 0, len(self._lengths) - 2)
        before, after = self._lengths[step], self._lengths[step + 1]
        share = (inside - before) / np.maximum(after - before, 1e-12)
        cubics = self._cubics[step // _STEPS]
        first = (step % _STEPS) / _STEPS
        s = first + np.clip(share, 0.0, 1.0) / _STEPS
        # One step of Newton's from there, by the length gained within the step of the table.
        sides = [
            np.linalg.norm(_derivatives(cubics, at), axis=1) for at in (first, (first + s) / 2, s)
        ]
        gained = (s - first) * (sides[0] + 4 * sides[1] + sides[2]) / 6
        s = s - (gained - (inside - before)) / np.maximum(sides[2], 1e-9 * self.length + 1e-12)
        s = np.clip(s, first, first + 1 / _STEPS)
        ways = _derivatives(cubics, s)
        # Where a handle has no length the curve stands still: its direction is that near by.
        still = np.linalg.norm(ways, axis=1) < 1e-6 * max(1.0, self.length)
        if still.any():
            ways[still] = _derivatives(
                cubics[still], np.where(s[still] < 0.5, s[still] + 1e-3, s[still] - 1e-3)
            )
        size = np.maximum(np.linalg.norm(ways, axis=1), 1e-12)
        ways /= size[:, None]
        points = _points(cubics, s) + ways * (distances - inside)[:, None]
        return points, np.degrees(np.arctan2(ways[:, 1], ways[:, 0]))

    def nearest(self, points: Sequence[Point]) -> list[float]:
        """How far along it each point lies, by the nearest of evenly spaced places on it, px; 0 for
        all where there is no way to go."""
        if self.is_empty or not points:
            return [0.0] * len(points)
        ways = np.linspace(0.0, self.length * (1 - self.closed / _PLACES), _PLACES)
        there, _ = self.at(ways)
        far = np.linalg.norm(np.asarray(points)[:, None] - there[None], axis=2)
        return [float(ways[at]) for at in far.argmin(axis=1)]


def _points(cubics: np.ndarray, s: np.ndarray) -> np.ndarray:
    """Points of cubics (..., 4, 2) at parameters (...)."""
    s = s[..., None]
    r = 1 - s
    a, b, c, d = (cubics[..., i, :] for i in range(4))
    found: np.ndarray = r**3 * a + 3 * r * r * s * b + 3 * r * s * s * c + s**3 * d
    return found


def _derivatives(cubics: np.ndarray, s: np.ndarray) -> np.ndarray:
    """Their derivatives by the parameter."""
    s = s[..., None]
    r = 1 - s
    a, b, c, d = (cubics[..., i, :] for i in range(4))
    found: np.ndarray = 3 * (r * r * (b - a) + 2 * r * s * (c - b) + s * s * (d - c))
    return found


@lru_cache(maxsize=16)
def trail(data: str) -> Trail:
    """The trail of SVG path data; an equal one is measured once."""
    return Trail(data)
