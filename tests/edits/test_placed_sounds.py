"""Sounds placed by their moment."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import layer, project
from tests.edits.desk import CONTEXT
from tests.sounds import Recordings, asset

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.mix import SceneMix
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import revert
from young_comet.errors import DocumentError

# A second and a half in which only one sample is heard: its moment.
MOMENT_S = 0.61
HIT = np.zeros((round(1.5 * SAMPLE_RATE), 2), np.float32)
HIT[round(MOMENT_S * SAMPLE_RATE)] = 0.5


def document(*layers):
    return project(*layers).model_copy(update={"assets": (asset("hit", HIT),)})


def placed(base, **more):
    data = {
        "kind": "place-sound",
        "scene": "reveal",
        "id": "new",
        "asset": "hit",
        "moment_s": MOMENT_S,
    }
    return apply_edit(base, parse_edit({**data, **more}), CONTEXT)


def heard_at(document):
    mix = SceneMix.of(document, "reveal", Recordings(hit=HIT)).read(0, 4 * SAMPLE_RATE)
    found = np.flatnonzero(np.abs(mix).max(axis=1) > 0.1)
    return found[0] / SAMPLE_RATE if len(found) else None


@pytest.mark.parametrize("at_s", [0.0, 0.3, 0.61, 1.0, 1.013, 2.4567, 3.99])
def test_the_moment_lies_where_it_should_to_the_sample(at_s):
    after = placed(document(), at_s=at_s).project
    assert heard_at(after) == pytest.approx(at_s, abs=1.1 / SAMPLE_RATE)
    found = after.scenes[0].layers[-1]
    rate = after.scenes[0].rate.rate
    assert found.start_s == rate.snap(found.start_s) and 0 <= found.start_s < found.end_s <= 4.0


def test_it_lies_on_top_under_a_free_name_and_is_one_step():
    base = document(
        layer("kite", "shape"), layer("bow", "shape").model_copy(update={"name": "hit"})
    )
    done = placed(base, at_s=1.0)
    layers = done.project.scenes[0].layers
    assert layers[-1].kind == "sound" and layers[-1].name == "hit 2"
    assert revert(done.project, done.inverse) == base


def test_tied_to_a_layer_it_goes_with_it():
    kite = layer("kite", "shape", 1.0, 3.0).model_copy(update={"arrive_s": 0.8})
    after = placed(document(kite), at_s=1.28, tied="kite", tied_to="start").project
    assert heard_at(after) == pytest.approx(1.28, abs=1e-4)
    slide = {"kind": "set-spans", "scene": "reveal", "mode": "slide",
             "spans": [{"layer": "kite", "start_s": 1.4, "end_s": 3.4}]}  # fmt: skip
    moved = apply_edit(after, parse_edit(slide), CONTEXT).project
    assert heard_at(moved) == pytest.approx(1.68, abs=1e-4)


@pytest.mark.parametrize(("more", "words"), [
    ({"at_s": 9.0}, "before 4 s"), ({"at_s": 1.0, "asset": "nobody"}, "nobody"),
    ({"at_s": 1.0, "tied": "nobody"}, "nobody"),
])  # fmt: skip
def test_what_cannot_be_placed_is_said(more, words):
    with pytest.raises(DocumentError, match=words):
        placed(document(), **more)


def test_only_sounds_are_placed_so():
    picture = asset("hit", HIT, "picture", width=10, height=10, channels=0)
    base = project().model_copy(update={"assets": (picture,)})
    with pytest.raises(DocumentError, match="a sound"):
        placed(base, at_s=1.0)
