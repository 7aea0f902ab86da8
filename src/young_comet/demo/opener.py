"""The opener: kinetic title, logo reveal and a name tag placed in one scene, tied to each other."""

from __future__ import annotations

from typing import Any

from . import kinetic_title
from .logo_reveal import LANDING_S
from .parts import key, layer, looks, scene, stack

ID = "opener"
# The title is played to the end of its sentence; its own fade is left away.
TITLE_S = round(kinetic_title.LENGTH_S - kinetic_title.FADE_S, 2)
# A kite crosses the frame in so long, and the reveal comes behind it.
WIPE_S = 0.8
FADE_S = 0.6
# The reveal stays until the name tag has gone.
REVEAL_S = 8.0


def opener() -> list[dict[str, Any]]:
    """The edits that build the scene. Its times come about by ties: the kite crosses before the
    title has gone, the landing of the reveal carries the flash and the name tag, the end carries
    the fade."""
    begin = round(TITLE_S - WIPE_S, 2)
    length = round(begin + REVEAL_S, 2)
    title = layer(
        "title", "Title", "scene", 0, TITLE_S, scene__id="kinetic-title", sound__fade_out=FADE_S
    )
    reveal = looks(
        layer("reveal", "Reveal", "scene", begin, length, scene__id="logo-reveal",
              sound__fade_in=FADE_S),
        masks=(
            ({"id": "behind", "name": "Behind the kite", "form": "half-plane", "space": "follow",
              "follows": "wiper"}, {"rotation": 90, "feather": [40, 40]}),
        ),
    )  # fmt: skip
    wiper = looks(
        layer(
            "wiper", "Crossing kite", "picture", begin, begin + WIPE_S + 0.2,
            picture__asset="kite-emblem", pivot=[0, -80],
            position=[
                key(0, [-1150, 980], "cubic-bezier(0.45, 0.1, 0.4, 0.95)"),
                key(WIPE_S, [3100, 260]),
            ],
            rotation=[key(0, 58, "ease-out"), key(WIPE_S, 96)],
            scale=[420, 420], motion_blur="on",
        ),
        effects=(("drop-shadow", {"distance": 40, "softness": 60, "opacity": 60, "angle": 120}),),
    )  # fmt: skip
    flash = layer(
        "flash", "Landing flash", "shape", begin + LANDING_S, begin + LANDING_S + 1,
        shape__kind="ellipse", shape__size=[1500, 1500], position=[486, 360], blend="screen",
        fill__kind="radial", fill__start=[50, 50], fill__end=[100, 50],
        fill__stops=[[0.0, "#fff3d6e0"], [0.3, "#ffc07870"], [1.0, "#ff8f5a00"]],
        opacity=[key(0, 0, "ease-out"), key(0.08, 62, "ease-out"), key(0.7, 0)],
        scale=[key(0, [40, 40], "ease-out"), key(0.7, [100, 100])],
    )  # fmt: skip
    # Its left edge is that of the name above it.
    tag = {
        **layer("tag", "Name tag", "scene", begin + 2.6, length, scene__id="name-tag",
                position=[1533, 556], scale=[94, 94]),
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
        stack(ID, [title, reveal, wiper, flash, tag, grain, fade]),
        {"kind": "add-mark", "scene": ID, "id": "landing", "name": "landing",
         "time_s": round(begin + LANDING_S, 2)},
        _phases("title", 0.0, WIPE_S),
        _phases("reveal", LANDING_S, 0.0),
        _tie({"layer": "reveal"}, "title", "leaves", 0.0),
        _tie({"layer": "wiper"}, "reveal", "start", 0.0),
        _tie({"mark": "landing"}, "reveal", "arrived", 0.0),
        {**_tie({"layer": "flash"}, "landing", "start", -0.08), "to": "mark"},
        _tie({"layer": "tag"}, "reveal", "arrived", 0.96),
        {"kind": "change-scene", "scene": ID, "ends_with_last": True},
        {**_tie({"layer": "fade", "side": "end"}, None, "end", 0.0), "to": "scene"},
        {**_tie({"layer": "fade"}, None, "end", -FADE_S), "to": "scene"},
    ]  # fmt: skip


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
