"""What costs time while a scene is played."""

from tests.build import NoAssets, key, layer, project

from young_comet.core.model import Effect
from young_comet.core.paint import MediaLibrary
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import dearest


def test_the_layer_that_moves_and_is_blurred_is_dearer_than_what_stands():
    blurred = layer("glow", "shape", shape__size=[200, 140],
                    position=[key(0, [60, 90]), key(3, [260, 90])])  # fmt: skip
    blurred = blurred.model_copy(update={"effects": (
        Effect(id="a", kind="noise-displacement"), Effect(id="b", kind="gaussian-blur"))})  # fmt: skip
    document = project(layer("sky", "backdrop"), blurred, layer("dot", "shape", shape__size=[9, 9]))
    evaluator = SceneEvaluator(document, "reveal")
    whole, found = dearest(evaluator, MediaLibrary(NoAssets()), 3, (640, 360))
    assert found[0].layer == "glow" and found[0].ms > 0
    # What stands below all that moves is kept: it takes nothing.
    assert "sky" not in {each.layer for each in found}
    assert whole >= sum(each.ms for each in found) - 1e-6 and len(found) <= 3


def test_the_last_frame_and_an_empty_scene_have_their_costs():
    document = project(layer("sky", "backdrop"))
    evaluator = SceneEvaluator(document, "reveal")
    assert dearest(evaluator, MediaLibrary(NoAssets()), 10**6, (64, 36)) == (0.0, [])
    assert (
        dearest(SceneEvaluator(project(), "reveal"), MediaLibrary(NoAssets()), 0, (64, 36))[1] == []
    )
