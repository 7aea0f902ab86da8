"""Whole pixels about boxes."""

from __future__ import annotations

import math

from ..effects.base import Region
from ..geometry.affine import Affine, Box


def outset(box: Box, by: int) -> Region:
    """The whole pixels about a box, grown by some."""
    return (
        math.floor(box[0]) - by, math.floor(box[1]) - by, math.ceil(box[2]) + by,
        math.ceil(box[3]) + by,
    )  # fmt: skip


def is_upright(m: Affine) -> bool:
    """Whether a map neither turns, leans nor mirrors, and scales alike both ways."""
    return abs(m.b) < 1e-9 and abs(m.c) < 1e-9 and m.a > 0 and abs(m.a - m.d) < 1e-9 * m.a
