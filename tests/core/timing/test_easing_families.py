"""Families, springs, steps and stops, against definitions written out independently."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.timing import parse_easing, resolve_easing
from young_comet.core.timing.easings import (
    LinearStops,
    SoftSpring,
    Spring,
    Steps,
    easing_names,
    family_names,
    gallery,
)
from young_comet.errors import DocumentError

ALL = [entry.text for entry in gallery()] + ["back-in-out(0.4)", "elastic-out(1.5, 0.2)", "reversed(spring(0.5))",
       "spring(0.6, 0.4s)", "spring(40, 3, 2)", "steps(5, jump-both)", "steps(3, jump-none)", "steps(2, start)"]  # fmt: skip


@pytest.mark.parametrize("text", ALL)
def test_every_easing_has_its_ends_and_reads_back_from_its_text(text):
    easing = parse_easing(text)
    # A step that jumps at its start has left its first value at once, as CSS has it.
    assert easing.at(0.0) == pytest.approx(0.0, abs=1e-12) or easing.tail == "steps"
    assert easing.at(1.0) == 1.0
    assert parse_easing(easing.text) == easing
    assert 0 <= easing.leave <= 1 and 0 <= easing.arrive <= 1


@pytest.mark.parametrize("text", ALL)
def test_played_backwards_twice_is_the_same_and_once_is_the_mirror(text):
    easing = parse_easing(text)
    back = easing.reversed()
    assert parse_easing(back.reversed().text) == parse_easing(easing.text)
    for i in range(1, 40):
        p = i / 40 + 1e-4
        assert back.at(p) == pytest.approx(1 - easing.at(1 - p), abs=1e-6)


@pytest.mark.parametrize("text", ALL)
def test_many_at_once_are_the_same_as_one_by_one(text):
    easing = parse_easing(text)
    progress = np.linspace(0, 1, 37)
    assert easing.at_many(progress) == pytest.approx([easing.at(p) for p in progress], abs=1e-8)


def test_families_against_their_formulas():
    t = 0.3
    expected = {
        "sine-in": 1 - math.cos(t * math.pi / 2), "sine-out": math.sin(t * math.pi / 2),
        "sine-in-out": (1 - math.cos(math.pi * t)) / 2, "quad-in": t**2, "cubic-out": 1 - (1 - t) ** 3,
        "quart-in": t**4, "quint-in-out": 16 * t**5, "circ-in": 1 - math.sqrt(1 - t * t),
        "expo-in": 2 ** (10 * t - 10), "bounce-out": 7.5625 * t * t,
        "back-in": t * t * (2.70158 * t - 1.70158),
    }  # fmt: skip
    for name, value in expected.items():
        assert parse_easing(name).at(t) == pytest.approx(value, abs=1e-3), name


@pytest.mark.parametrize("overshoot", [0.0, 0.05, 0.1, 0.5, 2.0])
def test_back_swings_out_by_what_it_says(overshoot):
    easing = parse_easing(f"back-out({overshoot})")
    assert max(easing.at(i / 5000) for i in range(5001)) == pytest.approx(1 + overshoot, abs=1e-4)


def test_exact_handles_of_powers_are_the_same_curve():
    for name in ("quad-in", "quad-out", "cubic-in", "cubic-out"):
        family = parse_easing(name)
        bezier = parse_easing("cubic-bezier({}, {}, {}, {})".format(*family.handles))
        assert [bezier.at(i / 20) for i in range(21)] == pytest.approx(
            [family.at(i / 20) for i in range(21)], abs=1e-9
        )


def spring_by_steps(stiffness, damping, mass, times):
    """The differential equation integrated by Runge and Kutta's method."""
    x, v, t, h, found = 0.0, 0.0, 0.0, 2e-4, []

    def pull(x, v):
        return (-stiffness * (x - 1) - damping * v) / mass

    for goal in times:
        while t < goal - 1e-12:
            step = min(h, goal - t)
            k1, l1 = v, pull(x, v)
            k2, l2 = v + step / 2 * l1, pull(x + step / 2 * k1, v + step / 2 * l1)
            k3, l3 = v + step / 2 * l2, pull(x + step / 2 * k2, v + step / 2 * l2)
            k4, l4 = v + step * l3, pull(x + step * k3, v + step * l3)
            x += step / 6 * (k1 + 2 * k2 + 2 * k3 + k4)
            v += step / 6 * (l1 + 2 * l2 + 2 * l3 + l4)
            t += step
        found.append(x)
    return found


@pytest.mark.parametrize(
    ("stiffness", "damping", "mass"),
    [(170, 26, 1), (120, 6, 1), (100, 20, 1), (100, 40, 1), (60, 4, 3)],
)
def test_springs_follow_their_differential_equation(stiffness, damping, mass):
    spring, duration = Spring(stiffness, damping, mass), 1.4
    times = [duration * i / 20 for i in range(20)]
    expected = spring_by_steps(stiffness, damping, mass, times)
    assert [spring.at(t / duration, duration) for t in times] == pytest.approx(expected, abs=1e-6)


@given(st.floats(0, 0.95), st.floats(0.1, 4))
def test_a_soft_spring_has_settled_when_it_says(bounce, settle):
    timed = SoftSpring(bounce, settle)
    whole = SoftSpring(bounce)
    for p in (0.999, 0.9999):
        assert abs(whole.at(p, 2.0) - 1) < 0.0015
    assert abs(timed.at(0.9999, settle) - 1) < 0.0015
    assert timed.at(0.4, 2 * settle) == pytest.approx(whole.at(0.8, settle), abs=1e-9)
    swing = max(whole.at(i / 400) for i in range(401))
    assert (swing > 1.0005) == (
        math.exp(-math.pi * (1 - bounce) / math.sqrt(max(1e-9, 1 - (1 - bounce) ** 2))) > 5e-4
    ) or bounce < 0.1


def test_steps_jump_where_css_says():
    p = [0.0, 0.24, 0.25, 0.5, 0.99]
    assert [Steps(4).at(x) for x in p] == [0, 0, 0.25, 0.5, 0.75]
    assert [Steps(4, "start").at(x) for x in p] == [0.25, 0.25, 0.5, 0.75, 1]
    assert [Steps(4, "jump-none").at(x) for x in p] == pytest.approx([0, 0, 1 / 3, 2 / 3, 1])
    assert [Steps(4, "jump-both").at(x) for x in p] == pytest.approx([0.2, 0.2, 0.4, 0.6, 0.8])


def test_stops_without_places_are_spread_and_never_go_back():
    assert parse_easing("linear(0, 0.25, 1)").at(0.5) == pytest.approx(0.25)
    assert parse_easing("linear(0, 0.25 75%, 1)").at(0.75) == pytest.approx(0.25)
    assert parse_easing("linear(0, 0.5 20% 40%, 1)").at(0.3) == pytest.approx(0.5)
    assert isinstance(parse_easing("linear(0, 0.9 80%, 0.2 10%, 1)"), LinearStops)


def test_names_of_families_are_listed():
    assert len(family_names()) == 30 and "elastic-in-out" in family_names()
    assert set(easing_names()) <= {entry.text for entry in gallery()}


@pytest.mark.parametrize(
    ("text", "start", "end"),
    [("linear(0.2, 1)", 0.2, 1.0), ("linear(0, 0.7)", 0.0, 0.7), ("linear(-0.5, 0.5 50%, 2)", -0.5, 2.0),
     ("linear(0 20%, 1 70%)", -0.4, 1.6), ("linear(0 0%, 0.3 0%, 1)", 0.3, 1.0)],
)  # fmt: skip
def test_linear_stops_may_begin_and_end_elsewhere(text, start, end):
    easing = parse_easing(text)
    assert easing.at(0.0) == pytest.approx(start) and easing.at(1.0) == pytest.approx(end)
    assert easing.at(-3) == easing.at(0.0) and easing.at(4) == easing.at(1.0)
    assert easing.reversed().at(0.0) == pytest.approx(1 - end)


def test_saved_easings_are_looked_up_and_lost_ones_are_linear():
    assert resolve_easing("easing:gull", {"gull": "sine-in"}).text == "sine-in"
    assert resolve_easing("easing:ghost", {}).text == "linear"


@pytest.mark.parametrize(
    "text",
    ["sine", "sine-over", "back-out(9)", "back-out(0.1, 2)", "elastic-out(0.5)", "spring()", "spring(2)", "spring(1,2)",
     "spring(0, 0, 0)", "spring(nan)", "steps(0)", "steps(1, jump-none)", "steps(2.5)", "steps(3, sideways)", "linear(1)",
     "linear(0, x, 1)", "linear(0, nan, 1)", "linear(0, 1 2 3, 4)", "reversed(what)", "reversed(" * 40, "linear(" + "0, " * 900 + "1)",
     "spring(0.2, 0s)", "bounce-out(3)", "cubic-bezier(0,0,1,1" + ")" * 30],
)  # fmt: skip
def test_what_is_no_easing_is_refused(text):
    with pytest.raises(DocumentError):
        parse_easing(text)
