"""Type styles: kept from a text, worn, changed with all that wear them, and taken back."""

import pytest
from tests.build import CONTEXT, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.catalog.mending import mend_project
from young_comet.core.catalog.type_styles import STYLED, differing
from young_comet.core.model import Ink, Keyframe, Layer, Project, Property, TypeStyle, load_project
from young_comet.edits import apply_edit, parse_edit, revert
from young_comet.errors import DocumentError, YoungCometError

S = {"scene": "reveal"}
LOOK = {"text.font": "anton", "text.size": 90.0, "fill.colour": "#ff7a45"}


def text(id, **properties):
    return layer(id, "text", text=id, position=[160.0, 90.0], **properties)


@pytest.fixture
def desk():
    title = text("title", text__font="anton", text__size=90.0, fill__colour="#ff7a45")
    other = text("other", text__tracking=40.0, text__size=30.0)
    moving = text("moving")
    keys = tuple(Keyframe(id=f"k{n}", time_s=n / 2, value=20.0 + n) for n in range(2))
    sized = {**moving.properties, "text.size": Property(keys=keys)}
    moving = moving.model_copy(update={"properties": sized})
    made = check_project(project(title, other, moving, layer("box", "shape")))
    return done(
        made, {"kind": "save-type-style", **S, "layer": "title", "id": "bold", "name": "Bold"}
    )


def done(document: Project, *edits) -> Project:
    for edit in edits:
        document = apply_edit(document, parse_edit(edit), CONTEXT).project
    return document


def of(document: Project, id: str) -> Layer:
    return next(each for each in document.scenes[0].layers if each.id == id)


def values(document: Project, id: str) -> dict:
    return {n: p.value for n, p in of(document, id).properties.items() if n in STYLED}


def test_a_style_is_kept_from_a_text_which_wears_it(desk):
    (style,) = desk.type_styles
    assert (style.id, style.name, style.properties) == ("bold", "Bold", LOOK)
    assert of(desk, "title").type_style == "bold"
    assert load_project(desk.model_dump(mode="json")) == desk


def test_texts_wear_all_of_it_but_what_has_keys(desk):
    worn = done(
        desk, {"kind": "wear-type-style", **S, "layers": ["other", "moving"], "style": "bold"}
    )
    assert values(worn, "other") == LOOK
    assert of(worn, "other").properties["text"].value == "other"
    assert len(of(worn, "moving").properties["text.size"].keys) == 2
    assert differing(of(worn, "moving"), worn.type_styles[0]) == ["text.size"]
    bare = done(worn, {"kind": "wear-type-style", **S, "layers": ["other"]})
    assert of(bare, "other").type_style is None and values(bare, "other") == LOOK


def test_what_wears_a_style_changes_with_it_where_it_does_not_differ(desk):
    worn = done(
        desk,
        {"kind": "wear-type-style", **S, "layers": ["other", "moving"], "style": "bold"},
        {"kind": "set-values", **S, "targets": [
            {"layer": "other", "property": "text.size", "value": 44}]},
        {"kind": "change-type-style", "style": "bold", "name": "Quiet", "properties": {
            "text.size": 60, "fill.colour": None, "text.case": "upper"}},
    )  # fmt: skip
    assert worn.type_styles[0].name == "Quiet"
    assert values(worn, "title") == {
        "text.font": "anton", "text.size": 60.0, "text.case": "upper"}  # fmt: skip
    assert values(worn, "other") == {
        "text.font": "anton", "text.size": 44.0, "text.case": "upper"}  # fmt: skip
    assert of(worn, "moving").properties["text.size"].keys
    again = done(worn, {"kind": "wear-type-style", **S, "layers": ["other"], "style": "bold"})
    assert values(again, "other") == values(again, "title")


def test_a_text_s_looks_become_those_of_its_style_and_of_all_others(desk):
    worn = done(
        desk,
        {"kind": "wear-type-style", **S, "layers": ["other", "moving"], "style": "bold"},
        {"kind": "set-values", **S, "targets": [
            {"layer": "other", "property": "text.size", "value": 44},
            {"layer": "other", "property": "stroke.width", "value": 2},
            {"layer": "moving", "property": "text.font", "value": "syne"}]},
        {"kind": "change-type-style", "style": "bold", **S, "like": "other"},
    )  # fmt: skip
    assert values(worn, "title") == values(worn, "other") == {
        "text.font": "anton", "text.size": 44.0, "fill.colour": "#ff7a45", "stroke.width": 2.0}  # fmt: skip
    assert of(worn, "moving").properties["text.font"].value == "syne"
    # Of a text whose size has keys, the style keeps its own size.
    taken = done(worn, {"kind": "change-type-style", "style": "bold", **S, "like": "moving"})
    assert taken.type_styles[0].properties["text.size"] == 44.0
    assert taken.type_styles[0].properties["text.font"] == "syne"


def test_a_removed_style_leaves_looks_and_all_of_it_undoes(desk):
    edits = [
        {"kind": "wear-type-style", **S, "layers": ["other"], "style": "bold"},
        {"kind": "change-type-style", "style": "bold", "properties": {"text.size": 12}},
        {"kind": "duplicate-layers", **S, "copies": {"other": "twin"}, "linked": True},
        {"kind": "change-type-style", "style": "bold", "properties": {"text.size": 14}},
        {"kind": "remove-type-style", "style": "bold"},
    ]
    seen = [desk]
    for edit in edits:
        outcome = apply_edit(seen[-1], parse_edit(edit), CONTEXT)
        assert revert(outcome.project, outcome.inverse) == seen[-1]
        seen.append(outcome.project)
    assert of(seen[4], "twin").properties["text.size"].value == 14.0
    assert "text.size" not in of(seen[4], "twin").own
    assert seen[5].type_styles == () and of(seen[5], "other").type_style is None
    assert values(seen[5], "other") == values(seen[4], "other")


def test_linked_copies_wear_what_their_original_wears(desk):
    made = done(
        desk,
        {"kind": "duplicate-layers", **S, "copies": {"other": "twin"}, "linked": True},
        {"kind": "wear-type-style", **S, "layers": ["other"], "style": "bold"},
    )
    assert of(made, "twin").type_style == "bold" and values(made, "twin") == LOOK
    own = done(made, {"kind": "wear-type-style", **S, "layers": ["twin"]})
    assert of(own, "other").type_style == "bold" and of(own, "twin").type_style is None


def test_an_ink_that_is_removed_leaves_its_colour_in_styles(desk):
    inked = desk.model_copy(update={"inks": (Ink(id="ember", name="Ember", colour="#ff7a45"),)})
    changed = {"fill.colour": "ink:ember", "fill.stops": [[0, "ink:ember"], [1, "#000000"]]}
    made = done(
        inked,
        {"kind": "change-type-style", "style": "bold", "properties": changed},
        {"kind": "remove-ink", "ink": "ember"},
    )
    said = made.type_styles[0].properties
    assert said["fill.colour"] == "#ff7a45" and said["fill.stops"][0] == (0, "#ff7a45")
    assert differing(of(made, "title"), made.type_styles[0]) == []


def test_pasted_into_another_project_a_text_has_no_style(desk):
    copied = of(desk, "title").model_dump(mode="json")
    paste = {"kind": "paste-layers", **S, "layers": [copied], "ids": {"title": "again"}}
    assert of(done(desk, paste), "again").type_style == "bold"
    other = check_project(project(text("else")))
    pasted = of(done(other, paste), "again")
    assert pasted.type_style is None and values(done(other, paste), "again") == LOOK


def test_outlined_texts_and_phrases(desk):
    made = done(
        desk,
        {"kind": "add-phrases", **S, "phrases": [{"text": "Hold on"}], "style": "bold"},
        {"kind": "outline-layers", **S, "layers": ["title"], "time_s": 0},
    )
    assert of(made, "title").kind == "shape" and of(made, "title").type_style is None
    phrase = made.scenes[0].layers[-1]
    assert phrase.type_style == "bold"
    assert {n: p.value for n, p in phrase.properties.items() if n in STYLED} == LOOK


@pytest.mark.parametrize(
    ("edit", "field"),
    [
        ({"kind": "save-type-style", **S, "layer": "box", "name": "Box"}, "layer"),
        ({"kind": "save-type-style", **S, "layer": "title", "name": "B", "id": "bold"}, "id"),
        ({"kind": "save-type-style", **S, "layer": "title", "name": ""}, "name"),
        ({"kind": "wear-type-style", **S, "layers": ["box"], "style": "bold"}, "layer"),
        ({"kind": "wear-type-style", **S, "layers": ["title"], "style": "none"}, "style"),
        ({"kind": "change-type-style", "style": "none"}, "style"),
        ({"kind": "change-type-style", "style": "bold", "like": "title"}, "scene"),
        ({"kind": "change-type-style", "style": "bold", "properties": {"opacity": 3}}, "Bold"),
        ({"kind": "change-type-style", "style": "bold", "properties": {"text.size": -1}}, "Font size"),
        ({"kind": "change-type-style", "style": "bold", "properties": {"text.size": "big"}}, "Font size"),
        ({"kind": "remove-type-style", "style": "none"}, "style"),
        ({"kind": "add-phrases", **S, "phrases": [{"text": "A"}], "style": "bold", "like": "title"}, "style"),
    ],
)  # fmt: skip
def test_wrong_wishes_are_refused_with_words(desk, edit, field):
    with pytest.raises(YoungCometError) as refused:
        done(desk, edit)
    assert field in str(refused.value)


def test_only_texts_wear_styles_and_styles_say_what_texts_have(desk):
    box = of(desk, "box").model_copy(update={"type_style": "bold"})
    with pytest.raises(DocumentError, match="only a text"):
        check_project(project(box))
    odd = desk.model_copy(
        update={"type_styles": (TypeStyle(id="odd", name="Odd", properties={"scale": 3}),)}
    )
    with pytest.raises(DocumentError, match="says nothing of 'scale'"):
        check_project(odd)
    plain = TypeStyle(id="plain", name="Plain", properties={"text.size": 120})
    (kept,) = check_project(desk.model_copy(update={"type_styles": (plain,)})).type_styles
    assert kept.properties == {}


def test_a_document_with_wrong_styles_is_mended_and_nothing_else_is_lost(desk):
    data = desk.model_dump(mode="json")
    data["type_styles"] += [
        {"id": "odd", "name": "Odd", "properties": {"scale": 3, "text.size": 20, "text.font": 5}},
        {"id": "bold", "name": "Bold again", "properties": {}},
    ]
    box = next(each for each in data["scenes"][0]["layers"] if each["id"] == "box")
    box["type_style"] = "bold"
    title = next(each for each in data["scenes"][0]["layers"] if each["id"] == "title")
    title["axes"] = [
        {"id": "a", "tag": "SOFT"},
        {"id": "b", "tag": "SOFT"},
        {"id": "c", "tag": "wght"},
    ]
    mended, changes = mend_project(data)
    assert [each.id for each in mended.scenes[0].layers] == ["title", "other", "moving", "box"]
    assert [(s.id, s.name) for s in mended.type_styles] == [("bold", "Bold"), ("odd", "Odd")]
    assert mended.type_styles[1].properties == {"text.size": 20.0}
    assert of(mended, "box").type_style is None and of(mended, "title").type_style == "bold"
    assert [axis.id for axis in of(mended, "title").axes] == ["a"]
    told = " ".join(changes)
    assert all(words in told for words in ("scale", "Typeface", "only texts do", "twice", "wght"))
