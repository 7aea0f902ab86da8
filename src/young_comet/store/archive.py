"""A project as one zip: ``project.json`` and ``assets/HASH.ext``."""

from __future__ import annotations

import json
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from ..core.model import Asset, Project
from ..edits.patch import plain
from ..errors import MediaError
from ..reading import reader
from ..reading.archived import entries_of, opened_archive, read_entry
from .assets import MEDIA_TYPES, AssetStore

# How long reading and checking the document of an archive may take.
ARCHIVE_S = 60.0


def asset_file(asset: Asset) -> str:
    """The name of an asset's file within an archive."""
    return f"assets/{asset.hash}.{MEDIA_TYPES.get(asset.media_type, 'bin')}"


def write_archive(
    project: Project, assets: AssetStore, target: Path | IO[bytes], raw: str | None = None
) -> None:
    """Writes the zip; the same project gives the same bytes. ``raw`` is a document to write in
    place of the project's own: that of one which is unsound."""
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        document = json.dumps(plain(project), indent=1, ensure_ascii=False)
        archive.writestr(_entry("project.json"), document if raw is None else raw)
        for name, asset in sorted({asset_file(a): a for a in project.assets}.items()):
            if assets.has(asset.hash):  # one that is missing is missing on the other side too
                archive.writestr(_entry(name), assets.read_asset(asset.hash))


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))
    entry.compress_type = zipfile.ZIP_DEFLATED
    return entry


@dataclass(frozen=True)
class Imported:
    """What an archive held: the project, and in sentences what of it had to be mended or is
    missing."""

    project: Project
    notes: tuple[str, ...]


def read_archive(source: Path, assets: AssetStore, *, mend: bool = False) -> Imported:
    """Checks a zip, stores its assets and returns its project.

    The document is read and checked in the reading process, and nothing is written before it and
    all names are found good. With ``mend`` a document that fails its checks is mended. Assets
    whose files are missing or damaged stay missing and are told. Raises DocumentError or
    MediaError, naming what is wrong.
    """
    project, notes = reader("reading").ask(
        "archive", str(source.resolve()), mend, within_s=ARCHIVE_S
    )
    with opened_archive(str(source)) as archive:
        entries = entries_of(archive)
        missing = [
            f"the file of asset {asset.name!r} {why}"
            for asset in project.assets
            if (why := _stored(asset, archive, entries.get(asset_file(asset)), assets))
        ]
    return Imported(project, (*notes, *missing))


def _stored(
    asset: Asset, archive: zipfile.ZipFile, info: zipfile.ZipInfo | None, assets: AssetStore
) -> str:
    """Stores the file of an asset; tells why it is missing, "" if it is not. A file that is
    whole but is not what the project says is refused."""
    if info is None:
        return "is missing in the archive"
    content = read_entry(archive, info, assets.max_bytes)
    stored = assets.ingest(asset.name, content, asset.id)
    facts = ("hash", "kind", "width", "height", "frame_count")
    if any(getattr(stored, fact) != getattr(asset, fact) for fact in facts):
        raise MediaError(f"the file of asset {asset.name!r} is not what the project says")
    return ""
