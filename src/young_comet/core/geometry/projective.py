"""Maps of the plane in perspective."""

from __future__ import annotations

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
        """An affine map as one in perspective."""
        return cls((a.a, a.c, a.e, a.b, a.d, a.f, 0.0, 0.0, 1.0))

    @classmethod
    def from_array(cls, array: np.ndarray) -> Projective:
        """From an array (3, 3)."""
        return cls(tuple(float(v) for v in array.reshape(9)))  # type: ignore[arg-type]

    @property
    def array(self) -> np.ndarray:
        """As an array (3, 3)."""
        return np.array(self.m, np.float64).reshape(3, 3)

    def __matmul__(self, other: Projective) -> Projective:
        """First ``other``, then ``self``."""
        a, b, c, d, e, f, g, h, i = self.m
        p, q, r, s, t, u, v, w, x = other.m
        return Projective(
            (
                a * p + b * s + c * v, a * q + b * t + c * w, a * r + b * u + c * x,
                d * p + e * s + f * v, d * q + e * t + f * w, d * r + e * u + f * x,
                g * p + h * s + i * v, g * q + h * t + i * w, g * r + h * u + i * x,
            )
        )  # fmt: skip

    @property
    def determinant(self) -> float:
        """0 where the plane is seen edge on."""
        a, b, c, d, e, f, g, h, i = self.m
        return a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g)

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

    def tangent(self, point: Point) -> Affine:
        """The linear part of the map near a point."""
        m = self.m
        w = m[6] * point[0] + m[7] * point[1] + m[8]
        if abs(w) < 1e-9:
            return Affine(m[0], m[3], m[1], m[4])
        x, y = self(point)
        return Affine(
            (m[0] - m[6] * x) / w, (m[3] - m[6] * y) / w, (m[1] - m[7] * x) / w,
            (m[4] - m[7] * y) / w,
        )  # fmt: skip

    def near(self, point: Point) -> Affine:
        """The affine map that is as this one at a point and about it."""
        x, y = point
        return Affine.shift(*self(point)) @ self.tangent(point) @ Affine.shift(-x, -y)

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
