"""What version 2 of the document added, checked on loading; documents of version 1."""

import math

import pytest
from tests.build import key, layer, project, scene

from young_comet.core.catalog import check_project, parts_of, spec_of, specs_of
from young_comet.core.model import (
    SCHEMA_VERSION,
    Kind,
    Mark,
    Project,
    Property,
    Repeat,
    SavedEasing,
    load_project,
)
from young_comet.edits.patch import plain
from young_comet.errors import DocumentError

OLD = {
    "schema_version": 1, "id": "kites", "name": "Kite Week",
    "scenes": [{"id": "reveal", "name": "Reveal", "width": 320, "height": 180, "rate": {"num": 25}, "length_s": 4,
                "layers": [{"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 4, "properties": {
                    "rotation": {"keys": [{"id": "k0", "time_s": 0, "value": 0}, {"id": "k1", "time_s": 1, "value": 90}]}}}]}],
}  # fmt: skip


def test_a_document_of_the_first_version_is_read_and_means_the_same():
    document = check_project(load_project(OLD))
    assert document.schema_version == SCHEMA_VERSION
    keys = document.scenes[0].layers[0].properties["rotation"].keys
    assert [(k.value, k.easing, k.join) for k in keys] == [
        (0, "ease-in-out", "free"),
        (90, "ease-in-out", "free"),
    ]
    assert document.scenes[0].marks == () and document.scenes[0].working_range == (0, 4)
    assert load_project(plain(document)) == document


def with_layer(**changes):
    document = plain(project(layer("kite", "shape", position=[key(0, [1, 2]), key(1, [3, 4])])))
    document["scenes"][0]["layers"][0].update(changes)
    return document


def load(data):
    return check_project(load_project(data))


def position(**more):
    return {"position": {"keys": [plain(key(0, [1, 2])), plain(key(1, [3, 4]))], **more}}


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (with_layer(properties=position(flown=[[0, 1, math.nan]])), "finite"),
        (with_layer(properties=position(repeat={"mode": "wobble"})), "repeat"),
        (with_layer(properties=position(repeat={"mode": "loop", "times": 1})), "times"),
        (with_layer(properties={"rotation": {"value": 5, "pace": "even"}, **position(pace="swift")}), "pace"),
        (with_layer(properties={**position(), "position.x": {"value": 5}}), "split and whole"),
        (with_layer(properties={"rotation.x": {"value": 5}}), "no property"),
        (with_layer(properties={"position.x": {"value": [1, 2]}}), "Position x"),
        (with_layer(kind="clip", properties={"time.speed": {"value": 0}}), "Speed"),
        (with_layer(kind="clip", properties={"time.after": {"value": "explode"}}), "After the end"),
        (with_layer(kind="clip", properties={"time.speed": {"keys": [plain(key(0, 50))]}}), "cannot have keys"),
    ],
)  # fmt: skip
def test_what_does_not_fit_is_refused_and_named(data, said):
    with pytest.raises(DocumentError, match=said):
        load(data)


def test_marks_are_put_in_order_and_are_unique():
    marks = (Mark(id="b", name="Hit", time_s=2.0), Mark(id="a", name="Gust", time_s=1.0))
    document = check_project(Project(id="p", name="P", scenes=(scene(marks=marks),)))
    assert [mark.name for mark in document.scenes[0].marks] == ["Gust", "Hit"]
    twice = (marks[0], marks[0])
    with pytest.raises(DocumentError, match="two marks"):
        check_project(Project(id="p", name="P", scenes=(scene(marks=twice),)))


def test_the_working_range_never_leaves_the_scene():
    assert scene(range_s=(-1.0, 99.0)).working_range == (0.0, 4.0)
    with pytest.raises(DocumentError, match="working range"):
        check_project(Project(id="p", name="P", scenes=(scene(range_s=(2.0, 2.0)),)))


def test_saved_easings_must_be_easings():
    bad = SavedEasing(id="gull", name="Gull", easing="wobble")
    with pytest.raises(DocumentError, match="easing"):
        check_project(Project(id="p", name="P", easings=(bad,)))


def test_a_property_in_order_stays_the_same_object():
    document = project(layer("kite", "shape", rotation=[key(0, 0.0), key(1, 90.0)], opacity=50.0))
    again = check_project(document)
    before, after = (d.scenes[0].layers[0].properties for d in (document, again))
    assert before["rotation"] is after["rotation"] and before["opacity"] is after["opacity"]


def test_other_keys_keep_repeat_and_pace_but_not_the_flight():
    prop = Property(
        keys=(key(0, [0, 0]), key(1, [9, 9])),
        repeat=Repeat(mode="loop"),
        pace="even",
        flown=((0, 1, 1), (1, 2, 2)),
    )
    other = prop.with_keys(reversed(prop.keys))
    assert (other.repeat, other.pace, other.flown) == (prop.repeat, "even", None)
    assert [k.time_s for k in other.keys] == [0, 1]


def test_points_that_can_be_split_declare_their_parts():
    kite = layer("kite", "shape", **{"position.x": 5.0, "position.y": 6.0})
    assert (
        parts_of(kite, "position") == ("position.x", "position.y")
        and parts_of(kite, "scale") is None
    )
    assert [s.id for s in specs_of(kite)][:3] == ["position.x", "position.y", "rotation"]
    part = spec_of(kite, "scale.y")
    assert (part.kind, part.default, part.label, part.unit) == (Kind.NUMBER, 100.0, "Scale y", "%")
    with pytest.raises(DocumentError):
        spec_of(kite, "pivot.x")


@pytest.mark.parametrize(
    ("shutter", "opens"),
    [({"angle_deg": 180, "offset_deg": -90}, "centred"), ({"angle_deg": 200}, "degrees"),
     ({"angle_deg": 200, "offset_deg": -200}, "before"), ({"on": True}, "centred"),
     ({"offset_deg": 0}, "after"), ({"offset_deg": 12}, "degrees")],
)  # fmt: skip
def test_when_an_older_shutter_opens_is_said_in_words(shutter, opens):
    """And means the same."""
    old = {**OLD, "schema_version": 4, "scenes": [{**OLD["scenes"][0], "shutter": shutter}]}
    found = check_project(load_project(old)).scenes[0].shutter
    assert found.opens == opens
    assert found.opens_deg == shutter.get("offset_deg", -90)
