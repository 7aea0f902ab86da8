"""Documents checked against the declarations: once, on loading and on every edit."""

from __future__ import annotations

import math
import re
from itertools import pairwise
from typing import Any, TypeVar

from ...errors import DocumentError
from ..expressions import ExpressionError, compile_expression
from ..geometry.contours import parse_contours
from ..model.document import (
    Effect,
    EffectSet,
    Keyframe,
    Layer,
    Project,
    Property,
    SavedMove,
    Scene,
    SetEffect,
)
from ..model.specs import Kind, PropertySpec
from ..pixels.colour import parse_colour
from ..timing import parse_easing
from .kinds import MOVABLE, layer_kind
from .links import check_links, check_nesting, same_links
from .properties import effect_kind, effect_specs, move_kind, spec_of

MAX_TEXT = 10_000
MAX_PATH = 400_000
MAX_SPOTS = 64
MAX_STOPS = 64
MAX_KEYS = 20_000
MAX_LAYERS = 2_000
MAX_MARKS = 2_000
MAX_FPS = 60

_Holder = TypeVar("_Holder", Layer, SavedMove, SetEffect)
_DASH = re.compile(r"\s*(?:\d+(?:\.\d+)?(?:[\s,]+|$))*")


def normalise(spec: PropertySpec, value: Any, field: str) -> Any:
    """The value in its one canonical form; DocumentError says what was expected."""
    if spec.kind is Kind.NUMBER:
        return _number(spec, value, field)
    if spec.kind is Kind.POINT:
        if not isinstance(value, list | tuple) or len(value) != 2:
            raise DocumentError.expected(field, "two numbers [x, y]", value)
        return tuple(_number(spec, part, field) for part in value)
    if spec.kind is Kind.COLOUR:
        return _colour(value, field)
    if spec.kind is Kind.STOPS:
        return _stops(value, field)
    if spec.kind is Kind.CURVE:
        return check_curve(value, field)
    if spec.kind is Kind.SPOTS:
        return _spots(value, field)
    if spec.kind is Kind.FLAG:
        if not isinstance(value, bool):
            raise DocumentError.expected(field, "true or false", value)
        return value
    if not isinstance(value, str):
        raise DocumentError.expected(field, "a text", value)
    most = MAX_PATH if spec.kind is Kind.PATH else MAX_TEXT
    if len(value) > most:
        raise DocumentError(f"expected at most {most} characters", field=field)
    return _words(spec, value, field)


def _words(spec: PropertySpec, value: str, field: str) -> str:
    if spec.kind is Kind.CHOICE and value not in (known := [o for o, _ in spec.options]):
        raise DocumentError.expected(field, "one of " + ", ".join(known), value)
    if spec.kind is Kind.PATH:
        try:
            parse_contours(value)
        except DocumentError as error:
            raise DocumentError(str(error).removeprefix("path: "), field=field) from error
    if spec.hint == "easing":
        check_easing(value)
    if spec.hint == "dash":
        dash_lengths(value, field)
    return value


def dash_lengths(text: str, field: str = "dash") -> tuple[float, ...]:
    """The lengths in a dash text, e.g. "24 12"; empty for a whole line."""
    if not _DASH.fullmatch(text):
        raise DocumentError.expected(field, "lengths in px such as 24 12", text)
    lengths = tuple(float(part) for part in re.split(r"[\s,]+", text.strip()) if part)
    if len(lengths) > 32 or (lengths and sum(lengths) < 0.1):
        raise DocumentError.expected(field, "up to 32 lengths that are not all 0", text)
    return lengths


def _number(spec: PropertySpec, value: Any, field: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise DocumentError.expected(field, "a finite number", value)
    low, high = spec.minimum, spec.maximum
    if (low is not None and value < low) or (high is not None and value > high):
        limits = f"a number from {_plain(low)} to {_plain(high)}{spec.unit}"
        raise DocumentError.expected(field, limits, value)
    # With nothing added to it -0.0 is 0.0: equal numbers are equal texts.
    return (float(round(value)) if spec.whole else float(value)) + 0.0


def _plain(limit: float | None) -> str:
    return "any" if limit is None else f"{limit:,.10g}"


def _colour(value: Any, field: str) -> str:
    if isinstance(value, str) and value.startswith("ink:"):
        return value
    parse_colour(value, field)
    return value


def _stops(value: Any, field: str) -> tuple[tuple[float, str], ...]:
    fine = isinstance(value, list | tuple) and 2 <= len(value) <= MAX_STOPS
    if not fine or any(not isinstance(s, list | tuple) or len(s) != 2 for s in value):
        raise DocumentError.expected(field, f"2 to {MAX_STOPS} stops [offset, colour]", value)
    result = []
    for offset, colour in value:
        if isinstance(offset, bool) or not isinstance(offset, int | float):
            raise DocumentError.expected(field, "offsets from 0 to 1", offset)
        if not 0 <= offset <= 1:
            raise DocumentError.expected(field, "offsets from 0 to 1", offset)
        result.append((float(offset), _colour(colour, field)))
    return tuple(result)


def _numbers(values: Any, count: int, field: str, what: str) -> None:
    for value in values[:count]:
        wrong = isinstance(value, bool) or not isinstance(value, int | float)
        if wrong or not math.isfinite(value):
            raise DocumentError.expected(field, what, value)


def check_curve(value: Any, field: str) -> tuple[tuple[float, float], ...]:
    what = f"2 to {MAX_STOPS} points [x, y] in 0 to 1 with rising x"
    fine = isinstance(value, list | tuple) and 2 <= len(value) <= MAX_STOPS
    if not fine or any(not isinstance(p, list | tuple) or len(p) != 2 for p in value):
        raise DocumentError.expected(field, what, value)
    for point in value:
        _numbers(point, 2, field, what)
        if not all(0 <= part <= 1 for part in point):
            raise DocumentError.expected(field, what, point)
    if any(b[0] - a[0] < 1e-4 for a, b in pairwise(value)):
        raise DocumentError.expected(field, what, value)
    return tuple((float(x), float(y)) for x, y in value)


def _spots(value: Any, field: str) -> tuple[tuple[float, float, float, str], ...]:
    what = f"1 to {MAX_SPOTS} colour points [x, y, softness, colour], numbers in percent"
    fine = isinstance(value, list | tuple) and 1 <= len(value) <= MAX_SPOTS
    if not fine or any(not isinstance(p, list | tuple) or len(p) != 4 for p in value):
        raise DocumentError.expected(field, what, value)
    result = []
    for spot in value:
        _numbers(spot, 3, field, what)
        x, y, softness = (float(part) for part in spot[:3])
        if not (abs(x) <= 1e4 and abs(y) <= 1e4 and 0 <= softness <= 1000):
            raise DocumentError.expected(field, what, spot)
        result.append((x, y, softness, _colour(spot[3], field)))
    return tuple(result)


def check_property(spec: PropertySpec, prop: Property, field: str) -> Property:
    """The property with canonical values, its keys in order; the same object if it is so."""
    if prop.expression:
        if not spec.expressive:
            raise DocumentError("this property cannot have an expression", field=field)
        check_expression(prop.expression, field)
    if not prop.keys:
        value = normalise(spec, prop.value, field)
        same = _same(value, prop.value) and prop.flown is None
        return prop if same else prop.model_copy(update={"value": value, "flown": None})
    if not spec.animatable:
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
    where = f"{field} / key at {key.time_s:g} s"
    check_easing(key.easing)
    for handle in (key.handle_in, key.handle_out):
        if handle is not None and (
            spec.kind is not Kind.POINT or not all(math.isfinite(v) for v in handle)
        ):
            raise DocumentError("only a point has handles, as two numbers", field=where)
    value = normalise(spec, key.value, where)
    # Most keys of a changed property are as they were: those stay the same objects.
    return key if _same(value, key.value) else key.model_copy(update={"value": value})


def _same(a: Any, b: Any) -> bool:
    if isinstance(a, tuple):
        return type(b) is tuple and len(a) == len(b) and all(map(_same, a, b))
    return type(a) is type(b) and a == b


def check_easing(text: str) -> str:
    """The text if it is an easing or names one of the project's own."""
    if not re.fullmatch(r"easing:[A-Za-z0-9][A-Za-z0-9_-]{0,63}", text):
        parse_easing(text)
    return text


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
    _unique([part.id for part in layer.parts], "part")
    if layer.parts and layer.kind != "shape":
        raise DocumentError("only a shape layer has parts", field=where)
    _unique([mask.id for mask in layer.masks], "mask")
    _unique([effect.id for effect in layer.effects], "effect")
    _unique([move.id for move in layer.moves], "move")
    for move in layer.moves:
        kind = move_kind(move.kind, f"{where} / move")
        if move.phase not in kind.phases:
            expected = " or ".join(kind.phases)
            raise DocumentError.expected(f"{where} / {kind.label}", expected, move.phase)
    for effect in layer.effects:
        effect_kind(effect.kind, f"{where} / effect")
    for mask in layer.masks:
        if (mask.space == "follow") != (mask.follows is not None):
            field = f"{where} / mask {mask.name!r}"
            raise DocumentError("only a mask that follows names a layer, and it must", field=field)


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
        and layer.parts == other.parts
        and layer.masks == other.masks
        and layer.effects == other.effects
        and layer.moves == other.moves
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
    if known is None or not same_links(scene, known):
        check_links(scene)
    return scene.model_copy(update={"layers": layers, "marks": marks})


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
    check_nesting(project)
    before = {scene.id: scene for scene in known.scenes} if known is not None else {}
    return project.model_copy(
        update={
            "scenes": tuple(check_scene(s, before.get(s.id)) for s in project.scenes),
            "effect_sets": tuple(check_set(each) for each in project.effect_sets),
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
        stand_in = Effect(id="set", kind=each.kind)
        specs = effect_specs(stand_in)
        properties = {}
        for name, prop in each.properties.items():
            spec = specs.get(f"effect.set.{name}")
            if spec is None:
                raise DocumentError(f"{each.kind} has no parameter {name!r}", field=field)
            properties[name] = check_property(spec, prop, f"{field} / {spec.label}")
        effects.append(_with_properties(each, properties))
    return tuple(effects)


def _unique(ids: list[str], what: str) -> None:
    if len(set(ids)) != len(ids):
        double = next(i for i in ids if ids.count(i) > 1)
        raise DocumentError(f"two {what}s have the id {double!r}", field=what)
