"""Loops over rows shared out among threads. Loops compiled with ``nogil`` run side by side."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise

import cv2

_POOL = ThreadPoolExecutor(8, thread_name_prefix="rows")
# Fewer rows than this are not worth a thread.
_LEAST = 64


def in_stretches(loop: Callable[[int, int], None], rows: int, step: int = 1) -> None:
    """Calls ``loop(first, last)`` for stretches that make up all rows, each beginning at a multiple
    of ``step``: as many side by side as OpenCV may have threads, which is one in the processes
    that share the machine among themselves."""
    count = min(cv2.getNumThreads(), rows // _LEAST)
    if count < 2:
        loop(0, rows)
        return
    each = -(-rows // count // step) * step
    edges = [*range(0, rows, each), rows]
    waiting = [_POOL.submit(loop, a, b) for a, b in pairwise(edges[:-1])]
    try:
        loop(edges[-2], edges[-1])
    finally:
        for future in waiting:
            future.result()
