"""Property declarations that several layer kinds share."""

from __future__ import annotations

from ..model.specs import Kind, PropertySpec
from ..pixels.blend import BLEND_MODES
from ..timing.spread import ORDERS

PAINT_KINDS = (("flat", "Flat"), ("linear", "Linear"), ("radial", "Radial"), ("conic", "Conic"))
GRADIENTS = ("linear", "radial", "conic")
PICTURE_KINDS = (("picture", "Picture"), ("layer", "Another layer"))

OPACITY = PropertySpec(
    "opacity", "Opacity", Kind.NUMBER, 100.0, "Place", unit="%", minimum=0, maximum=100
)

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
        minimum=-1e5, maximum=1e5, hint="linked", split=True,
    ),
    PropertySpec(
        "skew", "Skew", Kind.POINT, (0.0, 0.0), "Place", unit="°", minimum=-85, maximum=85,
    ),
    PropertySpec(
        "pivot", "Pivot", Kind.POINT, (0.0, 0.0), "Place", unit="px", minimum=-1e6, maximum=1e6,
        help="The point it turns and grows about, from the centre of its content",
    ),
    OPACITY,
    PropertySpec(
        "tilt", "Tilt", Kind.NUMBER, 0.0, "Perspective", unit="°", minimum=-1e6, maximum=1e6,
        help="Turned about its x axis, in perspective; the scene has the viewing distance",
        hint="dial",
    ),
    PropertySpec(
        "turn", "Turn", Kind.NUMBER, 0.0, "Perspective", unit="°", minimum=-1e6, maximum=1e6,
        help="Turned about its y axis, in perspective", hint="dial",
    ),
    PropertySpec(
        "turn.on", "Turn with the path", Kind.FLAG, False, "Motion path", hint="moving",
        help="The layer points where its position travels",
    ),
    PropertySpec(
        "turn.offset", "Turned by", Kind.NUMBER, 0.0, "Motion path", unit="°", minimum=-1e6,
        maximum=1e6, shown_when=("turn.on", (True,)), hint="moving",
        help="Angle between the path and what counts as the layer's front",
    ),
)  # fmt: skip


def _named(ids: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    return tuple((i, i.replace("-", " ").capitalize()) for i in ids)


# A layer may have so many mattes, which are joined one after another as masks are.
MOST_MATTES = 4


def matte_name(number: int, part: str) -> str:
    """The property of a part ("layer", "mode", "by", "inverted") of the first matte, or of a
    further one."""
    return f"matte.{part}" if number == 1 else f"matte.{number}.{part}"


def _further_mattes() -> tuple[PropertySpec, ...]:
    found: list[PropertySpec] = []
    for number in range(2, MOST_MATTES + 1):
        hint = f"matted {matte_name(number - 1, 'layer')}"
        own = f"matted {matte_name(number, 'layer')}"
        found += [
            PropertySpec(
                matte_name(number, "layer"), "And", Kind.LAYER, "", "Matte", hint=hint,
                help="A further layer through which this one is shown",
            ),
            PropertySpec(
                matte_name(number, "mode"), "Joined", Kind.CHOICE, "union", "Matte", hint=own,
                options=(
                    ("union", "Added"), ("minus", "Taken away"), ("intersect", "Where both are"),
                    ("exclude", "Where only one is"),
                ),
            ),
            PropertySpec(
                matte_name(number, "by"), "Through its", Kind.CHOICE, "alpha", "Matte", hint=own,
                options=(("alpha", "Alpha"), ("luminance", "Luminance")),
            ),
            PropertySpec(
                matte_name(number, "inverted"), "Outside it", Kind.FLAG, False, "Matte", hint=own
            ),
        ]  # fmt: skip
    return tuple(found)


BLENDING = (
    PropertySpec(
        "blend", "Blended", Kind.CHOICE, "normal", "Blending", options=_named(BLEND_MODES),
        hint="steps", help="How its colours mix with what lies below (W3C compositing)",
    ),
    PropertySpec(
        "composite", "Shown", Kind.CHOICE, "over", "Blending",
        options=(
            ("over", "Over what lies below"), ("atop", "Only atop of layers below"),
            ("knock-out", "Cut out of layers below"),
        ),
        help="The ground and backdrops at the bottom of the stack do not count as layers here",
    ),
    PropertySpec(
        "matte.layer", "Matte", Kind.LAYER, "", "Matte",
        help="Shown only through another layer, which may itself be hidden",
    ),
    PropertySpec(
        "matte.by", "Through its", Kind.CHOICE, "alpha", "Matte",
        options=(("alpha", "Alpha"), ("luminance", "Luminance")),
    ),
    PropertySpec("matte.inverted", "Outside it", Kind.FLAG, False, "Matte"),
    *_further_mattes(),
    PropertySpec(
        "matte.below", "Within the layer below", Kind.FLAG, False, "Matte",
        help="Shown only where the next layer below is",
    ),
    PropertySpec(
        "matte.before", "Before effects", Kind.FLAG, False, "Matte", hint="mattes",
        help="Before its effects: a shadow or a glow is that of what the mattes leave",
    ),
    PropertySpec(
        "motion-blur", "Motion blur", Kind.CHOICE, "scene", "Motion blur",
        options=(("scene", "As the scene has it"), ("on", "On"), ("off", "Off")),
    ),
)  # fmt: skip

_CUT = ("strips", "tiles", "wedges", "lines")
_WHEN = ("slices.kind", _CUT)
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
        decimals=0, shown_when=("slices.kind", ("strips", "wedges")), fixed=True,
    ),
    PropertySpec(
        "slices.grid", "Columns, rows", Kind.POINT, (6.0, 4.0), "Slices", minimum=1, maximum=60,
        whole=True, decimals=0, shown_when=("slices.kind", ("tiles",)), fixed=True,
    ),
    PropertySpec(
        "slices.angle", "Angle", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e6, maximum=1e6,
        shown_when=("slices.kind", ("strips", "tiles", "wedges")), hint="dial",
    ),
    PropertySpec(
        "slices.lines", "Lines", Kind.PATH, "M-2000 0 L2000 0", "Slices", fixed=True,
        shown_when=("slices.kind", ("lines",)), hint="strokes",
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
        "slices.order", "Order", Kind.CHOICE, "forward", "Slices", options=_named(ORDERS),
        shown_when=_WHEN,
    ),
    PropertySpec(
        "slices.seed", "Seed", Kind.NUMBER, 1.0, "Slices", minimum=0, maximum=99999, whole=True,
        decimals=0, shown_when=("slices.order", ("shuffled",)), fixed=True,
    ),
    PropertySpec(
        "slices.profile", "Profile", Kind.TEXT, "ease-out", "Slices", hint="easing",
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
        hint="dial",
    ),
    PropertySpec(
        "slices.turn", "Away turned", Kind.NUMBER, 0.0, "Slices", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_WHEN, help="About each piece's own y axis, in perspective",
        hint="dial",
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

MASK = (
    PropertySpec(
        "path", "Path", Kind.PATH, "M-200 -120 L200 -120 L200 120 L-200 120 Z", "Mask",
        help="SVG path data in the mask's own space", hint="path",
    ),
    PropertySpec(
        "position", "Position", Kind.POINT, (0.0, 0.0), "Mask", unit="px", minimum=-1e6,
        maximum=1e6, split=True,
    ),
    PropertySpec(
        "rotation", "Rotation", Kind.NUMBER, 0.0, "Mask", unit="°", minimum=-1e6, maximum=1e6,
    ),
    PropertySpec(
        "scale", "Scale", Kind.POINT, (100.0, 100.0), "Mask", unit="%", minimum=-1e5, maximum=1e5,
        hint="linked",
    ),
    PropertySpec(
        "feather", "Feather", Kind.POINT, (0.0, 0.0), "Mask", unit="px", minimum=0, maximum=4000,
        hint="linked", help="Width of the soft edge along x and y",
    ),
    PropertySpec(
        "grow", "Grow", Kind.NUMBER, 0.0, "Mask", unit="px", minimum=-4000, maximum=4000,
        help="Moves the edge outwards, or inwards where negative",
    ),
    PropertySpec(
        "opacity", "Opacity", Kind.NUMBER, 100.0, "Mask", unit="%", minimum=0, maximum=100,
    ),
)  # fmt: skip


def paint_specs(
    colour: str, stops: tuple[tuple[float, str], ...], *, pictures: bool = True
) -> tuple[PropertySpec, ...]:
    """A fill: flat colour, gradient, its points as percentages of the filled box, or a picture."""
    only_gradient = ("fill.kind", GRADIENTS)
    kinds = (*PAINT_KINDS, *PICTURE_KINDS) if pictures else PAINT_KINDS
    return (
        PropertySpec("fill.kind", "Fill", Kind.CHOICE, "flat", "Fill", options=kinds),
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
        *(_PICTURE_FILL if pictures else ()),
    )  # fmt: skip


_PICTURED = ("fill.kind", ("picture", "layer"))
_PICTURE_FILL = (
    PropertySpec(
        "fill.picture", "Picture", Kind.ASSET, "", "Fill", hint="seen",
        shown_when=("fill.kind", ("picture",)), help="A picture, or footage that plays on and on",
    ),
    PropertySpec(
        "fill.layer", "Layer", Kind.LAYER, "", "Fill", shown_when=("fill.kind", ("layer",)),
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
        maximum=1e5, shown_when=_PICTURED, hint="linked",
    ),
    PropertySpec(
        "fill.turned", "Turned", Kind.NUMBER, 0.0, "Fill", unit="°", minimum=-1e6, maximum=1e6,
        shown_when=_PICTURED, hint="dial",
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


PART_SPECS = (
    PropertySpec(
        "path", "Path", Kind.PATH, "M-100 -60 L100 -60 L100 60 L-100 60 Z", "Part", hint="path",
    ),
    PropertySpec(
        "opacity", "Opacity", Kind.NUMBER, 100.0, "Part", unit="%", minimum=0, maximum=100,
    ),
    PropertySpec("fill.on", "Filled", Kind.FLAG, True, "Part"),
    *paint_specs("#ff7a45", ((0.0, "#ff7a45"), (1.0, "#e85d8f"))), *stroke_specs(0.0),
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


_SIDES_X = (
    ("none", "Free"), ("left", "Left edge"), ("centre", "Centre"), ("right", "Right edge"),
    ("before", "Left of it"), ("after", "Right of it"),
)  # fmt: skip
_SIDES_Y = (
    ("none", "Free"), ("top", "Top edge"), ("centre", "Centre"), ("bottom", "Bottom edge"),
    ("before", "Above it"), ("after", "Below it"),
)  # fmt: skip
ALIGNED = (
    PropertySpec(
        "align.x", "Across", Kind.CHOICE, "none", "Kept aligned", options=_SIDES_X,
        help="The position then counts from there, however the content or the frame changes",
    ),
    PropertySpec(
        "align.y", "Down", Kind.CHOICE, "none", "Kept aligned", options=_SIDES_Y,
        help="The position then counts from there, however the content or the frame changes",
    ),
    PropertySpec(
        "align.to", "To", Kind.CHOICE, "frame", "Kept aligned",
        options=(("frame", "The frame"), ("safe", "The safe area"), ("layer", "A layer")),
    ),
    PropertySpec(
        "align.pinned", "Pinned there", Kind.FLAG, False, "Kept aligned", hint="pinned",
        help="What it rides on does not move it on these axes; else it is aligned to where that "
        "is in the middle of its time, and goes along",
    ),
    PropertySpec(
        "align.layer", "Layer", Kind.LAYER, "", "Kept aligned",
        shown_when=("align.to", ("layer",)),
    ),
)  # fmt: skip

FITTED = (
    PropertySpec(
        "fit.layer", "Fits around", Kind.LAYER, "", "Shape", help="It grows with that layer",
        shown_when=("shape.kind", ("rectangle", "ellipse")),
    ),
    PropertySpec(
        "fit.axes", "Fits", Kind.CHOICE, "both", "Shape",
        options=(("both", "Width and height"), ("width", "Width"), ("height", "Height")),
        shown_when=("shape.kind", ("rectangle", "ellipse")), hint="fitting",
    ),
    PropertySpec(
        "fit.margin", "Margin", Kind.POINT, (24.0, 12.0), "Shape", unit="px", minimum=-20000,
        maximum=20000, shown_when=("shape.kind", ("rectangle", "ellipse")), hint="fitting",
    ),
)  # fmt: skip

COPIES = (
    PropertySpec(
        "copies.count", "Drawn", Kind.NUMBER, 1.0, "Copies", unit="x", minimum=1, maximum=200,
        whole=True, decimals=0, fixed=True, help="How often the layer is drawn",
    ),
    PropertySpec(
        "copies.position", "Step", Kind.POINT, (40.0, 0.0), "Copies", unit="px", minimum=-1e5,
        maximum=1e5, hint="copies",
    ),
    PropertySpec(
        "copies.rotation", "Turned by", Kind.NUMBER, 0.0, "Copies", unit="°", minimum=-1e5,
        maximum=1e5, hint="copies",
    ),
    PropertySpec(
        "copies.scale", "Scaled by", Kind.POINT, (100.0, 100.0), "Copies", unit="%", minimum=0,
        maximum=1000, hint="copies",
    ),
    PropertySpec(
        "copies.delay", "Later by", Kind.NUMBER, 0.0, "Copies", unit="s", minimum=-600,
        maximum=600, decimals=3, step=0.04, fixed=True, hint="copies",
        help="Each copy does what the one before it did so many seconds ago",
    ),
    PropertySpec(
        "copies.opacity", "Fainter to", Kind.NUMBER, 100.0, "Copies", unit="%", minimum=0,
        maximum=100, hint="copies", help="Each has this much of the opacity of the one before",
    ),
    PropertySpec("copies.inked", "Changes ink", Kind.FLAG, False, "Copies", hint="copies"),
    PropertySpec(
        "copies.ink", "Towards", Kind.COLOUR, "#ffb44a", "Copies",
        shown_when=("copies.inked", (True,)), help="The last copy has this colour",
    ),
    PropertySpec(
        "copies.above", "Later ones above", Kind.FLAG, False, "Copies", hint="copies",
    ),
)  # fmt: skip

_PLAYED_AGAIN = ("loop", "there-and-back")
TIME = (
    PropertySpec(
        "time.speed", "Speed", Kind.NUMBER, 100.0, "Time", unit="%", minimum=1, maximum=10000,
        fixed=True, help="100 is as fast as it was made",
    ),
    PropertySpec("time.reversed", "Backwards", Kind.FLAG, False, "Time"),
    PropertySpec(
        "time.from", "First second", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0, maximum=36000,
        decimals=3, step=0.1, fixed=True, help="Where the part of the source begins that is used",
    ),
    PropertySpec(
        "time.to", "Last second", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0, maximum=36000,
        decimals=3, step=0.1, fixed=True, help="Where that part ends; 0 is the source's own end",
    ),
    PropertySpec(
        "time.offset", "Slipped by", Kind.NUMBER, 0.0, "Time", unit="s", minimum=-36000,
        maximum=36000, decimals=3, step=0.04, fixed=True,
        help="How far into that part the layer starts",
    ),
    PropertySpec(
        "time.after", "Then", Kind.CHOICE, "stay", "Time",
        options=(
            ("stay", "Its last frame stays"), ("end", "Nothing is shown"),
            ("loop", "From the start again"), ("there-and-back", "There and back"),
        ),
    ),
    PropertySpec(
        "time.times", "Times", Kind.NUMBER, 0.0, "Time", minimum=0, maximum=10000, whole=True,
        decimals=0, fixed=True, shown_when=("time.after", _PLAYED_AGAIN),
        help="How often it is played; 0 is for ever",
    ),
    PropertySpec("time.frozen", "Frozen", Kind.FLAG, False, "Time"),
    PropertySpec(
        "time.frozen-at", "Frozen at", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0,
        maximum=36000, decimals=3, step=0.04, fixed=True, shown_when=("time.frozen", (True,)),
        help="The second of the source that is shown all the time",
    ),
    PropertySpec(
        "time.curve", "Time curve", Kind.FLAG, False, "Time",
        help="The source's second as a value with keys and easings",
    ),
    PropertySpec(
        "time.source", "Source second", Kind.NUMBER, 0.0, "Time", unit="s", minimum=0,
        maximum=36000, decimals=3, step=0.04, shown_when=("time.curve", (True,)),
    ),
)  # fmt: skip
