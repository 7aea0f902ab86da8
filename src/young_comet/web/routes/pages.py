"""The pages."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Depends
from fastapi.responses import HTMLResponse, Response
from jinja2 import Environment, FileSystemLoader, StrictUndefined

from ... import __version__
from ...core.views import settled_time
from ...errors import NotFoundError
from ..assets import static_prefix
from ..help import help_values
from ..services import Services, get_services

router = APIRouter(include_in_schema=False)
Served = Annotated[Services, Depends(get_services)]

_HERE = Path(__file__).parent.parent
_ENVIRONMENT = Environment(
    loader=FileSystemLoader(_HERE / "templates"), autoescape=True, undefined=StrictUndefined
)


def _icon(name: str) -> str:
    """The address of an icon of the sprite."""
    return f"{static_prefix()}/vendor/icons.svg#{name}"


_ENVIRONMENT.globals.update(version=__version__, icon=_icon, static=static_prefix())


def _page(template: str, **values: Any) -> HTMLResponse:
    text = _ENVIRONMENT.get_template(template).render(**values)
    return HTMLResponse(text, headers={"cache-control": "no-cache"})


def error_page(status: int, message: str) -> str:
    """A page that says what went wrong."""
    return _ENVIRONMENT.get_template("error.html").render(status=status, message=message)


@router.get("/")
def projects_page() -> Response:
    """All projects."""
    return _page("projects.html")


@router.get("/projects/{project_id}")
def project_page(project_id: str, services: Served) -> Response:
    """One project: its scenes and assets."""
    project = services.workspace.state(project_id).project
    return _page("project.html", project_id=project.id, project_name=project.name)


@router.get("/projects/{project_id}/scenes/{scene_id}")
def scene_page(project_id: str, scene_id: str, services: Served) -> Response:
    """The editor of a scene."""
    project = services.workspace.state(project_id).project
    scene = next((s for s in project.scenes if s.id == scene_id), None)
    if scene is None:
        raise NotFoundError(f"there is no scene {scene_id!r} in {project.name!r}", field="scene")
    return _page(
        "editor.html",
        project_id=project.id,
        project_name=project.name,
        scene_id=scene.id,
        scene_name=scene.name,
        opens_at=scene.rate.rate.nearest_frame(settled_time(scene)) if scene.layers else 0,
    )


@router.get("/renders")
def renders_page() -> Response:
    """All renders."""
    return _page("renders.html")


@router.get("/help")
def help_page() -> Response:
    """What the words, panels, moves, effects, formulas and keys are."""
    return _page("help.html", **help_values())


@router.get("/favicon.ico")
def favicon() -> Response:
    """The icon of the pages."""
    icon = (_HERE / "static" / "comet.svg").read_bytes()
    return Response(icon, media_type="image/svg+xml")
