"""Planes in space: places that are tilted, turned and carried by one another.

Space is the scene's pixels with z towards the eye. A plane's own points have z = 0.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .affine import Affine, Point
from .projective import Projective

Rows = tuple[tuple[float, float, float, float], ...]


@dataclass(frozen=True, slots=True)
class Space:
    """An affine map of space: three rows (x, y, z, 1) -> x', y', z'."""

    rows: Rows

    @classmethod
    def of(cls, a: Affine) -> Space:
        """A map of the plane; what stands out of the plane grows with it."""
        depth = a.mean_scale
        return cls(((a.a, a.c, 0.0, a.e), (a.b, a.d, 0.0, a.f), (0.0, 0.0, depth, 0.0)))

    @classmethod
    def tilted(cls, position: Point, tilt_deg: float, turn_deg: float, flat: Affine) -> Space:
        """Turned about x (tilt), then y (turn), about a position: rotateY(turn) rotateX(tilt) of
        CSS Transforms 2. ``flat`` maps the plane before it is turned, its pivot to (0, 0)."""
        ct, st = math.cos(math.radians(tilt_deg)), math.sin(math.radians(tilt_deg))
        cy, sy = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
        turned = cls(
            (
                (cy, sy * st, sy * ct, position[0]),
                (0.0, ct, -st, position[1]),
                (-sy, cy * st, cy * ct, 0.0),
            )
        )
        return turned @ cls.of(flat)

    def __matmul__(self, other: Space) -> Space:
        """First ``other``, then ``self``."""
        (a, b, c), rows = other.rows, []
        for p, q, r, s in self.rows:
            rows.append(
                (
                    p * a[0] + q * b[0] + r * c[0],
                    p * a[1] + q * b[1] + r * c[1],
                    p * a[2] + q * b[2] + r * c[2],
                    p * a[3] + q * b[3] + r * c[3] + s,
                )
            )
        return Space(tuple(rows))

    def inverse_at(self, x: float, y: float, z: float) -> tuple[float, float, float]:
        """The point that is mapped to (x, y, z); ValueError where space is folded flat."""
        rows = np.array(self.rows, np.float64)
        if abs(np.linalg.det(rows[:, :3])) < 1e-18:
            raise ValueError("the map has no inverse")
        found = np.linalg.solve(rows[:, :3], np.array([x, y, z]) - rows[:, 3])
        return (float(found[0]), float(found[1]), float(found[2]))

    def depth_at(self, point: Point) -> float:
        """How near to the eye a point of the plane comes, px."""
        x, y, _, shift = self.rows[2]
        return x * point[0] + y * point[1] + shift

    def seen(self, eye: Point, distance: float) -> Projective:
        """Where the plane's points are seen by an eye at a distance in front of a point of the
        frame: a point at depth z is enlarged by d / (d - z)."""
        x, y, z = self.rows
        (ex, ey), d = eye, distance
        # About the eye, divided by the depth, and back.
        p, q, r = -z[0] / d, -z[1] / d, 1.0 - z[3] / d
        return Projective(
            (
                x[0] + ex * p, x[1] + ex * q, x[3] - ex + ex * r,
                y[0] + ey * p, y[1] + ey * q, y[3] - ey + ey * r,
                p, q, r,
            )
        )  # fmt: skip
