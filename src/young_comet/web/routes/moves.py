"""Moves: their moving thumbnails, and those of the artist's own that all projects share."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Body, Depends, Query
from fastapi.responses import Response
from starlette.concurrency import run_in_threadpool

from ...core.catalog import READY_FRONTS, move_kind
from ...core.export import encode_preview
from ...core.model import SavedMove
from ...core.moves import PASSAGES
from ...core.paint import MediaLibrary
from ...core.resolve import SceneEvaluator
from ...core.views import front_sample, move_sample, passage_sample, with_only, worn_sample
from ...edits import new_id
from ...edits.base import find_layer
from ...edits.move_edits import WearMove
from ...errors import NotFoundError
from ..frames import RenderKit
from ..services import Services, get_services

router = APIRouter(prefix="/api", tags=["moves"])
Served = Annotated[Services, Depends(get_services)]
_SAMPLES: dict[str, bytes] = {}


async def _once(
    services: Services, key: str, draw: Callable[[MediaLibrary], np.ndarray]
) -> Response:
    """Frames side by side that are drawn once a process."""
    if key not in _SAMPLES:
        _SAMPLES[key] = await services.frames.run(lambda kit: encode_preview(draw(kit.library), 88))
    return _picture(_SAMPLES[key], "private, max-age=3600")


@router.get("/moves/{kind_id}/sample.jpg")
async def sample(kind_id: str, services: Served) -> Response:
    """Frames of a move side by side."""
    move_kind(kind_id)
    return await _once(services, kind_id, lambda library: move_sample(kind_id, library))


@router.get("/fronts/{ready}/sample.jpg")
async def front(ready: str, services: Served) -> Response:
    """Frames of a ready front side by side."""
    kind = READY_FRONTS.known(ready)
    return await _once(services, f"front {ready}", lambda library: front_sample(kind.id, library))


@router.get("/passages/{passage_id}/sample.jpg")
async def passage(passage_id: str, services: Served) -> Response:
    """Frames of a passage side by side."""
    kind = PASSAGES.known(passage_id)
    key = f"passage {passage_id}"
    return await _once(services, key, lambda library: passage_sample(kind.id, library))


@router.get("/projects/{project_id}/moves/{move_id}/sample.jpg")
async def own_sample(project_id: str, move_id: str, services: Served) -> Response:
    """Frames of one of the project's own moves side by side."""
    saved = _find(services.workspace.state(project_id).project.saved_moves, move_id)
    return await _drawn(saved, services)


@router.get("/own-moves/{move_id}/sample.jpg")
async def shared_sample(move_id: str, services: Served) -> Response:
    """Frames of one of the moves that all projects share side by side."""
    moves = await run_in_threadpool(services.folder.own_moves.all)
    return await _drawn(_find(tuple(moves), move_id), services)


@router.get("/projects/{project_id}/scenes/{scene_id}/layers/{layer_id}/worn.jpg")
async def worn(
    project_id: str,
    scene_id: str,
    layer_id: str,
    services: Served,
    move: Annotated[str, Query(max_length=80)],
    phase: Literal["arrive", "dwell", "leave"],
) -> Response:
    """A layer as it would be with a move: frames side by side as those of samples. Nothing (204)
    where there is nothing to see of it, or where it would take too long."""

    def draw(kit: RenderKit) -> bytes | None:
        edit = WearMove(scene=scene_id, layers=[layer_id], id=new_id(), move=move, phase=phase)
        project = with_only(services.workspace.drafted(project_id, [edit]), scene_id, (layer_id,))
        evaluator = SceneEvaluator(project, scene_id, kit.tracks, kit.library)
        found = worn_sample(evaluator, find_layer(evaluator.scene, layer_id), phase, kit.small)
        return None if found is None else encode_preview(found, 88)

    data = await services.frames.run(draw)
    return Response(status_code=204) if data is None else _picture(data, "private, max-age=600")


async def _drawn(saved: SavedMove, services: Services) -> Response:
    """Frames of a move of somebody's own."""

    def draw(kit: RenderKit) -> bytes:
        return encode_preview(move_sample(f"own:{saved.id}", kit.library, saved), 88)

    return _picture(await services.frames.run(draw), "no-cache")


@router.get("/own-moves")
async def own_moves(services: Served) -> dict[str, Any]:
    """The moves that all projects share."""
    moves = await run_in_threadpool(services.folder.own_moves.all)
    return {"moves": [move.model_dump(mode="json") for move in moves]}


@router.post("/projects/{project_id}/moves/{move_id}/share", status_code=204)
async def share(project_id: str, move_id: str, services: Served) -> None:
    """Keeps one of the project's own moves for all projects."""
    saved = _find(services.workspace.state(project_id).project.saved_moves, move_id)
    await run_in_threadpool(services.folder.own_moves.keep, saved)


@router.post("/own-moves/remove", status_code=204)
async def remove(move: Annotated[str, Body(embed=True)], services: Served) -> None:
    """Takes a move away from those that all projects share; projects that wear it keep it."""
    await run_in_threadpool(services.folder.own_moves.remove, move)


def _find(moves: tuple[SavedMove, ...], move_id: str) -> SavedMove:
    for move in moves:
        if move.id == move_id:
            return move
    raise NotFoundError(f"there is no saved move {move_id!r}", field="move")


def _picture(data: bytes, keep: str) -> Response:
    return Response(data, media_type="image/jpeg", headers={"cache-control": keep})
