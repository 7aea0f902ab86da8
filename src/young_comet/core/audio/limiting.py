"""A limiter of true peaks: what lies between the samples counts as well.

Where it would be too loud the gain goes down ahead of the peak and comes back slowly, so that
nothing is cut off. Every sample comes out the same in whatever pieces the sound is read.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from .samples import CHANNELS, SAMPLE_RATE

Read = Callable[[int, int], np.ndarray]

# Seven values between a sample and the next, by a windowed sinc (Kaiser's window): what is missed
# between them is 0.1 dB at 20 kHz.
_BETWEEN, _MIDDLE = 8, 24


def _sincs() -> np.ndarray:
    """The weights (taps, 7) of samples for the values between."""
    at = np.arange(1 - _MIDDLE, _MIDDLE + 1)[:, None] - np.arange(1, _BETWEEN) / _BETWEEN
    window = np.i0(9.0 * np.sqrt(np.clip(1 - (at / _MIDDLE) ** 2, 0, 1))) / np.i0(9.0)
    weights: np.ndarray = np.sinc(at) * window
    weights /= weights.sum(axis=0)
    return weights


_WEIGHTS = _sincs()
_TAPS = len(_WEIGHTS)

# So long before a peak the gain goes down, and so fast it comes back.
AHEAD_S, RELEASE_DB_PER_S = 0.005, 60.0
_AHEAD = round(AHEAD_S * SAMPLE_RATE)
_PIECE = 1 << 16


def true_peaks(samples: np.ndarray) -> np.ndarray:
    """The largest magnitude (n,) about each sample, of both channels and of what lies between it
    and the next. ``samples`` (n + 47, 2) begin 23 before the first and end 24 after the last."""
    count = len(samples) - _TAPS + 1
    most: np.ndarray = np.abs(samples[_MIDDLE - 1 : _MIDDLE - 1 + count]).max(axis=1)
    for channel in range(samples.shape[1]):
        near = np.lib.stride_tricks.sliding_window_view(samples[:, channel], _TAPS)
        np.maximum(most, np.abs(near @ _WEIGHTS).max(axis=1), out=most)
    return most


def limited(
    read: Read, count: int, factor: float = 1.0, ceiling: float = 1.0
) -> Iterator[np.ndarray]:
    """A sound (float64 or float32 (n, 2) by ``read(first, n)``, ``count`` samples) times a factor,
    in pieces of float64, none of whose true peaks is above the ceiling (as a factor of full scale).
    """

    def louder(first: int, last: int) -> np.ndarray:
        """Samples ``first`` to ``last``, silent beyond both ends."""
        low, high = max(0, first), min(count, last)
        out = np.zeros((last - first, CHANNELS))
        if high > low:
            out[low - first : high - first] = read(low, high - low).astype(np.float64) * factor
        return out

    slope = RELEASE_DB_PER_S / SAMPLE_RATE
    # Gains (dB) that have come back as far as they may, from the sample ``start`` on.
    start = 1 - _AHEAD
    gains, came = np.zeros(_AHEAD - 1), 0.0
    for first in range(0, count, _PIECE):
        last = min(count, first + _PIECE)
        done, until = start + len(gains), last + _AHEAD - 1
        peaks = true_peaks(louder(done - _MIDDLE + 1, until + _MIDDLE))
        need = np.where(peaks > ceiling, 20 * np.log10(ceiling / np.maximum(peaks, 1e-30)), 0.0)
        steps = slope * np.arange(1, len(need) + 1)
        back = np.minimum(np.minimum.accumulate(need - steps), came) + steps
        came = float(back[-1])
        gains = np.concatenate([gains, np.minimum(0.0, back)])
        # The least of what comes, then the mean of what has been: never above what is needed.
        least = _least_ahead(gains, _AHEAD)
        sums = np.concatenate([[0.0], np.cumsum(least)])
        smooth = (sums[_AHEAD:] - sums[:-_AHEAD]) / _AHEAD
        yield louder(first, last) * (10 ** (smooth[: last - first] / 20))[:, None]
        gains, start = gains[last - first :], start + last - first


def _least_ahead(values: np.ndarray, size: int) -> np.ndarray:
    """The least of each value and the ``size`` - 1 after it, where all of these are there."""
    least, reach = values, 1
    while reach < size:
        step = min(reach, size - reach)
        least = np.minimum(least[:-step], least[step:])
        reach += step
    return least
