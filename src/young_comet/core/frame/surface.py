"""How an outline is painted: its fill, which may be a picture, and its stroke."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from ..geometry.affine import Affine, Box, Point
from ..pixels.canvas import Gradient, Paint, Stroke
from ..pixels.colour import Rgba, mix


@dataclass(frozen=True)
class PictureFill:
    """A picture as a paint: a file's ``content``, or another ``layer`` (a resolved one) whose
    picture lies in its own box. ``fit`` says how it meets the box that it fills: fill, fit,
    stretch, or tile, which repeats it at its own size. It is moved by ``place`` px, scaled by
    factors and turned about its middle. ``into`` maps the scene into the layer where it stays in
    the scene; None: it goes along with the layer."""

    content: Any
    layer: Any = field(repr=False)
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
        there: Affine | None = None
        if self.layer is not None and self.into is not None:
            # Another layer in the scene is where it is.
            there = self.layer.matrix
            assert there is not None
            fx = fy = 1.0
            middle = there(((left + right) / 2, (top + bottom) / 2))
        own = (
            Affine.shift(middle[0] + self.place[0], middle[1] + self.place[1])
            @ Affine.rotation(self.turned_deg)
            @ Affine.scaling(fx * self.scale[0], fy * self.scale[1])
        )
        if there is not None:
            own = own @ Affine(there.a, there.b, there.c, there.d)
        own = own @ Affine.shift(-(left + right) / 2, -(top + bottom) / 2)
        return own if self.into is None else self.into @ own


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

    @property
    def is_one_paint(self) -> bool:
        """Whether it can be blended as it is drawn."""
        return self.stroke is None and not isinstance(self.fill, PictureFill)

    @property
    def one_colour(self) -> Rgba | None:
        """Its colour where it is a flat fill and no more."""
        plain = self.stroke is None and isinstance(self.fill, tuple)
        return self.fill if plain else None  # type: ignore[return-value]

    def toned(self, ink: Rgba, share: float) -> Surface:
        """The surface with its flat colours mixed with an ink."""
        fill = self.fill
        if isinstance(fill, tuple):
            fill = mix(fill, ink, share)
        stroke = mix(self.stroke_colour, ink, share)
        return Surface(fill, self.stroke, stroke, self.fixed_width, self.drawn, self.stroke_paint)

    def around(self, box: Box, fixed_scale: float) -> Box:
        """A box grown by what the stroke reaches; ``fixed_scale`` is how large it is drawn, for
        strokes that keep their width."""
        if self.stroke is None:
            return box
        # A miter reaches at most four times half the width.
        grow = self.stroke.width * 2 + 1
        if self.fixed_width:
            grow /= max(1e-6, fixed_scale)
        return (box[0] - grow, box[1] - grow, box[2] + grow, box[3] + grow)


def paint_in_box(paint: Paint, box: Box) -> Paint:
    """A gradient's points from fractions of a box to the space of the box."""
    if not isinstance(paint, Gradient):
        return paint
    left, top, right, bottom = box
    width, height = right - left, bottom - top

    def place(point: Point) -> Point:
        return (left + point[0] * width, top + point[1] * height)

    return Gradient(paint.kind, place(paint.start), place(paint.end), paint.stops)
