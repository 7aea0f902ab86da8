"""Pictures mirrored, slanted, torn, blocked, tiled."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..pixels import noise
from ..pixels.raster import Raster, empty
from ..pixels.warp import bent
from .base import (
    CONTRAST,
    EVERYWHERE,
    SEED,
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    cut,
    edges,
    flag,
    flow,
    laid_in,
    meet,
    number,
    pair,
    percent,
    region_of,
    room_for,
)
from .distort import CENTRE, bent_by, full_region
from .running import run_down


def _mirror(raster: Raster, p: Params, work: Work) -> Raster:
    """One side of a line shown on both."""
    turned = math.radians(p["angle"])
    nx, ny = math.cos(turned), math.sin(turned)
    cx, cy = work.at(p["centre"])

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        far = (x - cx) * nx + (y - cy) * ny
        back = np.where(far < 0, -2 * far, 0)
        return (x + back * nx, y + back * ny)

    left, top, right, bottom = region_of(raster)
    corners = [(x, y) for x in (left, right) for y in (top, bottom)]
    flipped = []
    for x, y in corners:
        far = (x - cx) * nx + (y - cy) * ny
        flipped.append((x - 2 * far * nx, y - 2 * far * ny))
    xs, ys = [q[0] for q in corners + flipped], [q[1] for q in corners + flipped]
    both = (math.floor(min(xs)), math.floor(min(ys)), math.ceil(max(xs)), math.ceil(max(ys)))
    return bent_by(raster, p, work, bend, full_region(p, work, both), exact=True)


def _streaks(raster: Raster, p: Params, work: Work) -> Raster:
    """Edges run down as paint does: every column is drawn out by a length of its own."""
    length, width = work.px(p["length"]), max(1.0, work.px(p["width"]))
    if length < 0.5:
        return raster
    turned = p["angle"] - 90.0
    left, top, right, bottom = region_of(raster)
    cx, cy = work.origin
    cos, sin = math.cos(math.radians(turned)), math.sin(math.radians(turned))
    # In a turned frame the paint runs straight down.
    corners = [
        ((x - cx) * cos + (y - cy) * sin, -(x - cx) * sin + (y - cy) * cos)
        for x in (left, right)
        for y in (top, bottom)
    ]
    u0 = math.floor(min(c[0] for c in corners)) - 1
    v0 = math.floor(min(c[1] for c in corners)) - 1
    u1 = math.ceil(max(c[0] for c in corners)) + 1
    v1 = math.ceil(max(c[1] for c in corners) + length) + 1
    if turned % 360 == 0:
        u0, v0, u1 = left - math.floor(cx), top - math.floor(cy), right - math.floor(cx)
        v1 = bottom - math.floor(cy) + math.ceil(length) + 1
        flat = laid_in(raster, (left, top, right, top + v1 - v0))
    else:
        m = np.array(
            [[cos, sin, -cx * cos - cy * sin], [-sin, cos, cx * sin - cy * cos]], np.float64
        )
        flat = _mapped(raster, m, (u0, v0, u1, v1))
    lengths = noise.fractal(
        (u0, 0, u1, 1),
        (0.0, 0.5),
        width,
        octaves=2,
        seed=round(p["seed"]),
        z=work.time_s * p["flow"],
    )[0]
    lengths = np.clip(lengths * 0.5 + 0.5, 0, 1) ** (1.5 * 2.0 ** (p["contrast"] / 50)) * length
    run = run_down(flat, lengths.astype(np.float32), p["fade"] / 100)
    if turned % 360 == 0:
        region = meet((left, top, right, top + v1 - v0), work.area)
        return cut(Raster(run, left, top), region)
    back = np.array([[cos, -sin, cx], [sin, cos, cy]], np.float64)
    xs, ys = [], []
    for u in (u0, u1):
        for v in (v0, v1):
            xs.append(u * cos - v * sin + cx)
            ys.append(u * sin + v * cos + cy)
    region = meet(
        (math.floor(min(xs)), math.floor(min(ys)), math.ceil(max(xs)), math.ceil(max(ys))),
        work.area,
    )
    return Raster(_mapped(Raster(run, u0, v0), back, region), region[0], region[1])


def _mapped(raster: Raster, forward: np.ndarray, region: Region) -> np.ndarray:
    """The raster under an affine map of places, over a region of the result."""
    size = (max(0, region[2] - region[0]), max(0, region[3] - region[1]))
    if size[0] == 0 or size[1] == 0 or raster.is_empty:
        return empty(*size)
    m = forward.copy()
    # Array index i of the bordered source is the place left - 1 + i + 0.5.
    m[:, 2] += m[:, :2] @ np.array([raster.left - 0.5, raster.top - 0.5])
    m[:, 2] -= np.array([region[0] + 0.5, region[1] + 0.5])
    source = cv2.copyMakeBorder(raster.pixels, 1, 1, 1, 1, cv2.BORDER_CONSTANT)
    return cv2.warpAffine(source, m, size, flags=cv2.INTER_LINEAR)


def _shear(raster: Raster, p: Params, work: Work) -> Raster:
    kx, ky = (math.tan(math.radians(a)) for a in p["angles"])
    cx, cy = work.at(p["centre"])
    det = 1 - kx * ky
    det = det if abs(det) > 1e-3 else 1e-3

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = x - cx, y - cy
        return (cx + (dx - kx * dy) / det, cy + (dy - ky * dx) / det)

    left, top, right, bottom = region_of(raster)
    corners = [(x - cx, y - cy) for x in (left, right) for y in (top, bottom)]
    xs = [cx + dx + kx * dy for dx, dy in corners]
    ys = [cy + dy + ky * dx for dx, dy in corners]
    both = (
        math.floor(min(xs)) - 1,
        math.floor(min(ys)) - 1,
        math.ceil(max(xs)) + 1,
        math.ceil(max(ys)) + 1,
    )
    return bent_by(raster, p, work, bend, full_region(p, work, both))


def _corners(raster: Raster, p: Params, work: Work) -> Raster:
    """The box's corners pulled to other places; in between as in perspective (homography)."""
    left, top, right, bottom = work.box
    source = [work.at(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))]
    names = ("top-left", "top-right", "bottom-right", "bottom-left")
    goal = [
        (s[0] + work.px(p[n][0]), s[1] + work.px(p[n][1]))
        for s, n in zip(source, names, strict=True)
    ]
    if _degenerate(goal):
        return Raster(empty(0, 0), raster.left, raster.top)
    back = cv2.getPerspectiveTransform(np.array(goal, np.float32), np.array(source, np.float32))

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        w = back[2, 0] * x + back[2, 1] * y + back[2, 2]
        w = np.where(np.abs(w) < 1e-9, 1e-9, w)
        u = (back[0, 0] * x + back[0, 1] * y + back[0, 2]) / w
        v = (back[1, 0] * x + back[1, 1] * y + back[1, 2]) / w
        # Beyond the horizon there is no picture.
        return np.where(w > 0, u, 1e6), np.where(w > 0, v, 1e6)

    forward = np.linalg.inv(back)
    outer = region_of(raster)
    points = (
        np.array([[x, y, 1.0] for x in (outer[0], outer[2]) for y in (outer[1], outer[3])])
        @ forward.T
    )
    if np.any(points[:, 2] <= 1e-6):
        tight = work.area
    else:
        xy = points[:, :2] / points[:, 2:]
        tight = (
            math.floor(xy[:, 0].min()) - 1,
            math.floor(xy[:, 1].min()) - 1,
            math.ceil(xy[:, 0].max()) + 1,
            math.ceil(xy[:, 1].max()) + 1,
        )
    return bent_by(raster, p, work, bend, full_region(p, work, tight), exact=True)


def _degenerate(points: list[tuple[float, float]]) -> bool:
    """Whether three of four corners lie on a line or the shape crosses itself."""
    signs = []
    for i in range(4):
        a, b, c = points[i], points[(i + 1) % 4], points[(i + 2) % 4]
        signs.append((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]))
    return not (all(s > 1e-3 for s in signs) or all(s < -1e-3 for s in signs))


def _pixelate(raster: Raster, p: Params, work: Work) -> Raster:
    size_x, size_y = (max(1.0, work.px(s)) for s in p["size"])
    if size_x <= 1 and size_y <= 1:
        return raster
    cx, cy = work.origin
    region = room_for(raster, max(size_x, size_y) + 1, work)
    left = math.floor((region[0] - cx) / size_x)
    top = math.floor((region[1] - cy) / size_y)
    columns = math.ceil((region[2] - cx) / size_x) - left
    rows = math.ceil((region[3] - cy) / size_y) - top
    blocks = (
        math.floor(left * size_x + cx),
        math.floor(top * size_y + cy),
        math.ceil((left + columns) * size_x + cx),
        math.ceil((top + rows) * size_y + cy),
    )
    whole = laid_in(raster, blocks)
    if whole.size == 0:
        return raster
    small = cv2.resize(whole, (max(1, columns), max(1, rows)), interpolation=cv2.INTER_AREA)
    x = np.clip(
        np.floor((np.arange(region[0], region[2]) + 0.5 - cx) / size_x).astype(int) - left,
        0,
        columns - 1,
    )
    y = np.clip(
        np.floor((np.arange(region[1], region[3]) + 0.5 - cy) / size_y).astype(int) - top,
        0,
        rows - 1,
    )
    return Raster(np.ascontiguousarray(small[y[:, None], x[None, :]]), region[0], region[1])


def _tile(raster: Raster, p: Params, work: Work) -> Raster:
    """The content again and again, as far as the picture is needed."""
    left, top, right, bottom = work.box
    (x0, y0), k = work.at((left, top)), p["scale"] / 100
    gap_x, gap_y = (work.px(g) for g in p["gap"])
    tile_w, tile_h = work.px(right - left) * k, work.px(bottom - top) * k
    step_x, step_y = max(1.0, tile_w + gap_x), max(1.0, tile_h + gap_y)
    cx, cy = x0 + work.px(right - left) / 2, y0 + work.px(bottom - top) / 2
    offset = p["row-offset"] / 100

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        row = np.floor((y - cy) / step_y + 0.5)
        dx = x - cx - row * offset * step_x
        column = np.floor(dx / step_x + 0.5)
        u, v = dx - column * step_x, y - cy - row * step_y
        if p["mirrored"]:
            u = np.where(np.mod(column, 2) == 1, -u, u)
            v = np.where(np.mod(row, 2) == 1, -v, v)
        return (cx + u / k, cy + v / k)

    return bent(cut(raster, work.content), bend, work.area, exact=True)


RESHAPES = (
    EffectKind(
        "mirror", "Mirror", "distort", "One side of a line shown on both.",
        (angle("angle", "Kept side", 0,
            help="The direction in which the half lies that is kept and mirrored"),
        CENTRE), _mirror, lambda p, work: EVERYWHERE,
    ),
    EffectKind(
        "streaks", "Streaks", "distort", "Edges run down as paint does.",
        (
            number("length", "Streak length", 120, "px", 0, 4000, help="How far the streaks reach"),
            number("width", "Streak width", 14, "px", 1, 1000,
                help="How wide each streak is"), percent("fade", "Fade", 40,
                help="How much they have faded at their end"),
            CONTRAST, angle("angle", "Direction", 90,
                help="Where the streaks run to, clockwise from the right"), flow(), SEED,
        ),
        _streaks, lambda p, work: work.px(p["length"]) + 2, timed=True,
    ),
    EffectKind(
        "shear", "Shear", "distort", "Slants along x and y.",
        (pair("angles", "Shear angles", (20.0, 0.0), "°", -80, 80,
            help="How far it slants along x and y"), CENTRE, *edges()), _shear, lambda p,
        work: EVERYWHERE, light="same",
    ),
    EffectKind(
        "four-corner-warp", "Four-corner warp", "distort", "Each corner pulled to its own place.",
        (
            pair("top-left", "Top left corner", (0.0, 0.0), help="How far that corner is moved"),
            pair("top-right", "Top right corner", (0.0, 0.0), help="How far that corner is moved"),
            pair("bottom-right", "Bottom right corner", (0.0, 0.0),
                help="How far that corner is moved"),
            pair("bottom-left", "Bottom left corner", (0.0, 0.0),
                help="How far that corner is moved"), *edges(),
        ),
        _corners, lambda p, work: EVERYWHERE,
    ),
    EffectKind(
        "pixelate", "Pixelate", "distort", "Blocks of one colour.",
        (pair("size", "Cell size", (16.0, 16.0), "px", 1, 2000, linked=True,
            help="Width and height of a block of one colour"),), _pixelate,
        lambda p, work: max(p["size"]) * work.scale + 2, grid=True, light="same",
    ),
    EffectKind(
        "tile", "Tile", "distort", "The layer again and again, side by side.",
        (
            percent("scale", "Scale", 50, 1, 1000, help="How large each tile is, of the layer"),
            pair("gap", "Tile gap", (0.0, 0.0), "px", -2000, 4000, linked=True,
                help="Room between the tiles"),
            percent("row-offset", "Row offset", 0, -100, 100,
                help="How far every other row is moved, of a tile's width"),
            flag("mirrored", "Mirrored tiles",
                help="Neighbouring tiles are mirrored, so that they join"),
        ),
        _tile, lambda p, work: EVERYWHERE, fills=True,
    ),
)  # fmt: skip
