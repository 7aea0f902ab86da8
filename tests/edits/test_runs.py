"""Runs: stretches of a text with letters of their own, through all that is written and styled."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import CONTEXT, key, layer, project
from tests.edits.test_edits import applied

from young_comet.core.catalog import RUNS, check_project
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit, revert
from young_comet.edits.runs import stretch_between
from young_comet.errors import DocumentError

WORDS = "Let go of the wind"


def text(**more):
    values = {"text": WORDS, "text__size": 40.0, "position": [160, 90], **more}
    return project(layer("name", "text", **values))


def edited(document, kind, **edit):
    return applied(
        document, {"kind": kind, "scene": "reveal", "layer": "name", "time_s": 0.0, **edit}
    )


def styled(document, first, last, **set):
    values = {name.replace("__", "."): value for name, value in set.items()}
    return edited(document, "style-stretch", first=first, last=last, set=values).project


def runs(document):
    """(first, last, values) of each run of the layer."""
    (made,) = document.scenes[0].layers
    return [
        (run.first, run.last, {n: p.value for n, p in RUNS.own(made, run.id).items()})
        for run in made.runs
    ]


def says(document):
    return document.scenes[0].layers[0].properties["text"].value


BOLD = styled(text(), 4, 6, weight=900)


def test_a_word_is_styled_and_neighbours_that_are_alike_are_one_run():
    assert runs(BOLD) == [(4, 6, {"weight": 900.0})]
    both = styled(BOLD, 6, 9, weight=900)
    assert runs(both) == [(4, 9, {"weight": 900.0})]
    assert both.scenes[0].layers[0].runs[0].id == BOLD.scenes[0].layers[0].runs[0].id
    parted = styled(both, 5, 8, slant=12)
    assert runs(parted) == [
        (4, 5, {"weight": 900.0}), (5, 8, {"weight": 900.0, "slant": 12.0}),
        (8, 9, {"weight": 900.0}),
    ]  # fmt: skip
    assert runs(styled(parted, 0, 18, slant=None)) == runs(both)
    assert runs(styled(both, 4, 9, weight=None)) == []


def test_what_is_set_of_all_of_a_text_is_set_of_the_text_itself():
    whole = styled(BOLD, 0, len(WORDS), weight=300, fill__colour="#112233")
    assert runs(whole) == []
    properties = whole.scenes[0].layers[0].properties
    assert (properties["text.weight"].value, properties["fill.colour"].value) == (300.0, "#112233")
    keyed = text(text__weight=[key(0, 300.0), key(2, 900.0)])
    whole = styled(keyed, 0, len(WORDS), weight=500)
    assert [k.value for k in whole.scenes[0].layers[0].properties["text.weight"].keys] == [500, 900]


@pytest.mark.parametrize(
    ("first", "last", "new", "found"),
    [
        (0, 0, "Do ", [(7, 9)]),  # before it
        (6, 6, "ld", [(4, 8)]),  # at its end: goes on as what is before
        (4, 4, "er", [(6, 8)]),  # at its begin: as what is before, which is plain
        (5, 5, "--", [(4, 8)]),  # within
        (4, 6, "hold", [(4, 8)]),  # in its place: as the first that it replaces
        (2, 5, "", [(2, 3)]),  # over its begin
        (5, 12, "", [(4, 5)]),  # over its end
        (5, 12, "ver", [(4, 8)]),
        (0, 18, "Fly", []),  # all of it, which began plain
        (9, 9, "!", [(4, 6)]),  # after it
        (0, 18, "", []),
    ],
)
def test_writing_keeps_the_runs_of_what_it_does_not_touch(first, last, new, found):
    after = edited(BOLD, "edit-text", first=first, last=last, text=new)
    assert says(after.project) == WORDS[:first] + new + WORDS[last:]
    assert [(a, b) for a, b, _ in runs(after.project)] == found
    assert revert(after.project, after.inverse) == BOLD


def test_a_new_string_is_an_edit_of_the_stretch_that_differs():
    after = edited(BOLD, "write-text", text="Let go of all the wind").project
    assert runs(after) == [(4, 6, {"weight": 900.0})]
    after = edited(BOLD, "write-text", text="Never let go of the wind").project
    assert runs(after) == [(10, 12, {"weight": 900.0})]
    assert stretch_between("aaa", "aaaa") == (3, 3, "a")
    assert stretch_between("abc", "abc") == (3, 3, "")
    assert stretch_between("", "wind") == (0, 0, "wind")


def test_styled_words_are_pasted_with_their_runs():
    run = {"first": 0, "last": 4, "properties": {"slant": {"value": 10.0}}}
    after = edited(BOLD, "edit-text", first=14, last=18, text="kite tail", runs=[run]).project
    assert runs(after) == [(4, 6, {"weight": 900.0}), (14, 18, {"slant": 10.0})]


@pytest.mark.parametrize(
    ("kind", "edit", "said"),
    [
        ("edit-text", {"first": 9, "last": 4, "text": ""}, "within the 18 characters"),
        ("edit-text", {"first": 0, "last": 99, "text": ""}, "within the 18 characters"),
        ("edit-text", {"first": 0, "last": 0, "text": "x" * 9_999}, "at most"),
        ("edit-text", {"first": 0, "last": 0, "text": "ab",
                       "runs": [{"first": 0, "last": 3, "properties": {}}]}, "within the 2"),
        ("edit-text", {"first": 0, "last": 0, "text": "ab",
                       "runs": [{"first": 0, "last": 2, "properties": {"rain": {"value": 1}}}]}, "rain"),
        ("style-stretch", {"first": 3, "last": 3, "set": {"weight": 500}}, "without letters"),
        ("style-stretch", {"first": 3, "last": 5, "set": {"rain": 500}}, "rain"),
        ("style-stretch", {"first": 3, "last": 5, "set": {"weight": "bold"}}, "number"),
        ("style-stretch", {"first": 3, "last": 5, "set": {"features": "small caps"}}, "OpenType"),
    ],
)  # fmt: skip
def test_what_cannot_be_written_or_styled_is_refused_with_words(kind, edit, said):
    with pytest.raises(DocumentError, match=said):
        edited(BOLD, kind, **edit)


def test_only_texts_are_written_in_and_have_runs():
    kite = project(layer("name", "shape"))
    for kind, edit in (
        ("edit-text", {"first": 0, "last": 0, "text": ""}),
        ("style-stretch", {"first": 0, "last": 1, "set": {"weight": 500}}),
    ):
        with pytest.raises(DocumentError, match="text"):
            edited(kite, kind, **edit)
    member = {"member": {"id": "r", "first": 0, "last": 2}}
    with pytest.raises(DocumentError, match="only a text has runs"):
        applied(kite, {"kind": "add-members", "scene": "reveal", "family": "run", "layers": ["name"],
                       "members": [member]})  # fmt: skip
    over = {"member": {"id": "r", "first": 5, "last": 9}}
    with pytest.raises(DocumentError, match="over one another"):
        applied(BOLD, {"kind": "add-members", "scene": "reveal", "family": "run", "layers": ["name"],
                       "members": [over]})  # fmt: skip


STEP = st.one_of(
    st.tuples(st.just("edit"), st.integers(0, 40), st.integers(0, 40), st.text(max_size=6)),
    st.tuples(
        st.just("style"), st.integers(0, 40), st.integers(0, 40),
        st.sampled_from([{"weight": 900}, {"slant": 9}, {"weight": None}, {"size": 20, "slant": None}]),
    ),
)  # fmt: skip


@given(st.lists(STEP, max_size=12))
def test_any_series_of_edits_keeps_runs_whole_and_undoes_to_equal_documents(steps):
    """Against a list of letters, each with its own style: brute force."""
    document = text()
    letters = [(c, {}) for c in WORDS]
    for what, a, b, value in steps:
        first, last = sorted((min(a, len(letters)), min(b, len(letters))))
        base = {"scene": "reveal", "layer": "name", "time_s": 0.0, "first": first, "last": last}
        if what == "edit":
            try:
                value.encode()
            except UnicodeEncodeError:
                continue
            like = first if last > first or first == 0 else first - 1
            style = letters[like][1] if letters and like < len(letters) else {}
            letters[first:last] = [(c, style) for c in value]
            data = {**base, "kind": "edit-text", "text": value}
        elif first == last:
            continue
        else:
            for index in range(first, last):
                own = {**letters[index][1], **value}
                letters[index] = (
                    letters[index][0],
                    {n: v for n, v in own.items() if v is not None},
                )
            if (first, last) == (0, len(letters)):
                # Of all of it: the text's own, and none has it otherwise.
                letters = [
                    (c, {n: v for n, v in own.items() if n not in value}) for c, own in letters
                ]
            data = {**base, "kind": "style-stretch", "set": value}
        before = document
        result = apply_edit(document, parse_edit(data), CONTEXT)
        document = check_project(result.project)
        assert revert(document, result.inverse) == before
    assert says(document) == "".join(c for c, _ in letters)
    worn = [{} for _ in letters]
    at = 0
    for first, last, own in runs(document):
        assert at <= first < last <= len(letters)
        at = last
        worn[first:last] = [own] * (last - first)
    assert worn == [own for _, own in letters]


def test_a_run_follows_the_text_in_what_it_does_not_set():
    document = styled(text(text__weight=[key(0, 300.0, "linear"), key(2, 900.0)]), 4, 6, slant=10)
    evaluator = SceneEvaluator(document, "reveal")
    for time_s, weight in ((0.0, 300.0), (1.0, 600.0), (2.0, 900.0)):
        content = evaluator.layer(evaluator.find("name"), time_s).content
        (run,) = content.style.runs
        assert run.letters.weight == content.style.letters.weight == pytest.approx(weight)
        assert (run.letters.slant_deg, content.style.letters.slant_deg) == (10.0, 0.0)


def test_a_run_has_keys_of_its_own():
    (made,) = BOLD.scenes[0].layers
    name = RUNS.prefix(made.runs[0].id) + "weight"
    target = {"layer": "name", "property": name}
    keyed = applied(
        BOLD, {"kind": "set-keys", "scene": "reveal", "time_s": 0.0, "targets": [target]}
    )
    data = {
        "kind": "set-values",
        "scene": "reveal",
        "time_s": 1.0,
        "targets": [{**target, "value": 100}],
    }
    moved = applied(keyed.project, data).project
    evaluator = SceneEvaluator(moved, "reveal")
    found = evaluator.layer(evaluator.find("name"), 1.0).content.style.runs[0].letters.weight
    assert found == 100.0
    # Parting it keeps the keys on both sides.
    parted = styled(moved, 5, 6, slant=9)
    assert [
        len(p.keys) for n, p in parted.scenes[0].layers[0].properties.items() if "weight" in n
    ] == [2, 2]


def test_a_linked_copy_has_the_runs_and_fronts_of_its_original():
    worn = applied(
        BOLD, {"kind": "wear-front", "scene": "reveal", "layers": ["name"], "ready": "rise"}
    )
    copied = applied(worn.project, {"kind": "duplicate-layers", "scene": "reveal",
                                    "copies": {"name": "again"}, "linked": True}).project  # fmt: skip
    first, again = copied.scenes[0].layers
    assert (again.runs, again.fronts) == (first.runs, first.fronts)
    # What is styled in the original is styled in the copy, and written there too.
    after = styled(copied, 0, 3, slant=12)
    first, again = after.scenes[0].layers
    assert again.runs == first.runs and len(first.runs) == 2
    written = edited(after, "edit-text", first=0, last=0, text="Just ").project
    first, again = written.scenes[0].layers
    assert again.runs == first.runs and again.properties["text"] == first.properties["text"]
    # What is styled in the copy alone is its own from then on.
    own = applied(written, {"kind": "style-stretch", "scene": "reveal", "layer": "again", "first": 9,
                            "last": 11, "set": {"weight": 300}, "time_s": 0.0}).project  # fmt: skip
    first, again = own.scenes[0].layers
    name = RUNS.prefix(again.runs[1].id) + "weight"
    assert (first.properties[name].value, again.properties[name].value) == (900.0, 300.0)
    check_project(own)


def test_runs_and_fronts_are_pasted_with_their_layer_and_their_side():
    worn = applied(
        BOLD, {"kind": "wear-front", "scene": "reveal", "layers": ["name"], "ready": "rise"}
    )
    (made,) = worn.project.scenes[0].layers
    pasted = applied(worn.project, {"kind": "paste-layers", "scene": "reveal", "ids": {"name": "other"},
                                    "layers": [made.model_dump(mode="json")]}).project  # fmt: skip
    other = next(la for la in pasted.scenes[0].layers if la.id == "other")
    assert (other.runs, len(other.fronts)) == (made.runs, 1)
    # Moves onto another text and onto a shape, which can wear no front.
    both = project(layer("a", "text"), layer("b", "shape"))
    onto = applied(both, {"kind": "paste-parts", "scene": "reveal", "targets": ["a", "b"],
                          "layer": made.model_dump(mode="json"), "sides": ["moves"]}).project  # fmt: skip
    a, b = onto.scenes[0].layers
    assert len(a.fronts) == 1 and not b.fronts
    check_project(onto)


PHRASES = [
    {"text": "Hold on", "start_s": 0.4, "end_s": 1.6},
    {"text": "to the wind", "start_s": 2.0, "end_s": 3.0},
]


def phrased(document, **more):
    data = {"kind": "add-phrases", "scene": "reveal", "phrases": PHRASES, "timing": "file", **more}
    return applied(document, data).project.scenes[0].layers


def test_each_phrase_is_a_text_of_its_own_at_its_time():
    first, *made = phrased(BOLD, like="name", ready="rise", tied=True)
    assert [(la.name, la.start_s, la.end_s) for la in made] == [
        ("Hold on", 0.4, 1.6), ("to the wind", 2.0, 3.0),
    ]  # fmt: skip
    assert [la.properties["text"].value for la in made] == ["Hold on", "to the wind"]
    assert all(la.properties["text.size"] == first.properties["text.size"] for la in made)
    assert all(not la.runs and len(la.fronts) == 1 for la in made)
    assert made[0].start_tie is None
    assert (made[1].start_tie.id, made[1].start_tie.offset_s) == (made[0].id, pytest.approx(0.4))
    plain = phrased(BOLD)[1:]
    assert plain[0].properties["position"].value == (160.0, pytest.approx(147.6))


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"phrases": [{"text": "late", "start_s": 90.0, "end_s": 91.0}]}, "after the scene's end"),
        ({"phrases": [{"text": "now"}]}, "without times"),
        ({"timing": "even", "at_s": 3.99}, "left for 2 phrases"),
        ({"like": "nobody"}, "nobody"), ({"ready": "gone"}, "one of"), ({"phrases": []}, "at least 1"),
    ],
)  # fmt: skip
def test_phrases_that_do_not_fit_are_refused_with_words(more, said):
    with pytest.raises((DocumentError, LookupError), match=said):
        phrased(BOLD, **more)


def outlined(document):
    return applied(
        document, {"kind": "outline-layers", "scene": "reveal", "layers": ["name"], "time_s": 0.0}
    ).project


@pytest.mark.parametrize(
    "more",
    [
        {}, {"fill__kind": "linear", "fill__start": [0, 0], "fill__end": [100, 0]},
        {"fill__kind": "linear", "fill__across": "word"}, {"behind__across": "line"},
        {"stroke__width": 2.0, "stroke__colour": "#ff7a45"},
        {"behind__across": "line", "behind__kind": "linear", "behind__angle": 30.0},
        {"stroke__width": 2.0, "stroke__side": "outside", "stroke__outer": 2.0},
    ],
)  # fmt: skip
def test_a_text_with_runs_becomes_a_drawing_of_its_letters_that_looks_the_same(more):
    import numpy as np
    from tests.build import draw

    document = styled(text(text="Let go", fill__colour="#f8f1e4", **more), 4, 6, fill__colour="#7fd4e8",
                      weight=900)  # fmt: skip
    worn = applied(
        document, {"kind": "wear-front", "scene": "reveal", "layers": ["name"], "ready": "rise"}
    )
    made = outlined(worn.project)
    (shape,) = made.scenes[0].layers
    assert (shape.kind, shape.runs, shape.fronts) == ("shape", (), ())
    assert [p.name for p in shape.parts if p.name != "Box behind"] == ["L", "e", "t", "g", "o"]
    near = np.abs(draw(document).astype(int) - draw(made))
    assert near.mean() < 0.25, near.mean()
    check_project(made)
    # Without anything particular it is one path, and no front is left on it.
    plain = applied(
        text(), {"kind": "wear-front", "scene": "reveal", "layers": ["name"], "ready": "rise"}
    )
    (path,) = outlined(plain.project).scenes[0].layers
    assert not path.parts and not path.fronts


def test_a_property_of_a_run_is_a_slot_and_follows_nothing_there():
    from young_comet.core.catalog import slot_source, slot_spec

    (made,) = BOLD.scenes[0].layers
    name = RUNS.prefix(made.runs[0].id) + "slant"
    spec = slot_spec("s", slot_source(made, name))
    assert spec is not None and spec.follows == ""


def test_a_short_phrase_arrives_and_leaves_within_its_time():
    slow = text().scenes[0].layers[0].model_copy(update={"arrive_s": 1.0, "leave_s": 0.5})
    brief = [{"text": "Gust", "start_s": 0.0, "end_s": 0.6}]
    (_, made) = phrased(project(slow), phrases=brief, like="name")
    assert (made.arrive_s, made.leave_s) == (pytest.approx(0.4), pytest.approx(0.2))
