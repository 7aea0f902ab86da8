"""The main colours of a picture."""

from __future__ import annotations

import cv2
import numpy as np

from ..pixels.colour import format_colour
from ..pixels.raster import unpremultiply


def palette(pixels: np.ndarray, count: int = 6) -> list[str]:
    """Up to ``count`` colours of a premultiplied picture as hex texts, most frequent first.

    k-means in CIE L*a*b*, where distances are closer to what the eye sees; colours nearer to
    each other than 8 units become one. Transparent parts do not count. The same picture gives
    the same colours.
    """
    height, width = pixels.shape[:2]
    factor = min(1.0, 128 / max(height, width))
    size = (max(1, round(width * factor)), max(1, round(height * factor)))
    small = unpremultiply(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA))
    opaque = small[small[:, :, 3] > 128][:, :3]
    if len(opaque) == 0:
        return []
    lab = cv2.cvtColor(opaque[None].astype(np.float32) / 255, cv2.COLOR_BGR2LAB)[0]
    groups = min(count + 4, len(lab))
    cv2.setRNGSeed(1)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.5)
    best = np.empty((0,), np.int32)
    _, labels, centres = cv2.kmeans(lab, groups, best, stop, 3, cv2.KMEANS_PP_CENTERS)
    counts = np.bincount(labels.ravel(), minlength=groups)
    chosen: list[np.ndarray] = []
    for index in np.argsort(-counts, kind="stable"):
        centre = centres[index]
        if counts[index] and all(np.linalg.norm(centre - other) > 8 for other in chosen):
            chosen.append(centre)
    lab_row = np.array([chosen[:count]], np.float32)
    bgr = np.clip(cv2.cvtColor(lab_row, cv2.COLOR_LAB2BGR)[0], 0, 1)
    return [format_colour((float(r), float(g), float(b), 1.0)) for b, g, r in bgr]
