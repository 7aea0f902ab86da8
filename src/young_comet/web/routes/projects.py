"""Projects: list, make, copy, delete, bring back, export and import."""

from __future__ import annotations

import re
import tempfile
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Request
from fastapi.responses import StreamingResponse
from pydantic import BaseModel, ConfigDict
from starlette.concurrency import run_in_threadpool

from ...core.model import Project, document_schema
from ...core.model.values import Name
from ...demo import TOUR_SCENE, make_tour
from ...edits import new_id
from ...edits.patch import plain
from ...store import ProjectState, read_archive, write_archive
from ...store.trouble import told
from ..receive import receive_to_file
from ..services import Services, get_services

router = APIRouter(prefix="/api/projects", tags=["projects"])
Served = Annotated[Services, Depends(get_services)]


class NewProject(BaseModel):
    """What a new project is asked with."""

    model_config = ConfigDict(extra="forbid")
    name: Name


def state_json(state: ProjectState) -> dict[str, Any]:
    """A project's state as pages read it."""
    return {
        "project": plain(state.project),
        "revision": state.revision,
        "undo_label": state.undo_label,
        "redo_label": state.redo_label,
        "unsound": asdict(state.unsound) if state.unsound else None,
    }


@router.get("")
def list_projects(services: Served) -> list[dict[str, Any]]:
    """All projects, the last changed first."""
    return [
        {
            "id": p.id,
            "name": p.name,
            "changed_at": p.changed_at.isoformat() + "Z",
            "scene_count": p.scene_count,
            "first_scene": p.first_scene,
            "revision": p.revision,
            "tags": p.tags,
        }
        for p in services.workspace.projects()
    ]


@router.post("", status_code=201)
def create_project(new: NewProject, services: Served) -> dict[str, Any]:
    """An empty project."""
    return state_json(services.workspace.create(Project(id=new_id(), name=new.name)))


@router.get("/schema")
def project_schema() -> dict[str, Any]:
    """The JSON Schema of a project document."""
    return document_schema()


@router.get("/{project_id}")
def get_project(project_id: str, services: Served) -> dict[str, Any]:
    """The document, its revision, and what undo and redo would do."""
    return state_json(services.workspace.state(project_id))


@router.post("/{project_id}/mend")
def mend_project(project_id: str, services: Served) -> dict[str, Any]:
    """Saves a project that fails its checks as it is shown, mended; then it can be edited."""
    return state_json(services.workspace.mend(project_id))


@router.get("/{project_id}/missing")
def missing_assets(project_id: str, services: Served) -> list[dict[str, Any]]:
    """The assets whose files are missing or cut short."""
    project = services.workspace.state(project_id).project
    return [
        {"asset": asset.model_dump(mode="json"), "why": why}
        for asset in project.assets
        if (why := services.assets.trouble(asset))
    ]


@router.post("/tour", status_code=201)
def tour_project(services: Served) -> dict[str, Any]:
    """A new project to take the tour in: a copy of the demo's name tag."""
    project_id = make_tour(services.folder)
    return {"project": project_id, "scene": TOUR_SCENE}


@router.post("/{project_id}/duplicate", status_code=201)
def duplicate_project(project_id: str, services: Served) -> dict[str, Any]:
    """A copy with a history of its own."""
    return state_json(services.workspace.duplicate(project_id))


@router.delete("/{project_id}", status_code=204)
def delete_project(project_id: str, services: Served) -> None:
    """Puts a project aside; it can be restored."""
    services.workspace.delete(project_id)


@router.post("/{project_id}/restore")
def restore_project(project_id: str, services: Served) -> dict[str, Any]:
    """Brings a deleted project back."""
    services.workspace.restore(project_id)
    return state_json(services.workspace.state(project_id))


@router.get("/{project_id}/export")
def export_project(project_id: str, services: Served) -> StreamingResponse:
    """The project as a zip with its document and assets."""
    state = services.workspace.state(project_id)
    project = state.project
    # One that is unsound goes out as it is saved, so that nothing of it is lost.
    raw = services.workspace.raw_document(project_id) if state.unsound else None
    with told(services.folder.path):
        file = tempfile.TemporaryFile(dir=services.folder.path)  # noqa: SIM115 - closed when sent
        write_archive(project, services.assets, file, raw)
    size = file.tell()
    file.seek(0)

    def chunks() -> Iterator[bytes]:
        with file:
            while chunk := file.read(1 << 20):
                yield chunk

    name = re.sub(r"[^A-Za-z0-9]+", "-", project.name).strip("-").lower() or "project"
    return StreamingResponse(
        chunks(),
        media_type="application/zip",
        headers={
            "content-length": str(size),
            "content-disposition": f'attachment; filename="{name}.zip"',
        },
    )


@router.post("/import", status_code=201)
async def import_project(request: Request, services: Served, mend: bool = False) -> dict[str, Any]:
    """A project from a zip (the request's body); it gets a new id where its own is taken.

    With ``mend`` a document that fails its checks is mended; ``notes`` tell what was changed and
    which files are missing.
    """
    with told(services.folder.path), _temporary(services) as file:
        await receive_to_file(request, file, 4 * 2**30)
        file.flush()

        def take() -> dict[str, Any]:
            imported = read_archive(Path(file.name), services.assets, mend=mend)
            state = services.workspace.add(imported.project, new_id())
            return {**state_json(state), "notes": imported.notes}

        return await run_in_threadpool(take)


def _temporary(services: Services) -> Any:
    """A file with a name, for other processes to read; gone when it is closed."""
    return tempfile.NamedTemporaryFile(dir=services.folder.path, prefix=".part-")
