"""A hand-drawn tag for the children's workshop: cut paper, felt pens, eight drawings a second."""

from __future__ import annotations

from typing import Any

from .parts import again, key, layer, looks, moved, scene, stack

ID = "kite-workshop"
LENGTH_S = 5.0
# Eight drawings a second: rough edges are other ones as often, and stay as they are between.
DRAWN = {"value": 0, "expression": "floor(t * 8)"}


def kite_workshop() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    return [
        scene(ID, "Kite workshop", LENGTH_S),
        {"kind": "change-scene", "scene": ID, "shutter": {"on": False}},
        stack(ID, [_felt(), *_sun(), *_kite(), *_words()]),
    ]


def _rough(made: dict[str, Any], amount: float = 6.0) -> dict[str, Any]:
    """Cut by hand, with a shadow beneath."""
    return looks(
        made,
        effects=(
            (
                "rough-edge",
                {
                    "amount": amount,
                    "scale": 34,
                    "octaves": 2,
                    "softness": 1.4,
                    "flow": 0,
                    "seed": DRAWN,
                },
            ),
            ("drop-shadow", {"distance": 10, "softness": 14, "opacity": 34, "contact": 30}),
        ),
    )


def _felt() -> dict[str, Any]:
    return looks(
        layer("felt", "Felt", "backdrop", 0, LENGTH_S, fill__colour="#7cc3c8"),
        effects=(("texture", {"kind": "felt", "contrast": 80, "scale": 12, "cover": "box"}),),
    )


def _sun() -> list[dict[str, Any]]:
    rays = layer(
        "rays",
        "Sun's rays",
        "shape",
        0.1,
        LENGTH_S,
        shape__kind="star",
        shape__corners=11,
        shape__radius=250,
        shape__inner=62,
        position=[1694, 196],
        fill__colour="#ffd24d",
        rotation=again("build-on", [key(0, 0, "linear"), key(5, 33)]),
    )
    disc = layer(
        "sun",
        "Sun",
        "shape",
        0.2,
        LENGTH_S,
        shape__kind="ellipse",
        shape__size=[270, 270],
        position=[1694, 196],
        fill__colour="#ffb52e",
    )
    pops = ("arrive", "spring-in", {"lean": -30, "easing": "spring(0.5)"})
    return [moved(_rough(rays, 9), pops), moved(_rough(disc), pops)]


def _kite() -> list[dict[str, Any]]:
    """A patched kite, swinging on a line of thick wool."""
    wool = looks(
        layer(
            "wool",
            "Wool",
            "shape",
            0.5,
            LENGTH_S,
            shape__kind="path",
            position=[0, 0],
            fill__on=False,
            shape__path="M1490 640 C1600 820 1380 860 1480 960 C1560 1040 1440 1100 1400 1160",
            stroke__width=12,
            stroke__cap="round",
            stroke__colour="#c2417a",
            drawn__to=[key(0, 0, "ease-in-out"), key(0.9, 100)],
        ),
        effects=(("rough-edge", {"amount": 3, "scale": 12, "flow": 0, "seed": DRAWN}),),
    )
    patches = (
        ("#f26a4b", "M0 -230 L170 -40 L0 -10 Z"),
        ("#f7f1e3", "M0 -230 L-170 -40 L0 -10 Z"),
        ("#3f6fb5", "M0 -10 L170 -40 L0 270 Z"),
        ("#ffd24d", "M0 -10 L-170 -40 L0 270 Z"),
    )
    found = [wool]
    for n, (colour, path) in enumerate(patches):
        patch = layer(
            f"patch-{n}",
            f"Patch {n + 1}",
            "shape",
            0.3 + 0.12 * n,
            LENGTH_S,
            shape__kind="path",
            shape__path=path,
            position=[1476, 420],
            fill__colour=colour,
            rotation=again("there-and-back", [key(0, -9, "ease-in-out"), key(1.3, 9)]),
        )
        found.append(moved(_rough(patch, 5), ("arrive", "drop", {"height": 30})))
    return found


def _words() -> list[dict[str, Any]]:
    build = layer(
        "build",
        "Build",
        "text",
        0.7,
        LENGTH_S,
        text="Build your\nown kite!",
        text__font="permanent-marker",
        text__size=212,
        text__leading=96,
        text__align="left",
        position=[150, 420],
        fill__colour="#ffffff",
        rotation=-3,
        stroke__width=16,
        stroke__side="outside",
        stroke__colour="#24466e",
    )
    tape = layer(
        "tape",
        "Strip of paper",
        "shape",
        1.7,
        LENGTH_S,
        shape__size=[900, 118],
        position=[612, 800],
        rotation=-2,
        fill__colour="#f7f1e3",
    )
    where = layer(
        "where",
        "Where",
        "text",
        1.85,
        LENGTH_S,
        text="every morning in the blue tent",
        text__font="caveat",
        text__weight=700,
        text__size=76,
        position=[612, 800],
        rotation=-2,
        fill__colour="#24466e",
    )
    pops = (
        "arrive",
        "spring-in",
        {
            "spread.over": "letters",
            "spread.each": 0.8,
            "spread.step-letters": 0.05,
            "lean": -20,
            "easing": "spring(0.5)",
        },
    )
    wobbles = (
        "dwell",
        "sway",
        {"spread.over": "letters", "spread.lag": 0.17, "angle": 3, "every": 1.6},
    )
    return [
        looks(
            moved(build, pops, wobbles),
            effects=(
                ("rough-edge", {"amount": 3, "scale": 16, "octaves": 2, "flow": 0, "seed": DRAWN}),
                ("drop-shadow", {"distance": 9, "softness": 10, "opacity": 40, "contact": 30}),
            ),
        ),
        moved(_rough(tape, 8), ("arrive", "widen", {"axis": "width"})),
        moved(where, ("arrive", "type-on", {"cursor": False, "spread.step-letters": 0.04})),
    ]
