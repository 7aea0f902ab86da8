"""Pictures in memory.

Everywhere in the core a picture is a C-contiguous NumPy array of shape (h, w, 4), dtype uint8,
channels blue, green, red, alpha, premultiplied by alpha, sRGB. A ``Raster`` adds where its top
left pixel lies in the frame.
"""

from __future__ import annotations

from typing import Protocol

import numpy as np


class Source(Protocol):
    """What pixels are made of when somebody asks for them: a colour and an alpha, say
    (``ink.py``), or a picture and tables for its colours (``tone.py``)."""

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns."""

    @property
    def nbytes(self) -> int:
        """Bytes that it holds."""

    @property
    def stays(self) -> bool:
        """Whether it is of use to others once the pixels have been made."""

    def pixels(self) -> np.ndarray:
        """The pixels (h, w, 4); asked for once."""

    def copy(self) -> Source:
        """The same with data of its own."""


class Raster:
    """Pixels (h, w, 4), or what they are made of, and the frame coordinates of their top left
    corner. It never changes; pixels are made when they are first asked for."""

    __slots__ = ("_made", "_source", "left", "top")

    def __init__(self, of: np.ndarray | Source, left: int = 0, top: int = 0) -> None:
        self.left, self.top = left, top
        self._made: np.ndarray | None = None
        self._source: Source | None = None
        if isinstance(of, np.ndarray):
            check_pixels(of)
            self._made = of
        else:
            self._source = of

    @property
    def pixels(self) -> np.ndarray:
        """The pixels (h, w, 4)."""
        if self._made is None:
            assert self._source is not None
            self._made = self._source.pixels()
            if not self._source.stays:
                self._source = None
        return self._made

    @property
    def source(self) -> Source | None:
        """What the pixels are made of, or were; None where there is nothing but them."""
        return self._source

    @property
    def _shape(self) -> tuple[int, ...]:
        return self._source.shape if self._source is not None else self.pixels.shape

    @property
    def width(self) -> int:
        """Its width in pixels."""
        return int(self._shape[1])

    @property
    def height(self) -> int:
        """Its height in pixels."""
        return int(self._shape[0])

    @property
    def is_empty(self) -> bool:
        """Whether it has no pixels."""
        return not (self.width and self.height)

    def copy(self) -> Raster:
        """The same with pixels of its own."""
        of = self.pixels if self._source is None else self._source
        return Raster(of.copy(), self.left, self.top)

    @property
    def nbytes(self) -> int:
        """Bytes that it holds."""
        made = 0 if self._made is None else int(self._made.nbytes)
        return made + (0 if self._source is None else self._source.nbytes)


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
