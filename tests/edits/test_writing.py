"""Texts written on the stage: their words, their layer's name, and what keeps them in the frame."""

from __future__ import annotations

import pytest
from tests.build import NoAssets, key, layer, project
from tests.edits.test_edits import applied

from young_comet.core.paint import MediaLibrary
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import layer_bounds
from young_comet.errors import DocumentError


def written(document, text, fits=False, layer_id="name", time_s=0.0):
    data = {"kind": "write-text", "scene": "reveal", "layer": layer_id, "text": text,
            "time_s": time_s, "fits": fits}  # fmt: skip
    return applied(document, data)


def kites(name="Bay", **values):
    text = layer("name", "text", text="Bay", **values).model_copy(update={"name": name})
    return project(text, layer("box", "shape"), width=320, height=180)


def the_text(result):
    return result.project.scenes[0].layers[0]


def value(result, name):
    prop = the_text(result).properties.get(name)
    return None if prop is None else prop.value


@pytest.mark.parametrize(("name", "called"), [
    ("Bay", "Gullwing Bay"), ("Text", "Gullwing Bay"), ("Text 12", "Gullwing Bay"), ("Headline", "Headline"),
    ("Text me", "Text me"),
])  # fmt: skip
def test_a_layer_that_is_called_after_its_text_goes_on_being_so(name, called):
    result = written(kites(name), "Gullwing\n  Bay ")
    assert value(result, "text") == "Gullwing\n  Bay " and the_text(result).name == called


def test_a_text_with_keys_keeps_its_name_and_gets_a_key():
    keyed = layer("name", "text", text=[key(0.0, "Bay"), key(2.0, "Week")])
    document = project(keyed.model_copy(update={"name": "Bay"}))
    result = written(document, "Kites", time_s=1.0)
    keys = the_text(result).properties["text"].keys
    assert [(k.time_s, k.value) for k in keys] == [(0.0, "Bay"), (1.0, "Kites"), (2.0, "Week")]
    assert the_text(result).name == "Bay"


LONG = "From the fourth of June on, every kite"


@pytest.mark.parametrize("values", [
    {"text__size": 40.0, "position": (100.0, 90.0), "text__align": "left"},
    {"text__size": 40.0, "position": (160.0, 90.0), "text__align": "centre"},
    {"text__size": 40.0, "position": (300.0, 90.0), "text__align": "right"},
    {"text__size": 90.0, "position": (20.0, 20.0), "text__align": "left"},
])  # fmt: skip
def test_what_fits_is_made_smaller_and_never_larger(values):
    document = kites(**values)
    short = written(document, "Bay", fits=True) if values["text__size"] < 60 else None
    if short is not None and values["text__align"] == "centre":
        assert value(short, "text.size") == 40.0
    result = written(document, LONG, fits=True)
    assert value(result, "text.size") < values["text__size"]
    library = MediaLibrary(NoAssets())
    evaluator = SceneEvaluator(result.project, "reveal", library=library)
    box = layer_bounds(evaluator, library, the_text(result), 0.0)
    assert box[0] >= -1 and box[2] <= 321
    plain = written(document, LONG)
    assert value(plain, "text.size") == values["text__size"]


def test_a_size_with_keys_is_the_artists_own():
    sized = layer("name", "text", text="Bay", text__size=[key(0.0, 90.0), key(1.0, 99.0)])
    result = written(project(sized), LONG, fits=True)
    assert [k.value for k in the_text(result).properties["text.size"].keys] == [90.0, 99.0]


def test_what_is_no_text_cannot_be_written():
    with pytest.raises(DocumentError, match="a text"):
        written(kites(), "Bay at night", layer_id="box")
