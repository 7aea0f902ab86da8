"""Processes that end with the program that started them, however that ends."""

from __future__ import annotations

import contextlib
import multiprocessing as mp
import os
import select
import signal
import threading
import time
from pathlib import Path

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


def end_with_all(signum: int, _: object = None) -> None:
    """What a program does last when it is told to end: kills whatever it still has below it and
    ends by the signal. The fork server is among that: it would first finish its own start, which
    takes seconds on a busy machine."""
    for pid in _started_here():
        with contextlib.suppress(ProcessLookupError, PermissionError):
            os.kill(pid, signal.SIGKILL)
    signal.signal(signum, signal.SIG_DFL)
    signal.raise_signal(signum)


def _started_here() -> set[int]:
    """The processes below this one, as the kernel lists them (proc(5)); none where it does not."""
    found: set[int] = set()
    for listed in Path("/proc/self/task").glob("*/children"):
        with contextlib.suppress(OSError):
            found.update(int(pid) for pid in listed.read_text().split())
    return found
