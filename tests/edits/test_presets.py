"""Choices for renders, kept in the project."""

from __future__ import annotations

import json

import pytest
from tests.build import layer, project
from tests.edits.desk import CONTEXT

from young_comet.core.catalog import check_project
from young_comet.core.export import RenderSettings
from young_comet.core.model import load_project
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.patch import plain
from young_comet.edits.preset_edits import settings_of
from young_comet.errors import DocumentError

CHOSEN = {
    "format": "mp4", "also": ["gif", "wav"], "quality": "best", "scale": 0.5, "transparent": True,
    "rate": {"num": 30000, "den": 1001}, "loudness": -16.0, "from_s": 0.4, "layers": ["box"],
}  # fmt: skip


def saved(base, name="For the stand", id="stand", **settings):
    edit = {"kind": "save-preset", "id": id, "name": name, "settings": {**CHOSEN, **settings}}
    return apply_edit(base, parse_edit(edit), CONTEXT).project


def test_what_was_chosen_comes_back_but_for_range_and_layers():
    base = saved(project(layer("box", "shape")))
    again = check_project(load_project(json.loads(json.dumps(plain(base)))))
    found = settings_of(again.presets[0], to_s=2.0)
    expected = {**CHOSEN, "from_s": None, "to_s": 2.0, "layers": []}
    assert found == RenderSettings(**expected)


def test_one_of_the_same_name_is_replaced():
    base = saved(saved(project()), id="other", scale=1.0)
    assert [(each.id, each.settings["scale"]) for each in base.presets] == [("other", 1.0)]
    two = saved(base, name="For the bus", id="bus")
    assert [each.name for each in two.presets] == ["For the stand", "For the bus"]


@pytest.mark.parametrize(
    ("settings", "said"),
    [
        ({"format": "avi"}, "format"),
        ({"scale": -1}, "scale"),
        ({"also": ["png"]}, "at once"),
        ({"surprise": True}, "surprise"),
    ],
)
def test_what_is_no_choice_is_refused(settings, said):
    with pytest.raises(DocumentError, match=said):
        saved(project(), **settings)


@pytest.mark.parametrize(
    "settings",
    [
        {"format": {"a": {"b": 1}}},
        {"FORMAT": "mp4"},
        {"x" * 41: 1},
        {"also": ["y" * 41]},
        {f"a{'b' * n}": 1 for n in range(41)},
    ],
)
def test_documents_with_strange_presets_are_refused(settings):
    document = plain(project())
    document["presets"] = [{"id": "p", "name": "P", "settings": settings}]
    with pytest.raises(DocumentError):
        load_project(document)


def test_a_preset_of_another_time_is_refused_when_it_is_used():
    document = plain(project())
    document["presets"] = [{"id": "p", "name": "P", "settings": {"format": "scroll"}}]
    known = check_project(load_project(document))
    with pytest.raises(DocumentError, match="format"):
        settings_of(known.presets[0])
