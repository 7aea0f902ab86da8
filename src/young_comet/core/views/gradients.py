"""A gradient as a bar, for choosing its stops."""

from __future__ import annotations

import numpy as np

from ..geometry.affine import Affine
from ..geometry.outline import rectangle, skia_matrix
from ..pixels.canvas import Canvas, Gradient
from ..pixels.mixing import Stops, mixed_stops
from ..pixels.raster import empty

WIDTH = 192


def gradient_bar(stops: Stops, mixing: str) -> np.ndarray:
    """The way from 0 to 1 of a gradient: (1, 192, 4) premultiplied."""
    pixels = empty(WIDTH, 1)
    bar = Gradient("linear", (-WIDTH / 2, 0.0), (WIDTH / 2, 0.0), mixed_stops(stops, mixing))
    at = Affine.shift(WIDTH / 2, 0.5)
    Canvas(pixels).fill(rectangle(WIDTH, 1).skia_path, bar, skia_matrix(at), 1.0)
    return pixels
