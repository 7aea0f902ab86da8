"""Frames composed, with the unchanging lower part of the stack kept."""

from __future__ import annotations

import numpy as np

from ..frame.faults import Fault
from ..frame.resolved import ResolvedFrame
from ..geometry.affine import Affine
from ..pixels.cache import SizedCache
from .compose import FrameStudio, draw_stack
from .kept import KeptStack
from .library import MediaLibrary


def output_size(width: int, height: int, scale: float) -> tuple[int, int]:
    """Pixels of a frame drawn at a scale; at least one by one."""
    return (max(1, round(width * scale)), max(1, round(height * scale)))


class Renderer:
    """Draws resolved frames. One renderer belongs to one thread at a time.

    What it keeps is bounded (``limit_bytes``). What was kept changes nothing in the
    result, and the same frame gives the same bytes whatever was drawn before.
    """

    def __init__(self, library: MediaLibrary, *, limit_bytes: int = 200 * 2**20) -> None:
        self.library = library
        self._studio = FrameStudio(library)
        self._stack = KeptStack(SizedCache(limit_bytes // 3))
        self._pictures = SizedCache(limit_bytes - limit_bytes // 3)
        self._faults: tuple[Fault, ...] = ()

    @property
    def faults(self) -> tuple[Fault, ...]:
        """What is missing in the picture that was rendered last."""
        return self._faults

    def render(
        self,
        frame: ResolvedFrame,
        width: int,
        height: int,
        *,
        transparent: bool = False,
        spent: dict[str, float] | None = None,
    ) -> np.ndarray:
        """Pixels (height, width, 4), not to be written to.

        ``transparent`` leaves the scene's ground out; what each layer takes, s, is added to
        ``spent``.
        """
        ground = None if transparent else frame.ground
        view = Affine.scaling(width / frame.width, height / frame.height)
        self.library.faults.taken()
        self.library.begin_frame(len(frame.layers))
        pixels = draw_stack(frame, ground, view, (width, height), self._studio, self._pictures,
                            self._stack, spent)  # fmt: skip
        self._faults = self.library.faults.taken()
        return pixels
