"""Foreign bytes read in a process of their own, with limits of memory and time.

A file may be made to exhaust or crash whatever reads it. The process that reads is warm and waits
for the next file; one that dies, takes too long or needs too much costs that file alone, and
another is started. Run as a program, this module is that process: it takes requests on its
standard input and answers on its standard output, as lengths and pickles. Only this program's own
data travels there.
"""

from __future__ import annotations

import contextlib
import os
import pickle
import resource
import select
import signal
import struct
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from typing import IO, Any

from ..children import end_with
from ..errors import DocumentError, MediaError, MediaTooLargeError, NewerSchemaError

MEMORY_MB = 1536
# How long drawing a vector picture may take, and reading a file: so much, and so much more for each
# MB that it has.
DRAW_S, READ_S, READ_S_PER_MB = 5.0, 5.0, 0.5
# A small file may hold an hour of sound.
LISTEN_S = 40.0
_LENGTH = struct.Struct(">Q")


class ForeignReader:
    """Asks the reading process. Safe to use from several threads: one request after another."""

    def __init__(self, memory_mb: int = MEMORY_MB) -> None:
        self._memory_mb = memory_mb
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Starts the process, so that the first file does not wait for it."""
        with self._lock:
            self._running()

    def ask(self, what: str, *arguments: Any, within_s: float = READ_S) -> Any:
        """The result of one of READERS. MediaError where the file cannot be read, or costs more
        than it may."""
        with self._lock:
            process = self._running()
            try:
                kind, value = self._answer(process, pickle.dumps((what, arguments)), within_s)
            except _Ended as ended:
                self._kill()
                raise MediaError(str(ended)) from None
            except BaseException:
                self._kill()  # an answer that nobody reads must not be taken for the next one
                raise
        if kind == "done":
            return value
        if kind == "document":
            raise _said(*value)
        raise {"large": MediaTooLargeError}.get(kind, MediaError)(value)

    def stop(self) -> None:
        """Ends the reading process, also in the middle of a file; who waits for that is told."""
        if self._lock.acquire(timeout=STOPPING_S):
            try:
                self._kill()
            finally:
                self._lock.release()
        elif (process := self._process) is not None:
            process.kill()

    def _running(self) -> subprocess.Popen[bytes]:
        if self._process is None or self._process.poll() is not None:
            environment = {**os.environ, "NUMBA_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
            self._process = subprocess.Popen(
                [sys.executable, "-m", __name__, str(self._memory_mb), str(os.getpid())],
                stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
                env=environment, cwd="/",
            )  # fmt: skip
        return self._process

    def _answer(
        self, process: subprocess.Popen[bytes], request: bytes, within_s: float
    ) -> tuple[str, Any]:
        assert process.stdin is not None and process.stdout is not None
        # The process says when it is ready: its start does not count as reading.
        try:
            process.stdin.write(_LENGTH.pack(len(request)))
            process.stdin.write(request)
            process.stdin.flush()
        except OSError:
            raise _Ended("the file made its reader stop: it is damaged") from None
        until = time.monotonic() + within_s + STARTING_S
        size = _LENGTH.unpack(self._read(process.stdout, _LENGTH.size, until, within_s))[0]
        if size == 0:  # it has the request and begins
            until = time.monotonic() + within_s
            size = _LENGTH.unpack(self._read(process.stdout, _LENGTH.size, until, within_s))[0]
        answer = self._read(process.stdout, size, until + 10, within_s)
        return pickle.loads(answer)  # type: ignore[no-any-return]

    def _read(self, pipe: IO[bytes], count: int, until: float, within_s: float) -> bytes:
        parts: list[bytes] = []
        while count:
            left = until - time.monotonic()
            if left <= 0 or not select.select([pipe], [], [], left)[0]:
                raise _Ended(f"the file takes more than {within_s:g} s to read: it is too costly")
            part = os.read(pipe.fileno(), min(count, 1 << 20))
            if not part:
                raise _Ended(
                    "the file made its reader stop: it is damaged, or needs too much memory"
                )
            parts.append(part)
            count -= len(part)
        return b"".join(parts)

    def _kill(self) -> None:
        process, self._process = self._process, None
        if process is None:
            return
        process.kill()
        process.wait()
        for pipe in (process.stdin, process.stdout):
            with contextlib.suppress(OSError):
                if pipe is not None:
                    pipe.close()


def _said(kind: str, message: str, field: str) -> DocumentError:
    """An error of the document as it was raised in the reading process."""
    error = (NewerSchemaError if kind == NewerSchemaError.__name__ else DocumentError)(message)
    error.field = field
    return error


class _Ended(Exception):
    """The process gave no answer; says why."""


# Importing what reads files takes a while on a busy machine.
STARTING_S = 30.0
# An end waits so long for the file that is being read.
STOPPING_S = 0.5

_SHARED: dict[str, ForeignReader] = {}
_SHARED_LOCK = threading.Lock()


def reader(purpose: str) -> ForeignReader:
    """The reading process of this program for a purpose: uploads must not keep drawings
    waiting."""
    with _SHARED_LOCK:
        if purpose not in _SHARED:
            _SHARED[purpose] = ForeignReader()
        return _SHARED[purpose]


def stop_readers() -> None:
    """Ends this program's reading processes; the next file starts one again."""
    with _SHARED_LOCK:
        readers = list(_SHARED.values())
    for each in readers:
        each.stop()


def _main(memory_mb: int, program: int) -> None:
    """The reading process."""
    end_with(program)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    requests, answers = sys.stdin.buffer, os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)  # whatever a library prints must not be taken for an answer
    readers = _readers()
    limit = _used_bytes() + memory_mb * 2**20
    resource.setrlimit(resource.RLIMIT_AS, (limit, limit))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    while True:
        head = requests.read(_LENGTH.size)
        if len(head) < _LENGTH.size:
            return
        what, arguments = pickle.loads(requests.read(_LENGTH.unpack(head)[0]))
        answers.write(_LENGTH.pack(0))
        answers.flush()
        data = pickle.dumps(_done(readers[what], arguments))
        answers.write(_LENGTH.pack(len(data)))
        answers.write(data)
        answers.flush()


def _readers() -> dict[str, Callable[..., Any]]:
    """What can be asked for; loaded in the reading process only."""
    from . import archived
    from . import examine as reading

    return {
        "archive": archived.archived_project,
        "examine": reading.examine,
        "drawing": reading.drawing,
        "colours": reading.main_colours,
        "shapes": reading.as_shapes,
        "samples": reading.samples,
        "beats": reading.beats,
        "longer": reading.longer,
    }


def _done(function: Callable[..., Any], arguments: tuple[Any, ...]) -> tuple[str, Any]:
    try:
        return ("done", function(*arguments))
    except MediaTooLargeError as error:
        return ("large", str(error))
    except MediaError as error:
        return ("wrong", str(error))
    except DocumentError as error:
        return ("document", (type(error).__name__, str(error), error.field))
    except MemoryError:
        return ("large", "the file needs too much memory to read")
    except RecursionError:
        return ("wrong", "the file lies too deep within itself")
    except BaseException as error:  # libraries raise errors of many kinds, panics among them  # noqa: BLE001
        return ("wrong", f"the file cannot be read ({type(error).__name__}: {str(error)[:200]})")


def _used_bytes() -> int:
    with open("/proc/self/statm") as file:
        return int(file.read().split()[0]) * resource.getpagesize()


if __name__ == "__main__":
    _main(int(sys.argv[1]), int(sys.argv[2]))
