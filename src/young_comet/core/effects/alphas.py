"""Alphas of forms: cut out, shifted, grown."""

from __future__ import annotations

import cv2
import numpy as np

from ..pixels.distance import edge_distance
from ..pixels.ink import ink_of
from ..pixels.raster import Raster
from .base import Region, meet, region_of
from .joins import bends_of, turned


def cut_alpha(alpha: np.ndarray, region: Region, wanted: Region) -> np.ndarray:
    """An alpha that covers a region over another one, transparent beyond its own."""
    result = np.zeros((max(0, wanted[3] - wanted[1]), max(0, wanted[2] - wanted[0])), np.uint8)
    part = meet(region, wanted)
    if part[2] > part[0] and part[3] > part[1]:
        result[
            part[1] - wanted[1] : part[3] - wanted[1], part[0] - wanted[0] : part[2] - wanted[0]
        ] = alpha[
            part[1] - region[1] : part[3] - region[1], part[0] - region[0] : part[2] - region[0]
        ]
    return result


def alpha_in(raster: Raster, region: Region) -> np.ndarray:
    """The raster's alpha over a region (h, w)."""
    ink = ink_of(raster)
    alpha = raster.pixels[:, :, 3] if ink is None else ink.alpha
    return cut_alpha(alpha, region_of(raster), region)


def shifted(alpha: np.ndarray, dx: float, dy: float) -> np.ndarray:
    """An alpha moved by parts of pixels, transparent behind it."""
    if dx == round(dx) and dy == round(dy):
        result = np.zeros_like(alpha)
        h, w = alpha.shape
        x, y = round(dx), round(dy)
        if abs(x) < w and abs(y) < h:
            result[max(0, y) : h + min(0, y), max(0, x) : w + min(0, x)] = alpha[
                max(0, -y) : h - max(0, y), max(0, -x) : w - max(0, x)
            ]
        return result
    matrix = np.array([[1, 0, dx], [0, 1, dy]], np.float64)
    return cv2.warpAffine(alpha, matrix, (alpha.shape[1], alpha.shape[0]), flags=cv2.INTER_LINEAR)


def spread(alpha: np.ndarray, radius: float) -> np.ndarray:
    """An alpha grown by a radius (shrunk where negative) with round corners and a smooth edge, as
    far as each pixel is from its edge. Beyond the array lies nothing."""
    if abs(radius) < 0.01 or alpha.size == 0:
        return alpha
    cover = covered_to(edge_distance(alpha, abs(radius) + 1), radius, int(alpha.max()))
    result: np.ndarray = np.maximum(alpha, cover) if radius > 0 else np.minimum(alpha, cover)
    return result


def covered_to(distance: np.ndarray, radius: float, most: int = 255) -> np.ndarray:
    """How much of each pixel lies nearer to a form than a radius, (h, w) uint8 up to ``most``, from
    how far its middle is."""
    cover = np.clip(np.float32(radius + 0.5) - distance, 0, 1)
    return (cover * np.float32(most) + np.float32(0.5)).astype(np.uint8)


def rings(
    alpha: np.ndarray, out: float, width: float, gap: float, count: int, *,
    filled: bool = False, join: str = "round",
) -> np.ndarray:  # fmt: skip
    """Rings about a form from ``out`` inwards, each as wide and as far from the next; the innermost
    may be ``filled``, going on beneath the form. ``join`` tells how they turn round corners."""
    far = max(abs(out), abs(out - count * width - (count - 1) * gap))
    distance = edge_distance(alpha, far + 1)
    bends = bends_of(alpha) if join != "round" else None

    def nearer_than(radius: float) -> np.ndarray:
        cover = covered_to(distance, radius)
        return turned(cover, bends, radius, join) if bends and radius else cover

    ring = np.zeros_like(alpha)
    for index in range(count):
        outer = out - index * (width + gap)
        line = nearer_than(outer)
        if not filled or index < count - 1:
            line = cv2.subtract(line, nearer_than(outer - width))
        ring = np.maximum(ring, line)
    return ring
