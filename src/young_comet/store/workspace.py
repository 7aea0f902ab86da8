"""Projects: opened, edited, undone, kept."""

from __future__ import annotations

import json
import queue
import threading
import time
from collections import OrderedDict, deque
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import delete, update

from ..core.model import Project
from ..edits import Edit, EditContext, apply_edit, draft, new_id, overlap, revert, sound
from ..edits.patch import Patch
from ..edits.scene_edits import copy_name
from ..errors import ConflictError, DocumentError, NotFoundError
from .database import Database
from .saved import (
    Change,
    ProjectState,
    ProjectSummary,
    journal_of,
    read_project,
    replayed,
    shown_in_lists,
    state_of,
    summaries,
)
from .steps import all_steps, one_step, project_at
from .tables import EditRow, JournalRow, ProjectRow

# How many changes back an edit may have been made and still be rebased.
REMEMBERED_CHANGES = 500
# A checkpoint is written once the journal holds so many patches, or so many characters.
JOURNAL_STEPS, JOURNAL_CHARACTERS = 100, 400_000
# Projects that nobody has asked for a while are closed, and so are more than so many.
CLOSED_AFTER_S, MOST_OPEN = 300.0, 12


class _Open:
    """A project in memory. ``state`` is replaced as a whole; ``editing`` is held while an edit is
    computed and saved, so that edits of one project follow one another."""

    def __init__(self, state: ProjectState, labels: list[str]) -> None:
        self.state, self.labels = state, labels
        self.editing = threading.RLock()
        self.recent: deque[tuple[int, list[str]]] = deque(maxlen=REMEMBERED_CHANGES)
        self.before: tuple[int, Project] | None = None
        self.journal_steps = self.journal_characters = 0
        self.asked = time.monotonic()

    @property
    def wants_checkpoint(self) -> bool:
        return self.journal_steps >= JOURNAL_STEPS or self.journal_characters >= JOURNAL_CHARACTERS


Listener = Callable[[str, Change], None]


class Workspace:
    """All projects of a data folder. Safe to use from several threads.

    An edit is computed and saved under its project's own lock: other projects, and whoever only
    reads, go on meanwhile. ``contexts`` makes what operations ask about the picture, one for every
    operation under way.
    """

    def __init__(self, database: Database, contexts: Callable[[], EditContext]) -> None:
        self._database = database
        self._contexts: queue.SimpleQueue[EditContext] = queue.SimpleQueue()
        self._make_context = contexts
        self._open: OrderedDict[str, _Open] = OrderedDict()
        self._lock = threading.RLock()
        self._listeners: list[Listener] = []

    def listen(self, listener: Listener) -> None:
        """``listener`` hears of every change, in the order of the revisions."""
        self._listeners.append(listener)

    @contextmanager
    def _context(self) -> Iterator[EditContext]:
        try:
            context = self._contexts.get_nowait()
        except queue.Empty:
            context = self._make_context()
        try:
            yield context
        finally:
            self._contexts.put(context)

    # Lists and life cycle

    def projects(self) -> list[ProjectSummary]:
        """All that are not deleted, the last changed first."""
        with self._database.session() as session:
            return summaries(session)

    def create(self, project: Project) -> ProjectState:
        """Adds a project; ConflictError if its id is taken."""
        project = sound(None, project)
        document, now = _dump(project), _now()
        with self._database.session() as session:
            if session.get(ProjectRow, project.id) is not None:
                raise ConflictError(f"there is a project {project.id!r} already", field="project")
            session.add(
                ProjectRow(
                    id=project.id, document=document, checkpoint=1, revision=1, position=0,
                    created_at=now, changed_at=now, **shown_in_lists(project),
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
        copy = source.model_copy(update={"id": new_id(), "name": copy_name(source.name)})
        return self.create(copy)

    def delete(self, project_id: str) -> None:
        """Puts a project aside; ``restore`` brings it back."""
        with self._database.session() as session:
            _row(session, project_id).deleted_at = _now()
        with self._lock:
            self._open.pop(project_id, None)

    def restore(self, project_id: str) -> None:
        """A deleted project comes back."""
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
        """A project's document, revision and steps."""
        return self._opened(project_id).state

    def edit(self, project_id: str, edit: Edit, base_revision: int | None = None) -> Change:
        """Applies an edit and saves it.

        An edit made on an earlier revision is applied to the present state if nothing it
        touches has changed since; else ConflictError. After any error nothing has changed.
        """
        opened = self._opened(project_id)
        with opened.editing:
            state = self._editable(opened)
            if base_revision is not None:
                self._check_base(opened, edit, base_revision)
            with self._context() as context:
                applied = apply_edit(state.project, edit, context)
            number = state.position + 1
            with self._database.session() as session:
                self._write(session, opened, applied.project, number, json.dumps(applied.forward))
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
            opened.labels = [*opened.labels[: state.position], applied.label[:400]]
            return self._moved(
                opened, applied.project, number, applied.forward, applied.label, applied.touches
            )

    def undo(self, project_id: str) -> Change:
        """Takes the last edit in effect back; DocumentError if there is none."""
        return self._step(project_id, -1)

    def redo(self, project_id: str) -> Change:
        """Does the next undone edit again; DocumentError if there is none."""
        return self._step(project_id, +1)

    def mend(self, project_id: str) -> ProjectState:
        """Saves a project that fails its checks as it was shown, mended. What was saved before
        stays in the database as the step that cannot be taken back."""
        opened = self._opened(project_id)
        with opened.editing:
            state, unsound = opened.state, opened.state.unsound
            if unsound is None:
                raise DocumentError("there is nothing to mend in this project", field="project")
            number = state.position + 1
            label = "Mended: " + "; ".join(unsound.changes or ("its form",))
            with self._database.session() as session:
                row = _row(session, project_id)
                old = {"document": row.document, "journal": journal_of(session, row)}
                row.document, row.checkpoint = _dump(state.project), state.revision + 1
                row.revision, row.position = state.revision + 1, number
                row.changed_at = _now()
                for name, value in shown_in_lists(state.project).items():
                    setattr(row, name, value)
                session.execute(delete(JournalRow).where(JournalRow.project_id == project_id))
                session.execute(
                    delete(EditRow).where(
                        EditRow.project_id == project_id, EditRow.number >= number
                    )
                )
                session.add(
                    EditRow(
                        project_id=project_id, number=number, label=label[:400],
                        operation=json.dumps({"kind": "mended", **old}), forward="[]",
                        inverse="", touches='["scenes"]', made_at=_now(),
                    )
                )  # fmt: skip
        with self._lock:
            self._open.pop(project_id, None)
        return self.state(project_id)

    def history(self, project_id: str) -> list[dict[str, Any]]:
        """Every step, the first first: number, label, time, the scenes that it is about (none: the
        project), and whether it is in effect."""
        position = self._opened(project_id).state.position
        with self._database.session() as session:
            return all_steps(session, project_id, position)

    def next_steps(self, project_id: str) -> dict[str, dict[str, Any] | None]:
        """What would be taken back next ("undo"), and done again ("redo"): number, label, and the
        scenes that it is about; None where there is nothing."""
        state = self._opened(project_id).state
        with self._database.session() as session:
            return {
                "undo": one_step(session, project_id, state.position) if state.undo_label else None,
                "redo": (
                    one_step(session, project_id, state.position + 1) if state.redo_label else None
                ),
            }

    def before_last(self, project_id: str) -> Project:
        """The project as it was before its last edit in effect; as it is where there is none."""
        opened = self._opened(project_id)
        state = opened.state
        if state.position == 0 or state.unsound is not None:
            return state.project
        kept = opened.before
        if kept is not None and kept[0] == state.revision:
            return kept[1]
        try:
            before = self.at_step(project_id, state.position - 1)
        except (NotFoundError, DocumentError):
            return state.project
        opened.before = (state.revision, before)
        return before

    def at_step(self, project_id: str, number: int) -> Project:
        """The project as it was, or would be again, with step ``number`` as the last in effect."""
        state = self._opened(project_id).state
        with self._database.session() as session:
            return project_at(session, project_id, state.project, state.position, number)

    def drafted(self, project_id: str, edits: list[Edit]) -> Project:
        """The project as some edits would make it; nothing is saved."""
        with self._context() as context:
            return draft(self.state(project_id).project, edits, context)

    def raw_document(self, project_id: str) -> str:
        """The saved document as JSON, sound or not."""
        with self._database.session() as session:
            row = _row(session, project_id)
            # What cannot even be read as JSON goes out letter by letter.
            return json.dumps(data) if (data := replayed(session, row)) else row.document

    # What is kept in memory, and checkpoints

    def close_idle(self, after_s: float = CLOSED_AFTER_S) -> None:
        """Gives back the memory of projects that nobody has asked for a while, and writes
        checkpoints of those whose journal has grown long."""
        now = time.monotonic()
        with self._lock:
            waiting = list(self._open.items())
        for project_id, opened in waiting:
            idle = now - opened.asked > after_s
            if opened.wants_checkpoint or (idle and opened.journal_steps):
                self._checkpoint(project_id, opened)
        with self._lock:
            for project_id, opened in waiting:
                surplus = len(self._open) > MOST_OPEN
                if (now - opened.asked > after_s or surplus) and opened.editing.acquire(False):
                    self._open.pop(project_id, None)
                    opened.editing.release()

    def close(self) -> None:
        """Writes the checkpoints that are due and forgets all projects."""
        with self._lock:
            waiting = list(self._open.items())
            self._open.clear()
        for project_id, opened in waiting:
            if opened.journal_steps:
                self._checkpoint(project_id, opened)

    def _checkpoint(self, project_id: str, opened: _Open) -> None:
        """Writes a project's document whole and takes the patches that led to it off the
        journal."""
        state = opened.state
        if state.unsound is not None:
            return
        document = _dump(state.project)
        with self._database.session() as session:
            done = session.execute(
                update(ProjectRow)
                .where(ProjectRow.id == project_id, ProjectRow.checkpoint < state.revision,
                       ProjectRow.revision >= state.revision)
                .values(document=document, checkpoint=state.revision)
            )  # fmt: skip
            if done.rowcount == 1:  # type: ignore[attr-defined]
                session.execute(
                    delete(JournalRow).where(
                        JournalRow.project_id == project_id,
                        JournalRow.revision <= state.revision,
                    )
                )
        with opened.editing:
            opened.journal_steps = opened.state.revision - state.revision
            opened.journal_characters = 0

    def _editable(self, opened: _Open) -> ProjectState:
        state = opened.state
        if state.unsound is not None:
            raise DocumentError(
                f"this project can only be looked at until it is mended ({state.unsound.message})",
                field="project",
            )
        return state

    def _step(self, project_id: str, direction: int) -> Change:
        opened = self._opened(project_id)
        with opened.editing:
            state = self._editable(opened)
            number = state.position + (1 if direction > 0 else 0)
            if not 1 <= number <= len(opened.labels):
                what = "redo" if direction > 0 else "undo"
                raise DocumentError(f"there is nothing to {what}")
            with self._database.session() as session:
                step = session.get(EditRow, (project_id, number))
                if step is None:
                    raise DocumentError(f"step {number} of the history is missing")
                text = step.forward if direction > 0 else step.inverse
                if not text:
                    raise DocumentError(
                        "this step mended the project: what was before it cannot be opened"
                    )
                patch, touches = json.loads(text), json.loads(step.touches)
                project = revert(state.project, patch)
                position = state.position + direction
                self._write(session, opened, project, position, text)
            label = f"{'Redo' if direction > 0 else 'Undo'}: {step.label}"
            return self._moved(opened, project, position, patch, label, touches)

    def _write(
        self, session: Any, opened: _Open, project: Project, position: int, patch: str
    ) -> None:
        """Saves the next revision; ConflictError where the database is at another one than the
        memory: then somebody else has written, and the project is read again."""
        state = opened.state
        done = session.execute(
            update(ProjectRow)
            .where(
                ProjectRow.id == state.project.id,
                ProjectRow.revision == state.revision,
                ProjectRow.deleted_at.is_(None),
            )
            .values(
                revision=state.revision + 1, position=position, changed_at=_now(),
                **shown_in_lists(project),
            )
        )  # fmt: skip
        if done.rowcount != 1:
            with self._lock:
                self._open.pop(state.project.id, None)
            raise ConflictError(
                "the project was changed or removed by another program; try again on what is "
                "there now",
                field="revision",
            )
        session.add(
            JournalRow(project_id=state.project.id, revision=state.revision + 1, patch=patch)
        )
        opened.journal_steps += 1
        opened.journal_characters += len(patch)

    def _moved(
        self,
        opened: _Open,
        project: Project,
        position: int,
        patch: Patch,
        label: str,
        touches: list[str],
    ) -> Change:
        revision = opened.state.revision + 1
        opened.state = state_of(project, revision, position, opened.labels)
        opened.recent.append((revision, touches))
        change = Change(revision, patch, label, opened.state)
        for listener in self._listeners:
            listener(project.id, change)
        return change

    def _check_base(self, opened: _Open, edit: Edit, base: int) -> None:
        if base > opened.state.revision:
            raise ConflictError(
                f"the edit was made on revision {base}, but it is at {opened.state.revision} now",
                field="revision",
            )
        missed = [(number, touched) for number, touched in opened.recent if number > base]
        if len(missed) < opened.state.revision - base:
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
        with self._lock:
            opened = self._open.get(project_id)
            if opened is not None:
                opened.asked = time.monotonic()
                self._open.move_to_end(project_id)
                return opened
        # Read without the lock: a large project must not keep the others waiting.
        opened = self._read(project_id)
        with self._lock:
            return self._open.setdefault(project_id, opened)

    def _read(self, project_id: str) -> _Open:
        with self._database.session() as session:
            saved = read_project(session, _row(session, project_id))
        opened = _Open(saved.state, saved.labels)
        opened.journal_steps = len(saved.journal)
        opened.journal_characters = sum(map(len, saved.journal))
        return opened


def _row(session: Any, project_id: str) -> ProjectRow:
    row = session.get(ProjectRow, project_id)
    if row is None or row.deleted_at is not None:
        raise NotFoundError(f"there is no project {project_id!r}", field="project")
    result: ProjectRow = row
    return result


def _dump(project: Project) -> str:
    return project.model_dump_json()


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)
