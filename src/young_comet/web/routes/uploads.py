"""Assets: uploads, files, thumbnails; inks gathered from a picture."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.responses import FileResponse, Response
from starlette.concurrency import run_in_threadpool

from ...core.media.palette import nearest
from ...core.media.phrases import MAX_BYTES, read_phrases
from ...edits import new_id
from ...edits.project_edits import AddAsset, ReplaceAsset, find_asset
from ...errors import ConflictError, MediaError, NotFoundError
from ..messages import AssetFound
from ..receive import receive_bytes
from ..services import Services, get_services

router = APIRouter(prefix="/api", tags=["assets"])
Served = Annotated[Services, Depends(get_services)]
FOREVER = {"cache-control": "private, max-age=31536000, immutable"}


@router.post("/projects/{project_id}/assets", status_code=201)
async def upload(
    project_id: str, request: Request, services: Served, name: Annotated[str, Query(max_length=400)]
) -> dict[str, Any]:
    """Checks a file (the request's body), stores it and adds it to the project.

    A file that the project has already gives that asset again. ``notes`` say what of a drawing
    will not be seen.
    """
    data = await receive_bytes(request, services.assets.max_bytes)

    def take() -> dict[str, Any]:
        project = services.workspace.state(project_id).project
        asset, notes = services.assets.take(name, data, new_id())
        for known in project.assets:
            if known.hash == asset.hash:
                return {"asset": known.model_dump(mode="json"), "notes": notes}
        services.workspace.edit(project_id, AddAsset(asset=asset))
        return {"asset": asset.model_dump(mode="json"), "notes": notes}

    return await run_in_threadpool(take)


@router.post("/phrases")
async def phrases(request: Request) -> dict[str, Any]:
    """What a text (the request's body) has of phrases: lines, or the cues of a WebVTT or SubRip
    file with their times. Nothing is kept."""
    data = await receive_bytes(request, MAX_BYTES + 1)
    found, notes = await run_in_threadpool(read_phrases, data)
    return {
        "phrases": [{"text": p.text, "start_s": p.start_s, "end_s": p.end_s} for p in found],
        "timed": found[0].start_s is not None,
        "notes": notes,
    }


@router.post("/projects/{project_id}/assets/{asset_id}/file")
async def find_again(
    project_id: str,
    asset_id: str,
    request: Request,
    services: Served,
    name: Annotated[str, Query(max_length=400)],
    another: bool = False,
) -> dict[str, Any]:
    """Brings back the file of an asset that is missing (the request's body).

    It must be the very file (by its hash), unless ``another`` may take its place: then every layer
    that shows the asset shows that one, as an edit that can be undone. ConflictError tells that it
    is another file.
    """
    data = await receive_bytes(request, services.assets.max_bytes)

    def take() -> dict[str, Any]:
        known = find_asset(services.workspace.state(project_id).project, asset_id)
        found = services.assets.ingest(name, data, new_id(), lost=True)
        if found.hash != known.hash:
            if not another:
                raise ConflictError(
                    f"{found.name!r} is not the file that is missing; it can take its place",
                    field="file",
                )
            services.workspace.edit(project_id, ReplaceAsset(asset=asset_id, file=found))
            known = find_asset(services.workspace.state(project_id).project, asset_id)
        else:
            services.hub.publish(project_id, AssetFound(asset=asset_id))
        return {"asset": known.model_dump(mode="json")}

    return await run_in_threadpool(take)


@router.get("/assets/{digest}/thumbnail")
def asset_thumbnail(digest: str, services: Served) -> FileResponse:
    """A small picture of a picture."""
    path = services.assets.thumbnail_path(digest)
    if path is None:
        raise NotFoundError("this asset has no thumbnail", field="asset")
    return FileResponse(path, media_type="image/webp", headers=FOREVER)


@router.get("/projects/{project_id}/assets/{asset_id}/file")
def asset_file(project_id: str, asset_id: str, services: Served) -> Response:
    """The asset's file, as a download."""
    asset = find_asset(services.workspace.state(project_id).project, asset_id)
    return Response(
        services.assets.read_asset(asset.hash),
        media_type="application/octet-stream",
        headers={"content-disposition": "attachment", **FOREVER},
    )


@router.get("/projects/{project_id}/assets/{asset_id}/palette")
def asset_palette(project_id: str, asset_id: str, services: Served) -> list[dict[str, Any]]:
    """The picture's main colours, the most frequent first; of a vector picture those that it names.
    ``ink`` is the ink that is that colour already, or nearly."""
    project = services.workspace.state(project_id).project
    asset = find_asset(project, asset_id)
    if asset.kind not in ("picture", "svg"):
        raise MediaError(f"{asset.name!r} is no picture: it has no main colours")
    inks = [ink.colour for ink in project.inks]
    found = []
    for colour in services.assets.colours(asset):
        at = nearest(colour, inks)
        found.append({"colour": colour, "ink": None if at is None else project.inks[at].id})
    return found
