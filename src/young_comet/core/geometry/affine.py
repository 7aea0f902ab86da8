"""Affine maps of the plane."""

from __future__ import annotations

import math
from dataclasses import dataclass

Point = tuple[float, float]
Box = tuple[float, float, float, float]  # left, top, right, bottom


@dataclass(frozen=True, slots=True)
class Affine:
    """x' = a x + c y + e,  y' = b x + d y + f (the letters of SVG's ``matrix()``)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    @classmethod
    def shift(cls, x: float, y: float) -> Affine:
        """A shift by so much."""
        return cls(e=x, f=y)

    @classmethod
    def scaling(cls, x: float, y: float) -> Affine:
        """Scales along both axes about (0, 0)."""
        return cls(a=x, d=y)

    @classmethod
    def rotation(cls, angle_deg: float) -> Affine:
        """Clockwise on screen, where y points down."""
        # Exact at the quarter turns, so that a turned square keeps sharp edges.
        cos: float
        sin: float
        quarter = angle_deg / 90
        if quarter == round(quarter):
            cos, sin = ((1, 0), (0, 1), (-1, 0), (0, -1))[round(quarter) % 4]
        else:
            angle = math.radians(angle_deg)
            cos, sin = math.cos(angle), math.sin(angle)
        return cls(cos, sin, -sin, cos)

    @classmethod
    def skewing(cls, x_deg: float, y_deg: float) -> Affine:
        """A skew by two angles, as CSS's skew()."""
        return cls(b=math.tan(math.radians(y_deg)), c=math.tan(math.radians(x_deg)))

    @classmethod
    def place(
        cls, position: Point, rotation_deg: float, scale: Point, skew: Point, pivot: Point
    ) -> Affine:
        """From a layer's own space into the scene; the pivot lands on the position.

        Points are scaled, then skewed, then rotated, about the pivot.
        """
        turned = cls.rotation(rotation_deg)
        a, b, c, d = turned.a, turned.b, turned.c, turned.d
        if skew != (0.0, 0.0):
            leant = turned @ cls.skewing(*skew)
            a, b, c, d = leant.a, leant.b, leant.c, leant.d
        (sx, sy), (px, py) = scale, pivot
        a, b, c, d = a * sx, b * sx, c * sy, d * sy
        return cls(a, b, c, d, position[0] - a * px - c * py, position[1] - b * px - d * py)

    def __matmul__(self, other: Affine) -> Affine:
        """First ``other``, then ``self``."""
        return Affine(
            self.a * other.a + self.c * other.b,
            self.b * other.a + self.d * other.b,
            self.a * other.c + self.c * other.d,
            self.b * other.c + self.d * other.d,
            self.a * other.e + self.c * other.f + self.e,
            self.b * other.e + self.d * other.f + self.f,
        )

    def __call__(self, point: Point) -> Point:
        x, y = point
        return (self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f)

    @property
    def determinant(self) -> float:
        """The area factor, negative where it mirrors."""
        return self.a * self.d - self.b * self.c

    @property
    def mean_scale(self) -> float:
        """The square root of the area factor."""
        return math.sqrt(abs(self.determinant))

    @property
    def max_scale(self) -> float:
        """The longest image of a unit vector (largest singular value)."""
        p, q = self.a**2 + self.b**2, self.c**2 + self.d**2
        r = self.a * self.c + self.b * self.d
        return math.sqrt((p + q + math.sqrt((p - q) ** 2 + 4 * r * r)) / 2)

    def inverse(self) -> Affine:
        """The map back; ValueError if the plane is folded flat (a scale of 0)."""
        det = self.determinant
        if abs(det) < 1e-12:
            raise ValueError("the map has no inverse")
        a, b, c, d = self.d / det, -self.b / det, -self.c / det, self.a / det
        return Affine(a, b, c, d, -(a * self.e + c * self.f), -(b * self.e + d * self.f))

    def towards(self, other: Affine, amount: float, about: Point = (0.0, 0.0)) -> Affine:
        """The map between two: a point (of both spaces) goes straight; about it turns, scales and
        skews are mixed by themselves, turns on the shorter way, so that what is only turned keeps
        its size. What is mirrored in one of them is folded flat on its way."""
        if amount in (0.0, 1.0):
            return other if amount else self
        a, b = self._parts(), other._parts()
        way = (b[0] - a[0] + 180.0) % 360.0 - 180.0
        turn = Affine.rotation(a[0] + way * amount)
        sx, sy, skew = (p + (q - p) * amount for p, q in zip(a[1:], b[1:], strict=True))
        linear = turn @ Affine(sx, 0.0, skew * sy, sy)
        (x, y), (goal_x, goal_y) = self(about), other(about)
        x, y = x + (goal_x - x) * amount, y + (goal_y - y) * amount
        moved = linear(about)
        return Affine(linear.a, linear.b, linear.c, linear.d, x - moved[0], y - moved[1])

    def _parts(self) -> tuple[float, float, float, float]:
        """The linear part as a turn (degrees) of a skew of two scales; the second scale is negative
        where it mirrors. Without a size along x the turn is that of y."""
        sx = math.hypot(self.a, self.b)
        if sx < 1e-12:
            size = math.hypot(self.c, self.d)
            return (math.degrees(math.atan2(-self.c, self.d)), 0.0, size, 0.0)
        angle = math.atan2(self.b, self.a)
        sy = self.determinant / sx
        along = (self.a * self.c + self.b * self.d) / sx
        return (math.degrees(angle), sx, sy, along / sy if abs(sy) > 1e-12 else 0.0)

    def box(self, box: Box) -> Box:
        """The upright box around the image of a box."""
        corners = self.corners(box)
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        return (min(xs), min(ys), max(xs), max(ys))

    def corners(self, box: Box) -> list[Point]:
        """Images of the corners, clockwise from the top left."""
        left, top, right, bottom = box
        return [self(p) for p in ((left, top), (right, top), (right, bottom), (left, bottom))]

    def as_tuple(self) -> tuple[float, float, float, float, float, float]:
        """The letters in the order of SVG's matrix()."""
        return (self.a, self.b, self.c, self.d, self.e, self.f)
