"""Where pictures agree, lanes as they are drawn, layers before and after."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import NoAssets, key, layer, project

from young_comet.core.model import Repeat
from young_comet.core.render import (
    Comparer,
    LaneCache,
    MediaLibrary,
    Renderer,
    SceneEvaluator,
    best_matches,
    judge_loop,
    lane_of,
    motion_path,
    with_onion,
)
from young_comet.core.render.matching import difference


def scene(**values):
    moving = layer(
        "box",
        "shape",
        shape__size=[60, 60],
        position=[key(0, [60, 90]), key(2, [260, 90])],
        **values,
    )
    return project(moving, layer("still", "shape", shape__size=[60, 60], position=[160, 90]))


@pytest.fixture
def comparer():
    return Comparer(Renderer(MediaLibrary(NoAssets())))


def test_the_difference_of_pictures_is_a_percentage():
    black, white = np.zeros((4, 4, 4), np.uint8), np.full((4, 4, 4), 255, np.uint8)
    assert difference(black, black) == 0 and difference(black, white) == 100


@given(st.lists(st.floats(0, 50), min_size=1, max_size=80))
def test_the_best_moments_are_valleys_apart_from_each_other(values):
    found = best_matches(100, values)
    assert found[0].difference == min(values)
    frames = [match.frame for match in found]
    assert all(abs(a - b) >= 4 for i, a in enumerate(frames) for b in frames[:i])
    assert [m.difference for m in found] == sorted(m.difference for m in found)


def test_a_moving_copy_can_hand_over_where_it_meets_the_still_one(comparer):
    values = list(comparer.layers(SceneEvaluator(scene(), "reveal"), "box", "still", range(0, 50)))
    assert best_matches(0, values)[0].frame == 25 and values[25] == 0
    assert values[0] > 10


def test_a_moment_of_another_scene_is_found(comparer):
    evaluator = SceneEvaluator(scene(), "reveal")
    values = list(comparer.moment(evaluator, 30, evaluator, range(10, 45)))
    assert best_matches(10, values)[0].frame == 30


def test_frames_of_other_shapes_are_compared_at_one_size(comparer):
    wide = SceneEvaluator(scene(), "reveal")
    square = SceneEvaluator(project(layer("sky", "backdrop"), width=180, height=180), "reveal")
    assert all(value > 0 for value in comparer.moment(square, 0, wide, range(0, 3)))


@pytest.mark.parametrize(("mode", "seamless"), [("loop", False), ("there-and-back", True)])
def test_a_seam_is_judged_by_the_steps_beside_it(comparer, mode, seamless):
    document = scene()
    box = document.scenes[0].layers[0]
    keys = (key(0, [60, 90]), key(2, [260, 90]))
    position = box.properties["position"].model_copy(
        update={"keys": keys, "repeat": Repeat(mode=mode)}
    )
    changed = box.model_copy(update={"properties": {**box.properties, "position": position}})
    first = document.scenes[0].model_copy(update={"layers": (changed,)})
    evaluator = SceneEvaluator(document.model_copy(update={"scenes": (first,)}), "reveal")
    last = 99 if mode == "there-and-back" else 74
    verdict = judge_loop(list(comparer.loop(evaluator, range(0, last + 1))))
    assert verdict.seamless is seamless


def test_onion_shows_the_nearest_moments_strongest():
    evaluator = SceneEvaluator(scene(), "reveal")
    library = MediaLibrary(NoAssets())
    plain = Renderer(library).render(evaluator.frame(25), 320, 180)
    shown = with_onion(plain, evaluator, library, ["box"], 25, before=2, after=0, step=12)
    red = shown[90, :, 2].astype(int)
    assert red[72] < red[118] < 200 and red[72] > 20
    assert np.array_equal(plain, Renderer(library).render(evaluator.frame(25), 320, 180))


def lanes():
    return scene(
        rotation=[key(0, 0, "ease-in"), key(1, 90, "spring(0.4)"), key(2, 30, "hold"), key(3, 0)]
    )


def test_a_tall_lane_tells_handles_speeds_and_tails():
    evaluator = SceneEvaluator(lanes(), "reveal")
    lane = lane_of(evaluator, evaluator.scene.layers[0], "rotation", tall=True)
    first, second, third, last = lane["keys"]
    assert first["out"] == {"time_s": pytest.approx(0.42), "values": [0]}
    assert second["into"] == {"time_s": pytest.approx(1.0), "values": [pytest.approx(90)]}
    assert "out" not in second and (second["tail"], third["tail"], last["tail"]) == (
        "wavy",
        "hold",
        "soft",
    )
    dots = lane["dots"]
    assert dots["first"] == 0 and len(dots["values"][0]) == 100
    assert dots["speeds"][0] == pytest.approx(0, abs=1.5) and dots["speeds"][20] > 100
    assert (lane["low"], lane["unit"]) == (0, "°") and lane["high"] >= 90


def test_points_have_two_curves_and_speed_along_the_way():
    evaluator = SceneEvaluator(scene(), "reveal")
    lane = lane_of(evaluator, evaluator.scene.layers[0], "position", tall=True)
    assert len(lane["curves"]) == 2 and lane["dots"]["speeds"][10] == pytest.approx(100, abs=0.5)


def test_lanes_are_kept_until_their_property_changes():
    cache = LaneCache()
    evaluator = SceneEvaluator(lanes(), "reveal")
    box = evaluator.scene.layers[0]
    spec = next(s for s in evaluator_specs(box) if s.id == "rotation")
    assert cache.lane(evaluator, box, spec) is cache.lane(evaluator, box, spec)
    assert cache.lane(evaluator, box, spec, tall=True) is not cache.lane(evaluator, box, spec)
    later = box.model_copy(update={"start_s": 0.4})
    assert cache.lane(evaluator, later, spec)["keys"][0]["time_s"] == 0.4


def evaluator_specs(item):
    from young_comet.core.catalog import specs_of

    return specs_of(item)


def test_paths_tell_their_handles_and_those_of_split_positions_their_points():
    curved = layer(
        "box", "shape", position=[key(0, [60, 90], handle_out=(40.0, 0.0)), key(1, [200, 90])]
    )
    evaluator = SceneEvaluator(project(curved), "reveal")
    path = motion_path(evaluator, evaluator.scene.layers[0])
    assert (
        path["keys"][0]["out"] == [100, 90]
        and path["keys"][0]["into"] is None
        and len(path["points"]) == 27
    )
    split = layer("box", "shape", **{"position.x": [key(0, 60), key(1, 200)], "position.y": 90.0})
    evaluator = SceneEvaluator(project(split), "reveal")
    path = motion_path(evaluator, evaluator.scene.layers[0])
    assert path["keys"] == [] and path["points"][0] == [60, 90] and path["points"][25] == [200, 90]
