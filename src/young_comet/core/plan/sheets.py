"""How a layer's picture comes about: at which scale its sheet is made, over which area, and what
each of its effects has to deliver for that.

A *sheet* is the layer upright, in working pixels: axes along its own, so that effects need not know
how it is turned. Nothing here touches a pixel.
"""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass

from ..effects import EVERYWHERE, EffectKind, Work, grown
from ..effects.base import Region, in_blocks, join, meet
from ..frame.contents import Texts
from ..frame.pieces import slice_reach
from ..frame.resolved import ResolvedEffect, ResolvedLayer
from ..geometry.affine import Affine
from ..geometry.projective import Projective
from ..transitions import STEPS
from .light import light_factor
from .masks import let_through
from .regions import is_upright, outset

# A sheet that is turned keeps all of its content if that is no more than so many frames.
_WHOLE_FRAMES = 3.0
MAX_SHEET_SIDE = 8192
# Reaches beyond this count as without limit, px.
_FAR = 20_000
# More room than this is made where it is needed, not kept about the content, px.
_MOST_ROOM = 3_000
_AS_IT_IS = Affine()


@dataclass(frozen=True)
class EffectStep:
    """One effect of a sheet: what it has to deliver, and how far beyond that its input counts."""

    effect: ResolvedEffect
    kind: EffectKind
    area: Region
    reach: float


@dataclass(frozen=True)
class SheetPlan:
    """A sheet: ``working`` maps the layer to working pixels, ``area`` is what is needed of it.
    ``source`` is what of the content its first effect is given, with ``room`` about it."""

    working: Affine
    area: Region
    source: Region
    room: float
    steps: tuple[EffectStep, ...]


@dataclass(frozen=True)
class PicturePlan:
    """How a layer at one moment is seen: ``drawn`` from its content, ``upright`` as its sheet
    lies, ``placed`` (its sheet warped by ``back``, which maps output pixels to working ones), or
    not at all."""

    how: str
    scale: float = 1.0
    working: Affine = _AS_IT_IS
    back: Affine | Projective | None = None
    area: Region = (0, 0, 0, 0)


NOT_SEEN = PicturePlan("unseen", 0.0)


def reach_of(effect: ResolvedEffect, kind: EffectKind, work: Work) -> float:
    """How far an effect's input counts; without a limit where that cannot be said."""
    try:
        reach = kind.reach(dict(effect.params), work)
    except (ArithmeticError, ValueError):
        return EVERYWHERE
    return reach if reach >= 0 else EVERYWHERE


class SheetPlanner:
    """Plans pictures of layers over a region of the output. ``view`` maps scene pixels to output
    pixels, ``frame`` is the scene's size."""

    def __init__(
        self, texts: Texts, view: Affine, region: Region, frame: tuple[int, int], fps: float
    ) -> None:
        self._texts = texts
        self.view, self.region, self.frame, self.fps = view, region, frame, fps
        self.unit = view.mean_scale

    def still(self, layer: ResolvedLayer, region: Region) -> PicturePlan:
        """A layer as it is at one moment, within a region."""
        matrix = self.view @ layer.matrix
        treated = layer.masks or layer.effects or layer.slices or layer.inner_mattes
        if layer.lens is None and not treated:
            return PicturePlan("drawn", working=matrix, area=self.bounds(layer, region))
        smaller = light_factor(layer, matrix.max_scale) > 1
        if layer.lens is None and is_upright(matrix) and not smaller:
            return PicturePlan("upright", matrix.a, matrix, area=region)
        return self.placed(layer, self.scale(layer), region)

    def placed(self, layer: ResolvedLayer, scale: float, region: Region) -> PicturePlan:
        """A sheet of a scale, warped to where the layer is."""
        if scale <= 0:
            return NOT_SEEN
        working = Affine.scaling(scale, scale)
        back = self.back(layer, working)
        if back is None:  # seen edge on
            return NOT_SEEN
        area = self._area(layer, working, back, region)
        return PicturePlan("placed", scale, working, back, area)

    def bounds(self, layer: ResolvedLayer, region: Region) -> Region:
        """Output pixels of a region that a plain layer may touch."""
        if layer.content.covers:
            return region
        matrix = self.view @ layer.matrix
        box = layer.content.painted_box(self._texts, matrix.max_scale / self.unit)
        left, top, right, bottom = matrix.box(box)
        if not all(map(math.isfinite, (left, top, right, bottom))):
            return region
        return meet(outset((left, top, right, bottom), 1), region)

    def scale(self, layer: ResolvedLayer) -> float:
        """Working pixels to one of the layer: the next of a fixed series of scales that is fine
        enough, so that sheets can be kept while the layer turns and grows."""
        box = layer.content.box(self._texts)
        scale = (self.view @ layer.matrix).max_scale
        if layer.lens is not None:
            lens = Projective.of(self.view) @ layer.lens
            corners = ((box[0], box[1]), (box[2], box[1]), (box[2], box[3]), (box[0], box[3]))
            middle = ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
            near = [lens.scales(p)[0] for p in (*corners, middle)]
            scale = min(max(near), 2.5 * max(scale, 1e-6))
        if scale < 1e-6:
            return 0.0
        scale = 2.0 ** (math.ceil(4 * math.log2(scale) - 1e-6) / 4)
        side = max(box[2] - box[0], box[3] - box[1], 1.0)
        result: float = min(scale / light_factor(layer, scale), MAX_SHEET_SIDE / side)
        return result

    def back(self, layer: ResolvedLayer, working: Affine) -> Affine | Projective | None:
        """From output pixels to working ones; None where the layer is seen edge on."""
        try:
            if layer.lens is None:
                return working @ (self.view @ layer.matrix).inverse()
            there = Projective.of(self.view) @ layer.lens
            return Projective.of(working) @ there.inverse()
        except ValueError:
            return None

    def sheet(self, layer: ResolvedLayer, working: Affine, area: Region) -> SheetPlan:
        """What each step of a sheet must deliver, worked out from the last back to the first."""
        need = area
        steps: list[EffectStep] = []
        for index in range(len(layer.effects) - 1, -1, -1):
            effect = layer.effects[index]
            kind = STEPS[effect.kind]
            reach = reach_of(effect, kind, self.work(layer, working, need))
            steps.insert(0, EffectStep(effect, kind, need, reach))
            need = self._input_area(layer, working, need, reach, index)
        # A blur that comes first finds room about the content and need not make it.
        room = 0.0
        if steps and steps[0].kind.roomy:
            room = reach_of(steps[0].effect, steps[0].kind, self.work(layer, working, area))
            room = room if room < _MOST_ROOM else 0.0
        return SheetPlan(working, area, need, room, tuple(steps))

    def name(self, layer: ResolvedLayer, working: Affine, area: Region, moving: object) -> bytes:
        """The name under which a sheet is kept; ``moving`` are pieces that are smeared in it."""
        parts = repr((working, area, self.unit, self.fps, moving)).encode()
        inputs = b"".join(o.signature for e in layer.effects for _, o in e.inputs)
        place = repr((layer.matrix, layer.lens)).encode() if inputs else b""
        return hashlib.blake2b(layer.sheet_signature + parts + inputs + place).digest()

    def work(self, layer: ResolvedLayer, working: Affine, area: Region) -> Work:
        """Where an effect of a layer works, without what only painting has."""
        try:
            frame = layer.matrix.inverse().box((0, 0, *self.frame))
        except ValueError:
            frame = (0.0, 0.0, 0.0, 0.0)
        return Work(
            working.a,
            (working.e, working.f),
            area,
            layer.content.box(self._texts),
            layer.content.painted_box(self._texts, working.a / self.unit),
            frame,
            fps=self.fps,
            continued=layer.content.covers,
        )

    def content_area(
        self, layer: ResolvedLayer, working: Affine, area: Region, room: float
    ) -> Region:
        """What of an area a layer's content paints and its masks let through, with room about
        it."""
        through = self._through(layer, working)
        if through is not None:
            area = meet(grown(through, room), area)
        if layer.content.covers:
            return area
        whole = outset(working.box(self._painted(layer, working)), 1)
        if layer.slices is not None:
            box = layer.content.box(self._texts)
            reach = slice_reach(layer.slices, working.a, box, self._painted(layer, working))
            return meet(whole, grown(area, reach))
        if room:
            whole = in_blocks(grown(whole, room))
        return meet(whole, area)

    def _through(self, layer: ResolvedLayer, working: Affine) -> Region | None:
        """How far the masks of a layer let it through, where nothing of it need be made beyond:
        pieces are kept for as long as they stay, whatever their masks do, and effects that go on
        beyond an edge mean the content's own."""
        edges = (dict(effect.params).get("edges", "transparent") for effect in layer.effects)
        if layer.slices is not None or any(each != "transparent" for each in edges):
            return None
        return let_through(layer, working)

    def _painted(self, layer: ResolvedLayer, working: Affine) -> tuple[float, float, float, float]:
        return layer.content.painted_box(self._texts, working.a / self.unit)

    def _area(
        self, layer: ResolvedLayer, working: Affine, back: Affine | Projective, region: Region
    ) -> Region:
        """What of the sheet is needed: all of it where that is not much, so that it can be kept
        while the layer turns; else what is seen."""
        painted = self._painted(layer, working)
        kinds = [STEPS[e.kind] for e in layer.effects]
        whole = outset(working.box(painted), 1)
        reach = 0.0
        if layer.effects:
            work = self.work(layer, working, whole)
            for effect, kind in zip(layer.effects, kinds, strict=True):
                reach += reach_of(effect, kind, work)
        if layer.slices is not None:
            reach += slice_reach(layer.slices, working.a, layer.content.box(self._texts), painted)
        filled = any(kind.fills for kind in kinds)
        through = self._through(layer, working)
        if through is not None and not filled:
            whole = meet(whole, through)
        frame_px = max(1, (region[2] - region[0]) * (region[3] - region[1]))
        if reach < 1e5 and not filled:
            whole = in_blocks(grown(whole, reach))
            if (whole[2] - whole[0]) * (whole[3] - whole[1]) <= _WHOLE_FRAMES * frame_px:
                return whole
        if isinstance(back, Affine) or back.in_front(region):
            xs, ys = zip(*back.corners(region), strict=True)
            if max(map(abs, (*xs, *ys))) < 1e5:
                return outset((min(xs), min(ys), max(xs), max(ys)), 3)
        return grown(outset(working.box(painted), 2), min(reach, 2000))

    def _input_area(
        self, layer: ResolvedLayer, working: Affine, area: Region, reach: float, index: int
    ) -> Region:
        """What the effect of that index is given for an area. Where all of it counts, that is what
        the content paints, grown by what the effects before it add."""
        if reach != EVERYWHERE and reach < _FAR:
            return grown(area, reach)
        work = self.work(layer, working, area)
        before = (reach_of(e, STEPS[e.kind], work) for e in layer.effects[:index])
        spread = min(_FAR, sum(each for each in before if each != EVERYWHERE))
        painted = outset(working.box(self._painted(layer, working)), 4)
        whole = join(grown(painted, spread) if spread else painted, area)
        # Whatever is enlarged far beyond the frame counts only so far.
        limit = grown(area, 2 * max(area[2] - area[0], area[3] - area[1]))
        return meet(whole, limit)
