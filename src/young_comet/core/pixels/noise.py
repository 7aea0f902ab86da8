"""Noise fields that belong to places: the same value wherever the computed region begins."""

from __future__ import annotations

import math
from collections.abc import Callable

import cv2
import numpy as np

from .fixed import whole_pixels
from .kernel import Few, inlined, kernel, sample

Region = tuple[int, int, int, int]  # left, top, right, bottom in pixels


@inlined
def _cell(x: int, y: int, z: int, seed: int) -> np.uint32:
    """A number of its own for a cell, still to be mixed."""
    h = np.uint32(np.uint32(x) * np.uint32(0x9E3779B1))
    h = np.uint32(h ^ np.uint32(np.uint32(y) * np.uint32(0x85EBCA77)))
    h = np.uint32(h ^ np.uint32(np.uint32(z) * np.uint32(0xC2B2AE3D)))
    return np.uint32(h ^ np.uint32(np.uint32(seed) * np.uint32(0x27D4EB2F)))


@inlined
def _well_mixed(h: np.uint32) -> np.uint32:
    """The finaliser of MurmurHash3 (Appleby)."""
    h = np.uint32(h ^ np.uint32(h >> np.uint32(16)))
    h = np.uint32(h * np.uint32(0x85EBCA6B))
    h = np.uint32(h ^ np.uint32(h >> np.uint32(13)))
    h = np.uint32(h * np.uint32(0xC2B2AE35))
    return np.uint32(h ^ np.uint32(h >> np.uint32(16)))


@inlined
def _hash(x: int, y: int, z: int, seed: int) -> np.uint32:
    """A well-mixed 32-bit number for a cell."""
    return _well_mixed(_cell(x, y, z, seed))


@inlined
def _side(
    x: int, y: int, z: int, fy: float, fz: float, wy: float, wz: float, seed: int
) -> tuple[np.float32, np.float32]:
    """The slopes at the four corners of a cell's side at x, mixed: what they give at that x, and by
    how much it grows with x. Each corner has one of the twelve directions to a cube's edges, four
    of them twice as often (Perlin, 2002)."""
    value, slope = np.float32(0), np.float32(0)
    for corner in range(4):
        b, c = corner & 1, corner >> 1
        k = _hash(x, y + b, z + c, seed) & np.uint32(15)
        first = np.float32(-1) if k & 1 else np.float32(1)
        second = np.float32(-1) if k & 2 else np.float32(1)
        down, deep = np.float32(fy - b), np.float32(fz - c)
        weight = np.float32((wy if b else 1 - wy) * (wz if c else 1 - wz))
        # (x or y) and (y, z or x), as the number says.
        both = k == 12 or k == 14
        value += weight * (
            (np.float32(0) if k < 8 else first * down)
            + (second * down if k < 4 else np.float32(0) if both else second * deep)
        )
        slope += weight * (
            (first if k < 8 else np.float32(0)) + (second if both else np.float32(0))
        )
    return value, slope


@inlined
def _smooth(t: float) -> float:
    """The curve with which corners give way to each other (Perlin, 2002)."""
    return t * t * t * (t * (t * 6 - 15) + 10)


@kernel(fastmath=True)
def _gradient_noise(
    x0: float, y0: float, dx: float, dy: float, z: float, width: int, height: int, seed: int
) -> np.ndarray:
    """Improved gradient noise (Perlin, SIGGRAPH 2002) at x0 + i dx, y0 + j dy; in -1..1."""
    out = np.empty((height, width), np.float32)
    if width < 1:
        return out
    iz = math.floor(z)
    fz = z - iz
    wz = _smooth(fz)
    first = math.floor(x0)
    cells, within = np.empty(width, np.int32), np.empty(width, np.float32)
    shares = np.empty(width, np.float32)
    for i in range(width):
        x = x0 + i * dx
        ix = math.floor(x)
        cells[i], within[i] = ix - first, x - ix
        shares[i] = _smooth(within[i])
    # Along a row y and z stay: what the sides of cells give is worked out once for each, or for
    # each place where those are farther apart.
    close = dx < 1.5
    count = cells[width - 1] + 2 if close else width
    values, slopes = np.empty(count, np.float32), np.empty(count, np.float32)
    one = np.float32(1)
    for j in range(height):
        y = y0 + j * dy
        iy = math.floor(y)
        fy = y - iy
        wy = _smooth(fy)
        row = out[j]
        if close:
            for i in range(count):
                values[i], slopes[i] = _side(first + i, iy, iz, fy, fz, wy, wz, seed)
            for i in range(width):
                at = cells[i]
                near = values[at] + slopes[at] * within[i]
                far = values[at + 1] + slopes[at + 1] * (within[i] - one)
                row[i] = near + (far - near) * shares[i]
            continue
        for i in range(width):
            ix = first + cells[i]
            left, left_slope = _side(ix, iy, iz, fy, fz, wy, wz, seed)
            right, right_slope = _side(ix + 1, iy, iz, fy, fz, wy, wz, seed)
            near = left + left_slope * within[i]
            far = right + right_slope * (within[i] - one)
            row[i] = near + (far - near) * shares[i]
    return out


@kernel(fastmath=True)
def _cells(
    x0: float, y0: float, dx: float, dy: float, z: float, width: int, height: int, seed: int
) -> np.ndarray:
    """Distance to the nearest of one random point a cell (Worley, SIGGRAPH 1996), 0..1 mapped
    to -1..1. The points drift on circles as z goes on."""
    out = np.empty((height, width), np.float32)
    for j in range(height):
        y = y0 + j * dy
        iy = math.floor(y)
        for i in range(width):
            x = x0 + i * dx
            ix = math.floor(x)
            best = 9.0
            for v in range(-1, 2):
                for u in range(-1, 2):
                    h = _hash(ix + u, iy + v, 0, seed)
                    turn = (h & np.uint32(1023)) * (2 * math.pi / 1024) + z * 2
                    far = 0.15 + 0.3 * ((h >> np.uint32(10)) & np.uint32(1023)) / 1023.0
                    px = ix + u + 0.5 + far * math.cos(turn) - x
                    py = iy + v + 0.5 + far * math.sin(turn) - y
                    best = min(best, px * px + py * py)
            out[j, i] = min(1.0, math.sqrt(best)) * 2 - 1
    return out


# Spreads the amounts of gradient noise, which are 0.22 in the mean, about 0.
_BILLOW_GAIN = 4.5


def fractal(
    region: Region,
    origin: tuple[float, float],
    cell_px: float,
    *,
    octaves: int = 3,
    seed: int = 0,
    z: float = 0.0,
    kind: str = "smooth",
    roughness: float = 0.5,
    stretch: tuple[float, float] = (1.0, 1.0),
) -> np.ndarray:
    """A field (h, w) float32 over a region, about -1..1.

    ``origin`` is where the field's own (0, 0) lies, ``cell_px`` the size of its largest
    features; each octave has features half as large and ``roughness`` times as strong. ``z``
    moves through the field: a flow without direction. ``stretch`` makes features longer along x
    or y. ``kind`` is "smooth", "cellular", "ridged": crests where smooth noise passes 0 (after
    F. K. Musgrave's ridged noise), or "billow": the amounts of all octaves, round tops between
    creases (after K. Perlin's turbulence).
    """
    cells, cell, weight = [], max(1.0, cell_px), 1.0
    for octave in range(max(1, octaves)):
        cells.append((cell, weight, z * (1.4**octave), seed + 101 * octave))
        weight *= roughness
        cell /= 2
        if cell < 0.7 or weight < 0.01:
            break
    # Gradient noise seldom leaves -0.7..0.7: spread it.
    gain = (1.0 if kind in ("cellular", "billow") else 1.5) / sum(w for _, w, _, _ in cells)
    noise = _cells if kind == "cellular" else _gradient_noise
    # Octaves with large features are summed up on one sparse grid, which is enlarged once.
    coarse = [c for c in cells if min(_steps(c[0], stretch)) >= 3]
    fine = cells[len(coarse) :]
    groups = ([coarse] if coarse else []) + [[c] for c in fine]
    total: np.ndarray | None = None
    for group in groups:
        field = _enlarged(noise, region, origin, group, stretch, gain, kind == "billow")
        total = field if total is None else total + field
    assert total is not None
    return np.float32(1) - np.abs(total) * np.float32(2.2) if kind == "ridged" else total


def _steps(cell: float, stretch: tuple[float, float]) -> tuple[int, int]:
    """How many pixels apart a feature of a size is sampled along x and y."""
    return max(1, int(cell * stretch[0] / 7)), max(1, int(cell * stretch[1] / 7))


def _enlarged(
    noise: Callable[..., np.ndarray],
    region: tuple[int, int, int, int],
    origin: tuple[float, float],
    octaves: list[tuple[float, float, float, int]],
    stretch: tuple[float, float],
    gain: float,
    amounts: bool,
) -> np.ndarray:
    """The sum of octaves, or of their ``amounts`` about 0, sampled as sparsely as the finest of
    them allows, then enlarged."""
    left, top, right, bottom = region
    width, height = right - left, bottom - top
    step_x, step_y = _steps(octaves[-1][0], stretch)
    # The sparse grid lies at whole multiples of the steps about the field's own origin.
    plain = step_x == step_y == 1
    gx = left + 0.5 - origin[0] if plain else math.floor((left + 0.5 - origin[0]) / step_x)
    gy = top + 0.5 - origin[1] if plain else math.floor((top + 0.5 - origin[1]) / step_y)
    columns = width if plain else width // step_x + 3
    rows = height if plain else height // step_y + 3
    total = None
    for cell, weight, z, seed in octaves:
        dx, dy = step_x / (cell * stretch[0]), step_y / (cell * stretch[1])
        field = noise(gx * dx, gy * dy, dx, dy, z, columns, rows, seed)
        if amounts:
            field = np.abs(field) * np.float32(_BILLOW_GAIN) - np.float32(1)
        field *= np.float32(weight * gain)
        total = field if total is None else total + field
    assert isinstance(total, np.ndarray)
    if plain:
        return total
    ox = (left + 0.5 - origin[0]) / step_x - gx
    oy = (top + 0.5 - origin[1]) / step_y - gy
    # First along the rows, of which there are few, then between them.
    along = np.array([[1 / step_x, 0, ox], [0, 1, 0]], np.float64)
    lines = cv2.warpAffine(
        total, along, (width, rows), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    places = np.clip(np.arange(height) / step_y + oy, 0, rows - 1)
    first = np.minimum(places.astype(np.int64), rows - 2)
    return between_lines(lines, first, (places - first).astype(np.float32))


@kernel(fastmath=True)
def between_lines(lines: np.ndarray, first: np.ndarray, share: np.ndarray) -> np.ndarray:
    """Lines (n, w) float32 mixed: each line of the result is ``first`` and the next of them, of
    which it has a share (0..1)."""
    width = lines.shape[1]
    out = np.empty((len(first), width), np.float32)
    for y in range(len(first)):
        upper, lower, k, into = lines[first[y]], lines[first[y] + 1], share[y], out[y]
        for x in range(width):
            into[x] = upper[x] + (lower[x] - upper[x]) * k
    return out


@kernel()
def grain(left: int, top: int, width: int, height: int, z: int, seed: int) -> np.ndarray:
    """A random number for every pixel (h, w) float32: about normal, mean 0, deviation 1."""
    out = np.empty((height, width), np.float32)
    for j in range(height):
        for i in range(width):
            h = _hash(left + i, top + j, z, seed)
            a, b = h & np.uint32(0xFFFF), h >> np.uint32(16)
            g = _hash(left + i, top + j, z, seed + 7919)
            c, d = g & np.uint32(0xFFFF), g >> np.uint32(16)
            # Four even numbers together are near enough to a bell.
            total = np.float32(a) + np.float32(b) + np.float32(c) + np.float32(d)
            out[j, i] = (total / np.float32(65535.0) - np.float32(2.0)) * np.float32(1.7320508)
    return out


@inlined
def _grained(p: np.uint32, blue: float, green: float, red: float) -> np.uint32:
    """A premultiplied pixel with noise of its channels, levels, which is strongest in the mid-tones
    as in film. Alpha stays, and colours stay within it."""
    zero, half, byte = np.float32(0), np.float32(0.5), np.uint32(255)
    one, four, least = np.float32(1), np.float32(4), np.float32(0.35)
    alpha = p >> np.uint32(24)
    a = np.float32(np.int32(alpha))
    middle = np.float32(np.int32((p >> np.uint32(8)) & byte))
    tone = middle / max(one, a)
    k = a * (least + (one - least) * four * tone * (one - tone))
    b = np.float32(np.int32(p & byte)) + blue * k + half
    g = middle + green * k + half
    r = np.float32(np.int32((p >> np.uint32(16)) & byte)) + red * k + half
    new = np.uint32(np.int32(min(a, max(zero, b))))
    new |= np.uint32(np.int32(min(a, max(zero, g)))) << np.uint32(8)
    new |= np.uint32(np.int32(min(a, max(zero, r)))) << np.uint32(16)
    return new | (alpha << np.uint32(24))


@inlined
def grain_columns(left: int, width: int) -> np.ndarray:
    """What each column of a picture gives its cells' numbers, (w,) uint32."""
    columns = np.empty(width, np.uint32)
    for i in range(width):
        columns[i] = _cell(left + i, 0, 0, 0)
    return columns


@inlined
def grain_row(
    row: np.ndarray, columns: np.ndarray, values: np.ndarray, y: int, z: int, seed: int,
    strength: float, grey: bool,
) -> None:  # fmt: skip
    """Adds noise to a row of whole pixels as ``add_grain`` does; ``values`` (3, w) float32 is room
    for its numbers."""
    width = len(row)
    # Four bytes of one number together are near enough to a bell of deviation 147.8.
    middle, spread = np.float32(510), np.float32(strength / 147.8 / 255)
    even = np.uint32(0x00FF00FF)
    # A cell's number is that of its column, mixed with one for the row, the moment and the seed.
    for c in range(1 if grey else 3):
        into, line = values[c], _cell(0, y, z, seed + 11 * c)
        for i in range(width):
            h = _well_mixed(np.uint32(columns[i] ^ line))
            pairs = np.uint32((h & even) + ((h >> np.uint32(8)) & even))
            bytes4 = np.uint32((pairs & np.uint32(0xFFFF)) + (pairs >> np.uint32(16)))
            into[i] = (np.float32(np.int32(bytes4)) - middle) * spread
    blues, greens, reds = values[0], values[0 if grey else 1], values[0 if grey else 2]
    for i in range(width):
        row[i] = _grained(row[i], blues[i], greens[i], reds[i])


@kernel(fastmath=True)
def add_grain(
    pixels: np.ndarray, left: int, top: int, z: int, seed: int, strength: float, grey: bool
) -> None:
    """Adds noise of a deviation (levels) to a picture in place, as ``grain`` gives it; one number
    for all channels or one each. Alpha stays, and colours stay within it."""
    width = pixels.shape[1]
    columns, values = grain_columns(left, width), np.empty((3, width), np.float32)
    for j in range(pixels.shape[0]):
        row = whole_pixels(pixels[j], width)
        grain_row(row, columns, values, top + j, z, seed, strength, grey)


@kernel(fastmath=True)
def add_fields(
    pixels: np.ndarray, blue: np.ndarray, green: np.ndarray, red: np.ndarray, strength: float
) -> None:
    """As ``add_grain`` with the numbers of fields (h, w) float32, times a strength (levels)."""
    width, k = pixels.shape[1], np.float32(strength / 255)
    for j in range(pixels.shape[0]):
        row = whole_pixels(pixels[j], width)
        blues, greens, reds = blue[j], green[j], red[j]
        for i in range(width):
            row[i] = _grained(row[i], blues[i] * k, greens[i] * k, reds[i] * k)


@kernel(fastmath=True)
def dithered(values: np.ndarray, left: int, top: int) -> np.ndarray:
    """Levels (h, w, 4) float32 of 0..255 as uint8, rounded up or down by chance so that wide
    ramps show no steps; all channels of a pixel alike. Chance belongs to the place."""
    height, width = values.shape[0], values.shape[1]
    out = np.empty((height, width * 4), np.uint8)
    full, zero, scale = np.float32(255), np.float32(0), np.float32(1 / 16777216)
    chances = np.empty(width * 4, np.float32)
    for j in range(height):
        row, into = values[j].reshape(width * 4), out[j]
        for i in range(width):
            h = _hash(left + i, top + j, 0, 5)
            chance = np.float32(np.int32(h >> np.uint32(8))) * scale
            for c in range(4):
                chances[4 * i + c] = chance
        for i in range(width * 4):
            into[i] = np.uint8(np.int32(min(full, max(zero, row[i] + chances[i]))))
    return out.reshape(height, width, 4)


@kernel()
def random_numbers(count: int, seed: int, stream: int) -> np.ndarray:
    """Numbers 0..1 (count,) that depend on their place, the seed and the stream only."""
    out = np.empty(count, np.float64)
    for i in range(count):
        out[i] = _hash(i, stream, 77, seed) / 4294967296.0
    return out


@sample
def _sample(few: Few) -> None:
    for pixels, _ in few.layouts():
        add_grain(pixels, 0, 0, 0, 1, 3.0, True)
        field = np.zeros(pixels.shape[:2], np.float32)
        add_fields(pixels, field, field, field, 3.0)
    fractal((0, 0, 40, 4), (0.0, 0.0), 20.0, octaves=4)
    fractal((0, 0, 40, 4), (0.0, 0.0), 20.0, octaves=4, kind="cellular")
    grain(0, 0, 4, 4, 0, 1)
    dithered(np.zeros((4, 4, 4), np.float32), 0, 0)
    random_numbers(4, 1, 0)
