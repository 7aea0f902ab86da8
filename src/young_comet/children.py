"""Processes that end with the program that started them, however that ends."""

from __future__ import annotations

import contextlib
import ctypes
import multiprocessing as mp
import os
import signal
import sys
import time

_PR_SET_PDEATHSIG = 1


def end_with_parent(parent: int | None = None) -> None:
    """Called first in a child: the kernel kills it when its parent is gone (prctl(2),
    PR_SET_PDEATHSIG). Where the kernel has no such thing the child stays as it is. ``parent`` is
    the process that must still be the parent, where it is known.

    The parent of a child of the fork server is the fork server, which ends when the pipe from
    the program that started it closes.
    """
    if not sys.platform.startswith("linux"):
        return
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL, 0, 0, 0)
    if os.getppid() == 1 or parent not in (None, os.getppid()):  # it was gone before the call
        os._exit(1)


def end_children(timeout_s: float = 1.0) -> None:
    """Ends all processes that this one has started: asked first, then killed."""
    children = mp.active_children()
    for child in children:
        child.terminate()
    until = time.monotonic() + timeout_s
    for child in children:
        child.join(timeout=max(0.0, until - time.monotonic()))
        if child.is_alive():
            child.kill()
