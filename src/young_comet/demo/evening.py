"""A quiet editorial title: an evening's programme, in a large italic on paper."""

from __future__ import annotations

from typing import Any

from .parts import again, key, layer, looks, moved, scene, stack

ID = "evening-programme"
LENGTH_S = 6.0
INK, PAPER, RUST = "#1f2a33", "#f3ede1", "#b4512f"


def evening_programme() -> list[dict[str, Any]]:
    """The edits that build the scene."""
    return [
        scene(ID, "Evening programme", LENGTH_S),
        {"kind": "change-scene", "scene": ID, "shutter": {"on": True, "angle_deg": 180}},
        stack(ID, [_paper(), *_kites(), *_words(), _grain()]),
    ]


def _paper() -> dict[str, Any]:
    return looks(
        layer("paper", "Paper", "backdrop", 0, LENGTH_S, fill__colour=PAPER),
        effects=(
            ("texture", {"kind": "paper", "contrast": 45, "scale": 12, "cover": "box"}),
            ("vignette", {"amount": 16, "size": 55, "softness": 90, "colour": "#6b4a2f"}),
        ),
    )


def _kites() -> list[dict[str, Any]]:
    """Three kites as flat forms, each on a line of its own that is drawn up to it."""
    found = []
    places = (
        (1452, 292, 118, RUST, 0.1),
        (1676, 468, 84, INK, 0.3),
        (1296, 520, 62, "#c98a3c", 0.5),
    )
    for n, (x, y, size, colour, later) in enumerate(places, start=1):
        line = layer(
            f"line-{n}",
            f"Line {n}",
            "shape",
            later,
            LENGTH_S,
            shape__kind="path",
            shape__path=f"M{x} {y + size} C{x - 60} {y + 260} {x + 30 * n} 900 "
            f"{1180 + 60 * n} 1120",
            position=[0, 0],
            fill__on=False,
            stroke__width=2,
            stroke__colour=colour,
            opacity=70,
            drawn__from=[key(0, 100, "cubic-bezier(0.3, 0, 0.2, 1)"), key(1.5, 0)],
            drawn__to=100,
        )
        kite = layer(
            f"kite-{n}",
            f"Kite {n}",
            "shape",
            later + 0.5,
            LENGTH_S,
            shape__kind="path",
            shape__path=f"M0 {-size} L{0.62 * size} {-0.2 * size} L0 {size} "
            f"L{-0.62 * size} {-0.2 * size} Z",
            position=again(
                "there-and-back",
                [
                    key(0, [x, y], "ease-in-out"),
                    key(2.6 + 0.3 * n, [x + 8, y - 12]),
                ],
            ),
            rotation=again(
                "there-and-back",
                [
                    key(0, 4 - 5 * n, "ease-in-out"),
                    key(2.1 + 0.4 * n, 9 - 5 * n),
                ],
            ),
            fill__colour=colour,
        )
        arrives = {"start": 0, "easing": "cubic-bezier(0.22, 0.8, 0.2, 1)"}
        found += [line, moved(kite, ("arrive", "grow", arrives))]
    return found


def _words() -> list[dict[str, Any]]:
    end = LENGTH_S - 0.2
    head = layer(
        "head",
        "Gullwing Bay",
        "text",
        0.2,
        end,
        text="GULLWING BAY KITE WEEK",
        text__font="ibm-plex-sans",
        text__weight=500,
        text__size=30,
        text__tracking=190,
        text__align="left",
        position=[170, 176],
        fill__colour=INK,
    )
    rule = layer(
        "rule",
        "Rule",
        "shape",
        0.3,
        end,
        shape__kind="line",
        shape__start=[0, 0],
        shape__end=[690, 0],
        position=[170, 224],
        fill__on=False,
        stroke__width=2,
        stroke__colour=INK,
        drawn__to=[key(0, 0, "cubic-bezier(0.16, 1, 0.3, 1)"), key(1.1, 100)],
    )
    title = layer(
        "title",
        "An evening",
        "text",
        0.45,
        end,
        text="An evening\nof quiet\nkites",
        text__font="instrument-serif-italic",
        text__size=208,
        text__leading=93,
        text__tracking=-14,
        text__align="left",
        position=[156, 568],
        fill__colour=INK,
    )
    foot = layer(
        "foot",
        "When and where",
        "text",
        1.5,
        end,
        text="Saturday from seven,\non the east dunes",
        text__font="ibm-plex-sans-italic",
        text__weight=400,
        text__size=38,
        text__leading=132,
        text__align="left",
        position=[172, 938],
        fill__colour=RUST,
    )
    away: tuple[str, str, dict[str, Any]] = ("leave", "fade", {})
    by_letters = {
        "spread.over": "letters",
        "spread.each": 1.1,
        "spread.step-letters": 0.035,
        "blur": 10,
        "scale": 102,
        "easing": "cubic-bezier(0.22, 0.8, 0.2, 1)",
    }
    lines = {"side": "bottom", "spread.over": "lines", "spread.each": 0.9}
    return [
        moved(head, ("arrive", "fade", {}), away),
        rule,
        moved(
            title, ("arrive", "focus", by_letters), ("leave", "focus", {"blur": 12, "scale": 101})
        ),
        moved(foot, ("arrive", "slide", lines), away),
    ]


def _grain() -> dict[str, Any]:
    return looks(
        layer("grain", "Grain", "treatment", 0, LENGTH_S), effects=(("grain", {"amount": 3}),)
    )
