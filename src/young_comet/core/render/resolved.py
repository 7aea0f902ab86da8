"""What a frame consists of, every value known: the frozen result of evaluation."""

from __future__ import annotations

import hashlib
from array import array
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import chain
from typing import NamedTuple

from ..geometry.affine import Affine
from ..geometry.projective import Projective
from ..pixels.canvas import Paint, Stroke
from ..pixels.colour import Rgba
from ..typography.along import TextPath
from ..typography.layout import TextStyle
from .filling import PictureFill


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
    ``stroke_paint`` stands in place of the stroke's colour where it is painted as the fill.
    """

    fill: Paint | PictureFill | None
    stroke: Stroke | None = None
    stroke_colour: Rgba = (0.0, 0.0, 0.0, 1.0)
    fixed_width: bool = False
    drawn: tuple[float, float, float] = (0.0, 1.0, 0.0)
    stroke_paint: Paint | PictureFill | None = None

    @property
    def is_clear(self) -> bool:
        """Whether nothing of it is seen."""
        fill = self.fill
        return self.stroke is None and (fill is None or (isinstance(fill, tuple) and fill[3] <= 0))


@dataclass(frozen=True)
class BackdropContent:
    """Covers a frame of that size; (0, 0) is its middle."""

    surface: Surface
    width: float
    height: float


@dataclass(frozen=True)
class ShapeContent:
    form: ShapeForm
    surface: Surface


@dataclass(frozen=True)
class PartContent:
    """One path of a drawing, SVG path data, with its surface and opacity 0..1."""

    path: str
    surface: Surface
    opacity: float


@dataclass(frozen=True)
class DrawingContent:
    """Several paths, the lowest first."""

    parts: tuple[PartContent, ...]


class UnitPlace(NamedTuple):
    """How far a unit (a slice, letter, word or line) is from where it rests: moved px, rotated,
    scaled by factors, tilted and turned in space about a pivot, which is its middle moved by shares
    of its box (half of it is an edge); faded 0..1."""

    dx: float = 0.0
    dy: float = 0.0
    rotation_deg: float = 0.0
    sx: float = 1.0
    sy: float = 1.0
    opacity: float = 1.0
    tilt_deg: float = 0.0
    turn_deg: float = 0.0
    pivot_x: float = 0.0
    pivot_y: float = 0.0

    @property
    def in_space(self) -> bool:
        return bool(self.tilt_deg or self.turn_deg)


# Where the eye is in a layer's own space: x, y, and how far before its plane.
Eye = tuple[float, float, float]


@dataclass(frozen=True)
class TextUnit:
    """A letter, word or line of a text, as its characters (first, one after the last), on its
    way; ``scrambled`` ones are other letters."""

    first: int
    last: int
    place: UnitPlace
    scrambled: float = 0.0


@dataclass(frozen=True)
class TextContent:
    """``units`` are those that are not at rest, and ``eye`` sees them where they are turned in
    space. A ``cursor`` stands after the last that is seen. ``along`` is the path that the text
    follows."""

    text: str
    style: TextStyle
    surface: Surface
    along: TextPath | None = None
    units: tuple[TextUnit, ...] = ()
    cursor: bool = False
    eye: Eye | None = None


@dataclass(frozen=True)
class PictureContent:
    """``width`` and ``height`` as placed, before the layer's scale; natural size in the asset.
    ``name`` is the asset's, shown where its file is missing."""

    hash: str
    vector: bool
    natural: tuple[float, float]
    width: float
    height: float
    name: str = field(default="", repr=False, compare=False)


@dataclass(frozen=True)
class ClipContent:
    """One frame of footage: ``moment_s`` lies within it. ``width`` and ``height`` as placed."""

    hash: str
    moment_s: float
    width: float
    height: float
    name: str = field(default="", repr=False, compare=False)


@dataclass(frozen=True)
class TreatmentContent:
    """Whatever lies below, over a frame of that size; (0, 0) is its middle."""

    width: float
    height: float


@dataclass(frozen=True)
class SceneContent:
    """A scene at a moment; (0, 0) is the middle of its frame. ``signature`` names the picture;
    ``sharp`` ones are drawn anew at the size that they have."""

    width: float
    height: float
    signature: str
    sharp: bool
    frame: ResolvedFrame = field(repr=False, compare=False)


@dataclass(frozen=True)
class PlaceholderContent:
    """Stands for what cannot be shown: a box of that size about (0, 0) with a name, and why."""

    width: float
    height: float
    label: str
    why: str


Content = (
    BackdropContent
    | ShapeContent
    | DrawingContent
    | TextContent
    | PictureContent
    | ClipContent
    | TreatmentContent
    | SceneContent
    | PlaceholderContent
)


@dataclass(frozen=True)
class ResolvedMask:
    """A mask at its moment. ``matrix`` maps its space into the layer's, or into the scene where
    ``in_scene``. Opacity 0..1; feather and grow in px of its space."""

    half_plane: bool
    path: str
    mode: str
    inverted: bool
    feather: tuple[float, float]
    grow: float
    opacity: float
    matrix: Affine
    in_scene: bool
    joins: bool = False


@dataclass(frozen=True)
class ResolvedEffect:
    """An effect with the values of its parameters; ``time_s`` only where it changes by itself.

    ``inputs`` are the other layers that parameters name.
    """

    kind: str
    params: tuple[tuple[str, object], ...]
    time_s: float = 0.0
    length_s: float = 0.0
    inputs: tuple[tuple[str, ResolvedLayer], ...] = ()

    def __repr__(self) -> str:
        """Named by the signatures of its inputs: texts of layers within layers would double at
        every step."""
        inputs = [(name, layer.signature) for name, layer in self.inputs]
        return repr((self.kind, self.params, self.time_s, self.length_s, inputs))


@dataclass(frozen=True)
class ResolvedMatte:
    """Another layer through which a layer is shown, with the further ones that are joined to it,
    each by its mode."""

    layer: ResolvedLayer
    by: str
    inverted: bool
    mode: str = "union"
    joined: tuple[ResolvedMatte, ...] = ()

    def __repr__(self) -> str:
        return repr((self.layer.signature, self.by, self.inverted, self.mode, self.joined))

    def all(self) -> tuple[ResolvedMatte, ...]:
        return (self, *self.joined)


@dataclass(frozen=True)
class Cut:
    """Into what a layer is cut; which of them count depends on ``kind``."""

    kind: str
    count: int
    grid: tuple[int, int]
    angle_deg: float
    lines: str


@dataclass(frozen=True)
class Slices:
    """How a layer is cut and where each of its pieces is; ``eye`` sees those that are turned in
    space."""

    cut: Cut
    places: tuple[UnitPlace, ...]
    eye: Eye | None = None

    def __repr__(self) -> str:
        """Short: there may be thousands of pieces."""
        values = array("d", chain.from_iterable(self.places)).tobytes()
        return repr((self.cut, self.eye, hashlib.blake2b(values, digest_size=12).digest()))


@dataclass(frozen=True)
class ResolvedLayer:
    """A visible layer: what it shows, where (into scene pixels), how opaque (0..1), its looks.

    ``lens`` stands in place of ``matrix`` where the layer is tilted or turned. ``inner_mattes`` are
    those that come before its effects. ``shutter`` are the states of a moving layer while the
    shutter is open.
    """

    id: str = field(repr=False)
    content: Content
    matrix: Affine
    opacity: float
    lens: Projective | None = None
    masks: tuple[ResolvedMask, ...] = ()
    effects: tuple[ResolvedEffect, ...] = ()
    slices: Slices | None = None
    blend: str = "normal"
    composite: str = "over"
    mattes: tuple[ResolvedMatte, ...] = ()
    inner_mattes: tuple[ResolvedMatte, ...] = ()
    shutter: tuple[ResolvedLayer, ...] = ()

    @property
    def is_plain(self) -> bool:
        """Whether it is drawn as it is: nothing is done to its picture."""
        return not (
            self.masks
            or self.effects
            or self.slices
            or self.lens
            or self.mattes
            or self.shutter
            or self.inner_mattes
        ) and not isinstance(self.content, TreatmentContent | SceneContent)

    @cached_property
    def signature(self) -> bytes:
        """Equal for equal pictures in equal places, whichever layer it is."""
        return _digest(self)

    @cached_property
    def picture_signature(self) -> bytes:
        """Equal for equal pictures before mattes, opacity and compositing."""
        if not self.mattes and self.opacity == 1 and self.blend == "normal":
            return self.signature
        plain = replace(self, mattes=(), opacity=1.0, blend="normal", composite="over")
        return plain.signature

    @cached_property
    def sheet_signature(self) -> bytes:
        """Equal where all is equal but place, opacity, mattes and how it is composited. Masks
        that lie in the scene, and mattes before effects, tie it to its place."""
        return _digest((self.content_signature, self.effects))

    @cached_property
    def content_signature(self) -> bytes:
        """Equal for equal contents, masks and slices: what the first effect is given."""
        there = self.inner_mattes or any(mask.in_scene for mask in self.masks)
        tied = (self.matrix, self.lens, self.inner_mattes) if there else None
        return _digest((self.content, self.masks, self.slices, tied))


def _digest(values: object) -> bytes:
    return hashlib.blake2b(repr(values).encode(), digest_size=12).digest()


@dataclass(frozen=True)
class ResolvedFrame:
    """Frame size in scene pixels, the ground (None: transparent) and layers from below up; the
    frame rate, which counters show."""

    width: int
    height: int
    ground: Rgba | None
    layers: tuple[ResolvedLayer, ...]
    fps: float = 25.0

    @cached_property
    def signature(self) -> str:
        """Names the picture: frames of equal signature have equal pixels."""
        digest = hashlib.blake2b(digest_size=12)
        digest.update(repr((self.width, self.height, self.ground, self.fps)).encode())
        for layer in self.layers:
            digest.update(layer.signature)
        return digest.hexdigest()
