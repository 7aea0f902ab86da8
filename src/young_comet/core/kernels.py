"""Every compiled kernel called once on a few pixels: compiled at set-up, loaded at a start, so
that no frame waits for it."""

from __future__ import annotations

import pkgutil
from collections.abc import Callable
from importlib import import_module

from . import effects, pixels
from .pixels.kernel import samples


def load_kernels() -> None:
    """Calls all kernels; takes seconds where they have never been compiled, else little."""
    for load in kernel_loads():
        load()


def kernel_loads() -> list[Callable[[], None]]:
    """What loads all kernels, in pieces, between which a picture may be drawn: that loads but what
    it needs."""
    for package in (pixels, effects):
        for module in pkgutil.iter_modules(package.__path__):
            import_module(f"{package.__name__}.{module.name}")
    return samples()
