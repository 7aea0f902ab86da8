"""Places taken over into another space, so that what is seen does not jump."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..geometry.affine import Affine, Point
from ..geometry.projective import Projective


@dataclass(frozen=True, slots=True)
class PlaceValues:
    """The values of a place: position px, rotation deg, scale (1 is natural), skew deg."""

    position: Point
    rotation_deg: float
    scale: Point
    skew: Point


def taken_over(values: PlaceValues, change: Projective) -> tuple[PlaceValues, Affine]:
    """A place in a space that ``change`` leads into, seen where it was; and the change's linear
    part there, by which offsets such as handles of paths are turned.

    Where the change is in perspective it is taken as affine about the position: place, size and
    direction there stay as they are. The rotation is the one nearest to the turn's own, so that
    turns of several keys go on the same way round.
    """
    local = change.tangent(values.position)
    position = change(values.position)
    turned = math.degrees(math.atan2(local.b, local.a))
    grown = math.hypot(local.a, local.b)
    if abs(local.a - local.d) + abs(local.b + local.c) < 1e-9 * max(1e-9, grown):
        scale = (values.scale[0] * grown, values.scale[1] * grown)
        return PlaceValues(position, values.rotation_deg + turned, scale, values.skew), local
    own = (
        Affine.rotation(values.rotation_deg)
        @ Affine.skewing(*values.skew)
        @ Affine.scaling(*values.scale)
    )
    rotation, scale, skew = taken_apart(local @ own, values.scale[0] < 0)
    wanted = values.rotation_deg + turned
    rotation += 360 * round((wanted - rotation) / 360)
    return PlaceValues(position, rotation, scale, skew), local


def taken_apart(m: Affine, mirrored: bool = False) -> tuple[float, Point, Point]:
    """Rotation, scale and skew (along x only) that make up the linear part of a map;
    ``mirrored`` asks for a negative scale along x."""
    width = math.hypot(m.a, m.b)
    if width < 1e-12:
        turn = math.degrees(math.atan2(-m.c, m.d)) if m.c or m.d else 0.0
        return turn, (0.0, math.hypot(m.c, m.d)), (0.0, 0.0)
    sign = -1.0 if mirrored else 1.0
    cos, sin = sign * m.a / width, sign * m.b / width
    height = m.d * cos - m.c * sin
    along = m.c * cos + m.d * sin
    lean = math.degrees(math.atan2(along, height)) if abs(height) > 1e-12 else 0.0
    if lean > 90:
        lean -= 180
    elif lean < -90:
        lean += 180
    return math.degrees(math.atan2(sin, cos)), (sign * width, height), (lean, 0.0)
