"""Light that scatters in a lens."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..geometry import outline as outlines
from ..geometry.affine import Affine
from ..geometry.outline import skia_matrix
from ..pixels import noise
from ..pixels.canvas import Canvas, Gradient
from ..pixels.colour import Rgba, mix, parse_colour
from ..pixels.raster import empty
from .base import (
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    choice,
    colour,
    flow,
    number,
    percent,
    place,
)
from .laid import generator, laid_on


@dataclass(frozen=True, slots=True)
class _Ghost:
    """A reflection between lenses: where on the way through the middle of the picture (0: at the
    light, 1: at the middle, 2: as far beyond), its radius in sizes, its strength and its tint."""

    along: float
    radius: float
    strength: float
    tint: str


@dataclass(frozen=True, slots=True)
class _Character:
    """What a flare consists of: how strong its glow is, how long (in sizes) and high a streak, how
    many spikes, how strong the halo, and its ghosts."""

    label: str
    glow: float
    streak: tuple[float, float] = (0.0, 0.0)
    spikes: int = 0
    halo: float = 0.0
    ghosts: tuple[_Ghost, ...] = ()


_CHARACTERS = {
    "sun": _Character(
        "Sun", 0.9, spikes=22, halo=0.09,
        ghosts=(
            _Ghost(0.42, 0.05, 0.16, "#ffcf8a"), _Ghost(0.6, 0.13, 0.07, "#8ad0ff"),
            _Ghost(0.78, 0.03, 0.26, "#ffe9c9"), _Ghost(1.18, 0.08, 0.12, "#b58aff"),
            _Ghost(1.42, 0.2, 0.06, "#7fe0c8"), _Ghost(1.6, 0.045, 0.2, "#ff9fb6"),
            _Ghost(1.9, 0.3, 0.05, "#ffb16a"), _Ghost(2.15, 0.07, 0.14, "#9ad6ff"),
        ),
    ),
    "lamp": _Character(
        "Lamp", 1.2, halo=0.08,
        ghosts=(
            _Ghost(0.7, 0.06, 0.1, "#ffe0b0"), _Ghost(1.3, 0.16, 0.06, "#ffc68a"),
            _Ghost(1.75, 0.09, 0.1, "#ffd9b8"),
        ),
    ),
    "streak": _Character(
        "Streak", 0.45, streak=(2.8, 0.012),
        ghosts=(
            _Ghost(0.5, 0.03, 0.16, "#7fbaff"), _Ghost(0.9, 0.09, 0.06, "#9fd0ff"),
            _Ghost(1.4, 0.05, 0.16, "#8fc7ff"), _Ghost(1.8, 0.15, 0.06, "#6fa8ff"),
        ),
    ),
    "spark": _Character("Spark", 0.5, streak=(0.5, 0.008), spikes=9),
}  # fmt: skip

_DISC = outlines.circles([(0.0, 0.0, 1.0)])
# A halo is lit from here on outwards only.
_HOLE = 0.86
_RING = outlines.from_svg_path(
    f"M1 0 A1 1 0 1 1 -1 0 A1 1 0 1 1 1 0 Z M{_HOLE} 0 A{_HOLE} {_HOLE} 0 1 0 -{_HOLE} 0 "
    f"A{_HOLE} {_HOLE} 0 1 0 {_HOLE} 0 Z"
)
# How a ghost's strength goes from its middle to its bright rim, and how far its sides are apart in
# hue: a lens bends blue more than red.
_RIM = ((0.0, 0.3), (0.7, 0.38), (0.9, 0.62), (0.965, 1.0), (1.0, 0.0))
_FRINGE = (("#ff8a6a", 1.0), ("#9fffc0", 0.975), ("#7aa8ff", 0.95))


@dataclass(slots=True)
class _Lens:
    """Draws lights that add up."""

    canvas: Canvas

    def disc(
        self, x: float, y: float, rx: float, ry: float, tint: Rgba,
        stops: tuple[tuple[float, float], ...], strength: float, turn: float = 0.0,
        form: outlines.Outline = _DISC,
    ) -> None:  # fmt: skip
        """An ellipse of light, its strengths at distances from its middle."""
        shares = tuple((at, (*tint[:3], min(1.0, s * strength))) for at, s in stops)
        at = Affine.shift(x, y) @ Affine.rotation(turn)
        matrix = at @ Affine.scaling(max(0.01, rx), max(0.01, ry))
        gradient = Gradient("radial", (0.0, 0.0), (1.0, 0.0), shares)
        self.canvas.fill(form.skia_path, gradient, skia_matrix(matrix), 1.0, "plus-lighter")

    def light(
        self, x: float, y: float, rx: float, ry: float, strength: float, tint: Rgba,
        turn: float = 0.0,
    ) -> None:  # fmt: skip
        """A light that falls off."""
        self.disc(x, y, rx, ry, tint, ((0, 1), (0.25, 0.35), (0.6, 0.07), (1, 0)), strength, turn)


def _flare(p: Params, work: Work, region: Region) -> np.ndarray:
    pixels = empty(region[2] - region[0], region[3] - region[1])
    lens = _Lens(Canvas(pixels))
    left, top, right, bottom = work.frame
    size = work.px(p["size"])
    x, y = work.at(p["centre"])
    mx, my = work.at(((left + right) / 2, (top + bottom) / 2))
    x, y, mx, my = x - region[0], y - region[1], mx - region[0], my - region[1]
    flicker = 1.0
    if p["flow"]:
        z = work.time_s * p["flow"]
        found = noise.fractal((0, 0, 1, 1), (0.0, 0.0), 8.0, octaves=2, seed=3, z=z)
        flicker += 0.18 * float(found[0, 0])
    k = p["strength"] / 100 * flicker
    look, tint = _CHARACTERS[p["character"]], p["colour"]
    lens.light(x, y, size, size, 0.8 * k * look.glow, tint)
    lens.light(x, y, size * 0.22, size * 0.22, k, (1.0, 1.0, 1.0, 1.0))
    length, height = look.streak
    if length:
        lens.light(x, y, size * length, size * height * 4, 0.9 * k, tint, p["angle"])
        lens.light(x, y, size * length * 0.5, size * height * 1.2, k, (1.0, 1.0, 1.0, 1.0),
                   p["angle"])  # fmt: skip
    _spikes(lens, (x, y), size, k, look.spikes, p)
    rings = k * p["ghosts"] / 100
    if rings <= 0:
        return pixels
    if look.halo:
        for fringe, wide in _FRINGE:
            ring = ((0.0, 0.0), (_HOLE, 0.0), (0.96, 1.0), (1.0, 0.0))
            hue, radius = mix(parse_colour(fringe), tint, 0.35), size * 1.1 * wide
            lens.disc(x, y, radius, radius, hue, ring, look.halo * rings, form=_RING)
    for ghost in look.ghosts:
        gx, gy = x + (mx - x) * ghost.along, y + (my - y) * ghost.along
        hue = mix(parse_colour(ghost.tint), tint, 0.3)
        radius = size * ghost.radius * 2
        # The farther from the middle, the more its rim leans outwards.
        lean = 1 - 0.12 * min(1.0, abs(ghost.along - 1))
        way = math.degrees(math.atan2(my - y, mx - x))
        lens.disc(gx, gy, radius * lean, radius, hue, _RIM, 1.35 * ghost.strength * rings, way)
    return pixels


def _spikes(
    lens: _Lens, at: tuple[float, float], size: float, k: float, count: int, p: Params
) -> None:
    """Rays about the light, none like another: their ways, lengths and strengths differ."""
    if not count:
        return
    r = [noise.random_numbers(count, 29, stream) for stream in range(4)]
    for n in range(count):
        turn = p["angle"] + (n + 0.7 * (float(r[0][n]) - 0.5)) * 360 / count
        long = size * (0.3 + 1.0 * float(r[1][n]) ** 2.2)
        thick = size * (0.006 + 0.014 * float(r[2][n]))
        strength = k * (0.22 + 0.4 * float(r[3][n]))
        reach = long / 2
        x = at[0] + reach * 0.85 * math.cos(math.radians(turn))
        y = at[1] + reach * 0.85 * math.sin(math.radians(turn))
        lens.light(x, y, reach, thick, strength, p["colour"], turn)


FLARES = (
    EffectKind(
        "lens-flare", "Lens flare", "generate", "Light in the lens, with several characters.",
        (
            place("centre", "Centre", (-260.0, -150.0), help="Where the light is"),
            choice(
                "character", "Lens type",
                tuple((id, look.label) for id, look in _CHARACTERS.items()),
                help="Of which figures the flare consists",
            ),
            number("size", "Size", 320, "px", 1, 4000),
            percent("strength", "Strength", 100, 0, 300), percent("ghosts", "Ring strength", 100,
                help="How strong the rings across the picture are"),
            angle("angle", "Angle", 0),
            colour("colour", "Colour", "#ffd28a"), flow(), *laid_on("frame", "screen"),
        ),
        generator(_flare), timed=True, fills=True, light="more",
    ),
)  # fmt: skip
