"""Parts rendered by processes of this machine, each with one thread. A crash of one loses the
render, never the program."""

from __future__ import annotations

import multiprocessing as mp
import os
import queue
from collections.abc import Sequence
from typing import Any

import cv2

from ..children import end_with
from .engine import PartDone, PartFailed, RenderPart, Report
from .part import render_part


class LocalProcesses:
    """The engine of one machine: a process for each part."""

    def __init__(self, processes: int = 2) -> None:
        self._processes = processes

    @property
    def wide(self) -> int:
        """How many processes share a render."""
        return self._processes

    def submit(self, parts: Sequence[RenderPart]) -> LocalRun:
        """Begins a run in processes of this machine."""
        return LocalRun(parts)


class LocalRun:
    """The processes of one render."""

    def __init__(self, parts: Sequence[RenderPart]) -> None:
        context = mp.get_context("forkserver")
        # Loaded once, in a process without threads from which the workers are forked.
        context.set_forkserver_preload(["__main__", __name__, "young_comet.core.pixels.yuv"])
        self._reports: Any = context.Queue()
        self._ended: set[int] = set()
        self._workers = [
            context.Process(
                target=_work, args=(part, index, os.getpid(), self._reports), daemon=True
            )
            for index, part in enumerate(parts)
        ]
        try:
            for worker in self._workers:
                worker.start()
        except BaseException:
            self.close()
            raise

    def next_report(self, timeout_s: float) -> Report | None:
        """The next report, None when there was none in time."""
        for index, worker in enumerate(self._workers):
            lost = index not in self._ended and worker.exitcode not in (None, 0)
            if lost and self._reports.empty():
                self._ended.add(index)
                why = f"a render process ended unexpectedly (code {worker.exitcode})"
                return PartFailed(index, why)
        try:
            report: Report = self._reports.get(timeout=timeout_s)
        except (queue.Empty, EOFError, OSError):  # or a process died within a sentence
            return None
        if isinstance(report, PartDone | PartFailed):
            self._ended.add(report.part)
        return report

    def close(self) -> None:
        """Ends the processes."""
        for worker in self._workers:
            if worker.is_alive():
                worker.terminate()
            if worker.pid is not None:
                worker.join(timeout=1)
            if worker.is_alive():  # it is in the middle of something long
                worker.kill()
        self._reports.close()


def _work(part: RenderPart, index: int, program: int, reports: Any) -> None:
    """The body of a render process."""
    end_with(program)
    cv2.setNumThreads(1)
    render_part(part, index, reports.put)
