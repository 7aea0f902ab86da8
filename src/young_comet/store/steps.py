"""The steps of a project's history as they are told: what they are called, and which scenes they
are about."""

from __future__ import annotations

import json
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.model import Project
from ..edits.apply import sound
from ..edits.patched import patched
from ..errors import DocumentError, NotFoundError
from .tables import EditRow


def all_steps(session: Session, project_id: str, position: int) -> list[dict[str, Any]]:
    """Every step, the first first; those up to ``position`` are in effect."""
    rows = session.scalars(
        select(EditRow).where(EditRow.project_id == project_id).order_by(EditRow.number)
    ).all()
    return [
        {
            **_told(row),
            "made_at": row.made_at.isoformat() + "Z",
            "in_effect": row.number <= position,
        }
        for row in rows
    ]


def one_step(session: Session, project_id: str, number: int) -> dict[str, Any] | None:
    """A step by its number; None where there is none."""
    row = session.get(EditRow, (project_id, number))
    return None if row is None else _told(row)


def project_at(
    session: Session, project_id: str, project: Project, position: int, number: int
) -> Project:
    """The project as it was (or would be again) when step ``number`` was the last in effect, 0 for
    its beginning, worked out from how it is at ``position``.

    NotFoundError where there is no such step; DocumentError where one between mended the project.
    """
    back = number < position
    first, last = (number + 1, position) if back else (position + 1, number)
    wanted = range(last, first - 1, -1) if back else range(first, last + 1)
    rows = {
        row.number: row
        for row in session.scalars(
            select(EditRow).where(
                EditRow.project_id == project_id, EditRow.number.between(first, last)
            )
        )
    }
    result = project
    for each in wanted:
        row = rows.get(each)
        if row is None:
            raise NotFoundError(f"the history has no step {each}", field="step")
        text = row.inverse if back else row.forward
        if not text:
            raise DocumentError(
                f"step {each} mended the project: what was before it cannot be opened", field="step"
            )
        result = patched(result, json.loads(text))
    return sound(project, result)


def _told(row: EditRow) -> dict[str, Any]:
    """Its number and label, and the ids of the scenes that it has touched (none: the project)."""
    paths = (path.split("/") for path in json.loads(row.touches))
    scenes = dict.fromkeys(p[1] for p in paths if p[0] == "scenes" and len(p) > 1)
    return {"number": row.number, "label": row.label, "scenes": list(scenes)}
