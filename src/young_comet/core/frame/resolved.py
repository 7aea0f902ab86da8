"""What a frame consists of, every value known: the frozen result of evaluation."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import ClassVar

from ..geometry.affine import Affine
from ..geometry.projective import Projective
from ..pixels.colour import Rgba
from .contents import Content, Pictured
from .slices import Slices


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
        """It and all that are joined to it."""
        return (self, *self.joined)


@dataclass(frozen=True)
class ResolvedLayer:
    """A visible layer: what it shows, where (into scene pixels), how opaque (0..1), its looks.

    ``lens`` stands in place of ``matrix`` where the layer is tilted or turned. ``inner_mattes`` are
    those that come before its effects. ``shutter`` are the states of a moving layer while the
    shutter is open; where nothing changes but its masks, a picture goes through the mean of those
    in ``mask_moments``.
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
    mask_moments: tuple[tuple[ResolvedMask, ...], ...] = ()

    @property
    def is_plain(self) -> bool:
        """Whether it is drawn as it is: nothing is done to its picture."""
        return (
            not (
                self.masks
                or self.effects
                or self.slices
                or self.lens
                or self.mattes
                or self.shutter
                or self.inner_mattes
            )
            and not self.content.composed
        )

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
        return _digest((self.content, self.mask_moments or self.masks, self.slices, tied))


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


@dataclass(frozen=True)
class SceneContent(Pictured):
    """A scene at a moment; (0, 0) is the middle of its frame. ``signature`` names the picture;
    ``sharp`` ones are drawn anew at the size that they have."""

    composed: ClassVar[bool] = True
    held: ClassVar[bool] = True

    width: float
    height: float
    signature: str
    sharp: bool
    frame: ResolvedFrame = field(repr=False, compare=False)
