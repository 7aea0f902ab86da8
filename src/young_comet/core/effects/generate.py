"""Fields made from nothing: clouds, rays, point gradients, textures."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache

import cv2
import numpy as np

from ..model.specs import Kind, PropertySpec
from ..pixels import noise
from ..pixels.blend import looked_up
from ..pixels.colour import Rgba, mix
from ..pixels.oklab import oklab_of, past_grey, srgb_of_oklab
from ..pixels.warp import field_moved, places
from .base import (
    CLOUDS,
    SEED,
    EffectKind,
    Params,
    Region,
    Work,
    choice,
    colour,
    flow,
    number,
    pair,
    percent,
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


# The noise that warps clouds is so much larger than they are, and moves them by so much of their
# size where it is strongest.
_WARP_SCALE, _WARP_BY = 1.3, 0.55


# Smooth noise whose finest features are so many pixels large is worked out for every second or
# fourth pixel: between them nothing happens.
_SPARSE_PX = 12


def _clouds(p: Params, work: Work, region: Region) -> np.ndarray:
    """Noise whose places are moved by noise (domain warping)."""
    stretch = (max(0.05, p["stretch"][0] / 100), max(0.05, p["stretch"][1] / 100))
    finest = work.px(p["scale"]) * min(stretch) / 2 ** (round(p["octaves"]) - 1)
    step = 1
    while p["kind"] == "smooth" and step < 4 and finest >= 2 * step * _SPARSE_PX:
        step *= 2
    # Blocks of whole pixels that the frame's corner fixes; a block's middle tells of it.
    coarse = (
        region[0] // step - 1, region[1] // step - 1, -(-region[2] // step) + 1,
        -(-region[3] // step) + 1,
    )  # fmt: skip
    over = coarse if step > 1 else region
    x, y = work.at(p["offset"])
    field = _warped_noise(p, work, over, (x / step, y / step), work.px(p["scale"]) / step, stretch)
    if step > 1:
        size = (field.shape[1] * step, field.shape[0] * step)
        large = cv2.resize(field, size, interpolation=cv2.INTER_LINEAR)
        left, top = region[0] - coarse[0] * step, region[1] - coarse[1] * step
        field = large[top : top + region[3] - region[1], left : left + region[2] - region[0]]
    return between(field, p["dark"], p["light"])


def _warped_noise(
    p: Params, work: Work, region: Region, origin: tuple[float, float], scale: float,
    stretch: tuple[float, float],
) -> np.ndarray:  # fmt: skip
    """The noise of clouds over a region, 0..1 from their dark colour to their light one; ``origin``
    and ``scale`` in its pixels."""
    seed, z = round(p["seed"]), work.time_s * p["flow"]
    warp = p["warp"] / 100 * _WARP_BY * scale
    around = region
    if warp > 0:
        reach = tuple(math.ceil(warp * side) + 2 for side in stretch)
        around = (
            region[0] - reach[0], region[1] - reach[1], region[2] + reach[0], region[3] + reach[1],
        )  # fmt: skip
    field = noise.fractal(
        around, origin, scale, octaves=round(p["octaves"]), seed=seed, z=z, kind=p["kind"],
        roughness=p["roughness"] / 100, stretch=stretch,
    )  # fmt: skip
    if warp > 0:
        across, down = (
            noise.fractal(
                region, origin, scale * _WARP_SCALE, octaves=2, seed=seed + shift, z=z * 0.6,
                stretch=stretch,
            )
            for shift in (401, 577)
        )  # fmt: skip
        start = (float(region[0] - around[0]), float(region[1] - around[1]))
        field = field_moved(field, across, down, (warp * stretch[0], warp * stretch[1]), start)
    found: np.ndarray = field * np.float32(0.5 * p["contrast"] / 100) + np.float32(p["level"] / 100)
    return found


# How soon a point's colour gives way to another's, and how soft its middle is.
_SPOT_POWER, _SPOT_SOFT = 1.4, 0.12
# The distances are bent by noise as large as this share of the picture's diagonal, by this much.
_BENT_OVER, _BENT_BY = 0.4, 0.05


def _point_gradient(p: Params, work: Work, region: Region) -> np.ndarray:
    """Colours spread from points: weights 1 / (d^2 / s^2 + c)^1.4, s the point's softness, the
    distances bent a little by noise; mixed in Oklab and led around grey."""
    left, top, right, bottom = work.box
    step = 8
    gx, gy = region[0] // step, region[1] // step
    columns, rows = region[2] // step + 2 - gx, region[3] // step + 2 - gy
    x = (np.arange(gx, gx + columns, dtype=np.float32) * step)[None, :]
    y = (np.arange(gy, gy + rows, dtype=np.float32) * step)[:, None]
    size = max(1.0, work.px(math.hypot(right - left, bottom - top)))
    grid = (gx, gy, gx + columns, gy + rows)
    origin, scale = (work.origin[0] / step, work.origin[1] / step), _BENT_OVER * size / step
    bent = [
        noise.fractal(grid, origin, scale, octaves=1, seed=seed) * np.float32(_BENT_BY * size)
        for seed in (11, 12)
    ]
    x, y = x + bent[0], y + bent[1]
    total = np.zeros((rows, columns, 4), np.float32)
    weights = np.zeros((rows, columns, 1), np.float32)
    labs, shares = [], []
    for px, py, softness, (r, g, b, a) in p["points"]:
        cx, cy = work.at((left + (right - left) * px / 100, top + (bottom - top) * py / 100))
        spread = max(0.02, softness / 100) * size
        d2 = ((x - np.float32(cx)) ** 2 + (y - np.float32(cy)) ** 2) / np.float32(spread**2)
        w = ((d2 + np.float32(_SPOT_SOFT)) ** np.float32(-_SPOT_POWER))[:, :, None]
        lightness, green_red, blue_yellow = oklab_of((r, g, b))
        total += w * np.array([lightness * a, green_red * a, blue_yellow * a, a], np.float32)
        weights += w
        labs.append(np.array([green_red, blue_yellow], np.float32))
        shares.append(w[:, :, 0] * np.float32(a))
    mixed = total / weights
    alpha = mixed[:, :, 3:]
    lab = mixed[:, :, :3] / np.maximum(alpha, 1e-6)
    lab[:, :, 1:] = past_grey(lab[:, :, 1:], labs, shares)
    rgb = srgb_of_oklab(lab)
    small = np.concatenate([rgb[:, :, ::-1] * alpha, alpha], axis=2) * np.float32(255)
    small = np.ascontiguousarray(small, np.float32)
    ox, oy = (region[0] + 0.5) / step - gx, (region[1] + 0.5) / step - gy
    matrix = np.array([[1 / step, 0, ox], [0, 1 / step, oy]], np.float64)
    large = cv2.warpAffine(
        small, matrix, (region[2] - region[0], region[3] - region[1]),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    return noise.dithered(
        large, region[0] - round(work.origin[0]), region[1] - round(work.origin[1])
    )


# The light that textures are seen in comes from the upper left.
_LIT = (-math.sqrt(0.5), -math.sqrt(0.5))
Heights = Callable[[Region, tuple[float, float], float, int], np.ndarray]


def _paper(region: Region, o: tuple[float, float], scale: float, seed: int) -> np.ndarray:
    rough = noise.fractal(region, o, 12 * scale, octaves=4, seed=seed, roughness=0.7)
    fibres = noise.fractal(region, o, 4 * scale, octaves=2, seed=seed + 9, stretch=(5.0, 1.0))
    across = noise.fractal(region, o, 4 * scale, octaves=2, seed=seed + 17, stretch=(1.0, 4.0))
    found: np.ndarray = rough + 0.3 * fibres + 0.25 * across
    return found * np.float32(0.9)


def _stone(region: Region, o: tuple[float, float], scale: float, seed: int) -> np.ndarray:
    body = noise.fractal(region, o, 90 * scale, octaves=6, seed=seed, roughness=0.6)
    bends = noise.fractal(region, o, 70 * scale, octaves=4, seed=seed + 3, roughness=0.55)
    veins = np.clip(1 - np.abs(bends) * 3.2, 0, 1) ** 5
    found: np.ndarray = 2.6 * body - 3.2 * veins
    return found


def _metal(region: Region, o: tuple[float, float], scale: float, seed: int) -> np.ndarray:
    fine = noise.fractal(
        region, o, 2.0 * scale, octaves=3, seed=seed, stretch=(90.0, 0.6), roughness=0.75
    )
    broad = noise.fractal(region, o, 14 * scale, octaves=2, seed=seed + 4, stretch=(60.0, 0.7))
    found: np.ndarray = 0.8 * fine + 1.4 * broad
    return found


def _concrete(region: Region, o: tuple[float, float], scale: float, seed: int) -> np.ndarray:
    body = noise.fractal(region, o, 120 * scale, octaves=7, seed=seed, roughness=0.62)
    holes = noise.fractal(region, o, 16 * scale, octaves=2, seed=seed + 5)
    found: np.ndarray = 2.2 * body - 5.0 * np.clip(np.abs(holes) - 0.42, 0, 0.2)
    return found


def _felt(region: Region, o: tuple[float, float], scale: float, seed: int) -> np.ndarray:
    """Short fibres that lie in all directions: ridges of bent noise over each other."""
    found = np.zeros((region[3] - region[1], region[2] - region[0]), np.float32)
    ways = ((6.0, 0.9), (1.1, 5.0))
    for n, stretch in enumerate(ways):
        ridges = noise.fractal(
            region, o, 3.2 * scale, octaves=2, seed=seed + 31 * n, stretch=stretch, roughness=0.6
        )
        found += (1 - np.abs(ridges) * 2).astype(np.float32)
    clumps = noise.fractal(region, o, 60 * scale, octaves=3, seed=seed + 5)
    return np.asarray(found * np.float32(0.8) + clumps, np.float32)


def _cloth(region: Region, o: tuple[float, float], scale: float, seed: int) -> np.ndarray:
    return _weave(region, o, 6 * scale, seed) * np.float32(1.2)


# What a texture is by its heights, how much its slopes and its heights count for its tone, and its
# mean height (measured), which is taken off.
_MATERIALS: dict[str, tuple[str, Heights, float, float, float]] = {
    "paper": ("Paper", _paper, 0.1, 0.025, 0.0),
    "stone": ("Stone", _stone, 0.5, 0.11, -0.58),
    "metal": ("Brushed metal", _metal, 0.16, 0.12, 0.0),
    "cloth": ("Cloth", _cloth, 0.22, 0.1, -0.15),
    "concrete": ("Concrete", _concrete, 0.6, 0.09, -0.07),
    "felt": ("Felt", _felt, 0.22, 0.08, 0.91),
}


def _texture(p: Params, work: Work, region: Region) -> np.ndarray:
    """Heights lit by their slope. Slopes are as often lit as shaded: the mean stays."""
    scale, seed = work.px(p["scale"]) / 10, round(p["seed"])
    _, heights, by_slope, by_height, mean = _MATERIALS[p["kind"]]
    around = (region[0] - 1, region[1] - 1, region[2] + 1, region[3] + 1)
    field = np.ascontiguousarray(heights(around, work.origin, scale, seed), np.float32)
    light = np.float32(_LIT[0]) * (field[1:-1, 2:] - field[1:-1, :-2])
    light += np.float32(_LIT[1]) * (field[2:, 1:-1] - field[:-2, 1:-1])
    # A slope is rise over run, whatever the size of what is seen.
    light *= np.float32(-by_slope * max(0.6, scale))
    light += np.float32(by_height) * (field[1:-1, 1:-1] - np.float32(mean))
    contrast = np.float32(p["contrast"] / 60)
    return between(np.clip(light * contrast + np.float32(0.5), 0, 1), p["dark"], p["light"])


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
            CLOUDS,
            percent("warp", "Warp", 60, 0, 300,
                help="How far the clouds are drawn about, as smoke is"),
            percent("contrast", "Contrast", 150, 0, 600), percent("level", "Midpoint", 48,
                help="Which tone lies in the middle: more of the dark or of the light"),
            colour("dark", "Dark colour", "#17224d00",
                help="The colour of the low places"), colour("light", "Light colour", "#f8f1e4",
                help="The colour of the high places"),
            OFFSET, flow(0.15), SEED, *laid_on(),
        ),
        generator(_clouds), timed=True, fills=True,
    ),
    EffectKind(
        "point-gradient", "Point gradient", "generate", "Colours that spread from points you move.",
        (PropertySpec("points", "Colour points", Kind.SPOTS, _POINTS, "Effect",
            help="Where each colour lies"), *laid_on()),
        generator(_point_gradient), fills=True,
    ),
    EffectKind(
        "texture", "Texture", "generate", "Paper, stone, metal, cloth, concrete or felt.",
        (
            choice(
                "kind", "Texture type",
                tuple((id, label) for id, (label, *_) in _MATERIALS.items()),
                help="The material that it looks like",
            ),
            number("scale", "Noise scale", 10, "px", 1, 200, help="How large its features are"),
            percent("contrast", "Contrast", 60, 0, 300), colour("dark", "Dark colour", "#000000",
                help="The colour of what lies in the shade"),
            colour("light", "Light colour", "#ffffff", help="The colour of what is lit"),
            SEED, *laid_on("layer", "soft-light"),
        ),
        generator(_texture), fills=True, grid=True, light="same",
    ),
)  # fmt: skip
