"""Colour tables: .cube files with a 3-D or a 1-D table."""

from __future__ import annotations

import numpy as np

from ...errors import MediaError

MAX_SIZE = 65
MAX_1D = 65536


def read_cube(data: bytes) -> np.ndarray:
    """A table (n, n, n, 3) float32 indexed blue, green, red, giving red, green, blue in 0..1.

    A 1-D table becomes a 3-D one of 33 steps. MediaError tells what is wrong, with its line.
    """
    try:
        lines = data.decode("utf-8-sig").splitlines()
    except UnicodeDecodeError as error:
        raise MediaError("a .cube file is text in UTF-8") from error
    size, flat = 0, False
    low, high = np.zeros(3), np.ones(3)
    rows: list[tuple[float, float, float]] = []
    for number, line in enumerate(lines, 1):
        words = line.split("#", 1)[0].split()
        if not words:
            continue
        key = words[0].upper()
        if key == "TITLE":
            continue
        if key in ("LUT_3D_SIZE", "LUT_1D_SIZE"):
            flat = key == "LUT_1D_SIZE"
            size = _size(words, MAX_1D if flat else MAX_SIZE, number)
        elif key in ("DOMAIN_MIN", "DOMAIN_MAX"):
            values = np.array(_three(words[1:], number))
            low, high = (values, high) if key == "DOMAIN_MIN" else (low, values)
        elif key[0].isalpha():
            continue  # other programs add lines of their own
        else:
            rows.append(_three(words, number))
            if len(rows) > (size if flat else size**3):
                raise MediaError(f"line {number}: more entries than the size of the table says")
    if size < 2:
        raise MediaError("expected LUT_3D_SIZE or LUT_1D_SIZE and a table")
    if len(rows) != (size if flat else size**3):
        raise MediaError(f"expected {size if flat else size**3} entries, got {len(rows)}")
    if not bool(np.all(high - low > 1e-6)):
        raise MediaError("the end of the domain must lie above its start")
    table = np.array(rows, np.float32)
    if flat:
        return _from_flat(table, low, high)
    cube = table.reshape(size, size, size, 3)  # red runs fastest
    if np.any(low != 0) or np.any(high != 1):
        cube = _on_unit(cube, low, high)
    return np.ascontiguousarray(cube)


def _size(words: list[str], most: int, number: int) -> int:
    if (
        len(words) != 2
        or not (words[1].isascii() and words[1].isdigit())
        or not 2 <= int(words[1]) <= most
    ):
        raise MediaError(f"line {number}: expected a size from 2 to {most}")
    return int(words[1])


def _three(words: list[str], number: int) -> tuple[float, float, float]:
    try:
        values = tuple(float(word) for word in words)
    except ValueError:
        values = ()
    if len(values) != 3 or not all(abs(value) <= 1e6 for value in values):
        raise MediaError(f"line {number}: expected three numbers")
    return values


def _from_flat(table: np.ndarray, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    at = np.linspace(0, 1, 33)
    own = np.linspace(0, 1, len(table))
    channels = [np.interp((at - low[c]) / (high[c] - low[c]), own, table[:, c]) for c in range(3)]
    cube = np.empty((33, 33, 33, 3), np.float32)
    cube[..., 0] = channels[0][None, None, :]
    cube[..., 1] = channels[1][None, :, None]
    cube[..., 2] = channels[2][:, None, None]
    return cube


def _on_unit(cube: np.ndarray, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """A table for another domain read at even steps of 0..1, one axis after another."""
    size = cube.shape[0]
    at = np.linspace(0, 1, size)
    for axis, channel in ((2, 0), (1, 1), (0, 2)):
        place = np.clip((at - low[channel]) / (high[channel] - low[channel]), 0, 1) * (size - 1)
        first = np.minimum(place.astype(int), size - 2)
        part = (place - first).reshape([-1 if a == axis else 1 for a in range(4)])
        below, above = np.take(cube, first, axis=axis), np.take(cube, first + 1, axis=axis)
        cube = (below + (above - below) * part).astype(np.float32)
    return cube
