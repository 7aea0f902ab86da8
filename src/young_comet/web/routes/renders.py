"""The render queue."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Body, Depends
from fastapi.responses import FileResponse
from pydantic import BaseModel, ConfigDict, StringConstraints

from ...core.export import (
    FORMATS,
    Named,
    RenderSettings,
    checked,
    file_stem,
    fitted,
    moments_of,
    notes_of,
    picture_size,
)
from ...core.mix import is_heard
from ...core.resolve import SceneEvaluator
from ...errors import NotFoundError
from ...jobs import estimated
from ..services import Services, get_services, render_json

router = APIRouter(prefix="/api/renders", tags=["renders"])
Served = Annotated[Services, Depends(get_services)]


class NewRender(BaseModel):
    """What a new render is asked with."""

    model_config = ConfigDict(extra="forbid")
    project: str
    scene: str
    settings: RenderSettings = RenderSettings()


@router.get("")
def list_renders(services: Served) -> list[dict[str, Any]]:
    """All renders, the newest first."""
    return [render_json(record) for record in services.folder.renders.all()]


@router.post("", status_code=201)
def start_render(new: NewRender, services: Served) -> dict[str, Any]:
    """Queues a render of the scene as it is now."""
    project = services.workspace.state(new.project).project
    return render_json(services.queue.add(project, new.scene, new.settings))


@router.post("/plan")
def plan_render(new: NewRender, services: Served) -> dict[str, Any]:
    """What a render would give: size, number of frames and how long they last, whether anything is
    heard, about how large it will be and how long in coming, and what of the scene its files cannot
    hold, in sentences."""
    project = services.workspace.state(new.project).project
    evaluator = SceneEvaluator(project, new.scene)
    scene, heard = evaluator.scene, is_heard(evaluator)
    formats = checked(scene, new.settings)
    width, height, odd = picture_size(scene, new.settings, formats[0])
    still = formats[0].still is not None
    settings = new.settings if still else fitted(scene, new.settings)
    moments = None if still else moments_of(scene, settings)
    frames = 1 if moments is None else moments.count
    lasts_s = 0.0 if moments is None else moments.span[1] - moments.span[0]
    alone = set(new.settings.layers)
    hidden = {layer.id for layer in scene.layers if alone and layer.id not in alone}
    drawn = any(each.drawn for each in formats)
    frame = evaluator.at(new.settings.at_s, without=hidden) if drawn else None
    pictured = any(each.film or each.still for each in formats)
    seen = Named(project, scene, (width, height) if pictured else (0, 0), date.today())
    stem = file_stem(new.settings, seen)
    before = services.folder.renders.done_of(new.project, new.scene)
    about = estimated(formats, new.settings, width * height, frames, lasts_s, heard, before)
    return {
        "width": width, "height": height, "notice": odd, "heard": heard, "frames": frames,
        "seconds": lasts_s, "about": {"size_bytes": about.size_bytes, "seconds": about.seconds},
        "notes": list(notes_of(scene, new.settings, formats, heard, frame)),
        "bare": not scene.ground,
        "names": [f"{stem}.{each.ending}" for each in formats],
    }  # fmt: skip


@router.get("/{render_id}")
def get_render(render_id: str, services: Served) -> dict[str, Any]:
    """How far a render is."""
    return render_json(services.folder.renders.get(render_id))


@router.post("/{render_id}/cancel")
def cancel_render(render_id: str, services: Served) -> dict[str, Any]:
    """Stops a waiting or running render."""
    return render_json(services.queue.cancel(render_id))


class RenderName(BaseModel):
    """What a render is called; "" for its scene's name."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]


@router.patch("/{render_id}")
def rename_render(render_id: str, renamed: RenderName, services: Served) -> dict[str, Any]:
    """Calls a render by a name, which its files take too."""
    return render_json(services.queue.rename(render_id, renamed.name))


class Again(BaseModel):
    """``gaps`` as in the settings of a render; as before where it is left out."""

    model_config = ConfigDict(extra="forbid")
    gaps: Literal["stop", "mark"] | None = None


@router.post("/{render_id}/again")
def render_again(
    render_id: str, services: Served, again: Annotated[Again, Body()] = Again()
) -> dict[str, Any]:
    """Queues a render that ended without a result once more, with its document."""
    return render_json(services.queue.again(render_id, gaps=again.gaps))


@router.delete("/{render_id}", status_code=204)
def remove_render(render_id: str, services: Served) -> None:
    """Takes an ended render off the list and deletes its file."""
    services.queue.remove(render_id)


@router.get("/{render_id}/file")
def render_file(
    render_id: str, services: Served, format: str = "", download: bool = False
) -> FileResponse:
    """A result, the first or that of a format; with ``download`` under a speaking name."""
    record = services.folder.renders.get(render_id)
    paths = services.queue.result_paths(record)
    wanted = format or next(iter(paths), "")
    if wanted not in paths:
        raise NotFoundError("this render has no such file", field="format" if format else "render")
    known, download = FORMATS[wanted], download or FORMATS[wanted].shown == "page"
    return FileResponse(
        paths[wanted],
        media_type=known.media_type,
        filename=f"{services.queue.file_stem(record)}.{known.ending}" if download else None,
    )


@router.get("/{render_id}/poster")
def render_poster(render_id: str, services: Served) -> FileResponse:
    """A small JPEG of a film's middle, whatever its format."""
    record = services.folder.renders.get(render_id)
    path = services.queue.poster_path(record.id)
    if not path.is_file():
        raise NotFoundError("this render has no picture", field="render")
    return FileResponse(path, media_type="image/jpeg")
