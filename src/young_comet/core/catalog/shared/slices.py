"""A layer cut into pieces that move by themselves."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, named, where
from ...timing.spread import ORDERS

_CUT = ("strips", "tiles", "wedges", "lines")

_WHEN = where("slices.kind", *_CUT)

SLICES = (
    PropertySpec(
        "slices.kind", "Cut into", Kind.CHOICE, "none", "Slices",
        options=(
            ("none", "Nothing: whole"), ("strips", "Strips"), ("tiles", "Tiles"),
            ("wedges", "Wedges"), ("lines", "Along drawn lines"),
        ),
    ),
    PropertySpec(
        "slices.count", "Pieces", Kind.NUMBER, 8.0, "Slices", minimum=1, maximum=200, whole=True,
        decimals=0, shown_when=where("slices.kind", "strips", "wedges"), fixed=True,
    ),
    PropertySpec(
        "slices.grid", "Columns, rows", Kind.POINT, (6.0, 4.0), "Slices", minimum=1, maximum=60,
        whole=True, decimals=0, shown_when=where("slices.kind", "tiles"), fixed=True,
    ),
    PropertySpec(
        "slices.angle", "Angle", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e6, maximum=1e6,
        shown_when=where("slices.kind", "strips", "tiles", "wedges"), widget="dial",
    ),
    PropertySpec(
        "slices.lines", "Lines", Kind.PATH, "M-2000 0 L2000 0", "Slices", fixed=True,
        shown_when=where("slices.kind", "lines"), widget="strokes",
        help="Lines that part the layer: draw them across it with the pen",
    ),
    PropertySpec(
        "slices.progress", "In place", Kind.NUMBER, 100.0, "Slices", unit="%", minimum=0,
        maximum=100, shown_when=_WHEN, help="0: every piece is away; 100: all are in place",
    ),
    PropertySpec(
        "slices.width", "At once", Kind.NUMBER, 3.0, "Slices", minimum=0.1, maximum=200,
        shown_when=_WHEN, help="How many pieces are on their way at once",
    ),
    PropertySpec(
        "slices.order", "Order", Kind.CHOICE, "forward", "Slices", options=named(ORDERS),
        shown_when=_WHEN,
    ),
    PropertySpec(
        "slices.seed", "Seed", Kind.NUMBER, 1.0, "Slices", minimum=0, maximum=99999, whole=True,
        decimals=0, shown_when=where("slices.order", "shuffled"), fixed=True,
    ),
    PropertySpec(
        "slices.profile", "Profile", Kind.EASING, "ease-out", "Slices",
        shown_when=_WHEN, help="The easing of each piece",
    ),
    PropertySpec(
        "slices.offset", "Away by", Kind.POINT, (0.0, 240.0), "Slices", unit="px", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN,
    ),
    PropertySpec(
        "slices.alternate", "By turns", Kind.FLAG, False, "Slices", shown_when=_WHEN,
        help="Every other piece comes from the other side",
    ),
    PropertySpec(
        "slices.rotation", "Away rotated", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN,
    ),
    PropertySpec(
        "slices.tilt", "Away tilted", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN, help="About each piece's own x axis, in perspective",
        widget="dial",
    ),
    PropertySpec(
        "slices.turn", "Away turned", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN, help="About each piece's own y axis, in perspective",
        widget="dial",
    ),
    PropertySpec(
        "slices.pivot", "Their pivot", Kind.POINT, (0.0, 0.0), "Slices", unit="%", minimum=-1e4,
        maximum=1e4, shown_when=_WHEN,
        help="What each turns about: 0 is its middle, -50 its left or upper edge",
    ),
    PropertySpec(
        "slices.scale", "Away scaled", Kind.NUMBER, 100.0, "Slices", unit="%", minimum=0,
        maximum=10000, shown_when=_WHEN,
    ),
    PropertySpec(
        "slices.opacity", "Away opacity", Kind.NUMBER, 0.0, "Slices", unit="%", minimum=0,
        maximum=100, shown_when=_WHEN,
    ),
)  # fmt: skip
