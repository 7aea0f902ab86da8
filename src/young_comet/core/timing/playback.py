"""Which second of a source is shown at a layer's own second."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

# Backwards, a moment belongs to the frame before it: the end of a frame is not inside it.
_BEFORE_S = 1e-5


@dataclass(frozen=True, slots=True)
class Playback:
    """The used part of a source (from, to, in s) and how it is played.

    ``offset_s`` is how far into that part the layer's start lies, ``speed`` a factor,
    ``after`` what follows the part's end: stay, end, loop or there-and-back, the last two
    ``times`` in all (0: for ever).
    """

    from_s: float
    to_s: float
    offset_s: float = 0.0
    speed: float = 1.0
    backwards: bool = False
    after: str = "stay"
    times: int = 0

    @property
    def length_s(self) -> float:
        """How long one passage takes."""
        return max(1e-6, self.to_s - self.from_s)

    @property
    def played_s(self) -> float:
        """How long one passage takes at this speed."""
        return self.length_s / self.speed

    def at(self, local_s: float) -> float | None:
        """The source's second at the layer's; None where nothing is shown (any more or yet)."""
        place = self.offset_s + local_s * self.speed
        back = self.backwards
        length = self.length_s
        outside = place < -1e-9 or place >= length - 1e-9
        if outside and self.after == "end":
            return None
        if outside and self.after in ("loop", "there-and-back"):
            turn = math.floor(place / length + 1e-9)
            if self.times and turn >= self.times:
                turn, place = self.times - 1, self.times * length - _BEFORE_S
            place = max(0.0, place - turn * length)
            if self.after == "there-and-back" and turn % 2:
                back = not back
        place = min(max(0.0, place), length - _BEFORE_S)
        if back:
            return self.from_s + max(0.0, length - place - _BEFORE_S)
        return self.from_s + place

    def over(self, local_s: np.ndarray) -> np.ndarray:
        """The source's seconds at many of the layer's (n,), as a sound is played: not a number
        where nothing is, also where a picture would stay."""
        place = self.offset_s + np.asarray(local_s, np.float64) * self.speed
        length = self.length_s
        turn = np.floor(place / length + 1e-9)
        back = np.full(len(place), self.backwards)
        silent = place < -1e-9
        if self.after in ("loop", "there-and-back"):
            if self.times:
                silent |= turn >= self.times
            turn = np.maximum(turn, 0)
            if self.after == "there-and-back":
                back ^= turn % 2 == 1
            place = np.maximum(0.0, place - turn * length)
        else:
            silent |= place >= length - 1e-9
        source = self.from_s + np.where(back, length - place, place)
        return np.where(silent, np.nan, source)
