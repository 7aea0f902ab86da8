"""One layer made softer while another is heard."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..audio import SAMPLE_RATE

# A layer is heard where a stretch of so many samples is louder than this (mean square, -45 dB).
BLOCK = 480
_LOUD = 10 ** (-45 / 10)


@dataclass(frozen=True)
class Heard:
    """When something is heard: ``begins`` and ``ends`` (n,) in samples of the scene, in order."""

    begins: np.ndarray
    ends: np.ndarray

    def nearness(self, at: np.ndarray, attack_s: float, release_s: float) -> np.ndarray:
        """How much of a duck counts at samples (m,): 1 while it is heard, rising over the attack
        before that and falling over the release after it."""
        if not len(self.begins):
            return np.zeros(len(at))
        attack, release = attack_s * SAMPLE_RATE, release_s * SAMPLE_RATE
        after = np.searchsorted(self.begins, at, side="right")
        coming = self.begins[np.minimum(after, len(self.begins) - 1)]
        rising = np.where(after < len(self.begins), 1 - (coming - at) / attack, 0.0)
        gone = self.ends[np.maximum(after - 1, 0)]
        falling = np.where(after > 0, 1 - (at - gone) / release, 0.0)
        return np.clip(np.maximum(rising, falling), 0.0, 1.0)


def heard_where(blocks: np.ndarray, first: int) -> Heard:
    """When something is heard whose loudness (mean square) in stretches of ``BLOCK`` samples from
    the sample ``first`` on is (n,)."""
    loud = np.concatenate([[False], blocks > _LOUD, [False]])
    edges = np.flatnonzero(loud[1:] != loud[:-1])
    places = first + edges.astype(np.float64) * BLOCK
    return Heard(places[0::2], places[1::2])


def loudness_in_blocks(samples: np.ndarray) -> np.ndarray:
    """The mean square of both channels in stretches of ``BLOCK`` samples; the last may be short."""
    square = (np.asarray(samples, np.float64) ** 2).mean(axis=1)
    starts = np.arange(0, len(square), BLOCK)
    sums = np.add.reduceat(square, starts) if len(starts) else np.zeros(0)
    counts = np.minimum(BLOCK, len(square) - starts)
    result: np.ndarray = sums / counts
    return result
