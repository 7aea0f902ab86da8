"""Rasters, colours and drawing."""

from .canvas import Canvas, Gradient, Paint, Stroke
from .colour import Rgba, format_colour, mix, parse_colour
from .raster import Raster

__all__ = [
    "Canvas",
    "Gradient",
    "Paint",
    "Raster",
    "Rgba",
    "Stroke",
    "format_colour",
    "mix",
    "parse_colour",
]
