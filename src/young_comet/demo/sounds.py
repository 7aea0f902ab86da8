"""What is heard in the demo: two beds, and what strikes and passes over them, all of the kit."""

from __future__ import annotations

from typing import Any

from ..core.audio.kit import KIT, Wish
from ..core.export import encode_sound
from ..core.model import Asset
from ..edits.beat_edits import even_grid
from ..store import AssetStore
from . import kinetic_title, logo_reveal

# The title's words come about every 1.96 s: so long is a bar of its bed.
BAR_S = 1.96
# A bar of the reveal's bed, at its own tempo.
SAIL_BAR_S = 2.5

# Asset, name of the file, sound of the kit, length (s; None: as it is), seed.
SOUNDS: tuple[tuple[str, str, str, float | None, int], ...] = (
    ("bed-race-day", "Race day.flac", "bed-race-day", 16 * BAR_S, 2),
    ("bed-morning-sail", "Morning sail.flac", "bed-morning-sail", None, 1),
    ("whoosh-deep", "Deep sail.flac", "whoosh-deep-sail", 2.2, 3),
    ("whoosh-quick", "Quick gust.flac", "whoosh-quick-gust", 0.7, 4),
    ("whoosh-turning", "Turning kite.flac", "whoosh-turning-kite", 1.3, 5),
    ("hit-landing", "Landing.flac", "hit-landing", 1.8, 0),
    ("hit-drum", "Drum.flac", "hit-drum", None, 0),
    ("hit-mark", "Bright mark.flac", "hit-bright-mark", None, 0),
    ("chime-three", "Three up.flac", "chime-three-up", None, 1),
)


def kit_assets(store: AssetStore) -> list[Asset]:
    """The sounds as files of the store."""
    found = []
    for id, name, kit_id, length_s, seed in SOUNDS:
        sound = KIT[kit_id]
        made = sound.make(Wish(length_s or sound.length_s, seed=seed))
        asset = store.ingest(name, encode_sound(made, "flac"), id)
        if sound.tempo:
            tempo = sound.tempo_in(length_s or sound.length_s)
            beats = even_grid(0.0, 60 / tempo, asset.duration_s)
            asset = asset.model_copy(update={"beats": beats})
        found.append(asset)
    return found


def _moment_s(asset: str) -> float:
    kit_id, length_s = next((row[2], row[3]) for row in SOUNDS if row[0] == asset)
    sound = KIT[kit_id]
    return round(sound.moment_s(length_s or sound.length_s), 6)


def _struck(
    scene: str, id: str, name: str, asset: str, at_s: float, gain_db: float, pan: float = 0.0
) -> list[dict[str, Any]]:
    """A sound whose moment lies at a time."""
    values = {"sound.gain": gain_db} | ({"sound.pan": pan} if pan else {})
    return [
        {"kind": "place-sound", "scene": scene, "id": id, "name": name, "asset": asset,
         "at_s": at_s, "moment_s": _moment_s(asset)},
        _values(scene, id, values),
    ]  # fmt: skip


def _bed(
    scene: str, asset: str, name: str, length_s: float, under: str, **values: Any
) -> list[dict[str, Any]]:
    """A bed under the whole scene, softer while something else is heard."""
    bed = {
        "id": "bed", "name": name, "kind": "sound", "start_s": 0.0, "end_s": length_s,
        "properties": {"sound.asset": {"value": asset}},
    }  # fmt: skip
    ducked = {"sound.duck-under": under, "sound.duck-by": 5.0, "sound.duck-release": 0.8}
    set_ = {name.replace("__", ".").replace("_", "-"): value for name, value in values.items()}
    return [
        {"kind": "add-layers", "scene": scene, "layers": [bed]},
        _values(scene, "bed", {**set_, **ducked}),
    ]


def _values(scene: str, layer: str, values: dict[str, Any]) -> dict[str, Any]:
    targets = [{"layer": layer, "property": id, "value": value} for id, value in values.items()]
    return {"kind": "set-values", "scene": scene, "targets": targets, "time_s": 0.0}


def _at_the_bottom(scene: str, layers: list[str]) -> dict[str, Any]:
    return {"kind": "order-layers", "scene": scene, "layers": layers, "index": 0}


def sounds() -> list[dict[str, Any]]:
    """The edits that let the scenes be heard."""
    title, reveal = kinetic_title.ID, logo_reveal.ID
    landing = logo_reveal.LANDING_S
    return [
        *_struck(title, "catch-hit", "Catch: drum", "hit-drum", 0.2, -4),
        *_struck(title, "wind-gust", "Wind: gust", "whoosh-turning", 2.1, -4, 35),
        *_struck(title, "hold-gust", "Hold: gust", "whoosh-quick", 3.8, -5, -30),
        *_struck(title, "hold-hit", "Hold: mark", "hit-mark", 2 * BAR_S, -4),
        *_struck(title, "go-gust", "Let go: sail", "whoosh-deep", 6.5, -3, 20),
        *_bed(title, "bed-race-day", "Race day", kinetic_title.LENGTH_S, "hold-hit",
              sound__gain=-5.0, time__from=6 * BAR_S, sound__fade_in=0.12, sound__fade_out=1.2),
        _at_the_bottom(
            title, ["bed", "catch-hit", "wind-gust", "hold-gust", "hold-hit", "go-gust"]
        ),
        # The air of the title breathes with the drum of its bed.
        {"kind": "set-expression", "scene": title, "text": 'keyed * (0.7 + 0.8 * level("Race day", '
         '30, 110))', "targets": [{"layer": "gusts", "property": "opacity"}]},
        *_struck(reveal, "gust", "Gust", "whoosh-deep", 1.3, -2, -25),
        *_struck(reveal, "landing", "Landing", "hit-landing", landing, -2),
        *_struck(reveal, "name-chime", "Name: three up", "chime-three", 2.5, -8, 25),
        *_bed(reveal, "bed-morning-sail", "Morning sail", logo_reveal.LENGTH_S, "landing",
              sound__gain=-6.0, time__from=round(6 * SAIL_BAR_S - landing, 3), sound__fade_in=1.4,
              sound__fade_in_shape="smooth", sound__fade_out=1.6),
        _at_the_bottom(reveal, ["bed", "gust", "landing", "name-chime"]),
    ]  # fmt: skip
