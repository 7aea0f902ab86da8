"""Upright pictures made smaller, larger and moved by parts of a pixel: every pixel is mixed of
those about its place by a windowed sinc (Lanczos), along the columns and along the rows.

Between neighbouring scales nothing jumps: the window is widened where a picture becomes smaller,
so that what is too fine for the pixels is gone before it is sampled, and has more lobes about a
scale of 1, so that a picture which is only moved stays as sharp as one that is not.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from .kernel import Few, inlined, kernel, sample

# Smaller than this, a picture is filtered by a window so much wider than its pixels ask for.
_FROM, _WIDER = 0.8, 1.15
# Lobes of the window at these scales, and in between.
_SCALES = (0.8, 1.0, 1.25, 2.0)
_LOBES = (2.5, 5.0, 3.0, 2.0)
# A window no wider than this many of the source's pixels to each side of its middle.
_LEAST = 1 / 32
# Rows that are mixed and turned about at a time, and columns: they stay in the nearer caches.
_BLOCK, _COLUMNS = 64, 48
_TAPS = 4  # are mixed at a time
_STRIDES = 4  # pixels of a source to one of the frame, that rows are dealt out by, at most
_MOST_KEPT = 3_000_000  # pixels of rows that are kept
_MOSTLY = 0.85  # of a region that is covered is mixed as if all were
_FARTHEST = float(1 << 30)  # px; what reaches farther than that does not end
_FINE = 1024  # places at which a window is computed
_EVEN, _ONES = np.uint32(0x00FF00FF), np.uint32(0x00010001)


def window(scale: float) -> tuple[float, float]:
    """Lobes of the window and its width in pixels of the source, for a scale."""
    scale = max(abs(scale), _LEAST)
    lobes = float(np.interp(scale, _SCALES, _LOBES))
    wider = float(np.interp(scale, (_FROM, 1.0), (_WIDER, 1.0)))
    return lobes, wider * max(1.0, 1 / scale)


class KeptRows:
    """What a picture is along its columns, kept while it only goes to the side."""

    def __init__(self) -> None:
        self._last: tuple[tuple[Any, ...], np.ndarray | None] = ((), None)

    @property
    def nbytes(self) -> int:
        """The bytes of what is kept."""
        rows = self._last[1]
        return 0 if rows is None else rows.nbytes

    def of(self, name: tuple[Any, ...], make: Callable[[], np.ndarray]) -> np.ndarray | None:
        """The rows of a name; None unless they have been asked for just before, and are not too
        many."""
        last, rows = self._last
        if name != last:
            self._last = (name, None)
            return None
        (_, width, _), top, bottom = name[0], name[-2], name[-1]
        if rows is None and width * (bottom - top) <= _MOST_KEPT:
            rows = make()
            self._last = (name, rows)
        return rows


def scaled(
    pixels: np.ndarray,
    scale: tuple[float, float],
    offset: tuple[float, float],
    region: tuple[int, int, int, int],
    *,
    opaque: bool = False,
    kept: KeptRows | None = None,
) -> np.ndarray:
    """What (h, w, 4) pixels show in a region (left, top, right, bottom) of a frame in which their
    left top corner lies at ``offset`` and each of them is ``scale`` large. A negative scale
    mirrors. ``opaque`` says that none of them is transparent. ``kept`` is for a picture that is
    drawn again and again.

    Where a pixel of the frame is covered in part only, it is as transparent as that.
    """
    left, top, right, bottom = region
    size = (max(0, bottom - top), max(0, right - left))
    there = _covered(pixels, scale, offset, region)
    seen = max(0, there[2] - there[0]) * max(0, there[3] - there[1])
    if seen <= _MOSTLY * size[0] * size[1]:  # what is bare beside it need not be mixed
        whole = np.zeros((*size, 4), np.uint8)
        if seen:
            inner = scaled(pixels, scale, offset, there, opaque=opaque, kept=kept)
            whole[there[1] - top : there[3] - top, there[0] - left : there[2] - left] = inner
        return whole
    out = np.empty((*size, 4), np.uint8)
    height, width = pixels.shape[:2]
    fx, wx, plain_x = _along(left, out.shape[1], width, scale[0], offset[0])
    fy, wy, plain_y = _along(top, out.shape[0], height, scale[1], offset[1])
    # Only the columns and rows that are mixed are read.
    x0, x1 = _read(fx, wx.shape[1], pixels.shape[1])
    y0, y1 = _read(fy, wy.shape[1], pixels.shape[0])
    if kept is not None and not (plain_x or plain_y):
        name = (pixels.shape, scale[1], offset[1], top, bottom)
        mixed = kept.of(name, lambda: _mixed_rows(pixels[y0:y1], fy - y0, wy))
        if mixed is not None:
            pixels, plain_y, fy, y0, y1 = mixed, True, np.arange(len(mixed)), 0, len(mixed)
    part = np.ascontiguousarray(pixels[y0:y1, x0:x1])
    # Where a picture is only moved, or as small as a half, all columns have one window.
    steps = np.diff(fx)
    stride = int(steps[0]) if len(steps) and not plain_x and (wx == wx[0]).all() else 0
    stride = stride if 0 < stride <= _STRIDES and (steps == stride).all() else 0
    rows, into = part.reshape(part.shape[0], -1), out.reshape(out.shape[0], -1).view(np.uint32)
    if stride:
        mix_dealt(rows, fy - y0, wy, plain_y, fx[0] - x0, wx[0], stride, opaque, into)
    else:
        mix(rows, fy - y0, wy, plain_y, fx - x0, wx, plain_x, opaque, into)
    for axis, (start, count, size) in enumerate(
        ((top, out.shape[0], height), (left, out.shape[1], width))
    ):
        k = 1 - axis
        far = offset[k] + scale[k] * size
        _edges(out, axis, start, count, min(offset[k], far), max(offset[k], far))
    return out


def _along(
    start: int, count: int, size: int, scale: float, offset: float
) -> tuple[np.ndarray, np.ndarray, bool]:
    """Of an axis with so many pixels the first that makes each of ``count`` from a start on, their
    weights, and whether they are taken as they are."""
    lobes, width = window(scale)
    whole = scale == 1 and float(offset).is_integer()
    taps = _TAPS if whole else _round_up(2 * lobes * width)
    if taps >= 2 * size + _TAPS:  # the whole source lies within the window
        taps, width = _round_up(2 * size), min(width, size / lobes)
    first = np.empty(count, np.int64)
    weights = np.empty((count, taps), np.int16)
    step = scale if abs(scale) > 1e-9 else 1e-9
    window_of(start, step, float(offset), 0.5 if whole else lobes, width, first, weights)
    return first, weights, whole


def _mixed_rows(pixels: np.ndarray, first: np.ndarray, weights: np.ndarray) -> np.ndarray:
    """Pixels mixed along their columns: (n, w, 4)."""
    rows = np.empty((len(first), pixels.shape[1] * 4), np.uint8)
    read = np.ascontiguousarray(pixels)
    mix_rows(read.reshape(len(read), -1), first, weights, rows)
    return rows.reshape(len(first), -1, 4)


def _covered(
    pixels: np.ndarray,
    scale: tuple[float, float],
    offset: tuple[float, float],
    region: tuple[int, int, int, int],
) -> tuple[int, int, int, int]:
    """What of a region a picture covers, if only in part."""
    far = [offset[k] + scale[k] * pixels.shape[1 - k] for k in (0, 1)]
    ends = [sorted(max(min(e, _FARTHEST), -_FARTHEST) for e in (offset[k], far[k])) for k in (0, 1)]
    low, high = [math.floor(each[0]) for each in ends], [math.ceil(each[1]) for each in ends]
    left, top, right, bottom = region
    return (max(left, low[0]), max(top, low[1]), min(right, high[0]), min(bottom, high[1]))


def _round_up(taps: float) -> int:
    return math.ceil((math.ceil(taps) + 1) / _TAPS) * _TAPS


def _read(first: np.ndarray, taps: int, size: int) -> tuple[int, int]:
    """From where to where an axis of so many pixels is read, at least one of them."""
    low = min(max(0, int(min(first[0], first[-1]))), size - 1)
    high = max(min(size, int(max(first[0], first[-1])) + taps), low + 1)
    return low, high


def _edges(out: np.ndarray, axis: int, start: int, count: int, near: float, far: float) -> None:
    """Makes the pixels along an axis as transparent as ``near`` to ``far`` leaves them bare."""
    at = np.arange(start, start + count)
    covered = np.clip(np.minimum(at + 1.0, far) - np.maximum(at, near), 0.0, 1.0)
    for index in np.flatnonzero(covered < 1 - 1e-6):
        line = out[index] if axis == 0 else out[:, index]
        line[:] = np.rint(line * covered[index])


@kernel()
def window_of(
    start: int, scale: float, offset: float, lobes: float, width: float, first: np.ndarray,
    weights: np.ndarray,
) -> None:  # fmt: skip
    """Which pixels of a source make each pixel of a line that begins at ``start``: the first of
    them and their weights (n, taps) int16, 128ths that come to 128."""
    taps = weights.shape[1]
    raw = np.empty(taps)
    # The window at steps of a pixel: in between it is interpolated.
    fine = np.empty(_FINE + 2)
    for n in range(_FINE + 2):
        x = lobes * n / _FINE
        value = 1.0 if n == 0 else 0.0
        if 0 < n < _FINE:
            a, b = math.pi * x, math.pi * x / lobes
            value = math.sin(a) / a * math.sin(b) / b
        fine[n] = value
    reach = _FINE / (lobes * width)
    for i in range(len(first)):
        middle = (start + i + 0.5 - offset) / scale - 0.5
        begin = math.ceil(middle - lobes * width - 1e-9)
        total = 0.0
        for t in range(taps):
            at = min(abs(begin + t - middle) * reach, float(_FINE))
            n = int(at)
            raw[t] = fine[n] + (fine[n + 1] - fine[n]) * (at - n)
            total += raw[t]
        left, largest = 128, 0
        for t in range(taps):
            share = int(np.rint(raw[t] * 128 / total)) if total != 0 else 0
            weights[i, t] = share
            left -= share
            if raw[t] > raw[largest]:
                largest = t
        weights[i, largest] += left
        first[i] = begin


@kernel(inner=True)
def mixed_row(
    rows: np.ndarray, first: int, weights: np.ndarray, acc: np.ndarray, out: np.ndarray, n: int
) -> None:
    """One row ``out`` of ``n`` bytes, of the rows from ``first`` on; beyond the first and the last
    they go on as they are. In 16 bits, of which a quarter lies below zero and one above 255."""
    last = rows.shape[0] - 1
    acc[:n] = np.uint16(64 + 128 * 128)
    for t in range(0, len(weights), 4):
        w0, w1 = np.uint16(weights[t]), np.uint16(weights[t + 1])
        w2, w3 = np.uint16(weights[t + 2]), np.uint16(weights[t + 3])
        r0 = rows[min(max(first + t, 0), last)]
        r1 = rows[min(max(first + t + 1, 0), last)]
        r2 = rows[min(max(first + t + 2, 0), last)]
        r3 = rows[min(max(first + t + 3, 0), last)]
        for i in range(n):
            acc[i] = np.uint16(
                acc[i]
                + np.uint16(w0 * np.uint16(r0[i]))
                + np.uint16(w1 * np.uint16(r1[i]))
                + np.uint16(w2 * np.uint16(r2[i]))
                + np.uint16(w3 * np.uint16(r3[i]))
            )
    for i in range(n):
        value = np.int16(np.uint16(acc[i] >> np.uint16(7))) - np.int16(128)
        out[i] = np.uint8(min(np.int16(255), max(np.int16(0), value)))


@kernel(inner=True)
def _dealt(row: np.ndarray, first: int, lines: np.ndarray) -> None:
    """Deals the pixels of a row from ``first`` on out to ``lines`` (n, m) by turns; beyond its ends
    it goes on as it is."""
    stride, last = lines.shape[0], len(row) - 1
    # From where to where nothing has to be looked for.
    begin = min(lines.shape[1], max(0, -(first // stride)))
    end = max(begin, min(lines.shape[1], (last - first - stride + 1) // stride + 1))
    for p in range(stride):
        line = lines[p]
        for i in range(begin):
            line[i] = row[min(max(first + i * stride + p, 0), last)]
        for i in range(end, len(line)):
            line[i] = row[min(max(first + i * stride + p, 0), last)]
        inner = row[first + begin * stride + p :] if end > begin else row
        for i in range(end - begin):
            line[begin + i] = inner[i * stride]


@kernel(inner=True)
def mixed_along(lines: np.ndarray, weights: np.ndarray, acc: np.ndarray, out: np.ndarray) -> None:
    """A row ``out`` of bytes, each mixed of what was dealt out to ``lines`` from its place on."""
    n, stride = len(out), lines.shape[0]
    acc[:] = np.uint16(64 + 128 * 128)
    for t in range(0, len(weights), 4):
        w0, w1 = np.uint16(weights[t]), np.uint16(weights[t + 1])
        w2, w3 = np.uint16(weights[t + 2]), np.uint16(weights[t + 3])
        r0 = lines[t % stride, t // stride * 4 :]
        r1 = lines[(t + 1) % stride, (t + 1) // stride * 4 :]
        r2 = lines[(t + 2) % stride, (t + 2) // stride * 4 :]
        r3 = lines[(t + 3) % stride, (t + 3) // stride * 4 :]
        for i in range(n):
            acc[i] = np.uint16(
                acc[i]
                + np.uint16(w0 * np.uint16(r0[i]))
                + np.uint16(w1 * np.uint16(r1[i]))
                + np.uint16(w2 * np.uint16(r2[i]))
                + np.uint16(w3 * np.uint16(r3[i]))
            )
    for i in range(n):
        value = np.int16(np.uint16(acc[i] >> np.uint16(7))) - np.int16(128)
        out[i] = np.uint8(min(np.int16(255), max(np.int16(0), value)))


@inlined
def _no_more(half: np.uint32, alpha: np.uint32) -> np.uint32:
    """Two channels of a pixel, each in 16 bits, no more than an alpha that stands in both."""
    over = ((((half | np.uint32(0x01000100)) - alpha) >> np.uint32(8)) & _ONES) * np.uint32(0xFF)
    return (half & ~over) | (alpha & over)


@kernel(inner=True)
def within_alpha(pixels: np.ndarray) -> None:
    """Makes no colour of (n,) uint32 pixels more than its alpha."""
    for i in range(len(pixels)):
        pixel = pixels[i]
        alpha = (pixel >> np.uint32(24)) * _ONES
        even = _no_more(pixel & _EVEN, alpha)
        odd = _no_more((pixel >> np.uint32(8)) & _EVEN, alpha)
        pixels[i] = even | (odd << np.uint32(8))


@kernel()
def mix_rows(source: np.ndarray, fy: np.ndarray, wy: np.ndarray, out: np.ndarray) -> None:
    """``source`` (h, 4 w) bytes through the windows of its columns into rows (n, 4 w)."""
    acc = np.empty(source.shape[1], np.uint16)
    for y in range(len(out)):
        mixed_row(source, fy[y], wy[y], acc, out[y], source.shape[1])


@kernel()
def mix(
    source: np.ndarray, fy: np.ndarray, wy: np.ndarray, plain_y: bool, fx: np.ndarray,
    wx: np.ndarray, plain_x: bool, opaque: bool, out: np.ndarray,
) -> None:  # fmt: skip
    """``source`` (h, 4 w) bytes through the windows of both axes into ``out`` (rows, columns)
    uint32. Blocks of rows are mixed, turned about, and mixed again; along a plain axis pixels are
    taken as they are."""
    n = source.shape[1]
    width, taps = n // 4, wx.shape[1]
    height, columns = out.shape
    rows = np.empty((_BLOCK, n), np.uint8)
    row_pixels = rows.view(np.uint32)
    turned = np.empty((width, _BLOCK * 4), np.uint8)
    turned_pixels = turned.view(np.uint32)
    mixed = np.empty((_COLUMNS, _BLOCK * 4), np.uint8)
    mixed_pixels = mixed.view(np.uint32)
    acc = np.empty(max(n, _BLOCK * 4), np.uint16)
    # Of a plain line, what comes before it, what it is, and what comes after it.
    before = min(max(-fx[0], 0), columns)
    after = max(min(width - fx[0], columns), before)
    blocks = (height + _BLOCK - 1) // _BLOCK
    block = (height + blocks - 1) // blocks  # of about the same height
    for y0 in range(0, height, block):
        count = min(block, height - y0)
        for y in range(count):
            if plain_y:
                rows[y] = source[min(max(fy[y0 + y], 0), len(source) - 1)]
            else:
                mixed_row(source, fy[y0 + y], wy[y0 + y], acc, rows[y], n)
        if plain_x:
            for y in range(count):
                into, line = out[y0 + y], row_pixels[y]
                into[:before], into[after:] = line[0], line[width - 1]
                into[before:after] = line[fx[0] + before : fx[0] + after]
        else:
            for x0 in range(0, columns, _COLUMNS):
                x1 = min(columns, x0 + _COLUMNS)
                # The source's columns that these are mixed of, turned about.
                low = min(max(min(fx[x0], fx[x1 - 1]), 0), width - 1)
                high = max(min(max(fx[x0], fx[x1 - 1]) + taps, width), low + 1)
                for x in range(low, high):
                    line = turned_pixels[x - low]
                    for y in range(count):
                        line[y] = row_pixels[y, x]
                for x in range(x0, x1):
                    there = turned[: high - low]
                    mixed_row(there, fx[x] - low, wx[x], acc, mixed[x - x0], count * 4)
                for y in range(count):
                    into = out[y0 + y]
                    for x in range(x0, x1):
                        into[x] = mixed_pixels[x - x0, y]
        if not opaque:
            for y in range(count):
                within_alpha(out[y0 + y])


# A kernel of its own: within the other the compiler makes both slower.
@kernel()
def mix_dealt(
    source: np.ndarray, fy: np.ndarray, wy: np.ndarray, plain_y: bool, first: int, taps: np.ndarray,
    stride: int, opaque: bool, out: np.ndarray,
) -> None:  # fmt: skip
    """As ``mix``, where all columns have one window of ``taps``, a ``stride`` further each from a
    ``first`` pixel on: rows need not be turned about."""
    n = source.shape[1]
    height, columns = out.shape
    row = np.empty(n, np.uint8)
    row_pixels = row.view(np.uint32)
    lines = np.empty((stride, columns + len(taps)), np.uint32)
    line_bytes = lines.view(np.uint8)
    acc, sums = np.empty(n, np.uint16), np.empty(columns * 4, np.uint16)
    for y in range(height):
        if plain_y:
            row[:] = source[min(max(fy[y], 0), len(source) - 1)]
        else:
            mixed_row(source, fy[y], wy[y], acc, row, n)
        _dealt(row_pixels, first, lines)
        mixed_along(line_bytes, taps, sums, out[y].view(np.uint8))
        if not opaque:
            within_alpha(out[y])


@sample
def _sample(few: Few) -> None:
    for way in ((0.5, 0.7), (0.6, 0.7), (1.0, 1.0)):
        kept = KeptRows()
        for _ in range(2):
            scaled(few.pixels, way, (0.3, 0.4), (0, 0, 4, 4), kept=kept)
