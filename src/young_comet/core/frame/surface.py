"""How an outline is painted: its fill, which may be a picture, and its stroke."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

from ..geometry.affine import Affine, Box, Point
from ..pixels.canvas import Gradient, Paint, Stroke
from ..pixels.colour import Rgba, mix

# For so much of its way an outline is drawn; then it is filled.
_DRAWN = 0.7


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
        """Whether it repeats."""
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
class Shadow:
    """What is cast beside an outline: in a colour, so far beside it, px, softened by a standard
    deviation in px."""

    colour: Rgba
    offset: Point
    blur_px: float

    @property
    def reach(self) -> float:
        """How far it falls beyond what casts it, px."""
        return max(map(abs, self.offset)) + 3 * self.blur_px

    def between(self, other: Shadow, amount: float) -> Shadow:
        """A mixture."""
        x, y = (p + (q - p) * amount for p, q in zip(self.offset, other.offset, strict=True))
        blur = self.blur_px + (other.blur_px - self.blur_px) * amount
        return Shadow(mix(self.colour, other.colour, amount), (x, y), blur)

    def faint(self) -> Shadow:
        """The same, not seen."""
        return replace(self, colour=(*self.colour[:3], 0.0))


@dataclass(frozen=True)
class Surface:
    """Fill and stroke. Points of a gradient are fractions of the content's box.

    ``drawn`` is (from, to, offset) of the stroked part, fractions of the whole length.
    ``stroke_paint`` stands in place of the stroke's colour where it is painted as the fill. The
    stroke lies on a ``side`` of the outline (centre, outside, inside), or ``beneath`` the fill. A
    second outline goes ``outer_px`` beyond it. A ``shadow`` lies below all of that.
    """

    fill: Paint | PictureFill | None
    stroke: Stroke | None = None
    stroke_colour: Rgba = (0.0, 0.0, 0.0, 1.0)
    fixed_width: bool = False
    drawn: tuple[float, float, float] = (0.0, 1.0, 0.0)
    stroke_paint: Paint | PictureFill | None = None
    side: str = "centre"
    outer_px: float = 0.0
    outer_colour: Rgba = (0.0, 0.0, 0.0, 1.0)
    shadow: Shadow | None = None

    @property
    def is_lined(self) -> bool:
        """Whether anything is drawn along the outline."""
        return self.stroke is not None or self.outer_px > 0

    @property
    def outer(self) -> Surface | None:
        """The second outline as a surface of its own, which is painted first: it goes so far beyond
        the stroke, or beyond the fill where there is none."""
        if self.outer_px <= 0:
            return None
        own = self.stroke or Stroke(0.0, "round", "round")
        reach = {"outside": own.width, "inside": 0.0}.get(self.side, own.width / 2)
        pen = Stroke(2 * (reach + self.outer_px), own.cap, own.join)
        return Surface(None, pen, self.outer_colour, self.fixed_width, self.drawn)

    @property
    def widest(self) -> float:
        """The width of the widest pen that is drawn with."""
        pens = (self.pen, self.outer.stroke if self.outer else None)
        return max((pen.width for pen in pens if pen is not None), default=0.0)

    @property
    def pen(self) -> Stroke | None:
        """What is drawn along the outline: twice as wide where only one side of it is seen."""
        if self.stroke is None or self.side not in ("outside", "inside"):
            return self.stroke
        return replace(self.stroke, width=2 * self.stroke.width)

    @property
    def lies_under(self) -> bool:
        """Whether the stroke is painted first and the fill over it: beneath it, and outside a fill
        that lets nothing through, so that no seam shows between them."""
        return self.side == "beneath" or (self.side == "outside" and _is_solid(self.fill))

    @property
    def clipped(self) -> bool:
        """Whether the stroke is seen on one side of the outline only."""
        return self.side in ("outside", "inside") and not self.lies_under

    @property
    def is_inlaid(self) -> bool:
        """Whether a whole, solid stroke lies inside a solid fill: then the fill is what lies within
        the stroke, and its colour does not show along the edge."""
        stroke, whole = self.stroke, self.drawn == (0.0, 1.0, 0.0)
        if stroke is None or stroke.dash or self.side != "inside" or self.fixed_width or not whole:
            return False
        return self.stroke_paint is None and self.stroke_colour[3] >= 1 and _is_solid(self.fill)

    @property
    def is_clear(self) -> bool:
        """Whether nothing of it is seen."""
        fill = self.fill
        clear = fill is None or (isinstance(fill, tuple) and fill[3] <= 0)
        return clear and not self.is_lined

    @property
    def is_one_paint(self) -> bool:
        """Whether it can be blended as it is drawn."""
        bare = not self.is_lined and self.shadow is None
        return bare and not isinstance(self.fill, PictureFill)

    @property
    def one_colour(self) -> Rgba | None:
        """Its colour where it is a flat fill and no more."""
        plain = not self.is_lined and self.shadow is None and isinstance(self.fill, tuple)
        return self.fill if plain else None  # type: ignore[return-value]

    def toned(self, ink: Rgba, share: float) -> Surface:
        """The surface with its flat colours mixed with an ink."""
        fill = self.fill
        if isinstance(fill, tuple):
            fill = mix(fill, ink, share)
        stroke, outer = mix(self.stroke_colour, ink, share), mix(self.outer_colour, ink, share)
        return replace(self, fill=fill, stroke_colour=stroke, outer_colour=outer)

    def between(self, other: Surface, amount: float) -> Surface | None:
        """The surface between two; None where there is none, as between a colour and a picture. A
        fill that one of them lacks is clear there, a stroke is without width."""
        if self.fixed_width != other.fixed_width or self.side != other.side:
            return None
        fill = _paint_between(self.fill, other.fill, amount)
        paint = _paint_between(self.stroke_paint, other.stroke_paint, amount)
        stroke = _stroke_between(self.stroke, other.stroke, amount)
        if fill is _NOTHING or paint is _NOTHING or stroke is _NOTHING:
            return None
        colours = (
            self.stroke_colour if self.stroke else other.stroke_colour,
            other.stroke_colour if other.stroke else self.stroke_colour,
        )
        drawn = tuple(a + (b - a) * amount for a, b in zip(self.drawn, other.drawn, strict=True))
        return Surface(
            fill, stroke, mix(*colours, amount), self.fixed_width, drawn, paint, self.side,  # type: ignore[arg-type]
            self.outer_px + (other.outer_px - self.outer_px) * amount,
            mix(self.outer_colour, other.outer_colour, amount),
            _shadow_between(self.shadow, other.shadow, amount),
        )  # fmt: skip

    def displaced(self, tint: Rgba, amount: float, fill: float, wider: float) -> Surface:
        """With so much of another colour (0..1), so much of its fill (0..1), and a stroke that is
        so much wider, px."""
        result = self
        if amount > 0 or fill < 1:
            result = replace(
                result,
                fill=_faded(_tinted(result.fill, tint, amount), fill),
                stroke_colour=mix(result.stroke_colour, tint, amount),
                outer_colour=mix(result.outer_colour, tint, amount),
            )
        if wider:
            width = (result.stroke.width if result.stroke else 0.0) + wider
            stroke = result.stroke or Stroke(0.0)
            result = replace(result, stroke=replace(stroke, width=width) if width > 0 else None)
        return result

    def drawing(self, share: float, pen: float) -> Surface:
        """So much of it drawn (0..1): its outline first, then its fill. What has no stroke is drawn
        with a ``pen`` of a width in px, which is gone when it is filled."""
        if share >= 1:
            return self
        if self.fill is None:
            return replace(self, drawn=(0.0, max(0.0, share), 0.0))
        # A second outline comes with the fill.
        line, filled = min(1.0, max(0.0, share) / _DRAWN), max(0.0, (share - _DRAWN) / (1 - _DRAWN))
        result = replace(
            self, fill=_faded(self.fill, filled), drawn=(0.0, line, 0.0),
            outer_px=self.outer_px * filled,
        )  # fmt: skip
        if self.stroke is not None:
            return result
        stroke = Stroke(pen * (1 - filled), "round", "round")
        return replace(result, stroke=stroke, stroke_paint=self.fill)

    def around(self, box: Box, fixed_scale: float) -> Box:
        """A box grown by what the stroke reaches; ``fixed_scale`` is how large it is drawn, for
        strokes that keep their width."""
        if not self.is_lined and self.shadow is None:
            return box
        # A miter reaches at most four times half the width.
        grow = self.widest * 2 + 1
        if self.fixed_width:
            grow /= max(1e-6, fixed_scale)
        grow += self.shadow.reach if self.shadow else 0.0
        return (box[0] - grow, box[1] - grow, box[2] + grow, box[3] + grow)


def _shadow_between(a: Shadow | None, b: Shadow | None, amount: float) -> Shadow | None:
    if a is None and b is None:
        return None
    one, other = a or (b and b.faint()), b or (a and a.faint())
    return one.between(other, amount) if one and other else None


def _is_solid(fill: Paint | PictureFill | None) -> bool:
    if isinstance(fill, Gradient):
        return all(colour[3] >= 1 for _, colour in fill.stops)
    return isinstance(fill, tuple) and fill[3] >= 1


def _tinted(
    fill: Paint | PictureFill | None, tint: Rgba, amount: float
) -> Paint | PictureFill | None:
    if fill is None or isinstance(fill, PictureFill) or amount <= 0:
        return fill
    if isinstance(fill, Gradient):
        stops = tuple((at, mix(colour, tint, amount)) for at, colour in fill.stops)
        return replace(fill, stops=stops)
    return mix(fill, tint, amount)


def _faded(fill: Paint | PictureFill | None, share: float) -> Paint | PictureFill | None:
    if fill is None or share >= 1:
        return fill
    if share <= 0:
        return None
    if isinstance(fill, PictureFill):
        return fill
    if isinstance(fill, Gradient):
        return replace(fill, stops=tuple((at, (*c[:3], c[3] * share)) for at, c in fill.stops))
    return (*fill[:3], fill[3] * share)


_NOTHING: Any = object()


def _paint_between(a: Any, b: Any, amount: float) -> Any:
    """A paint between two, _NOTHING where there is none."""
    if a == b:
        return a
    if isinstance(a, PictureFill) or isinstance(b, PictureFill):
        return _NOTHING
    a, b = (_clear(other) if paint is None else paint for paint, other in ((a, b), (b, a)))
    if isinstance(a, Gradient) or isinstance(b, Gradient):
        a, b = (_as_gradient(paint, other) for paint, other in ((a, b), (b, a)))
        if a.kind != b.kind or len(a.stops) != len(b.stops):
            return _NOTHING
        stops = tuple(
            (p[0] + (q[0] - p[0]) * amount, mix(p[1], q[1], amount))
            for p, q in zip(a.stops, b.stops, strict=True)
        )
        start, end = (
            (p[0] + (q[0] - p[0]) * amount, p[1] + (q[1] - p[1]) * amount)
            for p, q in ((a.start, b.start), (a.end, b.end))
        )
        return Gradient(a.kind, start, end, stops)
    return mix(a, b, amount)


def _clear(paint: Any) -> Any:
    """A paint of which nothing is seen."""
    if isinstance(paint, Gradient):
        stops = tuple((at, (*colour[:3], 0.0)) for at, colour in paint.stops)
        return Gradient(paint.kind, paint.start, paint.end, stops)
    return (*paint[:3], 0.0)


def _as_gradient(paint: Any, like: Any) -> Gradient:
    """A flat colour as a gradient that runs as another."""
    if isinstance(paint, Gradient):
        return paint
    return Gradient(like.kind, like.start, like.end, tuple((at, paint) for at, _ in like.stops))


def _stroke_between(a: Stroke | None, b: Stroke | None, amount: float) -> Any:
    """A stroke between two, _NOTHING where there is none: dashes are matched one by one."""
    if a is None and b is None:
        return None
    a, b = (
        replace(other, width=0.0) if stroke is None and other is not None else stroke
        for stroke, other in ((a, b), (b, a))
    )
    assert a is not None and b is not None
    if (a.cap, a.join, len(a.dash)) != (b.cap, b.join, len(b.dash)):
        return _NOTHING

    def at(p: float, q: float) -> float:
        return p + (q - p) * amount

    dash = tuple(at(p, q) for p, q in zip(a.dash, b.dash, strict=True))
    width, offset = at(a.width, b.width), at(a.dash_offset, b.dash_offset)
    return replace(a, width=width, dash=dash, dash_offset=offset)


def paint_in_box(paint: Paint, box: Box) -> Paint:
    """A gradient's points from fractions of a box to the space of the box."""
    if not isinstance(paint, Gradient):
        return paint
    left, top, right, bottom = box
    width, height = right - left, bottom - top

    def place(point: Point) -> Point:
        return (left + point[0] * width, top + point[1] * height)

    return Gradient(paint.kind, place(paint.start), place(paint.end), paint.stops)
