"""Layers laid onto a picture: how each is blended, what treatments do, scenes within scenes."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from time import perf_counter

import numpy as np

from ..effects import cut, laid_in
from ..effects.base import Region, meet, region_of
from ..frame.contents import Content
from ..frame.resolved import ResolvedFrame, ResolvedLayer, SceneContent
from ..geometry.affine import Affine, Box
from ..geometry.outline import from_svg_path, skia_matrix
from ..pixels import blend as blends
from ..pixels import coverage as covers
from ..pixels.cache import SizedCache
from ..pixels.canvas import Canvas
from ..pixels.colour import Rgba
from ..pixels.ink import ink_of
from ..pixels.raster import Raster, empty
from ..pixels.resample import MipPyramid
from ..pixels.whole import edges_continued
from ..plan.passes import How, Pass, StackPlanner, floor_of
from ..plan.regions import outset
from .draw import ContentPainter
from .kept import KeptStack
from .library import MediaLibrary
from .masking import mask_coverage
from .placeholder import draw_placeholder
from .sheets import EffectFailed, LayerPictures
from .studio import Studio


class FrameStudio:
    """Draws what lies within other things, with one library; see ``Studio``."""

    def __init__(self, library: MediaLibrary) -> None:
        self.library = library

    def frame(self, frame: ResolvedFrame, view: Affine, region: Region) -> Raster:
        """A frame as a view shows it, as far as it lies within a region of pixels."""
        box = (0.0, 0.0, float(frame.width), float(frame.height))
        edges = view.box(box)
        whole = _on_pixels(view, edges)
        area = meet(outset(edges, 0) if not whole else _rounded(edges), region)
        width, height = area[2] - area[0], area[3] - area[1]
        if width <= 0 or height <= 0:
            return Raster(empty(0, 0), region[0], region[1])
        moved = Affine.shift(-area[0], -area[1]) @ view
        stack = self.library.stack_of((moved.as_tuple(), width, height))
        pixels = draw_stack(
            frame, frame.ground, moved, (width, height), self, self.library.nested, stack
        )
        if not whole:
            pixels = pixels.copy()
            outline = from_svg_path(f"M0 0H{frame.width}V{frame.height}H0Z")
            part = (0, 0, width, height)
            blends.scale_by(pixels, covers.covered(outline.skia_path, skia_matrix(moved), part))
        return Raster(pixels, area[0], area[1])

    def scene(self, content: SceneContent) -> MipPyramid:
        """The picture of a placed scene, kept by its signature."""
        key = ("scene", content.signature)
        mips = self.library.frames.get(key)
        if mips is None:
            width, height = round(content.width), round(content.height)
            faults = self.library.faults.count
            whole = self.frame(content.frame, Affine(), (0, 0, width, height))
            mips = MipPyramid(laid_in(whole, (0, 0, width, height)))
            if self.library.faults.count == faults:  # else it is told again whenever it is shown
                self.library.frames.put(key, mips, mips.nbytes)
        return mips

    def content(self, content: Content, there: Affine, region: Region) -> np.ndarray:
        """A content where a map has it, alone, on a region (h, w, 4)."""
        pixels = empty(region[2] - region[0], region[3] - region[1])
        painter = ContentPainter(pixels, self, there.mean_scale, region[0], region[1])
        painter.draw(content, there)
        return pixels

    def layer(
        self, layer: ResolvedLayer, frame: tuple[int, int], view: Affine, region: Region
    ) -> np.ndarray:
        """A layer with its looks, alone, on a region (h, w, 4)."""
        pictures = LayerPictures(self, SizedCache(1), view, region, frame)
        return laid_in(pictures.faded(layer), region)


def draw_stack(
    frame: ResolvedFrame,
    ground: Rgba | None,
    view: Affine,
    size: tuple[int, int],
    studio: Studio,
    cache: SizedCache,
    stack: KeptStack,
    spent: dict[str, float] | None = None,
) -> np.ndarray:
    """Pixels (height, width, 4) of a frame under ``view``, not to be written to; what of the
    stack was kept is used again. What each layer takes, s, is added to ``spent``."""
    chain = stack.chain(frame, (size, view.as_tuple(), ground))
    floor = floor_of(frame)
    start, pixels = stack.longest(chain, floor)
    steady = stack.steady(chain)
    if pixels is not None and start == len(frame.layers):
        return pixels
    if pixels is None:
        pixels = empty(*size)
        if ground is not None:
            Canvas(pixels).clear(ground)
    else:
        pixels = pixels.copy()
    composer = Composer(pixels, frame, studio, cache, view)
    told = studio.library.faults
    faults = told.count
    for index in range(start, len(frame.layers)):
        began = perf_counter()
        composer.add(frame.layers[index], index)
        if spent is not None:
            id = frame.layers[index].id
            spent[id] = spent.get(id, 0.0) + perf_counter() - began
        # What is missing is told at every frame, so a stack with gaps is not kept.
        if index + 1 == steady and told.count == faults:
            stack.keep(chain[steady], pixels if steady == len(frame.layers) else pixels.copy())
    return pixels


def _on_pixels(view: Affine, edges: tuple[float, float, float, float]) -> bool:
    """Whether the frame's edges lie on whole pixels."""
    upright = abs(view.b) < 1e-9 and abs(view.c) < 1e-9
    return upright and all(abs(edge - round(edge)) < 1e-6 for edge in edges)


def _rounded(edges: tuple[float, float, float, float]) -> Region:
    return (round(edges[0]), round(edges[1]), round(edges[2]), round(edges[3]))


class Composer:
    """Lays layers onto a picture, from below up. ``view`` maps the frame's pixels to the
    picture's."""

    def __init__(
        self,
        pixels: np.ndarray,
        frame: ResolvedFrame,
        studio: Studio,
        cache: SizedCache,
        view: Affine,
    ) -> None:
        height, width = pixels.shape[:2]
        self._pixels, self._library = pixels, studio.library
        self._view = view
        self._region: Region = (0, 0, width, height)
        self._frame = frame
        self.pictures = LayerPictures(
            studio, cache, self._view, self._region, (frame.width, frame.height), frame.fps
        )
        self._painter = ContentPainter(pixels, studio, self._view.mean_scale)
        self._planner = StackPlanner(frame, view, (width, height), self._library)
        floor = self._planner.floor
        self._below = None if floor is None else pixels.copy()
        # How much of each pixel the layers above the floor cover.
        self._covered = None if floor is None else np.zeros((height, width), np.uint8)

    def add(self, layer: ResolvedLayer, index: int) -> None:
        """Lays the layer of that index in the frame on top of what is there. One that cannot be
        drawn leaves a mark in its place; the others go on."""
        with self._library.faults.within(layer.id):
            try:
                for each in self._planner.passes(layer, index):
                    _DONE[each.how](self, each)
                if index + 1 == self._planner.floor:
                    self._below = self._pixels.copy()
            except Exception as error:  # noqa: BLE001
                self._library.faults.note("", error)
                self._mark(layer)

    def _mark(self, layer: ResolvedLayer) -> None:
        """A crossed box where a layer should be, or in the middle of the frame."""
        with suppress(Exception):
            box, matrix = self._box_of(layer)
            draw_placeholder(
                self._painter.canvas, self._library, box, self._view @ matrix, "Cannot be drawn",
                self._view.mean_scale,
            )  # fmt: skip

    def _box_of(self, layer: ResolvedLayer) -> tuple[Box, Affine]:
        whole = (0.0, 0.0, float(self._frame.width), float(self._frame.height))
        with suppress(Exception):
            box = layer.content.box(self._library)
            left, top, right, bottom = layer.matrix.box(box)
            if left < whole[2] and top < whole[3] and right > 0 and bottom > 0:
                return box, layer.matrix
        w, h = whole[2] / 4, whole[3] / 4
        return (-w / 2, -h / 2, w / 2, h / 2), Affine.shift(whole[2] / 2, whole[3] / 2)

    def _draw(self, each: Pass) -> None:
        layer = each.layer
        matrix = self._view @ layer.matrix
        self._painter.draw(layer.content, matrix, layer.opacity, layer.blend)

    def _lay_picture(self, each: Pass) -> None:
        self._lay(self.pictures.picture(each.layer), each.layer)

    def _lay_faintly(self, each: Pass) -> None:
        raster = cut(self.pictures.picture(each.layer), self._region)
        if not raster.is_empty:
            blends.lay_faintly(
                self._part(region_of(raster)), raster.pixels, each.layer.opacity,
                (raster.left, raster.top), each.index,
            )  # fmt: skip

    def _lay_through(self, each: Pass) -> None:
        layer = each.layer
        raster = cut(self.pictures.unmatted(layer), self._region)
        if raster.is_empty or layer.opacity <= 0:
            return
        for matte in layer.mattes[:-1]:
            raster = self.pictures.through(raster, matte)
        region = region_of(raster)
        cover = self.pictures.matte_cover(layer.mattes[-1], region)
        ink = ink_of(raster)
        if ink is not None:
            blends.lay_ink(self._part(region), ink.alpha, ink.colour, layer.opacity, cover)
        else:
            blends.lay_through(self._part(region), raster.pixels, cover, layer.opacity)

    def _lay(self, raster: Raster, layer: ResolvedLayer) -> None:
        raster = cut(raster, self._region)
        if raster.is_empty:
            return
        part = self._part(region_of(raster))
        ink = ink_of(raster)
        if ink is not None and layer.blend == "normal":
            blends.lay_ink(part, ink.alpha, ink.colour, layer.opacity)
        else:
            blends.blend(part, raster.pixels, layer.blend, layer.opacity)

    def _part(self, region: Region) -> np.ndarray:
        """A view of the picture: what is drawn into it is drawn into the picture."""
        return self._pixels[region[1] : region[3], region[0] : region[2]]

    def _counted(self, each: Pass) -> None:
        """A layer above the floor where coverage is kept: over, atop or cut out."""
        layer = each.layer
        assert self._covered is not None and self._below is not None
        raster = cut(self.pictures.picture(layer), self._region)
        if raster.is_empty:
            return
        left, top, right, bottom = region_of(raster)
        rows, columns = slice(top, bottom), slice(left, right)
        covered = np.ascontiguousarray(self._covered[rows, columns])
        if layer.composite == "knock-out":
            alpha = np.ascontiguousarray(raster.pixels[:, :, 3])
            alpha = np.rint(alpha * layer.opacity).astype(np.uint8)
            part = np.ascontiguousarray(self._pixels[rows, columns])
            blends.blend_towards(part, np.ascontiguousarray(self._below[rows, columns]), alpha)
            self._pixels[rows, columns] = part
            blends.uncover(covered, raster.pixels, layer.opacity)
            self._covered[rows, columns] = covered
            return
        if layer.composite == "atop" and layer.blend == "normal":
            part = np.ascontiguousarray(self._pixels[rows, columns])
            below = np.ascontiguousarray(self._below[rows, columns])
            blends.atop(part, raster.pixels, covered, below, layer.opacity)
            self._pixels[rows, columns] = part
            return
        if layer.composite == "atop":
            pixels = raster.pixels.copy()
            blends.scale_by(pixels, covered)
            raster = Raster(pixels, raster.left, raster.top)
        else:
            blends.cover(covered, raster.pixels, layer.opacity)
            self._covered[rows, columns] = covered
        self._lay(raster, layer)

    def _treat(self, each: Pass) -> None:
        """What lies below through the layer's effects, put back within its masks. An effect that
        fails is left out."""
        layer, treatment = each.layer, each.treatment
        assert treatment is not None
        working = self._view @ layer.matrix
        width, height = self._region[2], self._region[3]
        beyond, whole = treatment.beyond, treatment.whole
        work = self.pictures.work(layer, working, self._region)
        pixels = self._pixels
        if beyond:
            pixels = edges_continued(pixels, beyond)
        raster = Raster(pixels, -beyond, -beyond)
        for step in treatment.steps:
            # What is still to be made gives pixels of its own.
            own = raster.source is not None or raster.pixels is not self._pixels
            mine = replace(work.needing(step.area), owned=whole or own)
            try:
                raster = self.pictures.apply(raster, step.effect, step.kind, mine, layer)
            except EffectFailed as failed:
                self._library.faults.note(failed.label, failed.cause)
        there = region_of(raster) == self._region
        result = raster.pixels if there else laid_in(raster, self._region)
        if result is self._pixels:
            return
        if whole:
            self._pixels[:] = result
            return
        coverage = np.full((height, width), round(255 * layer.opacity), np.uint8)
        if layer.masks:
            coverage = mask_coverage(layer, working, self._region)
            if layer.opacity < 1:
                coverage = np.rint(coverage * layer.opacity).astype(np.uint8)
        for matte in layer.mattes:
            cover = self.pictures.matte_cover(matte, self._region)
            coverage = np.rint(coverage * (cover / 255.0)).astype(np.uint8)
        if layer.blend != "normal":
            blends.scale_by(result, coverage)
            blends.blend(self._pixels, result, layer.blend)
        else:
            blends.blend_towards(self._pixels, result, np.ascontiguousarray(coverage))


_DONE: dict[How, Callable[[Composer, Pass], None]] = {
    How.DRAW: Composer._draw,
    How.LAY: Composer._lay_picture,
    How.FAINT: Composer._lay_faintly,
    How.THROUGH: Composer._lay_through,
    How.COUNT: Composer._counted,
    How.TREAT: Composer._treat,
}
