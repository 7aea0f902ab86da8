"""The lower third: a kite maker's name and role over a gradient bar, in and out again."""

from __future__ import annotations

from typing import Any

from .parts import key, layer, scene, stack
from .sky import dusk_sky

ID = "lower-third"
LENGTH_S = 6.0


def lower_third() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    end = LENGTH_S
    layers = [*dusk_sky(end, glow=0.8), *_bar(), *_words()]
    marks = (("in", "in", 0.24), ("name", "name", 0.84), ("out", "out", 5.0))
    return [
        scene(ID, "Lower third", end),
        stack(ID, layers),
        *({"kind": "add-mark", "scene": ID, "id": i, "name": n, "time_s": t} for i, n, t in marks),
    ]


def _bar() -> list[dict[str, Any]]:
    on, off = 0.4, 5.6
    length = off - on
    return [
        layer(
            "bar", "Bar", "shape", on, off,
            shape__size=[
                key(0, [0, 168], "easing:settle"), key(0.8, [860, 168]),
                key(length - 0.6, [860, 168], "easing:leave"), key(length, [0, 168]),
            ],
            position=[
                key(0, [150, 866], "easing:settle"), key(0.8, [580, 866]),
                key(length - 0.6, [580, 866], "easing:leave"), key(length, [150, 866]),
            ],
            shape__corner_radius=18,
            fill__kind="linear",
            fill__start=[0, 50],
            fill__end=[100, 50],
            fill__stops=[[0.0, "#101838f2"], [0.62, "#1a2a5ce6"], [1.0, "#2f9fb3b0"]],
        ),
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
                key(0, -30, "spring(0.6)"), key(2.2, 4), key(4.24, 8, "easing:leave"), key(4.7, 26),
            ],
            scale=[23, 23],
            opacity=[
                key(0, 0, "ease-out"), key(0.32, 100), key(4.36, 100, "ease-in"), key(4.7, 0),
            ],
        ),
    ]  # fmt: skip


def _words() -> list[dict[str, Any]]:
    off = 5.36
    return [
        layer(
            "maker", "Maker's name", "text", 0.84, off,
            text="Oona Tidewell",
            text__font="archivo",
            text__weight=700,
            text__size=74,
            text__align="left",
            fill__colour="ink:sailcloth",
            position=[
                key(0, [530, 838], "easing:settle"), key(0.9, [598, 838]),
                key(4.06, [598, 838], "easing:leave"), key(4.48, [540, 838]),
            ],
            opacity=[
                key(0, 0, "ease-out"), key(0.5, 100), key(4.16, 100, "ease-in"), key(4.48, 0),
            ],
        ),
        layer(
            "role", "Role", "text", 1.08, off - 0.08,
            text="Kite maker, Gullwing Bay",
            text__font="montserrat",
            text__weight=500,
            text__size=36,
            text__tracking=[key(0, 160, "easing:settle"), key(1.1, 40)],
            text__align="left",
            fill__colour="ink:amber",
            position=[
                key(0, [590, 906], "easing:settle"), key(0.9, [600, 906]),
                key(3.78, [600, 906], "easing:leave"), key(4.16, [556, 906]),
            ],
            opacity=[
                key(0, 0, "ease-out"), key(0.5, 100), key(3.86, 100, "ease-in"), key(4.16, 0),
            ],
        ),
    ]  # fmt: skip
