"""Arithmetic on whole pictures and planes of them, by OpenCV."""

from __future__ import annotations

import cv2
import numpy as np


def alpha_of(pixels: np.ndarray) -> np.ndarray:
    """The alpha of (h, w, 4) as a plane of its own, (h, w)."""
    plane: np.ndarray = cv2.extractChannel(pixels, 3)
    return plane


def times_cover(alpha: np.ndarray, cover: np.ndarray) -> np.ndarray:
    """A plane (h, w) uint8 times another one / 255, rounded to nearest."""
    result: np.ndarray = cv2.multiply(alpha, cover, scale=1 / 255)
    return result


def mixed(a: np.ndarray, b: np.ndarray, share: float) -> np.ndarray:
    """Two pictures of one size, ``share`` (0..1) of the second, rounded to nearest."""
    result: np.ndarray = cv2.addWeighted(a, 1 - share, b, share, 0)
    return result


def edges_continued(pixels: np.ndarray, by: int) -> np.ndarray:
    """A picture with its edge pixels going on for so many more on every side."""
    result: np.ndarray = cv2.copyMakeBorder(pixels, by, by, by, by, cv2.BORDER_REPLICATE)
    return result


def rimmed(pixels: np.ndarray) -> np.ndarray:
    """A picture with a rim of one transparent pixel."""
    result: np.ndarray = cv2.copyMakeBorder(pixels, 1, 1, 1, 1, cv2.BORDER_CONSTANT)
    return result


def looked_up_again_and_again(tile: np.ndarray, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """A tile at places (h, w) float32 of its own pixels, from 0 up to its size, mixed of its
    neighbours: beyond its right and lower edge it begins anew."""
    ringed = cv2.copyMakeBorder(tile, 0, 1, 0, 1, cv2.BORDER_WRAP)
    found: np.ndarray = cv2.remap(ringed, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return found


def projected(pixels: np.ndarray, back: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """A picture of a size (width, height); ``back`` (3, 3) maps its pixels to those of the source
    that they show. Transparent beyond the source."""
    result: np.ndarray = cv2.warpPerspective(
        pixels, back, size, flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_CONSTANT,
    )  # fmt: skip
    return result


def averaged(pixels: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """A picture made smaller to (width, height): each pixel the mean of those that it covers."""
    result: np.ndarray = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA)
    return result
