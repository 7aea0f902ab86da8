"""One holder of a data folder: who may write into it."""

from __future__ import annotations

import fcntl
import json
import os
from pathlib import Path

from ..errors import HeldError
from .trouble import told

FILE = "holder.json"


class Holding:
    """A lock on a data folder (flock on a file in it), given back when it is closed or the
    process ends, however that happens. The file tells who holds it."""

    def __init__(self, folder: Path, what: str = "") -> None:
        """Raises HeldError, naming the holder, where somebody else has the folder."""
        self._path = folder / FILE
        with told(self._path):
            self._file = os.open(self._path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o644)
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            os.close(self._file)
            raise HeldError(
                f"the data folder {folder} is in use by {holder_of(folder)}; stop that first, or "
                "choose another folder with --data"
            ) from None
        self.describe(what)

    def describe(self, what: str) -> None:
        """Writes down who holds the folder and what for, e.g. an address."""
        data = json.dumps({"process": os.getpid(), "what": what}).encode()
        with told(self._path):
            os.ftruncate(self._file, 0)
            os.pwrite(self._file, data, 0)

    def close(self) -> None:
        """Gives the folder back."""
        os.close(self._file)


def holder_of(folder: Path) -> str:
    """Who holds a folder, in words; as far as its file tells."""
    try:
        found = json.loads((folder / FILE).read_text())
        what = f" ({found['what']})" if found.get("what") else ""
        return f"another Young Comet, process {int(found['process'])}{what}"
    except (OSError, ValueError, TypeError, LookupError, AttributeError):
        return "another program"
