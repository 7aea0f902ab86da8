"""Some layers alone, and the others faint: held against the scene with the others taken away."""

import numpy as np
import pytest
from tests.build import NoAssets, layer, project

from young_comet.core.catalog import LAYER_KINDS
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import Seen, SeenScene
from young_comet.core.views.seen import FAINT

SIZE = (320, 180)


def drawn(document, seen=None, number=0):
    renderer = Renderer(MediaLibrary(NoAssets()))
    scene_id = document.scenes[0].id
    evaluator = SceneEvaluator(document, scene_id)
    frame = SeenScene(seen or Seen(), evaluator, lambda p: SceneEvaluator(p, scene_id)).frame(
        number
    )
    return frame.draw(renderer, *SIZE).astype(int)


def stack(*more):
    return (
        layer("sky", "backdrop", fill__colour="#20407f"),
        layer("sail", "shape", shape__size=[90, 90], position=[100, 90]),
        layer("tail", "shape", shape__size=[90, 90], position=[220, 90], fill__colour="#ffffff"),
        *more,
    )


def without(document, *kept):
    scene = document.scenes[0]
    hidden = [la.model_copy(update={"hidden": la.id not in kept}) for la in scene.layers]
    return document.model_copy(
        update={"scenes": (scene.model_copy(update={"layers": tuple(hidden)}),)}
    )


@pytest.mark.parametrize("only", [("sail",), ("sky",), ("sail", "tail"), ("sky", "sail", "tail")])
def test_layers_alone_are_what_is_left_when_the_others_are_hidden(only):
    document = project(*stack())
    alone = drawn(document, Seen(only))
    assert np.array_equal(alone, drawn(without(document, *only)))


def test_nothing_named_and_nothing_that_is_there_is_everything():
    document = project(*stack())
    whole = drawn(document)
    assert np.array_equal(drawn(document, Seen()), whole)
    assert np.array_equal(drawn(document, Seen(("gone",), True)), whole)


def test_a_hidden_layer_that_is_asked_for_is_seen():
    mark = layer("mark", "shape", position=[160, 40]).model_copy(update={"hidden": True})
    document = project(*stack(mark))
    assert not np.array_equal(drawn(document, Seen(("mark",))), drawn(without(document)))


def test_the_others_are_faint_by_the_share_that_is_stated():
    document = project(*stack())
    alone, whole = drawn(document, Seen(("sail",))), drawn(document)
    faint = drawn(document, Seen(("sail",), True))
    mixed = alone + (whole - alone) * FAINT / 255
    assert np.abs(faint - mixed).max() <= 1.0
    assert np.array_equal(faint[90, 100], whole[90, 100])


def test_what_is_alone_still_has_its_matte_and_what_it_rides_on():
    sail = layer("sail", "shape", position=[0, 0], matte__layer="disc")
    ridden = sail.model_copy(update={"rides": "mast"})
    document = project(
        layer("mast", "carrier", position=[200, 80]),
        layer("disc", "shape", shape__kind="ellipse", shape__size=[40, 40], position=[200, 80]),
        ridden,
    )
    alone = drawn(document, Seen(("sail",)))
    # Through the disc alone, where the mast has it: at the middle, and not 30 px beside it.
    assert alone[80, 200, :3].max() > 100 and alone[80, 235, :3].max() < 30


@pytest.mark.parametrize("kind", LAYER_KINDS)
@pytest.mark.parametrize("dims", [False, True])
def test_a_layer_of_every_kind_alone_and_with_the_others_faint(kind, dims):
    document = project(*stack(layer("one", kind)))
    alone = drawn(document, Seen(("one",), dims))
    assert alone.shape == (SIZE[1], SIZE[0], 4)
    if not dims:
        assert np.array_equal(alone, drawn(without(document, "one")))


def test_names_of_pictures_differ_by_what_is_seen():
    document = project(*stack())
    scene_id = document.scenes[0].id
    evaluator = SceneEvaluator(document, scene_id)
    names = {
        SeenScene(seen, evaluator, lambda p: SceneEvaluator(p, scene_id)).frame(0).signature
        for seen in (Seen(), Seen(("sail",)), Seen(("tail",)), Seen(("sail",), True))
    }
    assert len(names) == 4
