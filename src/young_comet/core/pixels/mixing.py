"""How the colours between two stops of a gradient are mixed.

``even`` is the way of CSS Color 4 (section 12, "in oklab", premultiplied); ``plain`` that of SVG
and of CSS gradients before it; ``around`` is even, and led around grey where opposites meet.
"""

from __future__ import annotations

import itertools
import math
from functools import lru_cache

import numpy as np

from .colour import Rgba
from .oklab import AROUND_GREY, oklab_of, srgb_of_oklab

Stops = tuple[tuple[float, Rgba], ...]
PLAIN, EVEN, AROUND = "plain", "even", "around"
MIXINGS = (
    (AROUND, "Even, around grey"), (EVEN, "Even"), (PLAIN, "Plain sRGB"),
)  # fmt: skip
# Steps between two stops that differ, closer at the ends, where channels leave their bounds
# steeply. Of them those are taken between which plain mixing is not told from even: the fewer stops
# a gradient has, the sooner it is drawn.
_SHARES = tuple(0.5 - 0.5 * math.cos(math.pi * n / 18) for n in range(1, 18))
_TOLD = 1.2 / 255
_ALIKE = 1e-3
# How far from grey, in Oklab, the way of two colours has a side of its own.
_CLOSE_BY = 0.035


@lru_cache(maxsize=512)
def mixed_stops(stops: Stops, mixing: str) -> Stops:
    """Stops with those between them that make plain mixing (premultiplied) look as ``mixing``."""
    if mixing == PLAIN or len(stops) < 2:
        return stops
    ordered = sorted(stops, key=lambda stop: stop[0])
    found: list[tuple[float, Rgba]] = [ordered[0]]
    for (at, one), (to, other) in itertools.pairwise(ordered):
        if to - at > 1e-6 and max(abs(p - q) for p, q in zip(one, other, strict=True)) > _ALIKE:
            steps = list(zip(_SHARES, _between(one, other, mixing), strict=True))
            steps = _needed([(0.0, one), *steps, (1.0, other)])[1:-1]
            found += [(at + (to - at) * share, colour) for share, colour in steps]
        found.append((to, other))
    return tuple(found)


def _needed(steps: list[tuple[float, Rgba]]) -> list[tuple[float, Rgba]]:
    """The steps without those that lie on the way between their neighbours (Douglas and Peucker),
    as they are drawn: premultiplied."""
    (begin, one), (end, other) = steps[0], steps[-1]
    worst, where = _TOLD, 0
    for n, (at, colour) in enumerate(steps[1:-1], 1):
        k = (at - begin) / (end - begin)
        off = abs((1 - k) * one[3] + k * other[3] - colour[3])
        for c in range(3):
            way = (1 - k) * one[c] * one[3] + k * other[c] * other[3]
            off = max(off, abs(way - colour[c] * colour[3]))
        if off > worst:
            worst, where = off, n
    if not where:
        return [steps[0], steps[-1]]
    return [*_needed(steps[: where + 1])[:-1], *_needed(steps[where:])]


def _between(one: Rgba, other: Rgba, mixing: str) -> list[Rgba]:
    """The colours at the steps between two."""
    share = np.array([_SHARES], np.float32)
    alphas = (1 - share) * one[3] + share * other[3]
    # What is clear has no colour of its own (premultiplied).
    parts = [(1 - share) * one[3], share * other[3]]
    whole = parts[0] + parts[1] + np.float32(1e-9)
    labs = [np.array(oklab_of(each[:3]), np.float32) for each in (one, other)]
    mixed = sum(
        (part / whole)[:, :, None] * lab for part, lab in zip(parts, labs, strict=True)
    )  # fmt: skip
    lab = np.ascontiguousarray(mixed, np.float32)
    if mixing == AROUND:
        lab[:, :, 1:] += _bend(*(lab_[1:] for lab_ in labs)) * _lost(lab, labs, parts)
    rgb = srgb_of_oklab(lab)[0]
    return [
        (float(r), float(g), float(b), float(a))
        for (r, g, b), a in zip(rgb, alphas[0], strict=True)
    ]


def _lost(lab: np.ndarray, labs: list[np.ndarray], parts: list[np.ndarray]) -> np.ndarray:
    """How far mixed colours (1, n, 3) are bent (1, n, 1): by how much of their colour is lost."""
    whole = parts[0] + parts[1] + np.float32(1e-9)
    shares = [part / whole for part in parts]
    most = sum(
        share * np.float32(np.hypot(*lab_[1:])) for share, lab_ in zip(shares, labs, strict=True)
    )
    left = np.hypot(lab[:, :, 1], lab[:, :, 2]) / (most + np.float32(1e-6))
    lost = np.clip(1 - left, 0, 1) * shares[0] * shares[1]
    return np.asarray(lost[:, :, None] * np.float32(AROUND_GREY), np.float32)


def _bend(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """Across the way between two colours' (a, b): to the side of grey on which it passes, to that
    of red where it passes close by."""
    first, second = sorted((one, other), key=lambda ab: (float(ab[1]), float(ab[0])))
    across = np.array([second[1] - first[1], first[0] - second[0]], np.float32)
    length = float(np.hypot(*across))
    if length < 1e-6:
        return across
    passes = float(np.dot(first, across)) / length  # how far from grey, on the side of red
    side = min(1.0, max(-1.0, (passes + _CLOSE_BY) / (0.4 * _CLOSE_BY)))
    return across * np.float32(side)
