"""What a text says over time: keys that hold until the next."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import CONTEXT, draw, key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Project
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError, YoungCometError

WORDS = ["Three", "Two", "One", "Fly"]


def spoken(**more):
    keys = [key(n * 0.5, word, "hold") for n, word in enumerate(WORDS)]
    return project(layer("count", "text", text=keys, position=[160, 90], **more))


def says(document, time_s):
    evaluator = SceneEvaluator(document, "reveal")
    return evaluator.layer(evaluator.find("count"), time_s).content.text


def edited(document, kind, **edit):
    return apply_edit(document, parse_edit({"scene": "reveal", "kind": kind, **edit}), CONTEXT)


def chosen(*numbers):
    ids = [f"k{n * 500}" for n in numbers]
    return [{"layer": "count", "property": "text", "key": each} for each in ids]


TEXT = [{"layer": "count", "property": "text"}]


@pytest.mark.parametrize("easing", ["hold", "linear", "ease-in-out", "spring(0.5)", "steps(3)"])
def test_a_text_holds_until_its_next_key_however_it_is_eased(easing):
    document = project(
        layer("count", "text", text=[key(n * 0.5, w, easing) for n, w in enumerate(WORDS)])
    )
    for number, word in enumerate(WORDS):
        assert says(document, number * 0.5) == word
        assert says(document, number * 0.5 + 0.46) == word
    assert says(document, 3.9) == "Fly"


def test_typing_at_a_time_sets_a_key_and_deleting_keys_keeps_the_last_word():
    document = project(layer("count", "text", text="Three"))
    document = edited(document, "set-keys", targets=TEXT, time_s=0).project
    target = [{**TEXT[0], "value": "Two"}]
    document = edited(document, "set-values", targets=target, time_s=1.0).project
    assert [says(document, t) for t in (0, 0.96, 1.0, 3.0)] == ["Three", "Three", "Two", "Two"]
    prop = document.scenes[0].layers[0].properties["text"]
    assert [k.easing for k in prop.keys] == ["hold", "hold"]
    for each in prop.keys[:0:-1]:
        document = edited(document, "remove-keys", keys=[{**TEXT[0], "key": each.id}]).project
    first = document.scenes[0].layers[0].properties["text"].keys[0]
    document = edited(document, "remove-keys", keys=[{**TEXT[0], "key": first.id}]).project
    assert document.scenes[0].layers[0].properties["text"].value == "Three"


EDITS = [
    ("ease-keys", {"keys": chosen(0, 1, 2), "easing": "ease-out", "side": "around"}),
    ("stretch-keys", {"keys": chosen(0, 1, 2, 3), "about_s": 0.0, "factor": 1.5}),
    ("reverse-keys", {"keys": chosen(0, 1, 2, 3)}),
    ("mirror-keys", {"keys": chosen(0, 1, 2, 3)}),
    ("distribute-keys", {"keys": chosen(0, 1, 3)}),
    ("change-key-values", {"keys": chosen(0, 1), "how": "set", "value": "Now"}),
    ("change-key-values", {"keys": chosen(0, 1), "how": "add", "value": 3}),
    ("change-key-values", {"keys": chosen(0), "how": "multiply", "value": 2, "part": 0}),
    ("join-keys", {"keys": chosen(1, 2), "join": "smooth"}),
    ("join-keys", {"keys": chosen(1, 2), "join": "matched"}),
    ("move-keys", {"moves": [{**chosen(1)[0], "time_s": 1.5, "value": "Gull"}]}),
    ("copy-keys", {"moves": [{**chosen(1)[0], "time_s": 2.5}]}),
    ("repeat-keys", {"targets": TEXT, "repeat": {"mode": "loop"}}),
    ("repeat-keys", {"targets": TEXT, "repeat": {"mode": "there-and-back"}}),
    ("repeat-keys", {"targets": TEXT, "repeat": {"mode": "onward"}}),
    ("set-pace", {"layer": "count", "property": "text", "pace": "even"}),
    ("split-property", {"layer": "count", "property": "text"}),
    ("clear-keys", {"targets": TEXT, "time_s": 1.2}),
    ("set-keys", {"targets": TEXT, "time_s": 0.72}),
    ("split-layers", {"time_s": 0.8, "ids": {"count": "later"}}),
    ("duplicate-layers", {"copies": {"count": "again"}}),
    ("set-spans", {"mode": "trim", "spans": [{"layer": "count", "start_s": 0.6, "end_s": 2}]}),
]  # fmt: skip


@pytest.mark.parametrize(
    ("kind", "edit"), EDITS, ids=[f"{i}-{k}" for i, (k, _) in enumerate(EDITS)]
)
def test_every_operation_on_keys_works_or_says_why_not(kind, edit):
    """What cannot be done to words is refused with a sentence; the rest is sound, is undone to
    what it was, and is drawn."""
    document = spoken()
    try:
        applied = edited(document, kind, **edit)
    except YoungCometError as error:
        assert len(str(error)) > 15
        return
    check_project(applied.project)
    for time_s in (0.0, 0.49, 0.5, 1.23, 2.0, 3.96):
        assert says(applied.project, time_s) in (*WORDS, "Now", "Gull")
    assert draw(applied.project, 1.0).shape == (180, 320, 4)
    assert Project.model_validate_json(applied.project.model_dump_json()) == applied.project


def test_an_expression_is_baked_into_words_that_hold():
    document = project(layer("count", "text", text="3"))
    set_it = {"targets": TEXT, "text": 'clock(3 - t, "ss")'}
    document = edited(document, "set-expression", **set_it).project
    said = [says(document, t) for t in np.arange(0, 3, 0.04)]
    baked = edited(document, "bake-expressions", targets=TEXT).project
    prop = baked.scenes[0].layers[0].properties["text"]
    assert not prop.expression and 3 <= len(prop.keys) <= 6
    assert [says(baked, t) for t in np.arange(0, 3, 0.04)] == said


def test_a_typeface_still_has_no_keys():
    with pytest.raises(DocumentError, match="cannot have keys"):
        project(layer("count", "text", text__font=[key(0, "inter")]))
