"""One layer drawn onto a canvas."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..geometry.affine import Affine, Box
from ..geometry.outline import Outline, skia_matrix
from ..pixels.canvas import Canvas
from ..pixels.resample import MipPyramid
from .forms import form_box, form_outline, paint_in_box
from .library import MediaLibrary
from .resolved import (
    BackdropContent,
    ClipContent,
    PictureContent,
    ResolvedLayer,
    ShapeContent,
    Surface,
    TextContent,
)


class LayerPainter:
    """Draws resolved layers into a picture; ``view`` maps scene pixels to its pixels."""

    def __init__(self, pixels: np.ndarray, view: Affine, library: MediaLibrary) -> None:
        self._canvas = Canvas(pixels)
        self._size = (int(pixels.shape[1]), int(pixels.shape[0]))
        self._view = view
        self._library = library

    def draw(self, layer: ResolvedLayer) -> None:
        content = layer.content
        matrix = self._view @ layer.matrix
        if isinstance(content, BackdropContent):
            self._backdrop(layer, content, matrix)
        elif isinstance(content, PictureContent):
            natural = content.width / content.natural[0]
            mips = self._library.picture(content, matrix.max_scale * natural)
            self._picture(layer, mips, (content.width, content.height), matrix)
        elif isinstance(content, ClipContent):
            mips = self._library.clip(content)
            self._picture(layer, mips, (content.width, content.height), matrix)
        elif isinstance(content, ShapeContent):
            outline = form_outline(content.form)
            box = form_box(content.form)
            self._surface(layer, content.surface, outline, outline, box, matrix)
        elif isinstance(content, TextContent):
            layout = self._library.text(content.text, content.style)
            edge = layout.merged_outline if content.surface.stroke else layout.outline
            self._surface(layer, content.surface, layout.outline, edge, layout.box, matrix)

    def _backdrop(self, layer: ResolvedLayer, content: BackdropContent, matrix: Affine) -> None:
        # The backdrop's own space has (0, 0) in the middle of the frame.
        half = (layer.matrix.e, layer.matrix.f)
        assert content.surface.fill is not None
        paint = paint_in_box(content.surface.fill, (-half[0], -half[1], half[0], half[1]))
        self._canvas.fill_all(paint, skia_matrix(matrix), layer.opacity)

    def _picture(
        self, layer: ResolvedLayer, mips: MipPyramid, size: tuple[float, float], matrix: Affine
    ) -> None:
        fit = Affine.shift(-size[0] / 2, -size[1] / 2) @ Affine.scaling(
            size[0] / mips.width, size[1] / mips.height
        )
        raster = mips.draw((matrix @ fit).as_tuple(), (0, 0, *self._size))
        if raster is not None:
            self._canvas.picture(raster.pixels, raster.left, raster.top, layer.opacity)

    def _surface(
        self,
        layer: ResolvedLayer,
        surface: Surface,
        area: Outline,
        edge: Outline,
        box: Box,
        matrix: Affine,
    ) -> None:
        both = surface.fill is not None and surface.stroke is not None and layer.opacity < 1
        opacity = 1.0 if both else layer.opacity
        if both:
            self._canvas.begin_layer(self._reach(area, surface, matrix), layer.opacity)
        if surface.fill is not None:
            paint = paint_in_box(surface.fill, box)
            self._canvas.fill(area.skia_path, paint, skia_matrix(matrix), opacity)
        if surface.stroke is not None:
            self._stroke(layer, surface, edge, matrix, opacity)
        if both:
            self._canvas.end_layer()

    def _stroke(
        self, layer: ResolvedLayer, surface: Surface, edge: Outline, matrix: Affine, opacity: float
    ) -> None:
        assert surface.stroke is not None
        if surface.drawn != (0.0, 1.0, 0.0):
            edge = edge.drawn(*surface.drawn)
        if edge.is_empty:
            return
        if surface.fixed_width:  # stroked in the scene's space: the layer's scale is no matter
            edge, matrix = edge.mapped(layer.matrix), self._view
        colour = surface.stroke_colour
        self._canvas.stroke(edge.skia_path, surface.stroke, colour, skia_matrix(matrix), opacity)

    def _reach(self, area: Outline, surface: Surface, matrix: Affine) -> Box:
        """Output pixels that fill and stroke together can touch (miter limit 4)."""
        assert surface.stroke is not None
        left, top, right, bottom = matrix.box(area.bounds)
        scale = self._view.max_scale if surface.fixed_width else matrix.max_scale
        grow = surface.stroke.width * scale * 2 + 2
        return (left - grow, top - grow, right + grow, bottom + grow)


def only(layer: ResolvedLayer) -> ResolvedLayer:
    """The layer fully opaque, for tests of what it covers."""
    return replace(layer, opacity=1.0)
