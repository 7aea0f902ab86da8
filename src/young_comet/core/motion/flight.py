"""What a hand has flown, made into a clean path."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from .fitting import FittedKey, fit_motion

# The hand's tremor is faster than this (s); it is smoothed away before fitting.
_TREMOR_S = 0.045
_RATE = 60.0
# Longer flights than a hand makes are read at a lower rate.
_MOST_SAMPLES = 20_000


def fit_flight(samples: Sequence[tuple[float, float, float]], tolerance: float) -> list[FittedKey]:
    """Few keys along samples (time s, x, y) in the order of their times, at least two.

    The samples are read at an even rate and smoothed by a Gaussian of 45 ms whose ends stay
    where they are; the keys' motion is within the tolerance (px) of that.
    """
    data = np.array(samples, dtype=np.float64)
    start, end = float(data[0, 0]), float(data[-1, 0])
    rate = min(_RATE, _MOST_SAMPLES / max(1e-6, end - start))
    count = max(2, round((end - start) * rate))
    times = np.linspace(start, end, count + 1)
    points = np.stack([np.interp(times, data[:, 0], data[:, axis]) for axis in (1, 2)], axis=1)
    tremor = _TREMOR_S * rate
    return fit_motion(times, smoothed(points, tremor) if tremor > 0.3 else points, tolerance)


def begun(
    samples: Sequence[tuple[float, float, float]], still_px: float = 3.0
) -> Sequence[tuple[float, float, float]]:
    """A flight from where the hand begins to move: the samples (time s, x, y) without those at the
    beginning in which it stays within ``still_px``, all but the last of them. All samples where it
    never moves."""
    _, x, y = samples[0]
    for number, (_, to_x, to_y) in enumerate(samples):
        if np.hypot(to_x - x, to_y - y) > still_px:
            return samples[max(0, number - 1) :]
    return samples


def smoothed(points: np.ndarray, sigma: float) -> np.ndarray:
    """Points (n, 2) under a Gaussian of ``sigma`` samples; both ends stay exactly."""
    reach = min(max(1, round(3 * sigma)), len(points) - 1)
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / sigma) ** 2)
    kernel /= kernel.sum()
    # Mirrored through the ends, so that a straight run stays straight up to them.
    before = 2 * points[0] - points[reach:0:-1]
    after = 2 * points[-1] - points[-2 : -reach - 2 : -1]
    padded = np.vstack([before, points, after])
    result = np.stack(
        [np.convolve(padded[:, axis], kernel, mode="valid") for axis in (0, 1)], axis=1
    )
    result[0], result[-1] = points[0], points[-1]
    return result
