"""What stands where something cannot be drawn: a crossed box with a name, plainly no picture."""

from __future__ import annotations

import math

from ..frame.contents import Texts
from ..geometry.affine import Affine, Box
from ..geometry.outline import from_svg_path, skia_matrix
from ..pixels.canvas import Canvas, Stroke
from ..pixels.colour import Rgba
from ..typography.style import plainly

_WORDS = plainly("inter", 600.0, 100.0)
_GROUND: Rgba = (0.11, 0.11, 0.145, 0.86)
_LINE: Rgba = (0.91, 0.365, 0.56, 1.0)
_WORD: Rgba = (0.925, 0.918, 0.949, 1.0)
# How much of the box's width and height the name takes at most, and its size in the box's px.
_SHARE, _LARGEST = 0.86, 64.0


def draw_placeholder(
    canvas: Canvas, texts: Texts, box: Box, matrix: Affine, label: str, unit: float
) -> None:
    """Draws a crossed box with a label over ``box`` under ``matrix``; ``unit`` is the length of a
    scene pixel in the picture's. Nothing where that has no size."""
    left, top, right, bottom = box
    wide, high = right - left, bottom - top
    if not (wide > 0 and high > 0 and all(map(math.isfinite, (*box, *matrix.as_tuple())))):
        return
    there = skia_matrix(matrix)
    frame = from_svg_path(f"M{left} {top}H{right}V{bottom}H{left}Z")
    cross = from_svg_path(f"M{left} {top}L{right} {bottom}M{right} {top}L{left} {bottom}")
    width = 2 * unit / max(1e-6, matrix.mean_scale)
    canvas.fill(frame.skia_path, _GROUND, there, 1.0)
    canvas.stroke(cross.skia_path, Stroke(width / 2, "butt", "miter", (), 0.0), _LINE, there, 0.45)
    canvas.stroke(frame.skia_path, Stroke(width, "butt", "miter", (), 0.0), _LINE, there, 1.0)
    word = texts.laid_out(label[:60], _WORDS, None).outline
    if word.is_empty:
        return
    x0, y0, x1, y1 = word.bounds
    size = min(_SHARE * wide / (x1 - x0), 0.4 * high / (y1 - y0), _LARGEST / 100)
    at = (
        Affine.shift((left + right) / 2, (top + bottom) / 2)
        @ Affine.scaling(size, size)
        @ Affine.shift(-(x0 + x1) / 2, -(y0 + y1) / 2)
    )
    canvas.fill(word.skia_path, _WORD, skia_matrix(matrix @ at), 1.0)
