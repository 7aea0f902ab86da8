"""Fills that are pictures: files, frames of footage, or other layers, laid into outlines."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import cv2
import numpy as np

from ..effects import laid_in
from ..effects.base import Region
from ..geometry.affine import Affine, Box, Point
from ..pixels.cache import SizedCache
from ..pixels.raster import empty

if TYPE_CHECKING:
    from .library import MediaLibrary
    from .resolved import ClipContent, PictureContent, ResolvedLayer

_MAX_TILE = 4096


@dataclass(frozen=True)
class PictureFill:
    """A picture as a paint: a file's ``content``, or another ``layer`` whose picture lies in its
    own box. ``fit`` says how it meets the box that it fills: fill, fit, stretch, or tile, which
    repeats it at its own size. It is moved by ``place`` px, scaled by factors and turned about its
    middle. ``into`` maps the scene into the layer where it stays in the scene; None: it goes along
    with the layer."""

    content: PictureContent | ClipContent | None
    layer: ResolvedLayer | None = field(repr=False)
    layer_signature: bytes
    box: Box
    fit: str
    place: Point
    scale: Point
    turned_deg: float
    into: Affine | None
    frame: tuple[int, int]

    @property
    def tiled(self) -> bool:
        return self.fit == "tile"

    def matrix(self, filled: Box) -> Affine:
        """From the picture's own space to that of the layer whose box is filled."""
        left, top, right, bottom = self.box
        size = (max(1e-6, right - left), max(1e-6, bottom - top))
        goal = filled if self.into is None else (0.0, 0.0, *map(float, self.frame))
        ratios = ((goal[2] - goal[0]) / size[0], (goal[3] - goal[1]) / size[1])
        fx, fy = {
            "fill": (max(ratios),) * 2, "fit": (min(ratios),) * 2, "stretch": ratios,
            "tile": (1.0, 1.0),
        }[self.fit]  # fmt: skip
        middle = ((goal[0] + goal[2]) / 2, (goal[1] + goal[3]) / 2)
        if self.layer is not None and self.into is not None:
            # Another layer in the scene is where it is.
            fx = fy = 1.0
            middle = self.layer.matrix(((left + right) / 2, (top + bottom) / 2))
        own = (
            Affine.shift(middle[0] + self.place[0], middle[1] + self.place[1])
            @ Affine.rotation(self.turned_deg)
            @ Affine.scaling(fx * self.scale[0], fy * self.scale[1])
        )
        if self.layer is not None and self.into is not None:
            turned = self.layer.matrix
            own = own @ Affine(turned.a, turned.b, turned.c, turned.d)
        own = own @ Affine.shift(-(left + right) / 2, -(top + bottom) / 2)
        return own if self.into is None else self.into @ own


def filling(
    fill: PictureFill, library: MediaLibrary, matrix: Affine, filled: Box, region: Region
) -> np.ndarray:
    """The picture over a region of the output, (h, w, 4); ``matrix`` maps the layer's space to the
    output, ``filled`` is the box in it that is filled."""
    there = matrix @ fill.matrix(filled)
    width, height = region[2] - region[0], region[3] - region[1]
    if width <= 0 or height <= 0 or abs(there.determinant) < 1e-12:
        return empty(max(0, width), max(0, height))
    if fill.fit in ("fill", "stretch") and fill.into is None:
        # Its own soft edge lies outside the outline's.
        left, top, right, bottom = fill.box
        middle = ((left + right) / 2, (top + bottom) / 2)
        grow = 2.0 / max(1e-6, there.mean_scale)
        wider = Affine.scaling(
            1 + grow / max(1e-6, right - left), 1 + grow / max(1e-6, bottom - top)
        )
        there = there @ Affine.shift(*middle) @ wider @ Affine.shift(-middle[0], -middle[1])
    if fill.tiled:
        return _tiled(fill, library, there, region)
    return _drawn(fill, library, there, region)


def _drawn(fill: PictureFill, library: MediaLibrary, there: Affine, region: Region) -> np.ndarray:
    """The picture once, its own space mapped by ``there``."""
    pixels = empty(region[2] - region[0], region[3] - region[1])
    if fill.content is not None:
        from .draw import ContentPainter  # it draws with fills itself

        painter = ContentPainter(pixels, library, there.mean_scale, region[0], region[1])
        painter.draw(fill.content, there)
        return pixels
    if fill.layer is None:
        return pixels
    from .sheets import LayerPictures

    try:
        view = there @ fill.layer.matrix.inverse()
    except ValueError:
        return pixels
    pictures = LayerPictures(library, SizedCache(1), view, region, fill.frame)
    return laid_in(pictures.faded(fill.layer), region)


def _tiled(fill: PictureFill, library: MediaLibrary, there: Affine, region: Region) -> np.ndarray:
    """The picture again and again, one beside the other."""
    left, top, right, bottom = fill.box
    scale = there.max_scale
    width, height = (
        min(_MAX_TILE, max(1, math.ceil(side * scale))) for side in (right - left, bottom - top)
    )
    fit = Affine.scaling(width / max(1e-6, right - left), height / max(1e-6, bottom - top))
    tile = _drawn(fill, library, fit @ Affine.shift(-left, -top), (0, 0, width, height))
    back = fit @ Affine.shift(-left, -top) @ there.inverse() @ Affine.shift(region[0], region[1])
    # Centres of pixels lie half a pixel in.
    back = Affine.shift(-0.5, -0.5) @ back @ Affine.shift(0.5, 0.5)
    xs = np.arange(region[2] - region[0], dtype=np.float64)[None, :]
    ys = np.arange(region[3] - region[1], dtype=np.float64)[:, None]
    x = np.mod(back.a * xs + back.c * ys + back.e, width).astype(np.float32)
    y = np.mod(back.b * xs + back.d * ys + back.f, height).astype(np.float32)
    ringed = cv2.copyMakeBorder(tile, 0, 1, 0, 1, cv2.BORDER_WRAP)
    found: np.ndarray = cv2.remap(ringed, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return found
