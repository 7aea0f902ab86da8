"""Alphas of forms: cut out, shifted, grown."""

from __future__ import annotations

import cv2
import numpy as np

from ..pixels.ink import InkRaster
from ..pixels.raster import Raster
from .base import (
    Region,
    meet,
    region_of,
)


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
    alpha = raster.alpha if isinstance(raster, InkRaster) else raster.pixels[:, :, 3]
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
    """An alpha grown by a radius (shrunk where negative) with round corners and a smooth edge:
    by the distance to its half-covered edge."""
    if abs(radius) < 0.05 or alpha.size == 0:
        return alpha
    if radius < 0:
        inner = spread(np.pad(255 - alpha, 1, constant_values=255), -radius)
        return np.ascontiguousarray(255 - inner[1:-1, 1:-1])
    outside = (alpha < 128).astype(np.uint8)
    if not outside.all():
        far = cv2.distanceTransform(outside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
        # The distance counts from pixel centres: the true edge lies nearer by the coverage of
        # the edge pixel, half a pixel on the average.
        edge = np.clip(np.float32(radius + 1.0) - far, 0, 1)
        return np.maximum(alpha, (edge * 255 + 0.5).astype(np.uint8))
    return alpha


def ring_filled(alpha: np.ndarray, out: float, width: float, gap: float, count: int) -> np.ndarray:
    """The rings about an alpha with the innermost one going on beneath the form."""
    ring = np.zeros_like(alpha)
    for index in range(count):
        outer = out - index * (width + gap)
        inner = outer - width
        hole = spread(alpha, inner) if index < count - 1 else np.zeros_like(alpha)
        ring = np.maximum(ring, cv2.subtract(spread(alpha, outer), hole))
    return ring
