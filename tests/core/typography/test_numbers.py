"""Numbers that run, against Python's own formatting, and in a text with runs."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import draw, key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Front, Property, Run, Shutter
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.typography.numbers import NumberForm, number_text, numbered, rolling

FINITE = st.floats(-1e12, 1e12, allow_nan=False)


@given(FINITE, st.integers(0, 6))
def test_numbers_are_as_pythons_own_format_has_them(value, decimals):
    ours = number_text(value, NumberForm(decimals=decimals, groups="comma"))
    theirs = f"{value:,.{decimals}f}"
    assert ours == (theirs.lstrip("-") if float(f"{value:.{decimals}f}") == 0 else theirs)


@pytest.mark.parametrize(
    ("value", "form", "said"),
    [
        (7, {"digits": 3}, "007"), (-7, {"digits": 3}, "-007"), (1234567.891, {"groups": "point", "comma": True, "decimals": 2}, "1.234.567,89"),
        (5, {"plus": True}, "+5"), (0, {"plus": True}, "0"), (-0.2, {}, "0"), (999.5, {"groups": "comma"}, "1,000"),
        (12345, {"groups": "apostrophe"}, "12’345"), (12, {"digits": 6, "groups": "comma"}, "000,012"),
        (90.0, {"shows": "time"}, "01:30"), (61.52, {"shows": "time", "pattern": "mm:ss:ff"}, "01:01:13"),
        (-3, {"shows": "time", "pattern": "ss"}, "-03"), (1e30, {}, "1000000000000000"),
    ],
)  # fmt: skip
def test_numbers_are_shown_as_they_are_wanted(value, form, said):
    assert number_text(value, NumberForm(**form)) == said


def test_a_number_stands_where_the_words_have_its_mark():
    assert numbered("€# of #%", "12").text == "€12 of 12%"
    assert numbered("", "12").text == numbered("Text", "12").text == "12"
    made = numbered("€# now", "1,000")
    assert made.text == "€1,000 now"
    assert [made.span(a, a + 1) for a in range(3)] == [(0, 1), (1, 6), (6, 7)]
    assert made.span(1, 99) == (1, 10)


def content(time_s, **more):
    made = layer(
        "count", "text", text="# kites", number__shows="number", text__size=40.0,
        number__value=[key(0, 100.0, "linear"), key(2, 0.0)], position=[160.0, 90.0], **more,
    )  # fmt: skip
    runs = (Run(id="r", first=0, last=1), Run(id="s", first=2, last=7))
    properties = {
        **made.properties,
        **layer("x", "text", run__r__weight=900.0, run__s__slant=9.0).properties,
    }
    made = made.model_copy(update={"runs": runs, "properties": properties})
    evaluator = SceneEvaluator(project(made), "reveal")
    return evaluator.layer(evaluator.find("count"), time_s).content


def test_a_countdown_runs_and_its_runs_go_along():
    for time_s, said in ((0.0, "100"), (1.0, "50"), (1.9, "5"), (2.0, "0")):
        shown = content(time_s)
        assert shown.text == f"{said} kites"
        assert [(run.first, run.last) for run in shown.style.runs] == [
            (0, len(said)), (len(said) + 1, len(said) + 6),
        ]  # fmt: skip
    assert content(0.0).style.letters.features == (("tnum", 1),)
    assert content(0.0, number__tabular=False).style.letters.features == ()


@pytest.mark.parametrize("value", ["NaN", 1e13])
def test_numbers_without_end_are_refused(value):
    from young_comet.errors import DocumentError

    with pytest.raises(DocumentError, match="number"):
        project(layer("count", "text", number__value=value))


@pytest.mark.parametrize(
    ("value", "more", "expected"),
    [
        (199.25, {}, ("199", "200", 0.25)), (7, {}, ("7", "7", 1.0)), (9.5, {}, ("\u20079", "10", 0.5)),
        (999.5, {"groups": "comma"}, ("\u2007\u2007999", "1,000", 0.5)),
        (-9.5, {}, ("\u2007-9", "-10", 0.5)), (-0.5, {}, ("\u20070", "-1", 0.5)),
        (1.234, {"decimals": 2}, ("1.23", "1.24", 0.4)), (0.999, {"decimals": 2}, ("0.99", "1.00", 0.9)),
        (5.5, {"digits": 4}, ("0005", "0006", 0.5)), (1e30, {}, ("1" + "0" * 15,) * 2 + (1.0,)),
        (2.9999999, {}, ("3", "3", 1.0)), (3.0000001, {}, ("3", "3", 1.0)),
    ],
)  # fmt: skip
def test_digits_roll_as_on_a_counter_of_wheels(value, more, expected):
    found = rolling(value, NumberForm(**more))
    assert (found.earlier, found.shown) == expected[:2]
    assert found.share == pytest.approx(expected[2], abs=1e-6)
    assert len(found.earlier) == len(found.shown)


@given(st.floats(-1e9, 1e9), st.integers(0, 4))
def test_a_rolling_number_lies_between_the_two_that_it_shows(value, decimals):
    found = rolling(value, NumberForm(decimals=decimals))
    a, b = (float(text.replace("\u2007", "")) for text in (found.earlier, found.shown))
    if found.share < 1:
        assert a + (b - a) * found.share == pytest.approx(value, abs=2e-6 + 1e-9 * abs(value))
        assert abs(b - a) == pytest.approx(10**-decimals, abs=1e-6)
    else:
        assert a == b == pytest.approx(value, abs=1.1e-6)


def counted(value, **more):
    usual = {"text__font": "archivo", "text__size": 80.0, "position": [160.0, 90.0]}
    number = {"number__shows": "number", "number__value": value, "number__rolls": True}
    usual |= {"text": "#", "fill__colour": "#ffffff", **number, **more}
    return project(layer("count", "text", **usual))


def test_a_wheel_is_the_two_digits_one_above_the_other():
    """Brute force: the pictures of both digits, shifted within the room of their line."""
    low, high = (draw(counted(float(n)))[..., 1].astype(int) for n in (18, 19))
    evaluator = SceneEvaluator(counted(18.0), "reveal")
    layout = evaluator.set_text(evaluator.layer(evaluator.find("count"), 0.0).content)
    (line,) = layout.lines
    top, foot = line.baseline - 0.86 * 80, line.baseline + 0.14 * 80
    share = 20 / (foot - top)  # by whole pixels
    rolled = draw(counted(18.0 + share))[..., 1].astype(int)
    a, b = round(90 + top), round(90 + foot)
    up = np.zeros_like(low)
    up[a : b - 20] = low[a + 20 : b]
    down = np.zeros_like(low)
    down[a + (b - a) - 20 : b] = high[a : a + 20]
    cell = slice(160, 320)
    apart = np.abs(np.maximum(up, down)[:, cell] - rolled[:, cell])
    assert (apart > 40).mean() < 0.004
    assert np.abs(rolled[:, :155] - low[:, :155]).max() <= 4, "the other digit stands"


@pytest.mark.parametrize("more", [
    {"text__path": "M20 90 C90 20 200 160 300 90"}, {"scale": [0.0, 0.0]}, {"text__size": 4000.0},
    {"position": [-500.0, 90.0]}, {"opacity": 40.0}, {"stroke__width": 4.0}, {"text": ""},
    {"text": "# of #"}, {"slices__kind": "strips"}, {"tilt": 50.0}, {"behind__across": "word"},
])  # fmt: skip
def test_rolling_digits_are_drawn_on_every_text(more):
    made = counted(99.5, **more)
    assert draw(check_project(made)).shape == (180, 320, 4)


def test_on_a_path_a_number_rolls_between_whole_ones():
    way = "M-100 0 C-50 -60 50 -60 100 0"
    for value, rolls in ((7.0, False), (7.4, True)):
        rolled = draw(counted(value, text__path=way))
        still = draw(counted(value, text__path=way, number__rolls=False))
        assert np.array_equal(rolled, still) != rolls


def test_rolling_digits_go_along_with_fronts_and_have_no_seam_in_motion_blur():
    keys = (key(0, 0.0), key(1, 100.0))
    made = counted(5.5, opacity=100.0)
    (text,) = made.scenes[0].layers
    own = {
        "front.f.offset": Property(value=(0.0, 30.0)), "front.f.progress": Property(keys=keys),
        "number.value": Property(keys=(key(0, 0.0), key(1, 40.0))),
    }  # fmt: skip
    text = text.model_copy(update={"fronts": (Front(id="f"),), "properties": text.properties | own})
    scene = made.scenes[0].model_copy(
        update={"layers": (text,), "shutter": Shutter(on=True, angle_deg=360.0)}
    )
    made = check_project(made.model_copy(update={"scenes": (scene,)}))
    for time_s in (0.0, 0.21, 0.52, 0.98, 1.5):
        assert draw(made, time_s=time_s)[..., 1].max() > 60
