"""Resolved frames drawn: pixels."""

from .library import AssetReader, MediaLibrary
from .limits import CacheLimits, shared_out
from .renderer import Renderer, output_size

__all__ = [
    "AssetReader",
    "CacheLimits",
    "MediaLibrary",
    "Renderer",
    "output_size",
    "shared_out",
]
