"""Projects: opened, edited, undone, kept."""

from __future__ import annotations

import json
import threading
from collections import deque
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import delete, select

from ..core.catalog import check_project
from ..core.model import Project, load_project
from ..edits import Edit, EditContext, apply_edit, draft, new_id, overlap, revert
from ..edits.patch import Patch
from ..errors import ConflictError, DocumentError, NotFoundError
from .database import Database
from .tables import EditRow, ProjectRow

# How many changes back an edit may have been made and still be rebased.
REMEMBERED_CHANGES = 500


@dataclass(frozen=True)
class ProjectSummary:
    """What a list of projects shows."""

    id: str
    name: str
    changed_at: datetime
    scene_count: int
    first_scene: str | None
    revision: int


@dataclass(frozen=True)
class ProjectState:
    """A project at one revision; ``position`` of ``steps`` history steps are in effect."""

    project: Project
    revision: int
    position: int
    steps: int
    undo_label: str | None
    redo_label: str | None


@dataclass(frozen=True)
class Change:
    """A change that happened: the patch from the revision before."""

    revision: int
    patch: Patch
    label: str
    state: ProjectState


@dataclass
class _Open:
    """A project in memory."""

    project: Project
    revision: int
    position: int
    labels: list[str]
    recent: deque[tuple[int, list[str]]] = field(
        default_factory=lambda: deque(maxlen=REMEMBERED_CHANGES)
    )

    def state(self) -> ProjectState:
        return ProjectState(
            self.project,
            self.revision,
            self.position,
            len(self.labels),
            self.labels[self.position - 1] if self.position else None,
            self.labels[self.position] if self.position < len(self.labels) else None,
        )


class Workspace:
    """All projects of a data folder. Safe to use from several threads."""

    def __init__(self, database: Database, context: EditContext) -> None:
        self._database = database
        self._context = context
        self._open: dict[str, _Open] = {}
        self._before: dict[str, tuple[int, Project]] = {}
        self._lock = threading.RLock()

    # Lists and life cycle

    def projects(self) -> list[ProjectSummary]:
        """All that are not deleted, the last changed first."""
        with self._database.session() as session:
            rows = session.scalars(
                select(ProjectRow)
                .where(ProjectRow.deleted_at.is_(None))
                .order_by(ProjectRow.changed_at.desc())
            ).all()
        summaries = []
        for row in rows:
            scenes = json.loads(row.document).get("scenes", [])
            first = scenes[0]["id"] if scenes else None
            summaries.append(
                ProjectSummary(row.id, row.name, row.changed_at, len(scenes), first, row.revision)
            )
        return summaries

    def create(self, project: Project) -> ProjectState:
        """Adds a project; ConflictError if its id is taken."""
        project = check_project(project)
        now = _now()
        with self._lock, self._database.session() as session:
            if session.get(ProjectRow, project.id) is not None:
                raise ConflictError(f"there is a project {project.id!r} already", field="project")
            session.add(
                ProjectRow(
                    id=project.id, name=project.name, document=_dump(project), revision=1,
                    position=0, created_at=now, changed_at=now,
                )
            )  # fmt: skip
        return self.state(project.id)

    def add(self, project: Project, spare_id: str) -> ProjectState:
        """Adds a project from elsewhere; under ``spare_id`` where its own id is taken."""
        try:
            return self.create(project)
        except ConflictError:
            return self.create(project.model_copy(update={"id": spare_id}))

    def duplicate(self, project_id: str) -> ProjectState:
        """A copy with a history of its own."""
        source = self.state(project_id).project
        copy = source.model_copy(update={"id": new_id(), "name": f"{source.name} copy"[:200]})
        return self.create(copy)

    def delete(self, project_id: str) -> None:
        """Puts a project aside; ``restore`` brings it back."""
        with self._lock:
            with self._database.session() as session:
                _row(session, project_id).deleted_at = _now()
            self._open.pop(project_id, None)

    def restore(self, project_id: str) -> None:
        with self._database.session() as session:
            row = session.get(ProjectRow, project_id)
            if row is None:
                raise NotFoundError(f"there is no project {project_id!r}", field="project")
            row.deleted_at = None

    def find(self, id_or_name: str) -> ProjectState:
        """A project by its id, or by its name where that is unique."""
        found = [p for p in self.projects() if id_or_name in (p.id, p.name)]
        exact = [p for p in found if p.id == id_or_name] or found
        if len(exact) > 1:
            ids = ", ".join(p.id for p in exact)
            raise DocumentError(f"several projects have this name: {ids}", field="project")
        if not exact:
            raise NotFoundError(f"there is no project {id_or_name!r}", field="project")
        return self.state(exact[0].id)

    # Reading and editing

    def state(self, project_id: str) -> ProjectState:
        with self._lock:
            return self._opened(project_id).state()

    def edit(self, project_id: str, edit: Edit, base_revision: int | None = None) -> Change:
        """Applies an edit and saves it.

        An edit made on an earlier revision is applied to the present state if nothing it
        touches has changed since; else ConflictError. After any error nothing has changed.
        """
        with self._lock:
            opened = self._opened(project_id)
            if base_revision is not None:
                self._check_base(opened, edit, base_revision)
            applied = apply_edit(opened.project, edit, self._context)
            number = opened.position + 1
            with self._database.session() as session:
                row = _row(session, project_id)
                session.execute(
                    delete(EditRow).where(
                        EditRow.project_id == project_id, EditRow.number >= number
                    )
                )
                session.add(
                    EditRow(
                        project_id=project_id, number=number, label=applied.label[:400],
                        operation=edit.model_dump_json(), forward=json.dumps(applied.forward),
                        inverse=json.dumps(applied.inverse), touches=json.dumps(applied.touches),
                        made_at=_now(),
                    )
                )  # fmt: skip
                _save(row, applied.project, opened.revision + 1, number)
            opened.labels = [*opened.labels[: opened.position], applied.label]
            return self._moved(
                opened, applied.project, number, applied.forward, applied.label, applied.touches
            )

    def undo(self, project_id: str) -> Change:
        """Takes the last edit in effect back; DocumentError if there is none."""
        return self._step(project_id, -1)

    def redo(self, project_id: str) -> Change:
        """Does the next undone edit again; DocumentError if there is none."""
        return self._step(project_id, +1)

    def history(self, project_id: str) -> list[dict[str, Any]]:
        """Every step, the first first: number, label, time, and whether it is in effect."""
        with self._lock, self._database.session() as session:
            position = self._opened(project_id).position
            rows = session.scalars(
                select(EditRow).where(EditRow.project_id == project_id).order_by(EditRow.number)
            ).all()
            return [
                {
                    "number": row.number,
                    "label": row.label,
                    "made_at": row.made_at.isoformat() + "Z",
                    "in_effect": row.number <= position,
                }
                for row in rows
            ]

    def before_last(self, project_id: str) -> Project:
        """The project as it was before its last edit in effect; as it is where there is none."""
        with self._lock:
            opened = self._opened(project_id)
            if opened.position == 0:
                return opened.project
            kept = self._before.get(project_id)
            if kept is not None and kept[0] == opened.revision:
                return kept[1]
            with self._database.session() as session:
                step = session.get(EditRow, (project_id, opened.position))
                assert step is not None
                before = revert(opened.project, json.loads(step.inverse))
            self._before[project_id] = (opened.revision, before)
            return before

    def drafted(self, project_id: str, edits: list[Edit]) -> Project:
        """The project as some edits would make it; nothing is saved."""
        return draft(self.state(project_id).project, edits, self._context)

    def _step(self, project_id: str, direction: int) -> Change:
        with self._lock:
            opened = self._opened(project_id)
            number = opened.position + (1 if direction > 0 else 0)
            if not 1 <= number <= len(opened.labels):
                what = "redo" if direction > 0 else "undo"
                raise DocumentError(f"there is nothing to {what}")
            with self._database.session() as session:
                step = session.get(EditRow, (project_id, number))
                assert step is not None
                patch = json.loads(step.forward if direction > 0 else step.inverse)
                touches = json.loads(step.touches)
                project = revert(opened.project, patch)
                position = opened.position + direction
                _save(_row(session, project_id), project, opened.revision + 1, position)
            label = f"{'Redo' if direction > 0 else 'Undo'}: {step.label}"
            return self._moved(opened, project, position, patch, label, touches)

    def _moved(
        self,
        opened: _Open,
        project: Project,
        position: int,
        patch: Patch,
        label: str,
        touches: list[str],
    ) -> Change:
        opened.project, opened.position = project, position
        opened.revision += 1
        opened.recent.append((opened.revision, touches))
        return Change(opened.revision, patch, label, opened.state())

    def _check_base(self, opened: _Open, edit: Edit, base: int) -> None:
        if base > opened.revision:
            raise ConflictError(
                f"the edit was made on revision {base}, but the project is at {opened.revision}",
                field="revision",
            )
        missed = [(number, touched) for number, touched in opened.recent if number > base]
        if len(missed) < opened.revision - base:
            raise ConflictError(
                "the project has changed a lot since this page was loaded; reload it",
                field="revision",
            )
        mine = edit.touches()
        for _, touched in missed:
            if path := overlap(mine, touched):
                raise ConflictError(
                    f"{path} was changed elsewhere in the meantime; the latest state is shown, "
                    "try again",
                    field="revision",
                )

    def _opened(self, project_id: str) -> _Open:
        """The project in memory, read again where another process has changed it."""
        opened = self._open.get(project_id)
        with self._database.session() as session:
            revision = session.scalar(
                select(ProjectRow.revision).where(
                    ProjectRow.id == project_id, ProjectRow.deleted_at.is_(None)
                )
            )
            if revision is None:
                self._open.pop(project_id, None)
                raise NotFoundError(f"there is no project {project_id!r}", field="project")
            if opened is not None and opened.revision == revision:
                return opened
            row = _row(session, project_id)
            labels = session.scalars(
                select(EditRow.label)
                .where(EditRow.project_id == project_id)
                .order_by(EditRow.number)
            ).all()
            project = check_project(load_project(json.loads(row.document)))
            opened = _Open(project, row.revision, row.position, list(labels))
        self._open[project_id] = opened
        return opened


def _row(session: Any, project_id: str) -> ProjectRow:
    row = session.get(ProjectRow, project_id)
    if row is None or row.deleted_at is not None:
        raise NotFoundError(f"there is no project {project_id!r}", field="project")
    return row


def _save(row: ProjectRow, project: Project, revision: int, position: int) -> None:
    row.name, row.document = project.name, _dump(project)
    row.revision, row.position, row.changed_at = revision, position, _now()


def _dump(project: Project) -> str:
    return project.model_dump_json()


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)
