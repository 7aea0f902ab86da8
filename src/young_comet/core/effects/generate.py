"""Fields made from nothing: clouds, rays, point gradients, textures."""

from __future__ import annotations

import math
from functools import lru_cache

import cv2
import numpy as np

from ..model.specs import Kind, PropertySpec
from ..pixels import noise
from ..pixels.blend import looked_up
from ..pixels.colour import Rgba, mix
from ..pixels.ink import Ink
from ..pixels.kernel import Few, kernel, sample
from ..pixels.warp import places
from .base import (
    NOISE,
    SEED,
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    choice,
    colour,
    flow,
    meet,
    number,
    pair,
    percent,
    place,
)
from .laid import OFFSET, generator, laid_on


def between(field: np.ndarray, dark: Rgba, light: Rgba) -> np.ndarray:
    """A field (h, w) of 0..1 as a picture between two colours."""
    return looked_up(np.ascontiguousarray(field, np.float32), _ramp(dark, light))


@lru_cache(maxsize=64)
def _ramp(dark: Rgba, light: Rgba) -> np.ndarray:
    """1024 premultiplied BGRA colours between two."""
    table = np.empty((1024, 4), np.float32)
    for i in range(1024):
        r, g, b, a = mix(dark, light, i / 1023)
        table[i] = (b * a, g * a, r * a, a)
    return np.rint(table * 255).astype(np.uint8)


def _clouds(p: Params, work: Work, region: Region) -> np.ndarray:
    sx, sy = p["stretch"]
    field = noise.fractal(
        region, work.at(p["offset"]), work.px(p["scale"]), octaves=round(p["octaves"]),
        seed=round(p["seed"]), z=work.time_s * p["flow"], kind=p["kind"],
        roughness=p["roughness"] / 100, stretch=(max(0.05, sx / 100), max(0.05, sy / 100)),
    )  # fmt: skip
    contrast, level = p["contrast"] / 100, p["level"] / 100
    return between(field * np.float32(0.5 * contrast) + np.float32(level), p["dark"], p["light"])


_TURNS = 8192  # steps of a whole turn in which the strength of rays is kept


def _rays(p: Params, work: Work, region: Region) -> Ink:
    """Light from a centre: noise over the angle, fading with the distance."""
    cx, cy = work.at(p["centre"])
    far = max(
        math.hypot(x - cx, y - cy) for x in (region[0], region[2]) for y in (region[1], region[3])
    )
    length = min(far, max(2.0, work.px(p["length"])))
    lit = (math.floor(cx - length), math.floor(cy - length),
           math.ceil(cx + length), math.ceil(cy + length))  # fmt: skip
    region = meet(region, lit)
    if region[2] <= region[0] or region[3] <= region[1]:
        return Ink(np.zeros((0, 0), np.uint8), p["colour"])
    # Noise around a circle closes on itself: it is read along a ring of the field.
    turns = np.linspace(0, 2 * math.pi, _TURNS, endpoint=False)
    ring = p["count"] / math.pi
    size = math.ceil(ring * 8) * 2 + 8
    plane = noise.fractal(
        (0, 0, size, size),
        (size / 2, size / 2),
        8.0,
        octaves=2,
        seed=round(p["seed"]),
        z=work.time_s * p["flow"],
    )
    xs = (size / 2 + ring * 8 * np.cos(turns)).astype(np.float32)[None, :]
    ys = (size / 2 + ring * 8 * np.sin(turns)).astype(np.float32)[None, :]
    around = cv2.remap(plane, xs, ys, cv2.INTER_LINEAR)[0]
    sharp = 1 + p["sharpness"] / 100 * 6
    strength = np.rint(np.clip(around * 0.6 + 0.5, 0, 1) ** sharp * 65536).astype(np.uint32)

    # Light is soft: it is read at every second pixel, on a grid that the frame's corner fixes.
    gx, gy = region[0] // 2 - 1, region[1] // 2 - 1
    grid = (gx, gy, region[2] // 2 + 2, region[3] // 2 + 2)

    def maps() -> np.ndarray:
        """Turn in steps and what distance leaves of 255, of every second pixel."""
        x, y = (v * 2 for v in places(grid))
        shape = (y.shape[0], x.shape[1])
        wide_x = np.ascontiguousarray(np.broadcast_to(x - np.float32(cx), shape))
        wide_y = np.ascontiguousarray(np.broadcast_to(y - np.float32(cy), shape))
        radius, turned = cv2.cartToPolar(wide_x, wide_y)
        spun = turned * np.float32(_TURNS / (2 * math.pi))
        near = np.clip(1 - radius * np.float32(1 / length), 0, 1)
        left = cv2.pow(near, 0.3 + p["falloff"] / 100 * 2.4)
        return np.stack([spun.astype(np.uint16), np.rint(left * 255).astype(np.uint16)])

    key = ("rays", region, cx, cy, length, p["falloff"])
    spun, left = work.keep(key, maps)
    light = radiated(spun, left, np.roll(strength, round(p["angle"] / 360 * _TURNS)))
    size = (region[2] - region[0], region[3] - region[1])
    light = cv2.resize(light, None, fx=2, fy=2, interpolation=cv2.INTER_LINEAR)
    x0, y0 = region[0] - 2 * gx, region[1] - 2 * gy
    light = np.ascontiguousarray(light[y0 : y0 + size[1], x0 : x0 + size[0]])
    return Ink(light, p["colour"])


@kernel()
def radiated(turns: np.ndarray, left: np.ndarray, strength: np.ndarray) -> np.ndarray:
    """What is left of the strength (65536 is full) in the direction of each pixel, uint8."""
    out = np.empty(turns.shape, np.uint8)
    last = np.uint64(len(strength) - 1)
    for y in range(turns.shape[0]):
        turn, rest, into = turns[y], left[y], out[y]
        for x in range(turns.shape[1]):
            s = strength[np.uint64(turn[x]) & last]
            into[x] = (s * np.uint32(rest[x]) + np.uint32(1 << 15)) >> np.uint32(16)
    return out


def _point_gradient(p: Params, work: Work, region: Region) -> np.ndarray:
    """Colours spread from points: weights 1 / (d^2 / s^2 + c)^2, s the point's softness."""
    left, top, right, bottom = work.box
    step = 8
    gx, gy = region[0] // step, region[1] // step
    columns, rows = region[2] // step + 2 - gx, region[3] // step + 2 - gy
    x = (np.arange(gx, gx + columns, dtype=np.float32) * step)[None, :]
    y = (np.arange(gy, gy + rows, dtype=np.float32) * step)[:, None]
    size = max(1.0, work.px(math.hypot(right - left, bottom - top)))
    total = np.zeros((rows, columns, 4), np.float32)
    weights = np.zeros((rows, columns, 1), np.float32)
    for px, py, softness, (r, g, b, a) in p["points"]:
        cx, cy = work.at((left + (right - left) * px / 100, top + (bottom - top) * py / 100))
        spread = max(0.02, softness / 100) * size
        d2 = ((x - np.float32(cx)) ** 2 + (y - np.float32(cy)) ** 2) / np.float32(spread**2)
        w = (1 / (d2 + np.float32(0.04)) ** 2)[:, :, None]
        total += w * np.array([b * a, g * a, r * a, a], np.float32)
        weights += w
    small = np.ascontiguousarray(total / weights * 255, np.float32)
    ox, oy = (region[0] + 0.5) / step - gx, (region[1] + 0.5) / step - gy
    matrix = np.array([[1 / step, 0, ox], [0, 1 / step, oy]], np.float64)
    large = cv2.warpAffine(
        small, matrix, (region[2] - region[0], region[3] - region[1]),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    return noise.dithered(
        large, region[0] - round(work.origin[0]), region[1] - round(work.origin[1])
    )


def _texture(p: Params, work: Work, region: Region) -> np.ndarray:
    scale, seed = work.px(p["scale"]) / 10, round(p["seed"])
    o = work.origin
    kind = p["kind"]
    if kind == "paper":
        field = 0.5 * noise.fractal(region, o, 14 * scale, octaves=4, seed=seed, roughness=0.75)
        field += 0.35 * noise.fractal(
            region, o, 3 * scale, octaves=2, seed=seed + 9, stretch=(5.0, 1.0)
        )
        field += 0.25 * noise.fractal(
            region, o, 3 * scale, octaves=2, seed=seed + 17, stretch=(1.0, 4.0)
        )
    elif kind == "stone":
        a = noise.fractal(region, o, 90 * scale, octaves=5, seed=seed, roughness=0.6)
        veins = (
            1
            - np.abs(noise.fractal(region, o, 70 * scale, octaves=4, seed=seed + 3, roughness=0.55))
            * 2.4
        )
        field = (
            0.9 * a
            - 0.9 * np.clip(veins, 0, 1) ** 4
            + 0.2 * noise.fractal(region, o, 5 * scale, octaves=2, seed=seed + 5)
        )
    elif kind == "metal":
        field = noise.fractal(
            region, o, 2.2 * scale, octaves=2, seed=seed, stretch=(60.0, 0.6), roughness=0.7
        )
        field += 0.35 * noise.fractal(region, o, 260 * scale, octaves=2, seed=seed + 4)
    else:
        field = _weave(region, o, 6 * scale, seed)
    contrast = p["contrast"] / 100
    return between(
        np.clip(field * np.float32(0.55 * contrast) + np.float32(0.5), 0, 1), p["dark"], p["light"]
    )


def _weave(region: Region, origin: tuple[float, float], cell: float, seed: int) -> np.ndarray:
    """Threads over and under each other, uneven as spun ones are."""
    x, y = places(region)
    cell = max(2.0, cell)
    u, v = (
        (x - np.float32(origin[0])) / np.float32(cell),
        (y - np.float32(origin[1])) / np.float32(cell),
    )
    bend = noise.fractal(region, origin, cell * 14, octaves=2, seed=seed) * np.float32(0.25)
    u, v = u + bend, v + bend
    over = np.mod(np.floor(u) + np.floor(v), 2) < 1
    warp = np.sin(np.pi * np.mod(u, 1)) * (0.7 + 0.3 * np.cos(2 * np.pi * v))
    weft = np.sin(np.pi * np.mod(v, 1)) * (0.7 + 0.3 * np.cos(2 * np.pi * u))
    threads = np.where(over, warp, weft * np.float32(0.9)) * 2 - 1
    fibre = noise.fractal(region, origin, cell * 0.8, octaves=2, seed=seed + 2)
    result: np.ndarray = (threads * np.float32(0.8) + fibre * np.float32(0.35)).astype(np.float32)
    return result


_POINTS = (
    (20.0, 25.0, 30.0, "#17224d"), (80.0, 20.0, 30.0, "#7a3f6d"), (75.0, 80.0, 30.0, "#ff7a45"),
    (20.0, 80.0, 30.0, "#2f9fb3"),
)  # fmt: skip

FIELDS = (
    EffectKind(
        "noise-clouds", "Noise clouds", "generate", "Clouds, smoke, mist between two colours.",
        (
            number("scale", "Noise scale", 240, "px", 2, 8000, help="How large its features are"),
            number("octaves", "Octaves", 5, "", 1, 8, whole=True),
            percent("roughness", "Roughness", 52, 5, 95, help="How much the finer octaves count"),
            pair("stretch", "Stretch", (100.0, 100.0), "%", 5, 5000,
                help="Wider or taller features, along x and y"),
            NOISE,
            percent("contrast", "Contrast", 110, 0, 600), percent("level", "Midpoint", 50,
                help="Which tone lies in the middle: more of the dark or of the light"),
            colour("dark", "Dark colour", "#17224d",
                help="The colour of the low places"), colour("light", "Light colour", "#f8f1e4",
                help="The colour of the high places"),
            OFFSET, flow(0.15), SEED, *laid_on(),
        ),
        generator(_clouds), timed=True, fills=True,
    ),
    EffectKind(
        "rays", "Rays", "generate", "Light that streams from a centre.",
        (
            place("centre", "Centre"), number("count", "Ray count", 14, "", 1, 200,
                help="How many rays go round"),
            number("length", "Length", 900, "px", 1, 20000), percent("falloff", "Falloff", 45,
                help="How much they fade on their way out"),
            percent("sharpness", "Sharpness", 45,
                help="How hard the rays' sides are"), angle("angle", "Angle", 0),
            colour("colour", "Colour", "#ffdf9e"), flow(0.25), SEED, *laid_on("frame", "screen"),
        ),
        generator(_rays), timed=True, fills=True,
    ),
    EffectKind(
        "point-gradient", "Point gradient", "generate", "Colours that spread from points you move.",
        (PropertySpec("points", "Colour points", Kind.SPOTS, _POINTS, "Effect",
            help="Where each colour lies"), *laid_on()),
        generator(_point_gradient), fills=True,
    ),
    EffectKind(
        "texture", "Texture", "generate", "Paper, stone, brushed metal, cloth.",
        (
            choice(
                "kind", "Texture type",
                (
                    ("paper", "Paper"), ("stone", "Stone"), ("metal", "Brushed metal"),
                    ("cloth", "Cloth"),
                ),
                help="The material that it looks like",
            ),
            number("scale", "Noise scale", 10, "px", 1, 200, help="How large its features are"),
            percent("contrast", "Contrast", 60, 0, 300), colour("dark", "Dark colour", "#7f776c",
                help="The colour of the low places"),
            colour("light", "Light colour", "#ffffff", help="The colour of the high places"),
            SEED, *laid_on("layer", "multiply"),
        ),
        generator(_texture), fills=True, grid=True,
    ),
)  # fmt: skip


@sample
def _sample(_few: Few) -> None:
    across = np.zeros((2, 2), np.uint16)
    radiated(across, across.copy(), np.zeros(4, np.uint32))
