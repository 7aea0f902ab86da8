"""Pivots dragged on the stage: they go where they are dropped, and the picture stays."""

from __future__ import annotations

import math

import pytest
from tests.edits.test_hand_edits import PLACES, done, evaluator_of


@pytest.mark.parametrize("place", ["plain", "riding", "turned"])
def test_a_pivot_goes_where_the_hand_drops_it_and_the_picture_stays(place):
    document = PLACES[place]()
    before = evaluator_of(document).place_of("box", 1.0)
    after = evaluator_of(done(document, "move-pivot", layer="box", to=[71, 52]))
    here = after.place_of("box", 1.0)
    assert math.dist(here(after.values(after.find("box"), 1.0)("pivot")), (71, 52)) < 0.1
    for point in ((0.0, 0.0), (30.0, -20.0)):
        assert math.dist(before(point), here(point)) < 0.1


@pytest.mark.parametrize("place", ["plain", "riding", "turned"])
@pytest.mark.parametrize("near", [0, 6])
def test_a_pivot_near_a_corner_takes_it_if_it_may(place, near):
    document = PLACES[place]()
    evaluator = evaluator_of(document)
    found = evaluator.find("box")
    left, top, right, bottom = evaluator.content_box(evaluator.values(found, 1.0))
    corner, middle = (right, top), ((left + right) / 2, bottom)
    for point in (corner, middle):
        x, y = evaluator.place_of("box", 1.0)(point)
        moved = done(document, "move-pivot", layer="box", to=[x + 3, y - 3], near_px=near)
        after = evaluator_of(moved)
        pivot = after.values(after.find("box"), 1.0)("pivot")
        assert (math.dist(pivot, point) < 0.01) == bool(near)
