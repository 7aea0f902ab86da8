"""Documents checked against the declarations: once, on loading and on every edit."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any, TypeVar

from ...errors import DocumentError
from ..expressions import ExpressionError, compile_expression
from ..model.document import EffectSet, Layer, Project, SavedMove, Scene, SetEffect
from ..model.kinds import Kind, check_easing
from ..model.property import Keyframe, Property
from ..model.specs import PropertySpec
from ..timing import parse_easing
from .arrangements import check_arrangements
from .kinds import MOVABLE, layer_kind
from .links import check_links, check_nesting, same_links
from .members import EFFECTS, FAMILIES, effect_kind
from .properties import spec_of
from .type_styles import check_type_style

MAX_KEYS = 20_000
MAX_LAYERS = 2_000
MAX_MARKS = 2_000
MAX_FPS = 60

_Holder = TypeVar("_Holder", Layer, SavedMove, SetEffect)


def normalise(spec: PropertySpec, value: Any, field: str) -> Any:
    """The value in its one canonical form; DocumentError says what was expected."""
    return spec.kind.check(spec, value, field)


def check_property(spec: PropertySpec, prop: Property, field: str) -> Property:
    """The property with canonical values, its keys in order; the same object if it is so."""
    if prop.expression:
        if not spec.expressive:
            raise DocumentError("this property cannot have an expression", field=field)
        check_expression(prop.expression, field)
    if not prop.keys:
        value = spec.kind.check(spec, prop.value, field)
        same = _same(value, prop.value) and prop.flown is None
        return prop if same else prop.model_copy(update={"value": value, "flown": None})
    if not spec.animatable and (spec.fixed or not prop.crosses):
        raise DocumentError("this property cannot have keys", field=field)
    if len(prop.keys) > MAX_KEYS:
        raise DocumentError(f"expected at most {MAX_KEYS} keys", field=field)
    keys = tuple(sorted((check_key(spec, key, field) for key in prop.keys), key=_time))
    if len({key.id for key in keys}) != len(keys):
        raise DocumentError("two keys have the same id", field=field)
    if any(b.time_s - a.time_s < 1e-6 for a, b in pairwise(keys)):
        raise DocumentError("two keys are at the same time", field=field)
    if prop.pace == "even" and spec.kind is not Kind.POINT:
        raise DocumentError("only a point can have an even pace", field=field)
    # A property that is as it should be stays the same object: what was made from it (its
    # track, its lane) can be used again.
    kept = prop.value is None and all(a is b for a, b in zip(keys, prop.keys, strict=True))
    return prop if kept else prop.model_copy(update={"keys": keys, "value": None})


def _time(key: Keyframe) -> float:
    return key.time_s


def check_key(spec: PropertySpec, key: Keyframe, field: str) -> Keyframe:
    """A key with its value in the one form, or DocumentError."""
    where = f"{field} / key at {key.time_s:g} s"
    check_easing(key.easing)
    for handle in (key.handle_in, key.handle_out):
        if handle is not None and (
            spec.kind is not Kind.POINT or not all(math.isfinite(v) for v in handle)
        ):
            raise DocumentError("only a point has handles, as two numbers", field=where)
    value = spec.kind.check(spec, key.value, where)
    # Most keys of a changed property are as they were: those stay the same objects.
    return key if _same(value, key.value) else key.model_copy(update={"value": value})


def _same(a: Any, b: Any) -> bool:
    if isinstance(a, tuple):
        return type(b) is tuple and len(a) == len(b) and all(map(_same, a, b))
    return type(a) is type(b) and a == b


def check_expression(text: str, field: str) -> None:
    """Raises DocumentError where a text is no expression."""
    try:
        compile_expression(text)
    except ExpressionError as error:
        message = str(error).removeprefix("expression: ")
        raise DocumentError(message, field=f"{field} / expression") from error


def check_layer(layer: Layer, known: Layer | None = None) -> Layer:
    """The layer with canonical properties; unknown ones are refused. Properties that it shares
    with ``known``, a checked layer of the same kind and members, are not looked at again."""
    if layer is known:
        return layer
    where = f"layer {layer.name!r}"
    alike = known is not None and _alike(layer, known)
    if not alike:
        _check_members(layer, where)
    if layer.type_style is not None and layer.kind != "text":
        raise DocumentError("only a text wears a type style", field=where)
    if layer.end_s - layer.start_s < 1e-6:
        raise DocumentError("the end must come after the start", field=where)
    properties = {}
    checked = known.properties if known is not None and alike else {}
    for property_id, prop in layer.properties.items():
        if checked.get(property_id) is prop:
            properties[property_id] = prop
            continue
        spec = spec_of(layer, property_id, where)
        whole = property_id.removesuffix(".x").removesuffix(".y")
        if whole != property_id and whole in layer.properties:
            raise DocumentError(f"{whole} is there both split and whole", field=where)
        properties[property_id] = check_property(spec, prop, f"{where} / {spec.label}")
    return _with_properties(layer, properties)


def _check_members(layer: Layer, where: str) -> None:
    """A layer's kind, parts, masks, effects and moves."""
    layer_kind(layer.kind)
    for family in FAMILIES.values():
        members = family.members(layer)
        _unique([member.id for member in members], family.label)
        for member in members:
            family.check(layer, member, where)


def _with_properties(holder: _Holder, properties: dict[str, Property]) -> _Holder:
    """Something with its properties in the order of their names, so that equal documents are
    equal texts; the same object where it is so already."""
    ordered = dict(sorted(properties.items()))
    old = holder.properties
    if list(old) == list(ordered) and all(old[name] is ordered[name] for name in old):
        return holder
    return holder.model_copy(update={"properties": ordered})


def _alike(layer: Layer, other: Layer) -> bool:
    """Whether two layers have the same properties declared, split in the same way."""
    return (
        layer.kind == other.kind
        and all(f.members(layer) == f.members(other) for f in FAMILIES.values())
        and layer.slot_specs == other.slot_specs
        and layer.properties.keys() == other.properties.keys()
    )


def check_scene(scene: Scene, known: Scene | None = None) -> Scene:
    """The scene in canonical form. ``known`` is one that was checked before: what both share is
    not looked at again."""
    if scene is known:
        return scene
    if len(scene.layers) > MAX_LAYERS:
        raise DocumentError(f"expected at most {MAX_LAYERS} layers", field=f"scene {scene.name!r}")
    if not 1 <= scene.rate.rate.fps <= MAX_FPS:
        raise DocumentError.expected(
            f"scene {scene.name!r} / frame rate", f"1 to {MAX_FPS} frames a second",
            scene.rate.rate.label,
        )  # fmt: skip
    _unique([layer.id for layer in scene.layers], "layer")
    _unique([group.id for group in scene.groups], "group")
    groups = {group.id for group in scene.groups}
    for layer in scene.layers:
        if layer.group is not None and layer.group not in groups:
            raise DocumentError.expected(f"layer {layer.name!r} / group", "a group", layer.group)
    _unique([mark.id for mark in scene.marks], "mark")
    _unique([slot.id for slot in scene.slots], "slot")
    marks = tuple(sorted(scene.marks, key=lambda mark: mark.time_s))
    if len(marks) > MAX_MARKS:
        raise DocumentError(f"expected at most {MAX_MARKS} marks", field=f"scene {scene.name!r}")
    if scene.standing_s is not None and scene.standing_s[1] - scene.standing_s[0] < 1e-6:
        raise DocumentError(
            "the standing part must end after it starts", field=f"scene {scene.name!r} / standing_s"
        )
    if scene.range_s is not None and scene.range_s[1] - scene.range_s[0] < 1e-6:
        raise DocumentError("the end must come after the start", field="working range")
    before = {layer.id: layer for layer in known.layers} if known is not None else {}
    layers = tuple(check_layer(la, before.get(la.id)) for la in scene.layers)
    scene = scene.model_copy(update={"layers": layers, "marks": marks})
    if known is None or not same_links(scene, known):
        check_links(scene)
    arrangements = check_arrangements(scene, known)
    return scene.model_copy(update={"arrangements": arrangements})


def check_project(project: Project, known: Project | None = None) -> Project:
    """The whole document in canonical form; every id and parameter known.

    ``known`` is a document that was checked before: scenes, layers and properties which both share
    are not looked at again. The outcome is the same with and without it.
    """
    _unique([scene.id for scene in project.scenes], "scene")
    _unique([asset.id for asset in project.assets], "asset")
    _unique([ink.id for ink in project.inks], "ink")
    _unique([easing.id for easing in project.easings], "easing")
    for easing in project.easings:
        parse_easing(easing.easing)
    check_easing(project.settings.new_key_easing)
    _unique([each.id for each in project.effect_sets], "effect set")
    _unique([each.id for each in project.saved_moves], "saved move")
    _unique([each.id for each in project.type_styles], "type style")
    check_nesting(project)
    before = {scene.id: scene for scene in known.scenes} if known is not None else {}
    return project.model_copy(
        update={
            "scenes": tuple(check_scene(s, before.get(s.id)) for s in project.scenes),
            "effect_sets": tuple(check_set(each) for each in project.effect_sets),
            "type_styles": tuple(check_type_style(each) for each in project.type_styles),
            "saved_moves": tuple(check_saved_move(each) for each in project.saved_moves),
        }
    )


def check_saved_move(saved: SavedMove) -> SavedMove:
    """A move of the artist's own with canonical values."""
    field = f"saved move {saved.name!r}"
    properties = {}
    for name, prop in saved.properties.items():
        spec = MOVABLE.get(name)
        if spec is None:
            raise DocumentError.expected(field, "one of " + ", ".join(MOVABLE), name)
        properties[name] = check_property(spec, prop, f"{field} / {spec.label}")
    effects = _checked_effects(saved.effects, field)
    return _with_properties(saved, properties).model_copy(update={"effects": effects})


def check_set(saved: EffectSet) -> EffectSet:
    """A set of effects with canonical values."""
    field = f"effect set {saved.name!r}"
    return saved.model_copy(update={"effects": _checked_effects(saved.effects, field)})


def _checked_effects(listed: tuple[SetEffect, ...], field: str) -> tuple[SetEffect, ...]:
    effects = []
    for each in listed:
        effect_kind(each.kind, field)
        properties = {}
        for name, prop in each.properties.items():
            spec = EFFECTS.spec_of_kind(each.kind, name)
            if spec is None:
                raise DocumentError(f"{each.kind} has no parameter {name!r}", field=field)
            properties[name] = check_property(spec, prop, f"{field} / {spec.label}")
        effects.append(_with_properties(each, properties))
    return tuple(effects)


def _unique(ids: list[str], what: str) -> None:
    if len(set(ids)) != len(ids):
        double = next(i for i in ids if ids.count(i) > 1)
        raise DocumentError(f"two {what}s have the id {double!r}", field=what)
