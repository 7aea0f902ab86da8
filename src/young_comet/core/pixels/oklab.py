"""Oklab: a space in which the way between two colours stays as colourful as they are.

The matrices are those of CSS Color 4 (sample code, sRGB to linear light to LMS to Oklab).
"""

from __future__ import annotations

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
