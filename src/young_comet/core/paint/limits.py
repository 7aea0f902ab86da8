"""How much memory may be kept for speed, shared out among the processes."""

from __future__ import annotations

from dataclasses import dataclass

MB = 2**20
# What a process takes with nothing kept: the libraries, the faces, the pictures in work.
PLAIN_MB = 190


@dataclass(frozen=True)
class CacheLimits:
    """Bytes: ``media`` for decoded pictures and footage, ``frames`` for a renderer's layers and
    stacks, ``small`` for thumbnails' own renderer."""

    media: int
    frames: int
    small: int


def shared_out(total_mb: int, processes: int) -> CacheLimits:
    """The limits of each of so many processes, so that all together stay within a total.

    Where the total is small every process keeps a little all the same: the caches then hold
    hardly more than the frame in work.
    """
    rest = max(24.0, total_mb / max(1, processes) - PLAIN_MB)
    return CacheLimits(int(rest * 0.4 * MB), int(rest * 0.52 * MB), int(rest * 0.08 * MB))
