"""Pictures in memory.

Everywhere in the core a picture is a C-contiguous NumPy array of shape (h, w, 4), dtype uint8,
channels blue, green, red, alpha, premultiplied by alpha, sRGB. A ``Raster`` adds where its top
left pixel lies in the frame.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, slots=True)
class Raster:
    """Pixels (h, w, 4) and the frame coordinates of their top left corner."""

    pixels: np.ndarray
    left: int = 0
    top: int = 0

    def __post_init__(self) -> None:
        check_pixels(self.pixels)

    @property
    def width(self) -> int:
        """Its width in pixels."""
        return int(self.pixels.shape[1])

    @property
    def height(self) -> int:
        """Its height in pixels."""
        return int(self.pixels.shape[0])

    @property
    def is_empty(self) -> bool:
        """Whether it has no pixels."""
        return not (self.width and self.height)

    def copy(self) -> Raster:
        """The same with pixels of its own."""
        return Raster(self.pixels.copy(), self.left, self.top)

    @property
    def nbytes(self) -> int:
        """Bytes that it holds."""
        return int(self.pixels.nbytes)


def check_pixels(pixels: np.ndarray) -> None:
    """Raises ValueError unless the array is a picture as this module defines it."""
    if pixels.ndim != 3 or pixels.shape[2] != 4 or pixels.dtype != np.uint8:
        raise ValueError(f"expected (h, w, 4) uint8, got {pixels.shape} {pixels.dtype}")
    if not pixels.flags.c_contiguous:
        raise ValueError("expected C-contiguous pixels")


def empty(width: int, height: int) -> np.ndarray:
    """A transparent picture."""
    return np.zeros((height, width, 4), dtype=np.uint8)


def premultiply(straight: np.ndarray) -> np.ndarray:
    """Straight-alpha BGRA (h, w, 4) uint8 to premultiplied, rounded to nearest."""
    alpha = straight[:, :, 3:4].astype(np.uint16)
    if int(alpha.min(initial=255)) == 255:
        return np.ascontiguousarray(straight)
    result = straight.copy()
    product = straight[:, :, :3] * alpha + 128  # as in fixed.py, which would load the compiler
    result[:, :, :3] = (product + (product >> 8)) >> 8
    return np.ascontiguousarray(result)


def unpremultiply(pixels: np.ndarray) -> np.ndarray:
    """Premultiplied BGRA to straight alpha; fully transparent pixels become black."""
    alpha = pixels[:, :, 3:4].astype(np.float32)
    scale = np.divide(255.0, alpha, out=np.zeros_like(alpha), where=alpha > 0)
    result = pixels.copy()
    result[:, :, :3] = np.clip(pixels[:, :, :3] * scale + 0.5, 0, 255).astype(np.uint8)
    return result
