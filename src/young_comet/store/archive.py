"""A project as one zip: ``project.json`` and ``assets/HASH.ext``."""

from __future__ import annotations

import json
import re
import zipfile
from pathlib import Path
from typing import IO

from ..core.catalog import check_project
from ..core.model import Asset, Project, load_project
from ..edits.patch import plain
from ..errors import DocumentError, MediaError, MediaTooLargeError
from .assets import MEDIA_TYPES, AssetStore

MAX_DOCUMENT_BYTES = 64 * 2**20
MAX_ARCHIVE_BYTES = 4 * 2**30
_ASSET_NAME = re.compile(r"assets/([0-9a-f]{64})\.([a-z0-9]{2,5})")


def asset_file(asset: Asset) -> str:
    return f"assets/{asset.hash}.{MEDIA_TYPES.get(asset.media_type, 'bin')}"


def write_archive(project: Project, assets: AssetStore, target: Path | IO[bytes]) -> None:
    """Writes the zip; the same project gives the same bytes."""
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        document = json.dumps(plain(project), indent=1, ensure_ascii=False)
        archive.writestr(_entry("project.json"), document)
        for name, asset in sorted({asset_file(a): a for a in project.assets}.items()):
            archive.writestr(_entry(name), assets.read_asset(asset.hash))


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))
    entry.compress_type = zipfile.ZIP_DEFLATED
    return entry


def read_archive(source: Path | IO[bytes], assets: AssetStore) -> Project:
    """Checks a zip, stores its assets and returns its project.

    Nothing is written before the document and all names are found good. Raises DocumentError
    or MediaError, naming what is wrong.
    """
    try:
        archive = zipfile.ZipFile(source)
    except (zipfile.BadZipFile, OSError, ValueError) as error:
        raise MediaError("this is no project archive (a zip with project.json)") from error
    with archive:
        entries = {info.filename: info for info in archive.infolist() if not info.is_dir()}
        for name in entries:
            if name != "project.json" and not _ASSET_NAME.fullmatch(name):
                raise MediaError(f"unexpected file in the archive: {name[:80]!r}")
        if "project.json" not in entries:
            raise MediaError("the archive has no project.json")
        if sum(info.file_size for info in entries.values()) > MAX_ARCHIVE_BYTES:
            raise MediaTooLargeError("the archive unpacks to more than 4 GB")
        text = _read(archive, entries["project.json"], MAX_DOCUMENT_BYTES)
        try:
            data = json.loads(text)
        except (ValueError, RecursionError) as error:
            raise DocumentError(f"project.json is no JSON ({error})") from error
        project = check_project(load_project(data))
        for asset in project.assets:
            info = entries.get(asset_file(asset))
            if info is None:
                raise MediaError(f"the archive lacks the file of asset {asset.name!r}")
            content = _read(archive, info, assets.max_bytes)
            stored = assets.ingest(asset.name, content, asset.id)
            facts = ("hash", "kind", "width", "height", "frame_count")
            if any(getattr(stored, fact) != getattr(asset, fact) for fact in facts):
                raise MediaError(f"the file of asset {asset.name!r} is not what the project says")
        return project


def _read(archive: zipfile.ZipFile, info: zipfile.ZipInfo, limit: int) -> bytes:
    if info.file_size > limit:
        raise MediaTooLargeError(f"{info.filename} is larger than {limit // 2**20} MB")
    try:
        with archive.open(info) as file:
            data = file.read(limit + 1)
    except (zipfile.BadZipFile, OSError, RuntimeError, NotImplementedError) as error:
        raise MediaError(f"{info.filename} in the archive is damaged ({error})") from error
    if len(data) > limit:  # the size in the directory was a lie
        raise MediaTooLargeError(f"{info.filename} is larger than {limit // 2**20} MB")
    return data
