"""SVG made plain: what is followed, what is named, and what cannot do harm."""

from __future__ import annotations

import time

import numpy as np
import pytest

from young_comet.core.media import Notes, check_svg, draw_svg, shapes_of
from young_comet.core.media.vector.lengths import Measures
from young_comet.errors import MediaError


def svg(body, attributes='width="60" height="40"'):
    return f'<svg xmlns="http://www.w3.org/2000/svg" {attributes}>{body}</svg>'.encode()


def notes_of(body):
    notes = Notes()
    check_svg(svg(body), notes)
    return notes.said()


@pytest.mark.parametrize(
    ("body", "word"),
    [
        ('<rect width="9" height="9"><animate attributeName="x" to="9" dur="1s"/></rect>', "animations"),
        ("<style>@font-face { font-family: Kite; src: url(x) }</style>", "typefaces"),
        ("<style>@import 'week.css';</style>", "style sheets"),
        ("<style>@layer sea { rect { fill: red } }</style>", "@layer"),
        ("<style>rect:::x { fill: red }</style>", "selector"),
        ("<foreignObject><p>Kite Week</p></foreignObject>", "foreign"),
        ('<rect width="9" height="9" fill="windy"/>', "windy"),
        ('<use href="#nowhere"/>', "not there"),
        ('<rect width="9" height="9" style="transform: rotateX(20deg)"/>', "rotatex()"),
        ('<rect width="9" height="9" style="transform: sway(20deg"/>', "sway()"),
        ('<text style="transform-box: fill-box; transform: rotate(9deg); transform-origin: center">K</text>', "box"),
    ],
)  # fmt: skip
def test_what_is_not_followed_is_named(body, word):
    said = " ".join(notes_of(body))
    assert word in said


def test_a_clean_drawing_says_nothing():
    assert notes_of('<rect width="9" height="9" style="fill: var(--sea, #123b5d)"/>') == ()


@pytest.mark.parametrize(
    ("text", "name", "px"),
    [("12", "x", 12), ("25%", "x", 50), ("25%", "height", 25), ("1in", "x", 96), ("2em", "x", 40),
     ("10vw", "y", 30), ("calc(50% - 2 * (3px + 1px))", "width", 92), ("min(10px, 4%)", "x", 8),
     ("clamp(1px, 30px, 20px)", "x", 20), ("calc(1px / 0)", "x", None), ("auto", "rx", None),
     ("calc(10px -4px)", "x", 6), ("soon", "x", None), ("100%", "r", (200**2 + 100**2) ** 0.5 / 2**0.5)],
)  # fmt: skip
def test_lengths(text, name, px):
    found = Measures((200.0, 100.0), 20.0, (300.0, 200.0)).length(text, name)
    assert found == (None if px is None else pytest.approx(px))


def test_variables_are_taken_over_by_what_is_used():
    body = """<defs><rect id="r" width="20" height="40" fill="var(--sail, #00ff00)"/></defs>
    <use href="#r"/><use href="#r" x="20" style="--sail: #ff0000"/>
    <g style="--deep: #0000ff"><use href="#r" x="40" style="--sail: var(--deep)"/></g>"""
    pixels = draw_svg(svg(body), 1.0)
    assert [tuple(pixels[20, x, :3]) for x in (10, 30, 50)] == [
        (0, 255, 0),
        (0, 0, 255),
        (255, 0, 0),
    ]


def test_what_cannot_be_filled_in_counts_as_not_said():
    """CSS Variables 1, 3.1: a declaration whose variable is in a circle is as if unset."""
    body = '<g fill="#ff0000"><rect width="60" height="40" style="--a: var(--b); --b: var(--a); fill: var(--a)"/></g>'
    assert tuple(draw_svg(svg(body), 1.0)[20, 30]) == (0, 0, 255, 255)


@pytest.mark.parametrize(
    "body",
    [
        "<style>:root {" + "".join(f"--v{i}: var(--v{i + 1}) var(--v{i + 1}) var(--v{i + 1});" for i in range(12))
        + "--v12: } rect { fill: var(--v0) }</style><rect width='9' height='9'/>",
        "<style>" + "*:not(* *) + * ~ * { fill: red }" * 200 + "</style>" + "<g/>" * 2000,
        "<style>" + "a" * 200_000 + "</style><rect width='9' height='9'/>",
        "<style>" + "{" * 3 + "(" * 5000 + "</style><rect width='9' height='9'/>",
        '<rect width="9" height="9" style="width: ' + "calc(" * 3000 + '"/>',
        "<g>" * 90 + '<rect width="9" height="9"/>' + "</g>" * 90,
        '<rect width="9" height="9" transform="scale(1e300) scale(1e300)"/>',
        '<path d="M1 1h1" stroke="red" stroke-dasharray="1" pathLength="1e-300"/>',
        '<marker id="m"><path d="M0 0h1" marker-end="url(#m)"/></marker><path d="M0 0h9" marker-end="url(#m)"/>',
        '<svg width="1e9" height="-4" viewBox="0 0 1e-9 1"><rect width="9" height="9"/></svg>',
        '<circle r="9" style="r: 1e39px; cx: -1e300px"/>',
    ],
    ids=range(11),
)  # fmt: skip
def test_hostile_styles_take_little_time_and_do_no_harm(body):
    began = time.monotonic()
    for read in (check_svg, shapes_of):
        try:
            read(svg(body))
        except MediaError as error:
            assert str(error)
    assert time.monotonic() - began < 20


def test_a_self_crossing_path_keeps_its_holes_as_a_shape():
    """A pentagram by the even-odd rule: its middle is open, its points are filled."""
    star = '<path d="M50 5 L85 95 L5 35 H95 L15 95 Z" fill-rule="evenodd"/>'
    (part,) = shapes_of(svg(star, 'width="100" height="100"')).parts
    from young_comet.core.geometry.outline import from_svg_path

    outline = from_svg_path(part.path)
    assert not outline.contains((0.0, 5.0)) and outline.contains((0.0, -25.0))
    assert outline.contains((-18.0, -10.0))


def test_markers_and_dots_become_shapes():
    body = """<marker id="tip" orient="auto" refY="1.5" viewBox="0 0 3 3"><path d="M0 0 L3 1.5 L0 3 Z" fill="#e4572e"/></marker>
    <path id="way" d="M5 5 H50" stroke="#123b5d" stroke-width="4" marker-end="url(#tip)"/>
    <path d="M20 30 h0" stroke="#1d7874" stroke-width="8" stroke-linecap="round"/>"""
    parts = shapes_of(svg(body)).parts
    assert [p.name for p in parts] == ["way", "path", "path"] and parts[1].fill == "#e4572e"
    dot = next(p for p in parts if p.cap == "round")
    assert dot.stroke_width == 8 and dot.path


def test_a_wide_drawing_is_the_same_twice():
    data = svg('<rect width="100%" height="50%" fill="oklch(60% 0.1 200)"/>')
    assert np.array_equal(draw_svg(data, 2.0), draw_svg(data, 2.0))
