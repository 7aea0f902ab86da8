"""Threads that work through jobs, whatever becomes of one: the loop that all workers share."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable
from contextlib import suppress

log = logging.getLogger(__name__)

# After a turn that failed, a worker rests for so long, longer each time, up to the second number.
REST_S, LONGEST_REST_S = 0.02, 2.0


def guarded(
    what: str, job: Callable[[], object], report: Callable[[Exception], object] | None = None
) -> bool:
    """Does a job. If it raises, that is logged with its cause and reported to whom it concerns;
    tells whether it went well. Never raises."""
    try:
        job()
    except Exception as error:
        log.exception("%s failed", what)
        if report is not None:
            with suppress(Exception):
                report(error)
        return False
    return True


class Worker:
    """A thread that does one turn after another until it is stopped.

    ``turn`` waits for something to do and does it; it returns when ``stopping`` is set. A turn that
    raises costs its own job only. ``wake`` ends the waiting.
    """

    def __init__(self, name: str, turn: Callable[[], None], wake: Callable[[], None]) -> None:
        self.name, self._turn, self._wake = name, turn, wake
        self.stopping = threading.Event()
        self._thread = threading.Thread(target=self._run, name=name, daemon=True)

    def start(self) -> None:
        """Begins to do jobs."""
        self._thread.start()

    @property
    def is_alive(self) -> bool:
        """Whether it still does jobs."""
        return self._thread.is_alive()

    def stop(self, timeout_s: float) -> None:
        """Ends the thread after the turn under way, waiting for that so long at most."""
        self.stopping.set()
        self._wake()
        if self._thread.is_alive():
            self._thread.join(timeout=timeout_s)

    def _run(self) -> None:
        rest = REST_S
        while not self.stopping.is_set():
            if guarded(f"a turn of the thread {self.name!r}", self._turn):
                rest = REST_S
            else:  # what fails at once must not keep a core busy
                self.stopping.wait(rest)
                rest = min(LONGEST_REST_S, rest * 2)
