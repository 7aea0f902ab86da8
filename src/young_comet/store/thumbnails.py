"""Small pictures of scenes, kept on disk so that they are there at once after a start."""

from __future__ import annotations

import hashlib
import os
import threading
from contextlib import suppress
from pathlib import Path

from ..errors import StorageError
from .assets import write_whole

LIMIT_BYTES = 200 * 2**20


class Thumbnails:
    """JPEGs below one folder, named by what they show; those not looked at for longest give way.

    What is kept may be lost at any time: it can be drawn again.
    """

    def __init__(self, folder: Path, limit_bytes: int = LIMIT_BYTES) -> None:
        self._folder, self._limit = folder, limit_bytes
        self._lock = threading.Lock()

    def _path(self, what: tuple[object, ...]) -> Path:
        name = hashlib.blake2b(repr(what).encode(), digest_size=16).hexdigest()
        return self._folder / name[:2] / f"{name}.jpg"

    def get(self, *what: object) -> bytes | None:
        """The picture of that name, None where there is none."""
        path = self._path(what)
        with suppress(OSError):
            data = path.read_bytes()
            os.utime(path)
            return data
        return None

    def put(self, data: bytes, *what: object) -> None:
        """Keeps a picture if there is room."""
        with suppress(StorageError):
            write_whole(self._path(what), data)

    def prune(self) -> None:
        """Removes the pictures that were looked at least recently, down to the limit."""
        with self._lock:
            found = []
            for path in self._folder.glob("*/*.jpg"):
                with suppress(OSError):
                    stat = path.stat()
                    found.append((stat.st_mtime, stat.st_size, path))
            size = sum(each[1] for each in found)
            for _, bytes_, path in sorted(found, key=lambda each: each[0]):
                if size <= self._limit:
                    return
                with suppress(OSError):
                    path.unlink()
                size -= bytes_
