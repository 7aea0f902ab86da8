"""Frames composed, with the unchanging lower part of the stack kept."""

from __future__ import annotations

import hashlib
import math
from dataclasses import replace

import cv2
import numpy as np

from ..effects import EFFECTS, EVERYWHERE, cut, laid_in
from ..effects.base import Region, region_of
from ..geometry.affine import Affine
from ..pixels import blend as blends
from ..pixels.cache import SizedCache
from ..pixels.canvas import Canvas
from ..pixels.raster import Raster, empty
from .draw import ContentPainter
from .library import MediaLibrary
from .masking import mask_coverage
from .resolved import BackdropContent, ResolvedFrame, ResolvedLayer, TreatmentContent
from .sheets import LayerPictures

# How far a treatment sees beyond the frame: its edge pixels go on that far.
MAX_BEYOND = 512


def output_size(width: int, height: int, scale: float) -> tuple[int, int]:
    """Pixels of a frame drawn at a scale; at least one by one."""
    return (max(1, round(width * scale)), max(1, round(height * scale)))


class Renderer:
    """Draws resolved frames. One renderer belongs to one thread at a time.

    What it keeps is bounded (``limit_bytes``). What was kept changes nothing in the
    result, and the same frame gives the same bytes whatever was drawn before.
    """

    def __init__(self, library: MediaLibrary, *, limit_bytes: int = 200 * 2**20) -> None:
        self.library = library
        self._kept = SizedCache(limit_bytes // 3)
        self._pictures = SizedCache(limit_bytes - limit_bytes // 3)
        self._last: list[bytes] = []

    def render(
        self, frame: ResolvedFrame, width: int, height: int, *, transparent: bool = False
    ) -> np.ndarray:
        """Pixels (height, width, 4), not to be written to.

        ``transparent`` leaves the scene's ground out.
        """
        ground = None if transparent else frame.ground
        chain = self._chain(frame, width, height, ground)
        floor = _floor(frame)
        start, pixels = self._longest_kept(chain, floor)
        if pixels is not None and start == len(frame.layers):
            self._last = chain
            return pixels
        if pixels is None:
            pixels = empty(width, height)
            if ground is not None:
                Canvas(pixels).clear(ground)
        else:
            pixels = pixels.copy()
        steady = self._steady(chain)
        composer = Composer(pixels, frame, self.library, self._pictures, floor)
        for index in range(start, len(frame.layers)):
            composer.add(frame.layers[index], index)
            if index + 1 == steady:
                copy = pixels if steady == len(frame.layers) else pixels.copy()
                self._kept.put(chain[steady], copy, copy.nbytes)
        self._last = chain
        return pixels

    def _chain(self, frame: ResolvedFrame, width: int, height: int, ground: object) -> list[bytes]:
        """One digest for each number of layers from below: [ground, ground + 1 layer, ...]."""
        digest = hashlib.blake2b(digest_size=12)
        facts = (width, height, frame.width, frame.height, ground, frame.fps)
        digest.update(repr(facts).encode())
        chain = [digest.digest()]
        for layer in frame.layers:
            digest.update(layer.signature)
            chain.append(digest.digest())
        return chain

    def _longest_kept(self, chain: list[bytes], floor: int | None) -> tuple[int, np.ndarray | None]:
        """The most layers that are there already; above the floor only all of them will do
        where some are composited by what lies below."""
        for index in range(len(chain) - 1, 0, -1):
            if floor is not None and floor < index < len(chain) - 1:
                continue
            pixels = self._kept.get(chain[index])
            if pixels is not None:
                return index, pixels
        return 0, None

    def _steady(self, chain: list[bytes]) -> int:
        """How many of the lower layers are as they were in the frame drawn before."""
        count = 0
        for old, new in zip(self._last, chain, strict=False):
            if old != new:
                break
            count += 1
        return max(0, count - 1)


def _floor(frame: ResolvedFrame) -> int | None:
    """How many backdrops lie at the bottom, where a layer counts on the layers above them;
    None where no layer does."""
    if all(layer.composite == "over" for layer in frame.layers):
        return None
    count = 0
    for layer in frame.layers:
        if not isinstance(layer.content, BackdropContent) or layer.composite != "over":
            break
        count += 1
    return count


class Composer:
    """Lays layers onto a picture, from below up."""

    def __init__(
        self,
        pixels: np.ndarray,
        frame: ResolvedFrame,
        library: MediaLibrary,
        cache: SizedCache,
        floor: int | None = None,
    ) -> None:
        height, width = pixels.shape[:2]
        self._pixels, self._library = pixels, library
        self._view = Affine.scaling(width / frame.width, height / frame.height)
        self._region: Region = (0, 0, width, height)
        self._frame = frame
        self.pictures = LayerPictures(
            library, cache, self._view, self._region, (frame.width, frame.height), frame.fps
        )
        self._painter = ContentPainter(pixels, library, self._view.mean_scale)
        self._floor, self._below = floor, None if floor is None else pixels.copy()
        # How much of each pixel the layers above the floor cover.
        self._covered = None if floor is None else np.zeros((height, width), np.uint8)

    def add(self, layer: ResolvedLayer, index: int) -> None:
        """Lays the layer of that index in the frame on top of what is there."""
        if isinstance(layer.content, TreatmentContent):
            self._treat(layer)
        elif self._covered is None or index < (self._floor or 0):
            direct = layer.blend == "normal" or self._painter.blends(layer.content)
            if layer.is_plain and direct:
                matrix = self._view @ layer.matrix
                self._painter.draw(layer.content, matrix, layer.opacity, layer.blend)
            else:
                self._lay(self.pictures.picture(layer), layer)
            if self._floor is not None and index + 1 == self._floor:
                self._below = self._pixels.copy()
        else:
            self._counted(layer)

    def _lay(self, raster: Raster, layer: ResolvedLayer) -> None:
        raster = cut(raster, self._region)
        if raster.pixels.size == 0:
            return
        part = self._part(region_of(raster))
        blends.blend(part, raster.pixels, layer.blend, layer.opacity)

    def _part(self, region: Region) -> np.ndarray:
        """A view of the picture: what is drawn into it is drawn into the picture."""
        return self._pixels[region[1] : region[3], region[0] : region[2]]

    def _counted(self, layer: ResolvedLayer) -> None:
        """A layer above the floor where coverage is kept: over, atop or cut out."""
        assert self._covered is not None and self._below is not None
        raster = cut(self.pictures.picture(layer), self._region)
        if raster.pixels.size == 0:
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

    def _treat(self, layer: ResolvedLayer) -> None:
        """What lies below through the layer's effects, put back within its masks."""
        if not layer.effects:
            return
        working = self._view @ layer.matrix
        width, height = self._region[2], self._region[3]
        work = self.pictures.work(layer, working, self._region)
        kinds = [EFFECTS.members[e.kind] for e in layer.effects]
        reach = 0.0
        for effect, kind in zip(layer.effects, kinds, strict=True):
            reach += kind.reach(dict(effect.params), work)
        beyond = 0 if reach == EVERYWHERE else min(MAX_BEYOND, math.ceil(reach))
        pixels = self._pixels
        if beyond:
            pixels = cv2.copyMakeBorder(
                pixels, beyond, beyond, beyond, beyond, cv2.BORDER_REPLICATE
            )
        raster = Raster(pixels, -beyond, -beyond)
        area = (-beyond, -beyond, width + beyond, height + beyond)
        for effect, kind in zip(layer.effects, kinds, strict=True):
            # The picture so far is not an effect's to change; what the first one made is.
            mine = replace(work.needing(area), owned=raster.pixels is not self._pixels)
            raster = self.pictures.apply(raster, effect, kind, mine, layer)
        there = region_of(raster) == self._region
        result = raster.pixels if there else laid_in(raster, self._region)
        if result is self._pixels:
            return
        whole = not layer.masks and not layer.mattes and layer.opacity >= 1
        if whole and layer.blend == "normal":
            self._pixels[:] = result
            return
        coverage = np.full((height, width), round(255 * layer.opacity), np.uint8)
        if layer.masks:
            coverage = mask_coverage(layer, working, self._region)
            if layer.opacity < 1:
                coverage = np.rint(coverage * layer.opacity).astype(np.uint8)
        for matte in layer.mattes:
            through = self.pictures.through(
                Raster(np.full((height, width, 4), 255, np.uint8), 0, 0), matte
            )
            coverage = np.rint(coverage * (through.pixels[:, :, 3] / 255.0)).astype(np.uint8)
        if layer.blend != "normal":
            blends.scale_by(result, coverage)
            blends.blend(self._pixels, result, layer.blend)
        else:
            blends.blend_towards(self._pixels, result, np.ascontiguousarray(coverage))
