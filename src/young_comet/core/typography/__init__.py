"""Typefaces, shaping and layout."""

from .along import TextPath, led_along
from .fonts import FontLibrary, Typeface, check_font
from .layout import TextLayout
from .style import TextStyle

__all__ = [
    "FontLibrary",
    "TextLayout",
    "TextPath",
    "TextStyle",
    "Typeface",
    "check_font",
    "led_along",
]
