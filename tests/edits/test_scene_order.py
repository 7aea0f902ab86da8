"""Scenes put in their order, and one after another into another one."""

import pytest
from tests.build import Context, project

from young_comet.edits import apply_edit, parse_edit, revert
from young_comet.errors import ConflictError, DocumentError, NotFoundError

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


def placing(*scenes, **more):
    placed = [{"scene": id, "id": f"{id}{n}"} for n, id in enumerate(scenes)]
    return parse_edit({"kind": "place-scenes", "scene": "a", "placed": placed, **more})


def test_scenes_follow_each_other_tied_and_an_empty_scene_is_as_long_as_they_are():
    document = several()
    done = apply_edit(document, placing("b", "c", "b"), CONTEXT)
    scene = done.project.scenes[0]
    spans = [(each.start_s, each.end_s) for each in scene.layers]
    assert spans == [(0, 4), (4, 8), (8, 12)] and scene.length_s == 12
    assert [each.start_tie and each.start_tie.id for each in scene.layers] == [None, "b0", "c1"]
    assert [each.name for each in scene.layers] == ["b", "c", "b 2"]
    assert revert(done.project, done.inverse).scenes == document.scenes


def test_they_begin_where_they_are_told_and_lengthen_a_scene_that_has_layers():
    document = apply_edit(several(), placing("b"), CONTEXT).project
    edit = parse_edit({"kind": "place-scenes", "scene": "a", "at_s": 1.0,
                       "placed": [{"scene": "d", "id": "late"}]})  # fmt: skip
    scene = apply_edit(document, edit, CONTEXT).project.scenes[0]
    assert (scene.layers[-1].start_s, scene.length_s) == (1.0, 5.0)


@pytest.mark.parametrize("scenes, error", [(("a",), DocumentError), (("x",), NotFoundError)])
def test_a_scene_in_itself_and_one_that_is_not_there_are_refused(scenes, error):
    with pytest.raises(error):
        apply_edit(several(), placing(*scenes), CONTEXT)


def test_ids_that_are_taken_are_refused():
    edit = parse_edit({"kind": "place-scenes", "scene": "a", "placed": [
        {"scene": "b", "id": "one"}, {"scene": "c", "id": "one"}]})  # fmt: skip
    with pytest.raises((DocumentError, ConflictError)):
        apply_edit(several(), edit, CONTEXT)
