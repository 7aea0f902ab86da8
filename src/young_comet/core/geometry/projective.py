"""Maps of the plane in perspective."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .affine import Affine, Box, Point

_FAR = 1e6


@dataclass(frozen=True, slots=True)
class Projective:
    """x' = (m0 x + m1 y + m2) / w, y' = (m3 x + m4 y + m5) / w, w = m6 x + m7 y + m8."""

    m: tuple[float, float, float, float, float, float, float, float, float]

    @classmethod
    def of(cls, a: Affine) -> Projective:
        return cls((a.a, a.c, a.e, a.b, a.d, a.f, 0.0, 0.0, 1.0))

    @classmethod
    def from_array(cls, array: np.ndarray) -> Projective:
        return cls(tuple(float(v) for v in array.reshape(9)))  # type: ignore[arg-type]

    @property
    def array(self) -> np.ndarray:
        return np.array(self.m, np.float64).reshape(3, 3)

    def __matmul__(self, other: Projective) -> Projective:
        """First ``other``, then ``self``."""
        return Projective.from_array(self.array @ other.array)

    def __call__(self, point: Point) -> Point:
        """The image of a point; far away where it lies behind the eye."""
        x, y = point
        m = self.m
        w = m[6] * x + m[7] * y + m[8]
        if w < 1e-9:
            return (_FAR, _FAR)
        return ((m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w)

    def inverse(self) -> Projective:
        """The map back; ValueError where the plane is seen edge on."""
        array = self.array
        if abs(np.linalg.det(array)) < 1e-12:
            raise ValueError("the map has no inverse")
        back = np.linalg.inv(array)
        return Projective.from_array(back)

    def corners(self, box: Box) -> list[Point]:
        """Images of the corners, clockwise from the top left."""
        left, top, right, bottom = box
        return [self(p) for p in ((left, top), (right, top), (right, bottom), (left, bottom))]

    def in_front(self, box: Box) -> bool:
        """Whether all of a box lies before the eye."""
        left, top, right, bottom = box
        m = self.m
        corners = ((left, top), (right, top), (right, bottom), (left, bottom))
        return all(m[6] * x + m[7] * y + m[8] > 1e-6 for x, y in corners)

    def scales(self, point: Point) -> tuple[float, float]:
        """The longest and the shortest image of a short unit vector at a point."""
        x, y = point
        m = self.m
        w = max(1e-9, m[6] * x + m[7] * y + m[8])
        u, v = self(point)
        a, c = (m[0] - m[6] * u) / w, (m[1] - m[7] * u) / w
        b, d = (m[3] - m[6] * v) / w, (m[4] - m[7] * v) / w
        local = Affine(a, b, c, d)
        longest = local.max_scale
        return longest, abs(local.determinant) / longest if longest > 1e-12 else 0.0


def seen_tilted(
    position: Point, tilt_deg: float, turn_deg: float, flat: Affine, eye: Point, distance: float
) -> Projective:
    """A layer's plane turned about x (tilt) and y (turn) through its position, seen by an eye
    at a distance in front of a point of the frame.

    ``flat`` maps the layer into the plane before it is turned, its pivot to (0, 0). As CSS
    Transforms 2 has it: rotateY(turn) rotateX(tilt) under perspective(distance).
    """
    ct, st = math.cos(math.radians(tilt_deg)), math.sin(math.radians(tilt_deg))
    cy, sy = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
    # rotateX: (x, y, 0) -> (x, ct y, st y); rotateY: x' = cy x + sy z, z' = -sy x + cy z.
    # z points at the eye; a point at depth z is enlarged by d / (d - z).
    plane = np.array([[cy, sy * st, 0.0], [0.0, ct, 0.0], [-sy, cy * st, 0.0]])
    px, py = position[0] - eye[0], position[1] - eye[1]
    d = distance
    # w = 1 - z / d; x = eye + (p + X) / w.
    spatial = np.array(
        [
            [plane[0, 0], plane[0, 1], px],
            [plane[1, 0], plane[1, 1], py],
            [-plane[2, 0] / d, -plane[2, 1] / d, 1.0],
        ]
    )
    back = np.array([[1, 0, eye[0]], [0, 1, eye[1]], [0, 0, 1]], np.float64)
    return Projective.from_array(back @ spatial @ Projective.of(flat).array)
