"""Wipes over letters, words and lines, as paints that what is shown is kept by. They go as those
over whole layers do (``effects.reveal``)."""

from __future__ import annotations

import math

from ..geometry.affine import Box
from ..moves import Wipe
from ..pixels.canvas import Gradient
from ..pixels.colour import Rgba

_STEPS = 8
_HARDEST = 0.002


def _stop(at: float, shown: float) -> tuple[float, Rgba]:
    return (min(1.0, max(0.0, at)), (1.0, 1.0, 1.0, shown))


def _edge(front: float, soft: float) -> list[tuple[float, float]]:
    """How much is shown at what part of the way, from the first that a front has reached to where
    it is: all of it, then less and less over its softness, along t * t * (3 - 2 * t)."""
    found = [(0.0, _smooth(front / soft))]
    for step in range(_STEPS + 1):
        at = front - soft + soft * step / _STEPS
        if at > 0:
            found.append((at, _smooth((front - at) / soft)))
    return found


def _smooth(t: float) -> float:
    t = min(1.0, max(0.0, t))
    return t * t * (3 - 2 * t)


def wipe_paint(box: Box, wipe: Wipe) -> Gradient:
    """White where a wipe over a box shows what is there, clear where it does not."""
    soft = max(_HARDEST, wipe.softness / 100)
    front = max(1e-4, min(1.0, max(0.0, wipe.shown)) * (1 + soft))
    edge = _edge(front, soft)
    left, top, right, bottom = box
    if wipe.kind == "iris":
        middle = ((left + right) / 2, (top + bottom) / 2)
        far = max(1.0, math.hypot(right - left, bottom - top) / 2) * front
        stops = tuple(_stop(at / front, shown) for at, shown in edge)
        return Gradient("radial", middle, (middle[0] + far, middle[1]), stops)
    turned = math.radians(wipe.angle_deg)
    cos, sin = math.cos(turned), math.sin(turned)
    along = [x * cos + y * sin for x in (left, right) for y in (top, bottom)]
    start, extent = min(along), max(1.0, max(along) - min(along))

    def at(way: float) -> tuple[float, float]:
        return (cos * way, sin * way)

    if wipe.kind == "linear":
        stops = tuple(_stop(part / front, shown) for part, shown in edge)
        return Gradient("linear", at(start), at(start + front * extent), stops)
    half = front * extent / 2
    after = [_stop(0.5 + part / front / 2, shown) for part, shown in edge]
    before = [(1 - offset, colour) for offset, colour in reversed(after)]
    middle_at = start + extent / 2
    return Gradient("linear", at(middle_at - half), at(middle_at + half), (*before, *after))
