"""What layers show: one class for each kind of content."""

from .base import Content, Texts
from .media import (
    BackdropContent,
    ClipContent,
    PictureContent,
    Pictured,
    PlaceholderContent,
    Sized,
    TreatmentContent,
)
from .shapes import DrawingContent, PartContent, ShapeContent
from .text import TextContent, TextUnit

__all__ = [
    "BackdropContent",
    "ClipContent",
    "Content",
    "DrawingContent",
    "PartContent",
    "PictureContent",
    "Pictured",
    "PlaceholderContent",
    "ShapeContent",
    "Sized",
    "TextContent",
    "TextUnit",
    "Texts",
    "TreatmentContent",
]
