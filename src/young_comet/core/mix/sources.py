"""Where a voice's samples come from."""

from __future__ import annotations

from typing import Protocol

import numpy as np

from ..audio import CHANNELS


class Sounds(Protocol):
    """Decoded sounds by their content."""

    def sound(self, hash: str) -> np.ndarray:
        """Must. Samples (n, 2) float32 at the rate of mixing; NotFoundError, MediaError."""
        ...

    def stretched(self, hash: str, speed: float) -> np.ndarray:
        """Must. The same at another speed (a factor) with its pitch, n / speed of them."""
        ...


class Source(Protocol):
    """Something that is heard."""

    @property
    def length(self) -> int:
        """Must. How many samples it has."""
        ...

    def read(self, first: int, count: int) -> np.ndarray:
        """Must. So many samples (count, 2) from one on, silent beyond both ends."""
        ...


class Recorded:
    """A decoded file."""

    def __init__(self, samples: np.ndarray) -> None:
        self.samples = samples

    @property
    def length(self) -> int:
        """How many samples it has."""
        return len(self.samples)

    def read(self, first: int, count: int) -> np.ndarray:
        """So many samples from one on, float64."""
        out = np.zeros((count, CHANNELS))
        low, high = max(0, first), min(len(self.samples), first + count)
        if high > low:
            out[low - first : high - first] = self.samples[low:high]
        return out
