"""The lines of a text one after another, and keys of texts that cross over."""

import pytest
from tests.build import key, layer, project
from tests.edits.test_edits import applied
from tests.edits.type_desk import S, lettered

from young_comet.core.model import Repeat
from young_comet.core.resolve import SceneEvaluator
from young_comet.errors import DocumentError


def words(document, time_s, layer_id="list"):
    frame = SceneEvaluator(document, "reveal").at(time_s)
    return [each.content.text for each in frame.layers if each.id == layer_id]


def test_lines_are_shown_one_after_another_and_become_each_other():
    document = applied(lettered(), {"kind": "swap-lines", **S, "layer": "list"}).project
    # Three lines in four seconds: each a third, the last 0.6 s of it on the way.
    assert words(document, 0.5) == ["Noon"] and words(document, 1.5) == ["North jetty"]
    assert words(document, 3.9) == ["Heat 3"]
    assert words(document, 1.1) == ["Noon", "North jetty"]
    assert words(document, 4 / 3 - 0.61) == ["Noon"]


def test_short_texts_still_rest_between_and_one_line_is_refused():
    document = applied(
        lettered(), {"kind": "swap-lines", **S, "layer": "list", "change_s": 50}
    ).project
    assert words(document, 0.2) == ["Noon"] and len(words(document, 0.4)) == 2
    with pytest.raises(DocumentError, match="two lines"):
        applied(lettered(), {"kind": "swap-lines", **S, "layer": "week"})
    with pytest.raises(DocumentError, match="keys"):
        applied(lettered(), {"kind": "swap-lines", **S, "layer": "said"})


def test_keys_of_a_text_cross_over_from_one_to_the_next():
    edit = {"kind": "cross-keys", **S, "targets": [{"layer": "said", "property": "text"}],
            "crosses": True}  # fmt: skip
    document = applied(lettered(), edit).project
    assert words(lettered(), 1.0, "said") == ["Noon"]
    assert words(document, 1.0, "said") == ["Noon", "Later"]
    back = applied(document, {**edit, "crosses": False}).project
    assert words(back, 1.0, "said") == ["Noon"]
    with pytest.raises(DocumentError, match="nothing between"):
        applied(lettered(), {**edit, "targets": [{"layer": "said", "property": "opacity"}]})


def test_in_a_loop_they_cross_again():
    keys = [key(0, "Day 1", "linear"), key(1, "Day 9", "linear"), key(2, "Day 1")]
    said = layer("list", "text", text=keys)
    prop = said.properties["text"].model_copy(
        update={"crosses": True, "repeat": Repeat(mode="loop")}
    )
    document = project(said.model_copy(update={"properties": {"text": prop}}))
    assert words(document, 0.5) == words(document, 2.5) == ["Day 5"]
    assert words(document, 1.5) == words(document, 3.5) == ["Day 5"]
