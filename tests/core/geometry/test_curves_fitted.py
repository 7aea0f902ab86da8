"""Cubics: split, directions, fitted to points; outlines as cubics."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.geometry import outline as outlines
from young_comet.core.geometry.bezier import PathSegment
from young_comet.core.geometry.fit import bezier, fit_cubic, fit_polyline, unit

place = st.tuples(st.floats(0, 800), st.floats(0, 600))


@given(place, place, place, place, st.floats(0.05, 0.95))
def test_both_halves_of_a_cut_segment_lie_on_it(a, b, c, d, fraction):
    whole = PathSegment(a, b, c, d)
    if whole.length < 5:
        return
    first, second = whole.split(fraction)
    assert first.length + second.length == pytest.approx(whole.length, rel=2e-3, abs=0.05)
    assert first.at(1.0) == pytest.approx(second.at(0.0), abs=1e-6)
    for part in (0.25, 0.5, 0.9):
        nearest = min(math.dist(first.at(part), whole.at(i / 2000)) for i in range(2001))
        assert nearest < max(1.0, whole.length / 1000)


def test_directions_at_the_ends_follow_the_handles():
    segment = PathSegment((0, 0), (100, 0), (200, 100), (200, 200))
    assert segment.direction(0) == pytest.approx((1, 0)) and segment.direction(1) == pytest.approx(
        (0, 1)
    )
    bare = PathSegment((0, 0), (0, 0), (200, 200), (200, 200))
    assert bare.direction(0) == pytest.approx((math.sqrt(0.5),) * 2, abs=1e-3)
    assert PathSegment((5, 5), (5, 5), (5, 5), (5, 5)).direction(0.5) == (0, 0)


def test_beyond_its_ends_a_segment_goes_straight_on():
    segment = PathSegment((0, 0), (50, 0), (100, 0), (150, 0))
    assert segment.at(1.2) == pytest.approx((180, 0)) and segment.at(-0.1) == pytest.approx(
        (-15, 0)
    )
    assert segment.at_many(np.array([-0.1, 0.5, 1.2])).ravel().tolist() == pytest.approx(
        [-15, 0, 75, 0, 180, 0]
    )


def test_a_cubic_is_found_again_from_its_points():
    curve = np.array([(0, 0), (120, -40), (260, 180), (300, 40)], float)
    points = bezier(curve, np.linspace(0, 1, 80))
    out, into = unit(curve[1] - curve[0]), unit(curve[2] - curve[3])
    assert np.abs(fit_cubic(points, out, into) - curve).max() < 2.0


@given(st.integers(3, 60), st.floats(1, 20))
def test_a_fitted_line_stays_within_its_tolerance(count, tolerance):
    t = np.linspace(0, 1, count)
    points = np.stack([900 * t, 200 * np.sin(5 * t) + 60 * t], axis=1)
    curves = fit_polyline(points, tolerance)
    drawn = np.vstack([bezier(curve, np.linspace(0, 1, 4000)) for curve in curves])
    away = np.sqrt(((points[:, None] - drawn[None]) ** 2).sum(axis=2)).min(axis=1)
    assert away.max() <= tolerance + 0.05
    for before, after in itertools.pairwise(curves):
        assert before[3] == pytest.approx(after[0])


def test_points_at_one_place_are_no_path():
    assert fit_polyline(np.array([[3.0, 3.0]] * 5), 1) == []


def test_outlines_come_apart_into_cubics():
    square = outlines.rectangle(100, 60).cubics()
    assert [len(contour) for contour in square] == [4]
    assert square[0][0][0] == (-50, -30) and square[0][-1][3] == (-50, -30)
    ring = outlines.from_svg_path("M0 0 H90 V90 H0 Z M20 20 Q45 0 70 20 Z").cubics()
    assert [len(contour) for contour in ring] == [4, 2]
    circle = outlines.ellipse(200, 200).cubics()[0]
    total = sum(PathSegment(*cubic).length for cubic in circle)
    assert total == pytest.approx(2 * math.pi * 100, rel=1e-3)
