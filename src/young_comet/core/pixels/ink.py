"""Pictures of one colour, kept as their alpha for as long as that will do."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .blend import tinted
from .colour import Rgba
from .raster import Raster


@dataclass(frozen=True, slots=True)
class Ink:
    """An alpha (h, w) uint8 in one straight colour, which is laid in one step
    (``blend.lay_ink``)."""

    alpha: np.ndarray
    colour: Rgba
    stays = True

    def __post_init__(self) -> None:
        a = self.alpha
        if a.ndim != 2 or a.dtype != np.uint8 or not a.flags.c_contiguous:
            raise ValueError(f"expected contiguous (h, w) uint8, got {a.shape} {a.dtype}")

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns."""
        return int(self.alpha.shape[0]), int(self.alpha.shape[1])

    @property
    def nbytes(self) -> int:
        """Bytes that it holds."""
        return int(self.alpha.nbytes)

    def pixels(self) -> np.ndarray:
        """The pixels (h, w, 4)."""
        return tinted(self.alpha, self.colour)

    def copy(self) -> Ink:
        """The same with an alpha of its own."""
        return Ink(self.alpha.copy(), self.colour)


def ink_of(raster: Raster) -> Ink | None:
    """The ink of a raster that is one colour and known to be so."""
    return raster.source if isinstance(raster.source, Ink) else None
