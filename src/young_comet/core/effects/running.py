"""The compiled loop behind streaks."""

from __future__ import annotations

import numpy as np

from ..pixels.kernel import Few, kernel, sample


@kernel()
def run_down(pixels: np.ndarray, lengths: np.ndarray, fades: float) -> np.ndarray:
    """Every column drawn out downwards from its lower edges by its own length (px).

    Below an edge the colour above it goes on, weaker by ``fades`` (0..1) at its end, with a
    round tip of two pixels; whatever the layer has there itself lies over it.
    """
    height, width = pixels.shape[0], pixels.shape[1]
    fading = np.float32(fades)
    out = pixels.copy()
    for x in range(width):
        length = lengths[x]
        since = np.float32(1e9)
        b, g, r, a = np.float32(0), np.float32(0), np.float32(0), np.float32(0)
        for y in range(height):
            own = np.float32(pixels[y, x, 3])
            if own >= a * np.float32(0.98):
                b, g = np.float32(pixels[y, x, 0]), np.float32(pixels[y, x, 1])
                r, a = np.float32(pixels[y, x, 2]), own
                since = np.float32(0)
                continue
            since += np.float32(1)
            left = length - since
            if left <= 0:
                if own >= 1:
                    b, g = np.float32(pixels[y, x, 0]), np.float32(pixels[y, x, 1])
                    r, a = np.float32(pixels[y, x, 2]), own
                    since = np.float32(0)
                continue
            k = min(np.float32(1), left / np.float32(2))
            k *= np.float32(1) - fading * since / max(np.float32(1), length)
            rest = np.float32(1) - own / np.float32(255)
            out[y, x, 0] = np.uint8(pixels[y, x, 0] + b * k * rest + np.float32(0.5))
            out[y, x, 1] = np.uint8(pixels[y, x, 1] + g * k * rest + np.float32(0.5))
            out[y, x, 2] = np.uint8(pixels[y, x, 2] + r * k * rest + np.float32(0.5))
            out[y, x, 3] = np.uint8(own + a * k * rest + np.float32(0.5))
    return out


@sample
def _sample(few: Few) -> None:
    run_down(few.pixels, np.ones(4, np.float32), 0.5)
