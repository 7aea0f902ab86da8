"""What the disk and the database say when something is wrong, as sentences with what to do."""

from __future__ import annotations

import errno
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sqlalchemy.exc import DBAPIError

from ..errors import DamagedError, StorageError, StorageFullError

FULL = "the disk is full: make room and try again; nothing that was saved before is lost"


def storage_error(error: OSError, place: Path | str = "") -> StorageError:
    """An error of the file system in our words."""
    where = str(place or error.filename or "the data folder")
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return StorageFullError(FULL)
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return StorageError(
            f"{where} cannot be written: it is read-only, or belongs to another user; give this "
            "user write access, or choose another folder with --data"
        )
    if error.errno in (errno.ENOTDIR, errno.EEXIST):
        return StorageError(f"{where} is a file where a folder is expected")
    if error.errno == errno.EMFILE:
        return StorageError("too many files are open; close other programs and try again")
    return StorageError(f"{where}: {error.strerror or error}")


def database_error(error: DBAPIError | sqlite3.Error) -> StorageError:
    """An error of the database in our words."""
    cause = error.orig if isinstance(error, DBAPIError) else error
    text = str(cause)
    if "full" in text:
        return StorageFullError(FULL)
    if "locked" in text or "busy" in text:
        return StorageError(
            "the database is in use by another program; close what else works with the data "
            "folder and try again"
        )
    if "readonly" in text or "read-only" in text:
        return StorageError(
            "the database cannot be written: the data folder is read-only, or belongs to another "
            "user; give this user write access, or choose another folder with --data"
        )
    if any(word in text for word in ("malformed", "not a database", "corrupt", "no such")):
        return DamagedError(
            f"the database young-comet.sqlite is damaged ({text}); restore a copy of the data "
            "folder, or choose another folder with --data; `young-comet doctor` tells more"
        )
    if "unable to open" in text or "disk I/O" in text:
        return StorageError(
            f"the database cannot be opened ({text}); is the disk full, or the folder read-only?"
        )
    return StorageError(f"the database answers: {text}")


@contextmanager
def told(place: Path | str = "") -> Iterator[None]:
    """Whatever the disk or the database raises within comes out as a StorageError."""
    try:
        yield
    except OSError as error:
        raise storage_error(error, place) from error
    except (DBAPIError, sqlite3.Error) as error:
        raise database_error(error) from error
