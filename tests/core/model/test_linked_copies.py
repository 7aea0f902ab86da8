"""Copies that share content and keys with their original."""

from __future__ import annotations

import pytest
from tests.build import CONTEXT, key, layer, project

from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError


def copies_of_kite():
    document = project(
        layer(
            "kite",
            "shape",
            shape__size=[40, 30],
            rotation=[key(0, 0.0), key(2, 90.0)],
            position=[60, 60],
        ),
    )
    edit = {
        "kind": "duplicate-layers",
        "scene": "reveal",
        "copies": {"kite": "twin"},
        "linked": True,
    }
    return apply_edit(document, parse_edit(edit), CONTEXT).project


def change(document, *edits):
    for edit in edits:
        document = apply_edit(document, parse_edit({"scene": "reveal", **edit}), CONTEXT).project
    return document


def put(name, property_id, value, **more):
    targets = [{"layer": name, "property": property_id, "value": value}]
    return {"kind": "set-values", "targets": targets, **more}


def props(document, name):
    return next(la for la in document.scenes[0].layers if la.id == name).properties


def test_linked_copies_share_content_and_keys_until_told_otherwise():
    document = change(
        copies_of_kite(),
        put("kite", "fill.colour", "#2f9fb3"),
        put("kite", "rotation", 45, time_s=1.0),
    )
    assert props(document, "twin") == props(document, "kite")
    own = change(document, put("twin", "fill.colour", "#ffffff"), put("kite", "fill.colour", "#000000"),
                 put("kite", "shape.size", [90, 90]))  # fmt: skip
    twin = own.scenes[0].layers[1]
    assert twin.own == ("fill.colour",) and props(own, "twin")["fill.colour"].value == "#ffffff"
    assert props(own, "twin")["shape.size"].value == (90.0, 90.0)
    again = change(own, {"kind": "share-again", "layers": ["twin"]})
    assert props(again, "twin") == props(again, "kite") and again.scenes[0].layers[1].own == ()


def test_effects_and_masks_are_shared_too():
    document = change(copies_of_kite(), {"kind": "add-members", "family": "effect", "layers": ["kite"],
                      "members": [{"member": {"id": "e", "kind": "glow"}, "properties": {"size": {"value": 9}}}]})  # fmt: skip
    twin = document.scenes[0].layers[1]
    assert twin.effects[0].id == "e" and twin.properties["effect.e.size"].value == 9
    apart = change(
        document,
        {"kind": "remove-members", "family": "effect", "layer": "twin", "members": ["e"]},
        put("kite", "effect.e.size", 4),
    )
    assert not apart.scenes[0].layers[1].effects and "effects" in apart.scenes[0].layers[1].own


def test_copies_of_copies_hang_on_the_first_and_outlive_it():
    edit = {"kind": "duplicate-layers", "copies": {"twin": "third"}, "linked": True}
    document = change(copies_of_kite(), edit, put("kite", "scale", [50, 50]))
    assert [la.copy_of for la in document.scenes[0].layers] == [None, "kite", "kite"]
    assert props(document, "third")["scale"].value == (50.0, 50.0)
    alone = change(document, {"kind": "remove-layers", "layers": ["kite"]})
    assert [la.copy_of for la in alone.scenes[0].layers] == [None, None]
    assert props(alone, "third") == props(document, "third")
    cut = change(
        document,
        {"kind": "share-again", "layers": ["twin"], "apart": True},
        put("kite", "opacity", 5),
    )
    assert "opacity" not in props(cut, "twin") and "opacity" in props(cut, "third")
    with pytest.raises(DocumentError, match="no linked copy"):
        change(document, {"kind": "share-again", "layers": ["kite"]})


def test_trimming_the_original_leaves_the_motion_of_copies_where_it_was():
    document = copies_of_kite()
    later = {"kind": "set-spans", "spans": [{"layer": "twin", "start_s": 1.0, "end_s": 4.0}]}
    document = change(document, later)

    def turns(project):
        ev = SceneEvaluator(project, "reveal")
        return [ev.values(ev.find("twin"), t)("rotation") for t in (1.6, 2.0, 3.0)]

    trim = {"kind": "set-spans", "mode": "trim",
            "spans": [{"layer": "kite", "start_s": 0.4, "end_s": 4.0}]}  # fmt: skip
    done = change(document, trim)
    twin = next(la for la in done.scenes[0].layers if la.id == "twin")
    assert (twin.start_s, twin.end_s, twin.own) == (pytest.approx(1.4), 4.0, ())
    assert turns(done) == pytest.approx(turns(document)) and props(done, "twin") == props(
        done, "kite"
    )
    # One that is too short for it keeps its start.
    short = change(document, {"kind": "set-spans", "spans": [
        {"layer": "twin", "start_s": 1.0, "end_s": 1.2}]}, trim)  # fmt: skip
    twin = next(la for la in short.scenes[0].layers if la.id == "twin")
    assert (twin.start_s, twin.end_s) == (1.0, 1.2)
