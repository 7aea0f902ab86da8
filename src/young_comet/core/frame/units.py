"""Units on their way: letters, words, lines and slices, each with its full place."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

from ..geometry.affine import Affine, Box, Point
from ..geometry.projective import Projective
from ..geometry.spatial import Space
from ..moves import Pose


class UnitPlace(NamedTuple):
    """How far a unit (a slice, letter, word or line) is from where it rests: moved px, rotated,
    scaled by factors, tilted and turned in space about a pivot, which is its middle moved by shares
    of its box (half of it is an edge); faded 0..1; skewed by two angles, degrees."""

    dx: float = 0.0
    dy: float = 0.0
    rotation_deg: float = 0.0
    sx: float = 1.0
    sy: float = 1.0
    opacity: float = 1.0
    tilt_deg: float = 0.0
    turn_deg: float = 0.0
    pivot_x: float = 0.0
    pivot_y: float = 0.0
    skew_x: float = 0.0
    skew_y: float = 0.0

    @property
    def in_space(self) -> bool:
        """Whether it is turned out of the plane."""
        return bool(self.tilt_deg or self.turn_deg)


# Where the eye is in a layer's own space: x, y, and how far before its plane.
Eye = tuple[float, float, float]

RESTING = UnitPlace()


@dataclass(frozen=True, slots=True)
class Frame:
    """What a unit turns about and along: its middle, how far it reaches from there along its own
    axes (px), and by how much those are turned."""

    middle: Point
    half: Point
    angle_deg: float = 0.0

    @classmethod
    def of(cls, box: Box, angle_deg: float = 0.0) -> Frame:
        """The frame of an upright box, turned."""
        middle = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
        return cls(middle, ((box[2] - box[0]) / 2, (box[3] - box[1]) / 2), angle_deg)

    def pivot(self, place: UnitPlace) -> Point:
        """The point that a unit turns about."""
        there = Affine.shift(*self.middle) @ Affine.rotation(self.angle_deg)
        return there((2 * place.pivot_x * self.half[0], 2 * place.pivot_y * self.half[1]))

    def corners(self) -> list[Point]:
        """Its corners, clockwise from the top left."""
        x, y = self.half
        there = Affine.shift(*self.middle) @ Affine.rotation(self.angle_deg)
        return there.corners((-x, -y, x, y))


def place_of(pose: Pose) -> UnitPlace:
    """The place of a unit in a pose."""
    return UnitPlace(
        *pose.offset, pose.rotation_deg, *pose.scale, min(1.0, max(0.0, pose.opacity)),
        pose.tilt_deg, pose.turn_deg, *pose.pivot,
    )  # fmt: skip


def together(a: UnitPlace, b: UnitPlace) -> UnitPlace:
    """Both at once: places add up, scales and opacities multiply."""
    if a is RESTING or b is RESTING:
        return b if a is RESTING else a
    return UnitPlace(
        a.dx + b.dx, a.dy + b.dy, a.rotation_deg + b.rotation_deg, a.sx * b.sx, a.sy * b.sy,
        a.opacity * b.opacity, a.tilt_deg + b.tilt_deg, a.turn_deg + b.turn_deg,
        a.pivot_x + b.pivot_x, a.pivot_y + b.pivot_y, a.skew_x + b.skew_x, a.skew_y + b.skew_y,
    )  # fmt: skip


def place_between(a: UnitPlace, b: UnitPlace, amount: float) -> UnitPlace:
    """The place between two, each of its numbers by itself."""
    if a is b:
        return a
    return UnitPlace(*(p + (q - p) * amount for p, q in zip(a, b, strict=True)))


def _own(place: UnitPlace) -> Affine:
    """Scaled, then skewed, then rotated."""
    own = Affine.scaling(place.sx, place.sy)
    if place.skew_x or place.skew_y:
        own = Affine.skewing(place.skew_x, place.skew_y) @ own
    return Affine.rotation(place.rotation_deg) @ own if place.rotation_deg else own


def space_of(place: UnitPlace, frame: Frame) -> Space:
    """A unit's place in its layer's space, of which the layer is the plane z = 0."""
    pivot = frame.pivot(place)
    there = Affine.shift(pivot[0] + place.dx, pivot[1] + place.dy) @ Affine.rotation(
        frame.angle_deg
    )
    flat = _own(place) @ Affine.rotation(-frame.angle_deg) @ Affine.shift(-pivot[0], -pivot[1])
    return Space.of(there) @ Space.tilted((0.0, 0.0), place.tilt_deg, place.turn_deg, flat)


def map_of(place: UnitPlace, frame: Frame, eye: Eye | None) -> Affine | Projective:
    """From where a unit rests to where it is seen, both in the layer's plane: central projection
    from the eye onto it. Without an eye nothing is turned in space."""
    if place.in_space and eye is not None and abs(eye[2]) > 1e-9:
        return space_of(place, frame).seen((eye[0], eye[1]), eye[2])
    if not frame.angle_deg:
        own = _own(place)
        x = frame.middle[0] + 2 * place.pivot_x * frame.half[0]
        y = frame.middle[1] + 2 * place.pivot_y * frame.half[1]
        shift_x = x + place.dx - own.a * x - own.c * y
        shift_y = y + place.dy - own.b * x - own.d * y
        return Affine(own.a, own.b, own.c, own.d, shift_x, shift_y)
    pivot = frame.pivot(place)
    turned = Affine.rotation(frame.angle_deg)
    return (
        Affine.shift(pivot[0] + place.dx, pivot[1] + place.dy)
        @ turned
        @ _own(place)
        @ turned.inverse()
        @ Affine.shift(-pivot[0], -pivot[1])
    )


def furthest(there: Affine | Projective, frame: Frame, margin: float = 0.0) -> float:
    """How far a unit's corners, or what reaches so far beyond them, are from where they rest."""
    x, y = frame.half[0] + margin, frame.half[1] + margin
    wide = Frame(frame.middle, (x, y), frame.angle_deg)
    return max(math.dist(there(p), p) for p in wide.corners())


def is_seen(there: Affine | Projective) -> bool:
    """Whether a map leaves something to see: it is neither without size nor edge on."""
    if isinstance(there, Affine):
        return abs(there.determinant) > 1e-9
    return abs(there.determinant) >= 1e-12
