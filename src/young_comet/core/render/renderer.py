"""Frames composed, with the unchanging lower part of the stack kept."""

from __future__ import annotations

import hashlib

import numpy as np

from ..geometry.affine import Affine
from ..pixels.cache import SizedCache
from ..pixels.canvas import Canvas
from ..pixels.raster import empty
from .draw import LayerPainter
from .library import MediaLibrary
from .resolved import ResolvedFrame


def output_size(width: int, height: int, scale: float) -> tuple[int, int]:
    """Pixels of a frame drawn at a scale; at least one by one."""
    return (max(1, round(width * scale)), max(1, round(height * scale)))


class Renderer:
    """Draws resolved frames. One renderer belongs to one thread at a time.

    The lower layers that stay the same from one frame to the next are composed once: a layer
    is always drawn onto the finished pixels below it, so what was kept changes nothing in the
    result, and the same frame gives the same bytes whatever was drawn before.
    """

    def __init__(self, library: MediaLibrary, *, limit_bytes: int = 200 * 2**20) -> None:
        self.library = library
        self._kept = SizedCache(limit_bytes)
        self._last: list[bytes] = []

    def render(
        self, frame: ResolvedFrame, width: int, height: int, *, transparent: bool = False
    ) -> np.ndarray:
        """Pixels (height, width, 4), not to be written to.

        ``transparent`` leaves the scene's ground out.
        """
        ground = None if transparent else frame.ground
        chain = self._chain(frame, width, height, ground)
        start, pixels = self._longest_kept(chain)
        if pixels is not None and start == len(frame.layers):
            self._last = chain
            return pixels
        if pixels is None:
            pixels = empty(width, height)
            if ground is not None:
                Canvas(pixels).clear(ground)
        else:
            pixels = pixels.copy()
        steady = self._steady(chain)
        view = Affine.scaling(width / frame.width, height / frame.height)
        painter = LayerPainter(pixels, view, self.library)
        for index in range(start, len(frame.layers)):
            painter.draw(frame.layers[index])
            if index + 1 == steady:
                copy = pixels if steady == len(frame.layers) else pixels.copy()
                self._kept.put(chain[steady], copy, copy.nbytes)
        self._last = chain
        return pixels

    def _chain(self, frame: ResolvedFrame, width: int, height: int, ground: object) -> list[bytes]:
        """One digest for each number of layers from below: [ground, ground + 1 layer, ...]."""
        digest = hashlib.blake2b(digest_size=12)
        digest.update(repr((width, height, frame.width, frame.height, ground)).encode())
        chain = [digest.digest()]
        for layer in frame.layers:
            digest.update(layer.signature)
            chain.append(digest.digest())
        return chain

    def _longest_kept(self, chain: list[bytes]) -> tuple[int, np.ndarray | None]:
        for index in range(len(chain) - 1, 0, -1):
            pixels = self._kept.get(chain[index])
            if pixels is not None:
                return index, pixels
        return 0, None

    def _steady(self, chain: list[bytes]) -> int:
        """How many of the lower layers are as they were in the frame drawn before."""
        count = 0
        for old, new in zip(self._last, chain, strict=False):
            if old != new:
                break
            count += 1
        return max(0, count - 1)
