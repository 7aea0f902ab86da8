"""Layers joined by transitions: what is set, what stays, what is refused."""

import pytest
from tests.build import CONTEXT, layer, project
from tests.edits.transitions_desk import S, crossing

from young_comet.core.catalog import check_project
from young_comet.core.model.schema import load_project
from young_comet.core.resolve.joints import meetings_of
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import revert
from young_comet.errors import DocumentError


def do(document, **edit):
    return apply_edit(document, parse_edit({**S, **edit}), CONTEXT).project


def find(document, layer_id):
    return next(each for each in document.scenes[0].layers if each.id == layer_id)


def meetings(document):
    return [(m.first.id, m.second.id) for m in meetings_of(document.scenes[0])]


def test_layers_that_overlap_end_where_the_next_begins_and_cross_as_long():
    document = do(crossing(), kind="join-layers", layers=["dusk", "day"], transition="push")
    day, dusk = find(document, "day"), find(document, "dusk")
    assert (day.end_s, dusk.start_s) == (1.7, 1.7)
    (held,) = dusk.transitions
    assert held.kind == "push" and held.before == "day" and held.length_s == pytest.approx(0.3)
    assert dusk.properties[f"transition.{held.id}.lies"].value == "after"
    assert meetings(document) == [("dawn", "day"), ("day", "dusk")]
    (_, second) = meetings_of(document.scenes[0])
    assert (second.begin_s, second.end_s) == (1.7, pytest.approx(2.0))


def test_another_kind_keeps_what_it_knows_and_the_length():
    before = crossing()
    document = do(before, kind="join-layers", layers=["dawn", "day"], transition="opening")
    (held,) = find(document, "day").transitions
    assert (held.id, held.kind, held.length_s) == ("t", "opening", 0.6)
    properties = find(document, "day").properties
    assert properties["transition.t.angle"].value == 30 and "transition.t.lies" not in properties
    fade = do(document, kind="join-layers", layers=["dawn", "day"], transition="cross-fade",
              length_s=0.2, values={"through": "colour", "colour": "#102030"})  # fmt: skip
    properties = find(fade, "day").properties
    assert "transition.t.angle" not in properties
    assert properties["transition.t.colour"].value == "#102030"
    applied = apply_edit(before, parse_edit({
        **S, "kind": "join-layers", "layers": ["dawn", "day"], "transition": "opening",
    }), CONTEXT)  # fmt: skip
    assert revert(applied.project, applied.inverse) == before
    again = load_project(document.model_dump(mode="json"))
    assert again == document


@pytest.mark.parametrize(("edit", "says"), [
    ({"layers": ["dusk", "night"], "transition": "push"}, "ends 0.40 s before 'Night' begins"),
    ({"layers": ["dawn"], "transition": "push"}, "two layers or more"),
    ({"layers": ["dawn", "day"], "transition": "moonlight"}, "one of cut, cross-fade"),
    ({"layers": ["dawn", "bed"], "transition": "push"}, "no picture"),
    ({"layers": ["dawn", "day"], "transition": "push", "length_s": 0}, "length_s"),
    ({"layers": ["dawn", "day"], "transition": "push", "values": {"wind": 3}}, "some of angle"),
    ({"layers": ["dawn", "day"], "transition": "wipe", "values": {"softness": 900}}, "0 to 100"),
])  # fmt: skip
def test_what_cannot_be_joined_is_refused_by_name(edit, says):
    with pytest.raises(DocumentError, match=says):
        do(crossing(), kind="join-layers", **edit)


def test_two_that_begin_together_have_no_order():
    document = project(layer("a", "backdrop", 0, 2), layer("b", "backdrop", 0, 3), ground=None)
    with pytest.raises(DocumentError, match="neither is first"):
        do(document, kind="join-layers", layers=["a", "b"], transition="push")


def test_cutting_moves_the_joint_to_the_half_that_meets():
    document = do(crossing(), kind="split-layers", time_s=0.4, ids={"dawn": "dawn-2"})
    assert meetings(document) == [("dawn-2", "day")]
    document = do(document, kind="split-layers", time_s=1.6, ids={"day": "day-2"})
    assert meetings(document) == [("dawn-2", "day")] and not find(document, "day-2").transitions


def test_copies_cross_with_their_own_and_a_layer_alone_waits():
    copy = {"kind": "duplicate-layers", "copies": {"dawn": "d2", "day": "e2"}}
    both = do(crossing(), **copy)
    assert find(both, "e2").transitions[0].before == "d2"
    assert ("d2", "e2") in meetings(both) and ("dawn", "day") in meetings(both)
    gone = do(crossing(), kind="remove-layers", layers=["dawn"])
    assert meetings(gone) == [] and find(gone, "day").transitions


def test_pairs_are_corrected_taken_back_and_of_one_layer_each():
    document = crossing()
    for of, to in (("kite", "bow"), ("tail", "bow"), ("kite", "")):
        document = do(document, kind="pair-layers", layer="day", of=of, to=to)
    assert dict(find(document, "day").transitions[0].pairs) == {"tail": "bow", "kite": ""}
    document = do(document, kind="pair-layers", layer="day", of="tail")
    assert dict(find(document, "day").transitions[0].pairs) == {"kite": ""}
    with pytest.raises(DocumentError, match="takes over from no other"):
        do(document, kind="pair-layers", layer="dawn", of="a", to="b")


def test_hostile_documents_are_refused():
    data = crossing().model_dump(mode="json")
    day = next(each for each in data["scenes"][0]["layers"] if each["id"] == "day")
    for change in (
        {"kind": "moonlight"}, {"length_s": -1}, {"length_s": 1e9}, {"before": "day"},
        {"pairs": [["a"]]},
    ):  # fmt: skip
        bad = {**day["transitions"][0], **change}
        layers = [{**each, "transitions": [bad]} if each["id"] == "day" else each
                  for each in data["scenes"][0]["layers"]]  # fmt: skip
        with pytest.raises(DocumentError):
            whole = {**data, "scenes": [{**data["scenes"][0], "layers": layers}]}
            check_project(load_project(whole))
