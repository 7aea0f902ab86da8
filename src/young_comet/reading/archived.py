"""The document in a project archive: a zip with ``project.json`` and ``assets/HASH.ext``."""

from __future__ import annotations

import json
import re
import zipfile
import zlib
from typing import IO

from ..core.catalog import check_project
from ..core.catalog.mending import mend_project
from ..core.model import Project, load_project
from ..errors import DocumentError, MediaError, MediaTooLargeError, NewerSchemaError

MAX_DOCUMENT_BYTES = 64 * 2**20
MAX_ARCHIVE_BYTES = 4 * 2**30
MAX_ENTRIES = 5_000
_ASSET_NAME = re.compile(r"assets/([0-9a-f]{64})\.([a-z0-9]{2,5})")


def archived_project(path: str, mend: bool) -> tuple[Project, tuple[str, ...]]:
    """The checked project of an archive, and what mending it has changed (nothing unless
    ``mend``). Raises DocumentError or MediaError, naming what is wrong."""
    with opened_archive(path) as archive:
        entries = entries_of(archive)
        text = read_entry(archive, entries["project.json"], MAX_DOCUMENT_BYTES)
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise DocumentError(f"project.json is no JSON ({error})") from error
    try:
        return check_project(load_project(data)), ()
    except NewerSchemaError:
        raise
    except DocumentError:
        if not mend:
            raise
    project, changes = mend_project(data)
    return project, tuple(changes)


def opened_archive(source: str | IO[bytes]) -> zipfile.ZipFile:
    """A zip archive, opened; MediaError where it is none."""
    try:
        return zipfile.ZipFile(source)
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError) as error:
        raise MediaError("this is no project archive (a zip with project.json)") from error


def entries_of(archive: zipfile.ZipFile) -> dict[str, zipfile.ZipInfo]:
    """The files in an archive by name; refuses names and sizes that no project has."""
    listed = archive.infolist()
    if len(listed) > MAX_ENTRIES:
        raise MediaTooLargeError(f"an archive may hold at most {MAX_ENTRIES:,} files")
    entries = {info.filename: info for info in listed if not info.is_dir()}
    for name in entries:
        if name != "project.json" and not _ASSET_NAME.fullmatch(name):
            raise MediaError(f"unexpected file in the archive: {name[:80]!r}")
    if "project.json" not in entries:
        raise MediaError("the archive has no project.json")
    if sum(info.file_size for info in entries.values()) > MAX_ARCHIVE_BYTES:
        raise MediaTooLargeError("the archive unpacks to more than 4 GB")
    return entries


def read_entry(archive: zipfile.ZipFile, info: zipfile.ZipInfo, limit: int) -> bytes:
    """A file of an archive; MediaTooLargeError as soon as it passes the limit."""
    if info.file_size > limit:
        raise MediaTooLargeError(f"{info.filename} is larger than {limit // 2**20} MB")
    try:
        with archive.open(info) as file:
            data = file.read(limit + 1)
    except (
        zipfile.BadZipFile, zlib.error, OSError, EOFError, ValueError, RuntimeError,
        NotImplementedError,
    ) as error:  # fmt: skip
        raise MediaError(f"{info.filename} in the archive is damaged ({error})") from error
    if len(data) > limit:  # the size in the directory was a lie
        raise MediaTooLargeError(f"{info.filename} is larger than {limit // 2**20} MB")
    return data
