"""Wipes: how much of the layer is shown, from 0 to 100 percent."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ..pixels import noise
from ..pixels.blend import scale_by
from ..pixels.raster import Raster
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
    flag,
    flow,
    number,
    percent,
    place,
    region_of,
)

Order = Callable[[Params, Work, Region], np.ndarray]

SHOWN = percent("shown", "Progress", 50, help="0 shows nothing, 100 everything")
SOFTNESS = percent("softness", "Softness", 10, help="How wide the edge of the wipe is")
INVERTED = flag("inverted", "Reversed wipe", help="Begins where it would end")


def wipe(order: Order) -> Callable[[Raster, Params, Work], Raster]:
    """A wipe from a function that tells for every pixel when it is reached, 0..1."""

    def draw(raster: Raster, p: Params, work: Work) -> Raster:
        shown = p["shown"] / 100
        if shown >= 1 or raster.is_empty:
            return raster
        pixels = raster.pixels.copy()
        if shown <= 0:
            pixels[:] = 0
            return Raster(pixels, raster.left, raster.top)
        field = order(p, work, region_of(raster))
        if p["inverted"]:
            field = 1 - field
        soft = max(0.002, p["softness"] / 100)
        # The front runs from before the first to behind the last, softness and all.
        front = shown * (1 + soft)
        t = np.clip((np.float32(front) - field) / np.float32(soft), 0, 1)
        keep = np.rint(t * t * (3 - 2 * t) * 255).astype(np.uint8)
        keep = np.broadcast_to(keep, pixels.shape[:2])
        scale_by(pixels, np.ascontiguousarray(keep))
        return Raster(pixels, raster.left, raster.top)

    return draw


def _along(p: Params, work: Work, region: Region) -> tuple[np.ndarray, float, float]:
    """The way along the angle for each pixel, and where the content begins and ends on it."""
    x, y = places(region)
    turned = math.radians(p["angle"])
    cos, sin = math.cos(turned), math.sin(turned)
    left, top, right, bottom = work.box
    ends = [work.at(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))]
    along = [cx * cos + cy * sin for cx, cy in ends]
    return x * np.float32(cos) + y * np.float32(sin), min(along), max(along)


def _linear(p: Params, work: Work, region: Region) -> np.ndarray:
    along, start, end = _along(p, work, region)
    return (along - np.float32(start)) / np.float32(max(1.0, end - start))


def _centre_line(p: Params, work: Work, region: Region) -> np.ndarray:
    along, start, end = _along(p, work, region)
    half = np.float32(max(1.0, end - start) / 2)
    return np.abs(along - np.float32((start + end) / 2)) / half


def _blinds(p: Params, work: Work, region: Region) -> np.ndarray:
    along, start, end = _along(p, work, region)
    count = max(1, round(p["count"]))
    t = (along - np.float32(start)) / np.float32(max(1.0, end - start)) * count
    blade = np.clip(np.floor(t), 0, count - 1)
    within = np.clip(t - blade, 0, 1)
    delay = p["stagger"] / 100
    result: np.ndarray = (within + blade / max(1, count - 1) * delay) / (1 + delay)
    return result


def _from_centre(p: Params, work: Work, region: Region) -> tuple[np.ndarray, np.ndarray, float]:
    x, y = places(region)
    cx, cy = work.at(p["centre"])
    left, top, right, bottom = work.box
    ends = [work.at(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))]
    far = max(1.0, max(math.hypot(ex - cx, ey - cy) for ex, ey in ends))
    return x - np.float32(cx), y - np.float32(cy), far


def _radial(p: Params, work: Work, region: Region) -> np.ndarray:
    dx, dy, far = _from_centre(p, work, region)
    result: np.ndarray = np.hypot(dx, dy) / np.float32(far)
    return result


def _iris(p: Params, work: Work, region: Region) -> np.ndarray:
    """A regular form that opens: the distance in units of its inner radius."""
    dx, dy, far = _from_centre(p, work, region)
    n = max(3, round(p["corners"]))
    turned = math.radians(p["angle"] - 90)
    best = None
    for i in range(n):
        a = turned + 2 * math.pi * (i + 0.5) / n
        side = dx * np.float32(math.cos(a)) + dy * np.float32(math.sin(a))
        best = side if best is None else np.maximum(best, side)
    assert best is not None
    if p["form"] == "star":
        # The tips lie where the sides of the polygon meet, its notches nearer.
        around = np.arctan2(dy, dx) - turned
        wedge = 2 * math.pi / n
        folded = np.abs(np.mod(around + wedge / 2, wedge) - wedge / 2)
        best = np.hypot(dx, dy) * (0.45 + 0.55 * folded / (wedge / 2)).astype(np.float32)
    return best / np.float32(far)


def _clock(p: Params, work: Work, region: Region) -> np.ndarray:
    dx, dy, _ = _from_centre(p, work, region)
    hands = max(1, round(p["hands"]))
    turned = np.arctan2(dy, dx) - math.radians(p["angle"] - 90)
    if p["direction"] == "counter":
        turned = -turned
    result: np.ndarray = np.mod(turned / (2 * math.pi) * hands, 1).astype(np.float32)
    return result


def _noise(p: Params, work: Work, region: Region) -> np.ndarray:
    field = noise.fractal(
        region, work.origin, work.px(p["scale"]), octaves=round(p["octaves"]),
        seed=round(p["seed"]), z=work.time_s * p["flow"], kind=p["kind"],
    )  # fmt: skip
    field = np.clip(field * np.float32(0.55) + np.float32(0.5), 0, 1)
    share = np.float32(p["led"] / 100)
    if share > 0:
        field = field * (1 - share) + np.clip(_linear(p, work, region), 0, 1) * share
    result: np.ndarray = field
    return result


CENTRE = place("centre", "Centre")

REVEALS = (
    EffectKind(
        "linear-wipe", "Linear wipe", "reveal", "A soft edge passes over the layer.",
        (SHOWN, angle("angle", "Direction", 0,
            help="Where the wipe runs to, clockwise from the right"),
        SOFTNESS, INVERTED), wipe(_linear), light="less",
    ),
    EffectKind(
        "radial-wipe", "Radial wipe", "reveal", "Spreads from a centre.",
        (SHOWN, CENTRE, SOFTNESS, INVERTED), wipe(_radial), light="less",
    ),
    EffectKind(
        "iris-wipe", "Iris wipe", "reveal", "A polygon or star opens.",
        (
            SHOWN, CENTRE, choice("form", "Iris shape", (("polygon", "Polygon"), ("star", "Star")),
                help="The figure that opens"),
            number("corners", "Corners", 6, "", 3, 40, whole=True,
                help="How many corners that figure has"),
            angle("angle", "Angle", 0), SOFTNESS, INVERTED,
        ),
        wipe(_iris), light="less",
    ),
    EffectKind(
        "centre-wipe", "Centre wipe", "reveal", "Opens from its centre line to both sides.",
        (SHOWN, angle("angle", "Line angle", 0,
            help="The direction of the line from which it opens"),
        SOFTNESS, INVERTED), wipe(_centre_line), light="less",
    ),
    EffectKind(
        "blinds-wipe", "Blinds wipe", "reveal", "Many narrow edges at once.",
        (
            SHOWN, number("count", "Blade count", 10, "", 1, 400, whole=True,
                help="How many blades turn"),
            angle("angle", "Direction", 90,
                help="Where the wipe runs to, clockwise from the right"),
            percent("stagger", "Stagger", 0, 0, 1000,
                help="How much later each blade begins than the one before"),
            SOFTNESS, INVERTED,
        ),
        wipe(_blinds), light="less",
    ),
    EffectKind(
        "clock-wipe", "Clock wipe", "reveal", "Hands that turn about a centre.",
        (
            SHOWN, CENTRE, angle("angle", "Start angle", 0,
                help="Where the hands begin, clockwise from the right"),
            number("hands", "Hand count", 1, "", 1, 60, whole=True,
                help="How many hands go round at once"),
            choice(
                "direction", "Turning direction",
                (("clockwise", "Clockwise"), ("counter", "The other way")),
                help="Clockwise or against the clock",
            ),
            SOFTNESS, INVERTED,
        ),
        wipe(_clock), light="less",
    ),
    EffectKind(
        "noise-wipe", "Noise wipe", "reveal", "Dissolves in patches, as ink soaks in.",
        (
            SHOWN, number("scale", "Noise scale", 120, "px", 2, 4000,
                help="How large the patches are"),
            number("octaves", "Octaves", 4, "", 1, 8, whole=True),
            NOISE,
            percent("led", "Directional lead", 35,
                help="How much the order goes by a direction, in place of by chance"),
            angle("angle", "Direction", 0, help="Where the wipe runs to, clockwise from the right"),
            SOFTNESS, flow(), SEED, INVERTED,
        ),
        wipe(_noise), timed=True, light="less",
    ),
)  # fmt: skip
