"""Pictures bent by a map from each place to where its colour comes from."""

from __future__ import annotations

from collections.abc import Callable

import cv2
import numpy as np

from .colour import Rgba
from .ink import Ink, ink_of
from .kernel import Few, kernel, sample
from .raster import Raster, empty

EDGES = ("transparent", "colour", "stretch", "repeat", "mirror")
_BORDERS = {
    "transparent": cv2.BORDER_CONSTANT,
    "colour": cv2.BORDER_CONSTANT,
    "stretch": cv2.BORDER_REPLICATE,
    "repeat": cv2.BORDER_WRAP,
    "mirror": cv2.BORDER_REFLECT,
}
# Takes places x, y (h, w) float32 and gives where their colours come from.
Map = Callable[[np.ndarray, np.ndarray], tuple[np.ndarray, np.ndarray]]
_GRID = 4


def bent(
    raster: Raster,
    bend: Map,
    region: tuple[int, int, int, int],
    *,
    edges: str = "transparent",
    colour: Rgba = (0.0, 0.0, 0.0, 0.0),
    exact: bool = False,
) -> Raster:
    """The picture over a region (left, top, right, bottom), each pixel taken from where ``bend``
    says. Places are pixel centres in the raster's own frame (x + 0.5).

    The map is computed on every fourth pixel and enlarged bilinearly, unless it has to be
    ``exact`` (where it jumps). Beyond the raster lies what ``edges`` names.
    """
    left, top, right, bottom = region
    width, height = right - left, bottom - top
    if width <= 0 or height <= 0:
        return Raster(empty(0, 0), left, top)
    corner = (np.float32(raster.left + 0.5), np.float32(raster.top + 0.5))

    def columns_and_rows(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        bx, by = bend(x, y)
        return bx - corner[0], by - corner[1]

    maps = _full(columns_and_rows, region) if exact else _sparse(columns_and_rows, region)
    return sampled(raster, *maps, (left, top), edges=edges, colour=colour)


def sampled(
    raster: Raster,
    x: np.ndarray,
    y: np.ndarray,
    corner: tuple[int, int],
    *,
    edges: str,
    colour: Rgba,
) -> Raster:
    """The raster's pixels at columns and rows (h, w) float32 of its own, as a raster whose top
    left pixel lies at ``corner``. One of a single colour stays one."""
    if raster.is_empty:
        return Raster(empty(x.shape[1], x.shape[0]), *corner)
    border = _BORDERS[edges]
    value = (0.0, 0.0, 0.0, 0.0)
    if edges == "colour":
        r, g, b, a = colour
        value = (b * a * 255, g * a * 255, r * a * 255, a * 255)
    if border != cv2.BORDER_CONSTANT:
        # OpenCV counts pixels in 16 bits: what lies farther away must not come round again.
        limit = 30000
        x, y = np.clip(x, -limit, limit), np.clip(y, -limit, limit)
    ink = ink_of(raster)
    if ink is not None and edges != "colour":
        alpha = cv2.remap(ink.alpha, x, y, cv2.INTER_LINEAR, borderMode=border, borderValue=0)
        return Raster(Ink(alpha, ink.colour), *corner)
    pixels = cv2.remap(raster.pixels, x, y, cv2.INTER_LINEAR, borderMode=border, borderValue=value)
    return Raster(pixels, *corner)


@kernel(fastmath=True)
def displaced(
    across: np.ndarray, down: np.ndarray, gain: float, by: tuple[float, float],
    start: tuple[float, float],
) -> tuple[np.ndarray, np.ndarray]:  # fmt: skip
    """Columns and rows (h, w) float32 for ``sampled``: each pixel's own, counted from ``start``,
    moved by two fields (h, w) float32, which are times ``gain`` within -1..1, times ``by``."""
    x, y = np.empty(across.shape, np.float32), np.empty(across.shape, np.float32)
    one, k = np.float32(1), np.float32(gain)
    ax, ay = np.float32(by[0]), np.float32(by[1])
    sx, sy = np.float32(start[0]), np.float32(start[1])
    for j in range(across.shape[0]):
        row = sy + np.float32(j)
        for i in range(across.shape[1]):
            x[j, i] = sx + np.float32(i) + min(one, max(-one, across[j, i] * k)) * ax
            y[j, i] = row + min(one, max(-one, down[j, i] * k)) * ay
    return x, y


@kernel(fastmath=True)
def field_moved(
    field: np.ndarray, across: np.ndarray, down: np.ndarray, by: tuple[float, float],
    start: tuple[float, float],
) -> np.ndarray:  # fmt: skip
    """A field (h', w') float32, of two columns and rows at least, read bilinearly at each pixel of
    (h, w), counted from ``start`` (its own column and row), moved by two fields (h, w) float32
    within -1..1 times ``by``. Beyond its edge it goes on as it is there."""
    out = np.empty(across.shape, np.float32)
    # Up to a hair before the last column and row, so that the next ones are always there.
    last_x, last_y = np.float32(field.shape[1] - 1.002), np.float32(field.shape[0] - 1.002)
    one, zero = np.float32(1), np.float32(0)
    ax, ay = np.float32(by[0]), np.float32(by[1])
    sx, sy = np.float32(start[0]), np.float32(start[1])
    columns, rows = np.empty(across.shape[1], np.float32), np.empty(across.shape[1], np.float32)
    flat, stride, below = field.reshape(-1), np.int32(field.shape[1]), np.uint32(field.shape[1])
    for j in range(across.shape[0]):
        xs, ys, into, row = across[j], down[j], out[j], sy + np.float32(j)
        for i in range(across.shape[1]):
            x = sx + np.float32(i) + min(one, max(-one, xs[i])) * ax
            y = row + min(one, max(-one, ys[i])) * ay
            columns[i], rows[i] = min(last_x, max(zero, x)), min(last_y, max(zero, y))
        for i in range(across.shape[1]):
            ix, iy = np.int32(columns[i]), np.int32(rows[i])
            fx, fy = columns[i] - np.float32(ix), rows[i] - np.float32(iy)
            at = np.uint32(iy * stride + ix)
            a, b = flat[at], flat[np.uint32(at + np.uint32(1))]
            c, d = flat[np.uint32(at + below)], flat[np.uint32(at + below + np.uint32(1))]
            upper, lower = a + (b - a) * fx, c + (d - c) * fx
            into[i] = upper + (lower - upper) * fy
    return out


def places(region: tuple[int, int, int, int]) -> tuple[np.ndarray, np.ndarray]:
    """The pixel centres of a region, x (1, w) and y (h, 1) float32."""
    left, top, right, bottom = region
    x = np.arange(left, right, dtype=np.float32)[None, :] + np.float32(0.5)
    y = np.arange(top, bottom, dtype=np.float32)[:, None] + np.float32(0.5)
    return x, y


def _full(bend: Map, region: tuple[int, int, int, int]) -> tuple[np.ndarray, np.ndarray]:
    x, y = places(region)
    shape = (y.shape[0], x.shape[1])
    found = bend(np.broadcast_to(x, shape), np.broadcast_to(y, shape))
    return tuple(np.ascontiguousarray(np.broadcast_to(m, shape), np.float32) for m in found)  # type: ignore[return-value]


def _sparse(bend: Map, region: tuple[int, int, int, int]) -> tuple[np.ndarray, np.ndarray]:
    left, top, right, bottom = region
    # Grid lines at whole multiples of the step: the region's corner makes no difference.
    gx, gy = left // _GRID, top // _GRID
    columns, rows = right // _GRID + 2 - gx, bottom // _GRID + 2 - gy
    x = np.arange(gx, gx + columns, dtype=np.float32)[None, :] * _GRID
    y = np.arange(gy, gy + rows, dtype=np.float32)[:, None] * _GRID
    shape = (rows, columns)
    found = bend(np.broadcast_to(x, shape), np.broadcast_to(y, shape))
    step = 1 / _GRID
    ox, oy = (left + 0.5) * step - gx, (top + 0.5) * step - gy
    matrix = np.array([[step, 0, ox], [0, step, oy]], np.float64)
    size = (right - left, bottom - top)
    large = [
        cv2.warpAffine(
            np.ascontiguousarray(np.broadcast_to(m, shape), np.float32), matrix, size,
            flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP, borderMode=cv2.BORDER_REPLICATE,
        )
        for m in found
    ]  # fmt: skip
    return large[0], large[1]


@sample
def _sample(_few: Few) -> None:
    fields = np.zeros((2, 2), np.float32), np.zeros((2, 2), np.float32)
    displaced(*fields, 1.0, (1.0, 1.0), (0.0, 0.0))
    field_moved(np.zeros((2, 2), np.float32), *fields, (1.0, 1.0), (0.0, 0.0))
