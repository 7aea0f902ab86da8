"""Which properties a layer has: those of its kind, of its slots and of its members.

The properties of members are addressed as ``FAMILY.ID.NAME`` (``members``), those of slots as
``slot.ID``: keys, lanes, copying and every other operation then know no difference.
"""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from ...errors import DocumentError
from ..model.document import Layer
from ..model.specs import Kind, PropertySpec, named_with
from .kinds import LAYER_KINDS, layer_kind
from .members import FAMILIES

INK_SOURCE = "ink//"
INK_SLOT = PropertySpec("ink", "Ink", Kind.COLOUR, "#ff7a45", "Slots")


def slot_source(layer: Layer, property_id: str) -> str:
    """What declares a property: FAMILY/KIND/PROPERTY, which ``slot_spec`` understands."""
    family_id, _, rest = property_id.partition(".")
    member_id, _, name = rest.partition(".")
    if family := FAMILIES.get(family_id):
        for member in family.members(layer):
            if member.id == member_id:
                return f"{family_id}/{family.kind_of(member)}/{name}"
    return f"layer/{layer.kind}/{property_id}"


@lru_cache(maxsize=4096)
def slot_spec(slot_id: str, source: str) -> PropertySpec | None:
    """The declaration of a slot that is a property of the layer that fills it; None where there is
    no such property."""
    family, _, rest = source.partition("/")
    kind, _, name = rest.partition("/")
    found: PropertySpec | None = None
    if source == INK_SOURCE:
        found = INK_SLOT
    elif family == "layer" and kind in LAYER_KINDS:
        found = LAYER_KINDS[kind].spec(name)
    elif family in FAMILIES:
        found = FAMILIES[family].spec_of_kind(kind, name)
    if found is None or not found.animatable:
        return None
    widget = found.widget if found.widget in ("dial", "linked") else ""
    return replace(
        found,
        id=f"slot.{slot_id}",
        section="Slots",
        shown_when=(),
        split=False,
        widget=widget,
        follows="",
    )


def find_spec(layer: Layer, property_id: str) -> PropertySpec | None:
    """The declaration of a layer's property, None where it has no such property."""
    if found := layer_kind(layer.kind).spec(property_id):
        return found
    family, _, rest = property_id.partition(".")
    if family == "slot":
        source = layer.slot_specs.get(rest)
        return None if source is None else slot_spec(rest, source)
    return FAMILIES[family].spec(layer, rest) if family in FAMILIES else None


def spec_of(layer: Layer, property_id: str, where: str = "") -> PropertySpec:
    """The declaration of a layer's property, or DocumentError."""
    if spec := find_spec(layer, property_id):
        return spec
    raise DocumentError(f"a {layer.kind} layer has no property {property_id!r}", field=where)


def parts_of(layer: Layer, property_id: str) -> tuple[str, str] | None:
    """The ids of x and y where a layer has that point taken apart, else None."""
    x, y = f"{property_id}.x", f"{property_id}.y"
    return (x, y) if x in layer.properties or y in layer.properties else None


def specs_of(layer: Layer) -> list[PropertySpec]:
    """A layer's declarations in the order of its fields, points that are split as their parts."""
    whole: list[PropertySpec] = list(layer_kind(layer.kind).specs)
    for slot_id, source in layer.slot_specs.items():
        if found := slot_spec(slot_id, source):
            whole.append(found)
    for family in FAMILIES.values():
        for member in family.members(layer):
            whole += family.fields(member)
    result: list[PropertySpec] = []
    for spec in whole:
        split = spec.split and parts_of(layer, spec.id)
        result += spec.parts() if split else (spec,)
    return result


def lane_label(layer: Layer, spec: PropertySpec) -> str:
    """A property's name where it stands by itself, unique on its layer: with that of the member it
    belongs to (``Glow: size``), or of its section where it needs it (``Slices: overlap``)."""
    family_id, _, rest = spec.id.partition(".")
    if family := FAMILIES.get(family_id):
        member_id = rest.partition(".")[0]
        for member in family.members(layer):
            if member.id == member_id:
                return named_with(family.name_of(member), spec.label)
    return spec.name
