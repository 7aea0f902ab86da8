"""Single pictures of scenes: frames, strips, the colour and the layers at a point."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Depends, Query
from fastapi.responses import Response
from starlette.concurrency import run_in_threadpool

from ...core.export import encode_preview
from ...core.media.written_colours import typed_colour
from ...core.paint import output_size
from ...core.pixels.colour import format_colour
from ...core.resolve import SceneEvaluator
from ...core.views import (
    Reading,
    colour_at,
    colour_before,
    contrast_below,
    dearest,
    layers_at,
    settled_time,
)
from ...errors import NotFoundError
from ..frames import RenderKit
from ..services import Services, get_services

# The short side of the picture that stands in until a scene is drawn.
KEPT_PX = 360

router = APIRouter(prefix="/api/projects/{project_id}/scenes/{scene_id}", tags=["frames"])
Served = Annotated[Services, Depends(get_services)]
Coordinate = Annotated[float, Query(allow_inf_nan=False)]
Time = Annotated[float, Query(ge=0, le=3600, allow_inf_nan=False)]
Height = Annotated[int, Query(ge=16, le=1080)]


def _evaluator(
    kit: RenderKit, services: Services, project_id: str, scene_id: str, step: int | None = None
) -> SceneEvaluator:
    workspace = services.workspace
    project = (
        workspace.state(project_id).project if step is None else workspace.at_step(project_id, step)
    )
    return SceneEvaluator(project, scene_id, kit.tracks, kit.library)


@router.get("/frame.jpg")
async def frame(
    project_id: str,
    scene_id: str,
    services: Served,
    time_s: Time | None = None,
    height: Height = 180,
    step: Annotated[int | None, Query(ge=0, le=10_000_000)] = None,
) -> Response:
    """One frame as a JPEG: of the scene as it is, or as it was at a step of the history. Without a
    time it is the one at which the most of it stands."""
    name, kept = await run_in_threadpool(
        _kept, services, project_id, "frame", scene_id, time_s, height, step
    )
    if kept is not None:
        return _jpeg(kept)

    def draw(kit: RenderKit) -> tuple[bytes, bool]:
        evaluator = _evaluator(kit, services, project_id, scene_id, step)
        scene = evaluator.scene
        at_s = settled_time(scene) if time_s is None else time_s
        number = min(evaluator.rate.frame_at(at_s), scene.frame_count - 1)
        size = output_size(scene.width, scene.height, height / scene.height)
        pixels = kit.small.render(evaluator.frame(number), *size)
        return encode_preview(pixels), not kit.small.faults

    data, whole = await services.frames.run(draw)
    if whole:  # one with gaps is drawn again: they may be mended
        await run_in_threadpool(services.folder.thumbnails.put, data, *name)
    return _jpeg(data)


def _kept(
    services: Services, project_id: str, *what: object
) -> tuple[tuple[object, ...], bytes | None]:
    """The name of a picture of the project as it is now, and the picture if it is kept."""
    name = (project_id, services.workspace.state(project_id).revision, *what)
    return name, services.folder.thumbnails.get(*name)


def _jpeg(data: bytes) -> Response:
    return Response(data, media_type="image/jpeg", headers={"cache-control": "no-cache"})


@router.get("/kept.jpg")
def kept(project_id: str, scene_id: str, services: Served) -> Response:
    """The scene where it shows itself best, as it was when an editor page of it was last left;
    nothing (204) where it was not kept."""
    data = services.folder.thumbnails.get("latest", project_id, scene_id)
    return Response(status_code=204) if data is None else _jpeg(data)


def keep_latest(kit: RenderKit, services: Services, project_id: str, scene_id: str) -> None:
    """Keeps a picture of the scene for the next time that it is opened: where it opens then."""
    evaluator = _evaluator(kit, services, project_id, scene_id)
    scene = evaluator.scene
    size = output_size(scene.width, scene.height, KEPT_PX / min(scene.width, scene.height))
    opens_s = settled_time(scene) if scene.layers else 0.0
    pixels = kit.small.render(evaluator.at(opens_s), *size)
    services.folder.thumbnails.put(encode_preview(pixels), "latest", project_id, scene_id)


@router.get("/strip.jpg")
async def strip(
    project_id: str,
    scene_id: str,
    services: Served,
    count: Annotated[int, Query(ge=1, le=60)] = 12,
    height: Height = 90,
) -> Response:
    """The scene as pictures side by side, each the middle of its share of the time."""
    name, kept = await run_in_threadpool(
        _kept, services, project_id, "strip", scene_id, count, height
    )
    if kept is not None:
        return _jpeg(kept)
    strip_: list[np.ndarray] = []
    whole = True
    for index in range(count):

        def draw(kit: RenderKit, index: int = index) -> tuple[np.ndarray, bool]:
            evaluator = _evaluator(kit, services, project_id, scene_id)
            scene = evaluator.scene
            number = min(scene.frame_count - 1, int((index + 0.5) * scene.frame_count / count))
            size = output_size(scene.width, scene.height, height / scene.height)
            return kit.small.render(evaluator.frame(number), *size), not kit.small.faults

        # One task a picture: a stage frame never waits for a whole strip.
        pixels, complete = await services.frames.run(draw)
        strip_.append(pixels)
        whole = whole and complete
    data = await services.frames.run(
        lambda kit: encode_preview(np.ascontiguousarray(np.hstack(strip_)), 80)
    )
    if whole:
        await run_in_threadpool(services.folder.thumbnails.put, data, *name)
    return _jpeg(data)


@router.get("/colour")
async def colour(
    project_id: str,
    scene_id: str,
    services: Served,
    time_s: Time,
    x: Coordinate,
    y: Coordinate,
    layer: Annotated[str, Query(max_length=80)] = "",
    effect: Annotated[str, Query(max_length=80)] = "",
) -> dict[str, Any]:
    """The colour at a point of the finished frame; with ``layer`` and ``effect`` that of the layer
    as the effect is given it."""

    def look(kit: RenderKit) -> str:
        evaluator = _evaluator(kit, services, project_id, scene_id)
        if not layer:
            return format_colour(colour_at(evaluator, kit.small, time_s, (x, y)))
        found = evaluator.find(layer)
        if found is None or effect not in {each.id for each in found.effects}:
            raise NotFoundError("there is no such effect in this scene", field="effect")
        at = (x, y)
        return format_colour(colour_before(evaluator, kit.small, time_s, at, found, effect))

    return {"colour": await services.frames.run(look)}


@router.get("/contrast")
async def contrast(
    project_id: str,
    scene_id: str,
    services: Served,
    time_s: Time,
    layer: Annotated[str, Query(max_length=80)],
    colour: Annotated[str, Query(max_length=80)],
) -> dict[str, Any]:
    """How a colour of a layer reads on what lies below it: WCAG contrast ratios with the whole and
    with its worst tenth; nulls where nothing lies below."""
    asked = typed_colour(colour)

    def look(kit: RenderKit) -> Reading | None:
        evaluator = _evaluator(kit, services, project_id, scene_id)
        return contrast_below(evaluator, kit.small, layer, time_s, asked)

    found = await services.frames.run(look)
    if found is None:
        return {"mean": None, "worst": None}
    return {"mean": round(found.mean, 2), "worst": round(found.worst, 2)}


@router.get("/costs")
async def costs(
    project_id: str, scene_id: str, services: Served, time_s: Time = 0.0, height: Height = 540
) -> dict[str, Any]:
    """What a frame takes when it is played from a moment on, ms, and its dearest layers."""

    def look(kit: RenderKit) -> dict[str, Any]:
        evaluator = _evaluator(kit, services, project_id, scene_id)
        scene = evaluator.scene
        number = min(evaluator.rate.frame_at(time_s), scene.frame_count - 1)
        size = output_size(scene.width, scene.height, height / min(scene.width, scene.height))
        whole, found = dearest(evaluator, kit.library, number, size)
        return {"ms": round(whole, 1), "layers": [asdict(each) for each in found]}

    return await services.frames.run(look)


@router.get("/pick")
async def pick(
    project_id: str,
    scene_id: str,
    services: Served,
    time_s: Time,
    x: Coordinate,
    y: Coordinate,
    reach: Annotated[float, Query(ge=0, le=50)] = 4.0,
) -> dict[str, Any]:
    """Ids of the layers at a point, the highest first."""

    def look(kit: RenderKit) -> list[str]:
        evaluator = _evaluator(kit, services, project_id, scene_id)
        return layers_at(evaluator, kit.library, time_s, (x, y), reach)

    return {"layers": await services.frames.run(look)}
