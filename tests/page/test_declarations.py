"""The page finds the same declarations as the catalog: for every kind of layer with all kinds of
members on it."""

import pytest
from tests.build import layer
from tests.core.catalog.test_members import MEMBERS, fits, made
from tests.page.page import call, call_all

from young_comet.core.catalog import (
    FAMILIES,
    LAYER_KINDS,
    find_spec,
    slot_source,
    slot_spec,
    specs_of,
)
from young_comet.core.model import Property
from young_comet.web.routes.catalog import catalog, needed_json

MODULE = "editor/declarations.js"
CATALOG = catalog()
ON_IT = (MODULE, "Declarations", [CATALOG])


def everything(kind):
    """A layer with a member of every kind that fits, and a split mask."""
    whole = layer("kite", kind)
    for number, (family_id, member_kind) in enumerate(MEMBERS):
        member = made(family_id, member_kind, f"m{number}")
        if fits(family_id, member, kind):
            whole = FAMILIES[family_id].added(whole, member)
    return whole


def data(layer_):
    return layer_.model_dump(mode="json")


def alike(found, spec):
    """A declaration of the page's and one of the catalog's."""
    return (
        found["id"] == spec.id
        and found["kind"] == spec.kind.id
        and found["label"] == spec.label
        and found["axis"] == spec.axis
        and found["animatable"] == spec.animatable
        and found["shown_when"] == [_listed(needed_json(each)) for each in spec.shown_when]
    )


def _listed(needed):
    return {k: list(v) if isinstance(v, tuple) else v for k, v in needed.items()}


@pytest.mark.parametrize("kind", LAYER_KINDS)
def test_every_property_of_a_layer_is_found_under_its_address(kind):
    whole = everything(kind)
    specs = specs_of(whole)
    names = [spec.id for spec in specs]
    names += [part.id for spec in specs if spec.split for part in spec.parts()]
    names += ["weather", "effect.gone.size", "mask..path", "slot.gone"]
    results = call_all(*((MODULE, "of", [data(whole), name]) for name in names), made=ON_IT)
    for name, result in zip(names, results, strict=True):
        spec = find_spec(whole, name)
        if spec is None:
            assert result["value"] is None, name
        else:
            assert alike(result["value"], spec), name


def test_slots_are_declared_by_what_they_stand_for():
    whole = everything("text")
    names = [spec.id for spec in specs_of(whole) if spec.animatable][::7]
    sources = {f"s{n}": slot_source(whole, name) for n, name in enumerate(names)}
    placed = layer("placed", "scene").model_copy(update={"slot_specs": {**sources, "i": "ink//"}})
    results = call_all(
        *((MODULE, "of", [data(placed), f"slot.{slot}"]) for slot in placed.slot_specs),
        made=ON_IT,
    )
    for (slot, source), result in zip(placed.slot_specs.items(), results, strict=True):
        assert alike(result["value"], slot_spec(slot, source)), source


def test_defaults_are_those_of_the_core():
    scene = {"width": 1080, "height": 1920}
    position = LAYER_KINDS["shape"].spec("position")
    for spec in (position, *position.parts(), LAYER_KINDS["shape"].spec("scale")):
        found = call(MODULE, "of", data(layer("k", "shape")), spec.id, made=ON_IT)
        wanted = spec.default_in(1080, 1920)
        wanted = list(wanted) if isinstance(wanted, tuple) else wanted
        assert call(MODULE, "defaultOf", found, scene) == wanted


def test_members_are_listed_in_the_order_of_their_fields():
    masked = FAMILIES["mask"].added(
        layer("k", "shape"), made("mask", "half-plane"), {"position.x": Property(value=2)}
    )
    found = call(MODULE, "member", "mask", data(masked)["masks"][0], made=ON_IT)
    wanted = [spec.id for spec in FAMILIES["mask"].fields(masked.masks[0])]
    assert [spec["id"] for spec in found["list"]] == wanted
