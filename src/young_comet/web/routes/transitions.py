"""Transitions: moving pictures of them between the artist's own layers."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Query
from fastapi.responses import Response

from ...core.catalog import transition_kind
from ...core.export import encode_preview
from ...core.resolve import SceneEvaluator
from ...core.views import transition_sample, with_only
from ...edits.transition_edits import JoinLayers
from ..frames import RenderKit
from ..services import Services, get_services

router = APIRouter(prefix="/api", tags=["transitions"])
Served = Annotated[Services, Depends(get_services)]


@router.get("/projects/{project_id}/scenes/{scene_id}/layers/{layer_id}/transitions/{kind_id}.jpg")
async def sample(
    project_id: str, scene_id: str, layer_id: str, kind_id: str, services: Served,
    before: Annotated[str, Query(max_length=80)],
) -> Response:  # fmt: skip
    """Frames of a transition from the layer ``before`` to another, side by side as those of moves.
    Nothing (204) where they do not meet."""
    transition_kind(kind_id)

    def draw(kit: RenderKit) -> bytes | None:
        edit = JoinLayers(
            scene=scene_id,
            layers=[before, layer_id],
            transition=kind_id,
            length_s=1.0,
            values={},
        )
        project = services.workspace.drafted(project_id, [edit])
        project = with_only(project, scene_id, (before, layer_id))
        evaluator = SceneEvaluator(project, scene_id, kit.tracks, kit.library)
        found = transition_sample(evaluator, layer_id, kit.small)
        return None if found is None else encode_preview(found, 88)

    data = await services.frames.run(draw)
    if data is None:
        return Response(status_code=204)
    headers = {"cache-control": "private, max-age=600"}
    return Response(data, media_type="image/jpeg", headers=headers)
