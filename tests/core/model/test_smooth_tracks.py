"""Tracks with smooth keys, repeats, an even pace; the direction of travel."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.model import Cycle, Key, Kind, Track
from young_comet.core.timing import parse_easing

LINEAR, SOFT = parse_easing("linear"), parse_easing("ease-in-out")


def numbers(*pairs, smooth=False, easing="linear", cycle=None):
    keys = [Key(t, float(v), parse_easing(easing), smooth=smooth) for t, v in pairs]
    return Track(Kind.NUMBER, keys, cycle)


def points(*rows, cycle=None, even=False, smooth=False):
    keys = []
    for time_s, value, *handles in rows:
        into, out = handles or ((0.0, 0.0), (0.0, 0.0))
        keys.append(Key(time_s, value, LINEAR, into, out, smooth))
    return Track(Kind.POINT, keys, cycle, even=even)


def slope(track, t, side):
    a, b = (t, t + 1e-6) if side > 0 else (t - 1e-6, t)
    return (track.at(b) - track.at(a)) / 1e-6


# Smooth keys


def test_three_keys_on_a_line_are_passed_at_one_speed():
    track = numbers((0, 0), (1, 50), (2, 100), smooth=True)
    assert track.through_speed(1) == pytest.approx(50)
    assert slope(track, 1, -1) == pytest.approx(50, rel=1e-3)
    assert slope(track, 1, 1) == pytest.approx(50, rel=1e-3)


def test_a_turning_point_rests():
    track = numbers((0, 0), (1, 50), (2, 10), smooth=True)
    assert track.through_speed(1) == 0
    assert max(track.at(i / 100) for i in range(201)) == 50


def test_the_first_and_last_key_keep_their_own_easing():
    track = numbers((0, 0), (1, 50), (2, 100), smooth=True, easing="ease-in-out")
    assert slope(track, 0, 1) == pytest.approx(0, abs=0.1)
    assert slope(track, 2, -1) == pytest.approx(0, abs=0.1)
    assert track.through_speed(0) is None and track.through_speed(2) is None


@given(
    st.lists(st.floats(0.05, 60), min_size=2, max_size=8),
    st.lists(st.floats(0.1, 2), min_size=8, max_size=8),
)
def test_rising_keys_give_a_rising_curve(rises, gaps):
    times = [sum(gaps[:i]) for i in range(len(rises))]
    values = [sum(rises[: i + 1]) for i in range(len(rises))]
    track = numbers(*zip(times, values, strict=True), smooth=True)
    sampled = [track.at(times[0] + (times[-1] - times[0]) * i / 300) for i in range(301)]
    assert all(b >= a - 1e-7 for a, b in itertools.pairwise(sampled))


def test_speeds_are_the_weighted_harmonic_mean():
    # Fritsch and Butland for h = (1, 2) and slopes (10, 40), worked out by hand.
    track = numbers((0, 0), (1, 10), (3, 90), smooth=True)
    w0, w1 = 2 * 2 + 1, 2 + 2 * 1
    assert track.through_speed(1) == pytest.approx((w0 + w1) / (w0 / 10 + w1 / 40))


def test_beside_a_hold_a_smooth_key_rests_and_beside_a_spring_it_takes_its_speed():
    hold = Track(
        Kind.NUMBER,
        [
            Key(0, 0.0, parse_easing("hold")),
            Key(1, 10.0, LINEAR, smooth=True),
            Key(2, 30.0, LINEAR),
        ],
    )
    assert hold.through_speed(1) == 0
    bounce = Track(
        Kind.NUMBER,
        [
            Key(0, 0.0, parse_easing("quint-in")),
            Key(1, 10.0, LINEAR, smooth=True),
            Key(2, 30.0, LINEAR),
        ],
    )
    assert bounce.through_speed(1) == pytest.approx(50, rel=1e-2)


def test_a_bend_costs_speed_by_its_cosine():
    straight = points((0, (0, 0)), (1, (100, 0)), (2, (200, 0)), smooth=True)
    bent = points(
        (0, (0, 0)),
        (1, (100, 0)),
        (2, (100 + 100 * math.cos(0.5), 100 * math.sin(0.5))),
        smooth=True,
    )
    back = points((0, (0, 0)), (1, (100, 0)), (2, (0, 0)), smooth=True)
    assert straight.through_speed(1) == pytest.approx(100)
    assert bent.through_speed(1) == pytest.approx(100 * math.cos(0.5))
    assert back.through_speed(1) == 0


def test_colours_pass_smoothly_too():
    grey = lambda v: (v, v, v, 1.0)  # noqa: E731
    keys = [Key(t, grey(v), SOFT, smooth=True) for t, v in ((0, 0.0), (1, 0.4), (2, 1.0))]
    track = Track(Kind.COLOUR, keys)
    before, after = track.at(1 - 1e-5)[0], track.at(1 + 1e-5)[0]
    speed = (after - before) / 2e-5
    assert 0.3 < speed < 0.7


# Repeats


@given(st.sampled_from(["loop", "there-and-back", "build-on"]), st.floats(0, 9.99))
def test_repeats_agree_with_their_definitions(mode, t):
    track = numbers((0, 10), (0.5, 40), (2, 20), easing="ease-in-out", cycle=Cycle(mode))
    once = numbers((0, 10), (0.5, 40), (2, 20), easing="ease-in-out")
    turn, rest = divmod(t, 2.0)
    if mode == "there-and-back" and turn % 2:
        rest = 2.0 - rest
    expected = once.at(rest) + (turn * 10 if mode == "build-on" else 0)
    if min(rest, 2 - rest) > 1e-6:
        assert track.at(t) == pytest.approx(expected, abs=1e-6)


def test_before_the_first_key_nothing_repeats():
    track = numbers((1, 5), (2, 15), cycle=Cycle("loop"))
    assert track.at(-3) == track.at(0.2) == 5


def test_one_key_alone_cannot_repeat():
    assert Track(Kind.NUMBER, [Key(0, 3.0, LINEAR)], Cycle("loop")).at(9) == 3


# An even pace


def test_an_even_pace_is_one_speed_whatever_the_keys_say():
    rows = [(0, (0.0, 0.0)), (0.2, (300.0, 0.0)), (2, (300.0, 100.0))]
    track = points(*rows, even=True)
    steps = [math.dist(track.at(i / 20), track.at((i + 1) / 20)) for i in range(40)]
    assert max(steps[:28]) == pytest.approx(min(steps[:28]), rel=1e-6)
    assert track.at(1.5) == pytest.approx((300, 0)) and track.at(2) == (300, 100)


@given(st.floats(0, 2))
def test_sampling_at_once_is_the_same_as_one_by_one(t):
    curved = points(
        (0, (0.0, 0.0), (0, 0), (80, 0)),
        (1.1, (200.0, 90.0), (0, -60), (0, 60)),
        (2, (30.0, 160.0)),
    )
    assert tuple(curved.values(np.array([t]))[0]) == pytest.approx(curved.at(t), abs=0.02)
    looped = numbers((0, 0), (0.7, 9), cycle=Cycle("loop"))
    assert looped.values(np.array([t]))[0][0] == pytest.approx(looped.at(t))


# Direction


def test_the_direction_follows_the_path_and_waits_where_it_rests():
    track = points((0, (0, 0)), (1, (100, 0)), (2, (100, 0)), (3, (100, 80)))
    assert track.direction(0.5) == (1, 0)
    assert track.direction(1.5) == (0, 1)  # it rests: where it goes next
    assert track.direction(9) == (0, 1)
    assert points((0, (5, 5)), (1, (5, 5))).direction(0.5) == (0, 0)


def test_on_the_way_back_the_direction_is_turned():
    track = points((0, (0, 0)), (1, (100, 0)), cycle=Cycle("there-and-back"))
    assert track.direction(0.5) == (1, 0) and track.direction(1.5) == (-1, 0)
