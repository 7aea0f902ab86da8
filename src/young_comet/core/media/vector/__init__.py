"""SVG: made plain, drawn as a picture, read as shapes."""

from .holding import Notes
from .parts import Drawing, layer_parts
from .picture import check_svg, draw_svg, pack_drawing, unpack_drawing
from .shapes import shapes_of

__all__ = [
    "Drawing",
    "Notes",
    "check_svg",
    "draw_svg",
    "layer_parts",
    "pack_drawing",
    "shapes_of",
    "unpack_drawing",
]
