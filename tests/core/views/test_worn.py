"""Moves on one's own layer as small moving pictures."""

import numpy as np
import pytest
from tests.build import NoAssets, layer, project

from young_comet.core.model import Move
from young_comet.core.moves import MOVES
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import with_only, worn_sample

KINDS = {
    "text": {"text": "Gull", "text__size": 60},
    "shape": {"shape__size": [80, 60], "fill__colour": "#ff7a45"},
    "backdrop": {"fill__colour": "#ff7a45"},
}
PLACES = {"in": [160, 90], "across": [0, 90], "outside": [-900, -900]}


def sample(kind, phase, move, **properties):
    own = layer("kite", kind, 0.2, 2.6, **{**KINDS[kind], **properties}).model_copy(
        update={
            "arrive_s": 0.6, "leave_s": 0.6,
            "moves": (Move(id="m", kind=move, phase=phase),) if move else (),
        }
    )  # fmt: skip
    other = layer("sky", "shape", shape__size=[300, 20], fill__colour="#2f9fb3")
    document = with_only(project(other, own), "reveal", ("kite",))
    library = MediaLibrary(NoAssets())
    evaluator = SceneEvaluator(document, "reveal", library=library)
    found = next(each for each in evaluator.scene.layers if each.id == "kite")
    return worn_sample(evaluator, found, phase, Renderer(library))


def tiles(picture):
    assert picture.shape == (63, 17 * 112, 4) and picture.dtype == np.uint8
    return picture.reshape(63, 17, 112, 4).swapaxes(0, 1).astype(int)


@pytest.mark.parametrize("kind", ["text", "shape"])
def test_the_layer_comes_and_then_rests(kind):
    found = tiles(sample(kind, "arrive", "lift", position=PLACES["in"]))
    rest = found[16]
    assert np.abs(found[0] - rest).mean() > np.abs(found[15] - rest).mean()
    assert np.abs(found[15] - rest).mean() < 1.0
    # It fills the picture as far as it should: something of it, and something around it.
    seen = (np.abs(rest - rest[0, 0]).max(2) > 20).mean()
    assert 0.08 < seen < 0.75
    left = tiles(sample(kind, "leave", "lift", position=PLACES["in"]))
    assert np.abs(left[0] - rest).mean() < np.abs(left[15] - rest).mean()


@pytest.mark.parametrize("phase", ["arrive", "dwell", "leave"])
@pytest.mark.parametrize("place", PLACES)
@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_wherever_it_is_gives_a_picture_or_nothing(kind, place, phase):
    move = next(each.id for each in MOVES.values() if phase in each.phases and kind in each.fits)
    where = {} if kind == "backdrop" else {"position": PLACES[place]}
    found = sample(kind, phase, move, **where)
    if place == "outside" and kind != "backdrop":
        assert found is None
    else:
        tiles(found)


@pytest.mark.parametrize(
    "properties", [{"scale": [0, 0]}, {"opacity": 0}, {"scale": [100_000, 100_000]}]
)
def test_sizes_that_are_none_or_huge(properties):
    found = sample("shape", "arrive", "lift", position=PLACES["in"], **properties)
    assert found is None or tiles(found) is not None


def test_letters_one_by_one_are_seen_on_the_word_itself():
    found = tiles(sample("text", "arrive", "type-on", position=PLACES["in"]))
    bright = [int((np.abs(each - each[0, 0]).max(2) > 40).sum()) for each in found]
    assert len(set(bright)) >= 3 and bright == sorted(bright)
