"""Sound read between its samples: for other speeds."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

# Samples to each side that count where nothing is made faster, and places between two samples at
# which their shares are known.
_REACH, _PHASES = 24, 512
# Of Kaiser's window: side lobes some 100 dB down (Kaiser, Proc. IEEE ISCAS 1974).
_BETA = 10.0
# What is faster than this is filtered as if it were not.
_FASTEST = 16.0
_PIECE = 4096


@lru_cache(maxsize=64)
def _table(narrow: float) -> np.ndarray:
    """Shares (phases + 1, taps) of the samples about a place, for a sinc that lets through
    1 / ``narrow`` of the frequencies."""
    reach = math.ceil(_REACH * narrow)
    taps = np.arange(-reach + 1, reach + 1)
    phases = np.arange(_PHASES + 1)[:, None] / _PHASES
    x = taps[None, :] - phases
    window = np.i0(_BETA * np.sqrt(np.clip(1 - (x / reach) ** 2, 0, 1))) / np.i0(_BETA)
    shares = np.sinc(x / narrow) * window
    result: np.ndarray = shares / shares.sum(axis=1, keepdims=True)
    return result


def reach_of(speed: float) -> int:
    """How many samples beyond a place are read at a speed."""
    return math.ceil(_REACH * min(_FASTEST, max(1.0, abs(speed)))) + 1


def interpolated(samples: np.ndarray, places: np.ndarray, speed: float = 1.0) -> np.ndarray:
    """Sound (n, 2) at places (m,) counted in samples, float64 (m, 2); silent beyond its ends. At a
    ``speed`` above 1 what would be too high is filtered out."""
    # In steps, so that a speed with keys does not need a table for every sample.
    narrow = 2 ** (round(math.log2(min(_FASTEST, max(1.0, abs(speed)))) * 8) / 8)
    table = _table(narrow)
    taps = table.shape[1]
    reach = taps // 2
    padded = np.zeros((len(samples) + 2 * taps, samples.shape[1]))
    padded[taps : taps + len(samples)] = samples
    out = np.zeros((len(places), samples.shape[1]))
    for begin in range(0, len(places), _PIECE):
        p = np.clip(places[begin : begin + _PIECE], -reach - 1.0, len(samples) + reach)
        whole = np.floor(p).astype(np.int64)
        phase = (p - whole) * _PHASES
        low = phase.astype(np.int64)
        mix = (phase - low)[:, None]
        shares = table[low] * (1 - mix) + table[np.minimum(low + 1, _PHASES)] * mix
        index = whole[:, None] + np.arange(-reach + 1, reach + 1)[None, :] + taps
        np.clip(index, 0, len(padded) - 1, out=index)
        out[begin : begin + _PIECE] = np.einsum("mt,mtc->mc", shares, padded[index])
    return out
