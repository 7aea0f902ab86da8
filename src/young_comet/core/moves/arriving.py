"""Moves that arrive, and leave by the same way back."""

from __future__ import annotations

from dataclasses import replace

from ..model.specs import PropertySpec, where
from . import ways
from .base import (
    ARRIVES,
    PASSES,
    PLACED,
    SEED,
    SHOWN,
    SIDES,
    STRENGTH,
    MoveKind,
    choice,
    common,
    flag,
    number,
    percent,
)
from .tempo import NO_PIECES, ONLY_PARTS

BOTH = ("arrive", "leave")

# Back a little first, as a hand that throws.
_DRAWN_BACK = "cubic-bezier(0.4, -0.22, 0.85, 0.45)"

_PARTS = (
    ("middle", "Its middle"), ("left", "Its left"), ("right", "Its right"), ("top", "Its top"),
    ("bottom", "Its bottom"),
)  # fmt: skip
_HINGE = choice(
    "hinge", "Hinge", (("middle", "Its pivot"), *_PARTS[1:]), help="The edge about which it turns"
)
_AXES = (("width", "Width"), ("height", "Height"))


def _distance(em: float, px: float) -> tuple[PropertySpec, ...]:
    """How far away a move begins: by the size of letters, or in px of the scene."""
    far = "How far from its place it begins"
    measures = (("em", "Size of its letters"), ("px", "Pixels"))
    ems = number("distance-em", "Distance", em, "em", 0, 100, step=0.05, decimals=2, help=far)
    pixels = number("distance", "Pixel distance", px, "px", 0, 8000, help=far)
    return (
        choice(
            "measure", "Measured by", measures,
            help="The size of its letters (half the shorter side of what has none), or pixels",
        ),
        replace(ems, shown_when=where("measure", "em")),
        replace(pixels, shown_when=where("measure", "px")),
    )  # fmt: skip


_SOFT = percent("softness", "Softness", 8, 100, help="How wide its edge is")

ARRIVING = (
    MoveKind(
        "fade",
        "Fade",
        BOTH,
        "Comes out of nothing.",
        common("ease-in-out"),
        ways.fade,
        0.5,
        fits=(*SHOWN, "treatment"),
        leaves="ease-in-out",
        leaving=("Fade out", "Goes into nothing."),
    ),
    MoveKind(
        "lift",
        "Lift",
        BOTH,
        "Rises into its place.",
        (
            *_distance(0.5, 90),
            STRENGTH,
            *common(ARRIVES),
        ),
        ways.lift,
        0.9,
        fits=PLACED,
        onward="back",
        leaving=("Sink", "Sinks out of its place."),
    ),
    MoveKind(
        "sink",
        "Sink",
        BOTH,
        "Comes down into its place.",
        (
            *_distance(0.5, 90),
            STRENGTH,
            *common(ARRIVES),
        ),
        ways.sink,
        0.9,
        fits=PLACED,
        onward="back",
        leaving=("Lift", "Rises out of its place."),
    ),
    MoveKind(
        "slide",
        "Slide",
        BOTH,
        "From behind its own edge, or from outside the frame.",
        (
            choice("side", "Side", SIDES, "bottom", help="From which side it comes"),
            choice(
                "start",
                "Start position",
                (("edge", "Behind its own edge"), ("frame", "Outside the frame")),
                help="How far away it begins: outside the frame, or by its own size",
            ),
            *common(ARRIVES),
        ),
        ways.slide,
        0.8,
        onward="back",
        leaving=("Slide away", "Behind its own edge, or out of the frame."),
    ),
    MoveKind(
        "grow",
        "Grow",
        BOTH,
        "Grows out of a point of its box.",
        (
            number(
                "start", "Start scale", 70, "%", 0, 400, decimals=0, help="How large it is at first"
            ),
            choice("from", "Origin", _PARTS, help="The point that it grows from"),
            *common(ARRIVES),
        ),
        ways.grow,
        0.7,
        fits=PLACED,
        leaving=("Shrink", "Shrinks into a point of its box."),
    ),
    MoveKind(
        "widen",
        "Widen",
        BOTH,
        "Opens from its middle outwards.",
        (
            choice("axis", "Opening axis", _AXES, help="Along which of its axes it opens"),
            *common(ARRIVES),
        ),
        ways.widen,
        0.6,
        fits=PLACED,
        leaving=("Narrow", "Closes towards its middle."),
    ),
    MoveKind(
        "spring-in",
        "Spring in",
        BOTH,
        "Pops up and swings out.",
        (
            number(
                "lean", "Lean angle", -12, "°", -180, 180, help="How far it leans while it springs"
            ),
            *common("spring(0.5)"),
        ),
        ways.spring_in,
        1.0,
        fits=PLACED,
        leaves=_DRAWN_BACK,
        leaving=("Spring away", "Swells a little and is gone."),
    ),
    MoveKind(
        "drop",
        "Drop and bounce",
        BOTH,
        "Falls into its place and bounces.",
        (
            percent(
                "height", "Drop height", 35, 300, help="How far it falls, of the frame's height"
            ),
            STRENGTH,
            *common("bounce-out(0.3)"),
        ),
        ways.drop,
        0.9,
        fits=PLACED,
        leaving=("Spring off", "Springs off upwards."),
    ),
    MoveKind(
        "unroll",
        "Unroll",
        BOTH,
        "A soft edge passes over it.",
        (
            number(
                "angle",
                "Direction",
                0,
                "°",
                widget="dial",
                help="Where its edge runs to, clockwise from the right",
            ),
            _SOFT,
            *common(PASSES, besides=NO_PIECES),
        ),
        ways.unroll,
        0.8,
        fits=SHOWN,
        leaves=PASSES,
        onward="onwards",
        leaving=("Roll up", "A soft edge takes it away."),
    ),
    MoveKind(
        "open",
        "Open",
        BOTH,
        "Opens from its centre line.",
        (
            choice("axis", "Opening axis", _AXES, help="Along which of its axes it opens"),
            _SOFT,
            *common(PASSES, besides=NO_PIECES),
        ),
        ways.open,
        0.8,
        fits=SHOWN,
        leaves=PASSES,
        leaving=("Close", "Closes on its centre line."),
    ),
    MoveKind(
        "iris",
        "Iris",
        BOTH,
        "A growing circle shows it.",
        (_SOFT, *common(PASSES, besides=NO_PIECES)),
        ways.iris,
        0.8,
        fits=SHOWN,
        leaves=PASSES,
        leaving=("Iris closes", "A shrinking circle takes it away."),
    ),
    MoveKind(
        "focus",
        "Focus",
        BOTH,
        "Out of a blur.",
        (
            number("blur", "Blur radius", 24, "px", 0, 400, help="How blurred it is at first"),
            number(
                "scale",
                "Start scale",
                106,
                "%",
                10,
                400,
                decimals=0,
                help="How large it is at first",
            ),
            STRENGTH,
            *common(ARRIVES),
        ),
        ways.focus,
        0.8,
        fits=SHOWN,
        leaving=("Blur away", "Into a blur."),
    ),
    MoveKind(
        "turn-in",
        "Turn in",
        BOTH,
        "Turns towards the eye, in perspective.",
        (
            choice(
                "axis",
                "Turning axis",
                (("y", "Upright axis"), ("x", "Level axis")),
                help="About which of its axes it turns",
            ),
            number(
                "angle",
                "Start angle",
                90,
                "°",
                -3600,
                3600,
                widget="dial",
                help="How far it is turned at first",
            ),
            _HINGE,
            *common(ARRIVES),
        ),
        ways.turn_in,
        0.9,
        fits=PLACED,
        onward="back",
        leaving=("Turn away", "Turns away from the eye, in perspective."),
    ),
    MoveKind(
        "spin",
        "Spin",
        BOTH,
        "Turns into its place.",
        (
            number(
                "angle",
                "Start angle",
                90,
                "°",
                -3600,
                3600,
                widget="dial",
                help="How far it is turned at first",
            ),
            percent("shrunk", "Shrinkage", 60, 100, help="How much smaller it is at first"),
            _HINGE,
            *common(ARRIVES),
        ),
        ways.spin,
        0.9,
        fits=PLACED,
        onward="onwards",
        leaving=("Spin away", "Turns out of its place."),
    ),
    MoveKind(
        "draw-on",
        "Draw on",
        BOTH,
        "Its stroke is drawn; letters are filled after it.",
        common("ease-in-out", besides=NO_PIECES),
        ways.draw_on,
        1.0,
        fits=("shape", "text"),
        leaves="ease-in-out",
        leaving=("Draw off", "Its stroke is taken back."),
    ),
    MoveKind(
        "type-on",
        "Type on",
        BOTH,
        "Letter by letter, with a cursor.",
        (
            flag("cursor", "Cursor", True, help="A cursor stands behind the last letter"),
            *common("linear", "letters", 0, 0.05, ONLY_PARTS),
        ),
        ways.type_on,
        1.2,
        fits=("text",),
        leaves="linear",
        last_first=True,
        leaving=("Type off", "Letter by letter, back to the cursor."),
    ),
    MoveKind(
        "scramble",
        "Scramble",
        BOTH,
        "Other letters first, then its own.",
        (
            SEED,
            *common("linear", "letters", besides=ONLY_PARTS),
        ),
        ways.scramble,
        1.0,
        fits=("text",),
        leaves="linear",
        leaving=("Scramble away", "Its letters become others and go."),
    ),
    MoveKind(
        "flicker",
        "Flicker",
        BOTH,
        "Lights up unsteadily.",
        (
            number("rate", "Flicker rate", 14, "/s", 1, 60, help="How often it changes"),
            percent("dark", "Dark opacity", 8, 100, help="How much of it is seen while it is dark"),
            SEED,
            *common("linear"),
        ),
        ways.flicker,
        0.8,
        fits=(*SHOWN, "treatment"),
        leaves="linear",
        leaving=("Flicker out", "Goes out unsteadily."),
    ),
    MoveKind(
        "tracking",
        "Tracking closes",
        BOTH,
        "Letters come together.",
        (
            number(
                "tracking",
                "Extra tracking",
                250,
                "‰",
                -2000,
                5000,
                decimals=0,
                help="How much wider its letters are set at first",
            ),
            number("blur", "Blur radius", 6, "px", 0, 400, help="How blurred it is at first"),
            STRENGTH,
            *common(ARRIVES, besides=NO_PIECES),
        ),
        ways.tracking,
        1.2,
        fits=("text",),
        leaving=("Tracking opens", "Letters drift apart."),
    ),
    MoveKind(
        "alternate",
        "Alternate",
        BOTH,
        "Its pieces turn or slide in from two sides by turns.",
        (
            choice(
                "how",
                "Displacement",
                (("slide", "Slide"), ("turn", "Turn")),
                help="How every other piece is away: by sides, turned or scaled",
            ),
            choice("side", "Side", SIDES, "top", help="From which side it comes"),
            *_distance(1.2, 240),
            STRENGTH,
            *common(ARRIVES, "slices"),
        ),
        ways.alternate,
        0.9,
        fits=PLACED,
        leaving=("Alternate", "Its pieces turn or slide out to two sides by turns."),
    ),
)
