"""Cubic Beziers fitted to points.

After Philip J. Schneider, "An Algorithm for Automatically Fitting Digitized Curves", Graphics
Gems (1990): least squares for the lengths of the two handles whose directions are given, the
points' parameters improved by Newton's method in between.
"""

from __future__ import annotations

import numpy as np

from ..effort import spend

_ROUNDS = 12


def fit_cubic(points: np.ndarray, out: np.ndarray, into: np.ndarray) -> np.ndarray:
    """Control points (4, 2) of the cubic nearest to points (n, 2), n >= 2, that starts at the
    first in direction ``out`` and ends at the last, coming from direction ``into`` (both unit
    vectors that point from their end into the curve)."""
    chord = np.hypot(*np.diff(points, axis=0).T)
    total = chord.sum()
    if total < 1e-9:
        return np.array([points[0], points[0], points[-1], points[-1]])
    u = np.concatenate([[0.0], np.cumsum(chord) / total])
    best, least = None, np.inf
    for _ in range(_ROUNDS):
        curve = _least_squares(points, u, out, into, total)
        away = bezier(curve, u) - points
        error = float((away**2).sum())
        if error < least:
            best, least = curve, error
        u = _nearer(curve, points, u)
    assert best is not None
    return best


def _least_squares(
    points: np.ndarray, u: np.ndarray, out: np.ndarray, into: np.ndarray, total: float
) -> np.ndarray:
    r = 1 - u
    b0, b1, b2, b3 = r**3, 3 * u * r * r, 3 * u * u * r, u**3
    a1, a2 = b1[:, None] * out, b2[:, None] * into
    rest = points - ((b0 + b1)[:, None] * points[0] + (b2 + b3)[:, None] * points[-1])
    c11, c12, c22 = (a1 * a1).sum(), (a1 * a2).sum(), (a2 * a2).sum()
    x1, x2 = (a1 * rest).sum(), (a2 * rest).sum()
    det = c11 * c22 - c12 * c12
    chord = float(np.hypot(*(points[-1] - points[0])))
    third = max(chord, total * 0.2) / 3
    if abs(det) > 1e-12:
        left, right = (x1 * c22 - x2 * c12) / det, (c11 * x2 - c12 * x1) / det
    else:
        left = right = third
    if not (1e-6 < left < 4 * total and 1e-6 < right < 4 * total):
        left = right = third
    return np.array([points[0], points[0] + out * left, points[-1] + into * right, points[-1]])


def bezier(curve: np.ndarray, u: np.ndarray) -> np.ndarray:
    """Points (n, 2) of a cubic (4, 2) at its own parameters (n,)."""
    s = u[:, None]
    r = 1 - s
    result: np.ndarray = (
        r**3 * curve[0] + 3 * r * r * s * curve[1] + 3 * r * s * s * curve[2] + s**3 * curve[3]
    )
    return result


def _nearer(curve: np.ndarray, points: np.ndarray, u: np.ndarray) -> np.ndarray:
    """One Newton step of every parameter towards the nearest point of the curve."""
    d1 = 3 * np.diff(curve, axis=0)
    d2 = 2 * np.diff(d1, axis=0)
    s = u[:, None]
    r = 1 - s
    first = r * r * d1[0] + 2 * r * s * d1[1] + s * s * d1[2]
    second = r * d2[0] + s * d2[1]
    away = bezier(curve, u) - points
    top = (away * first).sum(axis=1)
    bottom = (first * first).sum(axis=1) + (away * second).sum(axis=1)
    moved = u - np.where(np.abs(bottom) > 1e-12, top / np.where(bottom == 0, 1, bottom), 0.0)
    moved = np.clip(moved, 0.0, 1.0)
    moved[0], moved[-1] = 0.0, 1.0
    return np.maximum.accumulate(moved)


def unit(vector: np.ndarray) -> np.ndarray:
    """The vector with length 1; zeros for none."""
    size = float(np.hypot(*vector))
    return vector / size if size > 1e-12 else np.zeros(2)


def fit_polyline(points: np.ndarray, tolerance: float) -> list[np.ndarray]:
    """Cubics (4, 2) one after another along points (n, 2), nowhere further off than the
    tolerance; smooth where they meet."""
    keep = np.concatenate([[True], np.hypot(*np.diff(points, axis=0).T) > 1e-6])
    points = points[keep]
    if len(points) < 2:
        return []
    return _fit_between(
        points, 0, len(points) - 1, direction(points, 0), -direction(points, len(points) - 1),
        tolerance,
    )  # fmt: skip


def direction(points: np.ndarray, index: int, reach: int = 3) -> np.ndarray:
    """The unit direction of travel at a point, over some neighbours on both sides."""
    low, high = max(0, index - reach), min(len(points) - 1, index + reach)
    found = unit(points[high] - points[low])
    return found if found.any() else unit(points[-1] - points[0])


def _distances(curve: np.ndarray, points: np.ndarray) -> np.ndarray:
    """How far points (n, 2) are from a cubic: from the nearest of the chords between even samples
    of it, some points at a time."""
    dense = bezier(curve, np.linspace(0, 1, min(512, max(64, 2 * len(points)))))
    nearest = np.concatenate(
        [
            ((part[:, None, :] - dense[None, :, :]) ** 2).sum(axis=2).argmin(axis=1)
            for part in (points[i : i + 512] for i in range(0, len(points), 512))
        ]
    )
    found = np.full(len(points), np.inf)
    for shift in (-1, 0):
        low = np.clip(nearest + shift, 0, len(dense) - 2)
        start, way = dense[low], dense[low + 1] - dense[low]
        size = np.maximum((way**2).sum(axis=1), 1e-18)
        share = np.clip(((points - start) * way).sum(axis=1) / size, 0, 1)
        away = start + share[:, None] * way - points
        found = np.minimum(found, np.hypot(away[:, 0], away[:, 1]))
    return found


def _fit_between(
    points: np.ndarray, i: int, j: int, out: np.ndarray, into: np.ndarray, tolerance: float
) -> list[np.ndarray]:
    part = points[i : j + 1]
    spend(2 + len(part) / 100)
    if len(part) == 2:
        a, b = part
        return [np.array([a, a + (b - a) / 3, b - (b - a) / 3, b])]
    curve = fit_cubic(part, out, into)
    off = _distances(curve, part)
    worst = int(np.argmax(off[1:-1])) + 1
    if off[worst] <= tolerance:
        return [curve]
    middle = direction(points, i + worst)
    return [
        *_fit_between(points, i, i + worst, out, -middle, tolerance),
        *_fit_between(points, i + worst, j, middle, into, tolerance),
    ]
