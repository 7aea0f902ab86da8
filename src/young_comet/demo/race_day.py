"""A bold opener for the races: large condensed words that slam in over moving bars."""

from __future__ import annotations

from typing import Any

from .parts import key, layer, looks, moved, scene, stack

ID = "race-day"
LENGTH_S = 4.4
NIGHT, FLAME, CHALK = "#0d0f16", "#ff5a2a", "#f6f2ea"
SNAP = "cubic-bezier(0.2, 0.9, 0.25, 1)"
# The words land here.
RACE_S, DAY_S, HEAT_S = 0.32, 0.72, 1.4


def race_day() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    marks = (("race", RACE_S), ("day", DAY_S), ("heat", HEAT_S))
    return [
        scene(ID, "Race day", LENGTH_S),
        {"kind": "change-scene", "scene": ID, "shutter": {"on": True, "angle_deg": 220}},
        stack(ID, [*_ground(), *_words(), *_heat(), _grade()]),
        *(
            {"kind": "add-mark", "scene": ID, "id": name, "name": name, "time_s": at}
            for name, at in marks
        ),
    ]


def _bar(id: str, name: str, start: float, colour: str, x: float, wide: float) -> dict[str, Any]:
    """A slanted bar that shoots in from below and goes on moving a little."""
    return layer(
        id,
        name,
        "shape",
        start,
        LENGTH_S,
        shape__size=[wide, 2400],
        fill__colour=colour,
        rotation=18,
        position=[
            key(0, [x - 620, 1900 + 620], SNAP),
            key(0.5, [x, 560], "linear"),
            key(LENGTH_S - start, [x + 26, 480]),
        ],
    )


def _ground() -> list[dict[str, Any]]:
    night = looks(
        layer("night", "Night", "backdrop", 0, LENGTH_S, fill__colour=NIGHT),
        effects=(
            (
                "stripes",
                {"spacing": 26, "share": 8, "angle": 108, "colour": "#1b1f2c", "cover": "box"},
            ),
        ),
    )
    flag = looks(
        layer(
            "flag",
            "Flag",
            "shape",
            0.1,
            LENGTH_S,
            shape__size=[2300, 190],
            rotation=-4,
            fill__colour="#00000000",
            position=[
                key(0, [-1300, 1010], SNAP),
                key(0.6, [960, 972], "linear"),
                key(4.3, [1010, 968]),
            ],
        ),
        effects=(
            ("checker", {"size": [64, 64], "colour": CHALK, "ground": NIGHT, "cover": "box"}),
        ),
    )
    return [
        night,
        _bar("bar-1", "Flame bar", 0.0, FLAME, 1500, 520),
        _bar("bar-2", "Chalk bar", 0.08, CHALK, 1214, 34),
        _bar("bar-3", "Deep bar", 0.14, "#b8321a", 1800, 190),
        flag,
    ]


def _word(
    id: str, words: str, start: float, place: list[float], size: float, **more: Any
) -> dict[str, Any]:
    word = layer(
        id,
        words.title(),
        "text",
        start,
        LENGTH_S,
        text=words,
        text__font="anton",
        text__size=size,
        text__tracking=-6,
        text__align="left",
        position=place,
        fill__colour=CHALK,
        **more,
    )
    slam = {"start": 190, "easing": SNAP}
    return looks(
        moved(word, ("arrive", "grow", slam), ("dwell", "push-in", {"by": 4})),
        effects=(
            (
                "drop-shadow",
                {
                    "distance": 14,
                    "softness": 0,
                    "contact": 0,
                    "opacity": 100,
                    "colour": NIGHT,
                    "angle": 60,
                },
            ),
        ),
    )


def _words() -> list[dict[str, Any]]:
    return [
        _word("race", "RACE", RACE_S - 0.2, [116, 318], 410),
        _word("day", "DAY", DAY_S - 0.2, [116, 684], 410),
    ]


def _heat() -> list[dict[str, Any]]:
    """A counter of the heat, and where it starts."""
    number = layer(
        "heat",
        "Heat",
        "text",
        HEAT_S - 0.2,
        LENGTH_S,
        text="HEAT #",
        text__font="league-gothic",
        text__size=196,
        text__align="right",
        position=[1806, 250],
        fill__colour=NIGHT,
        number__shows="number",
        number__digits=2,
        number__rolls=True,
        number__value=[key(0, 1, "cubic-bezier(0.3, 0, 0.1, 1)"), key(1.2, 7)],
    )
    place = layer(
        "place",
        "Where",
        "text",
        HEAT_S,
        LENGTH_S,
        text="NORTH JETTY, 11:30",
        text__font="big-shoulders",
        text__weight=800,
        text__size=60,
        text__align="right",
        position=[1800, 384],
        fill__colour=CHALK,
    )
    by_letters = {
        "side": "bottom",
        "spread.over": "letters",
        "spread.each": 0.5,
        "spread.step-letters": 0.022,
    }
    slides = ("arrive", "slide", {"side": "right", "easing": SNAP})
    return [moved(number, slides), moved(place, ("arrive", "slide", by_letters))]


def _grade() -> dict[str, Any]:
    """Every landing shakes the lens for a few frames."""
    kicks = []
    for at in (RACE_S, DAY_S, HEAT_S):
        kicks += [key(at - 0.04, 0, "linear"), key(at, 6, "ease-out"), key(at + 0.16, 0, "hold")]
    return looks(
        layer("grade", "Grade", "treatment", 0, LENGTH_S),
        effects=(
            ("zoom-blur", {"amount": kicks, "centre": [-300, 0]}),
            (
                "colour-fringe",
                {"how": "out", "amount": [{**k, "value": k["value"] * 1.2} for k in kicks]},
            ),
            ("grain", {"amount": 5}),
        ),
    )
