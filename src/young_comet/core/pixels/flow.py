"""Pictures smeared along ways that differ from place to place."""

from __future__ import annotations

import math

import numpy as np

from .kernel import Few, inlined, kernel, sample
from .raster import Raster
from .threads import in_stretches

GRID = 8  # px between the places at which ways are given
_PARTS = 16  # of a pixel, across a way


def _cubic(part: float) -> list[int]:
    """Shares, 256ths, of the four pixels about a place (R. Keys: Cubic convolution, 1981)."""
    x = np.abs(np.arange(-1, 3) - part)
    near = (1.5 * x - 2.5) * x * x + 1
    far = ((-0.5 * x + 2.5) * x - 4) * x + 2
    shares = np.rint(256 * np.where(x < 1, near, np.where(x < 2, far, 0))).astype(int)
    shares[1 if part < 0.5 else 2] += 256 - shares.sum()
    result: list[int] = shares.tolist()
    return result


_ACROSS = np.array([_cubic(part / _PARTS) for part in range(_PARTS + 1)], np.int64)


def grid_of(region: tuple[int, int, int, int]) -> tuple[np.ndarray, np.ndarray]:
    """The places x (1, n), y (m, 1) float64 at which the ways of a region are given."""
    left, top, right, bottom = region
    x = left + 0.5 + GRID * np.arange((right - left) // GRID + 2, dtype=np.float64)
    y = top + 0.5 + GRID * np.arange((bottom - top) // GRID + 2, dtype=np.float64)
    return x[None, :], y[:, None]


def smeared(raster: Raster, ways: np.ndarray, region: tuple[int, int, int, int]) -> Raster:
    """A raster over a region, each pixel the mean of what lies along its way, about its middle.
    ``ways`` (m, n, 2) are given at the grid of the region; what lies beyond the raster is
    transparent."""
    out = np.zeros((region[3] - region[1], region[2] - region[0], 4), np.uint8)
    if out.size and not raster.is_empty:
        given = np.ascontiguousarray(ways, np.float32)
        left, top = region[0] - raster.left, region[1] - raster.top
        mottled = _mottled(raster.pixels)

        def rows(first: int, last: int) -> None:
            part = given[first // GRID :]
            smear(raster.pixels, mottled, left, top + first, part, out[first:last])

        in_stretches(rows, out.shape[0], GRID)
    return Raster(out, region[0], region[1])


@inlined
def _low(pair: np.int64) -> np.int64:
    """The lower 32 bits of a number as a signed one."""
    return np.int64(np.int32(pair & 0xFFFFFFFF))


@kernel()
def _counted(pixels: np.ndarray, counts: np.ndarray) -> None:
    height, width = pixels.shape[:2]
    whole = pixels.reshape(height, width * 4).view(np.uint32)
    for y in range(height):
        row, line = counts[y // GRID + 1], whole[y]
        above = whole[max(0, y - 1)]
        rim = y == 0 or y == height - 1
        for x in range(width):
            pixel = line[x]
            before = line[x - 1] if x else np.uint32(0)
            # Beyond the raster there is nothing.
            if pixel != before or pixel != above[x] or (pixel and (rim or x == width - 1)):
                row[x // GRID + 1] = 1
    for j in range(1, counts.shape[0]):
        for i in range(1, counts.shape[1]):
            counts[j, i] += counts[j - 1, i] + counts[j, i - 1] - counts[j - 1, i - 1]


def _mottled(pixels: np.ndarray) -> np.ndarray:
    """How many blocks of GRID by GRID pixels before each corner have a pixel that is other than
    those to its left and above, or than the nothing around the raster, (m, n) int32: a summed-area
    table (F. Crow, 1984). Where none is, all is one colour, or nothing."""
    height, width = pixels.shape[:2]
    counts = np.zeros((-(-height // GRID) + 1, -(-width // GRID) + 1), np.int32)
    _counted(pixels, counts)
    return counts


@inlined
def _sees_one(mottled: np.ndarray, ways: np.ndarray, gx: int, gy: int, left: int, top: int) -> bool:
    """Whether the pixels of a row of a cell, which begin at (left, top), have one colour or nothing
    along all of their ways: those lie between the ways of the cell's corners."""
    wide, high = np.float32(0), np.float32(0)
    for j in range(gy, gy + 2):
        for i in range(gx, gx + 2):
            wide, high = max(wide, abs(ways[j, i, 0])), max(high, abs(ways[j, i, 1]))
    # Mixing across a way reaches two pixels further.
    across, down = int(wide / 2) + 4, int(high / 2) + 4
    x0, x1 = (left - across) // GRID, (left + GRID + across) // GRID + 1
    y0, y1 = (top - down) // GRID, (top + down) // GRID + 1
    rows, columns = mottled.shape[0] - 1, mottled.shape[1] - 1
    x0, x1 = min(columns, max(0, x0)), min(columns, max(0, x1))
    y0, y1 = min(rows, max(0, y0)), min(rows, max(0, y1))
    result: bool = mottled[y1, x1] - mottled[y0, x1] - mottled[y1, x0] + mottled[y0, x0] == 0
    return result


@inlined
def _parts(pixel: np.int64) -> tuple[np.int64, np.int64]:
    """Two channels of a pixel in each number, with 32 bits for each."""
    even = (pixel & 0xFF) | ((pixel & 0xFF0000) << 16)
    return even, ((pixel >> 8) & 0xFF) | ((pixel & 0xFF000000) << 8)


@kernel(inner=True)
def _looked_for(
    whole: np.ndarray, px: int, py: int, lying: bool, far: int, ends: int, slope: float
) -> tuple[np.int64, np.int64]:
    """The sums of what lies along the way of a pixel near the edge of a picture, or beyond it."""
    height, width = whole.shape
    even, odd = np.int64(0), np.int64(0)
    for k in range(-far, far + 1):
        at = k * slope
        base = math.floor(at)
        shares = _ACROSS[int((at - base) * _PARTS + 0.5)]
        weight = ends if abs(k) == far else 16
        for i in range(4):
            if lying:
                column, row = px + k, py + base + i - 1
            else:
                column, row = px + base + i - 1, py + k
            if 0 <= row < height and 0 <= column < width:
                evens, odds = _parts(np.int64(whole[row, column]))
                even += weight * shares[i] * evens
                odd += weight * shares[i] * odds
    return even, odd


@kernel()
def smear(
    pixels: np.ndarray, mottled: np.ndarray, left: int, top: int, ways: np.ndarray, out: np.ndarray
) -> None:
    """Writes the smeared ``pixels`` into ``out``, whose corner lies at (left, top) of theirs;
    ``mottled`` counts the blocks of them that are not of one colour, as ``_mottled`` gives it.

    Samples lie a pixel apart along the axis on which a way is longer, so that it takes no mixing
    there; across it they are mixed of four.
    """
    height, width = pixels.shape[:2]
    whole = pixels.reshape(height, width * 4).view(np.uint32)
    flat = whole.reshape(height * width)
    for y in range(out.shape[0]):
        gy, fy = y // GRID, (y % GRID) / GRID
        row_there = 0 <= top + y < height
        plain = False
        for x in range(out.shape[1]):
            gx, fx = x // GRID, (x % GRID) / GRID
            if x % GRID == 0:
                plain = _sees_one(mottled, ways, gx, gy, left + x, top + y)
            if plain:
                if row_there and 0 <= left + x < width:
                    out[y, x] = pixels[top + y, left + x]
                continue
            a, b = ways[gy, gx], ways[gy, gx + 1]
            c, d = ways[gy + 1, gx], ways[gy + 1, gx + 1]
            ux = (a[0] * (1 - fx) + b[0] * fx) * (1 - fy) + (c[0] * (1 - fx) + d[0] * fx) * fy
            uy = (a[1] * (1 - fx) + b[1] * fx) * (1 - fy) + (c[1] * (1 - fx) + d[1] * fx) * fy
            lying = abs(ux) >= abs(uy)
            long, slope = (abs(ux), uy / ux) if lying and ux != 0 else (abs(uy), 0.0)
            if not lying:
                slope = ux / uy
            far = math.ceil(max(0.0, long / 2 - 0.5))
            ends = max(1, int(16 * (long / 2 + 0.5 - far) + 0.5)) if far else 16
            even, odd = np.int64(0), np.int64(0)
            total = (2 * far - 1) * 16 + 2 * ends if far else ends
            # Where all that it needs is there, nothing of it has to be looked for.
            reach = math.ceil(far * abs(slope)) + 2
            wide, high = (far, reach) if lying else (reach, far)
            px, py = x + left, y + top
            if wide <= px < width - wide and high <= py < height - high:
                along, across = (1, width) if lying else (width, 1)
                for k in range(-far, far + 1):
                    at = k * slope
                    base = math.floor(at)
                    shares = _ACROSS[int((at - base) * _PARTS + 0.5)]
                    weight = ends if abs(k) == far else 16
                    first = (py * width + px) + k * along + (base - 1) * across
                    for i in range(4):
                        evens, odds = _parts(np.int64(flat[np.uint64(first + i * across)]))
                        even += weight * shares[i] * evens
                        odd += weight * shares[i] * odds
            else:
                even, odd = _looked_for(whole, px, py, lying, far, ends, slope)
            if odd > 0:
                half = total * 128
                alpha = min(255, max(0, ((odd >> 32) + half) // (2 * half)))
                red = ((even >> 32) + half) // (2 * half)
                blue = (_low(even) + half) // (2 * half)
                green = (_low(odd) + half) // (2 * half)
                out[y, x, 0] = min(alpha, max(0, blue))
                out[y, x, 1] = min(alpha, max(0, green))
                out[y, x, 2] = min(alpha, max(0, red))
                out[y, x, 3] = alpha


@sample
def _sample(few: Few) -> None:
    smeared(Raster(few.pixels), np.ones((2, 2, 2)), (0, 0, 4, 4))
