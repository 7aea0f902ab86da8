"""Numbers that run, against Python's own formatting, and in a text with runs."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import key, layer, project

from young_comet.core.model import Run
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.typography.numbers import NumberForm, number_text, numbered

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
