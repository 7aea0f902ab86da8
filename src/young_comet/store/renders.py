"""Records of renders."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Select, select, update
from sqlalchemy.orm import defer

from ..core.model import Project
from ..edits import new_id
from ..edits.patch import plain
from ..errors import NotFoundError
from .database import Database
from .tables import RenderRow

ENDED = ("done", "failed", "cancelled", "interrupted")
INTERRUPTED = "The program was stopped while this was being rendered."


@dataclass(frozen=True)
class RenderRecord:
    """One render as lists show it."""

    id: str
    project_id: str
    project_name: str
    scene_id: str
    scene_name: str
    settings: dict[str, Any]
    status: str
    done: int
    total: int
    message: str
    file: str
    width: int
    height: int
    size_bytes: int
    seconds: float
    created_at: datetime
    name: str


class RenderStore:
    """The queue and its history in the database."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, project: Project, scene_id: str, settings: dict[str, Any], total: int) -> str:
        """Puts a render into the queue; the document is kept as it is now."""
        scene = next((s for s in project.scenes if s.id == scene_id), None)
        if scene is None:
            raise NotFoundError(f"there is no scene {scene_id!r}", field="scene")
        row = RenderRow(
            id=new_id(), project_id=project.id, project_name=project.name, scene_id=scene_id,
            scene_name=scene.name, document=json.dumps(plain(project)),
            settings=json.dumps(settings), status="waiting", total=total,
            created_at=datetime.now(UTC).replace(tzinfo=None),
        )  # fmt: skip
        with self._database.session() as session:
            session.add(row)
        return row.id

    def all(self) -> list[RenderRecord]:
        """All that are not hidden, the newest first."""
        with self._database.session() as session:
            rows = session.scalars(_shown()).all()
            return [_record(row) for row in rows]

    def done_of(self, project_id: str, scene_id: str) -> list[RenderRecord]:
        """The last renders of a scene that ended well, the newest first."""
        of_it = (RenderRow.project_id == project_id, RenderRow.scene_id == scene_id)
        with self._database.session() as session:
            wanted = _shown().where(*of_it, RenderRow.status == "done").limit(20)
            return [_record(row) for row in session.scalars(wanted).all()]

    def get(self, render_id: str) -> RenderRecord:
        """A render by its id; NotFoundError where there is none."""
        with self._database.session() as session:
            row = session.get(RenderRow, render_id)
            if row is None or row.hidden:
                raise NotFoundError(f"there is no render {render_id!r}", field="render")
            return _record(row)

    def document(self, render_id: str) -> str:
        """The document (JSON) as it was when the render was asked for."""
        with self._database.session() as session:
            row = session.get(RenderRow, render_id)
            if row is None:
                raise NotFoundError(f"there is no render {render_id!r}", field="render")
            return row.document

    def next_waiting(self) -> str | None:
        """The render that waits longest, None where none does."""
        with self._database.session() as session:
            return session.scalar(
                select(RenderRow.id)
                .where(RenderRow.status == "waiting", RenderRow.hidden.is_(False))
                .order_by(RenderRow.created_at)
                .limit(1)
            )

    def change(self, render_id: str, **values: Any) -> None:
        """Sets fields of a render."""
        with self._database.session() as session:
            session.execute(update(RenderRow).where(RenderRow.id == render_id).values(**values))

    def put_back(self, render_id: str, settings: dict[str, Any] | None = None) -> bool:
        """Makes an ended render without a file wait again, as it was asked for or with other
        settings; False where it is no such render."""
        with self._database.session() as session:
            row = session.get(RenderRow, render_id)
            if row is None or row.hidden or row.status not in ENDED or row.file:
                return False
            row.status, row.message, row.done = "waiting", "", 0
            if settings is not None:
                row.settings = json.dumps(settings)
            return True

    def claim(self, render_id: str) -> bool:
        """Takes a waiting render to run it; False if it was cancelled meanwhile."""
        with self._database.session() as session:
            row = session.get(RenderRow, render_id)
            if row is None or row.status != "waiting":
                return False
            row.status = "running"
            return True

    def interrupt_running(self) -> None:
        """Renders that ran when the program ended: after a start nobody works on them. They can
        be asked for again."""
        with self._database.session() as session:
            session.execute(
                update(RenderRow)
                .where(RenderRow.status == "running")
                .values(status="interrupted", done=0, message=INTERRUPTED)
            )


def _shown() -> Select[RenderRow]:
    """All that are not hidden, the newest first, without their documents."""
    shown = select(RenderRow).where(RenderRow.hidden.is_(False))
    return shown.order_by(RenderRow.created_at.desc()).options(defer(RenderRow.document))


def _record(row: RenderRow) -> RenderRecord:
    return RenderRecord(
        row.id, row.project_id, row.project_name, row.scene_id, row.scene_name,
        json.loads(row.settings), row.status, row.done, row.total, row.message, row.file,
        row.width, row.height, row.size_bytes, row.seconds, row.created_at, row.name,
    )  # fmt: skip
