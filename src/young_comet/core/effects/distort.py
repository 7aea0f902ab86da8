"""Pictures bent by fields of shifts."""

from __future__ import annotations

import math

import numpy as np

from ..model.specs import where
from ..pixels import noise
from ..pixels.raster import Raster, empty
from ..pixels.warp import Map, bent, displaced, places, sampled
from .base import (
    EVERYWHERE,
    NOISE,
    SEED,
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    choice,
    cut,
    edges,
    flag,
    flow,
    grown,
    layer,
    meet,
    number,
    pair,
    percent,
    place,
    region_of,
)


def bent_by(
    raster: Raster, p: Params, work: Work, bend: Map, region: Region, *, exact: bool = False
) -> Raster:
    """Bends a raster; what lies beyond its edge begins at the content's own edge."""
    kind = p.get("edges", "transparent")
    if kind == "transparent":
        return bent(raster, bend, region, exact=exact)
    source = cut(raster, work.content)
    return bent(source, bend, region, edges=kind, colour=p["edge-colour"], exact=exact)


def full_region(p: Params, work: Work, tight: Region) -> Region:
    """The whole of what is needed where something lies beyond the edge, else a tight region."""
    return work.area if p.get("edges", "transparent") != "transparent" else meet(tight, work.area)


def _noise_displacement(raster: Raster, p: Params, work: Work) -> Raster:
    """Each pixel is taken from a place that two noise fields move it to."""
    ax, ay = (work.px(a) for a in p["amount"])
    if abs(ax) + abs(ay) < 0.02:
        return raster
    reach = max(abs(ax), abs(ay)) + 2
    region = full_region(p, work, grown(region_of(raster), reach))
    width, height = region[2] - region[0], region[3] - region[1]
    if width <= 0 or height <= 0:
        return Raster(empty(0, 0), region[0], region[1])
    kind = p["edges"]
    source = raster if kind == "transparent" else cut(raster, work.content)
    maps = displaced(
        *displacement_fields(p, work, region),
        (1 + 12 * p["hardness"] / 100) * (-1 if p["inverted"] else 1),
        (ax, ay), (float(region[0] - source.left), float(region[1] - source.top)),
    )  # fmt: skip
    return sampled(source, *maps, region[:2], edges=kind, colour=p["edge-colour"])


def displacement_fields(p: Params, work: Work, region: Region) -> tuple[np.ndarray, np.ndarray]:
    """Two fields of noise (h, w), about -1..1."""
    across, down = (
        noise.fractal(
            region, work.origin, work.px(p["scale"]), octaves=round(p["octaves"]),
            seed=round(p["seed"]) + shift, z=work.time_s * p["flow"], kind=p["kind"],
        )
        for shift in (0, 5003)
    )  # fmt: skip
    return across, down


def _displacement(raster: Raster, p: Params, work: Work) -> Raster:
    """SVG's feDisplacementMap (Filter Effects 1, 9.9): moved by scale (C - 1/2), C a channel of
    the other layer; where that layer has nothing the picture stays."""
    ax, ay = (work.px(a) for a in p["amount"])
    region = full_region(p, work, grown(region_of(raster), (abs(ax) + abs(ay)) / 2 + 2))
    other = work.picture(p["layer"], region) if p["layer"] else None
    if (
        other is None
        or (abs(ax) + abs(ay)) < 0.02
        or region[2] <= region[0]
        or region[3] <= region[1]
    ):
        return raster
    alpha = other[:, :, 3].astype(np.float32)
    straight = other.astype(np.float32) / np.maximum(alpha, 1)[:, :, None]
    luma = straight[:, :, 0] * 0.0722 + straight[:, :, 1] * 0.7152 + straight[:, :, 2] * 0.2126
    channels = {
        "red": straight[:, :, 2], "green": straight[:, :, 1], "blue": straight[:, :, 0],
        "alpha": alpha / 255, "luminance": luma,
    }  # fmt: skip
    there = alpha / 255
    x, y = places(region)
    moves = []
    for axis, amount in (("x-by", ax), ("y-by", ay)):
        strength = channels[p[axis]] - np.float32(0.5)
        if p[axis] != "alpha":
            strength = strength * there
        moves.append(strength * np.float32(amount))
    kind = p["edges"]
    source = raster if kind == "transparent" else cut(raster, work.content)
    columns = np.ascontiguousarray(x + moves[0] - np.float32(source.left + 0.5), np.float32)
    rows = np.ascontiguousarray(y + moves[1] - np.float32(source.top + 0.5), np.float32)
    return sampled(source, columns, rows, region[:2], edges=kind, colour=p["edge-colour"])


def _wave(raster: Raster, p: Params, work: Work) -> Raster:
    height, length = work.px(p["height"]), max(1.0, work.px(p["length"]))
    turned = math.radians(p["angle"])
    cos, sin = math.cos(turned), math.sin(turned)
    phase = 2 * math.pi * (p["phase"] / 360 - work.time_s * p["flow"])
    cx, cy = work.origin

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        along = (x - cx) * cos + (y - cy) * sin
        t = along * (2 * math.pi / length) + phase
        shift = height * _formed(t, p) * _damped(np.abs(along) / length, p["damping"])
        return (x - sin * shift, y + cos * shift)

    region = full_region(p, work, grown(region_of(raster), abs(height) + 2))
    return bent_by(raster, p, work, bend, region, exact=p["form"] == "square")


def _ripple(raster: Raster, p: Params, work: Work) -> Raster:
    height, length = work.px(p["height"]), max(1.0, work.px(p["length"]))
    reach = max(1.0, work.px(p["radius"]))
    phase = 2 * math.pi * (p["phase"] / 360 - work.time_s * p["flow"])
    cx, cy = work.at(p["centre"])

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = x - cx, y - cy
        far = np.hypot(dx, dy)
        k = np.clip(1 - far / reach, 0, 1) * _damped(far / length, p["damping"])
        t = far * (2 * math.pi / length) + phase
        move = height * k * _formed(t, p) / np.maximum(far, 1e-3)
        return (x + dx * move, y + dy * move)

    region = full_region(p, work, grown(region_of(raster), abs(height) + 2))
    return bent_by(raster, p, work, bend, region, exact=p["form"] == "square")


def _formed(t: np.ndarray, p: Params) -> np.ndarray:
    """A wave of a form at angles, -1..1; contrast takes it towards its crests, or (below 0) keeps
    it from them."""
    if p["form"] == "square":
        return np.sign(np.sin(t))  # type: ignore[no-any-return]
    wave = np.sin(t) if p["form"] == "sine" else (2 / math.pi) * np.arcsin(np.sin(t))
    power = 2.0 ** (-p["contrast"] / 50)
    if power == 1:
        return wave  # type: ignore[no-any-return]
    return np.sign(wave) * np.abs(wave) ** power  # type: ignore[no-any-return]


def _damped(waves: np.ndarray, damping: float) -> np.ndarray | float:
    """What is left of a wave after so many of its lengths; 100 leaves a tenth after one."""
    return 1.0 if damping <= 0 else np.exp(-math.log(10) * damping / 100 * waves)


def _bulge(raster: Raster, p: Params, work: Work) -> Raster:
    reach, amount = max(1.0, work.px(p["radius"])), p["amount"] / 100
    cx, cy = work.at(p["centre"])

    form, turned = p["form"], math.radians(p["angle"])
    nx, ny = -math.sin(turned), math.cos(turned)
    rim = max(0.02, p["rim"] / 100)

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = x - cx, y - cy
        across = dx * nx + dy * ny
        far = (np.abs(across) if form == "line" else np.hypot(dx, dy)) / reach
        inside = np.clip(1 - far, 0, 1)
        if form == "lens":  # one magnification, which goes over into none within the rim
            inside = np.clip(inside / rim, 0, 1)
        elif form == "dent":  # about a ring half way out, its middle stays
            inside = 1 - np.abs(2 * inside - 1)
        k = amount * inside * inside * (3 - 2 * inside)
        if form == "line":
            return (x - nx * across * k, y - ny * across * k)
        return (x - dx * k, y - dy * k)

    wide = abs(min(0.0, amount)) * reach + reach * 0.6
    region = full_region(p, work, grown(region_of(raster), wide))
    return bent_by(raster, p, work, bend, region)


def _swirl(raster: Raster, p: Params, work: Work) -> Raster:
    reach, turn = max(1.0, work.px(p["radius"])), math.radians(p["angle"])
    cx, cy = work.at(p["centre"])

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = x - cx, y - cy
        k = np.clip(1 - np.hypot(dx, dy) / reach, 0, 1)
        a = -turn * k * k
        cos, sin = np.cos(a), np.sin(a)
        return (cx + dx * cos - dy * sin, cy + dx * sin + dy * cos)

    round_ = (
        math.floor(cx - reach) - 1, math.floor(cy - reach) - 1,
        math.ceil(cx + reach) + 1, math.ceil(cy + reach) + 1,
    )  # fmt: skip
    left, top, right, bottom = region_of(raster)
    both = (
        min(left, round_[0]),
        min(top, round_[1]),
        max(right, round_[2]),
        max(bottom, round_[3]),
    )
    return bent_by(raster, p, work, bend, full_region(p, work, both))


def _kaleidoscope(raster: Raster, p: Params, work: Work) -> Raster:
    count = max(2, round(p["segments"]))
    wedge = 2 * math.pi / count
    offset, source_turn = math.radians(p["angle"]), math.radians(p["source-angle"])
    cx, cy = work.at(p["centre"])

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = x - cx, y - cy
        far, turned = np.hypot(dx, dy), np.arctan2(dy, dx) - offset
        folded = np.abs(np.mod(turned + wedge / 2, wedge) - wedge / 2) + source_turn
        return (cx + far * np.cos(folded), cy + far * np.sin(folded))

    return bent_by(raster, p, work, bend, full_region(p, work, _disc(raster, cx, cy)), exact=True)


def _disc(raster: Raster, cx: float, cy: float) -> Region:
    left, top, right, bottom = region_of(raster)
    far = max(math.hypot(x - cx, y - cy) for x in (left, right) for y in (top, bottom))
    return (
        math.floor(cx - far), math.floor(cy - far), math.ceil(cx + far), math.ceil(cy + far)
    )  # fmt: skip


def _polar(raster: Raster, p: Params, work: Work) -> Raster:
    """The box rolled up into a disc (its top becomes the middle), or a disc unrolled."""
    left, top, right, bottom = work.content
    width, height = max(1, right - left), max(1, bottom - top)
    cx, cy = (left + right) / 2, (top + bottom) / 2
    radius = math.hypot(width, height) / 2 if p["fit"] == "cover" else min(width, height) / 2
    offset, amount = math.radians(p["angle"]), p["amount"] / 100
    rolled = p["way"] == "roll"

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        if rolled:
            dx, dy = x - cx, y - cy
            turned = np.mod(np.arctan2(dy, dx) + math.pi / 2 - offset, 2 * math.pi)
            u = left + turned / (2 * math.pi) * width
            v = top + np.hypot(dx, dy) / radius * height
        else:
            turned = (x - left) / width * 2 * math.pi - math.pi / 2 + offset
            far = (y - top) / height * radius
            u, v = cx + far * np.cos(turned), cy + far * np.sin(turned)
        return (x + (u - x) * amount, y + (v - y) * amount)

    disc = (
        math.floor(cx - radius), math.floor(cy - radius),
        math.ceil(cx + radius), math.ceil(cy + radius),
    )  # fmt: skip
    both = (min(left, disc[0]), min(top, disc[1]), max(right, disc[2]), max(bottom, disc[3]))
    return bent_by(raster, p, work, bend, full_region(p, work, both), exact=True)


CENTRE = place("centre", "Centre")

RADIUS = number("radius", "Radius", 300, "px", 1, 8000)

_CHANNELS = (
    ("red", "Red"),
    ("green", "Green"),
    ("blue", "Blue"),
    ("alpha", "Alpha"),
    ("luminance", "Luminance"),
)

CRESTS = percent(
    "contrast", "Crest contrast", 0, -100, 100, help="Steeper or rounder crests",
    when=where("form", "sine", "triangle"),
)  # fmt: skip
DAMPING = percent("damping", "Damping", 0, help="How much is lost on the way: 100 leaves a tenth")
BENDS = (
    EffectKind(
        "noise-displacement", "Noise displacement", "distort",
        "Noise moves every pixel: ink, heat, water.",
        (
            pair("amount", "Displacement", (30.0, 30.0), "px", -2000, 2000, linked=True,
                help="How far pixels are moved at most, along x and y"),
            number("scale", "Noise scale", 120, "px", 2, 4000,
                help="How large the noise's features are"),
            number("octaves", "Octaves", 3, "", 1, 8, whole=True),
            percent("hardness", "Hardness", 0,
                help="How abruptly it goes from one place to the next"),
            NOISE, flag("inverted", "Inverted displacement",
                help="Pixels are moved the other way"), flow(), SEED, *edges(),
        ),
        _noise_displacement, lambda p, work: max(abs(a) for a in p["amount"]) * work.scale + 2,
        timed=True, spatial=True, light="same",
    ),
    EffectKind(
        "displacement", "Displacement", "distort", "Another layer's colours move the pixels.",
        (
            layer("layer", "Displacing layer",
                help="The layer whose colours say how far pixels are moved"),
            pair("amount", "Displacement", (60.0, 60.0), "px", -2000, 2000, linked=True,
                help="How far pixels are moved at most, along x and y"),
            choice("x-by", "Horizontal channel", _CHANNELS, "luminance",
                help="What of that layer moves pixels along x"),
            choice("y-by", "Vertical channel", _CHANNELS, "luminance",
                help="What of that layer moves pixels along y"), *edges(),
        ),
        _displacement, lambda p, work: max(abs(a) for a in p["amount"]) * work.scale + 2,
        spatial=True, light="same",
    ),
    EffectKind(
        "wave", "Wave", "distort", "Bends in waves that may travel.",
        (
            number("height", "Wave height", 16, "px", -2000, 2000,
                help="How far pixels are moved from their place"),
            number("length", "Wavelength", 160, "px", 2, 8000,
                help="From one crest to the next"), angle("angle", "Direction", 0),
            number("phase", "Phase", 0, "°", widget="dial", help="Where in the wave it begins"),
            choice(
                "form", "Waveform",
                (("sine", "Sine"), ("triangle", "Triangle"), ("square", "Square")),
                help="The course of a wave",
            ),
            CRESTS, DAMPING, flow(0.5), *edges(),
        ),
        _wave, lambda p, work: abs(work.px(p["height"])) + 2, timed=True, spatial=True,
        light="same",
    ),
    EffectKind(
        "ripple", "Ripple", "distort", "Rings from a centre, as on water.",
        (
            number("height", "Wave height", 12, "px", -500, 500,
                help="How far pixels are moved from their place"),
            number("length", "Wavelength", 80, "px", 2, 4000,
                help="From one crest to the next"), RADIUS, CENTRE,
            number("phase", "Phase", 0, "°", widget="dial", help="Where in the wave it begins"),
            choice(
                "form", "Waveform",
                (("sine", "Sine"), ("triangle", "Triangle"), ("square", "Square")),
                help="The course of a wave",
            ),
            CRESTS, DAMPING, flow(1.0), *edges(),
        ),
        _ripple, lambda p, work: abs(work.px(p["height"])) + 2, timed=True, light="same",
    ),
    EffectKind(
        "bulge", "Bulge and pinch", "distort", "A lens that enlarges or draws in.",
        (
            percent("amount", "Strength", 50, -200, 100,
                help="How far it bulges out, or in where negative"), RADIUS, CENTRE,
            choice(
                "form", "Bulge form",
                (("round", "Round"), ("lens", "Lens with a rim"), ("dent", "Dent about the middle"),
                 ("line", "Along a line")), help="A lens, or a fold along a line",
            ),
            number("rim", "Rim softness", 20, "%", 2, 100, when=where("form", "lens"),
                help="How gently it fades towards its edge"),
            number("angle", "Fold angle", 0, "°", widget="dial", when=where("form", "line"),
                help="The direction of the line that it bulges along, clockwise from the right"),
            *edges(),
        ),
        _bulge, lambda p, work: work.px(p["radius"]) * max(1.0, abs(p["amount"]) / 100),
        light="same",
    ),
    EffectKind(
        "swirl", "Swirl", "distort", "Turns more the nearer to a centre.",
        (angle("angle", "Angle", 120), RADIUS, CENTRE, *edges()),
        _swirl, lambda p, work: 2 * work.px(p["radius"]), light="same",
    ),
    EffectKind(
        "kaleidoscope", "Kaleidoscope", "distort", "One wedge mirrored around a centre.",
        (
            number("segments", "Wedge count", 6, "", 2, 60, whole=True,
                help="How many wedges make up the circle"), angle("angle", "Angle", 0),
            angle("source-angle", "Source angle", 0,
                help="The direction of the wedge that is repeated"), CENTRE,
            *edges("mirror"),
        ),
        _kaleidoscope, lambda p, work: EVERYWHERE, fills=True,
    ),
    EffectKind(
        "polar", "Polar", "distort", "Rolls the picture up into a disc, or unrolls one.",
        (
            choice("way", "Conversion", (("roll", "Roll up"), ("unroll", "Unroll")),
                help="From the rectangle to a disc, or back"),
            percent("amount", "Strength", 100,
                help="How much of the way it goes"), angle("angle", "Angle", 0),
            choice("fit", "Disc fitting", (("fit", "Fits the box"), ("cover", "Covers the box")),
                help="Whether the disc lies within the layer or covers it"), *edges(),
        ),
        _polar, lambda p, work: EVERYWHERE,
    ),
)  # fmt: skip
