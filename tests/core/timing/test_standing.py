"""The standing part of a placed scene gives way: what arrives and leaves stays whole."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from tests.build import CONTEXT, draw, key, layer, project

from young_comet.core.resolve import SceneEvaluator
from young_comet.core.timing.standing import standing_second
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.scene_edits import standing_part
from young_comet.errors import DocumentError

PART = (0.0, 4.0), (1.0, 3.0)


@pytest.mark.parametrize("length", [4.0, 5.0, 9.0, 3.0, 2.4])
def test_arriving_and_leaving_are_played_as_they_are(length):
    for local in np.arange(0, 0.999, 0.01):
        if local < length - 1:
            assert standing_second(local, length, *PART) == pytest.approx(local)
    for back in np.arange(0.01, 1.0, 0.01):
        assert standing_second(length - back, length, *PART) == pytest.approx(4 - back)
    moments = [standing_second(t, length, *PART) for t in np.arange(0, length, 0.01)]
    assert all(b >= a - 1e-9 for a, b in pairwise(moments))
    between = [
        m for t, m in zip(np.arange(0, length, 0.01), moments, strict=True) if 1 < t < length - 1
    ]
    assert all(1 <= m <= 3 for m in between)


def test_there_may_be_room_for_nothing_but_leaving():
    assert standing_second(0.0, 0.5, *PART) == 3.5 and standing_second(
        0.49, 0.5, *PART
    ) == pytest.approx(3.99)
    assert standing_second(0.0, 1e-6, *PART) == pytest.approx(4.0, abs=1e-5)
    assert standing_second(2.0, 8.0, (0.0, 4.0), (3.0, 900.0)) == 2.0


def documents(length, gives=True):
    """A bar that grows for a second, stands, and shrinks in its last second, placed for a length."""
    bar = layer("bar", "shape", shape__size=[200.0, 40.0], fill__colour="#ffffff", position=[160.0, 90.0],
                scale=[key(0, [0.0, 100.0]), key(1, [100.0, 100.0]), key(3, [100.0, 100.0]), key(4, [0.0, 100.0])])  # fmt: skip
    base = project(bar, ground=None)
    inner = base.scenes[0].model_copy(
        update={"id": "tag", "name": "Tag", "standing_s": (1.0, 3.0) if gives else None}
    )
    placed = layer("placed", "scene", scene__id="tag", position=[160.0, 90.0])
    placed = placed.model_copy(update={"start_s": 0.4, "end_s": 0.4 + length})
    outer = base.scenes[0].model_copy(update={"layers": (placed,), "length_s": 12.0})
    return base.model_copy(update={"scenes": (outer, inner)})


def width(document, time_s):
    return float(draw(document, time_s)[90, :, 3].sum() / 255)


@pytest.mark.parametrize("length", [4.0, 6.0, 2.8])
def test_a_bar_placed_longer_or_shorter_comes_and_goes_at_its_pace(length):
    document = documents(length)
    for t in (0.0, 0.2, 0.52, 0.96):
        grown = 200 * t
        assert width(document, 0.4 + t) == pytest.approx(grown, abs=1.5), t
    for back in (0.04, 0.4, 0.8):
        assert width(document, 0.4 + length - back) == pytest.approx(200 * back, abs=1.5)
    assert width(document, 0.4 + length / 2) == pytest.approx(200, abs=0.5)
    rigid = documents(length, gives=False)
    if length < 4:
        assert width(rigid, 0.4 + length - 0.4) > 190  # it is cut off
    elif length > 4:
        assert width(rigid, 0.4 + length - 0.4) < 5  # it has gone long before


def edited(document, **edit):
    return apply_edit(
        document, parse_edit({"kind": "change-scene", "scene": "tag", **edit}), CONTEXT
    ).project


def test_the_standing_part_is_found_set_and_taken_away():
    document = documents(4.0, gives=False)
    assert standing_part(document.scenes[1]) == (1.0, 3.0)
    found = edited(document, gives_way=True)
    assert found.scenes[1].standing_s == (1.0, 3.0)
    moved = edited(found, standing_s=[1.21, 2.0])
    assert moved.scenes[1].standing_s == (pytest.approx(1.2), 2.0)
    assert edited(moved, gives_way=False).scenes[1].standing_s is None
    for wrong in ([2.0, 2.0], [3.0, 1.0], [40.0, 50.0]):
        with pytest.raises(DocumentError, match="standing part"):
            edited(found, standing_s=wrong)


def test_what_gives_way_is_not_unwrapped_silently():
    unwrap = {"kind": "unwrap-scene", "scene": "reveal", "layer": "placed"}
    with pytest.raises(DocumentError, match="gives way"):
        apply_edit(documents(6.0), parse_edit(unwrap), CONTEXT)
    same = apply_edit(documents(4.0), parse_edit(unwrap), CONTEXT).project
    for t in (0.6, 2.0, 4.2):
        assert np.array_equal(draw(same, t), draw(documents(4.0), t))


def test_a_scene_within_a_scene_that_gives_way_is_worked_out_once_a_moment():
    document = documents(6.0)
    evaluator = SceneEvaluator(document, "reveal")
    signatures = {evaluator.at(0.4 + t).signature for t in np.arange(3.1, 4.9, 0.04)}
    assert len(signatures) == 1  # it is held
