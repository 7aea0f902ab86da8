"""Pictures bent, torn, tiled."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..pixels import noise
from ..pixels.blend import scale_by
from ..pixels.raster import Raster, empty
from ..pixels.warp import Map, bent, places, sampled
from .base import (
    EVERYWHERE,
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
    laid_in,
    layer,
    meet,
    number,
    pair,
    percent,
    place,
    region_of,
    room_for,
)
from .running import run_down
from .style import alpha_in


def _bend(
    raster: Raster, p: Params, work: Work, bend: Map, region: Region, *, exact: bool = False
) -> Raster:
    """Bends a raster; what lies beyond its edge begins at the content's own edge."""
    kind = p.get("edges", "transparent")
    if kind == "transparent":
        return bent(raster, bend, region, exact=exact)
    source = cut(raster, work.content)
    return bent(source, bend, region, edges=kind, colour=p["edge-colour"], exact=exact)


def _full_region(p: Params, work: Work, tight: Region) -> Region:
    """The whole of what is needed where something lies beyond the edge, else a tight region."""
    return work.area if p.get("edges", "transparent") != "transparent" else meet(tight, work.area)


def _noise_displacement(raster: Raster, p: Params, work: Work) -> Raster:
    """Each pixel is taken from a place that two noise fields move it to."""
    ax, ay = (work.px(a) for a in p["amount"])
    if abs(ax) + abs(ay) < 0.02:
        return raster
    reach = max(abs(ax), abs(ay)) + 2
    region = _full_region(p, work, grown(region_of(raster), reach))
    width, height = region[2] - region[0], region[3] - region[1]
    if width <= 0 or height <= 0:
        return Raster(empty(0, 0), region[0], region[1])
    fields = displacement_fields(p, work, region)
    x, y = places(region)
    map_x = np.ascontiguousarray(x + fields[0] * np.float32(ax), np.float32)
    map_y = np.ascontiguousarray(y + fields[1] * np.float32(ay), np.float32)
    kind = p["edges"]
    source = raster if kind == "transparent" else cut(raster, work.content)
    return Raster(sampled(source, map_x, map_y, kind, p["edge-colour"]), region[0], region[1])


def displacement_fields(p: Params, work: Work, region: Region) -> list[np.ndarray]:
    """Two fields (h, w) within -1..1."""
    result = []
    for shift in (0, 5003):
        f = noise.fractal(
            region, work.origin, work.px(p["scale"]), octaves=round(p["octaves"]),
            seed=round(p["seed"]) + shift, z=work.time_s * p["flow"], kind=p["kind"],
        )  # fmt: skip
        hard = p["hardness"] / 100
        if hard > 0:
            f = np.clip(f * np.float32(1 + 12 * hard), -1, 1)
        else:
            np.clip(f, -1, 1, out=f)
        result.append(-f if p["inverted"] else f)
    return result


def _displacement(raster: Raster, p: Params, work: Work) -> Raster:
    """SVG's feDisplacementMap (Filter Effects 1, 9.9): moved by scale (C - 1/2), C a channel of
    the other layer; where that layer has nothing the picture stays."""
    ax, ay = (work.px(a) for a in p["amount"])
    region = _full_region(p, work, grown(region_of(raster), (abs(ax) + abs(ay)) / 2 + 2))
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
    map_x = np.ascontiguousarray(x + moves[0], np.float32)
    map_y = np.ascontiguousarray(y + moves[1], np.float32)
    kind = p["edges"]
    source = raster if kind == "transparent" else cut(raster, work.content)
    return Raster(sampled(source, map_x, map_y, kind, p["edge-colour"]), region[0], region[1])


def _wave(raster: Raster, p: Params, work: Work) -> Raster:
    height, length = work.px(p["height"]), max(1.0, work.px(p["length"]))
    turned = math.radians(p["angle"])
    cos, sin = math.cos(turned), math.sin(turned)
    phase = 2 * math.pi * (p["phase"] / 360 - work.time_s * p["flow"])
    cx, cy = work.origin

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        along = (x - cx) * cos + (y - cy) * sin
        t = along * (2 * math.pi / length) + phase
        if p["form"] == "sine":
            shift = height * np.sin(t)
        elif p["form"] == "triangle":
            shift = height * (2 / math.pi) * np.arcsin(np.sin(t))
        else:
            shift = height * np.sign(np.sin(t))
        return (x - sin * shift, y + cos * shift)

    region = _full_region(p, work, grown(region_of(raster), abs(height) + 2))
    return _bend(raster, p, work, bend, region, exact=p["form"] == "square")


def _ripple(raster: Raster, p: Params, work: Work) -> Raster:
    height, length = work.px(p["height"]), max(1.0, work.px(p["length"]))
    reach = max(1.0, work.px(p["radius"]))
    phase = 2 * math.pi * (p["phase"] / 360 - work.time_s * p["flow"])
    cx, cy = work.at(p["centre"])

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = x - cx, y - cy
        far = np.hypot(dx, dy)
        k = np.clip(1 - far / reach, 0, 1)
        move = height * k * np.sin(far * (2 * math.pi / length) + phase) / np.maximum(far, 1e-3)
        return (x + dx * move, y + dy * move)

    region = _full_region(p, work, grown(region_of(raster), abs(height) + 2))
    return _bend(raster, p, work, bend, region)


def _bulge(raster: Raster, p: Params, work: Work) -> Raster:
    reach, amount = max(1.0, work.px(p["radius"])), p["amount"] / 100
    cx, cy = work.at(p["centre"])

    def bend(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        dx, dy = x - cx, y - cy
        far = np.hypot(dx, dy) / reach
        inside = np.clip(1 - far, 0, 1)
        k = 1 - amount * inside * inside * (3 - 2 * inside)
        return (cx + dx * k, cy + dy * k)

    wide = abs(min(0.0, amount)) * reach + reach * 0.6
    region = _full_region(p, work, grown(region_of(raster), wide))
    return _bend(raster, p, work, bend, region)


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
    return _bend(raster, p, work, bend, _full_region(p, work, both))


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

    return _bend(raster, p, work, bend, _full_region(p, work, _disc(raster, cx, cy)), exact=True)


def _disc(raster: Raster, cx: float, cy: float) -> Region:
    left, top, right, bottom = region_of(raster)
    far = max(math.hypot(x - cx, y - cy) for x in (left, right) for y in (top, bottom))
    return (
        math.floor(cx - far), math.floor(cy - far), math.ceil(cx + far), math.ceil(cy + far)
    )  # fmt: skip


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
    return _bend(raster, p, work, bend, _full_region(p, work, both), exact=True)


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
    return _bend(raster, p, work, bend, _full_region(p, work, both), exact=True)


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
    lengths = np.clip(lengths * 0.5 + 0.5, 0, 1) ** 1.5 * length
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
    if size[0] == 0 or size[1] == 0 or raster.pixels.size == 0:
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
    return _bend(raster, p, work, bend, _full_region(p, work, both))


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
    return _bend(raster, p, work, bend, _full_region(p, work, tight), exact=True)


def _degenerate(points: list[tuple[float, float]]) -> bool:
    """Whether three of four corners lie on a line or the shape crosses itself."""
    signs = []
    for i in range(4):
        a, b, c = points[i], points[(i + 1) % 4], points[(i + 2) % 4]
        signs.append((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]))
    return not (all(s > 1e-3 for s in signs) or all(s < -1e-3 for s in signs))


def _rough_edge(raster: Raster, p: Params, work: Work) -> Raster:
    """The edge gnawed by noise: only the alpha within a band about it changes."""
    amount = work.px(p["amount"])
    if amount < 0.1:
        return raster
    region = room_for(raster, amount + 2, work)
    around = grown(region, math.ceil(amount) + 2)
    alpha = alpha_in(raster, around)
    inside = cv2.distanceTransform((alpha >= 128).astype(np.uint8), cv2.DIST_L2, 5)
    outside = cv2.distanceTransform((alpha < 128).astype(np.uint8), cv2.DIST_L2, 5)
    signed = inside - outside
    field = noise.fractal(
        around,
        work.origin,
        work.px(p["scale"]),
        octaves=round(p["octaves"]),
        seed=round(p["seed"]),
        z=work.time_s * p["flow"],
    )
    soft = max(0.7, work.px(p["softness"]))
    keep = np.clip(
        (signed + field * np.float32(amount) - np.float32(amount * p["bias"] / 100))
        / np.float32(soft)
        + 0.5,
        0,
        1,
    )
    pad = math.ceil(amount) + 2
    keep = np.rint(keep[pad:-pad, pad:-pad] * 255).astype(np.uint8)
    whole = laid_in(raster, region)
    own = np.ascontiguousarray(alpha[pad:-pad, pad:-pad])
    # Where the edge moved outwards its own colour is carried out with it.
    filled = _carried_out(whole, own)
    scale_by(filled, keep)
    return Raster(filled, region[0], region[1])


def _carried_out(pixels: np.ndarray, alpha: np.ndarray) -> np.ndarray:
    """Opaque colours everywhere: beyond the form those of its nearest pixel."""
    if not (alpha >= 250).any():
        return pixels.copy()
    empty_ = (alpha < 250).astype(np.uint8)
    _, labels = cv2.distanceTransformWithLabels(
        empty_, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL
    )
    sources = np.flatnonzero(empty_.reshape(-1) == 0)
    index = np.zeros(int(labels.max()) + 1, np.int64)
    index[labels.reshape(-1)[sources]] = sources
    return np.ascontiguousarray(pixels.reshape(-1, 4)[index[labels]])


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


CENTRE = place("centre", "Centre")
RADIUS = number("radius", "Radius", 300, "px", 1, 8000)
_CHANNELS = (
    ("red", "Red"),
    ("green", "Green"),
    ("blue", "Blue"),
    ("alpha", "Alpha"),
    ("luminance", "Luminance"),
)
_NOISES = (("smooth", "Smooth"), ("cellular", "Cellular"))


DISTORTIONS = (
    EffectKind(
        "noise-displacement", "Noise displacement", "distort",
        "Noise moves every pixel: ink, heat, water.",
        (
            pair("amount", "Amount", (30.0, 30.0), "px", -2000, 2000, linked=True),
            number("scale", "Scale", 120, "px", 2, 4000),
            number("octaves", "Octaves", 3, "", 1, 8, whole=True),
            percent("hardness", "Hardness", 0),
            choice("kind", "Noise", _NOISES), flag("inverted", "Inverted"), flow(), SEED, *edges(),
        ),
        _noise_displacement, lambda p, work: max(abs(a) for a in p["amount"]) * work.scale + 2,
        timed=True,
    ),
    EffectKind(
        "displacement", "Displacement", "distort", "Another layer's colours move the pixels.",
        (
            layer("layer", "By layer"),
            pair("amount", "Amount", (60.0, 60.0), "px", -2000, 2000, linked=True),
            choice("x-by", "x by", _CHANNELS, "luminance"),
            choice("y-by", "y by", _CHANNELS, "luminance"), *edges(),
        ),
        _displacement, lambda p, work: max(abs(a) for a in p["amount"]) * work.scale + 2,
    ),
    EffectKind(
        "wave", "Wave", "distort", "Bends in waves that may travel.",
        (
            number("height", "Height", 16, "px", -2000, 2000),
            number("length", "Length", 160, "px", 2, 8000), angle("angle", "Direction", 0),
            number("phase", "Phase", 0, "°", hint="dial"),
            choice(
                "form", "Form", (("sine", "Sine"), ("triangle", "Triangle"), ("square", "Square")),
            ),
            flow(0.5), *edges(),
        ),
        _wave, lambda p, work: abs(work.px(p["height"])) + 2, timed=True,
    ),
    EffectKind(
        "ripple", "Ripple", "distort", "Rings from a centre, as on water.",
        (
            number("height", "Height", 12, "px", -500, 500),
            number("length", "Length", 80, "px", 2, 4000), RADIUS, CENTRE,
            number("phase", "Phase", 0, "°", hint="dial"), flow(1.0), *edges(),
        ),
        _ripple, lambda p, work: abs(work.px(p["height"])) + 2, timed=True,
    ),
    EffectKind(
        "bulge", "Bulge and pinch", "distort", "A lens that enlarges or draws in.",
        (percent("amount", "Amount", 50, -200, 100), RADIUS, CENTRE, *edges()),
        _bulge, lambda p, work: work.px(p["radius"]) * max(1.0, abs(p["amount"]) / 100),
    ),
    EffectKind(
        "swirl", "Swirl", "distort", "Turns more the nearer to a centre.",
        (angle("angle", "Angle", 120), RADIUS, CENTRE, *edges()),
        _swirl, lambda p, work: 2 * work.px(p["radius"]),
    ),
    EffectKind(
        "kaleidoscope", "Kaleidoscope", "distort", "One wedge mirrored around a centre.",
        (
            number("segments", "Wedges", 6, "", 2, 60, whole=True), angle("angle", "Angle", 0),
            angle("source-angle", "Wedge from", 0), CENTRE,
            *edges("mirror"),
        ),
        _kaleidoscope, lambda p, work: EVERYWHERE, fills=True,
    ),
    EffectKind(
        "mirror", "Mirror", "distort", "One side of a line shown on both.",
        (angle("angle", "Kept side", 0), CENTRE), _mirror, lambda p, work: EVERYWHERE,
    ),
    EffectKind(
        "polar", "Polar", "distort", "Rolls the picture up into a disc, or unrolls one.",
        (
            choice("way", "Way", (("roll", "Roll up"), ("unroll", "Unroll"))),
            percent("amount", "Amount", 100), angle("angle", "Angle", 0),
            choice("fit", "Disc", (("fit", "Fits the box"), ("cover", "Covers the box"))), *edges(),
        ),
        _polar, lambda p, work: EVERYWHERE,
    ),
    EffectKind(
        "streaks", "Streaks", "distort", "Edges run down as paint does.",
        (
            number("length", "Length", 120, "px", 0, 4000),
            number("width", "Width", 14, "px", 1, 1000), percent("fade", "Fades by", 40),
            angle("angle", "Runs to", 90), flow(), SEED,
        ),
        _streaks, lambda p, work: work.px(p["length"]) + 2, timed=True,
    ),
    EffectKind(
        "shear", "Shear", "distort", "Slants along x and y.",
        (pair("angles", "Angles", (20.0, 0.0), "°", -80, 80), CENTRE, *edges()), _shear, lambda p,
        work: EVERYWHERE,
    ),
    EffectKind(
        "four-corner-warp", "Four-corner warp", "distort", "Each corner pulled to its own place.",
        (
            pair("top-left", "Top left", (0.0, 0.0)), pair("top-right", "Top right", (0.0, 0.0)),
            pair("bottom-right", "Bottom right", (0.0, 0.0)),
            pair("bottom-left", "Bottom left", (0.0, 0.0)), *edges(),
        ),
        _corners, lambda p, work: EVERYWHERE,
    ),
    EffectKind(
        "rough-edge", "Rough edge", "distort", "Gnaws the edge: torn paper, chalk, dry ink.",
        (
            number("amount", "Amount", 10, "px", 0, 400),
            number("scale", "Scale", 18, "px", 2, 1000),
            number("octaves", "Octaves", 3, "", 1, 8, whole=True),
            number("softness", "Softness", 1, "px", 0, 200),
            percent("bias", "Eaten away", 30, -100, 100), flow(), SEED,
        ),
        _rough_edge, lambda p, work: work.px(p["amount"]) + 3, timed=True,
    ),
    EffectKind(
        "pixelate", "Pixelate", "distort", "Blocks of one colour.",
        (pair("size", "Size", (16.0, 16.0), "px", 1, 2000, linked=True),), _pixelate,
        lambda p, work: max(p["size"]) * work.scale + 2, grid=True,
    ),
    EffectKind(
        "tile", "Tile", "distort", "The layer again and again, side by side.",
        (
            percent("scale", "Scale", 50, 1, 1000),
            pair("gap", "Gap", (0.0, 0.0), "px", -2000, 4000, linked=True),
            percent("row-offset", "Rows moved by", 0, -100, 100), flag("mirrored", "Mirrored"),
        ),
        _tile, lambda p, work: EVERYWHERE, fills=True,
    ),
)  # fmt: skip
