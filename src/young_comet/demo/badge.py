"""A badge in two halves, in three arrangements of one set of layers: apart, met, told."""

from __future__ import annotations

from typing import Any

from .parts import layer, looks, moved, scene, stack

ID = "badge-halves"
LENGTH_S = 7.0
_RADIUS, _BEND = 262, 0.44

# The halves meet along the flash of a kite's line.
_CUT = ((0, -262), (46, -120), (-52, 8), (44, 128), (0, 262))
_EDGE = " ".join(f"L{x} {y}" for x, y in _CUT[1:])
_LEFT = f"M0 -262 {_EDGE} A{_RADIUS} {_RADIUS} 0 0 1 0 -262 Z"
_RIGHT = f"M0 -262 {_EDGE} A{_RADIUS} {_RADIUS} 0 0 0 0 -262 Z"


def badge_halves() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    scene_of = {"scene": ID}
    edits: list[dict[str, Any]] = [
        scene(ID, "A badge in two halves", LENGTH_S),
        stack(ID, [*_air(), *_badge(), *_words()]),
    ]
    for id, name, at in (("apart", "Apart", 0.0), ("met", "Met", 2.0), ("told", "Told", 4.2)):
        edits.append({"kind": "add-arrangement", **scene_of, "id": id, "name": name, "time_s": at})
    edits += [
        {"kind": "retime-arrangement", **scene_of, "arrangement": "apart", "edge": "end",
         "time_s": 1.0},
        {"kind": "retime-arrangement", **scene_of, "arrangement": "met", "edge": "begin",
         "time_s": 2.0},
        {"kind": "retime-arrangement", **scene_of, "arrangement": "met", "edge": "end",
         "time_s": 3.4},
        {"kind": "retime-arrangement", **scene_of, "arrangement": "told", "edge": "begin",
         "time_s": 4.4},
        {"kind": "change-arrangement", **scene_of, "arrangement": "apart", "step": {
            "easing": "easing:settle", "path": "arc", "bend": _BEND, "stagger_pct": 22,
            "order": "rightwards", "appears": "grow"}},
        {"kind": "change-arrangement", **scene_of, "arrangement": "met", "step": {
            "easing": "easing:flight", "stagger_pct": 30, "order": "rightwards",
            "appears": "lift"}},
    ]  # fmt: skip
    for arrangement, values in _SAID.items():
        targets = [
            {"layer": layer_id, "property": name, "value": value}
            for layer_id, said in values.items()
            for name, value in said.items()
        ]
        set_values = {"kind": "set-values", **scene_of, "targets": targets}
        edits.append(
            {"kind": "in-arrangement", **scene_of, "arrangement": arrangement,
             "edits": [set_values]}
        )  # fmt: skip
    for arrangement, away in _AWAY.items():
        edits.append(
            {"kind": "stand-layers", **scene_of, "arrangement": arrangement, "layers": away,
             "there": False}
        )  # fmt: skip
    return edits


# What is not as the layers have it themselves.
_SAID: dict[str, dict[str, dict[str, Any]]] = {
    "apart": {
        "left": {"position": [520, 400], "rotation": -24, "scale": [126, 126]},
        "right": {"position": [1400, 610], "rotation": 17, "scale": [126, 126]},
        "number": {"text": "00"},
        "line": {"text": "two halves"},
    },
    "met": {
        "line": {"text": "one badge", "text.size": 84, "position": [960, 952]},
    },
    "told": {
        "left": {"position": [500, 540], "scale": [92, 92]},
        "right": {"position": [500, 540], "scale": [92, 92]},
        "ring": {"position": [500, 540], "shape.size": [556, 556], "stroke.width": 5},
        "line": {"text": "Oona Tidewell", "position": [1290, 520], "text.size": 122},
    },
}
_AWAY = {"apart": ["ring", "rule", "role"], "met": ["rule", "role"]}


def _air() -> list[dict[str, Any]]:
    return [
        looks(
            layer(
                "air", "Air", "backdrop", 0, LENGTH_S, fill__kind="radial",
                fill__stops=[[0, "#1f6f7c"], [0.55, "#154a63"], [1, "#0d2740"]],
                fill__start=[50, 44], fill__end=[112, 44],
            ),
            effects=(("vignette", {"amount": 24, "size": 62, "softness": 90}),),
        ),
        layer(
            "ring", "Ring", "shape", 0, LENGTH_S, shape__kind="ellipse",
            shape__size=[604, 604], position=[960, 490], fill__on=False, stroke__width=6,
            stroke__colour="ink:amber",
        ),
    ]  # fmt: skip


def _badge() -> list[dict[str, Any]]:
    left = layer(
        "left", "Left half", "shape", 0, LENGTH_S, shape__kind="path", shape__path=_LEFT,
        position=[960, 490], fill__kind="linear",
        fill__stops=[[0, "ink:amber"], [1, "ink:ember"]], fill__start=[12, 0],
        fill__end=[60, 100],
    )  # fmt: skip
    right = layer(
        "right", "Right half", "shape", 0, LENGTH_S, shape__kind="path", shape__path=_RIGHT,
        position=[960, 490], fill__colour="ink:sailcloth",
    )  # fmt: skip
    kite = layer(
        "kite", "Kite emblem", "picture", 0, LENGTH_S, picture__asset="kite-emblem",
        position=[-140, 4], scale=[38, 38],
    )  # fmt: skip
    number = layer(
        "number", "Number", "text", 0, LENGTH_S, text="07", text__font="montserrat",
        text__weight=800, text__size=136, text__features="tnum", fill__colour="ink:dusk",
        position=[130, -14],
    )  # fmt: skip
    heat = layer(
        "heat", "Heat", "text", 0, LENGTH_S, text="HEAT", text__font="montserrat",
        text__weight=700, text__size=38, text__tracking=260, fill__colour="ink:deep-water",
        position=[136, 74],
    )  # fmt: skip
    riders = [moved({**kite, "rides": "left"}, ("dwell", "sway", {"angle": 3}))]
    riders += [{**each, "rides": "right"} for each in (number, heat)]
    return [left, right, *riders]


def _words() -> list[dict[str, Any]]:
    line = layer(
        "line", "Line", "text", 0, LENGTH_S, text="one badge", text__font="montserrat",
        text__weight=700, text__size=84, fill__colour="ink:sailcloth", position=[960, 952],
    )  # fmt: skip
    rule = layer(
        "rule", "Rule", "shape", 0, LENGTH_S, shape__size=[860, 6], position=[1290, 628],
        fill__colour="ink:amber",
    )  # fmt: skip
    role = layer(
        "role", "Role", "text", 0, LENGTH_S, text="Kite maker, Gullwing Bay",
        text__font="montserrat", text__weight=500, text__size=50, fill__colour="ink:amber",
        position=[1290, 700],
    )  # fmt: skip
    return [rule, role, line]
