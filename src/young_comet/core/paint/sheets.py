"""One layer's picture with its looks: content, slices, masks, effects, place.

A *sheet* is the layer upright, in working pixels: axes along its own, so that effects need not
know how it is turned. Where its place neither turns nor skews it, working pixels are the
frame's; otherwise the finished sheet is warped into the frame.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ..effects import EffectKind, Work, cut, grown, laid_in
from ..effects.base import Region, join, region_of, size_of
from ..frame.contents import Content
from ..frame.resolved import ResolvedEffect, ResolvedLayer, ResolvedMatte
from ..geometry.affine import Affine
from ..geometry.outline import Outline
from ..pixels import coverage as covers
from ..pixels.blend import fade, luminance, scaled
from ..pixels.cache import SizedCache
from ..pixels.coverage import let_through
from ..pixels.ink import Ink, ink_of
from ..pixels.raster import Raster, empty
from ..pixels.resample import MipPyramid
from ..pixels.whole import alpha_of, times_cover
from ..plan.sheets import PicturePlan, SheetPlanner
from ..transitions import STEPS
from ..typography.style import plainly
from .draw import ContentPainter
from .masking import mask_coverage
from .placing import in_perspective, warped
from .shutter import in_motion
from .slicing import CutOut, Opened, sliced
from .studio import Studio

# A sheet that states share is so many times as large as the largest of theirs at most.
_MOST_SHARED = 6


class EffectFailed(Exception):
    """An effect that could not be drawn, and why."""

    def __init__(self, effect: ResolvedEffect, label: str, cause: Exception) -> None:
        super().__init__(f"{label}: {cause}")
        self.effect, self.label, self.cause = effect, label, cause


def without_effect(layer: ResolvedLayer, effect: ResolvedEffect) -> ResolvedLayer:
    """The layer without one of its effects."""
    return replace(layer, effects=tuple(each for each in layer.effects if each is not effect))


class LayerPictures:
    """Pictures of layers over a region of the output. ``view`` maps scene pixels to output
    pixels, ``frame`` is the scene's size."""

    def __init__(
        self,
        studio: Studio,
        cache: SizedCache,
        view: Affine,
        region: Region,
        frame: tuple[int, int],
        fps: float = 25.0,
    ) -> None:
        self.studio, self.library, self._cache = studio, studio.library, cache
        self.view, self.region, self.frame, self.fps = view, region, frame, fps
        self.plan = SheetPlanner(studio.library, view, region, frame, fps)
        self.unit = self.plan.unit
        self._key = repr((view, region, frame)).encode()
        # The pieces that are being smeared.
        self.open_pieces: Opened | None = None
        # Whether what is drawn is one of many states that are mixed.
        self.passing = False

    def picture(self, layer: ResolvedLayer) -> Raster:
        """The layer as it is seen, but for its opacity and how it is composited."""
        if not layer.mattes:
            return self.unmatted(layer)
        key = ("matted", self._key, layer.signature)
        found = self._cache.get(key)
        if found is None:
            found = self.unmatted(layer)
            faults = self.library.faults.count
            for matte in layer.mattes:
                found = self.through(found, matte)
            self._keep_whole(key, found, faults)
        return found

    def _keep_whole(self, key: object, raster: Raster, faults: int) -> None:
        """Keeps a picture, unless something of it is missing: that is told at every frame.
        ``faults`` is how many there were before it was drawn."""
        if self.library.faults.count == faults:
            self._cache.put(key, raster, raster.nbytes + 500)

    def unmatted(self, layer: ResolvedLayer) -> Raster:
        """The layer's picture before its mattes."""
        key = (self._key, layer.picture_signature)
        found = self._cache.get(key)
        if found is None:
            self.library.count_picture()
            faults = self.library.faults.count
            self.passing = bool(layer.shutter)
            found = in_motion(self, layer) if layer.shutter else self.still(layer, self.region)
            self.passing = False
            self._keep_whole(key, found, faults)
        return found

    def faded(self, layer: ResolvedLayer) -> Raster:
        """The picture with the layer's opacity."""
        raster = self.picture(layer)
        if layer.opacity >= 1:
            return raster
        pixels = raster.pixels.copy()
        fade(pixels, layer.opacity)
        return Raster(pixels, raster.left, raster.top)

    def matte_cover(self, matte: ResolvedMatte, region: Region) -> np.ndarray:
        """How much of each pixel of a region a matte lets through, (h, w) uint8, with those that
        are joined to it."""
        cover = self._cover_of(matte, region)
        for more in matte.joined:
            cover = covers.joined(cover, self._cover_of(more, region), more.mode)
        return cover

    def _cover_of(self, matte: ResolvedMatte, region: Region) -> np.ndarray:
        other = cut(self.picture(matte.layer), region)
        opacity = matte.layer.opacity
        values = None
        ink = ink_of(other)
        if ink is not None and matte.by == "alpha":
            opacity *= ink.colour[3]
            values = ink.alpha
        elif matte.by == "luminance":
            values = luminance(other.pixels)
        shape = (region[3] - region[1], region[2] - region[0])
        corner = (other.left - region[0], other.top - region[1])
        values = other.pixels if values is None else values
        return let_through(values, opacity, matte.inverted, shape, corner)

    def through(self, raster: Raster, matte: ResolvedMatte) -> Raster:
        """A raster through another layer's alpha or luminance."""
        return _within(raster, self.matte_cover(matte, region_of(raster)))

    # One moment

    def still(self, layer: ResolvedLayer, region: Region) -> Raster:
        """A layer as it is at one moment, within a region."""
        plan = self.plan.still(layer, region)
        if plan.how == "drawn":
            return self._drawn(layer, plan.working, plan.area)
        if plan.how == "upright":
            return cut(self._sheet(layer, plan.working, region), region)
        return self._laid(layer, plan, region)

    def placed(
        self, layer: ResolvedLayer, scale: float, region: Region, area: Region | None = None
    ) -> Raster:
        """A sheet of a scale, warped to where the layer is; made over an area if one is given."""
        plan = self.plan.placed(layer, scale, region)
        return self._laid(layer, plan if area is None else replace(plan, area=area), region)

    def shared_area(
        self, states: Sequence[ResolvedLayer], scale: float, region: Region
    ) -> Region | None:
        """Over which area a sheet of a scale is made once for all states; None where that would be
        more work than once for each."""
        areas = [self.plan.placed(state, scale, region).area for state in states]
        areas = [area for area in areas if area[2] > area[0] and area[3] > area[1]]
        if len(areas) < 2:
            return None
        whole = areas[0]
        for area in areas[1:]:
            whole = join(whole, area)
        sizes = [size_of(area) for area in areas]
        least = min(sum(sizes), _MOST_SHARED * max(sizes))
        return whole if size_of(whole) < least else None

    def sheet_scale(self, layer: ResolvedLayer) -> float:
        """Working pixels to one of the layer, of its sheet."""
        return self.plan.scale(layer)

    def _laid(self, layer: ResolvedLayer, plan: PicturePlan, region: Region) -> Raster:
        if plan.back is None:
            return Raster(empty(0, 0), region[0], region[1])
        sheet = self._sheet(layer, plan.working, plan.area)
        if isinstance(plan.back, Affine):
            there = self.view @ layer.matrix @ plan.working.inverse()
            return warped(sheet, there, region, self._mips(sheet))
        return in_perspective(sheet, plan.back.inverse(), region)

    def _mips(self, sheet: Raster) -> MipPyramid | None:
        """The halvings of a sheet that is kept, and those with a rim, kept beside it."""
        if sheet.is_empty:
            return None
        # The pyramid holds on to the pixels, so their address names them.
        key = ("mips", id(sheet.pixels))
        found = self._cache.get(key)
        if found is None or found[0] is not sheet.pixels:
            found = (sheet.pixels, MipPyramid(sheet.pixels))
            self._cache.put(key, found, sheet.pixels.nbytes * 7 // 3 + 500)
        return found[1]

    def _drawn(self, layer: ResolvedLayer, matrix: Affine, outer: Region) -> Raster:
        pixels = empty(max(0, outer[2] - outer[0]), max(0, outer[3] - outer[1]))
        if pixels.size:
            painter = ContentPainter(pixels, self.studio, self.unit, outer[0], outer[1])
            painter.quick = self.passing
            painter.draw(layer.content, matrix)
        return Raster(pixels, outer[0], outer[1])

    # The sheet

    def _sheet(self, layer: ResolvedLayer, working: Affine, area: Region) -> Raster:
        key = self.plan.name(layer, working, area, self.open_pieces)
        found = self._cache.get(key)
        if found is None:
            faults = self.library.faults.count
            found = self._worked(layer, working, area)
            self._keep_whole(key, found, faults)
        return found

    def _worked(self, layer: ResolvedLayer, working: Affine, area: Region) -> Raster:
        """The sheet through its effects; without one that fails, from the start."""
        try:
            return self._through_effects(layer, working, area)
        except EffectFailed as failed:
            self.library.faults.note(failed.label, failed.cause)
            if ("part", "light") in failed.effect.params:  # nothing but its light was asked for
                return Raster(empty(0, 0), area[0], area[1])
            return self._worked(without_effect(layer, failed.effect), working, area)

    def _through_effects(self, layer: ResolvedLayer, working: Affine, area: Region) -> Raster:
        plan = self.plan.sheet(layer, working, area)
        # What an effect is given is named by all that has made it.
        made = repr((working, plan.source, plan.room, self.unit, self.open_pieces)).encode()
        source = hashlib.blake2b(layer.content_signature + made, digest_size=16).digest()
        raster = self._before(layer, working, plan.source, plan.room, source)
        fresh = layer.slices is None
        for step in plan.steps:
            # Other layers show wherever this one is: what they have made has no name.
            source = b"" if step.effect.inputs else source
            work = self.work(layer, working, step.area)
            work = replace(work, fresh=fresh, owned=True, source=source)
            raster = self.apply(raster, step.effect, step.kind, work, layer)
            fresh = False
            if source:
                made = repr((step.effect, step.area, self.fps)).encode()
                source = hashlib.blake2b(source + made, digest_size=16).digest()
        return cut(raster, area)

    def _before(
        self, layer: ResolvedLayer, working: Affine, area: Region, room: float, name: bytes
    ) -> Raster:
        """The content within its masks, which the first effect is given and may write over. It is
        kept once it has been asked for again: an effect's parameters change, then."""
        spatial = bool(layer.effects) and STEPS[layer.effects[0].kind].spatial
        key = ("before", spatial, name)
        found = self._cache.get(key)
        if isinstance(found, Raster):
            return found.copy()
        faults = self.library.faults.count
        raster = self._content(layer, working, area, room)
        if spatial and not raster.is_empty:
            raster = in_one_colour(raster, layer.content)
        if layer.masks:
            raster = self._masked(raster, layer, working)
        for matte in layer.inner_mattes:
            raster = self._matted(raster, matte, layer, working)
        if layer.effects and self.library.faults.count == faults:
            again = found is not None
            kept = raster.copy() if again else True
            self._cache.put(key, kept, raster.nbytes + 200 if again else 200)
        return raster

    def apply(
        self, raster: Raster, effect: ResolvedEffect, kind: EffectKind, work: Work,
        layer: ResolvedLayer,
    ) -> Raster:  # fmt: skip
        """One effect on a raster; EffectFailed where it cannot be done."""
        if raster.is_empty and not kind.fills:
            return raster
        inputs = dict(effect.inputs)
        work = replace(
            work,
            time_s=effect.time_s,
            length_s=effect.length_s,
            picture=lambda name, region: self._input(inputs, name, layer, work, region),
        )
        params = dict(effect.params)
        for name in kind.inputs:  # the picture function is asked by the parameter's name
            params[name] = name if name in inputs else ""
        try:
            return cut(kind.draw(raster, params, work), work.area)
        except Exception as error:
            raise EffectFailed(effect, kind.label, error) from error

    def _input(
        self,
        inputs: dict[str, ResolvedLayer],
        name: str,
        layer: ResolvedLayer,
        work: Work,
        region: Region,
    ) -> np.ndarray | None:
        """Another layer as it lies over a layer, in the layer's working pixels."""
        other = inputs.get(name)
        if other is None or region[2] <= region[0] or region[3] <= region[1]:
            return None
        try:
            into = Affine(work.scale, 0, 0, work.scale, *work.origin) @ layer.matrix.inverse()
        except ValueError:
            return None
        pictures = LayerPictures(self.studio, self._cache, into, region, self.frame, self.fps)
        return laid_in(pictures.faded(replace(other, shutter=())), region)

    def work(self, layer: ResolvedLayer, working: Affine, area: Region) -> Work:
        """Where an effect of a layer works, and all that it may ask for."""
        return replace(
            self.plan.work(layer, working, area),
            table=self.library.table, text=self._word,
            keep=self._keep, keep_again=self._keep_again,
        )  # fmt: skip

    def _keep(self, key: tuple[Any, ...], make: Callable[[], np.ndarray]) -> np.ndarray:
        name = ("field", *key)
        found = self._cache.get(name)
        if found is None:
            found = make()
            self._cache.put(name, found, found.nbytes + 200)
        return found

    def _keep_again(self, key: tuple[Any, ...], make: Callable[[], np.ndarray]) -> np.ndarray:
        name = ("field", *key)
        found = self._cache.get(name)
        if isinstance(found, np.ndarray):
            return found
        made = make()
        again = found is not None
        self._cache.put(name, made if again else True, made.nbytes + 200 if again else 200)
        return made

    def _word(self, text: str, font: str, weight: float, size: float) -> Outline:
        return self.library.text(text, plainly(font, weight, size)).outline

    def _content(
        self, layer: ResolvedLayer, working: Affine, area: Region, room: float = 0.0
    ) -> Raster:
        """The layer's content, cut, with some pixels of room about it."""
        if layer.content.through:
            return Raster(empty(0, 0), area[0], area[1])
        source = self.plan.content_area(layer, working, area, room)
        if self.open_pieces is not None:  # they come from as far as they do at any moment
            wide = grown(area, math.hypot(*self.open_pieces.along) * working.a)
            for slices in self.open_pieces[:2]:
                moment = replace(layer, slices=slices)
                source = join(source, self.plan.content_area(moment, working, wide, room))
        raster = self._painted(layer, working, source)
        if layer.slices is None:
            return raster
        box = layer.content.box(self.library)
        whole = replace(layer, slices=None).content_signature
        name = (whole, working, source, box, layer.slices.cut, self.unit)
        knife = _Knife(self, self._cache, name)
        return sliced(raster, layer.slices, box, self.open_pieces, working, area, knife)

    def _painted(self, layer: ResolvedLayer, working: Affine, region: Region) -> Raster:
        content = layer.content
        if content.is_clear:
            return Raster(empty(0, 0), region[0], region[1])
        pixels = empty(region[2] - region[0], region[3] - region[1])
        if pixels.size:
            # Strokes of a fixed width are as wide as the scene has them once it is warped.
            painter = ContentPainter(pixels, self.studio, self.unit, region[0], region[1])
            painter.draw(layer.content, working)
        return Raster(pixels, region[0], region[1])

    # Masks

    def _masked(self, raster: Raster, layer: ResolvedLayer, working: Affine) -> Raster:
        if raster.is_empty:
            return raster
        return _within(raster, mask_coverage(layer, working, region_of(raster)))

    def _matted(
        self, raster: Raster, matte: ResolvedMatte, layer: ResolvedLayer, working: Affine
    ) -> Raster:
        """A raster of working pixels through a matte as it lies over the layer."""
        region = region_of(raster)
        if raster.is_empty:
            return raster
        back = self.plan.back(layer, working)
        if back is None:
            return Raster(empty(0, 0), region[0], region[1])
        if isinstance(back, Affine):
            view = back @ self.view
            there = LayerPictures(self.studio, self._cache, view, region, self.frame, self.fps)
            return _within(raster, there.matte_cover(matte, region))
        # In perspective what is seen of it is laid back onto the layer's plane.
        cover = self.matte_cover(matte, self.region)
        flat = np.repeat(cover[:, :, None], 4, axis=2)
        laid = in_perspective(Raster(flat, self.region[0], self.region[1]), back, region)
        return _within(raster, np.ascontiguousarray(laid_in(laid, region)[:, :, 3]))


class _Knife:
    """Keeps pieces that are cut out of a picture of a name, while its states are drawn."""

    def __init__(self, pictures: LayerPictures, cache: SizedCache, name: tuple[Any, ...]) -> None:
        self.passing, self._name, self._cache = pictures.passing, name, cache
        self._faults = pictures.library.faults

    def cut_out(self, key: tuple[Any, ...], make: Callable[[], CutOut]) -> CutOut:
        """The pieces of a key; kept once they have been asked for again, as those of a picture that
        grows are others in every state."""
        if not self.passing:
            return make()
        name = ("pieces", *self._name, *key)
        found = self._cache.get(name)
        if isinstance(found, tuple):
            return found
        faults = self._faults.count
        made = make()
        if self._faults.count == faults:
            # Turned ones are drawn from a copy with a rim.
            again = found is not None
            size = 2 * made[0].nbytes + 2000 if again else 300
            self._cache.put(name, made if again else True, size)
        return made


def in_one_colour(raster: Raster, content: Content) -> Raster:
    """A content's raster as one colour and an alpha, if that is all it is."""
    colour = content.one_colour
    if colour is None:
        return raster
    alpha = alpha_of(raster.pixels)
    return Raster(Ink(alpha, (*colour[:3], 1.0)), raster.left, raster.top)


def _within(raster: Raster, coverage: np.ndarray) -> Raster:
    """A raster scaled by a coverage (h, w)."""
    ink = ink_of(raster)
    if ink is not None:
        alpha = times_cover(ink.alpha, coverage)
        return Raster(Ink(alpha, ink.colour), raster.left, raster.top)
    return Raster(scaled(raster.pixels, coverage), raster.left, raster.top)
