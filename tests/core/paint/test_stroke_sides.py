"""Strokes on the outline, outside, inside and beneath the fill: against areas worked out by number,
and against another renderer of the same as SVG."""

import numpy as np
import pytest
from tests.build import draw, layer, project
from tests.core.export.test_svg_of_a_frame import assert_near, both

from young_comet.core.catalog import check_project
from young_comet.core.model import Part, Property

SIDES = ("centre", "outside", "inside", "beneath")


def square(side, **more):
    values = {
        "shape__kind": "rectangle", "shape__size": [80.0, 60.0], "position": [160.0, 90.0],
        "fill__colour": "#0000ff", "stroke__colour": "#ff0000", "stroke__width": 10.0,
        "stroke__side": side, **more,
    }  # fmt: skip
    return check_project(project(layer("box", "shape", **values)))


def areas(pixels):
    """How many pixels are red, and how many blue."""
    red = (pixels[..., 2] > 128) & (pixels[..., 0] < 128)
    blue = (pixels[..., 0] > 128) & (pixels[..., 2] < 128)
    return int(red.sum()), int(blue.sum())


@pytest.mark.parametrize(("side", "red", "blue"), [
    ("centre", 90 * 70 - 70 * 50, 70 * 50), ("outside", 100 * 80 - 80 * 60, 80 * 60),
    ("inside", 80 * 60 - 60 * 40, 60 * 40), ("beneath", 90 * 70 - 80 * 60, 80 * 60),
])  # fmt: skip
def test_a_stroke_covers_its_side_of_the_outline(side, red, blue):
    assert areas(draw(square(side))) == (red, blue)


def test_without_a_fill_outside_and_inside_are_halves_of_a_stroke_twice_as_wide():
    whole = draw(square("centre", fill__on=False, stroke__width=20.0))[..., 2].astype(int)
    halves = sum(draw(square(s, fill__on=False))[..., 2].astype(int) for s in ("outside", "inside"))
    assert np.abs(halves - whole).max() <= 2
    assert areas(draw(square("beneath", fill__on=False))) == areas(
        draw(square("centre", fill__on=False))
    )


def test_no_seam_shows_between_a_solid_fill_and_the_stroke_outside_it():
    pixels = draw(square("outside", rotation=17.0, stroke__colour="#0000ff"))
    inner = draw(square("outside", rotation=17.0, stroke__width=0.0))[..., 0] > 0
    assert pixels[..., 0][inner].min() == 255


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("more", [
    {}, {"opacity": 50.0, "fill__colour": "#0000ff80"}, {"shape__kind": "star", "shape__radius": 60.0},
    {"stroke__fixed": True, "scale": [150.0, 60.0]}, {"stroke__dash": "14 9", "rotation": 30.0},
    {"stroke__join": "round", "skew": [30.0, 0.0]}, {"fill__on": False, "drawn__to": 60.0},
    {"scale": [-100.0, 100.0]},
    {"fill__kind": "linear", "fill__stops": [[0.0, "#0000ff00"], [1.0, "#00ff00"]]},
])  # fmt: skip
def test_sides_are_drawn_alike_by_another_renderer(side, more):
    text, theirs, ours, gone = both(square(side, **more))
    assert not gone and "<image" not in text
    assert_near(theirs, ours, mean=0.8, far=0.006)


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("more", [
    {"text": "Kite\nWeek"}, {"text": ""}, {"text__size": 3000.0}, {"scale": [0.0, 0.0]},
    {"position": [-600.0, 90.0]}, {"tilt": 60.0}, {"fill__across": "word", "fill__kind": "linear"},
    {"text__path": "M20 90 C90 20 200 160 300 90"}, {"slices__kind": "strips"},
])  # fmt: skip
def test_every_text_has_them(side, more):
    values = {"text": "Kite", "text__size": 70.0, "position": [160.0, 90.0], "stroke__width": 6.0}
    made = layer("title", "text", **{**values, "stroke__side": side, **more})
    assert draw(check_project(project(made))).shape == (180, 320, 4)


def test_of_letters_the_stroke_lies_outside_all_of_them():
    """Letters that overlap are outlined as one."""
    values = {"text": "HHH", "text__size": 90.0, "text__tracking": -350.0, "position": [160.0, 90.0],
              "fill__colour": "#0000ff", "stroke__colour": "#ff0000"}  # fmt: skip
    bare = draw(check_project(project(layer("t", "text", **values))))
    sided = draw(
        check_project(
            project(layer("t", "text", **values, stroke__width=5.0, stroke__side="outside"))
        )
    )
    assert areas(sided)[1] == pytest.approx(areas(bare)[1], abs=60)
    assert areas(sided)[0] > 1500


@pytest.mark.parametrize(("side", "reach"), [
    ("centre", 5), ("outside", 10), ("inside", 0), ("beneath", 5),
])  # fmt: skip
def test_a_second_outline_goes_so_far_beyond_the_stroke(side, reach):
    pixels = draw(square(side, stroke__outer=6.0, stroke__outer_colour="#00ff00"))
    green = int(((pixels[..., 1] > 128) & (pixels[..., 2] < 128)).sum())
    inner = (80 + 2 * reach) * (60 + 2 * reach)
    assert green == (80 + 2 * reach + 12) * (60 + 2 * reach + 12) - inner
    assert areas(pixels) == areas(draw(square(side)))
    alone = draw(square(side, stroke__width=0.0, stroke__outer=6.0, stroke__outer_colour="#00ff00"))
    round_corner = 4 * 36 * (1 - np.pi / 4)
    expected = 92 * 72 - 80 * 60 - round_corner
    assert (alone[..., 1] > 128).sum() == pytest.approx(expected, abs=12)


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("more", [
    {}, {"opacity": 40.0}, {"shape__kind": "star", "shape__radius": 50.0}, {"stroke__width": 0.0},
    {"stroke__fixed": True, "scale": [150.0, 60.0]}, {"fill__on": False, "drawn__to": 60.0},
])  # fmt: skip
def test_second_outlines_are_drawn_alike_by_another_renderer(side, more):
    more = {"stroke__outer": 9.0, "stroke__outer_colour": "#00c800", **more}
    text, theirs, ours, gone = both(square(side, **more))
    assert not gone and "<image" not in text
    assert_near(theirs, ours, mean=0.8, far=0.006)


def test_a_fill_does_not_show_along_a_stroke_inside_it():
    pixels = draw(square("inside", rotation=17.0, fill__colour="#00ff00"))
    red = draw(square("inside", rotation=17.0, stroke__width=200.0, fill__colour="#00ff00"))[..., 2]
    edge = (red > 0) & (red < 255)
    assert pixels[..., 1][edge].max() == 0


@pytest.mark.parametrize("side", SIDES)
def test_a_line_has_no_sides(side):
    values = {"shape__kind": "line", "stroke__width": 10.0, "position": [160.0, 90.0]}
    lines = [
        draw(check_project(project(layer("l", "shape", **values, stroke__side=each))))
        for each in (side, "centre")
    ]
    assert lines[0][..., 1].any() and np.array_equal(*lines)


@pytest.mark.parametrize("side", SIDES)
def test_parts_of_a_drawing_have_sides_of_their_own(side):
    made = layer("box", "shape", shape__kind="drawing", position=[160.0, 90.0])
    own = {"path": "M-40 -30 H40 V30 H-40 Z", "fill.colour": "#0000ff", "stroke.colour": "#ff0000",
           "stroke.width": 10.0, "stroke.side": side, "stroke.outer": 4.0}  # fmt: skip
    properties = made.properties | {f"part.p.{k}": Property(value=v) for k, v in own.items()}
    update = {"parts": (Part(id="p", name="Sail"),), "properties": properties}
    drawn = draw(check_project(project(made.model_copy(update=update))))
    alike = draw(square(side, stroke__outer=4.0))
    assert areas(drawn) == areas(alike)
