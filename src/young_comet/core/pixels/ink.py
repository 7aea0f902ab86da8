"""Pictures of one colour, kept as their alpha for as long as that will do."""

from __future__ import annotations

import numpy as np

from .blend import tinted
from .colour import Rgba
from .raster import Raster


class InkRaster(Raster):
    """A raster of one colour: an alpha (h, w) uint8 and the straight colour. Its pixels are made
    when they are asked for; what knows the alpha is laid in one step (``blend.lay_ink``)."""

    __slots__ = ("_made", "alpha", "colour")

    alpha: np.ndarray
    colour: Rgba
    _made: list[np.ndarray]

    def __init__(self, alpha: np.ndarray, colour: Rgba, left: int = 0, top: int = 0) -> None:
        if alpha.ndim != 2 or alpha.dtype != np.uint8 or not alpha.flags.c_contiguous:
            raise ValueError(f"expected contiguous (h, w) uint8, got {alpha.shape} {alpha.dtype}")
        for name, value in (
            ("alpha", alpha), ("colour", colour), ("left", left), ("top", top), ("_made", []),
        ):  # fmt: skip
            object.__setattr__(self, name, value)

    @property
    def pixels(self) -> np.ndarray:
        """The pixels (h, w, 4), made when first asked for."""
        if not self._made:
            self._made.append(tinted(self.alpha, self.colour))
        return self._made[0]

    def copy(self) -> InkRaster:
        """The same with an alpha of its own."""
        return InkRaster(self.alpha.copy(), self.colour, self.left, self.top)

    @property
    def width(self) -> int:
        """Its width in pixels."""
        return int(self.alpha.shape[1])

    @property
    def height(self) -> int:
        """Its height in pixels."""
        return int(self.alpha.shape[0])

    @property
    def nbytes(self) -> int:
        return int(self.alpha.nbytes) * (5 if self._made else 1)
