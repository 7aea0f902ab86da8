"""What layers show, drawn onto a canvas."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from ...errors import NotFoundError
from ..effects.base import meet
from ..frame.contents import (
    BackdropContent,
    ClipContent,
    Content,
    DrawingContent,
    PictureContent,
    PlaceholderContent,
    ShapeContent,
    TextContent,
)
from ..frame.faults import reason
from ..frame.forms import form_box, form_outline
from ..frame.lettered import Painted, UnitPiece, backs, on_their_way, resting
from ..frame.resolved import SceneContent
from ..frame.surface import PictureFill, Surface, paint_in_box
from ..geometry.affine import Affine, Box
from ..geometry.outline import Outline, from_svg_path, skia_matrix
from ..geometry.projective import Projective
from ..pixels.blend import scaled
from ..pixels.canvas import Canvas, Paint
from ..pixels.colour import Rgba
from ..pixels.resample import MipPyramid
from ..plan.regions import outset
from ..typography.layout import TextLayout
from .filling import filling
from .placeholder import draw_placeholder
from .studio import Studio
from .unit_wipes import wipe_paint

_WHITE: Rgba = (1.0, 1.0, 1.0, 1.0)
_HERE = Affine()


def _before(there: Affine, matrix: Affine | Projective) -> Affine | Projective:
    """First ``matrix``, then ``there``."""
    if isinstance(matrix, Projective):
        return Projective.of(there) @ matrix
    return there @ matrix


def _near(matrix: Projective, box: Box) -> Affine:
    """The affine map that is as one in perspective about the middle of a box."""
    return matrix.near(((box[0] + box[2]) / 2, (box[1] + box[3]) / 2))


class ContentPainter:
    """Draws contents into a picture whose top left corner lies at (left, top).

    ``unit`` is the length of one scene pixel in the picture's, for strokes that keep their
    width whatever the layer's scale.
    """

    def __init__(
        self, pixels: np.ndarray, studio: Studio, unit: float, left: int = 0, top: int = 0
    ) -> None:
        self.canvas = Canvas(pixels)
        self._size = (int(pixels.shape[1]), int(pixels.shape[0]))
        self._corner = Affine.shift(-left, -top)
        self._studio, self._library, self._unit = studio, studio.library, unit
        self._mode = "normal"
        # Whether turned pictures are sampled as they are: one of many states that are mixed.
        self.quick = False

    def draw(
        self, content: Content, matrix: Affine, opacity: float = 1.0, mode: str = "normal"
    ) -> None:
        """Draws a content whose own space ``matrix`` maps to pixels (before the corner); only
        one that ``blends`` may have another mode."""
        self._mode = mode
        matrix = self._corner @ matrix
        depth = self.canvas.depth
        try:
            _DRAWN[type(content)](self, content, matrix, opacity)
        finally:  # what failed half-way leaves nothing open for what is drawn next
            self.canvas.close_to(depth)
            self.canvas.blur = 0.0

    def _backdrop(self, content: BackdropContent, matrix: Affine, opacity: float) -> None:
        fill = content.surface.fill
        assert fill is not None and not isinstance(fill, PictureFill)
        paint = paint_in_box(fill, content.box(self._library))
        self.canvas.fill_all(paint, skia_matrix(matrix), opacity, self._mode)

    def _still(self, content: PictureContent, matrix: Affine, opacity: float) -> None:
        scale = matrix.max_scale * content.width / content.natural[0]
        self._file(content, matrix, opacity, lambda: self._library.picture(content, scale))

    def _clip(self, content: ClipContent, matrix: Affine, opacity: float) -> None:
        self._file(content, matrix, opacity, lambda: self._library.clip(content))

    def _missing(self, content: PlaceholderContent, matrix: Affine, opacity: float) -> None:
        self._placeholder(content, matrix, content.label)
        self._library.faults.note("", content.why)

    def _shape(self, content: ShapeContent, matrix: Affine, opacity: float) -> None:
        outline, box = form_outline(content.form), form_box(content.form)
        self._surface(content.surface, outline, outline, box, matrix, opacity)

    def _drawing(self, content: DrawingContent, matrix: Affine, opacity: float) -> None:
        for part in content.parts:
            outline = from_svg_path(part.path)
            self._surface(
                part.surface, outline, outline, outline.bounds, matrix, opacity * part.opacity
            )

    def _file(
        self,
        content: PictureContent | ClipContent,
        matrix: Affine,
        opacity: float,
        read: Callable[[], MipPyramid],
    ) -> None:
        """A picture read from a file; one that cannot be read is told, and its place marked."""
        try:
            mips = read()
        except Exception as error:  # noqa: BLE001
            name = content.name or content.hash[:12]
            gone = isinstance(error, NotFoundError | FileNotFoundError)
            self._library.faults.note(name, "its file is missing" if gone else reason(error))
            self._placeholder(content, matrix, name)
            return
        self._picture(mips, (content.width, content.height), matrix, opacity)

    def _placeholder(self, content: Content, matrix: Affine, label: str) -> None:
        box = content.box(self._library)
        draw_placeholder(self.canvas, self._library, box, matrix, label, self._unit)

    def _text(self, content: TextContent, matrix: Affine, opacity: float) -> None:
        layout = content.layout(self._library)
        if why := self._library.fonts.failed.get(content.style.font):
            self._library.faults.note("typeface", why)
        if layout.absent:
            self._library.faults.note("typeface", f"it has no letters for {layout.absent[:20]}")
        if layout.overflows:
            self._library.faults.note("text", "its words do not fit into its box")
        if not content.units and content.plain:
            if content.surface.shadow is not None:
                self._shade(Painted(layout.outline, layout.box, content.surface), matrix, opacity)
            edge = layout.merged_outline if content.surface.is_lined else layout.outline
            self._surface(content.surface, layout.outline, edge, layout.box, matrix, opacity)
            return
        rest = list(resting(content, layout))
        for each in backs(content, layout):
            self._surface(each.surface, each.area, each.edge, each.box, matrix, opacity)
        for each in rest:
            self._shade(each, matrix, opacity)
        for each in rest:
            self._surface(each.surface, each.area, each.edge, each.box, matrix, opacity)
        for piece in on_their_way(content, layout, self._library):
            self._unit_piece(piece, matrix, opacity * piece.opacity)
        if content.cursor:
            self._cursor(content, layout, matrix, opacity)

    def _shade(
        self,
        each: Painted,
        matrix: Affine,
        opacity: float,
        place: Affine | Projective = _HERE,
    ) -> None:
        """The shadow of what is painted, which falls in the layer's own space."""
        shadow = each.surface.shadow
        if shadow is None or opacity * shadow.colour[3] <= 0:
            return
        there = _before(matrix @ Affine.shift(*shadow.offset), place)
        before, self.canvas.blur = self.canvas.blur, math.hypot(self.canvas.blur, shadow.blur_px)
        paint: Rgba = (*shadow.colour[:3], 1.0)
        self.canvas.begin_layer(
            self._reach(each.area, each.surface, there), opacity * shadow.colour[3]
        )
        if each.surface.fill is not None:
            self.canvas.fill(each.area.skia_path, paint, skia_matrix(there), 1.0)
        for lined in (each.surface.outer, each.surface):
            if lined is not None and lined.stroke is not None:
                dark = replace(lined, stroke_colour=paint, stroke_paint=None)
                self._stroke(dark, each.edge, there, 1.0, each.box)
        self.canvas.end_layer()
        self.canvas.blur = before

    def _unit_piece(self, piece: UnitPiece, matrix: Affine, opacity: float) -> None:
        """A letter, word or line on its way: within its window, as far as its wipes show it."""
        there = _before(matrix, piece.place)
        if piece.window is not None:
            self.canvas.clip(piece.window.skia_path, skia_matrix(matrix))
        if piece.half is not None:
            self.canvas.clip(piece.half.skia_path, skia_matrix(there))
        self.canvas.blur = piece.blur_px
        if piece.wipes:
            widest = max((each.surface for each in piece.painted), key=lambda each: each.widest)
            self.canvas.begin_layer(self._reach(piece.outline, widest, there), 1.0)
        for each in piece.painted:
            self._shade(each, matrix, opacity, piece.place)
        for each in piece.painted:
            self._surface(each.surface, each.area, each.edge, each.box, there, opacity)
        self.canvas.blur = 0.0
        for box, wiped in piece.wipes:
            self.canvas.keep(wipe_paint(box, wiped.wipe), skia_matrix(there))
        if piece.wipes:
            self.canvas.end_layer()
        for _ in filter(None, (piece.half, piece.window)):
            self.canvas.unclip()

    def _cursor(
        self, content: TextContent, layout: TextLayout, matrix: Affine, opacity: float
    ) -> None:
        """A thin bar after the last letter that is seen."""
        hidden = {i for u in content.units if u.place.opacity <= 0 for i in range(u.first, u.last)}
        # A blank is seen when the letter after it is: the cursor does not run ahead to it.
        hidden |= {index for index, letter in enumerate(content.text) if letter.isspace()}
        pen = layout.pen_after(lambda cluster: cluster not in hidden)
        size = content.style.size_px
        left, top, width = size * 0.04, -size * 0.78, size * 0.07
        bar = from_svg_path(f"M{left} {top}h{width}v{size * 0.94}h{-width}Z").mapped(pen)
        self._surface(content.surface, bar, bar, layout.box, matrix, opacity)

    def _scene(self, content: SceneContent, matrix: Affine, opacity: float) -> None:
        """A scene within a scene: composed where it is seen, or as a picture that is placed."""
        region = (0, 0, *self._size)
        if content.sharp:
            view = matrix @ Affine.shift(-content.width / 2, -content.height / 2)
            raster = self._studio.frame(content.frame, view, region)
            if raster.pixels.size:
                self.canvas.picture(raster.pixels, raster.left, raster.top, opacity)
            return
        mips = self._studio.scene(content)
        self._picture(mips, (content.width, content.height), matrix, opacity)

    def _picture(
        self, mips: MipPyramid, size: tuple[float, float], matrix: Affine, opacity: float
    ) -> None:
        fit = Affine.shift(-size[0] / 2, -size[1] / 2) @ Affine.scaling(
            size[0] / mips.width, size[1] / mips.height
        )
        raster = mips.draw((matrix @ fit).as_tuple(), (0, 0, *self._size), quick=self.quick)
        if raster is not None:
            self.canvas.picture(raster.pixels, raster.left, raster.top, opacity)

    def _surface(
        self,
        surface: Surface,
        area: Outline,
        edge: Outline,
        box: Box,
        matrix: Affine | Projective,
        opacity: float,
    ) -> None:
        outer = surface.outer
        layers = (surface.fill is not None) + (surface.stroke is not None) + (outer is not None)
        both = layers > 1 and opacity < 1
        if both:
            self.canvas.begin_layer(self._reach(area, surface, matrix), opacity)
        each = 1.0 if both else opacity
        if outer is not None:
            self._stroke(outer, edge, matrix, each, box)
        if surface.is_inlaid:
            self._inlaid(surface, area, edge, box, matrix, each)
        else:
            self._fill_and_stroke(surface, area, edge, box, matrix, each)
        if both:
            self.canvas.end_layer()

    def _inlaid(
        self, surface: Surface, area: Outline, edge: Outline, box: Box, matrix: Affine | Projective,
        opacity: float,
    ) -> None:  # fmt: skip
        """All of it in the stroke's colour, and the fill where the stroke is not."""
        pen = surface.pen
        assert pen is not None
        self._fill(replace(surface, fill=surface.stroke_colour), area, box, matrix, opacity)
        band = edge.stroked(pen.width, cap=pen.cap, join=pen.join)
        self.canvas.clip(band.skia_path, skia_matrix(matrix), outside=True)
        self._fill(surface, area, box, matrix, opacity)
        self.canvas.unclip()

    def _fill_and_stroke(
        self, surface: Surface, area: Outline, edge: Outline, box: Box, matrix: Affine | Projective,
        opacity: float,
    ) -> None:  # fmt: skip
        if surface.stroke is not None and surface.lies_under:
            self._stroke(surface, edge, matrix, opacity, box)
        self._fill(surface, area, box, matrix, opacity)
        if surface.stroke is not None and not surface.lies_under:
            if surface.clipped:
                outside = surface.side == "outside"
                self.canvas.clip(area.skia_path, skia_matrix(matrix), outside=outside)
            self._stroke(surface, edge, matrix, opacity, box)
            if surface.clipped:
                self.canvas.unclip()

    def _fill(
        self,
        surface: Surface,
        area: Outline,
        box: Box,
        matrix: Affine | Projective,
        opacity: float,
    ) -> None:
        if isinstance(surface.fill, PictureFill):
            self._pictured(
                surface.fill,
                box,
                matrix,
                self._reach(area, None, matrix),
                opacity,
                lambda canvas, there: canvas.fill(
                    area.skia_path, _WHITE, skia_matrix(_before(there, matrix)), 1.0
                ),
            )
        elif surface.fill is not None:
            paint = paint_in_box(surface.fill, box)
            self.canvas.fill(area.skia_path, paint, skia_matrix(matrix), opacity, self._mode)

    def _stroke(
        self,
        surface: Surface,
        edge: Outline,
        matrix: Affine | Projective,
        opacity: float,
        box: Box,
    ) -> None:
        stroke = surface.pen
        assert stroke is not None
        placed = matrix
        if surface.drawn != (0.0, 1.0, 0.0):
            edge = edge.drawn(*surface.drawn)
        if edge.is_empty:
            return
        if isinstance(matrix, Projective):
            if surface.fixed_width:  # as wide in its middle as elsewhere
                flat = _near(matrix, edge.bounds)
                width = stroke.width * self._unit / max(1e-6, flat.mean_scale)
                stroke = replace(stroke, width=width)
        elif surface.fixed_width:  # stroked at the scene's size: the layer's scale is no matter
            unit = Affine.scaling(self._unit, self._unit)
            edge, matrix = edge.mapped(unit.inverse() @ matrix), unit
        colour = surface.stroke_colour
        if surface.stroke_paint is None or isinstance(surface.stroke_paint, tuple):
            colour = surface.stroke_paint or colour
            self.canvas.stroke(edge.skia_path, stroke, colour, skia_matrix(matrix), opacity)
            return
        self._pictured(
            surface.stroke_paint, box, placed, self._reach(edge, surface, matrix), opacity,
            lambda canvas, there: canvas.stroke(
                edge.skia_path, stroke, _WHITE, skia_matrix(_before(there, matrix)), 1.0
            ),
        )  # fmt: skip

    def _pictured(
        self,
        paint: Paint | PictureFill,
        box: Box,
        matrix: Affine | Projective,
        reach: Box,
        opacity: float,
        draw: Callable[[Canvas, Affine], None],
    ) -> None:
        """Lays a picture, or a gradient, where what ``draw`` draws in white would be; it is given
        a canvas of the region alone, and how the output is moved onto that."""
        region = meet(outset(reach, 1), (0, 0, *self._size))
        width, height = region[2] - region[0], region[3] - region[1]
        if width <= 0 or height <= 0 or not all(map(math.isfinite, reach)):
            return
        there = Affine.shift(-region[0], -region[1])
        white = np.zeros((height, width, 4), np.uint8)
        mask = Canvas(white)
        mask.blur = self.canvas.blur
        draw(mask, there)
        flat = matrix if isinstance(matrix, Affine) else _near(matrix, box)
        if isinstance(paint, PictureFill):
            pixels = filling(paint, self._studio, flat, box, region)
        else:
            pixels = np.zeros((height, width, 4), np.uint8)
            moved = there @ flat
            Canvas(pixels).fill_all(paint_in_box(paint, box), skia_matrix(moved))
        pixels = scaled(np.ascontiguousarray(pixels), np.ascontiguousarray(white[..., 3]))
        self.canvas.picture(pixels, region[0], region[1], opacity)

    def _reach(self, area: Outline, surface: Surface | None, matrix: Affine | Projective) -> Box:
        """Output pixels that fill and stroke together can touch (miter limit 4)."""
        xs, ys = zip(*matrix.corners(area.bounds), strict=True)
        soft = 3 * self.canvas.blur
        if soft:
            soft *= (matrix if isinstance(matrix, Affine) else _near(matrix, area.bounds)).max_scale
        left, top, right, bottom = (
            min(xs) - soft, min(ys) - soft, max(xs) + soft, max(ys) + soft,
        )  # fmt: skip
        shadow = surface.shadow if surface is not None else None
        if surface is None or not (surface.is_lined or shadow):
            return (left, top, right, bottom)
        flat = matrix if isinstance(matrix, Affine) else _near(matrix, area.bounds)
        scale = self._unit if surface.fixed_width else flat.max_scale
        grow = surface.widest * scale * 2 + 2
        grow += shadow.reach * flat.max_scale if shadow is not None else 0.0
        return (left - grow, top - grow, right + grow, bottom + grow)


# How each kind of content is drawn. Treatments have no picture of their own.
_DRAWN: dict[type[Content], Callable[[ContentPainter, Any, Affine, float], None]] = {
    BackdropContent: ContentPainter._backdrop,
    PictureContent: ContentPainter._still,
    ClipContent: ContentPainter._clip,
    PlaceholderContent: ContentPainter._missing,
    ShapeContent: ContentPainter._shape,
    DrawingContent: ContentPainter._drawing,
    TextContent: ContentPainter._text,
    SceneContent: ContentPainter._scene,
}
