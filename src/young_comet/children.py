"""Processes that end with the program that started them, however that ends."""

from __future__ import annotations

import multiprocessing as mp
import os
import select
import threading
import time

# Where the kernel cannot tell of another process's end it is asked so often.
_ASK_S = 1.0


def end_with(program: int) -> None:
    """Called first in a process that the program of that number has started, itself or through the
    fork server: from then on it ends as soon as that program has ended, killed or not.

    A thread waits for the program (pidfd_open(2)). The kernel's own PR_SET_PDEATHSIG would not do:
    it goes by the thread that started a process, and children of the fork server keep that alive.
    """
    try:
        watched = os.pidfd_open(program)
    except ProcessLookupError:  # it was gone before the call
        os._exit(1)
    except (AttributeError, OSError):
        watched = -1
    threading.Thread(
        target=_end_after, args=(program, watched), name="end-with-program", daemon=True
    ).start()


def _end_after(program: int, watched: int) -> None:
    if watched >= 0:
        select.select([watched], [], [])
    else:
        while _is_there(program):
            time.sleep(_ASK_S)
    os._exit(1)


def _is_there(program: int) -> bool:
    try:
        os.kill(program, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        pass
    return True


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
