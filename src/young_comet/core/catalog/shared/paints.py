"""Fills, strokes, and what of a stroke is drawn."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, where

PAINT_KINDS = (("flat", "Flat"), ("linear", "Linear"), ("radial", "Radial"), ("conic", "Conic"))


GRADIENTS = ("linear", "radial", "conic")


PICTURE_KINDS = (("picture", "Picture"), ("layer", "Another layer"))


_PICTURED = where("fill.kind", "picture", "layer")


_PICTURE_FILL = (
    PropertySpec(
        "fill.picture", "Picture", Kind.ASSET, "", "Fill", assets=("picture", "svg", "clip"),
        shown_when=where("fill.kind", "picture"), help="A picture, or footage that plays on and on",
    ),
    PropertySpec(
        "fill.layer", "Layer", Kind.LAYER, "", "Fill", shown_when=where("fill.kind", "layer"),
        help="What that layer shows, which may itself be hidden",
    ),
    PropertySpec(
        "fill.fit", "Lies", Kind.CHOICE, "fill", "Fill", shown_when=_PICTURED,
        options=(
            ("fill", "Over all of the box"), ("fit", "Within the box"),
            ("stretch", "Stretched to the box"), ("tile", "Again and again"),
        ),
    ),
    PropertySpec(
        "fill.space", "Stays", Kind.CHOICE, "layer", "Fill", shown_when=_PICTURED,
        options=(("layer", "With the layer"), ("scene", "In the scene")),
        help="In the scene the layer is a window that moves over it",
    ),
    PropertySpec(
        "fill.place", "Moved by", Kind.POINT, (0.0, 0.0), "Fill", unit="px", minimum=-1e6,
        maximum=1e6, shown_when=_PICTURED,
    ),
    PropertySpec(
        "fill.scale", "Scaled", Kind.POINT, (100.0, 100.0), "Fill", unit="%", minimum=-1e5,
        maximum=1e5, shown_when=_PICTURED, widget="linked",
    ),
    PropertySpec(
        "fill.turned", "Turned", Kind.NUMBER, 0.0, "Fill", unit="°", minimum=-1e6, maximum=1e6,
        shown_when=_PICTURED, widget="dial",
    ),
)  # fmt: skip


def paint_specs(
    colour: str, stops: tuple[tuple[float, str], ...], *, pictures: bool = True
) -> tuple[PropertySpec, ...]:
    """A fill: flat colour, gradient, its points as percentages of the filled box, or a picture."""
    only_gradient = where("fill.kind", *GRADIENTS)
    kinds = (*PAINT_KINDS, *PICTURE_KINDS) if pictures else PAINT_KINDS
    return (
        PropertySpec("fill.kind", "Fill", Kind.CHOICE, "flat", "Fill", options=kinds),
        PropertySpec(
            "fill.colour", "Colour", Kind.COLOUR, colour, "Fill",
            shown_when=where("fill.kind", "flat"),
        ),
        PropertySpec(
            "fill.stops", "Stops", Kind.STOPS, stops, "Fill", shown_when=only_gradient,
        ),
        PropertySpec(
            "fill.start", "Start", Kind.POINT, (50.0, 0.0), "Fill", unit="%", minimum=-1e4,
            maximum=1e4, shown_when=only_gradient,
            help="Where the gradient begins (the centre of a radial or conic one)",
        ),
        PropertySpec(
            "fill.end", "End", Kind.POINT, (50.0, 100.0), "Fill", unit="%", minimum=-1e4,
            maximum=1e4, shown_when=only_gradient,
            help="Where it ends (the rim of a radial one, the first direction of a conic one)",
        ),
        *(_PICTURE_FILL if pictures else ()),
    )  # fmt: skip


def stroke_specs(width: float) -> tuple[PropertySpec, ...]:
    """A stroke along the outline; width 0 draws none."""
    return (
        PropertySpec(
            "stroke.width", "Width", Kind.NUMBER, width, "Stroke", unit="px", minimum=0,
            maximum=2000,
        ),
        PropertySpec("stroke.colour", "Colour", Kind.COLOUR, "#f8f1e4", "Stroke"),
        PropertySpec(
            "stroke.filled", "Painted as the fill", Kind.FLAG, False, "Stroke",
            help="With the fill's gradient or picture in place of its own colour",
        ),
        PropertySpec(
            "stroke.cap", "Cap", Kind.CHOICE, "butt", "Stroke",
            options=(("butt", "Butt"), ("round", "Round"), ("square", "Square")),
        ),
        PropertySpec(
            "stroke.join", "Join", Kind.CHOICE, "miter", "Stroke",
            options=(("miter", "Miter"), ("round", "Round"), ("bevel", "Bevel")),
        ),
        PropertySpec(
            "stroke.dash", "Dash", Kind.DASH, "", "Stroke",
            help="Lengths of dashes and gaps in px, e.g. 24 12; empty for a whole line",
        ),
        PropertySpec(
            "stroke.dash-offset", "Dash offset", Kind.NUMBER, 0.0, "Stroke", unit="px",
            minimum=-1e5, maximum=1e5,
        ),
        PropertySpec(
            "stroke.fixed", "Keep width when scaled", Kind.FLAG, False, "Stroke",
        ),
    )  # fmt: skip


DRAWN = (
    PropertySpec(
        "drawn.from", "From", Kind.NUMBER, 0.0, "Drawn part", unit="%", minimum=0, maximum=100,
        help="Only this part of the path is stroked: key it to draw a line on",
    ),
    PropertySpec(
        "drawn.to", "To", Kind.NUMBER, 100.0, "Drawn part", unit="%", minimum=0, maximum=100,
    ),
    PropertySpec(
        "drawn.offset", "Offset", Kind.NUMBER, 0.0, "Drawn part", unit="%", minimum=-1e5,
        maximum=1e5, help="Shifts the drawn part along a closed path",
    ),
)  # fmt: skip
