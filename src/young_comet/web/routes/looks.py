"""What the panels of looks show: samples of effects, tone curves, drawings read as shapes."""

from __future__ import annotations

import math
from typing import Annotated, Any

from fastapi import APIRouter, Body, Depends, Query
from fastapi.responses import Response
from pydantic import Field

from ...core.catalog import effect_kind
from ...core.export import encode_png, encode_preview
from ...core.media.written_colours import notations, typed_colour
from ...core.model.kinds import check_curve
from ...core.pixels.colour import parse_colour
from ...core.pixels.mixing import AROUND, MIXINGS
from ...core.pixels.tone import curve_table
from ...core.resolve import SceneEvaluator
from ...core.views import effect_sample, gradient_bar, seen_sample
from ...edits.base import Edit
from ...edits.effect_edits import UseSetting
from ...edits.member_edits import ChangeMember
from ...edits.project_edits import find_asset
from ...errors import DocumentError, MediaError
from ..frames import RenderKit
from ..services import Services, get_services

router = APIRouter(prefix="/api", tags=["looks"])
Served = Annotated[Services, Depends(get_services)]
FARTHEST_PX = 1e6
_SAMPLES: dict[str, bytes] = {}


Stop = Annotated[str, Field(max_length=60)]


@router.get("/gradient.png")
async def gradient(
    stop: Annotated[list[Stop], Query(min_length=1, max_length=64)], mixing: str = AROUND
) -> Response:
    """A gradient as a bar, by its stops ("0.5 #ff7a45") and how they are mixed."""
    known = [id for id, _ in MIXINGS]
    if mixing not in known:
        raise DocumentError.expected("mixing", "one of " + ", ".join(known), mixing)
    found = []
    for each in stop:
        at, _, colour = each.partition(" ")
        try:
            offset = float(at)
        except ValueError:
            offset = math.nan
        if not 0 <= offset <= 1:
            raise DocumentError.expected("stop", "a share of 0 to 1 and a colour", each)
        found.append((offset, parse_colour(colour, "stop")))
    data = encode_png(gradient_bar(tuple(found), mixing))
    headers = {"cache-control": "private, max-age=86400"}
    return Response(data, media_type="image/png", headers=headers)


@router.get("/effects/{kind_id}/sample.jpg")
async def sample(kind_id: str, services: Served) -> Response:
    """A small picture of an effect; drawn once a process."""
    effect_kind(kind_id)
    if kind_id not in _SAMPLES:

        def draw(kit: RenderKit) -> bytes:
            return encode_preview(effect_sample(kind_id, kit.library), 88)

        _SAMPLES[kind_id] = await services.frames.run(draw)
    headers = {"cache-control": "private, max-age=3600"}
    return Response(_SAMPLES[kind_id], media_type="image/jpeg", headers=headers)


@router.get(
    "/projects/{project_id}/scenes/{scene_id}/layers/{layer_id}/effects/{effect_id}/{setting}.jpg"
)
async def setting_sample(
    project_id: str, scene_id: str, layer_id: str, effect_id: str, setting: str, services: Served,
    time_s: Annotated[float, Query(ge=0, le=3600, allow_inf_nan=False)] = 0.0,
) -> Response:  # fmt: skip
    """A layer as it would be with a setting of one of its effects, as it is seen at a moment.
    Nothing (204) where it is not seen then."""

    def draw(kit: RenderKit) -> bytes | None:
        use = UseSetting(scene=scene_id, layer=layer_id, effect=effect_id, setting=setting)
        on, off = (
            ChangeMember(
                scene=scene_id, family="effect", layer=layer_id, member=effect_id, set={"on": each}
            )
            for each in (True, False)
        )

        def drafted(*edits: Edit) -> SceneEvaluator:
            project = services.workspace.drafted(project_id, list(edits))
            return SceneEvaluator(project, scene_id, kit.tracks, kit.library)

        found = seen_sample(drafted(use, on), drafted(off), layer_id, time_s, kit.small)
        return None if found is None else encode_preview(found, 88)

    data = await services.frames.run(draw)
    if data is None:
        return Response(status_code=204)
    headers = {"cache-control": "private, max-age=600"}
    return Response(data, media_type="image/jpeg", headers=headers)


@router.post("/tone-curve")
def tone_curve(points: Annotated[Any, Body(embed=True)]) -> dict[str, Any]:
    """64 values of the curve through points [x, y] in 0..1, for drawing it."""
    table = curve_table(check_curve(points, "points"))
    return {"values": [round(float(v), 4) for v in table[::4]] + [round(float(table[-1]), 4)]}


@router.get("/colours")
def colours(text: Annotated[str, Query(max_length=200)]) -> dict[str, Any]:
    """A colour that was typed in any notation of CSS Color 4: its hex, and how others write it."""
    written = notations(typed_colour(text))
    return {"colour": written["hex"], "notations": written}


@router.get("/projects/{project_id}/assets/{asset_id}/shapes")
def shapes(project_id: str, asset_id: str, services: Served) -> dict[str, Any]:
    """A vector picture read as the parts of a shape layer, and what could not be kept."""
    asset = find_asset(services.workspace.state(project_id).project, asset_id)
    if asset.kind != "svg":
        raise MediaError(f"{asset.name!r} is no vector picture")

    return services.assets.shapes(asset)
