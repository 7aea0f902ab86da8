"""The steps of a project's history as they are told: what they are called, and which scenes they
are about."""

from __future__ import annotations

import json
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

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


def _told(row: EditRow) -> dict[str, Any]:
    """Its number and label, and the ids of the scenes that it has touched (none: the project)."""
    paths = (path.split("/") for path in json.loads(row.touches))
    scenes = dict.fromkeys(p[1] for p in paths if p[0] == "scenes" and len(p) > 1)
    return {"number": row.number, "label": row.label, "scenes": list(scenes)}
