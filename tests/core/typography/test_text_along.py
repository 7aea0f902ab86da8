"""Text along paths, against plain trigonometry."""

from __future__ import annotations

import math

import numpy as np
import pytest
from tests.build import NoAssets, draw, key, layer
from tests.looked import clear

from young_comet.core.frame.contents import TextUnit
from young_comet.core.frame.contents.text_units import unit_map
from young_comet.core.frame.units import UnitPlace
from young_comet.core.geometry.bezier import PathSegment
from young_comet.core.geometry.trail import Trail, trail
from young_comet.core.model import Shutter
from young_comet.core.paint import MediaLibrary
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.typography import FontLibrary, TextPath, led_along
from young_comet.core.typography.lines import lay_out
from young_comet.core.typography.style import Letters, TextStyle
from young_comet.core.views import layers_at

LIBRARY = FontLibrary()
LINE = "M-200 50 L300 50"
# A circle of radius 100 about (0, 0), from the top, clockwise: four quarters within 0.03 %.
K = 55.22847498
CIRCLE = (f"M0 -100 C{K} -100 100 {-K} 100 0 C100 {K} {K} 100 0 100 "
          f"C{-K} 100 -100 {K} -100 0 C-100 {-K} {-K} -100 0 -100 Z")  # fmt: skip


def text(words="Kite Week", align="left", tracking=0.0, size=30.0):
    return lay_out(
        LIBRARY, words, TextStyle(Letters("montserrat", 600.0, size, tracking), 120.0, align)
    )


def along(data, words="Kite Week", align="left", **more):
    plain = text(words, align)
    return plain, led_along(plain, TextPath(data, **more), align)


# The trail


def test_a_trail_goes_over_all_contours_and_straight_beyond_its_ends():
    way = Trail("M0 0 L100 0 M0 50 L0 150")
    assert way.length == pytest.approx(200)
    points, angles = way.at(np.array([30.0, 130.0, -40.0, 260.0]))
    assert points == pytest.approx(np.array([(30, 0), (0, 80), (-40, 0), (0, 210)]), abs=1e-9)
    assert angles == pytest.approx([0, 90, 0, 90])


@pytest.mark.parametrize("turns", [-1.0, 0.0, 0.13, 0.5, 0.99, 2.25])
def test_a_closed_trail_goes_round(turns):
    way = trail(CIRCLE)
    [(x, y)], [angle] = way.at(np.array([turns * way.length]))
    a = turns * 2 * math.pi
    assert (x, y) == pytest.approx((100 * math.sin(a), -100 * math.cos(a)), abs=0.05)
    assert math.cos(math.radians(angle) - a) == pytest.approx(1, abs=1e-4)


def test_a_trail_is_as_long_and_goes_where_single_cubics_do():
    """Against the segments that motion paths are travelled by; one has a handle without length."""
    rng = np.random.default_rng(8)
    curves = [
        *rng.uniform(0, 900, (6, 4, 2)).round(2).tolist(),
        [[10, 10], [10, 10], [400, 90], [500, 300]],
    ]
    for curve in curves:
        (x0, y0), (x1, y1), (x2, y2), (x3, y3) = curve
        way = Trail(f"M{x0} {y0}C{x1} {y1} {x2} {y2} {x3} {y3}")
        segment = PathSegment(*(tuple(p) for p in curve))
        assert way.length == pytest.approx(segment.length, rel=1e-4)
        fractions = np.linspace(0, 1, 23)
        points, angles = way.at(fractions * way.length)
        for fraction, point, angle in zip(fractions, points, angles, strict=True):
            assert point == pytest.approx(segment.at(fraction), abs=0.05)
            dx, dy = segment.direction(fraction)
            turned = (angle - math.degrees(math.atan2(dy, dx)) + 180) % 360 - 180
            assert turned == pytest.approx(0, abs=0.6)


def test_a_point_is_no_trail():
    assert Trail("").is_empty and Trail("M5 5").is_empty and Trail("M5 5 L5 5").is_empty
    plain, led = along("M5 5")
    assert led is plain


# Letters


@pytest.mark.parametrize("align", ["left", "centre", "right"])
def test_along_a_straight_line_a_text_is_as_it_was(align):
    plain, led = along(LINE, align=align)
    starts = {"left": -200.0, "centre": 50 - plain.width / 2, "right": 300 - plain.width}
    for g, h in zip(plain.glyphs, led.glyphs, strict=True):
        assert h.x == pytest.approx(starts[align] + g.x + plain.width / 2, abs=1e-6)
        assert (h.y, h.turned_deg) == (pytest.approx(50), pytest.approx(0))


def test_letters_stand_square_on_a_circle_by_their_middles():
    plain, led = along(CIRCLE, "GULLWING")
    for g, h in zip(plain.glyphs, led.glyphs, strict=True):
        a = (g.middle + plain.width / 2) / 100
        assert h.turned_deg == pytest.approx(math.degrees(a), abs=0.1)
        # The middle of the advance lies on the circle, the origin before it along the tangent.
        back = g.middle - g.x
        x = 100 * math.sin(a) - back * math.cos(a)
        y = -100 * math.cos(a) - back * math.sin(a)
        assert (h.x, h.y) == (pytest.approx(x, abs=0.1), pytest.approx(y, abs=0.1))


def test_offset_gap_and_the_other_side():
    _, led = along(CIRCLE, "I", offset=0.25, gap_px=10)
    place = led.glyphs[0].place
    # A quarter round: the baseline is 110 from the middle, the letter's top points outwards.
    assert place((0, 0))[0] == pytest.approx(110, abs=0.5)
    assert place((0, -20))[0] == pytest.approx(130, abs=0.5)
    _, inner = along(CIRCLE, "I", align="centre", reversed=True)
    place = inner.glyphs[0].place
    assert place((0, 0))[1] == pytest.approx(100, abs=0.5)
    assert place((0, -20))[1] == pytest.approx(80, abs=0.5)


def test_upright_letters_are_not_turned():
    _, led = along(CIRCLE, "GULL", upright=True)
    assert all(g.turned_deg == 0 for g in led.glyphs)
    assert len({round(g.y, 2) for g in led.glyphs}) == 4


def test_accents_stay_with_their_letters_and_lines_beside_one_another():
    _, led = along(CIRCLE, "W\u0301", offset=0.1)  # no face has the two as one
    assert len(led.glyphs) == 2
    assert len({(g.turned_deg, round(g.middle, 3)) for g in led.glyphs}) == 1
    _, two = along(LINE, "Bay\nWeek")
    rows = {g.row: g.y for g in two.glyphs}
    assert rows[1] - rows[0] == pytest.approx(36)


def test_the_pen_stands_after_the_last_letter_that_is_seen():
    plain, led = along(CIRCLE, "GULL")
    assert led.pen_after(lambda c: c < 2)((0, 0)) == pytest.approx(led.glyphs[2].place((0, 0)))
    x, y = led.pen_after(lambda c: True)((0, 0))
    assert math.hypot(x, y) == pytest.approx(100, abs=3)
    assert plain.pen_after(lambda c: False)((0, 0)) == (plain.glyphs[0].x, plain.glyphs[0].y)


# In a scene


def ring(**more):
    values = {
        "text": "KITE WEEK", "text__size": 30.0, "text__align": "left", "text__path": CIRCLE,
        "position": [160.0, 120.0], "fill__colour": "#ffffff", **more,
    }  # fmt: skip
    return clear(layer("ring", "text", **values))


def test_a_text_on_a_ring_lies_outside_of_it_and_travels():
    picture = draw(ring())[..., 3]
    ys, xs = np.nonzero(picture > 127)
    far = np.hypot(xs + 0.5 - 160, ys + 0.5 - 120)
    assert far.min() > 98 and far.max() < 126
    assert xs.min() >= 158, "it begins at the top and goes to the right"
    moved = draw(ring(**{"text__path-offset": [key(0, 0.0), key(1, 50.0)]}), time_s=1.0)[..., 3]
    ys, xs = np.nonzero(moved > 127)
    assert xs.max() <= 162, "half round: it begins at the bottom and goes to the left"


def test_a_ring_of_letters_is_picked_by_its_letters_not_in_its_middle():
    evaluator = SceneEvaluator(ring(), "reveal")
    library = MediaLibrary(NoAssets())
    picture = draw(ring())[..., 3]
    y, x = np.argwhere(picture > 250)[0]
    assert layers_at(evaluator, library, 0.0, (x + 0.5, y + 0.5)) == ["ring"]
    assert layers_at(evaluator, library, 0.0, (160.0, 120.0)) == []


def test_letters_of_a_text_on_a_path_rise_square_to_it():
    """A quarter round, what moves up goes to the right."""
    evaluator = SceneEvaluator(ring(**{"text": "I", "text__path-offset": 25.0}), "reveal")
    content = evaluator.at(0.0).layers[0].content
    layout = content.layout(MediaLibrary(NoAssets()))
    unit = TextUnit(0, 1, UnitPlace(dy=-40.0))
    x, y = unit_map(unit, layout.outline, layout.turned_deg(0, 1))((100.0, 0.0))
    assert (x, y) == (pytest.approx(140, abs=0.5), pytest.approx(0, abs=3))


def test_motion_blur_knows_how_far_a_text_travels():
    document = ring(**{"text__path-offset": [key(0, 0.0), key(1, 100.0)]})
    scene = document.scenes[0].model_copy(update={"shutter": Shutter(on=True, angle_deg=180.0)})
    blurred = document.model_copy(update={"scenes": (scene,)})
    # Half of the 25 px that it goes in a frame, eased, in steps of 5.
    states = len(SceneEvaluator(blurred, "reveal").at(0.52).layers[0].shutter)
    assert 3 <= states <= 8
    sharp, soft = (draw(d, time_s=0.52)[..., 3].astype(int) for d in (document, blurred))
    assert (np.abs(soft - sharp) > 20).sum() > 300
