"""Which properties a layer has: those of its kind, its parts, its masks and its effects.

The properties of these are addressed as ``part.ID.NAME``, ``mask.ID.NAME``, ``effect.ID.NAME``:
keys, lanes, copying and every other operation then know no difference.
"""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from ...errors import DocumentError
from ..effects import EFFECTS, EffectKind
from ..model.document import Effect, Layer, Mask, Move, Part
from ..model.specs import Kind, PropertySpec
from ..moves import MOVES, MoveKind
from .common import MASK, PART_SPECS
from .kinds import LAYER_KINDS, layer_kind


def effect_kind(kind_id: str, where: str = "effect") -> EffectKind:
    """The effect of that id, or DocumentError."""
    if kind := EFFECTS.get(kind_id):
        return kind
    raise DocumentError.expected(where, "an effect of the catalog", kind_id)


@lru_cache(maxsize=4096)
def _mask_specs(mask_id: str, half_plane: bool) -> dict[str, PropertySpec]:
    prefix = f"mask.{mask_id}."
    index: dict[str, PropertySpec] = {}
    for spec in MASK:
        if half_plane and spec.id in ("path", "scale"):
            continue
        mine = spec.under(prefix, f"mask:{mask_id}")
        index[mine.id] = mine
        if mine.split:
            index |= {part.id: part for part in mine.parts()}
    return index


@lru_cache(maxsize=4096)
def _effect_specs(effect_id: str, kind_id: str) -> dict[str, PropertySpec]:
    kind = EFFECTS.get(kind_id)
    if kind is None:
        return {}
    prefix = f"effect.{effect_id}."
    specs = [spec.under(prefix, f"effect:{effect_id}") for spec in kind.specs]
    return {spec.id: spec for spec in specs}


@lru_cache(maxsize=8192)
def _part_specs(part_id: str) -> dict[str, PropertySpec]:
    prefix = f"part.{part_id}."
    specs = [spec.under(prefix, f"part:{part_id}") for spec in PART_SPECS]
    return {spec.id: spec for spec in specs}


@lru_cache(maxsize=8192)
def _move_specs(move_id: str, kind_id: str) -> dict[str, PropertySpec]:
    kind = MOVES.get(kind_id)
    if kind is None:
        return {}
    prefix = f"move.{move_id}."
    specs = [spec.under(prefix, f"move:{move_id}") for spec in kind.specs]
    return {spec.id: spec for spec in specs}


def move_kind(kind_id: str, where: str = "move") -> MoveKind:
    """The move of that id, or DocumentError."""
    if kind := MOVES.get(kind_id):
        return kind
    raise DocumentError.expected(where, "a move of the catalog", kind_id)


def move_specs(move: Move) -> dict[str, PropertySpec]:
    """A move's declarations by their full ids."""
    return _move_specs(move.id, move.kind)


def part_specs(part: Part) -> dict[str, PropertySpec]:
    """The declarations of a drawing's path by their full ids."""
    return _part_specs(part.id)


def mask_specs(mask: Mask) -> dict[str, PropertySpec]:
    """A mask's declarations by their full ids, the parts of split points too."""
    return _mask_specs(mask.id, mask.form == "half-plane")


def effect_specs(effect: Effect) -> dict[str, PropertySpec]:
    """An effect's declarations by their full ids."""
    return _effect_specs(effect.id, effect.kind)


def slot_source(layer: Layer, property_id: str) -> str:
    """What declares a property: FAMILY/KIND/PROPERTY, which ``slot_spec`` understands."""
    family, _, rest = property_id.partition(".")
    member, _, name = rest.partition(".")
    families: dict[str, dict[str, str]] = {
        "effect": {each.id: each.kind for each in layer.effects},
        "move": {each.id: each.kind for each in layer.moves},
        "mask": {each.id: each.form for each in layer.masks},
        "part": {each.id: "path" for each in layer.parts},
    }
    kinds = families.get(family, {})
    if member in kinds:
        return f"{family}/{kinds[member]}/{name}"
    return f"layer/{layer.kind}/{property_id}"


INK_SOURCE = "ink//"
_INK = PropertySpec("ink", "Ink", Kind.COLOUR, "#ff7a45", "Slots")


@lru_cache(maxsize=4096)
def slot_spec(slot_id: str, source: str) -> PropertySpec | None:
    """The declaration of a slot that is a property of the layer that fills it; None where there is
    no such property."""
    family, _, rest = source.partition("/")
    kind, _, name = rest.partition("/")
    found: PropertySpec | None = None
    if source == INK_SOURCE:
        found = _INK
    elif family == "layer" and kind in LAYER_KINDS:
        found = LAYER_KINDS[kind].spec(name)
    elif family == "effect":
        found = _effect_specs("x", kind).get(f"effect.x.{name}")
    elif family == "move":
        found = _move_specs("x", kind).get(f"move.x.{name}")
    elif family == "mask":
        found = _mask_specs("x", kind == "half-plane").get(f"mask.x.{name}")
    elif family == "part":
        found = _part_specs("x").get(f"part.x.{name}")
    if found is None or not found.animatable:
        return None
    hint = found.hint if found.hint in ("lines", "dial", "linked") else ""
    return replace(
        found, id=f"slot.{slot_id}", section="Slots", shown_when=None, split=False, hint=hint
    )


def find_spec(layer: Layer, property_id: str) -> PropertySpec | None:
    """The declaration of a layer's property, None where it has no such property."""
    if property_id.startswith("slot."):
        source = layer.slot_specs.get(property_id[5:])
        return None if source is None else slot_spec(property_id[5:], source)
    if property_id.startswith("effect."):
        member = property_id.split(".", 2)[1]
        for effect in layer.effects:
            if effect.id == member:
                return effect_specs(effect).get(property_id)
        return None
    if property_id.startswith("move."):
        member = property_id.split(".", 2)[1]
        for move in layer.moves:
            if move.id == member:
                return move_specs(move).get(property_id)
        return None
    if property_id.startswith("part."):
        member = property_id.split(".", 2)[1]
        if any(part.id == member for part in layer.parts):
            return _part_specs(member).get(property_id)
        return None
    if property_id.startswith("mask."):
        member = property_id.split(".", 2)[1]
        for mask in layer.masks:
            if mask.id == member:
                return mask_specs(mask).get(property_id)
        return None
    return layer_kind(layer.kind).spec(property_id)


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
    result: list[PropertySpec] = []
    for spec in layer_kind(layer.kind).specs:
        result += _split(layer, spec)
    for slot_id, source in layer.slot_specs.items():
        if found := slot_spec(slot_id, source):
            result.append(found)
    for part in layer.parts:
        result += part_specs(part).values()
    for mask in layer.masks:
        for spec in mask_specs(mask).values():
            if not spec.id.endswith((".x", ".y")):
                result += _split(layer, spec)
    for effect in layer.effects:
        result += effect_specs(effect).values()
    for move in layer.moves:
        result += move_specs(move).values()
    return result


def _split(layer: Layer, spec: PropertySpec) -> list[PropertySpec]:
    if spec.split and parts_of(layer, spec.id):
        return list(spec.parts())
    return [spec]


def lane_label(layer: Layer, spec: PropertySpec) -> str:
    """A property's name, with that of its mask, effect or part: ``Glow: Size``."""
    family, _, rest = spec.id.partition(".")
    member = rest.split(".")[0]
    names = {
        "mask": {mask.id: mask.name for mask in layer.masks},
        "part": {part.id: part.name for part in layer.parts},
        "move": {m.id: move_kind(m.kind).said(m.phase) for m in layer.moves},
        "effect": {e.id: e.name or effect_kind(e.kind).label for e in layer.effects},
    }.get(family, {})
    return f"{names[member]}: {spec.label}" if member in names else spec.label
