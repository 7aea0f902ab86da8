"""Where a layer is: position, rotation, scale, perspective; what it is kept aligned to."""

from __future__ import annotations

from ...model.specs import Kind, Needed, PropertySpec, where

OPACITY = PropertySpec(
    "opacity",
    "Opacity",
    Kind.NUMBER,
    100.0,
    "Place",
    unit="%",
    minimum=0,
    maximum=100,
    help="How much of it is seen; 0 is nothing",
)

# What only a layer with a motion path has.
_TRAVELS = where("position", keyed=True)

PLACE = (
    PropertySpec(
        "position", "Position", Kind.POINT, None, "Place", unit="px",
        minimum=-1e6, maximum=1e6, percent_of="frame", help="Where the pivot lands", split=True,
    ),
    PropertySpec(
        "rotation", "Rotation", Kind.NUMBER, 0.0, "Place", unit="°", minimum=-1e6, maximum=1e6,
        help="Clockwise; 720 is two turns",
    ),
    PropertySpec(
        "scale", "Scale", Kind.POINT, (100.0, 100.0), "Place", unit="%",
        minimum=-1e5, maximum=1e5, widget="linked", split=True,
        help="Of its natural size, along x and y; negative values mirror it",
    ),
    PropertySpec(
        "skew", "Skew", Kind.POINT, (0.0, 0.0), "Place", unit="°", minimum=-85, maximum=85,
        help="Slants it along x and y",
    ),
    PropertySpec(
        "pivot", "Pivot", Kind.POINT, (0.0, 0.0), "Place", unit="px", minimum=-1e6, maximum=1e6,
        help="The point it turns and grows about, from the centre of its content",
    ),
    OPACITY,
    PropertySpec(
        "tilt", "Tilt", Kind.NUMBER, 0.0, "Perspective", unit="°", minimum=-1e6, maximum=1e6,
        help="Turned about its x axis, in perspective; the scene has the viewing distance",
        widget="dial",
    ),
    PropertySpec(
        "turn", "Turn", Kind.NUMBER, 0.0, "Perspective", unit="°", minimum=-1e6, maximum=1e6,
        help="Turned about its y axis, in perspective", widget="dial",
    ),
    PropertySpec(
        "turn.on", "Path heading", Kind.FLAG, False, "Motion path", shown_when=_TRAVELS,
        help="The layer points where its position travels",
    ),
    PropertySpec(
        "turn.offset", "Heading offset", Kind.NUMBER, 0.0, "Motion path", unit="°", minimum=-1e6,
        maximum=1e6, shown_when=where("turn.on", True) + _TRAVELS,
        help="Angle between the path and what counts as the layer's front",
    ),
)  # fmt: skip

_SIDES_X = (
    ("none", "Free"), ("left", "Left edge"), ("centre", "Centre"), ("right", "Right edge"),
    ("before", "Left of it"), ("after", "Right of it"),
)  # fmt: skip

_SIDES_Y = (
    ("none", "Free"), ("top", "Top edge"), ("centre", "Centre"), ("bottom", "Bottom edge"),
    ("before", "Above it"), ("after", "Below it"),
)  # fmt: skip

_PINNABLE = (
    Needed(layer="rides"),
    Needed(("align.x", "align.y"), besides=("none",)),
    Needed(("align.to",), besides=("layer",)),
)

ALIGNED = (
    PropertySpec(
        "align.x", "Horizontal", Kind.CHOICE, "none", "Alignment", options=_SIDES_X,
        help="The position then counts from there, however the content or the frame changes",
    ),
    PropertySpec(
        "align.y", "Vertical", Kind.CHOICE, "none", "Alignment", options=_SIDES_Y,
        help="The position then counts from there, however the content or the frame changes",
    ),
    PropertySpec(
        "align.to", "Reference", Kind.CHOICE, "frame", "Alignment",
        options=(("frame", "The frame"), ("safe", "The safe area"), ("layer", "A layer")),
        help="What it is aligned to: the frame, a safe area, or another layer",
    ),
    PropertySpec(
        "align.pinned", "Pinned", Kind.FLAG, False, "Alignment",
        shown_when=_PINNABLE,
        help="What it rides on does not move it on these axes; else it is aligned to where that "
        "is in the middle of its time, and goes along",
    ),
    PropertySpec(
        "align.layer", "Layer", Kind.LAYER, "", "Alignment",
        shown_when=where("align.to", "layer"),
        help="The layer that it is aligned to",
    ),
)  # fmt: skip
