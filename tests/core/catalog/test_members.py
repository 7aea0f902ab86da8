"""Every family of members, over every kind of layer and every kind of member."""

import pytest
from tests.build import layer

from young_comet.core.catalog import (
    FAMILIES,
    LAYER_KINDS,
    check_layer,
    find_spec,
    lane_label,
    layers_named,
    slot_source,
    slot_spec,
    specs_of,
    with_layers_named,
)
from young_comet.core.model import Axis, Effect, Front, Mask, Move, Part, Property, Run, Transition
from young_comet.core.moves import MOVES
from young_comet.errors import DocumentError, NotFoundError


def made(family, kind, id="m"):
    """A member of a kind."""
    if family == "part":
        return Part(id=id, name="Sail")
    if family == "front":
        return Front(id=id)
    if family == "axis":
        return Axis(id=id, tag=f"{id.upper():X<4}"[:4])
    if family == "run":
        number = int(id[1:] or 0) if id[1:].isdecimal() else 9
        return Run(id=id, first=3 * number, last=3 * number + 2)
    if family == "mask":
        return Mask(id=id, name="Edge", form=kind)
    if family == "effect":
        return Effect(id=id, kind=kind)
    if family == "transition":
        return Transition(id=id, kind=kind, before="bow")
    phase = "arrive" if kind == "own:" else MOVES[kind].phases[0]
    return Move(id=id, kind=kind + "gust" if kind == "own:" else kind, phase=phase)


MEMBERS = [(f.id, kind) for f in FAMILIES.values() for kind in f.kinds()]


def fits(family, member, kind):
    if kind == "sound":
        return False
    if family in ("part", "run", "front", "axis"):
        return kind == ("shape" if family == "part" else "text")
    if family == "transition":
        return kind not in ("carrier", "treatment")
    return family != "move" or kind in MOVES.get(member.kind).fits


@pytest.mark.parametrize(("family_id", "kind"), MEMBERS, ids=lambda each: each)
@pytest.mark.parametrize("layer_kind", LAYER_KINDS)
def test_a_member_is_added_found_and_taken_off_as_if_it_had_never_been(family_id, kind, layer_kind):
    family = FAMILIES[family_id]
    bare = layer("kite", layer_kind)
    member = made(family_id, kind)
    if not fits(family_id, member, layer_kind):
        with pytest.raises(DocumentError):
            check_layer(family.added(bare, member))
        return
    first = next(iter(family.fields(member)))
    name = first.id.removeprefix(family.prefix("m"))
    own = {name: Property(value=first.default)}
    worn = check_layer(family.added(bare, member, own))
    assert family.find(worn, "m").id == "m" and family.own(worn, "m").keys() == own.keys()
    for spec in specs_of(worn):
        assert find_spec(worn, spec.id) == spec
        if family.holds(spec.id):
            name = f"{spec.label[0].lower()}{spec.label[1:]}"
            assert lane_label(worn, spec).endswith(f": {name}")
            source = slot_source(worn, spec.id)
            assert (slot_spec("s", source) is not None) == spec.animatable, source
    with pytest.raises(DocumentError, match="already"):
        family.added(worn, member)
    assert family.without(worn, ["m"]) == bare
    with pytest.raises(NotFoundError, match=family.label):
        family.without(bare, ["m"])


@pytest.mark.parametrize("family_id", FAMILIES)
def test_members_are_ordered_and_changed(family_id):
    family = FAMILIES[family_id]
    kite = layer("kite", "shape")
    for number in range(4):
        kite = family.added(kite, made(family_id, family.kinds()[0], f"m{number}"))
    ids = [member.id for member in family.members(kite)]
    assert ids == ["m0", "m1", "m2", "m3"]
    for index in (0, 2, 99):
        moved = family.changed(kite, family.find(kite, "m1"), index)
        rest = ["m0", "m2", "m3"]
        rest.insert(min(index, 3), "m1")
        assert [member.id for member in family.members(moved)] == rest
    before = family.added(kite, made(family_id, family.kinds()[0], "new"), index=1)
    assert [member.id for member in family.members(before)][:2] == ["m0", "new"]
    off = family.with_fields(family.find(kite, "m2"), {"on": False})
    assert family.find(family.changed(kite, off), "m2").on is False
    for wrong in ({"id": "other"}, {"weather": 1}, {"on": "windy"}):
        with pytest.raises(DocumentError):
            family.with_fields(off, wrong)


def test_split_points_of_members_have_their_coordinates():
    mask = made("mask", "path")
    masked = FAMILIES["mask"].added(layer("kite", "shape"), mask, {"position.x": Property(value=3)})
    names = [spec.id for spec in specs_of(check_layer(masked))]
    assert "mask.m.position.x" in names and "mask.m.position" not in names
    assert find_spec(masked, "mask.m.position.y").axis == "y"


def test_layers_that_members_name_are_told_and_named_anew():
    follows = Mask(id="m", name="Tail", space="follow", follows="tail")
    kite = FAMILIES["mask"].added(layer("kite", "shape"), follows)
    assert layers_named(kite) == {"tail"}
    assert layers_named(with_layers_named(kite, {"tail": "bow"}.get)) == {"bow"}
    lost = with_layers_named(kite, lambda name: None)
    assert lost.masks[0].space == "layer" and not layers_named(lost)
    assert with_layers_named(layer("kite", "shape"), lambda name: None) == layer("kite", "shape")


def test_a_layer_takes_over_from_one_other_that_is_not_itself():
    family = FAMILIES["transition"]
    kite = family.added(layer("kite", "shape"), made("transition", "push"))
    assert layers_named(check_layer(kite)) == {"bow"}
    assert with_layers_named(kite, lambda name: None).transitions[0].before is None
    with pytest.raises(DocumentError, match="one other only"):
        check_layer(family.added(kite, made("transition", "wipe", "n")))
    itself = Transition(id="m", kind="push", before="kite")
    with pytest.raises(DocumentError, match="from itself"):
        check_layer(family.added(layer("kite", "shape"), itself))
