"""Edits, undo, redo, history; typed numbers and times."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends
from pydantic import BaseModel, ConfigDict, Field

from ...core.catalog.typed import parse_number
from ...core.timing import Rate, format_timecode, parse_time
from ...edits import parse_edit
from ..services import Services, edited, get_services

router = APIRouter(prefix="/api", tags=["edits"])
Served = Annotated[Services, Depends(get_services)]


class EditRequest(BaseModel):
    """``base_revision`` is the revision the edit was made on; null applies it to the latest."""

    model_config = ConfigDict(extra="forbid")
    edit: dict[str, Any]
    base_revision: int | None = None


class TypedNumber(BaseModel):
    """A text from a number field, and what its units stand for."""

    model_config = ConfigDict(extra="forbid")
    kind: Literal["number"] = "number"
    text: Annotated[str, Field(max_length=400)]
    units: dict[str, float] = {}


class TypedTime(BaseModel):
    """A text from a time field; ``now_s`` is what a signed amount counts from."""

    model_config = ConfigDict(extra="forbid")
    kind: Literal["time"]
    text: Annotated[str, Field(max_length=400)]
    rate_num: int
    rate_den: int = 1
    now_s: Annotated[float, Field(allow_inf_nan=False)] = 0.0


@router.post("/projects/{project_id}/edits")
def apply(project_id: str, request: EditRequest, services: Served) -> dict[str, Any]:
    """Applies one edit and tells all open pages; the answer is what they are told."""
    edit = parse_edit(request.edit)
    return edited(services.workspace.edit(project_id, edit, request.base_revision)).data()


@router.post("/projects/{project_id}/undo")
def undo(project_id: str, services: Served) -> dict[str, Any]:
    """Takes the last edit in effect back."""
    return edited(services.workspace.undo(project_id)).data()


@router.post("/projects/{project_id}/redo")
def redo(project_id: str, services: Served) -> dict[str, Any]:
    """Does the next undone edit again."""
    return edited(services.workspace.redo(project_id)).data()


@router.get("/projects/{project_id}/steps")
def next_steps(project_id: str, services: Served) -> dict[str, Any]:
    """What undo and redo would do next, and the scenes that it is about."""
    return services.workspace.next_steps(project_id)


@router.get("/projects/{project_id}/history")
def history(project_id: str, services: Served) -> list[dict[str, Any]]:
    """Every step of the project's history, the first first."""
    return services.workspace.history(project_id)


@router.post("/parse")
def parse(typed: TypedTime | TypedNumber) -> dict[str, Any]:
    """The number or time meant by a typed text."""
    if isinstance(typed, TypedTime):
        rate = Rate(typed.rate_num, typed.rate_den)
        value = parse_time(typed.text, rate, now_s=typed.now_s)
        return {"value": value, "timecode": format_timecode(value, rate)}
    return {"value": parse_number(typed.text, typed.units)}
