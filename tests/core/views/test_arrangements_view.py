"""What an editor is told of a scene's arrangements."""

import pytest
from tests.build import LIBRARY, layer, project
from tests.edits.arrangements_desk import arranged, row

from young_comet.core.model import Stand
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import LaneCache, arrangements_view, lanes_of, scene_view, settled_time
from young_comet.core.views.lanes import motion_path


def told(document, time_s=1.5):
    return arrangements_view(SceneEvaluator(document, "reveal"), time_s)


def test_a_scene_without_arrangements_tells_nothing():
    assert told(project(layer("left", "shape"))) is None


def test_when_they_hold_and_which_is_the_nearest():
    view = told(arranged())
    assert [(each["id"], each["begin_s"], each["end_s"]) for each in view["row"]] == [
        ("gust", 0, 1), ("hold", 1.4, 2), ("go", pytest.approx(2.6), 4),
    ]  # fmt: skip
    assert not any(each["beyond"] for each in view["row"])
    assert [told(arranged(), t)["here"] for t in (0.5, 1.3, 3)] == ["gust", "hold", "go"]
    late = row([], [], [], holds=(3.0, 2.0, 1.0))
    beyond = told(project(layer("left", "shape"), arrangements=late))
    assert [each["beyond"] for each in beyond["row"]] == [False, False, True]


def test_what_they_say_of_layers():
    layers = told(arranged())["layers"]
    assert layers["left"]["said"] == ["fill.colour", "position", "scale"]
    assert layers["left"]["there"] == ["gust", "hold", "go"]
    assert layers["bow"]["there"] == ["gust", "go"]
    assert layers["bow"]["away"] == [(pytest.approx(1.4), pytest.approx(2.0))]
    assert layers["name"]["away"] == [(pytest.approx(2.6), 4.0)]
    assert not layers["bed"]["seen"] and layers["star"]["said"] == []


def test_what_is_the_same_in_all_does_not_differ_and_keys_are_told_apart():
    document = arranged()
    scene = document.scenes[0]
    star = Stand(layer="star", values={"position": (60, 60), "rotation": 0.0})
    everywhere = tuple(
        each.model_copy(update={"stands": (*each.stands, star)}) for each in scene.arrangements
    )
    document = document.model_copy(
        update={"scenes": (scene.model_copy(update={"arrangements": everywhere}),)}
    )
    layers = told(document)["layers"]
    assert layers["star"]["said"] == ["position"] == layers["star"]["keyed"]
    star = next(each for each in scene.layers if each.id == "star")
    own = star.properties["position"].model_copy(update={"adds": True})
    star = star.model_copy(update={"properties": {**star.properties, "position": own}})
    layers = tuple(star if each.id == "star" else each for each in scene.layers)
    adding = scene.model_copy(update={"layers": layers, "arrangements": everywhere})
    document = document.model_copy(update={"scenes": (adding,)})
    assert told(document)["layers"]["star"]["added"] == ["position"]


def test_values_lanes_and_ways_are_those_of_the_arrangements():
    evaluator = SceneEvaluator(arranged(), "reveal")
    view = scene_view(evaluator, LIBRARY, 1.5)
    assert view["left"]["values"]["position"] == [130, 90]
    assert view["name"]["values"]["text"] == "Hold on"
    assert view["bow"]["on"] is False
    lanes = {
        lane["property"]: lane
        for lane in lanes_of(evaluator, evaluator.find("left"), LaneCache(), frozenset())
    }
    assert set(lanes) == {"fill.colour", "position", "scale"}
    assert lanes["position"]["arranged"] and lanes["position"]["keys"] == []
    way = motion_path(evaluator, evaluator.find("left"))
    assert way["keys"] == [] and way["points"][-1] == [40, 40]


def test_the_most_settled_moment_lies_where_one_holds_with_the_most_there():
    scene = arranged().scenes[0]
    at = settled_time(scene)
    assert 0 <= at <= 1.0  # all are there in the first
    moved = scene.model_copy(
        update={"layers": tuple(each for each in scene.layers if each.id in ("left", "right"))}
    )
    assert not 1.0 < settled_time(moved) < 1.4
