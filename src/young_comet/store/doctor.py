"""What is wrong with a data folder, in sentences. Looks only: nothing is changed."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from sqlalchemy import select

from ..config import Config
from ..errors import HeldError, StorageError, YoungCometError
from .datafolder import DataFolder
from .holding import Holding, holder_of
from .saved import read_project
from .tables import ProjectRow

# Less room than this soon becomes trouble.
LITTLE_ROOM = 500 * 2**20


@dataclass(frozen=True)
class Finding:
    """``level`` is well, note or wrong; ``words`` a sentence with what to do."""

    level: Literal["well", "note", "wrong"]
    words: str


def examined(config: Config) -> Iterator[Finding]:
    """The findings about a data folder, one after another."""
    path = config.data
    if not path.exists():
        yield Finding("note", f"{path} does not exist yet: the program makes it when it starts")
        return
    if not path.is_dir():
        yield Finding("wrong", f"{path} is a file where a folder is expected")
        return
    yield from _place(path)
    if not (path / "young-comet.sqlite").exists():
        yield Finding("note", "there is no database yet: no project was made here")
        return
    try:
        folder = DataFolder(config, writing=False, tidy=False)
    except StorageError as error:
        yield Finding("wrong", str(error))
        return
    try:
        yield from _database(folder)
        yield from _projects(folder)
        yield from _renders(folder)
        left = folder.leftovers()
        if left:
            yield Finding(
                "note", f"{len(left)} half-made files are left over; the next start removes them"
            )
    finally:
        folder.close()


def _place(path: Path) -> Iterator[Finding]:
    if not os.access(path, os.R_OK | os.W_OK | os.X_OK):
        yield Finding("wrong", f"{path} cannot be written by this user: give it write access")
    else:
        try:
            Holding(path, "doctor").close()
            yield Finding("well", f"{path} can be written, and no program holds it")
        except HeldError:
            yield Finding("note", f"{path} is in use by {holder_of(path)}")
        except StorageError as error:
            yield Finding("wrong", str(error))
    room = shutil.disk_usage(path).free
    if room < LITTLE_ROOM:
        yield Finding("wrong", f"only {room / 2**20:.0f} MB are free on its disk: make room")


def _database(folder: DataFolder) -> Iterator[Finding]:
    try:
        complaints = folder.database.complaints()
    except StorageError as error:
        yield Finding("wrong", str(error))
        return
    for each in complaints:
        yield Finding("wrong", f"the database is damaged: {each}")
    if not complaints:
        yield Finding("well", "the database is whole")


def _projects(folder: DataFolder) -> Iterator[Finding]:
    with folder.database.session() as session:
        rows = session.execute(
            select(ProjectRow.id, ProjectRow.name).where(ProjectRow.deleted_at.is_(None))
        ).all()
    sound = 0
    seen: dict[str, str] = {}
    for row in rows:
        try:
            with folder.database.session() as session:
                found = session.get(ProjectRow, row.id)
                state = read_project(session, found).state if found is not None else None
        except YoungCometError as error:
            yield Finding("wrong", f"project {row.name!r} cannot be read: {error}")
            continue
        if state is None:
            continue
        if state.unsound is not None:
            yield Finding(
                "wrong",
                f"project {row.name!r} fails its checks ({state.unsound.message}): open it and "
                "mend it",
            )
        else:
            sound += 1
        for asset in state.project.assets:
            if asset.hash not in seen:
                seen[asset.hash] = folder.assets.trouble(asset) or (
                    "its file holds other bytes" if folder.assets.damaged(asset.hash) else ""
                )
            if seen[asset.hash]:
                yield Finding(
                    "wrong",
                    f"project {row.name!r}, asset {asset.name!r}: {seen[asset.hash]}; open the "
                    "project and find it again",
                )
    yield Finding("well", f"{sound} of {len(rows)} projects are sound, with {len(seen)} files")


def _renders(folder: DataFolder) -> Iterator[Finding]:
    for record in folder.renders.all():
        if record.file and not (folder.renders_dir / record.file).is_file():
            yield Finding(
                "note",
                f"the file of a render of {record.scene_name!r} is gone: render it again",
            )
