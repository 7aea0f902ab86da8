"""What is heard of a scene, in pieces; what its sounds look like."""

from __future__ import annotations

from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Depends, Query
from fastapi.responses import Response

from ...core.audio import SAMPLE_RATE
from ...core.mix import MAX_COLUMNS
from ...core.mix.beats import beats_heard, of_kind
from ...core.resolve import SceneEvaluator
from ...core.resolve.contents import sound_of
from ..services import Services, get_services

router = APIRouter(prefix="/api/projects/{project_id}/scenes/{scene_id}", tags=["sounds"])
Served = Annotated[Services, Depends(get_services)]
Second = Annotated[float, Query(ge=-3600, le=7200, allow_inf_nan=False)]
# A piece holds ten seconds at most.
MAX_SAMPLES = 10 * SAMPLE_RATE
# Heights of a wave grow by this power of its samples, so that what is soft is seen as well.
SOFT = 0.7


@router.get("/sound")
def sound(project_id: str, scene_id: str, services: Served) -> dict[str, Any]:
    """Whether anything is heard of the scene, its samples, and which layers cannot be heard."""
    return services.sounds.facts(project_id, scene_id) | {"rate": SAMPLE_RATE}


@router.get("/beats")
def beats(project_id: str, scene_id: str, services: Served) -> dict[str, Any]:
    """The beats that are heard in the scene, by layer: seconds, each with its number in the sound,
    and which of them are strong, which begin a part of the music."""
    project = services.workspace.state(project_id).project
    evaluator = SceneEvaluator(project, scene_id)
    found = {}
    for layer in evaluator.scene.layers:
        heard = beats_heard(evaluator, layer)
        asset = sound_of(evaluator, evaluator.values(layer, layer.start_s)) if heard else None
        if asset is None or asset.beats is None:
            continue
        grid = asset.beats
        found[layer.id] = {
            "asset": asset.id,
            "tempo": grid.tempo,
            "beats": [
                {
                    "at_s": at, "number": number, "strong": of_kind(grid, number, "strong"),
                    "section": of_kind(grid, number, "sections"),
                }
                for at, number in heard
            ],
        }  # fmt: skip
    return {"layers": found}


@router.get("/loudness")
def loudness(project_id: str, scene_id: str, services: Served) -> dict[str, Any]:
    """The loudness of the scene's working range by ITU-R BS.1770 (LUFS, LU, dBTP), and in words;
    null where it is too soft or too short to be measured."""
    found = services.sounds.loudness(project_id, scene_id)
    return {
        "integrated": found.integrated, "range_lu": found.range_lu, "true_peak": found.true_peak,
        "told": found.told(),
    }  # fmt: skip


@router.get("/sound.pcm")
def samples(
    project_id: str,
    scene_id: str,
    services: Served,
    first: Annotated[int, Query(ge=0, le=4000 * SAMPLE_RATE)],
    count: Annotated[int, Query(ge=1, le=MAX_SAMPLES)],
) -> Response:
    """A piece of the scene's mix: float32, little-endian, left and right by turns. The header
    ``x-revision`` tells of which state of the project."""
    revision, found = services.sounds.samples(project_id, scene_id, first, count)
    return Response(
        found.astype("<f4").tobytes(), media_type="application/octet-stream",
        headers={"cache-control": "no-store", "x-revision": str(revision)},
    )  # fmt: skip


@router.get("/layers/{layer_id}/wave")
def wave(
    project_id: str,
    scene_id: str,
    layer_id: str,
    services: Served,
    from_s: Second,
    to_s: Second,
    columns: Annotated[int, Query(ge=1, le=MAX_COLUMNS)] = 600,
) -> dict[str, list[int]]:
    """A layer's sound over a stretch of the scene: how far each column reaches down and up in
    thousandths of a bar's half height, and its gain as a factor in thousandths."""
    found = services.sounds.wave(project_id, scene_id, layer_id, (from_s, to_s), columns)
    drawn = np.sign(found.peaks) * np.minimum(1.0, np.abs(found.peaks)) ** SOFT
    low, high = _thousandths(drawn[:, 0]), _thousandths(drawn[:, 1])
    return {"low": low, "high": high, "gain": _thousandths(found.gain)}


def _thousandths(values: np.ndarray) -> list[int]:
    result: list[int] = np.rint(values * 1000).astype(np.int64).tolist()
    return result
