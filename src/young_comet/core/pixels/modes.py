"""Those ways of blending that are faster as compiled loops than as Skia's.

All work on rows of bytes, premultiplied, in place. With s and d the colours times their alphas,
and a and b these alphas, s (1 - b) + d (1 - a) + a b B(d / b, s / a) of W3C "Compositing and
Blending Level 1" is, mode by mode, what stands beside each loop; the alpha a + b - a b comes out
of the same arithmetic.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from .fixed import over_full, times
from .kernel import inlined, kernel

# What is the same for all channels of a pixel is written out for each of them first, a row at a
# time: the loop over the channels is then vector code.
_EACH = np.uint32(0x01010101)

_FULL, _ONE = np.uint32(255), np.uint32(1)
_ALPHA = np.uint32(24)

Loop = Callable[[np.ndarray, np.ndarray, int, int], None]


@kernel(inner=True)
def _shown(top: np.ndarray, into: np.ndarray, opacity: int) -> np.ndarray:
    """A row times an opacity of 255."""
    if opacity == 255:
        return top
    k = np.uint32(opacity)
    pixels, faded = top.view(np.uint32), into.view(np.uint32)
    for x in range(len(faded)):
        faded[x] = times(pixels[x], k)
    return into


@kernel(inner=True)
def _alphas(row: np.ndarray, into: np.ndarray) -> None:
    """The alpha of each pixel of a row, once for each of its channels."""
    for x in range(len(row)):
        into[x] = (row[x] >> _ALPHA) * _EACH


@inlined
def _rows(
    low: np.ndarray,
    top: np.ndarray,
    y: int,
    width: int,
    opacity: int,
    faded: np.ndarray,
    a: np.ndarray,
    b: np.ndarray,
) -> tuple[np.ndarray, np.ndarray]:
    """A row and what is laid on it, faded, and the alphas of both for each of their channels."""
    row, source = low[y, : width * 4], _shown(top[y, : width * 4], faded, opacity)
    _alphas(source.view(np.uint32), a)
    _alphas(row.view(np.uint32), b)
    return row, source


@kernel()
def _plus(low: np.ndarray, top: np.ndarray, width: int, opacity: int) -> None:
    """s + d"""
    faded = np.empty(width * 4, np.uint8)
    for y in range(low.shape[0]):
        row = low[y, : width * 4]
        source = _shown(top[y, : width * 4], faded, opacity)
        for i in range(width * 4):
            row[i] = min(_FULL, np.uint32(row[i]) + np.uint32(source[i]))


@kernel()
def _screen(low: np.ndarray, top: np.ndarray, width: int, opacity: int) -> None:
    """s + d - s d"""
    faded = np.empty(width * 4, np.uint8)
    for y in range(low.shape[0]):
        row = low[y, : width * 4]
        source = _shown(top[y, : width * 4], faded, opacity)
        for i in range(width * 4):
            s, d = np.uint32(source[i]), np.uint32(row[i])
            row[i] = s + d - over_full(s * d)


@kernel()
def _multiply(low: np.ndarray, top: np.ndarray, width: int, opacity: int) -> None:
    """s (1 - b) + d (1 - a) + s d"""
    faded = np.empty(width * 4, np.uint8)
    a, b = np.empty(width, np.uint32), np.empty(width, np.uint32)
    tops, lows = a.view(np.uint8), b.view(np.uint8)
    for y in range(low.shape[0]):
        row, source = _rows(low, top, y, width, opacity, faded, a, b)
        for i in range(width * 4):
            s, d = np.uint32(source[i]), np.uint32(row[i])
            p = s * (_FULL - np.uint32(lows[i])) + d * (_FULL - np.uint32(tops[i]))
            row[i] = over_full(p + s * d)


@inlined
def _hard(s: np.uint32, d: np.uint32, a: np.uint32, b: np.uint32) -> np.uint32:
    """2 s d where s is at most a / 2, else a b - 2 (b - d) (a - s): hard light of s on d. Every
    difference is cut to 32 bits at once: wider ones would keep the loop from becoming vector code.
    """
    dark = np.uint32(np.uint32(s * d) << _ONE)
    left = np.uint32(np.uint32(b - d) * np.uint32(a - s))
    light = np.uint32(np.uint32(a * b) - np.uint32(left << _ONE))
    return dark if np.uint32(s + s) <= a else light


@kernel()
def _lit(low: np.ndarray, top: np.ndarray, width: int, opacity: int, overlay: bool) -> None:
    """s (1 - b) + d (1 - a) and hard light of s on d, or of d on s (overlay)."""
    faded = np.empty(width * 4, np.uint8)
    a, b = np.empty(width, np.uint32), np.empty(width, np.uint32)
    tops, lows = a.view(np.uint8), b.view(np.uint8)
    for y in range(low.shape[0]):
        row, source = _rows(low, top, y, width, opacity, faded, a, b)
        for i in range(width * 4):
            s, d = np.uint32(source[i]), np.uint32(row[i])
            sa, da = np.uint32(tops[i]), np.uint32(lows[i])
            p = _hard(d, s, da, sa) if overlay else _hard(s, d, sa, da)
            rest = np.uint32(s * np.uint32(_FULL - da)) + np.uint32(d * np.uint32(_FULL - sa))
            row[i] = over_full(np.uint32(p + np.uint32(rest)))


def _overlay(low: np.ndarray, top: np.ndarray, width: int, opacity: int) -> None:
    _lit(low, top, width, opacity, True)


def _hard_light(low: np.ndarray, top: np.ndarray, width: int, opacity: int) -> None:
    _lit(low, top, width, opacity, False)


LOOPS: dict[str, Loop] = {
    "hard-light": _hard_light,
    "plus-lighter": _plus,
    "screen": _screen,
    "multiply": _multiply,
    "overlay": _overlay,
}
