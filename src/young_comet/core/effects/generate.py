"""Pictures made from nothing: clouds, rays, gradients, textures, patterns, particles."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache

import cv2
import numpy as np

from ..geometry import outline as outlines
from ..geometry.affine import Affine
from ..geometry.outline import Outline, skia_matrix
from ..model.specs import Kind, PropertySpec
from ..pixels import noise
from ..pixels.blend import BLEND_MODES, blend, keep_alpha, looked_up, scale_by, tinted
from ..pixels.canvas import Canvas, Gradient
from ..pixels.colour import Rgba, mix
from ..pixels.raster import Raster, empty
from ..pixels.warp import places
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
    join,
    laid_in,
    meet,
    number,
    own_pixels,
    pair,
    percent,
    place,
    region_of,
)

Make = Callable[[Params, Work, Region], np.ndarray]

_COVERS = (("layer", "The layer's form"), ("box", "The layer's box"), ("frame", "The whole frame"))
_MODES = tuple((m, m.replace("-", " ").capitalize()) for m in BLEND_MODES)


def laid_on(cover: str = "layer", mode: str = "normal") -> tuple[PropertySpec, ...]:
    """The parameters that every generator has: where it draws and how."""
    return (
        choice("cover", "Covers", _COVERS, cover), choice("mode", "Blended", _MODES, mode),
        percent("opacity", "Opacity", 100),
    )  # fmt: skip


def generator(make: Make) -> Callable[[Raster, Params, Work], Raster]:
    """An effect from a function that makes a picture over a region."""

    def draw(raster: Raster, p: Params, work: Work) -> Raster:
        cover = p["cover"]
        if cover == "layer":
            region = region_of(raster)
        else:
            region = meet(work.content if cover == "box" else work.region(work.frame), work.area)
        if region[2] <= region[0] or region[3] <= region[1] or p["opacity"] <= 0:
            return raster
        made = np.ascontiguousarray(make(p, work, region))
        if cover == "layer":
            scale_by(made, np.ascontiguousarray(raster.pixels[:, :, 3]))
            kept = raster.pixels.copy() if p["mode"] == "plus-lighter" else raster.pixels
            pixels = own_pixels(raster, work)
            blend(pixels, made, p["mode"], p["opacity"] / 100)
            if p["mode"] == "plus-lighter":
                keep_alpha(pixels, kept)
            return Raster(pixels, raster.left, raster.top)
        both = join(region_of(raster), region)
        same = region_of(raster) == both and region == both
        result = own_pixels(raster, work) if same else laid_in(raster, both)
        top = made if same else laid_in(Raster(made, region[0], region[1]), both)
        blend(result, top, p["mode"], p["opacity"] / 100)
        return Raster(result, both[0], both[1])

    return draw


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


def _rays(p: Params, work: Work, region: Region) -> np.ndarray:
    """Light from a centre: noise over the angle, fading with the distance."""
    cx, cy = work.at(p["centre"])
    far = max(
        math.hypot(x - cx, y - cy) for x in (region[0], region[2]) for y in (region[1], region[3])
    )
    length = min(far, max(2.0, work.px(p["length"])))
    steps = 2048
    # Noise around a circle closes on itself: it is read along a ring of the field.
    turns = np.linspace(0, 2 * math.pi, steps, endpoint=False)
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
    strength = np.clip(around * 0.6 + 0.5, 0, 1) ** sharp
    rows = np.clip(1 - np.arange(256) / 255, 0, 1) ** (0.3 + p["falloff"] / 100 * 2.4)
    strength = np.append(strength, strength[:1]).astype(np.float32)
    polar = cv2.convertScaleAbs(strength[:, None] * rows.astype(np.float32)[None, :], alpha=255)

    def maps() -> np.ndarray:
        """Distance and turn of every pixel, in steps of the polar picture."""
        x, y = places(region)
        shape = (y.shape[0], x.shape[1])
        wide_x = np.ascontiguousarray(np.broadcast_to(x - np.float32(cx), shape))
        wide_y = np.ascontiguousarray(np.broadcast_to(y - np.float32(cy), shape))
        radius, turned = cv2.cartToPolar(wide_x, wide_y)
        spun = turned * np.float32(steps / (2 * math.pi)) - np.float32(p["angle"] / 360 * steps)
        return np.stack([radius * np.float32(255 / length), np.mod(spun, np.float32(steps))])

    key = ("rays", region, cx, cy, length, p["angle"])
    radii, turns_ = work.keep(key, maps)
    light = cv2.remap(
        polar, radii, turns_, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=0
    )
    return tinted(light, p["colour"])


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
    return (threads * np.float32(0.8) + fibre * np.float32(0.35)).astype(np.float32)


def _on_canvas(
    region: Region, work: Work, turn: float, centre: tuple[float, float]
) -> tuple[np.ndarray, Canvas, Affine]:
    """A canvas over a region, and the matrix from a pattern's own space (px of the layer, turned
    about a centre) to its pixels."""
    pixels = empty(region[2] - region[0], region[3] - region[1])
    x, y = work.at(centre)
    matrix = (
        Affine.shift(x - region[0], y - region[1])
        @ Affine.rotation(turn)
        @ Affine.scaling(work.scale, work.scale)
    )
    return pixels, Canvas(pixels), matrix


def _seen(matrix: Affine, region: Region) -> tuple[float, float, float, float]:
    """The box of a pattern's space that a region shows."""
    return matrix.inverse().box((0, 0, region[2] - region[0], region[3] - region[1]))


MAX_PIECES = 20_000


def _pattern(
    p: Params,
    work: Work,
    region: Region,
    centre: tuple[float, float],
    pieces: Callable[[tuple[float, float, float, float]], Outline],
) -> np.ndarray:
    pixels, canvas, matrix = _on_canvas(region, work, p["angle"], centre)
    if p["ground"][3] > 0:
        canvas.clear(p["ground"])
    canvas.fill(pieces(_seen(matrix, region)).skia_path, p["colour"], skia_matrix(matrix), 1.0)
    return pixels


def _steps(low: float, high: float, step: float) -> range:
    first, last = math.floor(low / step) - 1, math.ceil(high / step) + 1
    return range(first, min(last, first + MAX_PIECES) + 1)


def _grid(p: Params, work: Work, region: Region) -> np.ndarray:
    (sx, sy), w = p["spacing"], p["width"]

    def lines(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        found = [
            (
                (i * sx - w / 2, top),
                (i * sx + w / 2, top),
                (i * sx + w / 2, bottom),
                (i * sx - w / 2, bottom),
            )
            for i in _steps(left, right, sx)
        ]
        found += [
            (
                (left, j * sy - w / 2),
                (right, j * sy - w / 2),
                (right, j * sy + w / 2),
                (left, j * sy + w / 2),
            )
            for j in _steps(top, bottom, sy)
        ]
        return outlines.polygons(found)

    return _pattern(p, work, region, p["offset"], lines)


def _stripes(p: Params, work: Work, region: Region) -> np.ndarray:
    step, w = p["spacing"], p["spacing"] * p["share"] / 100
    move = work.time_s * p["flow"] % 1 * step

    def lines(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        return outlines.polygons(
            [
                (
                    (i * step + move, top),
                    (i * step + move + w, top),
                    (i * step + move + w, bottom),
                    (i * step + move, bottom),
                )
                for i in _steps(left - step, right, step)
            ]
        )

    return _pattern(p, work, region, p["offset"], lines)


def _dots(p: Params, work: Work, region: Region) -> np.ndarray:
    step, radius = p["spacing"], p["radius"]

    def discs(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        found = []
        for j in _steps(top, bottom, step):
            shift = step / 2 if p["staggered"] and j % 2 else 0
            found += [(i * step + shift, j * step, radius) for i in _steps(left, right, step)]
            if len(found) > MAX_PIECES:
                break
        return outlines.circles(found)

    return _pattern(p, work, region, p["offset"], discs)


def _checker(p: Params, work: Work, region: Region) -> np.ndarray:
    sx, sy = p["size"]

    def squares(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        found = []
        for j in _steps(top, bottom, sy):
            for i in _steps(left, right, sx):
                if (i + j) % 2 == 0:
                    found.append(
                        (
                            (i * sx, j * sy),
                            (i * sx + sx, j * sy),
                            (i * sx + sx, j * sy + sy),
                            (i * sx, j * sy + sy),
                        )
                    )
            if len(found) > MAX_PIECES:
                break
        return outlines.polygons(found)

    return _pattern(p, work, region, p["offset"], squares)


def counter_text(p: Params, work: Work) -> str:
    """What a counter shows at its time."""
    moment = work.time_s
    if p["what"] == "number":
        decimals = round(p["decimals"])
        share = 0.0 if work.length_s <= 0 else min(1.0, max(0.0, moment / work.length_s))
        value = p["from"] + (p["to"] - p["from"]) * (
            p["progress"] / 100 if p["driven"] == "progress" else share
        )
        return f"{value:,.{decimals}f}"
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
    return np.stack([x + sway, y, turn, size, flip, age / life, r[5]], axis=1)[alive]


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

_POINTS = (
    (20.0, 25.0, 30.0, "#17224d"), (80.0, 20.0, 30.0, "#7a3f6d"), (75.0, 80.0, 30.0, "#ff7a45"),
    (20.0, 80.0, 30.0, "#2f9fb3"),
)  # fmt: skip
OFFSET = place("offset", "Origin")
GROUND = colour("ground", "Ground", "#00000000")

GENERATORS = (
    EffectKind(
        "noise-clouds", "Noise clouds", "generate", "Clouds, smoke, mist between two colours.",
        (
            number("scale", "Scale", 240, "px", 2, 8000),
            number("octaves", "Octaves", 5, "", 1, 8, whole=True),
            percent("roughness", "Roughness", 52, 5, 95),
            pair("stretch", "Stretch", (100.0, 100.0), "%", 5, 5000),
            choice("kind", "Noise", (("smooth", "Smooth"), ("cellular", "Cellular"))),
            percent("contrast", "Contrast", 110, 0, 600), percent("level", "Level", 50),
            colour("dark", "Dark", "#17224d"), colour("light", "Light", "#f8f1e4"),
            OFFSET, flow(0.15), SEED, *laid_on(),
        ),
        generator(_clouds), timed=True, fills=True,
    ),
    EffectKind(
        "rays", "Rays", "generate", "Light that streams from a centre.",
        (
            place("centre", "Centre"), number("count", "Rays", 14, "", 1, 200),
            number("length", "Length", 900, "px", 1, 20000), percent("falloff", "Falloff", 45),
            percent("sharpness", "Sharpness", 45), angle("angle", "Angle", 0),
            colour("colour", "Colour", "#ffdf9e"), flow(0.25), SEED, *laid_on("frame", "screen"),
        ),
        generator(_rays), timed=True, fills=True,
    ),
    EffectKind(
        "point-gradient", "Point gradient", "generate", "Colours that spread from points you move.",
        (PropertySpec("points", "Points", Kind.SPOTS, _POINTS, "Effect", hint="spots"), *laid_on()),
        generator(_point_gradient), fills=True,
    ),
    EffectKind(
        "texture", "Texture", "generate", "Paper, stone, brushed metal, cloth.",
        (
            choice(
                "kind", "Texture",
                (
                    ("paper", "Paper"), ("stone", "Stone"), ("metal", "Brushed metal"),
                    ("cloth", "Cloth"),
                ),
            ),
            number("scale", "Scale", 10, "px", 1, 200),
            percent("contrast", "Contrast", 60, 0, 300), colour("dark", "Dark", "#7f776c"),
            colour("light", "Light", "#ffffff"),
            SEED, *laid_on("layer", "multiply"),
        ),
        generator(_texture), fills=True, grid=True,
    ),
    EffectKind(
        "grid", "Grid", "generate", "Lines both ways.",
        (
            pair("spacing", "Spacing", (80.0, 80.0), "px", 2, 4000, linked=True),
            number("width", "Line", 2, "px", 0.1, 1000), angle("angle", "Angle", 0), OFFSET,
            colour("colour", "Colour", "#f8f1e4"), GROUND, *laid_on(),
        ),
        generator(_grid), fills=True,
    ),
    EffectKind(
        "stripes", "Stripes", "generate", "Bars that may travel.",
        (
            number("spacing", "Spacing", 60, "px", 2, 4000), percent("share", "Bar", 50),
            angle("angle", "Angle", 30), OFFSET,
            colour("colour", "Colour", "#ffb44a"), GROUND, flow(), *laid_on(),
        ),
        generator(_stripes), timed=True, fills=True,
    ),
    EffectKind(
        "dots", "Dots", "generate", "Rows of discs.",
        (
            number("spacing", "Spacing", 48, "px", 3, 4000),
            number("radius", "Radius", 12, "px", 0.2, 2000), flag("staggered", "Staggered", True),
            angle("angle", "Angle", 0), OFFSET,
            colour("colour", "Colour", "#f8f1e4"), GROUND, *laid_on(),
        ),
        generator(_dots), fills=True,
    ),
    EffectKind(
        "checker", "Checker", "generate", "Squares by turns.",
        (
            pair("size", "Size", (80.0, 80.0), "px", 4, 4000, linked=True),
            angle("angle", "Angle", 0), OFFSET, colour("colour", "Colour", "#f8f1e4"), GROUND,
            *laid_on(),
        ),
        generator(_checker), fills=True,
    ),
    EffectKind(
        "counter", "Timecode and counter", "generate", "Shows time, frames, or a number that runs.",
        (
            choice(
                "what", "Shows",
                (("timecode", "Timecode"), ("frame", "Frame"), ("number", "A number")),
            ),
            PropertySpec("font", "Typeface", Kind.FONT, "jetbrains-mono", "Effect"),
            number("size", "Size", 64, "px", 1, 2000), place("place", "Place"),
            colour("colour", "Colour", "#f8f1e4"),
            number("from", "From", 0, when=("what", ("number",))),
            number("to", "To", 100, when=("what", ("number",))),
            number("decimals", "Decimals", 0, "", 0, 6, whole=True, when=("what", ("number",))),
            choice("driven", "Driven by", (("span", "The layer's span"), ("progress", "Progress"))),
            percent("progress", "Progress", 0),
            PropertySpec("before", "Before", Kind.TEXT, "", "Effect"),
            PropertySpec("after", "After", Kind.TEXT, "", "Effect"), *laid_on("frame"),
        ),
        generator(_counter), timed=True, fills=True,
    ),
    EffectKind(
        "lens-flare", "Lens flare", "generate", "Light in the lens, with several characters.",
        (
            place("centre", "Centre"),
            choice(
                "character", "Character",
                (("sun", "Sun"), ("lamp", "Lamp"), ("streak", "Streak"), ("spark", "Spark")),
            ),
            number("size", "Size", 320, "px", 1, 4000),
            percent("strength", "Strength", 100, 0, 300), percent("ghosts", "Rings", 100),
            angle("angle", "Angle", 0),
            colour("colour", "Colour", "#ffd28a"), flow(), *laid_on("frame", "screen"),
        ),
        generator(_flare), timed=True, fills=True,
    ),
    EffectKind(
        "particles", "Particles", "generate", "Confetti and dust.",
        (
            choice("kind", "Particles", (("confetti", "Confetti"), ("dust", "Dust"))),
            number("count", "Number", 120, "", 1, 2000, whole=True),
            place("centre", "Source"), pair("area", "Source size", (600.0, 40.0), "px", 0, 20000),
            number("size", "Size", 18, "px", 0.5, 400),
            angle("angle", "Direction", 270), number("spread", "Spread", 70, "°", 0, 360),
            number("speed", "Speed", 700, "px/s", 0, 10000),
            number("gravity", "Gravity", 500, "px/s²", -5000, 5000),
            number("sway", "Sway", 20, "px", 0, 1000),
            number("tumble", "Tumble", 260, "°/s", 0, 3000),
            number("life", "Life", 2.4, "s", 0.1, 60, decimals=2, step=0.1),
            flag("once", "One burst"),
            number("burst", "Burst over", 0.4, "s", 0, 60, decimals=2, step=0.1),
            colour("colour", "Colour", "#ff7a45"), colour("colour-2", "Second", "#ffb44a"),
            colour("colour-3", "Third", "#2f9fb3"), SEED, *laid_on("frame"),
        ),
        generator(_particles), timed=True, fills=True,
    ),
)  # fmt: skip
