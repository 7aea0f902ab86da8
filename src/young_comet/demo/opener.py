"""The opener: kinetic title, logo reveal and a name tag placed in one scene, tied to each other."""

from __future__ import annotations

from typing import Any

from .logo_reveal import LANDING_S
from .parts import key, layer, looks, scene, stack

ID = "opener"
TITLE_S = 5.8
REVEAL_S = 6.0
FADE_S = 0.6


def opener() -> list[dict[str, Any]]:
    """The edits that build the scene. Its times come about by ties: the reveal begins before the
    title has gone, its landing carries the flash and the name tag, the end carries the fade."""
    length = TITLE_S + REVEAL_S - FADE_S
    title = layer(
        "title", "Title", "scene", 0, TITLE_S, scene__id="kinetic-title",
        opacity=[key(TITLE_S - FADE_S, 100, "ease-in-out"), key(TITLE_S, 0)],
        scale=[key(TITLE_S - FADE_S, [100, 100], "ease-in"), key(TITLE_S, [116, 116])],
        sound__fade_out=FADE_S,
    )  # fmt: skip
    reveal = layer(
        "reveal", "Reveal", "scene", TITLE_S - FADE_S, length, scene__id="logo-reveal",
        opacity=[key(0, 0, "ease-in-out"), key(FADE_S, 100)], sound__fade_in=FADE_S,
    )  # fmt: skip
    flash = layer(
        "flash", "Landing flash", "shape", 7.0, 8.0, shape__kind="ellipse",
        shape__size=[1500, 1500], position=[486, 360], blend="screen", fill__kind="radial",
        fill__start=[50, 50], fill__end=[100, 50],
        fill__stops=[[0.0, "#fff3d6e0"], [0.3, "#ffc07870"], [1.0, "#ff8f5a00"]],
        opacity=[key(0, 0, "ease-out"), key(0.08, 62, "ease-out"), key(0.7, 0)],
        scale=[key(0, [40, 40], "ease-out"), key(0.7, [100, 100])],
    )  # fmt: skip
    tag = {
        **layer("tag", "Name tag", "scene", 8.0, length, scene__id="name-tag",
                position=[1636, 556], scale=[94, 94]),
        "slots": {"name": "Bram Sallow", "role": "Opens the Kite Week at noon"},
    }  # fmt: skip
    grain = looks(
        layer("grain", "Film grain", "treatment", 0, length),
        effects=(("grain", {"amount": 3}),),
    )
    fade = layer(
        "fade", "Fade to dusk", "backdrop", length - FADE_S, length, fill__colour="#0b0f24",
        opacity=[key(0, 0, "ease-in"), key(FADE_S - 0.04, 100)],
    )  # fmt: skip
    return [
        scene(ID, "Opener", length),
        stack(ID, [title, reveal, flash, tag, grain, fade]),
        {"kind": "add-mark", "scene": ID, "id": "landing", "name": "landing", "time_s": 7.0},
        _phases("title", 0.0, FADE_S),
        _phases("reveal", LANDING_S, 0.0),
        _tie({"layer": "reveal"}, "title", "leaves", 0.0),
        _tie({"mark": "landing"}, "reveal", "arrived", 0.0),
        {**_tie({"layer": "flash"}, "landing", "start", -0.08), "to": "mark"},
        _tie({"layer": "tag"}, "reveal", "arrived", 0.96),
        {"kind": "change-scene", "scene": ID, "ends_with_last": True},
        {**_tie({"layer": "fade", "side": "end"}, None, "end", 0.0), "to": "scene"},
        {**_tie({"layer": "fade"}, None, "end", -FADE_S), "to": "scene"},
    ]


def _phases(layer_id: str, arrive_s: float, leave_s: float) -> dict[str, Any]:
    return {
        "kind": "set-phases", "scene": ID, "layers": [layer_id], "arrive_s": arrive_s,
        "leave_s": leave_s,
    }  # fmt: skip


def _tie(target: dict[str, str], id: str | None, moment: str, offset_s: float) -> dict[str, Any]:
    return {
        "kind": "tie-times", "scene": ID, "targets": [target], "to": "layer", "id": id,
        "moment": moment, "offset_s": offset_s,
    }  # fmt: skip
