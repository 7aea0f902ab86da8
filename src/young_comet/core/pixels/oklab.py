"""Oklab: a space in which the way between two colours stays as colourful as they are.

The matrices are those of CSS Color 4 (sample code, sRGB to linear light to LMS to Oklab).
"""

from __future__ import annotations

import math

import cv2
import numpy as np

_LMS = np.array([
    [0.4122214708, 0.5363325363, 0.0514459929],
    [0.2119034982, 0.6806995451, 0.1073969566],
    [0.0883024619, 0.2817188376, 0.6299787005],
])  # fmt: skip
_LAB = np.array([
    [0.2104542553, 0.7936177850, -0.0040720468],
    [1.9779984951, -2.4285922050, 0.4505937099],
    [0.0259040371, 0.7827717662, -0.8086757660],
])  # fmt: skip
_TO_LMS = np.linalg.inv(_LAB).astype(np.float32)
_TO_LINEAR = np.linalg.inv(_LMS).astype(np.float32)


def oklab_of(rgb: tuple[float, float, float]) -> tuple[float, float, float]:
    """Lightness 0..1, green to red and blue to yellow of an sRGB colour of 0..1."""
    v = np.array(rgb, np.float64)
    linear = np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)
    lightness, a, b = _LAB @ np.cbrt(_LMS @ linear)
    return float(lightness), float(a), float(b)


def srgb_of_oklab(lab: np.ndarray) -> np.ndarray:
    """sRGB (h, w, 3) of 0..1 of Oklab colours, each channel held within."""
    lms = cv2.transform(np.ascontiguousarray(lab, np.float32), _TO_LMS)
    linear = np.clip(cv2.transform(lms * lms * lms, _TO_LINEAR), 0, 1)
    found: np.ndarray = np.where(
        linear <= 0.0031308,
        linear * np.float32(12.92),
        np.float32(1.055) * cv2.pow(linear, 1 / 2.4) - np.float32(0.055),
    )
    return found


# How far the way between opposite colours is bent around grey.
AROUND_GREY = 0.75


def past_grey(ab: np.ndarray, points: list[np.ndarray], shares: list[np.ndarray]) -> np.ndarray:
    """Mixed colours (h, w, 2: green to red, blue to yellow) led around grey where opposite ones
    meet there: each pair's way is bent towards red, as far as colour was lost by mixing."""
    whole = sum(shares) + np.float32(1e-9)
    parts = [share / whole for share in shares]
    most = sum(part * np.float32(math.hypot(*p)) for part, p in zip(parts, points, strict=True))
    lost = np.clip(1 - np.hypot(ab[:, :, 0], ab[:, :, 1]) / (most + np.float32(1e-6)), 0, 1)
    # Over all pairs, the bluer one first: w v (b' - b, a - a'), by sums of those that went before.
    bent = np.zeros_like(ab)
    before = np.zeros((3, *ab.shape[:2]), np.float32)
    for index in sorted(range(len(points)), key=lambda n: (points[n][1], points[n][0])):
        (a, b), part = points[index], parts[index]
        bent[:, :, 0] += part * (b * before[0] - before[2])
        bent[:, :, 1] += part * (before[1] - a * before[0])
        before += np.stack([part, part * a, part * b])
    return np.asarray(ab + np.float32(AROUND_GREY) * lost[:, :, None] * bent, np.float32)
