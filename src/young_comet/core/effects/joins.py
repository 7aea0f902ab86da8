"""Corners of forms, and how lines around them turn there: with a mitre or a bevel (SVG 2, 13.5)."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ..geometry import outline as outlines
from ..geometry.affine import Affine, Point
from ..geometry.outline import skia_matrix
from ..pixels.canvas import Canvas
from ..pixels.raster import empty

# The contour is read from an alpha so many times as fine, where it passes the half.
_FINE = 2
# A bend counts as a corner from so many degrees on; its sides are lines fitted to what lies so far
# from it, px: as far as they are straight, so many fine pixels off in the mean.
_TURN_DEG, _NEAR_PX, _FAR_PX, _STRAIGHT = 18.0, 1.2, (60.0, 24.0, 9.0), 0.42
# A mitre longer than so many widths is cut off to a bevel (the limit of SVG 2, 13.5.4).
MITER_LIMIT = 4.0
# An alpha rounds its corners: bends that are no farther apart are one.
_SAME_PX = 3.0
# What lies so near to the line of a corner's side belongs to it.
_OWN_PX = 1.5
_WHITE = (1.0, 1.0, 1.0, 1.0)


@dataclass(frozen=True, slots=True)
class Corner:
    """Where two sides of a form meet, px of its alpha: unit normals that point away from the form,
    and whether the form is within the corner (else around it)."""

    at: Point
    first: Point
    second: Point
    convex: bool


@dataclass(frozen=True, slots=True)
class Bends:
    """The corners of a form and all points of its edge (n, 2), px of its alpha."""

    corners: list[Corner]
    edge: np.ndarray


def bends_of(alpha: np.ndarray) -> Bends:
    """The corners and the edge of an alpha (h, w) uint8."""
    height, width = alpha.shape
    if not alpha.size or not alpha.any():
        return Bends([], np.zeros((0, 2)))
    wide = cv2.copyMakeBorder(alpha, 1, 1, 1, 1, cv2.BORDER_CONSTANT)
    size = ((width + 2) * _FINE, (height + 2) * _FINE)
    fine = cv2.resize(wide, size, interpolation=cv2.INTER_LINEAR)
    level = min(127, int(alpha.max()) // 2)
    contours, _ = cv2.findContours(
        (fine > level).astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE
    )
    found: list[Corner] = []
    edge = np.concatenate([np.zeros((0, 2)), *(each[:, 0, :] for each in contours)])
    for contour in contours:
        points = contour[:, 0, :].astype(np.float64)
        if len(points) < 4 * _FINE:
            continue
        coarse = cv2.approxPolyDP(contour, 0.75 * _FINE, True)[:, 0, :]
        if len(coarse) < 3:
            continue
        index = {(int(x), int(y)): n for n, (x, y) in enumerate(contour[:, 0, :])}
        # Pixels of the contour lie within the form, half a fine pixel from its edge.
        bends = _apart(sorted(index[int(x), int(y)] for x, y in coarse), len(points))
        for n, at in enumerate(bends):
            before, after = (
                (at - bends[n - 1]) % len(points),
                (bends[(n + 1) % len(bends)] - at) % len(points),
            )
            if corner := _corner(points, at, before, after, fine, level):
                found.append(corner)
    return Bends(found, (edge + 0.5) / _FINE - 1)


def _apart(bends: list[int], count: int) -> list[int]:
    """Bends of a contour of so many points, of those closer than a rounded corner the middle."""
    groups: list[list[int]] = []
    for bend in bends:
        if groups and bend - groups[-1][-1] <= _SAME_PX * _FINE:
            groups[-1].append(bend)
        else:
            groups.append([bend])
    if len(groups) > 1 and groups[0][0] + count - groups[-1][-1] <= _SAME_PX * _FINE:
        groups[0] = [bend - count for bend in groups.pop()] + groups[0]
    return sorted(round(sum(group) / len(group)) % count for group in groups)


def _corner(
    points: np.ndarray, at: int, before: int, after: int, fine: np.ndarray, level: int
) -> Corner | None:
    """The corner at a point of a contour (in fine pixels), ``before`` and ``after`` which it goes
    on for so many points to the next bend; None where it is hardly one."""
    sides = []
    for way, room in ((-1, before), (1, after)):
        for far_px in _FAR_PX:
            far = min(round(far_px * _FINE), int(room * 0.9))
            if far < 2 * _FINE + 1:
                return None
            near = min(round(_NEAR_PX * _FINE), far - 3)
            chosen = points[(at + way * np.arange(near, far + 1)) % len(points)]
            middle = chosen.mean(axis=0)
            _, spreads, axes = np.linalg.svd(chosen - middle, full_matrices=False)
            if spreads[1] / math.sqrt(len(chosen)) <= _STRAIGHT:
                break
        else:
            return None  # it is no line
        along = axes[0] * (1 if np.dot(axes[0], chosen[-1] - chosen[0]) > 0 else -1)
        sides.append((middle, along))
    (p, u), (q, v) = sides
    cross = u[0] * v[1] - u[1] * v[0]
    turn = math.degrees(math.acos(float(np.clip(np.dot(-u, v), -1, 1))))
    if turn < _TURN_DEG or abs(cross) < 1e-6:
        return None
    away = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / cross
    tip = p + u * away
    if np.hypot(*(tip - points[at])) > 2.0 * _FINE:
        return None
    first, second = _normal(u, p, fine, level), _normal(v, q, fine, level)
    # Within a convex corner lies the form: its sides lead away from the side normals point to.
    bisector = np.asarray(first) + np.asarray(second)
    convex = float(np.dot(bisector, u + v)) < 0
    edge = (tip + 0.5 + 0.5 * np.asarray(bisector) / max(0.3, np.hypot(*bisector))) / _FINE - 1
    return Corner((float(edge[0]), float(edge[1])), first, second, convex)


def _normal(along: np.ndarray, middle: np.ndarray, fine: np.ndarray, level: int) -> Point:
    """The normal of a side that points away from the form."""
    normal = np.array([-along[1], along[0]])

    def seen(sign: float) -> int:
        x, y = np.rint(middle + sign * 1.5 * normal).astype(int)
        inside = 0 <= x < fine.shape[1] and 0 <= y < fine.shape[0]
        return int(fine[y, x]) if inside else 0

    normal = -normal if seen(1.0) > seen(-1.0) else normal
    return (float(normal[0]), float(normal[1]))


def turned(cover: np.ndarray, bends: Bends, radius: float, join: str) -> np.ndarray:
    """A cover (h, w) uint8 of what lies nearer than a radius to a form (farther inside where it is
    negative), which turns round its corners, with mitres or bevels there."""
    added, cut, tips = [], [], []
    most = int(cover.max(initial=0))
    for corner in bends.corners:
        if corner.convex != (radius > 0):
            continue
        (x, y), a, b = corner.at, corner.first, corner.second
        half = math.sqrt(max(0.0, (1 + a[0] * b[0] + a[1] * b[1]) / 2))  # cos of half the turn
        ends = [(x + n[0] * radius, y + n[1] * radius) for n in (a, b)]
        if half < 0.05:
            continue
        long = radius / (2 * half * half)
        tip = (x + (a[0] + b[0]) * long, y + (a[1] + b[1]) * long)
        if join == "miter" and 1 / half <= MITER_LIMIT:
            added.append([(x, y), ends[0], tip, ends[1]])
        else:
            cut.append([ends[0], tip, ends[1]])
            tips.append(corner)
    if added:
        wedges = _filled(added, cover.shape, most)
        cover = np.maximum(cover, wedges) if radius > 0 else cv2.subtract(cover, wedges)
    if cut:
        wedges = _filled(cut, cover.shape, most)
        for corner, shape in zip(tips, cut, strict=True):
            _spare(wedges, corner, shape, bends.edge, abs(radius))
        cover = cv2.subtract(cover, wedges) if radius > 0 else np.maximum(cover, wedges)
    return cover


def _spare(
    wedges: np.ndarray, corner: Corner, shape: list[Point], edge: np.ndarray, radius: float
) -> None:
    """Takes out of what is cut off at a corner what another side is near to: all of the edge that
    does not lie along the corner's own two."""
    xs, ys = [p[0] for p in shape], [p[1] for p in shape]
    x0, y0 = max(0, math.floor(min(xs)) - 1), max(0, math.floor(min(ys)) - 1)
    part = wedges[y0 : math.ceil(max(ys)) + 1, x0 : math.ceil(max(xs)) + 1]
    if not part.size:
        return
    wide = math.ceil(radius) + 2
    from_tip = edge - np.asarray(corner.at)
    own = np.minimum(*(np.abs(from_tip @ np.asarray(n)) for n in (corner.first, corner.second)))
    places = np.floor(edge).astype(np.int64) - (x0 - wide, y0 - wide)
    height, width = part.shape[0] + 2 * wide, part.shape[1] + 2 * wide
    inside = ((places >= 0) & (places < (width, height))).all(axis=1)
    others = places[inside & (own > _OWN_PX)]
    if not len(others):
        return
    marks = np.ones((height, width), np.uint8)
    marks[others[:, 1], others[:, 0]] = 0
    far = cv2.distanceTransform(marks, cv2.DIST_L2, 5)[wide:-wide, wide:-wide]
    share = np.clip(far - np.float32(radius), 0, 1)
    part[:] = np.rint(part * share).astype(np.uint8)


def _filled(shapes: list[list[Point]], size: tuple[int, ...], most: int) -> np.ndarray:
    """Polygons as a cover (h, w) uint8 up to ``most``."""
    pixels = empty(size[1], size[0])
    Canvas(pixels).fill(outlines.polygons(shapes).skia_path, _WHITE, skia_matrix(Affine()), 1.0)
    mask = np.ascontiguousarray(pixels[:, :, 3])
    return mask if most == 255 else (mask * np.float32(most / 255)).astype(np.uint8)
