"""Fills, strokes, and what of a stroke is drawn."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, where
from ...pixels.mixing import AROUND, MIXINGS

PAINT_KINDS = (("flat", "Flat"), ("linear", "Linear"), ("radial", "Radial"), ("conic", "Conic"))


GRADIENTS = ("linear", "radial", "conic")


PICTURE_KINDS = (("picture", "Picture"), ("layer", "Another layer"))


_PICTURED = where("fill.kind", "picture", "layer")


_PICTURE_FILL = (
    PropertySpec(
        "fill.picture", "Fill picture", Kind.ASSET, "", "Fill", assets=("picture", "svg", "clip"),
        shown_when=where("fill.kind", "picture"), help="A picture, or footage that plays on and on",
    ),
    PropertySpec(
        "fill.layer", "Fill layer", Kind.LAYER, "", "Fill", shown_when=where("fill.kind", "layer"),
        help="What that layer shows, which may itself be hidden",
    ),
    PropertySpec(
        "fill.fit", "Fill fitting", Kind.CHOICE, "fill", "Fill", shown_when=_PICTURED,
        options=(
            ("fill", "Over all of the box"), ("fit", "Within the box"),
            ("stretch", "Stretched to the box"), ("tile", "Again and again"),
        ),
        help="How the picture fills the shape: fitted within, filling, stretched or tiled",
    ),
    PropertySpec(
        "fill.space", "Fill anchor", Kind.CHOICE, "layer", "Fill", shown_when=_PICTURED,
        options=(("layer", "With the layer"), ("scene", "In the scene")),
        help="In the scene the layer is a window that moves over it",
    ),
    PropertySpec(
        "fill.place", "Fill offset", Kind.POINT, (0.0, 0.0), "Fill", unit="px", minimum=-1e6,
        maximum=1e6, shown_when=_PICTURED,
        help="Moves the picture within the shape, along x and y",
    ),
    PropertySpec(
        "fill.scale", "Fill scale", Kind.POINT, (100.0, 100.0), "Fill", unit="%", minimum=-1e5,
        maximum=1e5, shown_when=_PICTURED, widget="linked",
        help="Of the size that its fitting gives the picture",
    ),
    PropertySpec(
        "fill.turned", "Fill rotation", Kind.NUMBER, 0.0, "Fill", unit="°", minimum=-1e6,
        maximum=1e6,
        shown_when=_PICTURED, widget="dial",
        help="Turns the picture within the shape, clockwise",
    ),
)  # fmt: skip


def paint_specs(
    colour: str, stops: tuple[tuple[float, str], ...], *, pictures: bool = True
) -> tuple[PropertySpec, ...]:
    """A fill: flat colour, gradient, its points as percentages of the filled box, or a picture."""
    only_gradient = where("fill.kind", *GRADIENTS)
    kinds = (*PAINT_KINDS, *PICTURE_KINDS) if pictures else PAINT_KINDS
    return (
        PropertySpec("fill.kind", "Fill type", Kind.CHOICE, "flat", "Fill", options=kinds,
            help="What its inside is painted with"),
        PropertySpec(
            "fill.colour", "Fill colour", Kind.COLOUR, colour, "Fill",
            shown_when=where("fill.kind", "flat"),
            help="The colour of its inside",
        ),
        PropertySpec(
            "fill.stops", "Gradient stops", Kind.STOPS, stops, "Fill", shown_when=only_gradient,
            help="The colours along the gradient",
        ),
        PropertySpec(
            "fill.mixing", "Gradient mixing", Kind.CHOICE, AROUND, "Fill", options=MIXINGS,
            shown_when=only_gradient,
            help="Whether the colours between stops keep their strength, or go as in SVG",
        ),
        PropertySpec(
            "fill.start", "Gradient start", Kind.POINT, (50.0, 0.0), "Fill", unit="%", minimum=-1e4,
            maximum=1e4, shown_when=only_gradient,
            help="Where the gradient begins (the centre of a radial or conic one)",
        ),
        PropertySpec(
            "fill.end", "Gradient end", Kind.POINT, (50.0, 100.0), "Fill", unit="%", minimum=-1e4,
            maximum=1e4, shown_when=only_gradient,
            help="Where it ends (the rim of a radial one, the first direction of a conic one)",
        ),
        *(_PICTURE_FILL if pictures else ()),
    )  # fmt: skip


def stroke_specs(width: float) -> tuple[PropertySpec, ...]:
    """A stroke along the outline; width 0 draws none."""
    return (
        PropertySpec(
            "stroke.width", "Stroke width", Kind.NUMBER, width, "Stroke", unit="px", minimum=0,
            maximum=2000,
            help="0 is no stroke",
        ),
        PropertySpec("stroke.colour", "Stroke colour", Kind.COLOUR, "#f8f1e4", "Stroke",
            help="The colour of its outline"),
        PropertySpec(
            "stroke.side", "Stroke position", Kind.CHOICE, "centre", "Stroke",
            options=(("centre", "On the outline"), ("outside", "Outside"), ("inside", "Inside"),
                     ("beneath", "Beneath the fill")),
            help="Where it lies: half on each side of the outline, all of it outside or inside, or "
            "half on each side with the fill above it",
        ),
        PropertySpec(
            "stroke.filled", "Fill as paint", Kind.FLAG, False, "Stroke",
            help="With the fill's gradient or picture in place of its own colour",
        ),
        PropertySpec(
            "stroke.cap", "Line cap", Kind.CHOICE, "butt", "Stroke",
            options=(("butt", "Butt"), ("round", "Round"), ("square", "Square")),
            help="How open lines end (SVG stroke-linecap)",
        ),
        PropertySpec(
            "stroke.join", "Line join", Kind.CHOICE, "miter", "Stroke",
            options=(("miter", "Miter"), ("round", "Round"), ("bevel", "Bevel")),
            help="How the stroke goes round corners (SVG stroke-linejoin)",
        ),
        PropertySpec(
            "stroke.dash", "Dash pattern", Kind.DASH, "", "Stroke",
            help="Lengths of dashes and gaps in px, e.g. 24 12; empty for a whole line",
        ),
        PropertySpec(
            "stroke.dash-offset", "Dash offset", Kind.NUMBER, 0.0, "Stroke", unit="px",
            minimum=-1e5, maximum=1e5,
            help="Where in the pattern the line begins: key it and the dashes travel",
        ),
        PropertySpec(
            "stroke.outer", "Second outline", Kind.NUMBER, 0.0, "Stroke", unit="px", minimum=0,
            maximum=2000,
            help="How far another outline goes beyond the stroke, or beyond the fill without one",
        ),
        PropertySpec(
            "stroke.outer-colour", "Second colour", Kind.COLOUR, "#17224d", "Stroke",
            shown_when=where("stroke.outer", least=0.01), help="The colour of the second outline",
        ),
        PropertySpec(
            "stroke.fixed", "Constant width", Kind.FLAG, False, "Stroke",
            help="The stroke stays as wide as it is, however the layer is scaled",
        ),
    )  # fmt: skip


DRAWN = (
    PropertySpec(
        "drawn.from", "Start", Kind.NUMBER, 0.0, "Drawn part", unit="%", minimum=0, maximum=100,
        help="Only this part of the path is stroked: key it to draw a line on",
    ),
    PropertySpec(
        "drawn.to", "End", Kind.NUMBER, 100.0, "Drawn part", unit="%", minimum=0, maximum=100,
        help="Where along the path the stroke ends",
    ),
    PropertySpec(
        "drawn.offset", "Offset", Kind.NUMBER, 0.0, "Drawn part", unit="%", minimum=-1e5,
        maximum=1e5, help="Shifts the drawn part along a closed path",
    ),
)  # fmt: skip
