"""The lower third: a kite maker's name and role over a gradient bar, in and out again. The tag is a
scene of its own with slots, so that it can be placed anywhere with another name."""

from __future__ import annotations

from typing import Any

from .parts import key, layer, moved, scene, stack
from .sky import dusk_sky

ID = "lower-third"
TAG_ID = "name-tag"
LENGTH_S = 6.0


def lower_third() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    end = LENGTH_S
    tag = layer("tag", "Name tag", "scene", 0, end, scene__id=TAG_ID)
    marks = (("in", "in", 0.24), ("name", "name", 0.84), ("out", "out", 5.0))
    return [
        scene(ID, "Lower third", end),
        stack(ID, [*dusk_sky(end, glow=0.8), tag]),
        *({"kind": "add-mark", "scene": ID, "id": i, "name": n, "time_s": t} for i, n, t in marks),
    ]


def name_tag() -> list[dict[str, Any]]:
    """The edits that build the tag: its bar is as wide as the longer of the two texts asks."""
    slots = (
        {"id": "name", "name": "Name", "layer": "maker", "property": "text"},
        {"id": "role", "name": "Role", "layer": "role", "property": "text"},
        {"id": "accent", "name": "Accent", "ink": "amber"},
    )
    wide = 'max(of("Maker\'s name", "width"), of("Role", "width"))'
    return [
        scene(TAG_ID, "Name tag", LENGTH_S),
        {"kind": "change-scene", "scene": TAG_ID, "transparent": True},
        stack(TAG_ID, [*_bar(), *_words()]),
        *({"kind": "add-slot", "scene": TAG_ID, **slot} for slot in slots),
        # With figures of one height and one width: names and times may stand under each other.
        *(
            {
                "kind": "save-type-style",
                "scene": TAG_ID,
                "layer": id,
                "id": f"tag-{id}",
                "name": f"Lower third: {name}",
            }
            for id, name in (("maker", "name"), ("role", "role"))
        ),
        _expression("bar", "shape.size", f"[keyed.x * ({wide} + 350), keyed.y]"),
        _expression("bar", "position", 'keyed + [of("Bar", "width") / 2, 0]'),
    ]


def _expression(layer_id: str, property_id: str, text: str) -> dict[str, Any]:
    return {
        "kind": "set-expression", "scene": TAG_ID, "text": text,
        "targets": [{"layer": layer_id, "property": property_id}],
    }  # fmt: skip


def _bar() -> list[dict[str, Any]]:
    on, off = 0.4, 5.6
    length = off - on
    bar = layer(
            "bar", "Bar", "shape", on, off,
            shape__size=[
                key(0, [0, 168], "easing:settle"), key(0.8, [1, 168]),
                key(length - 0.6, [1, 168], "easing:leave"), key(length, [0, 168]),
            ],
            position=[150, 866],
            shape__corner_radius=18,
            fill__kind="linear",
            fill__start=[0, 50],
            fill__end=[100, 50],
            fill__stops=[[0.0, "#101838f2"], [0.62, "#1a2a5ce6"], [1.0, "#2f9fb3b0"]],
        )  # fmt: skip
    # Alive while it stands: light passes over it, and the kite sways.
    bar = moved(bar, ("dwell", "glint", {"every": 3.2, "takes": 1.6}))
    return [
        bar,
        layer(
            "edge", "Ember edge", "shape", on - 0.16, off + 0.12,
            shape__size=[
                key(0, [14, 0], "back-out(0.14)"), key(0.44, [14, 168]),
                key(length - 0.2, [14, 168], "easing:leave"), key(length + 0.28, [14, 0]),
            ],
            position=[150, 866],
            shape__corner_radius=7,
            fill__kind="linear",
            fill__start=[50, 0],
            fill__end=[50, 100],
            fill__stops=[[0.0, "ink:amber"], [1.0, "ink:ember"]],
        ),
        layer(
            "kite-mark", "Kite mark", "picture", on + 0.3, off - 0.12,
            picture__asset="kite-emblem",
            pivot=[0, -80],
            position=[
                key(0, [262, 720], "easing:settle"), key(0.8, [262, 846]),
                key(4.24, [262, 846], "easing:leave"), key(4.7, [262, 742]),
            ],
            rotation=[
                key(0, -30, "spring(0.6)"), key(1.6, 4, "ease-in-out"), key(2.6, 9, "ease-in-out"),
                key(3.6, 3, "ease-in-out"), key(4.24, 7, "easing:leave"), key(4.7, 26),
            ],
            scale=[23, 23],
            opacity=[
                key(0, 0, "ease-out"), key(0.32, 100), key(4.36, 100, "ease-in"), key(4.7, 0),
            ],
        ),
    ]  # fmt: skip


def _words() -> list[dict[str, Any]]:
    """Both lines rise from behind their own edge, the name four frames after the bar."""
    on, off = 0.56, 5.36
    rises = {"side": "bottom", "spread.over": "lines", "spread.each": 0.7}
    sinks = {**rises, "spread.each": 0.4}
    maker = layer(
        "maker", "Maker's name", "text", on, off,
        text="Oona Tidewell",
        text__font="archivo",
        text__weight=700,
        text__size=74,
        text__features="lnum, tnum",
        text__align="left",
        align__x="left",
        fill__colour="ink:sailcloth",
        position=[348, 838],
    )  # fmt: skip
    role = layer(
        "role", "Role", "text", on + 0.16, off - 0.08,
        text="Kite maker, Gullwing Bay",
        text__font="montserrat",
        text__weight=500,
        text__size=36,
        text__tracking=40,
        text__features="lnum, tnum",
        text__align="left",
        align__x="left",
        fill__colour="ink:amber",
        position=[350, 906],
    )  # fmt: skip
    return [
        moved(each, ("arrive", "slide", rises), ("leave", "slide", sinks)) for each in (maker, role)
    ]
