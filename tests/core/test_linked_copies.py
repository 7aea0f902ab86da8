"""Copies that share content and keys with their original."""

from __future__ import annotations

import pytest
from tests.build import CONTEXT, key, layer, project

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
    document = change(copies_of_kite(), {"kind": "add-effect", "layers": ["kite"],
                      "effect": {"id": "e", "kind": "glow"}, "properties": {"size": {"value": 9}}})  # fmt: skip
    twin = document.scenes[0].layers[1]
    assert twin.effects[0].id == "e" and twin.properties["effect.e.size"].value == 9
    apart = change(
        document,
        {"kind": "remove-effects", "layer": "twin", "effects": ["e"]},
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
