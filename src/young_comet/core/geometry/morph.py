"""One path becoming another: points matched, shapes turned rather than folded."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise

import numpy as np

from .contours import Contour, PathPoint, parse_contours, write_contours

_NEAR = 1e-4  # fractions of the length that count as the same place
_SAMPLES = 24


def morph(a: str, b: str, amount: float) -> str:
    """The path between two (SVG path data): ``a`` at 0, ``b`` at 1, beyond them outside 0..1.

    First points are matched with first points. Where the numbers of points agree they are
    matched in their order; otherwise both contours get points where the other one has them,
    as fractions of their length. A closed contour that runs the other way round is reversed.
    A contour without partner grows from its centre. Shapes that are turned against each other
    are turned as a whole while the rest of the change is a straight one, so that they do not
    shrink on their way.
    """
    if amount == 0 or a == b:
        return a
    if amount == 1:
        return b
    result = []
    for first, second, closed, turn in _pairs(a, b):
        result.append(_between(first, second, closed, turn, amount))
    return write_contours(result)


Matched = tuple[np.ndarray, np.ndarray, bool, float]


@lru_cache(maxsize=256)
def _pairs(a: str, b: str) -> tuple[Matched, ...]:
    """Cubics (n, 4, 2) of both sides with equal n, whether closed, and how far (rad) the
    second is turned against the first."""
    first, second = list(parse_contours(a)), list(parse_contours(b))
    first = [c for c in first if c.segment_count]
    second = [c for c in second if c.segment_count]
    for shorter, longer in ((first, second), (second, first)):
        shorter += [_shrunk(c) for c in longer[len(shorter) :]]
    return tuple(_match(c, d) for c, d in zip(first, second, strict=True))


def _shrunk(contour: Contour) -> Contour:
    x, y = np.mean([p.at for p in contour.points], axis=0)
    return Contour(tuple(PathPoint((float(x), float(y))) for _ in contour.points), contour.closed)


def _match(a: Contour, b: Contour) -> Matched:
    closed = a.closed and b.closed
    if closed and a.area * b.area < 0:
        b = b.reversed()
    p, q = a.cubics(), b.cubics()
    if a.closed != b.closed or len(p) != len(q):
        p, q = _with_points_of(p, q)
    return p, q, closed, _turn(p, q)


def _with_points_of(p: np.ndarray, q: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Both with points at the union of their places along the length."""
    own, other = _places(p), _places(q)
    places = own.tolist()
    places += [x for x in other if np.min(np.abs(own - x)) > _NEAR]
    places.sort()
    return _cut(p, places), _cut(q, places)


def _places(cubics: np.ndarray) -> np.ndarray:
    """Where the segments' ends lie, as fractions of the length: 0 ... 1."""
    lengths = np.array([_length(c) for c in cubics])
    total = lengths.sum()
    if total < 1e-9:
        return np.linspace(0, 1, len(cubics) + 1)
    return np.concatenate([[0.0], np.cumsum(lengths) / total])


def _length(cubic: np.ndarray) -> float:
    points = _points(cubic, np.linspace(0, 1, _SAMPLES + 1))
    return float(np.sum(np.hypot(*np.diff(points, axis=0).T)))


def _points(cubic: np.ndarray, s: np.ndarray) -> np.ndarray:
    s = s[:, None]
    r = 1 - s
    p0, p1, p2, p3 = cubic
    result: np.ndarray = r**3 * p0 + 3 * r * r * s * p1 + 3 * r * s * s * p2 + s**3 * p3
    return result


def _cut(cubics: np.ndarray, places: list[float]) -> np.ndarray:
    """The same curve cut at fractions of its length; they include the ends."""
    ends = _places(cubics)
    result = []
    for start, end in pairwise(places):
        middle = (start + end) / 2
        index = int(np.clip(np.searchsorted(ends, middle, side="right") - 1, 0, len(cubics) - 1))
        cubic, low, high = cubics[index], ends[index], ends[index + 1]
        s0 = _parameter(cubic, (start - low) / max(high - low, 1e-12))
        s1 = _parameter(cubic, (end - low) / max(high - low, 1e-12))
        result.append(_stretch(cubic, s0, s1))
    return np.stack(result)


def _parameter(cubic: np.ndarray, fraction: float) -> float:
    if fraction <= _NEAR:
        return 0.0
    if fraction >= 1 - _NEAR:
        return 1.0
    s = np.linspace(0, 1, 4 * _SAMPLES + 1)
    steps = np.hypot(*np.diff(_points(cubic, s), axis=0).T)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    if along[-1] < 1e-9:
        return fraction
    return float(np.interp(fraction * along[-1], along, s))


def _stretch(cubic: np.ndarray, s0: float, s1: float) -> np.ndarray:
    """The part of a cubic between two parameters, by its blossom."""

    def blossom(u: float, v: float, w: float) -> np.ndarray:
        p = cubic
        for t in (u, v, w):
            p = p[:-1] * (1 - t) + p[1:] * t
        result: np.ndarray = p[0]
        return result

    return np.stack(
        [blossom(s0, s0, s0), blossom(s0, s0, s1), blossom(s0, s1, s1), blossom(s1, s1, s1)]
    )


def _turn(p: np.ndarray, q: np.ndarray) -> float:
    """How far (rad) the second shape is turned, where turning explains the change well."""
    a, b = p[:, 0] - p[:, 0].mean(axis=0), q[:, 0] - q[:, 0].mean(axis=0)
    dot = float(np.sum(a * b))
    cross = float(np.sum(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]))
    angle = math.atan2(cross, dot)  # the rotation of least squares (Procrustes)
    if abs(angle) < 0.2:
        return 0.0
    plain = float(np.sum((a - b) ** 2))
    turned = float(np.sum((a - _rotated(b, -angle)) ** 2))
    return angle if turned < 0.5 * plain else 0.0


def _rotated(points: np.ndarray, angle: float) -> np.ndarray:
    cos, sin = math.cos(angle), math.sin(angle)
    x, y = points[..., 0], points[..., 1]
    return np.stack([x * cos - y * sin, x * sin + y * cos], axis=-1)


def _between(p: np.ndarray, q: np.ndarray, closed: bool, turn: float, amount: float) -> Contour:
    if turn:
        a, b = p[:, 0].mean(axis=0), q[:, 0].mean(axis=0)
        own, other = p - a, _rotated(q - b, -turn)
        mixed = _rotated(own + (other - own) * amount, turn * amount) + a + (b - a) * amount
    else:
        mixed = p + (q - p) * amount
    points = []
    for index, cubic in enumerate(mixed):
        before = mixed[index - 1] if index or closed else cubic[[0, 0, 0, 0]]
        points.append(
            PathPoint(_pair(cubic[0]), _pair(before[2] - before[3]), _pair(cubic[1] - cubic[0]))
        )
    if not closed:
        last = mixed[-1]
        points.append(PathPoint(_pair(last[3]), _pair(last[2] - last[3])))
    return Contour(tuple(points), closed)


def _pair(v: np.ndarray) -> tuple[float, float]:
    return (float(v[0]), float(v[1]))


def best_start(reference: str, data: str) -> str:
    """The path with the first point of each closed contour chosen, and its direction, so that
    its points lie nearest to those of a reference when both are laid on each other."""
    wanted, found = parse_contours(reference), list(parse_contours(data))
    for index, contour in enumerate(found[: len(wanted)]):
        goal = wanted[index]
        if not (contour.closed and goal.closed and contour.segment_count and goal.segment_count):
            continue
        if contour.area * goal.area < 0:
            contour = contour.reversed()
        target = _ring(goal)
        costs = [
            float(np.sum((_ring(contour.starting_at(i)) - target) ** 2))
            for i in range(min(len(contour.points), 200))
        ]
        found[index] = contour.starting_at(int(np.argmin(costs)))
    return write_contours(found)


def _ring(contour: Contour, count: int = 32) -> np.ndarray:
    """Points at equal steps along a closed contour, about their middle."""
    cubics = contour.cubics()
    dense = np.concatenate([_points(c, np.linspace(0, 1, 12, endpoint=False)) for c in cubics])
    dense = np.concatenate([dense, dense[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(dense, axis=0).T))])
    at = np.linspace(0, along[-1], count, endpoint=False)
    points = np.stack([np.interp(at, along, dense[:, i]) for i in (0, 1)], axis=1)
    result: np.ndarray = points - points.mean(axis=0)
    return result
