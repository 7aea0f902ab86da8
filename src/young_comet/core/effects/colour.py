"""Colours corrected, graded, replaced."""

from __future__ import annotations

import math

import numpy as np

from ..model.specs import Kind, PropertySpec, where
from ..pixels import noise, tone
from ..pixels.blend import (
    BLEND_MODES,
    blend,
    blend_towards,
    lay_tinted,
    scale_by,
    tinted,
)
from ..pixels.colour import Rgba, mix
from ..pixels.kernel import Few, kernel, sample
from ..pixels.raster import Raster
from ..pixels.tone import Grain, grained
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
    meet,
    number,
    own_pixels,
    percent,
    place,
    region_of,
)

_RAMP = np.linspace(0.0, 1.0, 256)


def _same_place(raster: Raster, pixels: np.ndarray) -> Raster:
    return Raster(pixels, raster.left, raster.top)


def _looked_up(
    raster: Raster, work: Work, red: np.ndarray, green: np.ndarray, blue: np.ndarray
) -> Raster:
    """Each channel through its table: of several such steps the pixels are looked up once."""
    tables = tone.channel_tables(red, green, blue)
    return tone.toned(raster, tables=tables, owned=work.owned)


def _levels(raster: Raster, p: Params, work: Work) -> Raster:
    low, high = p["black"] / 255, p["white"] / 255
    spread = high - low if abs(high - low) > 1e-4 else 1e-4
    t = np.clip((_RAMP - low) / spread, 0, 1) ** (1 / p["gamma"])
    t = p["out-black"] / 255 + t * (p["out-white"] - p["out-black"]) / 255
    chosen = p["channel"]
    red, green, blue = (t if chosen in ("rgb", c) else _RAMP for c in ("red", "green", "blue"))
    return _looked_up(raster, work, red, green, blue)


def _curves(raster: Raster, p: Params, work: Work) -> Raster:
    """The curve of a channel first, then the one of all three."""
    whole = tone.as_bytes(np.clip(tone.curve_table(p["rgb"]), 0, 1))
    red, green, blue = (
        whole[tone.as_bytes(np.clip(tone.curve_table(p[channel]), 0, 1))]
        for channel in ("red", "green", "blue")
    )
    return _looked_up(raster, work, red, green, blue)


def _brightness(raster: Raster, p: Params, work: Work) -> Raster:
    """brightness() then contrast() of Filter Effects 1, section 7: slopes about 0 and 1/2."""
    b, c = 1 + p["brightness"] / 100, 1 + p["contrast"] / 100
    if b == 1 and c == 1:
        return raster
    t = np.clip(_RAMP * b, 0, 1) * c + 0.5 - 0.5 * c
    return _looked_up(raster, work, t, t, t)


def saturation_matrix(s: float) -> np.ndarray:
    """feColorMatrix type saturate (Filter Effects 1, 9.6)."""
    r, g, b = 0.213, 0.715, 0.072
    return np.array(
        [
            [r + (1 - r) * s, g - g * s, b - b * s, 0, 0],
            [r - r * s, g + (1 - g) * s, b - b * s, 0, 0],
            [r - r * s, g - g * s, b + (1 - b) * s, 0, 0],
            [0, 0, 0, 1, 0],
        ]
    )


def hue_matrix(degrees: float) -> np.ndarray:
    """feColorMatrix type hueRotate (Filter Effects 1, 9.6)."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    base = np.array([[0.213, 0.715, 0.072]] * 3)
    cos = np.array([[0.787, -0.715, -0.072], [-0.213, 0.285, -0.072], [-0.213, -0.715, 0.928]])
    sin = np.array([[-0.213, -0.715, 0.928], [0.143, 0.140, -0.283], [-0.787, 0.715, 0.072]])
    matrix = np.zeros((4, 5))
    matrix[:3, :3] = base + c * cos + s * sin
    matrix[3, 3] = 1
    return matrix


def _product(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """First ``b``, then ``a``."""
    whole = np.vstack([b, [0, 0, 0, 0, 1]])
    result: np.ndarray = a @ whole
    return result


def _hue(raster: Raster, p: Params, work: Work) -> Raster:
    matrix = _product(saturation_matrix(1 + p["saturation"] / 100), hue_matrix(p["hue"]))
    light = p["lightness"] / 100
    matrix[:3] *= 1 - abs(light)
    matrix[:3, 4] += max(0.0, light)
    return _same_place(raster, tone.with_matrix(raster.pixels, matrix))


def _temperature(raster: Raster, p: Params, work: Work) -> Raster:
    """Gains of the channels, kept at the same luma for grey."""
    t, g = p["temperature"] / 100, p["tint"] / 100
    gains = np.array([1 + 0.28 * t + 0.1 * g, 1 + 0.04 * t - 0.2 * g, 1 - 0.32 * t + 0.1 * g])
    gains /= float(np.dot(gains, tone.LUMA))
    matrix = np.zeros((4, 5))
    matrix[[0, 1, 2], [0, 1, 2]] = gains
    matrix[3, 3] = 1
    return _same_place(raster, tone.with_matrix(raster.pixels, matrix))


def _monochrome(raster: Raster, p: Params, work: Work) -> Raster:
    weights = np.array([p["red"], p["green"], p["blue"]]) / 100
    amount = p["amount"] / 100
    matrix = np.zeros((4, 5))
    matrix[:3, :3] = (1 - amount) * np.eye(3) + amount * weights[None, :]
    matrix[3, 3] = 1
    return _same_place(raster, tone.with_matrix(raster.pixels, matrix))


def _gradient_table(stops: tuple[tuple[float, Rgba], ...]) -> np.ndarray:
    """256 straight BGRA colours along gradient stops, mixed premultiplied."""
    ordered = sorted(stops, key=lambda stop: stop[0])
    table = np.zeros((256, 4), np.uint8)
    for i, t in enumerate(_RAMP):
        after = next((k for k, stop in enumerate(ordered) if stop[0] >= t), len(ordered))
        if after == 0:
            found = ordered[0][1]
        elif after == len(ordered):
            found = ordered[-1][1]
        else:
            (a, first), (b, second) = ordered[after - 1], ordered[after]
            found = mix(first, second, (t - a) / (b - a) if b > a else 1.0)
        table[i] = tone.straight_bgra(found)
    return table


def _tint(raster: Raster, p: Params, work: Work) -> Raster:
    table = _gradient_table(((0.0, p["dark"]), (1.0, p["light"])))
    return _same_place(raster, tone.by_luma(raster.pixels, table, p["amount"] / 100))


def _gradient_map(raster: Raster, p: Params, work: Work) -> Raster:
    table = _gradient_table(p["stops"])
    return _same_place(raster, tone.by_luma(raster.pixels, table, p["amount"] / 100))


def _invert(raster: Raster, p: Params, work: Work) -> Raster:
    if p["what"] == "colour":
        k = p["amount"] / 100
        t = _RAMP * (1 - 2 * k) + k  # invert() of Filter Effects 1
        return _looked_up(raster, work, t, t, t)
    # What was transparent becomes the ink, within the layer's own box.
    k = p["amount"] / 100
    left, top, right, bottom = meet(work.content, work.area)
    alpha = np.zeros((max(0, bottom - top), max(0, right - left)), np.uint8)
    if not raster.is_empty and alpha.size:
        y0, x0 = max(top, raster.top), max(left, raster.left)
        y1 = min(bottom, raster.top + raster.height)
        x1 = min(right, raster.left + raster.width)
        if y1 > y0 and x1 > x0:
            alpha[y0 - top : y1 - top, x0 - left : x1 - left] = raster.pixels[
                y0 - raster.top : y1 - raster.top, x0 - raster.left : x1 - raster.left, 3
            ]
    mixed = np.rint(alpha * (1 - 2 * k) + 255 * k).astype(np.uint8)
    return Raster(tinted(np.ascontiguousarray(mixed), p["ink"]), left, top)


def _fill(raster: Raster, p: Params, work: Work) -> Raster:
    """The colour in the layer's own alpha, blended onto its picture."""
    pixels = raster.pixels.copy()
    colours = tinted(np.ascontiguousarray(pixels[:, :, 3]), (*p["colour"][:3], 1.0))
    mode, amount = p["mode"], p["amount"] / 100 * p["colour"][3]
    if mode == "normal":
        coverage = np.full(pixels.shape[:2], round(255 * amount), np.uint8)
        blend_towards(pixels, colours, coverage)
    else:
        alpha = np.ascontiguousarray(pixels[:, :, 3])
        opaque = pixels.copy()
        blend(opaque, colours, mode, amount)
        # Blending adds alpha where the layer is see-through: its own is kept.
        scale_by_ratio(opaque, alpha)
        pixels = opaque
    return _same_place(raster, pixels)


def scale_by_ratio(pixels: np.ndarray, alpha: np.ndarray) -> None:
    """Gives a picture another, smaller alpha, in place: colours stay as they are."""
    own = np.maximum(pixels[:, :, 3], 1).astype(np.float32)
    ratio = np.rint(np.clip(alpha / own, 0, 1) * 255).astype(np.uint8)
    scale_by(pixels, ratio)


def _posterise(raster: Raster, p: Params, work: Work) -> Raster:
    """Discrete steps as feComponentTransfer's discrete tables give them."""
    n = max(2, round(p["levels"]))
    t = np.minimum(np.floor(_RAMP * n), n - 1) / (n - 1)
    return _looked_up(raster, work, t, t, t)


def _threshold(raster: Raster, p: Params, work: Work) -> Raster:
    soft = max(1e-3, p["softness"] / 100)
    t = np.clip((_RAMP - p["level"] / 100) / soft + 0.5, 0, 1)
    table = np.array(
        [tone.straight_bgra(mix(p["dark"], p["light"], float(k))) for k in t], np.uint8
    )
    return _same_place(raster, tone.by_luma(raster.pixels, table))


def _table(raster: Raster, p: Params, work: Work) -> Raster:
    table = work.table(p["table"]) if p["table"] else None
    if table is None or p["amount"] <= 0:
        return raster
    return _same_place(raster, tone.through_cube(raster.pixels, table, p["amount"] / 100))


def _vignette(raster: Raster, p: Params, work: Work) -> Raster:
    region = region_of(raster)
    names = ("amount", "size", "softness", "roundness", "centre")
    key = ("vignette", region, work.origin, work.scale, work.box, *(p[n] for n in names))
    strength = work.keep(key, lambda: _vignette_strength(region, p, work))
    if p["colour"][:3] == (0.0, 0.0, 0.0) and p["colour"][3] == 1.0:
        # Black needs no alpha of its own: the colours are scaled down.
        return tone.toned(raster, dark=strength, owned=work.owned)
    pixels = own_pixels(raster, work)
    alpha = np.ascontiguousarray(pixels[:, :, 3])
    lay_tinted(pixels, strength, p["colour"])
    scale_by_ratio(pixels, alpha)
    return _same_place(raster, pixels)


def _vignette_strength(region: Region, p: Params, work: Work) -> np.ndarray:
    x, y = places(region)
    left, top, right, bottom = work.box
    cx, cy = work.at((p["centre"][0] + (left + right) / 2, p["centre"][1] + (top + bottom) / 2))
    half_w = max(1.0, work.px(right - left) / 2)
    half_h = max(1.0, work.px(bottom - top) / 2)
    roundness = p["roundness"] / 100
    circle = math.hypot(half_w, half_h) / math.sqrt(2)
    rx, ry = half_w + (circle - half_w) * roundness, half_h + (circle - half_h) * roundness
    across = (np.square((x - cx) / rx) / 2).astype(np.float32).reshape(-1)
    down = (np.square((y - cy) / ry) / 2).astype(np.float32).reshape(-1)
    # Dithered: a wide dark ramp would show its steps.
    dither = noise.grain(region[0], region[1], len(across), len(down), 0, 3)
    start, soft = p["size"] / 100, max(1e-3, p["softness"] / 100)
    return ramp_outwards(across, down, dither, start, soft, 2.55 * p["amount"])


@kernel(fastmath=True)
def ramp_outwards(
    across: np.ndarray, down: np.ndarray, dither: np.ndarray, start: float, soft: float, top: float
) -> np.ndarray:
    """uint8 (h, w) that rises smoothly from 0 at the distance ``start`` over ``soft`` to ``top``;
    a distance is the root of a column's and a row's square."""
    out = np.empty((len(down), len(across)), np.uint8)
    zero, one, two, three = np.float32(0), np.float32(1), np.float32(2), np.float32(3)
    part, half, full = np.float32(0.29), np.float32(0.5), np.float32(255)
    first, wide, most = np.float32(start), np.float32(1 / soft), np.float32(top)
    for y in range(len(down)):
        for x in range(len(across)):
            t = (np.sqrt(across[x] + down[y]) - first) * wide
            t = min(one, max(zero, t))
            level = t * t * (three - two * t) * most + dither[y, x] * part + half
            out[y, x] = np.uint8(min(full, max(zero, level)))
    return out


def _grain(raster: Raster, p: Params, work: Work) -> Raster:
    """Noise on every pixel, new with every moment where it flows."""
    if raster.is_empty or p["amount"] <= 0:
        return raster
    moment = math.floor(work.time_s * p["flow"] + 1e-6) if p["flow"] else 0
    size = max(1.0, work.px(p["size"]))
    ox, oy = round(work.origin[0]), round(work.origin[1])
    strength = p["amount"] / 100 * 64
    if size < 1.5:
        left, top = raster.left - ox, raster.top - oy
        grain = Grain(left, top, moment, round(p["seed"]), float(strength), bool(p["grey"]))
        return grained(raster, grain, owned=work.owned)
    pixels = own_pixels(raster, work)
    region = region_of(raster)
    seeds = [
        round(p["seed"]) + 7 * moment + 1009 * channel for channel in range(1 if p["grey"] else 3)
    ]
    fields = [noise.fractal(region, (ox, oy), size * 1.5, octaves=1, seed=seed) for seed in seeds]
    noise.add_fields(pixels, fields[0], fields[-2 % len(fields)], fields[-1], 2.2 * strength)
    return _same_place(raster, pixels)


def curve(id: str, label: str, help: str) -> PropertySpec:
    """A declaration of a tone curve."""
    return PropertySpec(id, label, Kind.CURVE, ((0.0, 0.0), (1.0, 1.0)), "Effect", help=help)


AMOUNT = percent("amount", "Effect amount", 100, help="How much of the changed picture is mixed in")
_STOPS = ((0.0, "#17224d"), (0.5, "#e85d8f"), (1.0, "#ffb44a"))
_MODES = tuple((m, m.replace("-", " ").capitalize()) for m in BLEND_MODES if m != "plus-lighter")

COLOURS = (
    EffectKind(
        "levels", "Levels", "colour", "Black, white and middle of the tones.",
        (
            choice(
                "channel", "Channel",
                (("rgb", "All"), ("red", "Red"), ("green", "Green"), ("blue", "Blue")),
                help="All colours, one of them, or how opaque it is",
            ),
            number("black", "Input black", 0, "", 0, 255, help="What was this dark becomes black"),
            number("white", "Input white", 255, "", 0, 255,
                help="What was this light becomes white"),
            number("gamma", "Gamma", 1, "", 0.1, 10, step=0.05, decimals=2,
                help="Lifts or lowers the middle tones; 1 leaves them"),
            number("out-black", "Output black", 0, "", 0, 255, help="What black turns into"),
            number("out-white", "Output white", 255, "", 0, 255, help="What white turns into"),
        ),
        _levels,
    ),
    EffectKind(
        "curves", "Curves", "colour", "Tones through a curve, all together and each channel.",
        (
            curve("rgb", "Master curve", "All colours together, from dark to light"),
            curve("red", "Red curve", "The red of every colour, from none to all"),
            curve("green", "Green curve", "The green of every colour, from none to all"),
            curve("blue", "Blue curve", "The blue of every colour, from none to all"),
        ),
        _curves,
    ),
    EffectKind(
        "brightness-contrast", "Brightness and contrast", "colour", "As CSS computes them.",
        (
            percent("brightness", "Brightness", 0, -100, 300, help="Lighter or darker"),
            percent("contrast", "Contrast", 0, -100, 300,
                help="Further from or closer to the middle grey"),
        ),
        _brightness,
    ),
    EffectKind(
        "hue-saturation", "Hue, saturation, lightness", "colour", "Turns and strengthens colours.",
        (
            angle("hue", "Hue shift", 0, help="Turns all hues round the colour wheel"),
            percent("saturation", "Saturation", 0, -100, 300, help="How strong the colours are"),
            percent("lightness", "Lightness", 0, -100, 100,
                help="Towards white, or towards black where negative"),
        ),
        _hue,
    ),
    EffectKind(
        "temperature", "Temperature", "colour", "Warmer or cooler, greener or rosier.",
        (percent("temperature", "Warmth", 25, -100, 100,
            help="Towards orange, or towards blue where negative"),
        percent("tint", "Tint", 0, -100, 100,
            help="Towards rose, or towards green where negative")),
        _temperature, light="same",
    ),
    EffectKind(
        "monochrome", "Monochrome", "colour", "Grey, by weights of the channels.",
        (
            AMOUNT,
            percent("red", "Red weight", 21.3, -100, 200, help="How much red makes it light"),
            percent("green", "Green weight", 71.5, -100, 200, help="How much green makes it light"),
            percent("blue", "Blue weight", 7.2, -100, 200, help="How much blue makes it light"),
        ),
        _monochrome, light="same",
    ),
    EffectKind(
        "tint", "Tint in two inks", "colour", "Dark tones become one ink, light ones another.",
        (colour("dark", "Dark colour", "#17224d",
            help="What the dark tones turn into"), colour("light", "Light colour", "#f8f1e4",
            help="What the light tones turn into"), AMOUNT), _tint, light="same",
    ),
    EffectKind(
        "gradient-map", "Gradient map", "colour", "Each tone becomes a colour of a gradient.",
        (PropertySpec("stops", "Gradient stops", Kind.STOPS, _STOPS, "Effect",
            help="The colours that the tones turn into, from dark to light"),
        AMOUNT), _gradient_map,
    ),
    EffectKind(
        "invert", "Invert", "colour", "Colours, or what is there and what is not.",
        (
            choice("what", "Inverted channel", (("colour", "Colour"), ("alpha", "Alpha")),
                help="What is turned into its opposite"), AMOUNT,
            colour("ink", "Target colour", "#f8f1e4", when=where("what", "alpha"),
                help="The colour that it is turned towards"),
        ),
        _invert, fills=True,
    ),
    EffectKind(
        "colour-fill", "Colour fill", "colour", "One colour in the layer's form.",
        (colour("colour", "Colour", "#ff7a45"), AMOUNT, choice("mode", "Blend mode", _MODES,
            help="How its colour mixes with the layer's (W3C compositing)")), _fill,
    ),
    EffectKind(
        "posterise", "Posterise", "colour", "Few levels a channel.",
        (number("levels", "Level count", 5, "", 2, 64, whole=True,
            help="How many tones of each colour are left"),), _posterise, grid=True, light="same",
    ),
    EffectKind(
        "threshold", "Threshold", "colour", "Two colours, parted by brightness.",
        (
            percent("level", "Threshold", 50,
                help="What is lighter than this turns light"), percent("softness", "Softness", 2),
            colour("dark", "Dark colour", "#000000",
                help="What the dark tones turn into"), colour("light", "Light colour", "#ffffff",
                help="What the light tones turn into"),
        ),
        _threshold, grid=True,
    ),
    EffectKind(
        "look-up-table", "Look-up table", "colour", "A grade from a .cube file.",
        (PropertySpec("table", "Colour table", Kind.ASSET, "", "Effect", assets=("table",),
            help="The look-up table (.cube) of the project's assets"), AMOUNT),
        _table,
    ),
    EffectKind(
        "vignette", "Vignette", "colour", "Darkens towards the edges.",
        (
            percent("amount", "Strength", 60, help="How dark the corners become"),
            percent("size", "Size", 45, 0, 200),
            percent("softness", "Softness", 55, 0, 200),
            percent("roundness", "Roundness", 0,
                help="0 follows the frame, 100 is an ellipse"), place("centre", "Centre"),
            colour("colour", "Colour", "#000000"),
        ),
        _vignette, light="less",
    ),
    EffectKind(
        "grain", "Grain", "colour", "Fine noise, as film has; it also hides steps in gradients.",
        (
            percent("amount", "Strength", 5, help="How far the grains differ from the picture"),
            number("size", "Size", 1, "px", 0.5, 40, step=0.5),
            flag("grey", "Grey grain", True, help="Grains without a colour of their own"),
            number(
                "flow", "Grain rate", 25, "/s", 0, 240, decimals=0,
                help="New grains a second; 0 stands still",
            ),
            SEED,
        ),
        _grain, timed=True, grid=True, light="same",
    ),
)  # fmt: skip


@sample
def _sample(_few: Few) -> None:
    line = np.zeros(2, np.float32)
    ramp_outwards(line, line, np.zeros((2, 2), np.float32), 1.0, 1.0, 1.0)
