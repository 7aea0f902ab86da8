"""Typefaces, shaping and layout."""

from .fonts import FontLibrary, Typeface, check_font
from .layout import TextLayout, TextStyle

__all__ = ["FontLibrary", "TextLayout", "TextStyle", "Typeface", "check_font"]
