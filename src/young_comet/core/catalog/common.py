"""Property declarations that several layer kinds share."""

from __future__ import annotations

from ..model.specs import Kind, PropertySpec

PAINT_KINDS = (("flat", "Flat"), ("linear", "Linear"), ("radial", "Radial"), ("conic", "Conic"))
GRADIENTS = ("linear", "radial", "conic")

OPACITY = PropertySpec(
    "opacity", "Opacity", Kind.NUMBER, 100.0, "Place", unit="%", minimum=0, maximum=100
)

PLACE = (
    PropertySpec(
        "position", "Position", Kind.POINT, None, "Place", unit="px",
        minimum=-1e6, maximum=1e6, percent_of="frame", help="Where the pivot lands",
    ),
    PropertySpec(
        "rotation", "Rotation", Kind.NUMBER, 0.0, "Place", unit="°", minimum=-1e6, maximum=1e6,
        help="Clockwise; 720 is two turns",
    ),
    PropertySpec(
        "scale", "Scale", Kind.POINT, (100.0, 100.0), "Place", unit="%",
        minimum=-1e5, maximum=1e5, hint="linked",
    ),
    PropertySpec(
        "skew", "Skew", Kind.POINT, (0.0, 0.0), "Place", unit="°", minimum=-85, maximum=85,
    ),
    PropertySpec(
        "pivot", "Pivot", Kind.POINT, (0.0, 0.0), "Place", unit="px", minimum=-1e6, maximum=1e6,
        help="The point it turns and grows about, from the centre of its content",
    ),
    OPACITY,
)  # fmt: skip


def paint_specs(colour: str, stops: tuple[tuple[float, str], ...]) -> tuple[PropertySpec, ...]:
    """A fill: flat colour or gradient, its points as percentages of the filled box."""
    only_gradient = ("fill.kind", GRADIENTS)
    return (
        PropertySpec("fill.kind", "Fill", Kind.CHOICE, "flat", "Fill", options=PAINT_KINDS),
        PropertySpec(
            "fill.colour", "Colour", Kind.COLOUR, colour, "Fill",
            shown_when=("fill.kind", ("flat",)),
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
            "stroke.cap", "Cap", Kind.CHOICE, "butt", "Stroke",
            options=(("butt", "Butt"), ("round", "Round"), ("square", "Square")),
        ),
        PropertySpec(
            "stroke.join", "Join", Kind.CHOICE, "miter", "Stroke",
            options=(("miter", "Miter"), ("round", "Round"), ("bevel", "Bevel")),
        ),
        PropertySpec(
            "stroke.dash", "Dash", Kind.TEXT, "", "Stroke",
            help="Lengths of dashes and gaps in px, e.g. 24 12; empty for a whole line",
            hint="dash",
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
