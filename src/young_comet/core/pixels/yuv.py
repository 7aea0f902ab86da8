"""BGRA to BT.709 I420 for video encoders."""

from __future__ import annotations

import numpy as np

from .kernel import Few, kernel, sample


@kernel()
def _to_i420(bgra: np.ndarray, out_y: np.ndarray, out_u: np.ndarray, out_v: np.ndarray) -> None:
    # ITU-R BT.709-6, 8 bits, limited range: 219 steps of luma from 16, 224 of chroma about 128.
    height, width = bgra.shape[0], bgra.shape[1]
    shift, half = 16, 1 << 15
    yr, yg, yb = 11966, 40254, 4064  # 65536 * 219/255 * (0.2126, 0.7152, 0.0722)
    ur, ug, ub = -6596, -22189, 28784  # the sums of the chroma rows are zero
    vr, vg, vb = 28784, -26145, -2639
    for j in range(0, height, 2):
        for i in range(0, width, 2):
            red, green, blue = 0, 0, 0
            for dy in range(2):
                for dx in range(2):
                    p = bgra[j + dy, i + dx]
                    b, g, r = int(p[0]), int(p[1]), int(p[2])
                    out_y[j + dy, i + dx] = 16 + ((yr * r + yg * g + yb * b + half) >> shift)
                    red += r
                    green += g
                    blue += b
            u = 128 + ((ur * red + ug * green + ub * blue + (half << 2)) >> (shift + 2))
            v = 128 + ((vr * red + vg * green + vb * blue + (half << 2)) >> (shift + 2))
            out_u[j >> 1, i >> 1] = u
            out_v[j >> 1, i >> 1] = v


def to_i420(bgra: np.ndarray, out: np.ndarray) -> None:
    """Opaque BGRA (h, w, 4) into ``out`` (h * 3 // 2, w) uint8, planes Y, U, V; even sizes.

    Chroma is the mean of each 2x2 block.
    """
    height, width = bgra.shape[:2]
    if height % 2 or width % 2 or out.shape != (height * 3 // 2, width):
        raise ValueError(f"expected even sizes and a matching target, got {bgra.shape}")
    chroma = out[height:].reshape(2, height // 2, width // 2)
    _to_i420(bgra, out[:height], chroma[0], chroma[1])


@sample
def _sample(few: Few) -> None:
    to_i420(few.pixels, np.zeros((6, 4), np.uint8))
