"""The moment that stands for a scene."""

import pytest
from tests.build import key, layer, project

from young_comet.core.model import Keyframe, Property, Scene
from young_comet.core.views import settled_time


def scene(*layers, length=10.0):
    return project(*layers).scenes[0].model_copy(update={"length_s": length})


def at(*layers, **more):
    return settled_time(scene(*layers, **more))


def on(id, start, end, **values):
    return layer(id, "shape", start, end, **values)


def test_where_the_most_layers_stand():
    assert 4.0 <= at(on("a", 0, 10), on("b", 4, 6), on("c", 1, 9)) <= 6.0


def test_not_while_something_arrives_leaves_or_goes_to_another_key():
    title = on("a", 0, 10).model_copy(update={"arrive_s": 4.0, "leave_s": 4.0})
    assert 4.0 <= at(title) <= 6.0
    keyed = on("a", 0, 10, position=[key(7.0, [0, 0]), key(8.0, [90, 0])])
    assert at(keyed) == pytest.approx(3.5, abs=0.2)  # the middle of the longest rest


def test_drifts_and_repeats_are_how_it_stands():
    drifting = on("a", 0, 10, scale=[key(0.0, [100, 100]), key(10.0, [104, 104])])
    assert at(drifting) == pytest.approx(5.0, abs=0.2)
    keys = tuple(Keyframe(id=f"k{n}", time_s=n, value=9.0 * n, easing="linear") for n in (0, 1))
    swinging = on("a", 0, 10).model_copy(
        update={"properties": {"rotation": Property(keys=keys, repeat={"mode": "there-and-back"})}}
    )
    assert at(swinging) == pytest.approx(5.0, abs=0.2)


@pytest.mark.parametrize("length", [0.04, 3600.0])
def test_empty_short_and_long_scenes_have_one(length):
    assert 0 <= at(length=length) < length
    hidden = on("a", 1, 2).model_copy(update={"hidden": True})
    assert 0 <= at(hidden, length=length) < length
    assert isinstance(scene(), Scene)
