"""A layer cut into pieces that move by themselves."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, named, where
from ...timing.spread import ORDERS

_CUT = ("strips", "tiles", "wedges", "lines")

_WHEN = where("slices.kind", *_CUT)

SLICES = (
    PropertySpec(
        "slices.kind", "Cut", Kind.CHOICE, "none", "Slices",
        options=(
            ("none", "Whole"), ("strips", "Strips"), ("tiles", "Tiles"),
            ("wedges", "Wedges"), ("lines", "Along drawn lines"),
        ),
        help="What the layer is cut into; pieces meet exactly",
    ),
    PropertySpec(
        "slices.count", "Pieces", Kind.NUMBER, 8.0, "Slices", minimum=1, maximum=200, whole=True,
        decimals=0, shown_when=where("slices.kind", "strips", "wedges"), fixed=True,
        help="How many pieces it is cut into",
    ),
    PropertySpec(
        "slices.grid", "Grid", Kind.POINT, (6.0, 4.0), "Slices", minimum=1, maximum=60,
        whole=True, decimals=0, shown_when=where("slices.kind", "tiles"), fixed=True,
        help="How many tiles lie across and down",
    ),
    PropertySpec(
        "slices.angle", "Angle", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e6, maximum=1e6,
        shown_when=where("slices.kind", "strips", "tiles", "wedges"), widget="dial",
        help="The direction of the cuts, clockwise",
    ),
    PropertySpec(
        "slices.lines", "Lines", Kind.PATH, "M-2000 0 L2000 0", "Slices", fixed=True,
        shown_when=where("slices.kind", "lines"), widget="strokes",
        help="Lines that part the layer: draw them across it with the pen",
    ),
    PropertySpec(
        "slices.progress", "Progress", Kind.NUMBER, 100.0, "Slices", unit="%", minimum=0,
        maximum=100, shown_when=_WHEN, help="0: every piece is away; 100: all are in place",
    ),
    PropertySpec(
        "slices.width", "Overlap", Kind.NUMBER, 3.0, "Slices", minimum=0.1, maximum=200,
        shown_when=_WHEN, help="How many pieces are on their way at once",
    ),
    PropertySpec(
        "slices.order", "Sequence", Kind.CHOICE, "forward", "Slices", options=named(ORDERS),
        shown_when=_WHEN,
        help="Which pieces go first",
    ),
    PropertySpec(
        "slices.seed", "Seed", Kind.NUMBER, 1.0, "Slices", minimum=0, maximum=99999, whole=True,
        decimals=0, shown_when=where("slices.order", "shuffled"), fixed=True,
        help="Another number, another chance",
    ),
    PropertySpec(
        "slices.profile", "Easing", Kind.EASING, "ease-out", "Slices",
        shown_when=_WHEN, help="The easing of each piece",
    ),
    PropertySpec(
        "slices.offset", "Displacement", Kind.POINT, (0.0, 240.0), "Slices", unit="px",
        minimum=-1e5,
        maximum=1e5, shown_when=_WHEN,
        help="How far from its place a piece lies while it is away",
    ),
    PropertySpec(
        "slices.alternate", "Alternate sides", Kind.FLAG, False, "Slices", shown_when=_WHEN,
        help="Every other piece comes from the other side",
    ),
    PropertySpec(
        "slices.rotation", "Displaced rotation", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN,
        help="How far a piece is turned while it is away, clockwise",
    ),
    PropertySpec(
        "slices.tilt", "Displaced tilt", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN, help="About each piece's own x axis, in perspective",
        widget="dial",
    ),
    PropertySpec(
        "slices.turn", "Displaced turn", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN, help="About each piece's own y axis, in perspective",
        widget="dial",
    ),
    PropertySpec(
        "slices.pivot", "Piece pivot", Kind.POINT, (0.0, 0.0), "Slices", unit="%", minimum=-1e4,
        maximum=1e4, shown_when=_WHEN,
        help="What each turns about: 0 is its middle, -50 its left or upper edge",
    ),
    PropertySpec(
        "slices.scale", "Displaced scale", Kind.NUMBER, 100.0, "Slices", unit="%", minimum=0,
        maximum=10000, shown_when=_WHEN,
        help="How large a piece is while it is away",
    ),
    PropertySpec(
        "slices.opacity", "Displaced opacity", Kind.NUMBER, 0.0, "Slices", unit="%", minimum=0,
        maximum=100, shown_when=_WHEN,
        help="How much of a piece is seen while it is away",
    ),
)  # fmt: skip
