"""Where pictures agree, lanes as they are drawn, layers before and after."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import NoAssets, key, layer, project

from young_comet.core.model import Repeat
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import (
    Comparer,
    LaneCache,
    best_matches,
    judge_loop,
    lane_of,
    motion_path,
    with_onion,
)
from young_comet.core.views.matching import difference
from young_comet.errors import DocumentError


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


def compared(document, one="spin", other="still", frames=range(0, 100)):
    made = Comparer(Renderer(MediaLibrary(NoAssets())))
    return list(made.layers(SceneEvaluator(document, "reveal"), one, other, frames))


def wing(id, start, end, rotation, **more):
    made = layer(id, "shape", shape__kind="polygon", shape__corners=3.0, shape__radius=40.0,
                 position=[160, 90], rotation=rotation, fill__colour="#f2c14e", **more)  # fmt: skip
    return made.model_copy(update={"start_s": start, "end_s": end})


def test_a_spinning_picture_meets_its_still_also_where_they_only_abut():
    """The still stands at 100 degrees; the other passes there at 0.4 s of its own and at every
    third of a turn. Each is compared as it would be if it were on."""
    spin = wing("spin", 0.0, 1.0, [key(0, 0.0), key(1, 250.0)])
    still = wing("still", 1.0, 3.0, 100.0)
    values = compared(project(spin, still))
    assert len(values) == 100 and None not in values
    best = best_matches(0, values)
    assert best[0].difference < 0.2 and best[0].frame == 10
    # 100, 220 degrees and what lies within a frame of them; a triangle comes round every 120.
    assert {match.frame for match in best if match.difference < 1} == {10, 22}


def test_moments_without_a_picture_are_no_matches():
    faded = wing("spin", 0.0, 4.0, 0.0, opacity=[key(1, 100.0), key(2, 0.0)])
    hidden = wing("still", 0.0, 4.0, 60.0, scale=[key(0, [0.0, 0.0]), key(1, [100.0, 100.0])])
    values = compared(project(faded, hidden))
    assert values[0] is None and values[60] is None and values[30] is not None
    assert all(values[match.frame] is not None for match in best_matches(0, values))
    assert best_matches(0, [None, None]) == []


def test_neighbours_are_one_moment_and_a_level_stretch_is_nearest_to_the_cut():
    flat = [5.0, 4.0, 0.01, 0.0, 0.02, 0.0, 0.01, 3.0, 6.0, 2.0, 1.0, 2.0, 6.0]
    assert [m.frame for m in best_matches(0, flat)] == [3, 10]
    assert best_matches(0, flat, near=6)[0].frame == 6
    assert best_matches(0, flat, near=99)[0].frame == 6
    noisy = [abs(i - 20) / 4 + (i % 2) * 0.05 for i in range(40)]
    assert [m.frame for m in best_matches(0, noisy)] == [20]


def test_what_hangs_on_arriving_does_not_count():
    from young_comet.core.model import Move

    spin = wing("spin", 0.0, 2.0, 0.0)
    late = wing("still", 1.0, 3.0, 0.0).model_copy(
        update={"moves": (Move(id="m", kind="fade", phase="arrive"),), "arrive_s": 1.0}
    )
    assert max(compared(project(spin, late))) == 0


def test_a_layer_is_not_compared_with_itself(comparer):
    with pytest.raises(DocumentError, match="two different"):
        list(comparer.layers(SceneEvaluator(scene(), "reveal"), "box", "box", range(3)))
