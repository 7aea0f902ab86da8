"""A whole path travelled by its length."""

from __future__ import annotations

import math
from bisect import bisect_right
from functools import lru_cache
from itertools import accumulate

from .affine import Point
from .bezier import PathSegment
from .outline import from_svg_path


class Trail:
    """The contours of a path one after another, travelled by arc length.

    A single closed contour goes round and round; else what lies before the start and beyond the
    end is straight, along the direction that the path has there.
    """

    def __init__(self, data: str) -> None:
        """``data`` is SVG path data; DocumentError if it cannot be read. It may be empty."""
        contours = from_svg_path(data).closed_cubics()
        self._segments = [PathSegment(*cubic) for cubics, _ in contours for cubic in cubics]
        self._segments = [segment for segment in self._segments if segment.length > 1e-6]
        self._starts = [0.0, *accumulate(segment.length for segment in self._segments)]
        self.closed = len(contours) == 1 and contours[0][1]

    @property
    def length(self) -> float:
        return self._starts[-1]

    @property
    def is_empty(self) -> bool:
        return not self._segments

    def at(self, distance: float) -> tuple[Point, float]:
        """The point after a distance from the start, and the direction there in degrees,
        clockwise from the right."""
        if self.closed:
            distance %= self.length
        index = bisect_right(self._starts, distance) - 1
        index = min(len(self._segments) - 1, max(0, index))
        segment = self._segments[index]
        share = (distance - self._starts[index]) / segment.length
        dx, dy = segment.direction(min(1.0, max(0.0, share)))
        return segment.at(share), math.degrees(math.atan2(dy, dx))


@lru_cache(maxsize=64)
def trail(data: str) -> Trail:
    """The trail of SVG path data; an equal one is measured once."""
    return Trail(data)
