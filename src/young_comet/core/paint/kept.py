"""Stacks of layers that are drawn again and again: what of them is kept."""

from __future__ import annotations

import hashlib

import numpy as np

from ..frame.resolved import ResolvedFrame
from ..pixels.cache import SizedCache
from ..plan.passes import matte_signatures


class KeptStack:
    """The pixels below the first changing layer of a stack that is drawn again and again."""

    def __init__(self, cache: SizedCache) -> None:
        self._kept = cache
        self._last: list[bytes] = []

    def chain(self, frame: ResolvedFrame, facts: object) -> list[bytes]:
        """One digest for each number of layers from below: [ground, ground + 1 layer, ...]."""
        digest = hashlib.blake2b(digest_size=12)
        digest.update(repr((facts, frame.width, frame.height, frame.fps)).encode())
        chain = [digest.digest()]
        mattes = matte_signatures(frame)
        for layer in frame.layers:
            digest.update(layer.signature)
            digest.update(b"m" if layer.signature in mattes else b"-")
            chain.append(digest.digest())
        return chain

    def longest(self, chain: list[bytes], floor: int | None) -> tuple[int, np.ndarray | None]:
        """The most layers that are there already; above the floor only all of them will do
        where some are composited by what lies below."""
        for index in range(len(chain) - 1, 0, -1):
            if floor is not None and floor < index < len(chain) - 1:
                continue
            pixels = self._kept.get(chain[index])
            if pixels is not None:
                return index, pixels
        return 0, None

    def steady(self, chain: list[bytes]) -> int:
        """How many of the lower layers are as they were in the frame drawn before."""
        count = 0
        for old, new in zip(self._last, chain, strict=False):
            if old != new:
                break
            count += 1
        self._last = chain
        return max(0, count - 1)

    def keep(self, digest: bytes, pixels: np.ndarray) -> None:
        """Keeps the picture of the layers that a digest of the chain names."""
        self._kept.put(digest, pixels, pixels.nbytes)
