import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.geometry.bezier import PathSegment
from young_comet.core.model import Key, Kind, Track
from young_comet.core.timing import parse_easing

LINEAR = parse_easing("linear")


def track(kind, *pairs, easing="linear"):
    return Track(kind, [Key(t, v, parse_easing(easing)) for t, v in pairs])


def test_values_stay_before_the_first_and_after_the_last_key():
    t = track(Kind.NUMBER, (1, 10.0), (2, 20.0))
    assert [t.at(x) for x in (0, 1, 1.5, 2, 9)] == [10, 10, 15, 20, 20]


def test_hold_jumps_at_the_next_key():
    t = track(Kind.NUMBER, (0, 1.0), (1, 2.0), easing="hold")
    assert t.at(0.999) == 1.0
    assert t.at(1.0) == 2.0


def test_rotation_keeps_its_turns():
    t = track(Kind.NUMBER, (0, 0.0), (1, 720.0))
    assert t.at(0.5) == 360.0


def test_colours_mix_premultiplied():
    red, clear_blue = (1.0, 0.0, 0.0, 1.0), (0.0, 0.0, 1.0, 0.0)
    mixed = track(Kind.COLOUR, (0, red), (1, clear_blue)).at(0.5)
    # CSS Color 4: a transparent end gives no colour of its own to the mix.
    assert mixed == pytest.approx((1.0, 0.0, 0.0, 0.5))


def test_stops_mix_one_by_one_and_repeat_the_last():
    a = ((0.0, (0.0, 0.0, 0.0, 1.0)), (1.0, (1.0, 1.0, 1.0, 1.0)))
    b = (*a, (1.0, (1.0, 0.0, 0.0, 1.0)))
    mixed = Kind.STOPS.mix(a, b, 0.5)
    assert len(mixed) == 3
    assert mixed[2][1] == pytest.approx((1.0, 0.5, 0.5, 1.0))


@given(st.floats(-100, 100), st.floats(-100, 100), st.floats(0, 1))
def test_points_on_a_straight_way_are_mixed_evenly(x, y, p):
    t = track(Kind.POINT, (0, (0.0, 0.0)), (1, (x, y)))
    assert t.at(p) == pytest.approx((x * p, y * p), abs=1e-6)


def test_a_curved_way_is_travelled_by_arc_length():
    # A quarter circle of radius 100 as a cubic: equal times give equal angles.
    k = 55.22847498
    keys = [
        Key(0, (100.0, 0.0), LINEAR, handle_out=(0.0, k)),
        Key(1, (0.0, 100.0), LINEAR, handle_in=(k, 0.0)),
    ]
    t = Track(Kind.POINT, keys)
    for p in (0.1, 0.25, 0.5, 0.8):
        x, y = t.at(p)
        assert math.degrees(math.atan2(y, x)) == pytest.approx(90 * p, abs=0.1)


def test_arc_length_agrees_with_an_independent_integral():
    points = np.array([(0, 0), (300, 500), (-200, 400), (250, 90)], float)
    s = np.linspace(0, 1, 200_001)
    d = [3 * (1 - s) ** 2, 6 * (1 - s) * s, 3 * s * s]
    speed = np.hypot(
        *sum(w[:, None] * v for w, v in zip(d, np.diff(points, axis=0), strict=True)).T
    )
    length = float(np.sum((speed[1:] + speed[:-1]) / 2) * (s[1] - s[0]))
    assert PathSegment(*map(tuple, points)).length == pytest.approx(length, rel=1e-3)


def test_beyond_its_ends_a_path_goes_on_straight():
    segment = PathSegment((0, 0), (10, 0), (20, 0), (30, 0))
    assert segment.at(1.1) == pytest.approx((33, 0), abs=1e-6)
    assert segment.at(-0.1) == pytest.approx((-3, 0), abs=1e-6)
