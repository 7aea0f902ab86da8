"""Moments that hang on one another."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.build import CONTEXT, layer, project

from young_comet.core.model import Mark
from young_comet.edits import apply_edit, draft, parse_edit, revert
from young_comet.edits.patch import plain
from young_comet.errors import DocumentError

S = {"scene": "reveal"}


def desk():
    """A backdrop, and a kite, a name and a line that arrive in 0.4 s and leave in 0.2 s."""
    pieces = [
        layer(name, "shape", start, start + 1.6).model_copy(update={"arrive_s": 0.4, "leave_s": 0.2})
        for name, start in (("kite", 0.4), ("name", 1.0), ("line", 1.6))
    ]  # fmt: skip
    marks = (Mark(id="hit", name="hit", time_s=2.0),)
    return project(layer("sky", "backdrop"), *pieces, marks=marks)


def done(document, *edits):
    for edit in edits:
        document = apply_edit(document, parse_edit({**S, **edit}), CONTEXT).project
    return document


def tie(target, to, moment="start", offset=None, side="start", **more):
    what = {"mark": "hit"} if target == "hit" else {"layer": target, "side": side}
    where = (
        {"to": "scene"} if to == "scene" else {"to": "mark" if to == "hit" else "layer", "id": to}
    )
    return {
        "kind": "tie-times",
        "targets": [what],
        **where,
        "moment": moment,
        "offset_s": offset,
        **more,
    }


def slide(name, start, end):
    return {"kind": "set-spans", "spans": [{"layer": name, "start_s": start, "end_s": end}]}


def spans(document):
    return {la.id: (round(la.start_s, 6), round(la.end_s, 6)) for la in document.scenes[0].layers}


def mark(document):
    return document.scenes[0].marks[0]


def named(document, name):
    return next(la for la in document.scenes[0].layers if la.id == name)


@pytest.mark.parametrize(
    ("moment", "expected"), [("start", 0.6), ("arrived", 1.0), ("leaves", 2.0), ("end", 2.2)]
)
def test_a_start_hangs_on_each_moment_of_a_layer(moment, expected):
    document = done(desk(), slide("kite", 0.6, 2.2), tie("name", "kite", moment, 0.0))
    assert spans(document)["name"] == pytest.approx((expected, expected + 1.6))


def test_without_an_offset_nothing_moves_and_later_all_goes_along():
    document = desk()
    tied = done(
        document, tie("name", "kite", "arrived"), tie("line", "name", "end"), tie("hit", "line")
    )
    assert spans(tied) == spans(document) and mark(tied).time_s == 2.0
    moved = done(tied, slide("kite", 0.8, 2.4))
    assert spans(moved)["name"][0] == pytest.approx(1.4)
    assert spans(moved)["line"][0] == pytest.approx(2.0)
    assert mark(moved).time_s == pytest.approx(2.4)
    longer = done(moved, {"kind": "set-phases", "layers": ["kite"], "arrive_s": 0.8})
    assert spans(longer)["name"][0] == pytest.approx(1.8)


def test_an_end_alone_makes_a_layer_longer_and_both_ends_can_be_tied():
    document = done(desk(), tie("name", "hit", offset=0.5, side="end"))
    assert spans(document)["name"] == pytest.approx((1.0, 2.52), abs=0.021)
    both = done(document, tie("name", "kite", "start", 0.2))
    assert spans(both)["name"][0] == pytest.approx(0.6, abs=0.021)
    assert spans(both)["name"][1] == pytest.approx(2.52, abs=0.021)
    turned = done(both, slide("kite", 3.0, 3.6))
    start, end = spans(turned)["name"]
    assert start == pytest.approx(3.2) and end == pytest.approx(3.24)  # never less than a frame


def test_dragging_what_is_tied_changes_the_distance():
    document = done(desk(), tie("name", "kite", "arrived", 0.0), slide("name", 1.4, 3.0))
    assert named(document, "name").start_tie.offset_s == pytest.approx(0.6)
    together = done(document, {"kind": "set-spans", "spans": [
        {"layer": "kite", "start_s": 0.6, "end_s": 2.2}, {"layer": "name", "start_s": 1.6, "end_s": 3.2}]})  # fmt: skip
    assert named(together, "name").start_tie.offset_s == pytest.approx(0.6)
    assert spans(together)["name"] == pytest.approx((1.6, 3.2))


def test_dragging_two_ends_of_a_chain_keeps_both_where_they_are_put():
    document = done(desk(), tie("name", "kite"), tie("line", "name"))
    moved = done(document, {"kind": "set-spans", "spans": [
        {"layer": "kite", "start_s": 0.8, "end_s": 2.4}, {"layer": "line", "start_s": 2.0, "end_s": 3.6}]})  # fmt: skip
    assert spans(moved)["name"][0] == pytest.approx(1.4)
    assert spans(moved)["line"][0] == pytest.approx(2.0)


def test_one_after_another():
    row = {
        "kind": "tie-in-row",
        "layers": ["line", "kite", "name"],
        "after": "arrived",
        "gap_s": -0.2,
    }
    document = done(desk(), row)
    assert [spans(document)[n][0] for n in ("kite", "name", "line")] == pytest.approx(
        [0.4, 0.6, 0.8]
    )


def test_a_cut_tie_leaves_all_times():
    document = done(desk(), tie("name", "kite", "arrived", 0.2))
    cut = done(document, {"kind": "cut-ties", "targets": [{"layer": "name"}]})
    assert spans(cut) == spans(document)
    assert spans(done(cut, slide("kite", 0, 1.6)))["name"] == spans(document)["name"]


def test_ties_to_what_is_deleted_are_cut():
    document = done(desk(), tie("name", "kite", "arrived", 0.2), tie("line", "hit", offset=0.0))
    gone = done(document, {"kind": "remove-layers", "layers": ["kite"]},
                {"kind": "remove-marks", "marks": ["hit"]})  # fmt: skip
    assert named(gone, "name").start_tie is None and named(gone, "line").start_tie is None
    assert spans(gone)["name"] == spans(document)["name"]


def test_copies_are_tied_to_copies():
    document = done(desk(), tie("name", "kite", "arrived", 0.2),
                    {"kind": "duplicate-layers", "copies": {"kite": "kite2", "name": "name2"}})  # fmt: skip
    assert named(document, "name2").start_tie.id == "kite2"


def test_a_scene_ends_with_the_last_that_leaves():
    document = done(desk(), {"kind": "change-scene", "ends_with_last": True})
    scene = document.scenes[0]
    assert scene.length_s == pytest.approx(3.2) and spans(document)["sky"][1] == pytest.approx(3.2)
    later = done(document, slide("line", 2.0, 5.0))
    assert later.scenes[0].length_s == pytest.approx(5.0)
    assert spans(later)["sky"] == pytest.approx((0.0, 5.0))
    shorter = done(later, slide("line", 0.0, 1.0))
    assert shorter.scenes[0].length_s == pytest.approx(2.6)
    tied = done(shorter, tie("kite", "scene", "end", 0.0, side="end"))
    assert tied.scenes[0].length_s == pytest.approx(2.6)
    assert spans(tied)["kite"][1] == pytest.approx(2.6)


@pytest.mark.parametrize(
    "edits",
    [
        (tie("kite", "name"), tie("name", "kite")),
        (tie("kite", "kite", "end"),),
        (tie("hit", "kite"), tie("kite", "hit")),
        (tie("kite", "name"), tie("name", "line", "end"), tie("line", "kite", "arrived")),
        (
            {"kind": "change-scene", "ends_with_last": True},
            tie("name", "scene", "end"),
        ),
    ],
)
def test_circles_are_refused_and_named(edits):
    document = done(desk(), *edits[:-1])
    with pytest.raises(DocumentError) as caught:
        done(document, edits[-1])
    assert "circle" in str(caught.value) and (
        "'Kite'" in str(caught.value) or "'Name'" in str(caught.value)
    )


@pytest.mark.parametrize(
    ("edit", "word"),
    [
        (tie("kite", "gull"), "no layer"),
        (tie("kite", "scene", "arrived"), "start or end"),
        ({"kind": "tie-times", "targets": [{}], "to": "scene"}, "no layer"),
        ({"kind": "tie-times", "targets": [{"mark": "hit"}], "to": "mark", "id": "hit"}, "itself"),
        ({"kind": "set-phases", "layers": ["kite"], "arrive_s": -1}, "arrive_s"),
    ],
)
def test_impossible_ties_are_refused(edit, word):
    with pytest.raises(DocumentError, match=word):
        done(desk(), edit)


NAMES = ("kite", "name", "line")
MOVES = st.lists(
    st.one_of(
        st.builds(lambda n, a, d: slide(n, a / 25, (a + d) / 25), st.sampled_from(NAMES),
                  st.integers(0, 90), st.integers(2, 60)),
        st.builds(lambda n, m, o, s, p: tie(n, m, p, o / 25, s), st.sampled_from(NAMES),
                  st.sampled_from((*NAMES, "hit", "scene")), st.integers(-30, 30),
                  st.sampled_from(("start", "end")), st.sampled_from(("start", "end"))),
        st.builds(lambda n, a: {"kind": "set-phases", "layers": [n], "arrive_s": a / 25},
                  st.sampled_from(NAMES), st.integers(0, 30)),
    ),
    max_size=10,
)  # fmt: skip


@given(MOVES)
@settings(max_examples=80, deadline=None)
def test_ties_always_hold_and_undo_gives_back_the_same(edits):
    document = desk()
    for edit in edits:
        try:
            result = apply_edit(document, parse_edit({**S, **edit}), CONTEXT)
        except DocumentError as error:
            assert "circle" in str(error)
            continue
        assert plain(revert(result.project, result.inverse)) == plain(document)
        document = result.project
        holds(document)
    again = draft(document, [parse_edit({**S, "kind": "change-scene", "name": "Again"})], CONTEXT)
    assert spans(again) == spans(document)


def holds(document):
    """Every tied moment is where it belongs, to the frame, unless that would turn a span."""
    scene = document.scenes[0]
    layers = {la.id: la for la in scene.layers}
    for la in scene.layers:
        assert la.end_s - la.start_s >= 0.04 - 1e-9
        for side in ("start", "end"):
            tied = getattr(la, f"{side}_tie")
            if tied is None:
                continue
            base = {"scene": scene.length_s if tied.moment == "end" else 0.0, "mark": 2.0}.get(
                tied.to
            )
            if tied.to == "mark":
                base = scene.marks[0].time_s
            if tied.to == "layer":
                other = layers[tied.id]
                base = other.start_s if tied.moment == "start" else other.end_s
            wanted = base + tied.offset_s
            if side == "end":
                wanted = max(wanted, la.start_s + 0.04)
            assert abs(getattr(la, f"{side}_s") - wanted) <= 0.0201
