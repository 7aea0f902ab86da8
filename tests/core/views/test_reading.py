"""How a colour reads on what lies below its layer."""

import pytest
from tests.build import NoAssets, layer, project

from young_comet.core.catalog import LAYER_KINDS
from young_comet.core.media.written_colours import contrast_of, typed_colour
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import contrast_below

WHITE = (1.0, 1.0, 1.0, 1.0)


def read(document, id="words", colour=WHITE):
    renderer = Renderer(MediaLibrary(NoAssets()))
    evaluator = SceneEvaluator(document, document.scenes[0].id)
    return contrast_below(evaluator, renderer, id, 0.0, colour)


def words(**more):
    return layer("words", "text", text="Gullwing", text__size=30, position=[160, 90], **more)


def test_on_one_colour_it_is_the_contrast_with_that():
    found = read(project(layer("sky", "backdrop", fill__colour="#767676"), words()))
    expected = contrast_of(WHITE, typed_colour("#767676"))
    assert found.mean == pytest.approx(expected, abs=0.02)
    assert found.worst == pytest.approx(expected, abs=0.02)


def test_what_lies_above_and_beside_does_not_count_and_half_and_half_has_its_worst():
    sky = layer("sky", "backdrop", fill__colour="#000000")
    cover = layer("cover", "backdrop", fill__colour="#ffffff")
    assert read(project(sky, words(), cover)).mean == pytest.approx(21, abs=0.1)
    half = layer(
        "half", "shape", shape__size=[160, 180], position=[240, 90], fill__colour="#ffffff"
    )
    found = read(project(sky, half, words()))
    assert found.worst == pytest.approx(1, abs=0.05) and 1 < found.mean < 4
    beside = layer("half", "shape", shape__size=[20, 20], position=[20, 20], fill__colour="#ffffff")
    assert read(project(sky, beside, words())).worst == pytest.approx(21, abs=0.1)


def test_a_see_through_colour_is_laid_over_what_is_there():
    sky = layer("sky", "backdrop", fill__colour="#000000")
    assert read(project(sky, words()), colour=(1, 1, 1, 0)).mean == pytest.approx(1)


def test_over_nothing_and_beside_the_frame_there_is_none():
    document = project(words())
    clear = document.scenes[0].model_copy(update={"ground": None})
    assert read(document.model_copy(update={"scenes": (clear,)})) is None
    away = words()
    far = project(layer("sky", "backdrop"), layer("words", "shape", position=[5000, 90]))
    assert read(far) is None and read(project(away), id="none") is None


@pytest.mark.parametrize("kind", LAYER_KINDS)
@pytest.mark.parametrize("size", [0.0, 100.0, 1e5])
def test_a_layer_of_every_kind_and_size_is_read_or_not_without_fail(kind, size):
    more = {"scale": [size, size]} if LAYER_KINDS[kind].placed else {}
    found = read(project(layer("sky", "backdrop"), layer("words", kind, **more)))
    assert found is None or 1 <= found.worst <= 21
