"""What a frame consists of, every value known: the frozen result of evaluation."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property

from ..geometry.affine import Affine
from ..pixels.canvas import Paint, Stroke
from ..pixels.colour import Rgba
from ..typography.layout import TextStyle


@dataclass(frozen=True)
class ShapeForm:
    """The parameters of an outline; which of them count depends on ``kind``."""

    kind: str
    size: tuple[float, float] = (0.0, 0.0)
    radius: float = 0.0
    corners: int = 3
    inner: float = 0.5
    corner_radius: float = 0.0
    start: tuple[float, float] = (0.0, 0.0)
    end: tuple[float, float] = (0.0, 0.0)
    path: str = ""


@dataclass(frozen=True)
class Surface:
    """Fill and stroke. Points of a gradient are fractions of the content's box.

    ``drawn`` is (from, to, offset) of the stroked part, fractions of the whole length.
    """

    fill: Paint | None
    stroke: Stroke | None = None
    stroke_colour: Rgba = (0.0, 0.0, 0.0, 1.0)
    fixed_width: bool = False
    drawn: tuple[float, float, float] = (0.0, 1.0, 0.0)


@dataclass(frozen=True)
class BackdropContent:
    surface: Surface


@dataclass(frozen=True)
class ShapeContent:
    form: ShapeForm
    surface: Surface


@dataclass(frozen=True)
class TextContent:
    text: str
    style: TextStyle
    surface: Surface


@dataclass(frozen=True)
class PictureContent:
    """``width`` and ``height`` as placed, before the layer's scale; natural size in the asset."""

    hash: str
    vector: bool
    natural: tuple[float, float]
    width: float
    height: float


@dataclass(frozen=True)
class ClipContent:
    """One frame of footage: ``moment_s`` lies within it. ``width`` and ``height`` as placed."""

    hash: str
    moment_s: float
    width: float
    height: float


Content = BackdropContent | ShapeContent | TextContent | PictureContent | ClipContent


@dataclass(frozen=True)
class ResolvedLayer:
    """A visible layer: what it shows, where (into scene pixels) and how opaque (0..1)."""

    id: str
    content: Content
    matrix: Affine
    opacity: float

    @cached_property
    def signature(self) -> bytes:
        """Equal for equal pictures in equal places, whichever layer it is."""
        text = repr((self.content, self.matrix, self.opacity))
        return hashlib.blake2b(text.encode(), digest_size=12).digest()


@dataclass(frozen=True)
class ResolvedFrame:
    """Frame size in scene pixels, the ground (None: transparent) and layers from below up."""

    width: int
    height: int
    ground: Rgba | None
    layers: tuple[ResolvedLayer, ...]

    @cached_property
    def signature(self) -> str:
        """Names the picture: frames of equal signature have equal pixels."""
        digest = hashlib.blake2b(digest_size=12)
        digest.update(repr((self.width, self.height, self.ground)).encode())
        for layer in self.layers:
            digest.update(layer.signature)
        return digest.hexdigest()
