"""Particles: confetti, dust, sparks, snow, bubbles, streaks of light."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..geometry import outline as outlines
from ..geometry.affine import Affine
from ..geometry.outline import skia_matrix
from ..pixels import noise
from ..pixels.canvas import Canvas, Gradient
from ..pixels.colour import Rgba
from ..pixels.raster import empty
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
    number,
    pair,
    percent,
    place,
)
from .laid import generator, laid_on

# Of their speed at the start so much is lost every second: e^(-1.2 t).
_DRAG = 1.2
# Where a half-open shutter stands in a frame; smears are as long as the way in that time.
_SHUTTER = 0.5


@dataclass(frozen=True, slots=True)
class Swarm:
    """Particles that are seen, arrays (n,): their places and speeds in px (a second) of the layer
    from the source, turns in degrees, sizes px, ``flip`` the cosine of a tumbling leaf (1: seen
    from the front), ages 0..1, which of three colours 0..1, how near 0..1."""

    x: np.ndarray
    y: np.ndarray
    speed_x: np.ndarray
    speed_y: np.ndarray
    turn: np.ndarray
    size: np.ndarray
    flip: np.ndarray
    age: np.ndarray
    ink: np.ndarray
    near: np.ndarray


def swarm_at(p: Params, time_s: float) -> Swarm:
    """The particles at a time: each is born again after its life; all follows from the seed. Sizes
    are log-normal; with depth, near ones are larger, faster and come last."""
    count, life = round(p["count"]), max(0.05, p["life"])
    seed = round(p["seed"])
    r = [noise.random_numbers(count, seed, k) for k in range(12)]
    if p["once"]:
        age = time_s - r[0] * p["burst"]
        alive = (age >= 0) & (age < life)
    else:
        age = np.mod(time_s + r[0] * life, life)
        alive = np.ones(count, bool)
    depth, near = p["depth"] / 100, r[9]
    heading = np.radians(p["angle"] + (r[1] - 0.5) * p["spread"])
    speed = p["speed"] * (0.55 + 0.9 * r[2]) * (1 + depth * (0.8 * near - 0.4))
    way, left = speed * (1 - np.exp(-age * _DRAG)) / _DRAG, speed * np.exp(-age * _DRAG)
    width, height = p["area"]
    gravity = p["gravity"] * (1 + depth * (0.8 * near - 0.4))
    rate, begins = 1.5 + 2 * r[5], r[6] * 6.283
    bell = (r[8] + r[10] + r[11] - 1.5) * 2  # three even numbers together: deviation 1
    size = p["size"] * np.exp(p["variation"] / 100 * bell)
    found = {
        "x": (r[3] - 0.5) * width + np.cos(heading) * way + p["sway"] * np.sin(age * rate + begins),
        "y": (r[4] - 0.5) * height + np.sin(heading) * way + 0.5 * gravity * age * age,
        "speed_x": np.cos(heading) * left + p["sway"] * rate * np.cos(age * rate + begins),
        "speed_y": np.sin(heading) * left + gravity * age,
        "turn": r[7] * 360 + (r[5] - 0.5) * 2 * p["tumble"] * age,
        "size": size * (1 + depth * (1.3 * near - 0.65)),
        "flip": np.cos(np.radians(r[6] * 360 + (0.5 + r[8]) * p["tumble"] * age)),
        "age": age / life,
        "ink": r[5],
        "near": near,
    }
    order = np.flatnonzero(alive)
    if depth > 0:
        order = order[np.argsort(near[order], kind="stable")]
    return Swarm(**{name: values[order] for name, values in found.items()})


@dataclass(slots=True)
class _One:
    """A particle on the canvas, working px: how it is seen."""

    x: float
    y: float
    half: float
    turn: float
    flip: float
    tint: Rgba
    fade: float
    along: float  # the direction in which it moves, degrees
    way: float  # how far it moves while the shutter is open
    softness: float  # 0: in focus .. 1

    @property
    def place(self) -> Affine:
        return Affine.shift(self.x, self.y)

    def smeared(self, own: Affine, half: float) -> tuple[Affine, float]:
        """A matrix drawn out along the way, and how much of the strength is left."""
        longer = 1 + self.way / (2 * max(0.25, half))
        drawn = Affine.rotation(self.along) @ Affine.scaling(longer, 1.0)
        return self.place @ drawn @ Affine.rotation(-self.along) @ own, longer**-0.7


def _confetti(canvas: Canvas, one: _One) -> None:
    """A leaf of paper: lit in front, its back darker and greyer, a flash when it faces us."""
    turned = abs(one.flip)
    own = Affine.rotation(one.turn) @ Affine.scaling(
        one.half / 2, one.half / 3.2 * max(0.08, turned)
    )
    r, g, b, a = one.tint
    if one.flip < 0:
        grey = 0.3 * r + 0.59 * g + 0.11 * b
        r, g, b = (0.62 * (c + (grey - c) * 0.25) for c in (r, g, b))
    light = 0.78 + 0.22 * turned
    flash = max(0.0, one.flip - 0.9) * 2.5
    r, g, b = (min(1.0, c * light + (1 - c) * flash) for c in (r, g, b))
    matrix, kept = one.smeared(own, one.half / 2)
    canvas.blur = 0.5 * one.softness
    canvas.fill(_SQUARE.skia_path, (r, g, b, a), skia_matrix(matrix), one.fade * kept)
    canvas.blur = 0.0


def _soft(tint: Rgba, *stops: tuple[float, float]) -> Gradient:
    """A disc of one colour, by its strengths at distances from the middle."""
    return Gradient(
        "radial", (0.0, 0.0), (1.0, 0.0),
        tuple((at, (*tint[:3], tint[3] * strength)) for at, strength in stops),
    )  # fmt: skip


def _dust(canvas: Canvas, one: _One) -> None:
    matrix, kept = one.smeared(Affine.scaling(one.half, one.half), one.half)
    disc = _soft(one.tint, (0.0, 1.0), (0.3, 0.5), (1.0, 0.0))
    twinkling = 0.35 + 0.65 * abs(one.flip)
    canvas.fill(_DISC.skia_path, disc, skia_matrix(matrix), one.fade * kept * twinkling)


def _snow(canvas: Canvas, one: _One) -> None:
    """A flake: firm where it is in focus, a large faint disc where it is near."""
    half = one.half * (1 + one.softness)
    matrix, kept = one.smeared(Affine.scaling(half, half), half)
    firm = 0.55 * (1 - one.softness)
    disc = _soft(one.tint, (0.0, 1.0), (firm, 0.92), (1.0, 0.0))
    canvas.fill(_DISC.skia_path, disc, skia_matrix(matrix), one.fade * kept / (1 + one.softness))


def _bubble(canvas: Canvas, one: _One) -> None:
    """A clear ball: a rim that brightens outwards and a small light at its upper left."""
    at = skia_matrix(one.place @ Affine.scaling(one.half, one.half))
    rim = _soft(one.tint, (0.0, 0.03), (0.7, 0.08), (0.9, 0.55), (0.97, 0.8), (1.0, 0.0))
    canvas.fill(_DISC.skia_path, rim, at, one.fade)
    light = one.place @ Affine.shift(-0.38 * one.half, -0.42 * one.half)
    light = light @ Affine.rotation(-42) @ Affine.scaling(0.24 * one.half, 0.13 * one.half)
    spot = _soft((1.0, 1.0, 1.0, 1.0), (0.0, 0.9), (0.5, 0.5), (1.0, 0.0))
    canvas.fill(_DISC.skia_path, spot, skia_matrix(light), one.fade)


def _spark(canvas: Canvas, one: _One) -> None:
    """A glowing grain with a tail where it has been, whiter the hotter it is."""
    heat = one.fade * one.fade
    r, g, b, a = one.tint
    hot: Rgba = (r + (1 - r) * heat, g + (1 - g) * heat, b + (1 - b) * heat, a)
    half = one.half
    glow = _soft(one.tint, (0.0, 0.5), (0.25, 0.2), (1.0, 0.0))
    wide = skia_matrix(one.place @ Affine.scaling(2.4 * half, 2.4 * half))
    canvas.fill(_DISC.skia_path, glow, wide, one.fade, "plus-lighter")
    long = max(half * 0.5, 1.6 * one.way)
    tail = one.place @ Affine.rotation(one.along) @ Affine.scaling(long, 0.32 * half)
    canvas.fill(_TAIL.skia_path, _tail(hot), skia_matrix(tail), one.fade, "plus-lighter")
    core = skia_matrix(one.place @ Affine.scaling(0.4 * half, 0.4 * half))
    canvas.fill(_DISC.skia_path, _soft(hot, (0.0, 1.0), (0.6, 0.9), (1.0, 0.0)), core, one.fade,
                "plus-lighter")  # fmt: skip


def _streak(canvas: Canvas, one: _One) -> None:
    """A line of light along its way, longest where it is fastest."""
    long = max(6 * one.half, 3 * one.way)
    line = one.place @ Affine.rotation(one.along) @ Affine.scaling(long, 0.16 * one.half)
    strength = one.fade * (0.35 + 0.65 * abs(one.flip))
    canvas.fill(_TAIL.skia_path, _tail(one.tint), skia_matrix(line), strength, "plus-lighter")
    head = one.place @ Affine.rotation(one.along) @ Affine.scaling(0.5 * one.half, 0.22 * one.half)
    white = _soft((1.0, 1.0, 1.0, one.tint[3]), (0.0, 0.8), (1.0, 0.0))
    canvas.fill(_DISC.skia_path, white, skia_matrix(head), strength, "plus-lighter")


def _tail(tint: Rgba) -> Gradient:
    """Along a tail: nothing at its end, whole at its head."""
    stops = ((0.0, 0.0), (0.6, 0.28), (1.0, 1.0))
    return Gradient(
        "linear", (-1.0, 0.0), (0.0, 0.0),
        tuple((at, (*tint[:3], tint[3] * strength)) for at, strength in stops),
    )  # fmt: skip


_SQUARE = outlines.rectangle(2, 2)
_DISC = outlines.circles([(0.0, 0.0, 1.0)])
# From its end at (-1, 0) to the head at (0, 0), round there.
_TAIL = outlines.from_svg_path(
    "M-1 0 C-0.6 -0.35 -0.2 -1 0 -1 C0.12 -1 0.12 1 0 1 C-0.2 1 -0.6 0.35 -1 0 Z"
)

# How particles are called and drawn, and how much of the depth one sees in how sharp they are.
_KINDS: dict[str, tuple[str, Callable[[Canvas, _One], None], float]] = {
    "confetti": ("Confetti", _confetti, 0.5),
    "dust": ("Dust", _dust, 0.0),
    "sparks": ("Sparks", _spark, 0.0),
    "snow": ("Snow", _snow, 1.0),
    "bubbles": ("Bubbles", _bubble, 0.0),
    "streaks": ("Streaks of light", _streak, 0.0),
}


def _particles(p: Params, work: Work, region: Region) -> np.ndarray:
    pixels = empty(region[2] - region[0], region[3] - region[1])
    height, width = pixels.shape[:2]
    canvas = Canvas(pixels)
    cx, cy = work.at(p["centre"])
    cx, cy = cx - region[0], cy - region[1]
    inks = (p["colour"], p["colour-2"], p["colour-3"])
    _, paint, unsharp = _KINDS[p["kind"]]
    depth, open_s = p["depth"] / 100, _SHUTTER / max(1.0, work.fps) * p["smear"] / 100
    swarm = swarm_at(p, work.time_s)
    fades = np.minimum(np.minimum(1.0, (1 - swarm.age) * 4), swarm.age * 12)
    # Far ones are fainter; those of the nearest fifth and the farthest leave the focus.
    fades = fades * (1 - depth * 0.3 * (1 - swarm.near))
    soft = np.clip((swarm.near - 0.78) / 0.22, 0, 1) * depth * unsharp
    for n in range(len(swarm.x)):
        if fades[n] <= 0:
            continue
        half = work.px(float(swarm.size[n]))
        way_x = work.px(float(swarm.speed_x[n]) * open_s)
        way_y = work.px(float(swarm.speed_y[n]) * open_s)
        x, y = cx + work.px(float(swarm.x[n])), cy + work.px(float(swarm.y[n]))
        way = math.hypot(way_x, way_y)
        around = 3 * half + 3 * way + 3 * half * float(soft[n])
        around = max(around, 6 * half)
        if not (-around < x < width + around and -around < y < height + around):
            continue
        paint(canvas, _One(
            x, y, half, float(swarm.turn[n]), float(swarm.flip[n]),
            inks[min(2, int(swarm.ink[n] * 3))], float(fades[n]),
            math.degrees(math.atan2(way_y, way_x)) if way else p["angle"], way, float(soft[n]),
        ))  # fmt: skip
    return pixels


PARTICLES = (
    EffectKind(
        "particles", "Particles", "generate", "Confetti, dust, sparks, snow, bubbles, streaks.",
        (
            choice("kind", "Particle type",
                tuple((id, label) for id, (label, *_) in _KINDS.items()),
                help="What each particle is"),
            number("count", "Particle count", 120, "", 1, 2000, whole=True,
                help="How many there are at once"),
            place("centre", "Source position", help="Where they come from"),
            pair("area", "Source size", (600.0, 40.0), "px", 0, 20000,
                help="How large the area is that they come from"),
            number("size", "Particle size", 22, "px", 0.5, 400, help="How large each of them is"),
            percent("variation", "Size variation", 45, 0, 150,
                help="How unlike their sizes are"),
            percent("depth", "Depth", 60, help="How far they are spread from near to far"),
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
            percent("smear", "Smear", 100, 0, 800,
                help="How far they are drawn out by their speed; 100 is a shutter half open"),
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
