"""What a saved project is, and reading one: a checkpoint and the journal on top of it."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import jsonpatch
from sqlalchemy import select

from ..core.catalog import check_project
from ..core.catalog.mending import mend_project
from ..core.catalog.unread import place_in_words
from ..core.model import Project, load_project
from ..edits.patch import Patch
from ..edits.patched import patched
from ..errors import DocumentError, NewerSchemaError
from .tables import EditRow, JournalRow, ProjectRow


@dataclass(frozen=True)
class ProjectSummary:
    """What a list of projects shows."""

    id: str
    name: str
    changed_at: datetime
    scene_count: int
    first_scene: str | None
    revision: int
    tags: tuple[str, ...]


def summaries(session: Any) -> list[ProjectSummary]:
    """What a list shows of all projects that are not deleted, the last changed first."""
    shown = (
        ProjectRow.id, ProjectRow.name, ProjectRow.changed_at, ProjectRow.scene_count,
        ProjectRow.first_scene, ProjectRow.revision, ProjectRow.tags,
    )  # fmt: skip
    rows = session.execute(
        select(*shown).where(ProjectRow.deleted_at.is_(None)).order_by(ProjectRow.changed_at.desc())
    ).all()
    return [
        ProjectSummary(**{**row._asdict(), "tags": tuple(json.loads(row.tags))}) for row in rows
    ]


@dataclass(frozen=True)
class Unsound:
    """What is wrong with a saved document, and what mending it changes."""

    message: str
    field: str
    changes: tuple[str, ...]


@dataclass(frozen=True)
class ProjectState:
    """A project at one revision; ``position`` of ``steps`` history steps are in effect.

    One that is ``unsound`` on disk is shown as it would be mended and cannot be edited until it
    is.
    """

    project: Project
    revision: int
    position: int
    steps: int
    undo_label: str | None
    redo_label: str | None
    unsound: Unsound | None = None


@dataclass(frozen=True)
class Change:
    """A change that happened: the patch from the revision before."""

    revision: int
    patch: Patch
    label: str
    state: ProjectState


@dataclass(frozen=True)
class SavedProject:
    """A project as it was read: its state, the labels of its history, its journal's patches."""

    state: ProjectState
    labels: list[str]
    journal: list[str]


def read_project(session: Any, row: ProjectRow) -> SavedProject:
    """A saved project. One that fails its checks comes as it would be mended, and says so."""
    labels = list(
        session.scalars(
            select(EditRow.label).where(EditRow.project_id == row.id).order_by(EditRow.number)
        )
    )
    journal = journal_of(session, row)
    unsound = None
    try:
        project = load_project(json.loads(row.document))
        for patch in journal:
            project = patched(project, json.loads(patch))
        project = check_project(project)
    except NewerSchemaError:
        raise
    except (DocumentError, ValueError, RecursionError) as error:
        project, unsound = _mended(replayed(session, row), error, row.id, row.name)
    state = state_of(project, row.revision, row.position, labels, unsound)
    return SavedProject(state, labels, journal)


def state_of(
    project: Project,
    revision: int,
    position: int,
    labels: list[str],
    unsound: Unsound | None = None,
) -> ProjectState:
    """A project's state: what it is called, and what can be undone and redone."""
    return ProjectState(
        project,
        revision,
        position,
        len(labels),
        labels[position - 1] if 0 < position <= len(labels) else None,
        labels[position] if position < len(labels) else None,
        unsound,
    )


def journal_of(session: Any, row: ProjectRow) -> list[str]:
    """The patches since the checkpoint, the first first."""
    return list(
        session.scalars(
            select(JournalRow.patch)
            .where(JournalRow.project_id == row.id, JournalRow.revision > row.checkpoint)
            .order_by(JournalRow.revision)
        )
    )


def replayed(session: Any, row: ProjectRow) -> Any:
    """The saved document as plain data, whether it is sound or not: as far as the journal can be
    followed."""
    try:
        data = json.loads(row.document)
    except (ValueError, RecursionError):
        return {}
    for patch in journal_of(session, row):
        try:
            data = jsonpatch.apply_patch(data, json.loads(patch), in_place=True)
        except (ValueError, TypeError, LookupError, jsonpatch.JsonPatchException,
                jsonpatch.JsonPointerException):  # fmt: skip
            break
    return data


def _mended(data: Any, error: Exception, id: str, name: str) -> tuple[Project, Unsound]:
    project, changes = mend_project(data, id, name)
    field = getattr(error, "field", "")
    place = place_in_words(data, field) if field else ""
    words = str(error).removeprefix(f"{field}: ")
    return project, Unsound(f"{place}: {words}" if place else words, field, tuple(changes))


def shown_in_lists(project: Project) -> dict[str, Any]:
    """What lists of projects show."""
    first = project.scenes[0].id if project.scenes else None
    return {
        "name": project.name,
        "scene_count": len(project.scenes),
        "first_scene": first,
        "tags": json.dumps(project.tags, ensure_ascii=False),
    }
