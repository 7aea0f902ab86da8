"""A sound of the kit, and what may be wished of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Wish:
    """How a sound is to be: its length (s), its pitch as a factor, how bright (a factor of 1 as it
    was made), and the seed of all chance in it."""

    length_s: float
    pitch: float = 1.0
    bright: float = 1.0
    seed: int = 0


def made_by(function: Callable[..., np.ndarray], *values: object) -> Callable[[Wish], np.ndarray]:
    """A sound made by a function of a wish and further values."""
    return lambda wish: function(wish, *values)


@dataclass(frozen=True)
class KitSound:
    """``make`` gives float32 (n, 2). Its moment, what an artist would lay on a landing, is at a
    share of its length. Those that loop go on smoothly from their end to their start; a ``tempo``
    is that of a bed (beats a minute)."""

    id: str
    label: str
    family: str
    length_s: float
    make: Callable[[Wish], np.ndarray]
    moment: float
    loops: bool = False
    tempo: float = 0.0

    def tempo_in(self, length_s: float) -> float:
        """The tempo of a version of some length; 0 where it has none."""
        return self.tempo * self.length_s / length_s

    def moment_s(self, length_s: float) -> float:
        """Its moment in a version of some length, seconds from the start."""
        return self.moment * length_s
