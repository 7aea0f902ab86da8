import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.geometry import Affine
from young_comet.core.geometry import outline as outlines
from young_comet.errors import DocumentError

small = st.floats(-50, 50)
scales = st.floats(0.1, 5)
matrices = st.builds(
    lambda x, y, r, sx, sy: Affine.place((x, y), r, (sx, sy), (0.0, 0.0), (3.0, 4.0)),
    small, small, st.floats(-720, 720), scales, scales,
)  # fmt: skip


@given(matrices, matrices, small, small)
def test_products_apply_the_right_one_first(a, b, x, y):
    assert (a @ b)((x, y)) == pytest.approx(a(b((x, y))), abs=1e-6)


@given(matrices, small, small)
def test_the_inverse_leads_back(m, x, y):
    assert m.inverse()(m((x, y))) == pytest.approx((x, y), abs=1e-6)


@given(matrices)
def test_the_pivot_lands_on_the_position(m):
    fresh = Affine.place((12.0, 34.0), 30, (2.0, 2.0), (5.0, 0.0), (3.0, 4.0))
    assert fresh((3.0, 4.0)) == pytest.approx((12, 34))
    assert m.max_scale == pytest.approx(np.linalg.svd([[m.a, m.c], [m.b, m.d]])[1][0])


def test_rotation_is_clockwise_and_exact_at_quarter_turns():
    assert Affine.rotation(90)((1, 0)) == (0, 1)
    assert Affine.rotation(-270)((1, 0)) == (0, 1)
    assert Affine.rotation(45)((1, 0)) == pytest.approx((math.sqrt(0.5), math.sqrt(0.5)))


def test_a_flat_map_has_no_inverse():
    with pytest.raises(ValueError):
        Affine.scaling(0, 1).inverse()


def test_lengths_and_boxes_of_the_basic_shapes():
    assert outlines.rectangle(40, 20).length() == pytest.approx(120)
    assert outlines.ellipse(100, 100).length() == pytest.approx(100 * math.pi, rel=2e-3)
    assert outlines.regular_polygon(10, 6).length() == pytest.approx(60, rel=1e-4)
    assert outlines.rectangle(40, 20, 500).bounds == pytest.approx((-20, -10, 20, 10))
    tips = outlines.star(100, 0.5, 5)
    assert tips.contains((0, -99)) and not tips.contains((0, 99))


@given(st.floats(0, 1), st.floats(0, 1), st.floats(-3, 3))
def test_a_drawn_part_has_its_share_of_the_length(a, b, offset):
    start, end = min(a, b), max(a, b)
    circle = outlines.ellipse(100, 100)
    part = circle.drawn(start, end, offset)
    expected = (end - start) * circle.length()
    assert (0 if part.is_empty else part.length()) == pytest.approx(expected, abs=0.5)


def test_a_drawn_part_wraps_around_the_start():
    square = outlines.rectangle(100, 100)  # from the top left, clockwise
    part = square.drawn(0.0, 0.25, 0.875)
    left, top, right, bottom = part.bounds
    assert (left, top) == pytest.approx((-50, -50), abs=0.01)
    assert right == pytest.approx(0, abs=0.01) and bottom == pytest.approx(0, abs=0.01)


def test_svg_path_data_is_read():
    assert outlines.from_svg_path("M0 0 H10 V20 Z").bounds == pytest.approx((0, 0, 10, 20))
    arc = outlines.from_svg_path("M0 0 A50 50 0 0 1 100 0")
    assert arc.length() == pytest.approx(50 * math.pi, rel=2e-3)


@pytest.mark.parametrize("data", ["hello", "M0 0 L", "M 1e400 0 L 0 0"])
def test_broken_path_data_is_refused(data):
    with pytest.raises(DocumentError, match="path"):
        outlines.from_svg_path(data)
