"""Pictures, frames of footage, backdrops, treatments, and what stands for the rest."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import Any, ClassVar, cast

from ...geometry.affine import Box
from ..surface import Surface
from .base import Content, Texts


class Sized(Content):
    """A content of a width and height about (0, 0)."""

    width: float
    height: float

    def box(self, texts: Texts) -> Box:
        w, h = self.width / 2, self.height / 2
        return (-w, -h, w, h)


class Pictured(Sized):
    """A picture of a width and height about (0, 0)."""

    def between(self, other: Any, amount: float) -> Any:
        """Of the same picture: at a size between."""
        if type(other) is not type(self):
            return None
        width = self.width + (other.width - self.width) * amount
        height = self.height + (other.height - self.height) * amount
        sized: Any = replace(cast(Any, self), width=width, height=height)
        same: Any = replace(cast(Any, other), width=width, height=height)
        return sized if same == sized else None

    def radius(self) -> float:
        return math.hypot(self.width, self.height) / 2


@dataclass(frozen=True)
class BackdropContent(Sized):
    """Covers a frame of that size; (0, 0) is its middle."""

    covers: ClassVar[bool] = True

    surface: Surface
    width: float
    height: float

    def between(self, other: Any, amount: float) -> BackdropContent | None:
        if not isinstance(other, BackdropContent):
            return None
        surface = self.surface.between(other.surface, amount)
        return None if surface is None else BackdropContent(surface, self.width, self.height)

    @property
    def is_one_paint(self) -> bool:
        return True

    @property
    def is_clear(self) -> bool:
        return self.surface.is_clear


@dataclass(frozen=True)
class TreatmentContent(Sized):
    """Whatever lies below, over a frame of that size; (0, 0) is its middle."""

    covers: ClassVar[bool] = True
    through: ClassVar[bool] = True
    composed: ClassVar[bool] = True

    width: float
    height: float


@dataclass(frozen=True)
class PictureContent(Pictured):
    """``width`` and ``height`` as placed, before the layer's scale; natural size in the asset.
    ``name`` is the asset's, shown where its file is missing."""

    pixels: ClassVar[bool] = True

    hash: str
    vector: bool
    natural: tuple[float, float]
    width: float
    height: float
    name: str = field(default="", repr=False, compare=False)


@dataclass(frozen=True)
class ClipContent(Pictured):
    """One frame of footage: ``moment_s`` lies within it. ``width`` and ``height`` as placed."""

    pixels: ClassVar[bool] = True
    held: ClassVar[bool] = True

    hash: str
    moment_s: float
    width: float
    height: float
    name: str = field(default="", repr=False, compare=False)


@dataclass(frozen=True)
class PlaceholderContent(Sized):
    """Stands for what cannot be shown: a box of that size about (0, 0) with a name, and why."""

    width: float
    height: float
    label: str
    why: str
