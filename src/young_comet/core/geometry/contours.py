"""Paths as points with handles: the form in which they are edited and morphed."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from ...errors import DocumentError
from .affine import Affine, Point
from .fit import fit_polyline
from .outline import Outline, from_svg_path

MAX_POINTS = 5000
_STRAIGHT = 1e-6


@dataclass(frozen=True, slots=True)
class PathPoint:
    """A point of a path; handles are offsets from it, (0, 0) where there is none."""

    at: Point
    into: Point = (0.0, 0.0)
    out: Point = (0.0, 0.0)

    @property
    def smooth(self) -> bool:
        """Whether both handles lie on one line through the point."""
        a, b = math.hypot(*self.into), math.hypot(*self.out)
        if a < 1e-6 or b < 1e-6:
            return False
        dot = (self.into[0] * self.out[0] + self.into[1] * self.out[1]) / (a * b)
        return dot < -0.9995

    def moved(self, by: Point) -> PathPoint:
        """The point moved, its handles along."""
        return replace(self, at=(self.at[0] + by[0], self.at[1] + by[1]))

    def mapped(self, m: Affine) -> PathPoint:
        """The point and its handles mapped."""

        def turn(v: Point) -> Point:
            return (m.a * v[0] + m.c * v[1], m.b * v[0] + m.d * v[1])

        return PathPoint(m(self.at), turn(self.into), turn(self.out))


@dataclass(frozen=True, slots=True)
class Contour:
    """Points in their order; a closed contour goes on from the last to the first."""

    points: tuple[PathPoint, ...]
    closed: bool = True

    @property
    def segment_count(self) -> int:
        """How many segments it has."""
        n = len(self.points)
        return n if self.closed and n > 1 else max(0, n - 1)

    def segment(self, index: int) -> np.ndarray:
        """The cubic from point ``index`` to the next as its four points (4, 2)."""
        a, b = self.points[index], self.points[(index + 1) % len(self.points)]
        return np.array(
            [
                a.at,
                (a.at[0] + a.out[0], a.at[1] + a.out[1]),
                (b.at[0] + b.into[0], b.at[1] + b.into[1]),
                b.at,
            ]
        )

    def cubics(self) -> np.ndarray:
        """All segments (n, 4, 2)."""
        if not self.segment_count:
            return np.zeros((0, 4, 2))
        return np.stack([self.segment(i) for i in range(self.segment_count)])

    @property
    def area(self) -> float:
        """Signed; positive where the points go clockwise on the screen."""
        points = np.array([p.at for p in self.points])
        x, y = points[:, 0], points[:, 1]
        return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) / 2)

    def reversed(self) -> Contour:
        """The other way round, from the same first point where it is closed."""
        back = [PathPoint(p.at, p.out, p.into) for p in self.points[::-1]]
        if self.closed and back:
            back = [back[-1], *back[:-1]]
        return Contour(tuple(back), self.closed)

    def starting_at(self, index: int) -> Contour:
        """A closed contour with another first point."""
        if not self.closed:
            return self
        return Contour((*self.points[index:], *self.points[:index]), True)

    def split(self, index: int, at: float) -> Contour:
        """With a new point in segment ``index`` at its parameter 0..1 (de Casteljau)."""
        p0, p1, p2, p3 = self.segment(index)
        following = self.points[(index + 1) % len(self.points)]
        if self.points[index].out == following.into == (0.0, 0.0):
            corner = PathPoint(_point(p0 + (p3 - p0) * at))
            split = (*self.points[: index + 1], corner, *self.points[index + 1 :])
            return Contour(split, self.closed)
        a, b, c = p0 + (p1 - p0) * at, p1 + (p2 - p1) * at, p2 + (p3 - p2) * at
        d, e = a + (b - a) * at, b + (c - b) * at
        middle = d + (e - d) * at
        points = list(self.points)
        after = (index + 1) % len(points)
        points[index] = replace(points[index], out=_offset(a, p0))
        points[after] = replace(points[after], into=_offset(c, p3))
        new = PathPoint(_point(middle), _offset(d, middle), _offset(e, middle))
        points.insert(index + 1, new)
        return Contour(tuple(points), self.closed)

    def mapped(self, matrix: Affine) -> Contour:
        """The contour mapped, point by point."""
        return Contour(tuple(p.mapped(matrix) for p in self.points), self.closed)


def _point(p: np.ndarray) -> Point:
    return (float(p[0]), float(p[1]))


def _offset(p: np.ndarray, origin: np.ndarray) -> Point:
    x, y = float(p[0] - origin[0]), float(p[1] - origin[1])
    return (0.0, 0.0) if math.hypot(x, y) < _STRAIGHT else (x, y)


def contours_of(outline: Outline) -> tuple[Contour, ...]:
    """An outline's contours as points with handles; straight sides have none."""
    found = []
    for cubics, closed in outline.closed_cubics():
        points = [PathPoint(cubics[0][0])]
        for p0, p1, p2, p3 in cubics:
            straight = _is_line(p0, p1, p2, p3)
            out = (0.0, 0.0) if straight else (p1[0] - p0[0], p1[1] - p0[1])
            into = (0.0, 0.0) if straight else (p2[0] - p3[0], p2[1] - p3[1])
            points[-1] = replace(points[-1], out=out)
            points.append(PathPoint(p3, into))
        if closed and len(points) > 1 and math.dist(points[0].at, points[-1].at) < 1e-4:
            points[0] = replace(points[0], into=points[-1].into)
            points.pop()
        found.append(Contour(tuple(points), closed))
    return tuple(found)


def _is_line(p0: Point, p1: Point, p2: Point, p3: Point) -> bool:
    dx, dy = p3[0] - p0[0], p3[1] - p0[1]
    size = math.hypot(dx, dy)
    if size < 1e-9:
        return math.dist(p0, p1) < 1e-9 and math.dist(p2, p3) < 1e-9
    far = max(abs((p[0] - p0[0]) * dy - (p[1] - p0[1]) * dx) / size for p in (p1, p2))
    along = [((p[0] - p0[0]) * dx + (p[1] - p0[1]) * dy) / size for p in (p1, p2)]
    return far < 1e-4 and -1e-4 <= along[0] <= along[1] + 1e-4 and along[1] <= size + 1e-4


@lru_cache(maxsize=1024)
def parse_contours(data: str) -> tuple[Contour, ...]:
    """Contours of SVG path data. DocumentError where it cannot be read or is too long."""
    contours = contours_of(from_svg_path(data))
    if sum(len(contour.points) for contour in contours) > MAX_POINTS:
        raise DocumentError(f"expected at most {MAX_POINTS} points", field="path")
    return contours


def write_contours(contours: tuple[Contour, ...] | list[Contour]) -> str:
    """SVG path data (absolute M, L, C, Z), coordinates to a thousandth of a pixel."""
    parts: list[str] = []
    for contour in contours:
        if not contour.points:
            continue
        parts.append("M" + _pair(contour.points[0].at))
        for index in range(contour.segment_count):
            _, p1, p2, p3 = (_point(p) for p in contour.segment(index))
            last = contour.closed and index == contour.segment_count - 1
            a, b = contour.points[index], contour.points[(index + 1) % len(contour.points)]
            if a.out == (0.0, 0.0) and b.into == (0.0, 0.0):
                if not last:
                    parts.append("L" + _pair(p3))
            else:
                parts.append(f"C{_pair(p1)} {_pair(p2)} {_pair(p3)}")
        if contour.closed:
            parts.append("Z")
    return " ".join(parts)


def freehand_path(points: np.ndarray, tolerance: float, *, closed: bool) -> str:
    """SVG path data of few smooth curves through drawn points (n, 2), no farther from them than
    a tolerance. A closed one goes on to its first point."""
    if closed:
        points = np.vstack([points, points[:1]])
    found: list[PathPoint] = []
    for curve in fit_polyline(points, tolerance):
        p0, p1, p2, p3 = (_point(p) for p in curve)
        if not found:
            found.append(PathPoint(p0))
        found[-1] = replace(found[-1], out=(p1[0] - p0[0], p1[1] - p0[1]))
        found.append(PathPoint(p3, (p2[0] - p3[0], p2[1] - p3[1])))
    if closed and len(found) > 2:
        found[0] = replace(found[0], into=found[-1].into)
        found.pop()
    if len(found) < 2:
        raise DocumentError("the drawn line has no length", field="points")
    return write_contours([Contour(tuple(found), closed)])


def _pair(p: Point) -> str:
    return f"{_short(p[0])} {_short(p[1])}"


def _short(value: float) -> str:
    text = f"{value:.3f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text
