"""What a text says, its letters, its lines, and the path that it may follow."""

from __future__ import annotations

from dataclasses import replace

from ...model.specs import Kind, PropertySpec, where
from ...pixels.mixing import AROUND, MIXINGS
from .paints import paint_specs, stroke_specs

EMBER = ((0.0, "#ff7a45"), (1.0, "#e85d8f"))

WORDS = (
    PropertySpec("text", "Text", Kind.WORDS, "Text", "Text",
        help="The words, with line breaks as typed"),
)  # fmt: skip

# Of the whole text, and of a run.
LETTERS = (
    PropertySpec("text.font", "Typeface", Kind.FONT, "montserrat", "Text",
        help="The face that its letters are set in"),
    PropertySpec(
        "text.weight", "Font weight", Kind.NUMBER, 600.0, "Text", minimum=100, maximum=1000,
        step=10, decimals=0,
        help="How bold its letters are; a variable face takes every weight in its range",
    ),
    PropertySpec(
        "text.size", "Font size", Kind.NUMBER, 120.0, "Text", unit="px", minimum=1, maximum=4000,
        help="Height of an em",
    ),
    PropertySpec(
        "text.tracking", "Tracking", Kind.NUMBER, 0.0, "Text", unit="‰", minimum=-1000,
        maximum=5000, decimals=0, help="Extra space between letters, in thousandths of an em",
    ),
    PropertySpec(
        "text.width", "Letter width", Kind.NUMBER, 100.0, "Letters", unit="%", minimum=25,
        maximum=400, decimals=0,
        help="How wide its letters are drawn, where the typeface has an axis for it: Archivo",
    ),
    PropertySpec(
        "text.slant", "Slant", Kind.NUMBER, 0.0, "Letters", unit="°", minimum=-60, maximum=60,
        help="How far its letters lean to the right: by the typeface's own axis, or sheared",
    ),
    PropertySpec(
        "text.optical", "Optical size", Kind.NUMBER, 0.0, "Letters", unit="px", minimum=0,
        maximum=4000,
        help="For which size its letters are drawn, where the typeface has an axis for it (Inter, "
        "Source Serif); 0 is their own size",
    ),
    PropertySpec(
        "text.raised", "Baseline shift", Kind.NUMBER, 0.0, "Letters", unit="%", minimum=-1000,
        maximum=1000,
        help="How far above the line its letters stand, in percent of their size",
    ),
    PropertySpec(
        "text.case", "Letter case", Kind.CHOICE, "typed", "Letters",
        options=(("typed", "As typed"), ("upper", "Capitals"), ("lower", "Small letters"),
                 ("title", "First letters")),
        help="How its letters are shown, whatever is typed",
    ),
    PropertySpec(
        "text.features", "Features", Kind.FEATURES, "", "Letters",
        help="What the typeface can do, by tags with commas between: smcp (small capitals), tnum "
        "(figures of one width), onum, ss01, liga off",
    ),
)  # fmt: skip

_SET = where("text.box", "box")
_SHRINKS = (*_SET, *where("text.fit", "shrink"))

LINES = (
    PropertySpec(
        "text.leading", "Leading", Kind.NUMBER, 120.0, "Text", unit="%", minimum=0, maximum=1000,
        help="Distance of the lines, in percent of the size",
    ),
    PropertySpec(
        "text.align", "Text alignment", Kind.CHOICE, "centre", "Text",
        options=(("left", "Left"), ("centre", "Centre"), ("right", "Right"),
                 ("justified", "Justified")),
        help="To which side its lines are set; justified ones fill the width of their box",
    ),
    PropertySpec(
        "text.grows", "Growth direction", Kind.CHOICE, "side", "Text",
        options=(("side", "From the side it is set to"), ("middle", "From its middle")),
        shown_when=where("text.align", "left", "right", "justified"),
        help="What stays in place when words, size or tracking change: set left, its left edge",
    ),
    PropertySpec(
        "text.box", "Line breaks", Kind.CHOICE, "typed", "Lines",
        options=(("typed", "As typed"), ("box", "In a box")),
        help="In a box lines break where it is full",
    ),
    PropertySpec(
        "text.box-size", "Box size", Kind.POINT, (800.0, 300.0), "Lines", unit="px", minimum=1,
        maximum=1e5, percent_of="frame", shown_when=_SET, help="Width and height of the box",
    ),
    PropertySpec(
        "text.fit", "Too many words", Kind.CHOICE, "over", "Lines",
        options=(("over", "Run over"), ("shrink", "Become smaller")), shown_when=_SET,
        help="What words do that do not fit into the box",
    ),
    PropertySpec(
        "text.least", "Least size", Kind.NUMBER, 12.0, "Lines", unit="px", minimum=1, maximum=4000,
        shown_when=_SHRINKS, help="No smaller than this",
    ),
    PropertySpec(
        "text.vertical", "Vertical alignment", Kind.CHOICE, "top", "Lines",
        options=(("top", "Top"), ("middle", "Middle"), ("bottom", "Bottom")), shown_when=_SET,
        help="Where in the box the lines lie",
    ),
    PropertySpec(
        "text.measure", "Measured by", Kind.CHOICE, "line", "Lines",
        options=(("line", "Whole lines"), ("cap", "Capitals"), ("baseline", "Baselines")),
        shown_when=_SET,
        help="By what of the first and the last line they are put there",
    ),
    PropertySpec(
        "text.spacing", "Paragraph space", Kind.NUMBER, 0.0, "Lines", unit="%", minimum=-1000,
        maximum=1000, help="After each typed line break, in percent of the size",
    ),
    PropertySpec(
        "text.indent", "First-line indent", Kind.NUMBER, 0.0, "Lines", unit="%", minimum=-1000,
        maximum=5000, help="Of the first line of each paragraph, in percent of the size",
    ),
    PropertySpec(
        "text.stacking", "Overlap", Kind.CHOICE, "forward", "Letters",
        options=(("forward", "Later ones above"), ("back", "Earlier ones above"),
                 ("middle", "Middle ones above")),
        help="How letters and words that are on their way lie over one another",
    ),
    PropertySpec(
        "text.by-ink", "Set by what is seen", Kind.FLAG, False, "Lines",
        help="Lines are aligned, and the text is centred, by the ink of its letters instead of "
        "their set width: exactly in the middle to the eye",
    ),
)  # fmt: skip

# A text follows a path, where it has one.
_LED = where("text.path", given=True)
ALONG = (
    PropertySpec(
        "text.path", "Baseline path", Kind.PATH, "", "Along a path",
        help="The text follows it. Draw it, or take the outline of a shape",
    ),
    PropertySpec(
        "text.path-offset", "Path offset", Kind.NUMBER, 0.0, "Along a path", unit="%",
        minimum=-10000,
        maximum=10000, shown_when=_LED,
        help="In percent of the path's length, from where the alignment puts the text: key it "
        "and the text travels",
    ),
    PropertySpec(
        "text.path-gap", "Baseline gap", Kind.NUMBER, 0.0, "Along a path", unit="px", minimum=-1e6,
        maximum=1e6, shown_when=_LED,
        help="How far the letters stand off the path",
    ),
    PropertySpec(
        "text.path-reversed", "Other side", Kind.FLAG, False, "Along a path",
        shown_when=_LED,
        help="The letters stand on the path's other side and run the other way",
    ),
    PropertySpec(
        "text.path-upright", "Upright letters", Kind.FLAG, False, "Along a path", shown_when=_LED,
        help="The letters keep upright instead of turning with the path",
    ),
)  # fmt: skip

ACROSS = PropertySpec(
    "fill.across", "Fill across", Kind.CHOICE, "block", "Fill",
    options=(("block", "The whole text"), ("line", "Each line"), ("word", "Each word"),
             ("letter", "Each letter")),
    shown_when=where("fill.kind", "linear", "radial", "conic", "picture", "layer"),
    help="What a gradient or a picture is laid over",
)  # fmt: skip


_COUNTS = where("number.shows", "number")
_TIMED = where("number.shows", "time")
_RUNS = where("number.shows", "number", "time")
# A number that runs, in the place of the # in the words.
NUMBER = (
    PropertySpec(
        "number.shows", "Number", Kind.CHOICE, "none", "Number",
        options=(("none", "None"), ("number", "A number"), ("time", "A time")),
        help="Puts a number that has keys in the place of each # in the words: €#, # kites, #%",
    ),
    PropertySpec(
        "number.value", "Number value", Kind.NUMBER, 0.0, "Number", minimum=-1e12, maximum=1e12,
        decimals=3, shown_when=_RUNS, help="The number, or the seconds of the time: key it",
    ),
    PropertySpec(
        "number.decimals", "Number decimals", Kind.NUMBER, 0.0, "Number", minimum=0, maximum=6,
        decimals=0, whole=True, shown_when=_COUNTS, help="Figures after the decimal point",
    ),
    PropertySpec(
        "number.digits", "Least digits", Kind.NUMBER, 1.0, "Number", minimum=1, maximum=15,
        decimals=0, whole=True, shown_when=_COUNTS, help="Zeros lead where it has fewer",
    ),
    PropertySpec(
        "number.groups", "Between thousands", Kind.CHOICE, "none", "Number",
        options=(("none", "Nothing"), ("comma", "Comma"), ("point", "Point"),
                 ("blank", "Thin blank"), ("apostrophe", "Apostrophe")),
        shown_when=_COUNTS, help="What parts its thousands",
    ),
    PropertySpec(
        "number.comma", "Decimal comma", Kind.FLAG, False, "Number", shown_when=_COUNTS,
        help="A comma in place of the decimal point",
    ),
    PropertySpec(
        "number.plus", "Plus sign", Kind.FLAG, False, "Number", shown_when=_COUNTS,
        help="A plus before numbers above 0",
    ),
    PropertySpec(
        "number.rolls", "Rolling digits", Kind.FLAG, False, "Number", shown_when=_COUNTS,
        help="Each digit slides up to the next one, as on a counter of wheels. With enough least "
        "digits nothing else moves",
    ),
    PropertySpec(
        "number.pattern", "Time pattern", Kind.CHOICE, "mm:ss", "Number",
        options=tuple((each, each) for each in (
            "mm:ss", "ss", "ss:ff", "mm:ss:ff", "hh:mm:ss", "hh:mm:ss:ff")),
        shown_when=_TIMED, help="Hours, minutes, seconds, frames",
    ),
    PropertySpec(
        "number.tabular", "Figures of one width", Kind.FLAG, True, "Number", shown_when=_RUNS,
        help="So that nothing shivers while it runs, where the typeface has such figures",
    ),
)  # fmt: skip

_BOXED = where("behind.across", "block", "line", "word")
_GRADED = (*_BOXED, *where("behind.kind", "linear"))
# A box behind the letters, that fits them.
BEHIND = (
    PropertySpec(
        "behind.across", "Box behind", Kind.CHOICE, "none", "Box behind",
        options=(("none", "None"), ("block", "The whole"), ("line", "Each line"),
                 ("word", "Each word")),
        help="A box behind the letters that fits them, whatever they say",
    ),
    PropertySpec(
        "behind.kind", "Box fill", Kind.CHOICE, "flat", "Box behind",
        options=(("flat", "One colour"), ("linear", "A gradient")), shown_when=_BOXED,
        help="What it is painted with",
    ),
    PropertySpec(
        "behind.colour", "Box colour", Kind.COLOUR, "#ffb44a", "Box behind",
        shown_when=(*_BOXED, *where("behind.kind", "flat")), help="What it is painted with",
    ),
    PropertySpec(
        "behind.stops", "Box gradient", Kind.STOPS, EMBER, "Box behind", shown_when=_GRADED,
        help="The colours across it",
    ),
    PropertySpec(
        "behind.mixing", "Box gradient mixing", Kind.CHOICE, AROUND, "Box behind", options=MIXINGS,
        shown_when=_GRADED, help="Whether the colours between stops keep their strength",
    ),
    PropertySpec(
        "behind.angle", "Gradient angle", Kind.NUMBER, 0.0, "Box behind", unit="°", minimum=-36000,
        maximum=36000, widget="dial", shown_when=_GRADED,
        help="Where the gradient runs to, clockwise from the right",
    ),
    PropertySpec(
        "behind.padding", "Box padding", Kind.POINT, (24.0, 12.0), "Box behind", unit="px",
        minimum=-1e4, maximum=1e4, shown_when=_BOXED,
        help="How far it reaches beyond the letters, at the sides and above and below",
    ),
    PropertySpec(
        "behind.radius", "Box corner radius", Kind.NUMBER, 8.0, "Box behind", unit="px", minimum=0,
        maximum=1e4, shown_when=_BOXED, help="How round its corners are",
    ),
    PropertySpec(
        "behind.skew", "Box skew", Kind.NUMBER, 0.0, "Box behind", unit="°", minimum=-80,
        maximum=80, shown_when=_BOXED, help="How far its sides lean to the right",
    ),
    PropertySpec(
        "behind.grown", "Box growth", Kind.NUMBER, 100.0, "Box behind", unit="%", minimum=0,
        maximum=100, shown_when=_BOXED,
        help="How far it has grown from where the letters begin, line by line: key it and a "
        "highlighter passes behind the words",
    ),
)  # fmt: skip


_SHADED = where("shadow.opacity", least=0.01)
# A shadow that each letter casts on what is below its text.
SHADOW = (
    PropertySpec(
        "shadow.opacity", "Letter shadow", Kind.NUMBER, 0.0, "Shadow", unit="%", minimum=0,
        maximum=100, decimals=0,
        help="How dark the shadow of its letters is; 0 is none. It goes along with each of them",
    ),
    PropertySpec(
        "shadow.colour", "Shadow colour", Kind.COLOUR, "#0b1020", "Shadow", shown_when=_SHADED,
        help="The colour of the shadow",
    ),
    PropertySpec(
        "shadow.offset", "Shadow offset", Kind.POINT, (6.0, 8.0), "Shadow", unit="px",
        minimum=-1e4, maximum=1e4, shown_when=_SHADED,
        help="How far beside the letters it falls, in the layer's own space",
    ),
    PropertySpec(
        "shadow.blur", "Shadow softness", Kind.NUMBER, 6.0, "Shadow", unit="px", minimum=0,
        maximum=500, shown_when=_SHADED, help="How soft its edge is",
    ),
)  # fmt: skip


def _as_run(spec: PropertySpec) -> PropertySpec:
    """The declaration as a run has it: what is not set is as in the whole text."""
    name = spec.id.removeprefix("text.")
    shown = tuple(
        replace(need, of=tuple(each.removeprefix("text.") for each in need.of))
        for need in spec.shown_when
    )
    return replace(spec, id=name, section="Run", follows=spec.id, shown_when=shown)


# Of a run: all that its letters and their paint have.
RUN = (
    *(_as_run(spec) for spec in LETTERS),
    _as_run(PropertySpec("fill.on", "Fill", Kind.FLAG, True, "Fill",
            help="Whether its inside is painted")),
    _as_run(ACROSS),
    *(_as_run(spec) for spec in paint_specs("#f8f1e4", EMBER)),
    *(_as_run(spec) for spec in stroke_specs(0.0)),
    *(_as_run(spec) for spec in SHADOW),
    *(_as_run(spec) for spec in BEHIND),
)  # fmt: skip
