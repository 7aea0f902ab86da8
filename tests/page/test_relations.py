"""How layers hang together, as the rows and the panel tell it."""

from tests.page.page import call

MODULE = "editor/relations.js"


def layer(id, **more):
    return {"id": id, "properties": {}, "masks": [], "hidden": False, "rides": None, **more}


def test_a_matte_is_found_and_is_only_a_matte_while_it_is_hidden():
    all = [{"from": "a", "to": "b", "how": "matte"}, {"from": "a", "to": "c", "how": "rides on"}]
    layers = [layer("a"), layer("b", hidden=True), layer("c", hidden=True)]
    assert call(MODULE, "onlyMattes", layers, all) == ["b"]


def test_riding_masks_that_follow_and_copies_are_told():
    found = call(
        MODULE,
        "relations",
        [
            layer("kite", rides="mast", copy_of="sail", masks=[{"space": "follow", "follows": "mast"}]),
            layer("mast", rides="gone"), layer("sail", rides="sail"),
        ],
    )  # fmt: skip
    assert found == [
        {"from": "kite", "to": "mast", "how": "rides on"},
        {"from": "kite", "to": "mast", "how": "mask follows"},
        {"from": "kite", "to": "sail", "how": "copy of"},
    ]
