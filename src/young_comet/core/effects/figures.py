"""Things that stand in a picture: counters, lens flares, particles."""

from __future__ import annotations

import math

import numpy as np

from ..geometry import outline as outlines
from ..geometry.affine import Affine
from ..geometry.outline import skia_matrix
from ..model.specs import Kind, PropertySpec, where
from ..pixels import noise
from ..pixels.canvas import Canvas, Gradient
from ..pixels.colour import Rgba
from ..pixels.raster import empty
from ..timing import clock_text
from .base import (
    SEED,
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    choice,
    colour,
    flag,
    flow,
    number,
    pair,
    percent,
    place,
)
from .laid import generator, laid_on

# Characters of a flare: rings of light as (place along the way to the middle, size, strength,
# colour), the streak's length and height, and how strong the glow is.
_FLARES: dict[str, dict[str, object]] = {
    "sun": {
        "glow": 1.0, "streak": (0.0, 0.0), "star": 12,
        "ghosts": (
            (0.35, 0.05, 0.25, "#ffd9a0"), (0.62, 0.09, 0.16, "#9fd8ff"),
            (1.3, 0.14, 0.14, "#ffb3c7"), (1.7, 0.06, 0.2, "#b6ffd9"),
        ),
    },
    "lamp": {
        "glow": 1.3, "streak": (0.0, 0.0), "star": 0,
        "ghosts": ((1.0, 0.05, 0.1, "#ffe9c9"), (1.5, 0.12, 0.08, "#ffcf9a")),
    },
    "streak": {
        "glow": 0.5, "streak": (2.6, 0.014), "star": 0,
        "ghosts": ((0.5, 0.03, 0.18, "#8fc7ff"), (1.4, 0.05, 0.2, "#8fc7ff")),
    },
    "spark": {"glow": 0.6, "streak": (0.5, 0.008), "star": 4, "ghosts": ()},
}  # fmt: skip


_RUNS = where("what", "number", "clock")
_CLOCKS = ("mm:ss", "ss", "ss:ff", "mm:ss:ff", "hh:mm:ss", "hh:mm:ss:ff")


def counter_text(p: Params, work: Work) -> str:
    """What a counter shows at its time."""
    moment = work.time_s
    if p["what"] in ("number", "clock"):
        share = 0.0 if work.length_s <= 0 else min(1.0, max(0.0, moment / work.length_s))
        share = p["progress"] / 100 if p["driven"] == "progress" else share
        value = p["from"] + (p["to"] - p["from"]) * share
        if p["what"] == "number":
            return f"{value:,.{round(p['decimals'])}f}"
        if p["driven"] == "clock":  # in real time, up or down, until it is there
            way = math.copysign(moment, p["to"] - p["from"])
            low, high = sorted((p["from"], p["to"]))
            value = min(high, max(low, p["from"] + way))
        return clock_text(value, p["pattern"], work.fps)
    if p["what"] == "frame":
        return str(math.floor(moment * work.fps + 1e-6))
    frames = math.floor(abs(moment) * work.fps + 1e-6)
    per = max(1, round(work.fps))
    seconds, ff = divmod(frames, per)
    minutes, ss = divmod(seconds, 60)
    hours, mm = divmod(minutes, 60)
    return f"{hours:02d}:{mm:02d}:{ss:02d}:{ff:02d}"


def _counter(p: Params, work: Work, region: Region) -> np.ndarray:
    pixels = empty(region[2] - region[0], region[3] - region[1])
    text = p["before"] + counter_text(p, work) + p["after"]
    outline = work.text(text, p["font"], 600.0, p["size"])
    x, y = work.at(p["place"])
    matrix = Affine.shift(x - region[0], y - region[1]) @ Affine.scaling(work.scale, work.scale)
    Canvas(pixels).fill(outline.skia_path, p["colour"], skia_matrix(matrix), 1.0)
    return pixels


def _flare(p: Params, work: Work, region: Region) -> np.ndarray:
    pixels = empty(region[2] - region[0], region[3] - region[1])
    canvas = Canvas(pixels)
    left, top, right, bottom = work.frame
    size = work.px(p["size"])
    x, y = work.at(p["centre"])
    mx, my = work.at(((left + right) / 2, (top + bottom) / 2))
    x, y, mx, my = x - region[0], y - region[1], mx - region[0], my - region[1]
    r, g, b, _ = p["colour"]
    flicker = 1.0
    if p["flow"]:
        flicker += 0.18 * float(
            noise.fractal(
                (0, 0, 1, 1), (0.0, 0.0), 8.0, octaves=2, seed=3, z=work.time_s * p["flow"]
            )[0, 0]
        )
    k = p["strength"] / 100 * flicker
    look = _FLARES[p["character"]]

    def light(
        cx: float, cy: float, rx: float, ry: float, inner: float, tint: Rgba, turn: float = 0.0
    ) -> None:
        stops = (
            (0.0, (*tint[:3], min(1.0, inner))),
            (0.25, (*tint[:3], min(1.0, inner * 0.35))),
            (0.6, (*tint[:3], min(1.0, inner * 0.07))),
            (1.0, (*tint[:3], 0.0)),
        )
        matrix = (
            Affine.shift(cx, cy)
            @ Affine.rotation(turn)
            @ Affine.scaling(max(0.01, rx), max(0.01, ry))
        )
        gradient = Gradient("radial", (0.0, 0.0), (1.0, 0.0), stops)
        canvas.fill(
            outlines.circles([(0, 0, 1)]).skia_path,
            gradient,
            skia_matrix(matrix),
            1.0,
            "plus-lighter",
        )

    glow = float(look["glow"])  # type: ignore[arg-type]
    light(x, y, size, size, 0.85 * k * glow, p["colour"])
    light(x, y, size * 0.22, size * 0.22, 1.0 * k, (1.0, 1.0, 1.0, 1.0))
    streak: tuple[float, float] = look["streak"]  # type: ignore[assignment]
    length, height = streak
    if length:
        light(x, y, size * length, size * height * 4, 0.9 * k, p["colour"], p["angle"])
    for i in range(int(look["star"])):  # type: ignore[call-overload]
        turn = p["angle"] + i * 360 / int(look["star"])  # type: ignore[call-overload]
        light(x, y, size * (0.9 if i % 2 else 0.55), size * 0.018, 0.5 * k, p["colour"], turn)
    for along, wide, strong, tint in look["ghosts"]:  # type: ignore[attr-defined]
        cx, cy = x + (mx - x) * along * 1.0, y + (my - y) * along * 1.0
        tr, tg, tb = (int(tint[i : i + 2], 16) / 255 for i in (1, 3, 5))
        tone_ = ((tr + r) / 2, (tg + g) / 2, (tb + b) / 2, 1.0)
        ring = (
            (0.0, (*tone_[:3], strong * k * 0.5)),
            (0.8, (*tone_[:3], strong * k)),
            (1.0, (*tone_[:3], 0.0)),
        )
        radius = size * wide * 2
        gradient = Gradient("radial", (cx, cy), (cx + radius, cy), ring)
        canvas.fill(
            outlines.circles([(cx, cy, radius)]).skia_path,
            gradient,
            skia_matrix(Affine()),
            p["ghosts"] / 100,
            mode="plus-lighter",
        )
    return pixels


def particle_states(p: Params, time_s: float) -> np.ndarray:
    """Where particles are: rows (x, y, turn deg, size, flip, age 0..1, which colour 0..1), px of
    the layer from the source. Each is born again after its life; all follows from the seed."""
    count, life = round(p["count"]), max(0.05, p["life"])
    seed = round(p["seed"])
    r = [noise.random_numbers(count, seed, k) for k in range(9)]
    if p["once"]:
        age = time_s - r[0] * p["burst"]
        alive = (age >= 0) & (age < life)
    else:
        age = np.mod(time_s + r[0] * life, life)
        alive = np.ones(count, bool)
    heading = np.radians(p["angle"] + (r[1] - 0.5) * p["spread"])
    speed = p["speed"] * (0.55 + 0.9 * r[2])
    drag = 1 - np.exp(-age * 1.2)
    way = speed * drag / 1.2
    width, height = p["area"]
    x = (r[3] - 0.5) * width + np.cos(heading) * way
    y = (r[4] - 0.5) * height + np.sin(heading) * way + 0.5 * p["gravity"] * age * age
    sway = p["sway"] * np.sin(age * (1.5 + 2 * r[5]) + r[6] * 6.283)
    turn = r[7] * 360 + (r[5] - 0.5) * 2 * p["tumble"] * age
    flip = np.cos(np.radians(r[6] * 360 + (0.5 + r[8]) * p["tumble"] * age))
    size = p["size"] * (0.55 + 0.9 * r[8])
    result: np.ndarray = np.stack([x + sway, y, turn, size, flip, age / life, r[5]], axis=1)[alive]
    return result


def _particles(p: Params, work: Work, region: Region) -> np.ndarray:
    pixels = empty(region[2] - region[0], region[3] - region[1])
    canvas = Canvas(pixels)
    cx, cy = work.at(p["centre"])
    cx, cy = cx - region[0], cy - region[1]
    inks = (p["colour"], p["colour-2"], p["colour-3"])
    kind = p["kind"]
    for x, y, turn, size, flip, age, which in particle_states(p, work.time_s):
        fade = min(1.0, (1 - age) * 4, age * 12)
        if fade <= 0:
            continue
        px, py = cx + work.px(x), cy + work.px(y)
        half = work.px(size)
        if not (
            -half * 2 < px < pixels.shape[1] + half * 2
            and -half * 2 < py < pixels.shape[0] + half * 2
        ):
            continue
        tint = inks[min(2, int(which * 3))]
        at = Affine.shift(px, py) @ Affine.rotation(turn)
        if kind == "confetti":
            matrix = at @ Affine.scaling(half / 2, half / 3.2 * max(0.08, abs(flip)))
            dim = 0.72 + 0.28 * abs(flip)
            tint = (tint[0] * dim, tint[1] * dim, tint[2] * dim, tint[3])
            canvas.fill(_SQUARE.skia_path, tint, skia_matrix(matrix), fade)
        else:
            matrix = at @ Affine.scaling(half, half)
            soft = Gradient(
                "radial",
                (0.0, 0.0),
                (1.0, 0.0),
                ((0.0, tint), (0.3, (*tint[:3], tint[3] * 0.5)), (1.0, (*tint[:3], 0.0))),
            )
            canvas.fill(
                _DISC.skia_path, soft, skia_matrix(matrix), fade * (0.35 + 0.65 * abs(flip))
            )
    return pixels


_SQUARE = outlines.rectangle(2, 2)

_DISC = outlines.circles([(0.0, 0.0, 1.0)])

FIGURES = (
    EffectKind(
        "counter", "Timecode and counter", "generate", "Shows time, frames, or a number that runs.",
        (
            choice(
                "what", "Counter type",
                (("timecode", "Timecode"), ("frame", "Frame"), ("number", "A number"),
                 ("clock", "A time, up or down")), help="What is counted: numbers, a time, a date",
            ),
            PropertySpec("font", "Typeface", Kind.FONT, "jetbrains-mono", "Effect",
                help="The face that its figures are set in"),
            number("size", "Font size", 64, "px", 1, 2000,
                help="Height of an em"), place("place", "Figure position",
                help="Where the figures stand"),
            colour("colour", "Colour", "#f8f1e4"),
            number("from", "Start value", 0, when=_RUNS, help="Of a time, seconds"),
            number("to", "End value", 100, when=_RUNS, help="Of a time, seconds"),
            choice(
                "pattern", "Time format", tuple((each, each) for each in _CLOCKS),
                when=where("what", "clock"), help="How the time is written",
            ),
            number("decimals", "Decimals", 0, "", 0, 6, whole=True, when=where("what", "number"),
                help="Figures behind the point"),
            choice(
                "driven", "Counter driver",
                (("span", "The layer's span"), ("progress", "Progress"),
                 ("clock", "The clock (a time)")),
                when=_RUNS,
                help="By the time, or by a progress with keys",
            ),
            percent("progress", "Progress", 0, help="0 is the start value, 100 the end value"),
            PropertySpec("before", "Prefix", Kind.TEXT, "", "Effect",
                help="What is written before the figures"),
            PropertySpec("after", "Suffix", Kind.TEXT, "", "Effect",
                help="What is written behind the figures"), *laid_on("frame"),
        ),
        generator(_counter), timed=True, fills=True,
    ),
    EffectKind(
        "lens-flare", "Lens flare", "generate", "Light in the lens, with several characters.",
        (
            place("centre", "Centre"),
            choice(
                "character", "Lens type",
                (("sun", "Sun"), ("lamp", "Lamp"), ("streak", "Streak"), ("spark", "Spark")),
                help="Of which figures the flare consists",
            ),
            number("size", "Size", 320, "px", 1, 4000),
            percent("strength", "Strength", 100, 0, 300), percent("ghosts", "Ring strength", 100,
                help="How strong the rings across the picture are"),
            angle("angle", "Angle", 0),
            colour("colour", "Colour", "#ffd28a"), flow(), *laid_on("frame", "screen"),
        ),
        generator(_flare), timed=True, fills=True,
    ),
    EffectKind(
        "particles", "Particles", "generate", "Confetti and dust.",
        (
            choice("kind", "Particle type", (("confetti", "Confetti"), ("dust", "Dust")),
                help="The shape of each particle"),
            number("count", "Particle count", 120, "", 1, 2000, whole=True,
                help="How many there are at once"),
            place("centre", "Source position", help="Where they come from"),
            pair("area", "Source size", (600.0, 40.0), "px", 0, 20000,
                help="How large the area is that they come from"),
            number("size", "Particle size", 18, "px", 0.5, 400, help="How large each of them is"),
            angle("angle", "Direction", 270), number("spread", "Spread angle", 70, "°", 0, 360,
                help="How far their directions differ"),
            number("speed", "Speed", 700, "px/s", 0, 10000, help="How fast they set out"),
            number("gravity", "Gravity", 500, "px/s²", -5000, 5000,
                help="How they are pulled down; negative values lift them"),
            number("sway", "Sway width", 20, "px", 0, 1000,
                help="How far they drift from side to side"),
            number("tumble", "Tumble rate", 260, "°/s", 0, 3000, help="How fast they turn"),
            number("life", "Lifetime", 2.4, "s", 0.1, 60, decimals=2, step=0.1,
                help="How long each is seen"),
            flag("once", "Single burst", help="All set out at the start and none after"),
            number("burst", "Burst duration", 0.4, "s", 0, 60, decimals=2, step=0.1,
                help="Over how long the burst sets out"),
            colour("colour", "Colour", "#ff7a45"), colour("colour-2", "Second colour", "#ffb44a",
                help="A share of them has this colour"),
            colour("colour-3", "Third colour", "#2f9fb3",
                help="A share of them has this colour"), SEED, *laid_on("frame"),
        ),
        generator(_particles), timed=True, fills=True,
    ),
)  # fmt: skip
