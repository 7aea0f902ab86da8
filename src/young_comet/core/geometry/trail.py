"""A whole path travelled by its length."""

from __future__ import annotations

from functools import lru_cache
from itertools import accumulate

import numpy as np

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

    def at(self, distances: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """The points (n, 2) after distances (n,) from the start, and the directions there (n,) in
        degrees, clockwise from the right."""
        distances = np.asarray(distances, np.float64)
        if self.closed:
            distances = distances % self.length
        indices = np.searchsorted(self._starts, distances, side="right") - 1
        indices = np.clip(indices, 0, len(self._segments) - 1)
        points, ways = np.empty((len(distances), 2)), np.empty((len(distances), 2))
        for index in np.unique(indices):
            mine = indices == index
            segment = self._segments[index]
            shares = (distances[mine] - self._starts[index]) / segment.length
            points[mine] = segment.at_many(shares)
            ways[mine] = segment.directions(shares)
        return points, np.degrees(np.arctan2(ways[:, 1], ways[:, 0]))


@lru_cache(maxsize=64)
def trail(data: str) -> Trail:
    """The trail of SVG path data; an equal one is measured once."""
    return Trail(data)
