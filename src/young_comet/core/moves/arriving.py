"""Moves that arrive, and leave by the same way back."""

from __future__ import annotations

import math
from dataclasses import replace

from ..model.specs import PropertySpec, where
from .base import (
    ARRIVES,
    PASSES,
    PLACED,
    REST,
    SEED,
    SHOWN,
    SIDES,
    STRENGTH,
    Moment,
    MoveKind,
    Params,
    Pose,
    Wipe,
    choice,
    common,
    flag,
    number,
    percent,
    way,
)
from .tempo import NO_PIECES, ONLY_PARTS

BOTH = ("arrive", "leave")


# What fades while it moves has faded in after this share of its time, and begins to fade when so
# much is left of its way out: opacity follows the time, not the way, which is nearly over by then.
_FADE_IN, _FADE_OUT = 0.4, 0.6


def _faded(p: float) -> float:
    return min(1.0, max(0.0, p))


def _shown(m: Moment, sooner: float = 1.0) -> float:
    """The opacity of what is on its way; ``sooner`` so many times."""
    return _faded(m.share * sooner / (_FADE_OUT if m.leaving else _FADE_IN))


def _far(params: Params, m: Moment) -> float:
    """The distance of a move in px."""
    em = params["measure"] == "em"
    far: float = params["distance-em"] * m.em if em else params["distance"]
    return float(far * params["strength"] / 100)


def _fade(p: float, params: Params, m: Moment) -> Pose:
    return Pose(opacity=_faded(p))


def _lift(p: float, params: Params, m: Moment) -> Pose:
    return Pose(offset=(0.0, _far(params, m) * (1 - p)), opacity=_shown(m))


def _sink(p: float, params: Params, m: Moment) -> Pose:
    return Pose(offset=(0.0, -_far(params, m) * (1 - p)), opacity=_shown(m))


def _slide(p: float, params: Params, m: Moment) -> Pose:
    """From just outside itself, seen only within its own box; or from outside the frame."""
    dx, dy = way(params)
    if params["start"] == "edge":
        return Pose(
            offset=(dx * m.size[0] * (1 - p), dy * m.size[1] * (1 - p)),
            clipped=p < 1,
        )
    far = (m.frame[0] + m.size[0], m.frame[1] + m.size[1])
    return Pose(offset=(dx * far[0] * (1 - p), dy * far[1] * (1 - p)))


_POINTS = {
    "middle": (0.0, 0.0), "left": (-0.5, 0.0), "right": (0.5, 0.0), "top": (0.0, -0.5),
    "bottom": (0.0, 0.5),
}  # fmt: skip


def _grow(p: float, params: Params, m: Moment) -> Pose:
    """Out of a point of its box: what is not the middle moves as it grows."""
    start = params["start"] / 100
    s = start + (1 - start) * p
    u, v = _POINTS[params["from"]]
    offset = (u * m.size[0] * (1 - s), v * m.size[1] * (1 - s))
    return Pose(offset=offset, scale=(s, s), opacity=_shown(m))


def _widen(p: float, params: Params, m: Moment) -> Pose:
    across = params["axis"] == "width"
    s = max(0.0, p)
    return Pose(scale=(s, 1.0) if across else (1.0, s))


# What springs away swells at most so much before it goes.
_SWELL = 0.05


def _spring_in(p: float, params: Params, m: Moment) -> Pose:
    s = max(0.0, min(p, 1 + _SWELL) if m.leaving else p)
    tilt = params["lean"] * (1 - p)
    return Pose(scale=(s, s), rotation_deg=tilt, opacity=_shown(m, 2))


def _drop(p: float, params: Params, m: Moment) -> Pose:
    far = params["height"] / 100 * m.frame[1] * params["strength"] / 100
    return Pose(offset=(0.0, -far * (1 - p)), opacity=_shown(m, 2))


def _unroll(p: float, params: Params, m: Moment) -> Pose:
    return Pose(wipe=Wipe("linear", _faded(p), params["angle"], params["softness"]))


def _open(p: float, params: Params, m: Moment) -> Pose:
    angle = 90.0 if params["axis"] == "height" else 0.0
    return Pose(wipe=Wipe("centre", _faded(p), angle, params["softness"]))


def _iris(p: float, params: Params, m: Moment) -> Pose:
    return Pose(wipe=Wipe("iris", _faded(p), 0.0, params["softness"]))


def _focus(p: float, params: Params, m: Moment) -> Pose:
    away = max(0.0, 1 - p)
    s = 1 + (params["scale"] / 100 - 1) * away
    return Pose(
        blur_px=params["blur"] * params["strength"] / 100 * away,
        opacity=_shown(m),
        scale=(s, s),
    )


def _turn_in(p: float, params: Params, m: Moment) -> Pose:
    angle, pivot = params["angle"] * (1 - p), _POINTS[params["hinge"]]
    if params["axis"] == "y":
        return Pose(turn_deg=angle, pivot=pivot, opacity=_shown(m))
    return Pose(tilt_deg=angle, pivot=pivot, opacity=_shown(m))


def _spin(p: float, params: Params, m: Moment) -> Pose:
    s = max(0.0, 1 - (1 - p) * params["shrunk"] / 100)
    return Pose(
        rotation_deg=-params["angle"] * (1 - p),
        scale=(s, s),
        pivot=_POINTS[params["hinge"]],
        opacity=_shown(m),
    )


def _draw_on(p: float, params: Params, m: Moment) -> Pose:
    return Pose(drawn=_faded(p))


def _type_on(p: float, params: Params, m: Moment) -> Pose:
    return Pose(opacity=1.0 if p >= 1 else 0.0, cursor=params["cursor"])


def _scramble(p: float, params: Params, m: Moment) -> Pose:
    return Pose(scrambled=1 - _faded(p), opacity=_faded(p * 6))


def _chance(seed: int, index: int) -> float:
    """A number in 0..1, the same for the same place."""
    x = math.sin(index * 12.9898 + seed * 78.233) * 43758.5453
    return x - math.floor(x)


def _flicker(p: float, params: Params, m: Moment) -> Pose:
    if p >= 1:
        return REST
    step = math.floor(m.time_s * params["rate"])
    lit = _chance(m.seed + 31 * m.nth, step) < _faded(p) ** 0.8
    return Pose(opacity=1.0 if lit else params["dark"] / 100 * _faded(p * 4))


def _tracking(p: float, params: Params, m: Moment) -> Pose:
    k = params["strength"] / 100 * (1 - p)
    return Pose(
        tracking=params["tracking"] * k, blur_px=max(0.0, params["blur"] * k), opacity=_shown(m)
    )


def _alternate(p: float, params: Params, m: Moment) -> Pose:
    sign = 1.0 if m.nth % 2 == 0 else -1.0
    away = 1 - p
    if params["how"] == "turn":
        return Pose(turn_deg=sign * 90 * away, opacity=_shown(m))
    dx, dy = way(params)
    far = _far(params, m) * away * sign
    return Pose(offset=(dx * far, dy * far), opacity=_shown(m))


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
        _fade,
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
        _lift,
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
        _sink,
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
        _slide,
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
        _grow,
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
        _widen,
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
        _spring_in,
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
        _drop,
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
        _unroll,
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
        _open,
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
        _iris,
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
        _focus,
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
        _turn_in,
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
        _spin,
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
        _draw_on,
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
        _type_on,
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
        _scramble,
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
        _flicker,
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
        _tracking,
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
        _alternate,
        0.9,
        fits=PLACED,
        leaving=("Alternate", "Its pieces turn or slide out to two sides by turns."),
    ),
)
