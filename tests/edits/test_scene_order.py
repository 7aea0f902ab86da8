"""Scenes put in their order."""

import pytest
from tests.build import Context, project

from young_comet.edits import apply_edit, parse_edit, revert
from young_comet.errors import NotFoundError

CONTEXT = Context()


def several():
    document = project()
    scenes = tuple(document.scenes[0].model_copy(update={"id": id, "name": id}) for id in "abcd")
    return document.model_copy(update={"scenes": scenes})


@pytest.mark.parametrize(
    "scene, index, order",
    [("a", 0, "abcd"), ("a", 2, "bcad"), ("d", 0, "dabc"), ("b", 99, "acdb"), ("c", 3, "abdc")],
)
def test_a_scene_goes_to_its_place_and_back(scene, index, order):
    document = several()
    edit = parse_edit({"kind": "order-scene", "scene": scene, "index": index})
    done = apply_edit(document, edit, CONTEXT)
    assert "".join(each.id for each in done.project.scenes) == order
    assert revert(done.project, done.inverse).scenes == document.scenes


def test_a_scene_that_is_not_there_has_no_place():
    with pytest.raises(NotFoundError):
        apply_edit(
            several(), parse_edit({"kind": "order-scene", "scene": "x", "index": 0}), CONTEXT
        )
