"""The kit of sounds: listed, heard, taken into a project."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Any

from fastapi import APIRouter, Depends
from fastapi.responses import Response
from pydantic import BaseModel, ConfigDict, Field

from ...core.audio.kit import FAMILIES, KIT, LONGEST_S, SHORTEST_S, KitSound, Wish
from ...core.export import encode_sound
from ...edits import new_id
from ...edits.beat_edits import SetBeats, even_grid
from ...edits.project_edits import AddAsset, find_asset
from ...errors import DocumentError
from ..services import Services, get_services

router = APIRouter(prefix="/api", tags=["kit"])
Served = Annotated[Services, Depends(get_services)]


Length = Annotated[float, Field(ge=SHORTEST_S, le=LONGEST_S, allow_inf_nan=False)]


class Wished(BaseModel):
    """A version of a sound: its length (s; as it is made where left out), its pitch in semitones
    and its brightness in steps up or down, and the seed of what is left to chance in it."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    length_s: Length | None = None
    pitch: Annotated[float, Field(ge=-24, le=24, allow_inf_nan=False)] = 0.0
    brightness: Annotated[float, Field(ge=-4, le=4, allow_inf_nan=False)] = 0.0
    seed: Annotated[int, Field(ge=0, le=999_999)] = 0

    def wish(self, sound: KitSound) -> Wish:
        """As the kit takes it."""
        pitch, bright = 2 ** (self.pitch / 12), 2 ** (self.brightness / 4)
        return Wish(self.length_s or sound.length_s, pitch, bright, self.seed)


class Taken(Wished):
    """Which sound is taken."""

    sound: Annotated[str, Field(max_length=100)]


@router.get("/kit")
def kit() -> list[dict[str, Any]]:
    """All sounds by families; ``moment_s`` is where what matters in them lies."""
    return [
        {
            "id": family, "label": label,
            "sounds": [
                {
                    "id": each.id, "label": each.label, "length_s": round(each.length_s, 3),
                    "moment_s": round(each.moment_s(each.length_s), 3), "loops": each.loops,
                    "tempo": each.tempo,
                }
                for each in KIT.values()
                if each.family == family
            ],
        }
        for family, label in FAMILIES
    ]  # fmt: skip


@router.get("/kit/{sound_id}.flac")
def heard(sound_id: str, wished: Annotated[Wished, Depends()]) -> Response:
    """A sound as it is wished, to be listened to."""
    return Response(
        _made(sound_id, wished), media_type="audio/flac",
        headers={"cache-control": "private, max-age=3600"},
    )  # fmt: skip


@router.post("/projects/{project_id}/kit", status_code=201)
def take(project_id: str, taken: Taken, services: Served) -> dict[str, Any]:
    """Takes a sound into the project as a file of its own; the same version twice is one file."""
    sound = KIT.known(taken.sound)
    wished = Wished(**taken.model_dump(exclude={"sound"}))
    data = _made(sound.id, wished)
    moment_s = round(sound.moment_s(wished.length_s or sound.length_s), 6)
    asset = services.assets.ingest(f"{sound.label}.flac", data, new_id())
    for known in services.workspace.state(project_id).project.assets:
        if known.hash == asset.hash:
            return {"asset": known.model_dump(mode="json"), "moment_s": moment_s}
    if sound.tempo:  # its beats are known
        tempo = sound.tempo_in(wished.length_s or sound.length_s)
        asset = asset.model_copy(update={"beats": even_grid(0.0, 60 / tempo, asset.duration_s)})
    services.workspace.edit(project_id, AddAsset(asset=asset))
    return {"asset": asset.model_dump(mode="json"), "moment_s": moment_s}


@lru_cache(maxsize=24)
def _made(sound_id: str, wished: Wished) -> bytes:
    sound = KIT.known(sound_id)
    return encode_sound(sound.make(wished.wish(sound)), "flac")


@router.post("/projects/{project_id}/assets/{asset_id}/beats")
def find_beats(project_id: str, asset_id: str, services: Served) -> dict[str, Any]:
    """Listens to a sound and gives it the beats that are found; DocumentError where it has none."""
    asset = find_asset(services.workspace.state(project_id).project, asset_id)
    grid = services.assets.beats(asset.hash) if asset.channels else None
    if grid is None:
        raise DocumentError("no beats were found in it", field=f"asset {asset.name!r}")
    services.workspace.edit(project_id, SetBeats(asset=asset_id, beats=grid))
    return grid.model_dump(mode="json")
