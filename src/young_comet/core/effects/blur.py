"""Blurs."""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise

import cv2
import numpy as np

from ..pixels import blur as blurs
from ..pixels.blend import blend_towards, scale_by
from ..pixels.ink import Ink, ink_of
from ..pixels.mean import mean_of_rows
from ..pixels.raster import Raster, empty
from ..pixels.whole import times_cover
from .alphas import alpha_in
from .base import (
    EVERYWHERE,
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    choice,
    laid_in,
    meet,
    number,
    pair,
    percent,
    place,
    region_of,
    room_for,
    size_of,
)

_EDGES = choice(
    "edges", "Edge handling",
    (("transparent", "Transparent"), ("repeat", "Edge stretched"), ("mirror", "Mirrored")),
    help="Stretched or mirrored keeps the picture's own edge hard",
)  # fmt: skip


def _gaussian(raster: Raster, p: Params, work: Work) -> Raster:
    """Filter Effects 1, feGaussianBlur: the size is the standard deviation."""
    sx, sy = (work.px(s) for s in p["size"])
    return softened(raster, sx, sy, p["edges"], work)


def softened(raster: Raster, sx: float, sy: float, edges: str, work: Work) -> Raster:
    """A raster blurred with room for what spreads, or within its own edge."""
    if max(sx, sy) < 0.05:
        return raster
    ink = ink_of(raster)
    if ink is not None:
        if edges != "transparent":
            alpha = _within_edge(ink.alpha, sx, sy, edges)
            return Raster(Ink(alpha, ink.colour), raster.left, raster.top)
        region = room_for(raster, blurs.reach_of(max(sx, sy)), work)
        alpha = ink.alpha if region == region_of(raster) else alpha_in(raster, region)
        return Raster(Ink(blurs.gaussian(alpha, sx, sy, edges), ink.colour), *region[:2])
    if edges != "transparent":
        pixels = _within_edge(raster.pixels, sx, sy, edges)
        return Raster(pixels, raster.left, raster.top)
    region = room_for(raster, blurs.reach_of(max(sx, sy)), work)
    there = region_of(raster) == region
    whole = raster.pixels if there else laid_in(raster, region)
    return Raster(blurs.gaussian(whole, sx, sy), region[0], region[1])


def _within_edge(pixels: np.ndarray, sx: float, sy: float, edges: str) -> np.ndarray:
    """Pixels (h, w) or (h, w, 4) blurred within the box of what is there, whose edge is stretched
    or mirrored and stays as hard as it is: edge pixels that are covered in part stay so."""
    alpha = pixels if pixels.ndim == 2 else pixels[:, :, 3]
    rows, columns = _solid(alpha.max(axis=1, initial=0)), _solid(alpha.max(axis=0, initial=0))
    if rows is None or columns is None:
        return pixels
    inner = np.ascontiguousarray(pixels[rows, columns])
    height, width = pixels.shape[:2]
    soft = cv2.copyMakeBorder(
        blurs.gaussian(inner, sx, sy, edges), rows.start, height - rows.stop, columns.start,
        width - columns.stop, cv2.BORDER_REPLICATE,
    )  # fmt: skip
    cover = alpha.copy()
    cover[rows, columns] = 255
    if soft.ndim == 2:
        return np.ascontiguousarray(times_cover(soft, cover))
    scale_by(soft, cover)
    return soft


def _solid(most: np.ndarray) -> slice | None:
    """From the first to the last row (or column) that is fully covered somewhere; of those that are
    covered at all where none is."""
    found = np.flatnonzero(most >= min(250, int(most.max(initial=0))))
    if not len(found) or not most.any():
        return None
    return slice(int(found[0]), int(found[-1]) + 1)


def _directional(raster: Raster, p: Params, work: Work) -> Raster:
    length = work.px(p["length"])
    region = room_for(raster, length / 2 + 1, work)
    whole = laid_in(raster, region)
    return Raster(blurs.directional(whole, length, p["angle"]), region[0], region[1])


def _accumulated(raster: Raster, region: Region, maps: list[np.ndarray], continued: bool) -> Raster:
    """The mean of the raster under several affine maps (from result to source), over a region.
    Beyond its edges it is transparent, or goes on as they are where it is ``continued``."""
    width, height = region[2] - region[0], region[3] - region[1]
    if width <= 0 or height <= 0 or raster.is_empty:
        return Raster(empty(0, 0), region[0], region[1])
    beyond = cv2.BORDER_REPLICATE if continued else cv2.BORDER_CONSTANT
    source = cv2.copyMakeBorder(raster.pixels, 1, 1, 1, 1, beyond)
    # Into the arrays' own pixel centres; the source has a border of one pixel.
    corner = np.array([region[0] + 0.5, region[1] + 0.5])
    into = np.array([raster.left - 1, raster.top - 1]) + 0.5
    matrices = [np.column_stack([m[:, :2], m[:, 2] + m[:, :2] @ corner - into]) for m in maps]

    def rows(matrix: np.ndarray) -> Callable[[int, int], np.ndarray]:
        def taken(first: int, last: int) -> np.ndarray:
            moved = np.column_stack([matrix[:, :2], matrix[:, 2] + matrix[:, 1] * first])
            return cv2.warpAffine(
                source, moved, (width, last - first), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
                borderMode=beyond,
            )  # fmt: skip

        return taken

    return Raster(mean_of_rows([rows(m) for m in matrices], width, height), region[0], region[1])


def _about(centre: tuple[float, float], a: float, b: float) -> np.ndarray:
    """x' = c + R (x - c) with R = [[a, -b], [b, a]]."""
    x, y = centre
    return np.array([[a, -b, x - a * x + b * y], [b, a, y - b * x - a * y]], np.float64)


def _far(raster: Raster, centre: tuple[float, float], work: Work) -> float:
    left, top, right, bottom = region_of(raster)
    corners = [(x, y) for x in (left, right) for y in (top, bottom)]
    return max(math.dist(centre, c) for c in corners) if not raster.is_empty else 0.0


def _zoom(raster: Raster, p: Params, work: Work) -> Raster:
    amount = p["amount"] / 100
    centre = work.at(p["centre"])
    path = amount * _far(raster, centre, work)
    if path < 0.5:
        return raster
    return _turned(raster, work, centre, path, lambda share: (1 + amount * share, 0.0))


def _spin(raster: Raster, p: Params, work: Work) -> Raster:
    turn = math.radians(p["angle"])
    centre = work.at(p["centre"])
    path = abs(turn) * _far(raster, centre, work)
    if path < 0.5:
        return raster
    return _turned(
        raster, work, centre, path, lambda share: (math.cos(turn * share), math.sin(turn * share))
    )


# Beyond so many steps a long way is gone in two passes of short ones and of coarse ones.
_ONE_PASS = 12


def _turned(
    raster: Raster, work: Work, centre: tuple[float, float], path: float,
    at: Callable[[float], tuple[float, float]],
) -> Raster:  # fmt: skip
    """The mean of the raster enlarged and turned about a centre by a + bi, which ``at`` gives for
    shares of -0.5 to 0.5 of the whole; ``path`` is how far its outermost pixels go."""
    count = int(min(48, max(4, path / 2)))
    coarse = round(math.sqrt(count))
    fine = math.ceil(count / coarse)
    steps = [at(((i + 0.5) / fine - 0.5) / coarse) for i in range(fine)]
    between = region_of(raster) if work.continued else _reached(raster, centre, steps)
    # What the first pass makes may be much larger than what is seen: then one is less work.
    two = fine * size_of(between) + coarse * size_of(work.area)
    if count <= _ONE_PASS or two > count * size_of(work.area):
        turns = [at(i / (count - 1) - 0.5) for i in range(count)]
        return _smeared(raster, work, centre, turns, work.area)
    near = _smeared(raster, work, centre, steps, between)
    turns = [at((i + 0.5) / coarse - 0.5) for i in range(coarse)]
    return _smeared(near, work, centre, turns, work.area)


def _reached(
    raster: Raster, centre: tuple[float, float], turns: list[tuple[float, float]]
) -> Region:
    """Where a raster is when it is enlarged and turned about a centre by a + bi each."""
    left, top, right, bottom = region_of(raster)
    corners = [(x - centre[0], y - centre[1]) for x in (left, right) for y in (top, bottom)]
    xs = [a * x - b * y + centre[0] for a, b in turns for x, y in corners]
    ys = [b * x + a * y + centre[1] for a, b in turns for x, y in corners]
    return (
        math.floor(min(xs)) - 1, math.floor(min(ys)) - 1,
        math.ceil(max(xs)) + 1, math.ceil(max(ys)) + 1,
    )  # fmt: skip


def _smeared(
    raster: Raster, work: Work, centre: tuple[float, float], turns: list[tuple[float, float]],
    area: Region,
) -> Raster:  # fmt: skip
    """The mean of the raster enlarged and turned about a centre by a + bi each, within an area."""
    maps = []
    for a, b in turns:
        size = a * a + b * b
        maps.append(_about(centre, a / size, -b / size))
    region = area if work.continued else meet(_reached(raster, centre, turns), area)
    return _accumulated(raster, region, maps, work.continued)


def _focus(raster: Raster, p: Params, work: Work) -> Raster:
    """Blur that grows with the distance from a line or a point: between steps of growing sigma
    the picture is mixed."""
    most = work.px(p["size"])
    if most < 0.05:
        return raster
    region = room_for(raster, blurs.reach_of(most), work)
    sharp = laid_in(raster, region)
    width, height = region[2] - region[0], region[3] - region[1]
    if width <= 0 or height <= 0:
        return raster
    cx, cy = work.at(p["centre"])
    x = np.arange(region[0], region[2], dtype=np.float32)[None, :] + np.float32(0.5 - cx)
    y = np.arange(region[1], region[3], dtype=np.float32)[:, None] + np.float32(0.5 - cy)
    if p["shape"] == "round":
        far = np.hypot(x, y)
    else:
        turned = math.radians(p["angle"])
        far = np.abs(-x * np.float32(math.sin(turned)) + y * np.float32(math.cos(turned)))
    start, ramp = work.px(p["sharp"]) / 2, max(1e-3, work.px(p["ramp"]))
    amount = np.clip((far - np.float32(start)) / np.float32(ramp), 0, 1)
    steps = [0.0, *(most * k for k in (0.12, 0.3, 0.6, 1.0))]
    result = sharp.copy()
    for low, high in pairwise(steps):
        part = np.clip((amount * most - low) / (high - low), 0, 1)
        if not float(part.max(initial=0)):
            break
        coverage = np.rint(part * 255).astype(np.uint8)
        blend_towards(result, blurs.gaussian(sharp, high), coverage)
    return Raster(result, region[0], region[1])


def _focus_reach(p: Params, work: Work) -> float:
    return blurs.reach_of(work.px(p["size"]))


CENTRE = place("centre", "Centre")

BLURS = (
    EffectKind(
        "gaussian-blur", "Gaussian blur", "blur", "Softens evenly, by any size.",
        (pair("size", "Blur radius", (8.0, 8.0), "px", 0, 1000, linked=True,
            help="The standard deviation of the blur, along x and y"), _EDGES),
        _gaussian,
        lambda p, work: blurs.reach_of(work.px(max(p["size"]))),
        roomy=True, spatial=True, light="same",
    ),
    EffectKind(
        "directional-blur", "Directional blur", "blur", "Smears along a line.",
        (number("length", "Blur length", 40, "px", 0, 2000,
            help="How far it is smeared"), angle("angle", "Angle", 0)),
        _directional,
        lambda p, work: work.px(p["length"]) / 2 + 2, light="same",
    ),
    EffectKind(
        "zoom-blur", "Zoom blur", "blur", "Smears towards and away from a centre.",
        (percent("amount", "Amount", 20, 0, 180,
            help="How much larger the last of the smeared pictures is"), CENTRE),
        _zoom, lambda p, work: EVERYWHERE, light="same",
    ),
    EffectKind(
        "spin-blur", "Spin blur", "blur", "Smears around a centre.",
        (number("angle", "Angle", 12, "°", 0, 360, widget="dial"), CENTRE),
        _spin, lambda p, work: EVERYWHERE, light="same",
    ),
    EffectKind(
        "focus-sweep", "Focus sweep", "blur",
        "Sharp along a line or about a point, softer with the distance: key its centre.",
        (
            number("size", "Blur radius", 16, "px", 0, 400,
                help="The standard deviation of the blur, along x and y"), CENTRE,
            choice("shape", "Sharp area", (("line", "Along a line"), ("round", "About a point")),
                help="What stays sharp: a band or a disc"),
            angle("angle", "Angle", 90),
            number("sharp", "Sharp width", 160, "px", 0, 10000, help="How wide that area is"),
            number("ramp", "Ramp width", 240, "px", 1, 10000,
                help="Over how far sharp turns to blurred"),
        ),
        _focus, _focus_reach, light="same",
    ),
)  # fmt: skip
