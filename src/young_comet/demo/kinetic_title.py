"""The kinetic title: four phrases about wind, each arriving in a way of its own."""

from __future__ import annotations

from typing import Any

from .parts import key, layer, lettered, looks, scene, stack

ID = "kinetic-title"
LENGTH_S = 9.2
# The words of a card have gone when those of the next one come.
FADE_S = 0.5


def kinetic_title() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    marks = (
        ("catch", "catch", 0.0),
        ("wind", "wind", 1.84),
        ("hold", "hold", 3.92),
        ("go", "go", 5.8),
    )
    return [
        scene(ID, "Kinetic title", LENGTH_S),
        {"kind": "change-scene", "scene": ID, "shutter": {"on": True, "angle_deg": 200}},
        stack(ID, [*_ground(), *_catch(), *_wind(), *_hold(), *_go(), _grade()]),
        *({"kind": "add-mark", "scene": ID, "id": i, "name": n, "time_s": t} for i, n, t in marks),
    ]


def _ground() -> list[dict[str, Any]]:
    air = looks(
        layer("air", "Air", "backdrop", 0, LENGTH_S, fill__colour="ink:dusk"),
        effects=(
            ("point-gradient", {"points": [
                [10, 15, 34, "ink:dusk"], [66, 18, 30, "#6b3b73"], [90, 86, 34, "ink:ember"],
                [20, 92, 30, "ink:deep-water"],
            ]}),
        ),
    )  # fmt: skip
    gusts = looks(
        layer("gusts", "Gusts", "backdrop", 0, LENGTH_S, fill__colour="#00000000", opacity=26,
              blend="overlay"),
        effects=(
            ("noise-clouds", {
                "scale": 520, "octaves": 3, "stretch": [340, 60], "contrast": 190, "level": 46,
                "dark": "#000000", "light": "#ffffff", "flow": 0.35, "cover": "box",
                "offset": [key(0, [0, 0], "linear"), key(8, [2600, -120])],
            }),
        ),
    )  # fmt: skip
    return [air, gusts]


def _word(
    id: str, name: str, start: float, end: float, text: str, size: float, **more: Any
) -> dict[str, Any]:
    settings: dict[str, Any] = {
        "text": text, "text__font": "unbounded", "text__weight": 800, "text__size": size,
        "text__tracking": 4, "fill__colour": "ink:sailcloth",
    }  # fmt: skip
    return layer(id, name, "text", start, end, **{**settings, **more})


def _catch() -> list[dict[str, Any]]:
    """Cut into strips that slide in from both sides; at the end they slide out again."""
    word = _word(
        "catch", "CATCH", 0.0, 1.92, "CATCH", 330,
        position=[key(0, [960, 548], "linear"), key(1.92, [960, 520])],
        scale=[key(0, [97, 97], "linear"), key(1.92, [104, 104])],
        slices__kind="strips", slices__count=9, slices__angle=-68, slices__width=5,
        slices__order="outwards", slices__alternate=True, slices__offset=[190, 620],
        slices__profile="easing:settle", slices__opacity=0,
        slices__progress=[
            key(0, 2, "linear"), key(0.9, 100, "hold"), key(1.36, 100, "easing:leave"),
            key(1.88, 0),
        ],
    )  # fmt: skip
    return [
        looks(word, effects=(
            ("glint", {"angle": 22, "width": 130, "softness": 90, "strength": 60,
                       "colour": "ink:amber",
                       "progress": [key(0.55, 0, "ease-in-out"), key(1.45, 100)]}),
        )),
    ]  # fmt: skip


def _wind() -> list[dict[str, Any]]:
    """A line is drawn; the words rise from behind it, and a gust takes them away."""
    line = layer(
        "horizon", "Horizon", "shape", 1.84, 3.92,
        shape__kind="line", shape__start=[-700, 0], shape__end=[700, 0], fill__on=False,
        stroke__width=8, stroke__cap="round", stroke__colour="ink:amber",
        position=[
            key(0, [960, 660], "easing:settle"), key(1.4, [960, 690], "easing:leave"),
            key(2.0, [960, 610]),
        ],
        rotation=[key(0, -5, "easing:settle"), key(1.0, 0)],
        drawn__from=[key(1.5, 0, "easing:leave"), key(2.04, 100)],
        drawn__to=[key(0, 0, "easing:settle"), key(0.7, 100)],
    )  # fmt: skip
    above: tuple[dict[str, Any], dict[str, Any]] = (
        {"id": "above", "name": "Above the line", "form": "half-plane", "space": "follow",
         "follows": "horizon"},
        {"rotation": -90, "position": [0, -8]},
    )  # fmt: skip
    words = _word(
        "wind", "THE WIND", 1.92, 3.92, "THE WIND", 228,
        position=[
            key(0, [960, 860], "easing:settle"), key(0.9, [960, 552], "linear"),
            key(1.42, [960, 548], "easing:leave"), key(1.92, [960, 840]),
        ],
    )  # fmt: skip
    # A wave of weight goes through the words as they stand.
    words = lettered(words, fronts=(
        ("Wave of weight", {
            "weight": -620, "width": 5.5, "profile": "ease-in-out",
            "progress": [key(0.15, 0, "ease-in-out"), key(1.35, 100)],
        }),
    ))  # fmt: skip
    # A gust that loops once: a text blows along it.
    gust = layer(
        "gust", "Off the dunes", "text", 2.0, 3.96, text="off the dunes and over the bay",
        text__font="montserrat", text__weight=600, text__size=52, text__align="left",
        text__tracking=50, fill__colour="ink:sailcloth", position=[0, 0],
        text__path="M-300 900 C180 1010 560 1000 880 880 C1120 790 1390 770 1390 890 "
        "C1390 1010 1120 1000 1150 850 C1180 690 1560 690 2300 830",
        text__path_offset=[key(0, -30, "cubic-bezier(0.16, 0.7, 0.5, 1)"),
                           key(1.25, 25, "ease-in"), key(2.1, 92)],
        opacity=[key(0.05, 0, "ease-out"), key(0.5, 90, "linear"), key(1.45, 90, "ease-in"),
                 key(1.9, 0)],
    )  # fmt: skip
    return [
        gust,
        looks(words, masks=(above,), effects=(
            (
                "wave",
                {"height": [key(0.2, 0, "ease-in"), key(1.6, 17)], "length": 760, "flow": 0.9},
            ),
            ("drop-shadow", {"colour": "#0b1029", "opacity": 45, "distance": 18, "softness": 16}),
        )),
        line,
    ]  # fmt: skip


def _hold() -> list[dict[str, Any]]:
    """Ink that soaks in: a growing blot, torn by noise, is the matte of the words."""
    blot = looks(
        layer(
            "blot", "Ink blot", "shape", 3.9, 6.1, shape__kind="ellipse", shape__size=[1750, 760],
            fill__colour="#ffffff", position=[960, 540], motion_blur="off",
            scale=[
                key(0, [4, 4], "cubic-bezier(0.2, 0.6, 0.2, 1)"), key(1.0, [118, 150], "hold"),
                key(1.42, [118, 150], "easing:leave"), key(1.92, [0, 0]),
            ],
        ),
        effects=(
            (
                "noise-displacement",
                {"amount": [150, 150], "scale": 210, "octaves": 3, "hardness": 12, "flow": 0.5,
                 "seed": 4},
            ),
            ("gaussian-blur", {"size": [3, 3]}),
        ),
    )  # fmt: skip
    words = _word(
        "hold", "HOLD ON", 3.9, 6.1, "HOLD\nON", 300, text__leading=96,
        position=[960, 540], fill__kind="linear", fill__start=[0, 0], fill__end=[100, 100],
        fill__stops=[[0, "ink:sailcloth"], [0.55, "ink:amber"], [1, "ink:ember"]],
        turn=[key(0, -20, "ease-out"), key(1.5, 4, "ease-in-out"), key(2.2, 9)],
        tilt=[key(0, 8, "ease-out"), key(1.5, -3)],
        scale=[key(0, [96, 96], "linear"), key(2.2, [107, 107])],
        matte__layer="blot",
    )  # fmt: skip
    words = lettered(words, runs=((5, 7, {"weight": 260, "slant": 10}),))
    return [
        {**blot, "hidden": True},
        looks(
            words,
            effects=(
                ("edge-light",
                 {"size": 5, "strength": 70, "shade": 55, "shade_colour": "#5b1f3d"}),
            ),
        ),
    ]  # fmt: skip


def _go() -> list[dict[str, Any]]:
    start, end = 5.8, LENGTH_S
    kite = looks(
        layer(
            "kite", "Kite", "picture", start, end, picture__asset="kite-emblem", pivot=[0, -80],
            position=[
                key(0, [-260, 1240], "cubic-bezier(0.3, 0.2, 0.3, 1)", handle_out=[420, -260]),
                key(1.15, [1470, 330], "ease-in-out", handle_in=[-520, 60]), key(3.4, [1512, 300]),
            ],
            rotation=[key(0, 52, "easing:settle"), key(1.2, 8, "ease-in-out"), key(3.4, 14)],
            scale=[key(0, [74, 74], "easing:settle"), key(1.1, [96, 96])],
        ),
        effects=(
            ("glow", {"size": 40, "strength": [
                key(0.7, 20, "ease-out"), key(1.15, 140, "ease-in-out"), key(2.0, 70)]}),
        ),
    )  # fmt: skip
    words = looks(
        _word(
            "go", "AND LET GO", start + 0.3, end, "AND\nLET GO", 236, text__align="left",
            text__leading=100,
            position=[key(0, [101, 500], "easing:settle"), key(1.2, [121, 500])],
        ),
        effects=(
            (
                "noise-wipe",
                {"shown": [key(0, 0, "ease-out"), key(0.85, 100)], "led": 78, "angle": 0,
                 "scale": 110, "softness": 22},
            ),
        ),
    )  # fmt: skip
    # A highlighter passes behind the last word.
    words = lettered(words, runs=((8, 10, {
        "fill.colour": [key(0.75, "ink:sailcloth"), key(1.1, "ink:dusk")],
        "behind.across": "line", "behind.colour": "ink:amber",
        "behind.padding": [22, -8], "behind.radius": 10, "behind.skew": 8,
        "behind.grown": [key(0.7, 0, "easing:settle"), key(1.25, 100)],
    }),))  # fmt: skip
    week = looks(
        layer(
            "week", "Kite Week", "text", start + 0.9, end, text="GULLWING BAY KITE WEEK",
            text__font="montserrat", text__weight=600, text__size=56, fill__colour="ink:amber",
            text__tracking=[key(0, 420, "easing:settle"), key(1.1, 210)], text__align="left",
            position=[118, 796],
        ),
        effects=(
            ("glint", {"angle": 18, "width": 90, "strength": 90,
                       "progress": [key(0.3, 0, "ease-in-out"), key(1.15, 100)]}),
        ),
    )  # fmt: skip
    confetti = looks(
        layer("confetti", "Confetti", "backdrop", start + 0.95, end, fill__colour="#00000000"),
        effects=(
            ("particles", {
                "count": 110, "centre": [480, -190], "area": [120, 60], "speed": 1500,
                "spread": 360, "gravity": 620,
                "life": 2.2, "once": True, "burst": 0.12, "size": 22, "colour": "ink:ember",
                "colour_2": "ink:amber", "colour_3": "ink:lagoon", "cover": "box",
            }),
        ),
    )  # fmt: skip
    week = lettered(week, fronts=(
        ("Rising", {
            "offset": [0, 46], "opacity": -100, "turn": 70, "order": "outwards", "width": 9,
            "progress": [key(0, 0, "ease-out"), key(0.95, 100)],
        }),
    ))  # fmt: skip
    return [confetti, kite, words, week]


def _grade() -> dict[str, Any]:
    """The grade over everything: a soft curve, darker edges, a little grain; fades at the end."""
    return looks(
        layer("grade", "Grade", "treatment", 0, LENGTH_S),
        effects=(
            (
                "curves",
                {"rgb": [[0, 0.02], [0.28, 0.23], [0.72, 0.79], [1, 1]],
                 "blue": [[0, 0.04], [1, 0.97]]},
            ),
            ("vignette", {"amount": 52, "size": 40, "softness": 70}),
            ("grain", {"amount": 5}),
            ("brightness-contrast", {"brightness": [
                key(LENGTH_S - FADE_S, 0, "ease-in"), key(LENGTH_S - 0.04, -100)]}),
        ),
    )  # fmt: skip
