"""A frame as passes over its picture, from below up, decided before a pixel is touched."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from ..effects import EVERYWHERE
from ..effects.base import Region
from ..frame.contents import Texts
from ..frame.resolved import ResolvedFrame, ResolvedLayer
from ..geometry.affine import Affine
from ..transitions import STEPS
from .light import parted
from .sheets import EffectStep, PicturePlan, SheetPlan, SheetPlanner, reach_of

# How far a treatment sees beyond the frame: its edge pixels go on that far.
MAX_BEYOND = 512
# Layers that are less opaque are laid by chance between two levels.
_FAINT = 0.1


class How(StrEnum):
    """What a pass does to the picture so far."""

    DRAW = "draw"
    """The content is drawn straight onto it."""
    LAY = "lay"
    """The layer's picture is laid on it, by its mode."""
    FAINT = "lay faintly"
    """Laid by chance between two levels, as rounding would be a good part of it."""
    THROUGH = "lay through"
    """Laid through its last matte in the same pass over memory."""
    COUNT = "count"
    """Laid, with an account of what the layers above the ground cover: atop and cut out need it."""
    TREAT = "treat"
    """It goes through effects and is put back."""


@dataclass(frozen=True)
class Treatment:
    """How far beyond the picture its effects see, and whether they may write over all of it."""

    beyond: int
    whole: bool
    steps: tuple[EffectStep, ...]


@dataclass(frozen=True)
class Pass:
    """One pass of the layer (or of the light of it) of that index in the frame.

    ``region`` are the pixels that it may change, ``reads`` the signatures of other layers whose
    pictures it needs, ``states`` how many moments are mixed in it. ``picture`` and ``sheet`` tell
    how its picture comes about, at the frame's own moment; ``name`` is that of the picture where it
    is kept.
    """

    how: How
    layer: ResolvedLayer
    index: int
    region: Region
    reads: tuple[bytes, ...] = ()
    states: int = 0
    picture: PicturePlan | None = None
    sheet: SheetPlan | None = None
    treatment: Treatment | None = None
    name: bytes = b""


def is_faint(layer: ResolvedLayer) -> bool:
    """Whether a layer is so faint that rounding its levels would be a good part of it."""
    return layer.opacity < _FAINT and layer.blend == "normal" and layer.composite == "over"


def floor_of(frame: ResolvedFrame) -> int | None:
    """How many backdrops lie at the bottom, where a layer counts on the layers above them;
    None where no layer does."""
    if all(layer.composite == "over" for layer in frame.layers):
        return None
    count = 0
    for layer in frame.layers:
        if not (layer.content.covers and not layer.content.through) or layer.composite != "over":
            break
        count += 1
    return count


def matte_signatures(frame: ResolvedFrame) -> frozenset[bytes]:
    """The signatures of pictures and clips that are mattes of others, as they stand in the frame.
    Drawing these is placing pixels, so it makes no difference to place them once for both."""
    return frozenset(
        matte.layer.signature
        for layer in frame.layers
        for first in layer.mattes
        for matte in first.all()
        if matte.layer.content.pixels
    )


class StackPlanner:
    """Plans the passes of a frame's layers over a picture of some size."""

    def __init__(
        self, frame: ResolvedFrame, view: Affine, size: tuple[int, int], texts: Texts
    ) -> None:
        self.region: Region = (0, 0, *size)
        self.view = view
        self.floor = floor_of(frame)
        self.sheets = SheetPlanner(texts, view, self.region, (frame.width, frame.height), frame.fps)
        # Pictures that are needed as mattes too are not placed twice.
        self._mattes = matte_signatures(frame)

    def passes(self, layer: ResolvedLayer, index: int) -> Iterator[Pass]:
        """The passes of the layer of that index in the frame."""
        for part in parted(layer):
            how = self._how(part, index)
            if how is not None:
                yield Pass(how, part, index, self.region, treatment=self._treatment(how, part))

    def told(self, layer: ResolvedLayer, index: int) -> Iterator[Pass]:
        """The same passes with all that can be said of them: for tests, and for whoever asks what
        costs time."""
        for each in self.passes(layer, index):
            yield self._described(each)

    def _how(self, layer: ResolvedLayer, index: int) -> How | None:
        if layer.content.through:
            return How.TREAT if layer.effects else None
        if self.floor is not None and index >= self.floor:
            return How.COUNT
        faint = is_faint(layer)
        direct = (layer.blend == "normal" or layer.content.is_one_paint) and not faint
        if layer.is_plain and direct and layer.signature not in self._mattes:
            return How.DRAW
        if faint:
            return How.FAINT
        return How.THROUGH if layer.mattes and layer.blend == "normal" else How.LAY

    def _treatment(self, how: How, layer: ResolvedLayer) -> Treatment | None:
        if how is not How.TREAT:
            return None
        work = self.sheets.work(layer, self.view @ layer.matrix, self.region)
        reaches = [reach_of(e, STEPS[e.kind], work) for e in layer.effects]
        reach = sum(reaches)
        beyond = 0 if reach == EVERYWHERE else min(MAX_BEYOND, math.ceil(reach))
        # Where nothing of the picture so far shows through, effects may write over it.
        plain = not layer.masks and not layer.mattes and layer.opacity >= 1
        area = (-beyond, -beyond, self.region[2] + beyond, self.region[3] + beyond)
        steps = tuple(
            EffectStep(effect, STEPS[effect.kind], area, reach)
            for effect, reach in zip(layer.effects, reaches, strict=True)
        )
        return Treatment(beyond, plain and layer.blend == "normal", steps)

    def _described(self, each: Pass) -> Pass:
        layer = each.layer
        reads = tuple(matte.layer.signature for first in layer.mattes for matte in first.all())
        reads += tuple(other.signature for effect in layer.effects for _, other in effect.inputs)
        states, region = len(layer.shutter), self.region
        picture: PicturePlan | None = None
        sheet: SheetPlan | None = None
        if each.how is not How.TREAT:
            picture = self.sheets.still(layer, self.region)
            if picture.how in ("upright", "placed"):
                sheet = self.sheets.sheet(layer, picture.working, picture.area)
            elif picture.how == "drawn" and not states:
                region = picture.area
        name = b"" if each.how in (How.DRAW, How.TREAT) else layer.picture_signature
        return Pass(
            each.how, layer, each.index, region, reads, states, picture, sheet, each.treatment, name
        )
