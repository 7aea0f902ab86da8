"""How far each pixel is from the edge of a form, to parts of a pixel.

The form is an alpha whose edge pixels are covered in part. In each of them the edge is the straight
line that leaves just so much of the pixel covered, square to the slope of the alpha about it
(S. Gustavson, R. Strand: Anti-aliased Euclidean distance transform, 2011); a pixel is as far from
the form as from the nearest of these pieces of lines. Where an alpha rises slowly, the edge is
where it passes the half.
"""

from __future__ import annotations

import math

import numpy as np

from .kernel import Few, kernel, sample

_STEEP = 0.8  # an alpha that changes by less than this over three pixels rises slowly
_PURE = 0.02  # a pixel covered by less, or bare by less, is taken as bare or covered
FAR = 1e6


def edge_distance(alpha: np.ndarray, reach: float) -> np.ndarray:
    """Distances (h, w) float32 in pixels from the edge of an alpha (h, w) uint8, negative inside.

    What is farther than ``reach`` is told as plus or minus ``FAR``; a form that is nowhere opaque
    is taken as wholly there where it is as opaque as it ever gets. Beyond the array lies nothing.
    """
    most = int(alpha.max(initial=0))
    if most == 0 or not alpha.size:
        return np.full(alpha.shape, FAR, np.float32)
    cover = np.zeros((alpha.shape[0] + 2, alpha.shape[1] + 2), np.float32)
    np.multiply(alpha, np.float32(1 / most), out=cover[1:-1, 1:-1])
    lines, bare = edge_lines(cover)
    out = np.where(cover >= 0.5, np.float32(-FAR), np.float32(FAR))
    if not bare.all():
        measure(lines, bare, nearest(bare, reach + 2), out)
    return np.ascontiguousarray(out[1:-1, 1:-1])


@kernel(inner=True)
def line_offset(nx: float, ny: float, cover: float) -> float:
    """How far from a pixel's middle, along a unit normal that points away from the form, the line
    lies that leaves so much of the pixel covered."""
    a, b = abs(nx), abs(ny)
    if a < b:
        a, b = b, a
    if b < 1e-6:
        return cover - 0.5
    corner = 0.5 * b / a  # the share of the pixel that the first corner takes
    if cover < corner:
        return -0.5 * (a + b) + math.sqrt(2 * a * b * cover)
    if cover <= 1 - corner:
        return (cover - 0.5) * a
    return 0.5 * (a + b) - math.sqrt(2 * a * b * (1 - cover))


@kernel()
def edge_lines(cover: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """For each pixel of a cover (h, w) float32 (0 to 1, its outermost pixels 0) through which the
    edge goes its normal x and y and offset, (h, w, 3) float32; a mask (h, w) uint8 with 0 there.
    A normal of 0 stands for what is too thin to have a side, with half of its width, or for a
    whole pixel beside bare ones, with minus the sum of its bare sides (1 right, 2 below, 4 left,
    8 above)."""
    height, width = cover.shape
    lines = np.zeros((height, width, 3), np.float32)
    bare = np.ones((height, width), np.uint8)
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            c = cover[y, x]
            if c == 0:
                continue
            up, down, left, right = (
                cover[y - 1, x], cover[y + 1, x], cover[y, x - 1], cover[y, x + 1]
            )  # fmt: skip
            low, high = min(up, down, left, right), max(up, down, left, right)
            if c >= 1 - _PURE and low > _PURE:
                continue  # inside, or what is beside it tells
            if c <= _PURE:
                continue
            if c >= 1 - _PURE:
                # Whole beside bare pixels: its bare sides, as bits.
                sides = (right <= _PURE) + 2 * (down <= _PURE) + 4 * (left <= _PURE)
                lines[y, x, 2] = -float(sides + 8 * (up <= _PURE))
                bare[y, x] = 0
                continue
            diagonal = (
                cover[y - 1, x - 1], cover[y - 1, x + 1], cover[y + 1, x - 1], cover[y + 1, x + 1]
            )  # fmt: skip
            low = min(low, c, min(diagonal))
            high = max(high, c, max(diagonal))
            gx = -diagonal[0] + diagonal[1] - diagonal[2] + diagonal[3] + 1.4142135 * (right - left)
            gy = -diagonal[0] - diagonal[1] + diagonal[2] + diagonal[3] + 1.4142135 * (down - up)
            size = math.hypot(gx, gy)
            if high - low < _STEEP:
                # It rises slowly: the edge is where the half is passed.
                slope = size / 6.8284271
                if slope < 1e-4 or abs(c - 0.5) > slope * 0.75:
                    continue
                offset = (c - 0.5) / slope
            elif size < 1e-3:
                lines[y, x, 2] = c / 2
                bare[y, x] = 0
                continue
            else:
                offset = line_offset(gx / size, gy / size, c)
            lines[y, x, 0], lines[y, x, 1] = -gx / size, -gy / size
            lines[y, x, 2] = offset
            bare[y, x] = 0
    return lines, bare


@kernel(inner=True)
def line_distance(dx: float, dy: float, nx: float, ny: float, offset: float) -> float:
    """How far a place is from a pixel's piece of an edge; ``dx``, ``dy`` from its middle."""
    if nx == 0 and ny == 0 and offset < 0:
        sides, least = int(-offset), FAR
        for side in range(4):
            if sides >> side & 1:
                out, along = (dx, dy) if side % 2 == 0 else (dy, dx)
                out = abs((out if side < 2 else -out) - 0.5)
                least = min(least, math.hypot(out, max(0.0, abs(along) - 0.5)))
        return least
    if nx == 0 and ny == 0:
        return max(0.0, math.hypot(dx, dy) - offset)
    # The piece within the pixel: along the tangent (-ny, nx) from the foot of the normal.
    first, last = -1.0, 1.0
    for base, along in ((nx * offset, -ny), (ny * offset, nx)):
        if abs(along) > 1e-6:
            a, b = (-0.5 - base) / along, (0.5 - base) / along
            first, last = max(first, min(a, b)), min(last, max(a, b))
    if first > last:
        first = last = (first + last) / 2
    across = dx * nx + dy * ny - offset
    beside = -dx * ny + dy * nx
    over = beside - min(max(beside, first), last)
    return math.sqrt(across * across + over * over)


@kernel()
def nearest(bare: np.ndarray, reach: float) -> np.ndarray:
    """Which pixel with a 0 in (h, w) uint8 is nearest to each, as an index into all of them, (h, w)
    int32; -1 where none is within a reach. By columns, then by the lower envelope of parabolas
    along the rows (P. Felzenszwalb, D. Huttenlocher: Distance transforms of sampled functions)."""
    height, width = bare.shape
    row_of = np.full((height, width), -1, np.int32)
    for y in range(height):
        for x in range(width):
            if bare[y, x] == 0:
                row_of[y, x] = y
            elif y > 0:
                row_of[y, x] = row_of[y - 1, x]
    for y in range(height - 2, -1, -1):
        for x in range(width):
            below, here = row_of[y + 1, x], row_of[y, x]
            if below > y and (here < 0 or below - y < y - here):
                row_of[y, x] = below
    out = np.full((height, width), -1, np.int32)
    site, since, high = np.empty(width, np.int64), np.empty(width), np.empty(width)
    for y in range(height):
        count = 0
        for x in range(width):
            row = row_of[y, x]
            if row < 0 or abs(row - y) > reach:
                continue
            value = float((row - y) * (row - y))
            start = -np.inf
            while count:
                k = site[count - 1]
                start = (value + x * x - high[count - 1] - k * k) / (2.0 * (x - k))
                if start > since[count - 1]:
                    break
                count -= 1
                start = -np.inf
            site[count], since[count], high[count] = x, start, value
            count += 1
        if not count:
            continue
        at = 0
        for x in range(width):
            while at + 1 < count and since[at + 1] < x:
                at += 1
            k = site[at]
            if (x - k) * (x - k) + high[at] <= reach * reach:
                out[y, x] = row_of[y, k] * width + k
    return out


@kernel()
def measure(lines: np.ndarray, bare: np.ndarray, near: np.ndarray, out: np.ndarray) -> None:
    """Writes distances into ``out`` (with its sign), from the piece of an edge nearest to each
    pixel."""
    height, width = near.shape
    for y in range(height):
        for x in range(width):
            place = near[y, x]
            if place < 0:
                continue
            ey, ex = place // width, place % width
            if ey == y and ex == x:
                nx, ny, offset = lines[y, x]
                out[y, x] = -0.5 if offset < 0 and nx == 0 and ny == 0 else -offset
                continue
            # Of two pixels at the edge the one whose middle is farther may hold the nearer piece:
            # from the nearest middle on along the edge as long as it gets nearer.
            least = line_distance(
                x - ex, y - ey, lines[ey, ex, 0], lines[ey, ex, 1], lines[ey, ex, 2]
            )
            found = True
            while found:
                found = False
                my, mx = ey, ex
                for qy in range(max(0, my - 1), min(height, my + 2)):
                    for qx in range(max(0, mx - 1), min(width, mx + 2)):
                        if bare[qy, qx] or (qy == my and qx == mx):
                            continue
                        far = line_distance(
                            x - qx, y - qy, lines[qy, qx, 0], lines[qy, qx, 1], lines[qy, qx, 2]
                        )
                        if far < least - 1e-9:
                            least, ey, ex, found = far, qy, qx, True
            out[y, x] = -least if out[y, x] < 0 else least


@sample
def _sample(few: Few) -> None:
    edge_distance(few.coverage, 2.0)
