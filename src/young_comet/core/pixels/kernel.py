"""Loops over pixels, compiled by Numba, with what compiles and loads them before a frame needs
them.

A module with kernels ends with a function marked ``@sample`` that calls each of them on a few
pixels, in the layouts in which pictures come.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, TypeVar, cast

import numba
import numpy as np

F = TypeVar("F", bound=Callable[..., Any])


class Few:
    """A few pixels for samples."""

    def __init__(self) -> None:
        self._pixels = np.full((4, 4, 4), 128, np.uint8)
        self.coverage = np.full((4, 4), 128, np.uint8)
        self.plane = np.zeros((4, 4), np.float32)

    @property
    def pixels(self) -> np.ndarray:
        """A picture (4, 4, 4), fresh each time: kernels write into it."""
        return self._pixels.copy()

    def layouts(self) -> list[tuple[np.ndarray, np.ndarray]]:
        """A picture and its coverage; and rows cut out of one."""
        row = self.pixels[1:3]
        return [(self.pixels, self.coverage), (row, np.ascontiguousarray(self.coverage[:2]))]


KERNELS: list[Any] = []
_SAMPLES: list[Callable[[Few], None]] = []


def kernel(*, inner: bool = False, **options: Any) -> Callable[[F], F]:
    """A compiled loop that lets other threads run; the machine keeps what was compiled. An
    ``inner`` one is only called by others and is loaded with them."""

    def made(function: F) -> F:
        compiled = cast(F, numba.njit(nogil=True, cache=True, **options)(function))
        if not inner:
            KERNELS.append(compiled)
        return compiled

    return made


def inlined(function: F) -> F:
    """A piece of kernels, put into each that calls it."""
    return cast(F, numba.njit(inline="always")(function))


def sample(call: Callable[[Few], None]) -> Callable[[Few], None]:
    """Marks what calls a module's kernels on a few pixels."""
    _SAMPLES.append(call)
    return call


def samples() -> list[Callable[[], None]]:
    """All samples of the modules that have been imported, ready to be called."""
    few = Few()
    return [partial(call, few) for call in _SAMPLES]
