"""What layers show: one class for each kind of content."""

from .backing import Backing
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
from .text import Dress, TextContent
from .text_units import PLAIN, Carrying, TextUnit, UnitLook, Wiped

__all__ = [
    "PLAIN",
    "BackdropContent",
    "Backing",
    "Carrying",
    "ClipContent",
    "Content",
    "DrawingContent",
    "Dress",
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
    "UnitLook",
    "Wiped",
]
