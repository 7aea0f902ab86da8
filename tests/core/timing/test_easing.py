import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.timing import CubicBezier, easing_names, parse_easing
from young_comet.errors import DocumentError

unit = st.floats(0, 1)
free = st.floats(-3, 3)


def curve(easing, s):
    """The definition: x and y of the curve at its own parameter."""
    r = 1 - s
    x = 3 * r * r * s * easing.x1 + 3 * r * s * s * easing.x2 + s**3
    y = 3 * r * r * s * easing.y1 + 3 * r * s * s * easing.y2 + s**3
    return x, y


@given(unit, free, unit, free, st.floats(0.001, 0.999))
def test_a_cubic_bezier_is_solved_to_a_millionth(x1, y1, x2, y2, s):
    easing = CubicBezier(x1, y1, x2, y2)
    x, _ = curve(easing, s)
    found = easing.parameter(x)
    assert curve(easing, found)[0] == pytest.approx(x, abs=1e-6)


@given(unit, free, unit, free)
def test_it_agrees_with_a_dense_table_of_the_curve(x1, y1, x2, y2):
    easing = CubicBezier(x1, y1, x2, y2)
    s = np.linspace(0, 1, 20001)
    x, y = curve(easing, s)
    steep = np.diff(x) < 2e-6  # where the curve is upright a table cannot tell y from x
    for progress in (0.1, 0.37, 0.5, 0.81):
        near = np.searchsorted(x, progress)
        if steep[max(0, near - 3) : near + 3].any():
            continue
        assert easing.at(progress) == pytest.approx(np.interp(progress, x, y), abs=1e-4)


def test_known_values_of_the_css_keywords():
    # Solved by hand: ease-in-out is symmetric; ease-in and ease-out mirror each other.
    assert parse_easing("ease-in-out").at(0.5) == pytest.approx(0.5, abs=1e-9)
    for progress in (0.1, 0.3, 0.7):
        into, out = parse_easing("ease-in").at(progress), parse_easing("ease-out").at(1 - progress)
        assert into == pytest.approx(1 - out, abs=1e-7)
    assert parse_easing("ease").at(0.5) == pytest.approx(0.8024, abs=1e-4)
    assert parse_easing("linear").at(0.3) == 0.3


@pytest.mark.parametrize("name", easing_names())
def test_every_easing_starts_at_0_and_ends_at_1(name):
    easing = parse_easing(name)
    assert easing.at(0.0) == 0.0
    assert easing.at(1.0) == 1.0


def test_hold_keeps_the_first_value_until_the_end():
    assert parse_easing("hold").at(0.999999) == 0.0


def test_overshoot_leaves_the_range():
    assert max(parse_easing("cubic-bezier(0.3, 1.6, 0.6, 1)").at(i / 50) for i in range(51)) > 1.05


def test_softness_tells_the_tails_of_comets():
    soft = parse_easing("ease-in-out")
    assert soft.leave > 0.3 and soft.arrive > 0.3
    assert parse_easing("ease-in").arrive == 0 and parse_easing("ease-out").leave == 0
    assert parse_easing("linear").leave == 0


@pytest.mark.parametrize(
    "text",
    ["", "bounce!", "cubic-bezier(1,2,3)", "cubic-bezier(1.2, 0, 0.5, 1)", "cubic-bezier(a,b,c,d)",
     "cubic-bezier(nan, 0, 1, 1)", "cubic-bezier(0, inf, 1, 1)", "__import__('os')"],
)  # fmt: skip
def test_unknown_easings_are_refused(text):
    with pytest.raises(DocumentError, match="easing"):
        parse_easing(text)
