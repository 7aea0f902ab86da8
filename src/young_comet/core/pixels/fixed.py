"""Fixed-point arithmetic on bytes and on pixels as numbers: how products are brought back to 255.

x / 255 to the nearest for x up to 65,789 is ((x + 128) + ((x + 128) >> 8)) >> 8 (Blinn, *Three
Wrongs Make a Right*, IEEE CG&A 1995). A pixel of four bytes is one 32-bit number, and two of
its channels are multiplied at a time, with 8 bits of room above each. The compiler makes vector
code of loops over pixels from that, where the same factor goes for all four channels.

All numbers are np.uint32. Functions marked so are compiled into the loops that call them.
"""

from __future__ import annotations

import numpy as np

from .kernel import inlined

_HALF = np.uint32(128)
_EVEN, _ODD = np.uint32(0x00FF00FF), np.uint32(0xFF00FF00)
_HALVES, _BYTE = np.uint32(0x00800080), np.uint32(8)


@inlined
def over_full(product: np.uint32) -> np.uint32:
    """A product of two bytes, or a sum of such that is no more than one, / 255, to the nearest."""
    p = np.uint32(np.uint32(product) + _HALF)
    return np.uint32(p + np.uint32(p >> _BYTE)) >> _BYTE


@inlined
def times(pixel: np.uint32, k: np.uint32) -> np.uint32:
    """Each channel times k / 255 (0..255), rounded to nearest."""
    even = (pixel & _EVEN) * k + _HALVES
    odd = ((pixel >> _BYTE) & _EVEN) * k + _HALVES
    even = ((even + ((even >> _BYTE) & _EVEN)) >> _BYTE) & _EVEN
    return even | ((odd + ((odd >> _BYTE) & _EVEN)) & _ODD)


@inlined
def mixed(pixel: np.uint32, k: np.uint32, other: np.uint32, m: np.uint32) -> np.uint32:
    """Each channel times k / 255 and the other's times m / 255, rounded once. No sum may be more
    than 255, as when k and m come to 255, or where both are premultiplied and m is what k times
    the pixel's alpha leaves."""
    even = (pixel & _EVEN) * k + (other & _EVEN) * m + _HALVES
    odd = ((pixel >> _BYTE) & _EVEN) * k + ((other >> _BYTE) & _EVEN) * m + _HALVES
    even = ((even + ((even >> _BYTE) & _EVEN)) >> _BYTE) & _EVEN
    return even | ((odd + ((odd >> _BYTE) & _EVEN)) & _ODD)


@inlined
def whole_pixels(row: np.ndarray, width: int) -> np.ndarray:
    """A contiguous row (w, 4) uint8 as that many numbers."""
    return row.reshape(width * 4).view(np.uint32)
