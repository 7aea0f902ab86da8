"""Loading documents of any schema version, and the published JSON Schema."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import ValidationError

from ...errors import DocumentError, NewerSchemaError, brief
from ..geometry.outline import centred
from .document import SCHEMA_VERSION, Project


def _each_scene(data: dict[str, Any], change: Callable[[Any], Any]) -> dict[str, Any]:
    """The document with its scenes changed; as it is where it has no list of them, which the checks
    will refuse."""
    scenes = data.get("scenes", [])
    return {**data, "scenes": [change(s) for s in scenes]} if isinstance(scenes, list) else data


def _to_3(data: dict[str, Any]) -> dict[str, Any]:
    """Paths of shapes were drawn about the middle of their box; now they lie as written."""
    return _each_scene(data, _centred_paths)


def _centred_paths(scene: Any) -> Any:
    if not isinstance(scene, dict) or not isinstance(scene.get("layers"), list):
        return scene
    layers = []
    for layer in scene["layers"]:
        try:
            prop = layer["properties"]["shape.path"]
            moved = {**prop, "value": centred(prop["value"])}
            layer = {**layer, "properties": {**layer["properties"], "shape.path": moved}}
        except (KeyError, TypeError, DocumentError):
            pass  # no path of its own, or one that the checks will refuse
        layers.append(layer)
    return {**scene, "layers": layers}


def _to_5(data: dict[str, Any]) -> dict[str, Any]:
    """When the shutter opens was an angle only; now it has words for the three usual ones."""
    return _each_scene(data, lambda scene: _with_old_keys(_worded_shutter(scene)))


def _with_old_keys(scene: Any) -> Any:
    """Colour keys took a colour out wherever it was; new ones begin at the picture's border."""
    if not isinstance(scene, dict) or not isinstance(scene.get("layers"), list):
        return scene
    layers = []
    for layer in scene["layers"]:
        try:
            keys = [e["id"] for e in layer.get("effects", ()) if e["kind"] == "colour-key"]
            everywhere = {f"effect.{each}.border": {"value": False} for each in keys}
            if everywhere:
                layer = {**layer, "properties": {**everywhere, **layer.get("properties", {})}}
        except (KeyError, TypeError, AttributeError):
            pass  # the checks will refuse it
        layers.append(layer)
    return {**scene, "layers": layers}


def _to_6(data: dict[str, Any]) -> dict[str, Any]:
    """Texts set to a side had the middle of their box in place; new ones have that side there.
    What was aligned to the frame stayed there whatever it rode on; new ones go along."""
    return _each_scene(data, _growing)


def _growing(scene: Any) -> Any:
    if not isinstance(scene, dict) or not isinstance(scene.get("layers"), list):
        return scene
    layers = []
    for layer in scene["layers"]:
        try:
            properties = layer.get("properties", {})
            aligned = any(f"align.{axis}" in properties for axis in "xy")
            if layer.get("rides") and aligned:
                properties = {"align.pinned": {"value": True}, **properties}
                layer = {**layer, "properties": properties}
            if layer["kind"] == "text" and (properties.get("text.align") or _slotted(scene, layer)):
                properties = {"text.grows": {"value": "middle"}, **properties}
                layer = {**layer, "properties": properties}
        except (KeyError, TypeError, AttributeError):
            pass  # the checks will refuse it
        layers.append(layer)
    return {**scene, "layers": layers}


def _slotted(scene: dict[str, Any], layer: dict[str, Any]) -> bool:
    """Whether a slot of the scene sets how a layer's text is set."""
    return any(
        slot.get("layer") == layer.get("id") and slot.get("property") == "text.align"
        for slot in scene.get("slots", ())
        if isinstance(slot, dict)
    )


def _worded_shutter(scene: Any) -> Any:
    if not isinstance(scene, dict) or not isinstance(scene.get("shutter"), dict):
        return scene
    shutter = scene["shutter"]
    angle, offset = shutter.get("angle_deg", 180.0), shutter.get("offset_deg", -90.0)
    try:
        words = {-angle: "before", -angle / 2: "centred", 0: "after"}
        opens = words.get(offset, "degrees")
    except TypeError:  # no numbers: the checks will refuse them
        opens = "degrees"
    return {**scene, "shutter": {**shutter, "opens": opens}}


# What moves did before they had a tempo of their own, where a document does not say otherwise:
# those that arrive or leave, and what else those that leave did.
_EXPO = {"easing": "expo-out"}
_OLD_MOVES: dict[str, dict[str, Any]] = {
    "lift": {**_EXPO, "measure": "px", "distance": 90},
    "sink": {**_EXPO, "measure": "px", "distance": 90},
    "slide": _EXPO,
    "grow": {**_EXPO, "start": 0},
    "widen": _EXPO,
    "spring-in": {"easing": "spring(0.5)"},
    "drop": {"easing": "bounce-out", "height": 60},
    "unroll": {"easing": "ease-in-out", "softness": 20},
    "open": {**_EXPO, "softness": 20},
    "iris": {"easing": "ease-in-out", "softness": 20},
    "focus": {**_EXPO, "blur": 40, "scale": 112},
    "turn-in": _EXPO,
    "spin": {**_EXPO, "angle": 180},
    "type-on": {"spread.width": 1},
    "tracking": {**_EXPO, "tracking": 400, "blur": 0},
    "alternate": {**_EXPO, "measure": "px", "distance": 240},
}
_OLD_LEAVING = {"unroll": {"away": "back"}, "spin": {"away": "back"},
                "type-on": {"spread.order": "forward"}}  # fmt: skip
_OLD_DWELLING: dict[str, dict[str, Any]] = {
    "wander": {"distance": 24, "turn": 2},
    "sway": {"angle": 5},
    "swell": {"by": 8},
    "pulse": {"by": 10},
    "push-in": {"by": 8},
}


def _to_7(data: dict[str, Any]) -> dict[str, Any]:
    """Units had shares of their phase, moves and effects other defaults, gradients were mixed in
    plain sRGB; documents keep what they had."""
    data = _each_scene(data, _with_old_moves)
    data = _each_scene(data, _with_plain_gradients)
    styles = data.get("type_styles")
    if isinstance(styles, list):
        data = {**data, "type_styles": [_plainly_mixed(each, bare=True) for each in styles]}
    sets = data.get("effect_sets")
    if isinstance(sets, list):
        data = {**data, "effect_sets": [_with_old_effects(each) for each in sets]}
    return data


_GRADED = ("linear", "radial", "conic")


def _with_plain_gradients(scene: Any) -> Any:
    if not isinstance(scene, dict) or not isinstance(scene.get("layers"), list):
        return scene
    return {**scene, "layers": [_plainly_mixed(layer) for layer in scene["layers"]]}


def _plainly_mixed(holder: Any, *, bare: bool = False) -> Any:
    """A layer, or a style of ``bare`` values, whose gradients are mixed as they were."""
    try:
        added: dict[str, Any] = {}
        for name, held in holder["properties"].items():
            if not name.endswith(("fill.kind", "behind.kind")):
                continue
            keyed = not bare and held.get("keys")
            if keyed or (held if bare else held["value"]) in _GRADED:
                added[name.removesuffix("kind") + "mixing"] = (
                    "plain" if bare else {"value": "plain"}
                )
        return {**holder, "properties": {**added, **holder["properties"]}} if added else holder
    except (KeyError, TypeError, AttributeError):
        return holder  # the checks will refuse it


# What effects did where a document does not say otherwise.
_OLD_EFFECTS: dict[str, dict[str, Any]] = {
    "glow": {"where": "screened"},
    "drop-shadow": {
        "colour": "#000000", "opacity": 60, "distance": 14, "softness": 10, "contact": 0,
    },
    "inner-shadow": {"distance": 8, "softness": 10},
    "inner-glow": {"mode": "screen"},
    "edge-light": {"size": 5},
    "glint": {"width": 60, "mode": "screen"},
    "colour-fringe": {"amount": 6},
    "grain": {"amount": 12},
    "texture": {"mode": "multiply", "dark": "#7f776c"},
    "noise-clouds": {"warp": 0, "contrast": 110, "level": 50, "dark": "#17224d"},
    "lens-flare": {"centre": [0, 0]},
    "long-shadow": {"fade": 60},
    "chroma-key": {"limit": "mean"},
    "rough-edge": {"fine": 0},
    "particles": {"size": 18, "variation": 25, "depth": 0, "smear": 0},
}  # fmt: skip


def _with_old_effects(saved: Any) -> Any:
    try:
        effects = []
        for each in saved["effects"]:
            old = {k: {"value": v} for k, v in _OLD_EFFECTS.get(each["kind"], {}).items()}
            if old:
                each = {**each, "properties": {**old, **each.get("properties", {})}}
            effects.append(each)
        return {**saved, "effects": effects}
    except (KeyError, TypeError, AttributeError):
        return saved  # the checks will refuse it


def _with_old_moves(scene: Any) -> Any:
    if not isinstance(scene, dict) or not isinstance(scene.get("layers"), list):
        return scene
    layers = []
    for layer in scene["layers"]:
        try:
            kept: dict[str, Any] = {}
            for move in layer.get("moves", ()):
                for name, value in _old_values(move["kind"], move["phase"]).items():
                    kept[f"move.{move['id']}.{name}"] = {"value": value}
                layer = _without_idle_spread(layer, move)
            for effect in layer.get("effects", ()):
                for name, value in _OLD_EFFECTS.get(effect["kind"], {}).items():
                    kept[f"effect.{effect['id']}.{name}"] = {"value": value}
            if kept:
                layer = {**layer, "properties": {**kept, **layer.get("properties", {})}}
        except (KeyError, TypeError, AttributeError):
            pass  # the checks will refuse it
        layers.append(layer)
    return {**scene, "layers": layers}


# Over these it did nothing, or what it does to the whole.
_IDLE_OVER = {
    "unroll": ("slices",), "open": ("slices",), "iris": ("slices",), "draw-on": ("slices",),
    "type-on": ("whole", "slices", "copies", "group"),
    "scramble": ("whole", "slices", "copies", "group"),
    "tracking": ("slices",),
}  # fmt: skip


def _without_idle_spread(layer: dict[str, Any], move: dict[str, Any]) -> dict[str, Any]:
    name = f"move.{move['id']}.spread.over"
    over = layer.get("properties", {}).get(name, {}).get("value")
    if over not in _IDLE_OVER.get(move["kind"], ()):
        return layer
    kept = {key: value for key, value in layer["properties"].items() if key != name}
    return {**layer, "properties": kept}


def _old_values(kind: str, phase: str) -> dict[str, Any]:
    if phase == "dwell":
        return _OLD_DWELLING.get(kind, {})
    leaving = _OLD_LEAVING.get(kind, {}) if phase == "leave" else {}
    return {**_OLD_MOVES.get(kind, {}), **leaving, "spread.tempo": "shared"}


# MIGRATIONS[n] turns a document of version n into one of version n + 1 (plain JSON to JSON).
# Version 2 added fields with defaults only: how keys join, repeats, marks, saved easings, clips.
# Version 3 added masks, effects, effect sets, the shutter, the viewing distance; paths that can
# have keys.
# Version 4 added fields with defaults only: rides, expressions, ties, moves, slots.
# Version 5 has words for when the shutter opens, and colour keys that begin at the border.
# Version 6 has texts that grow from the side to which they are set, and (with defaults) further
# mattes and a standing part of scenes.
# Version 7 has moves whose units take a time of their own, phases that follow their moves,
# gradients that are mixed in Oklab, and other defaults of moves and effects.
MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: lambda data: data,
    2: _to_3,
    3: lambda data: data,
    4: _to_5,
    5: _to_6,
    6: _to_7,
}


def load_project(data: Any) -> Project:
    """A checked Project from JSON data of this or an earlier schema version.

    Raises NewerSchemaError for a later version and DocumentError, naming the field, for
    anything else that is wrong. Ids and raw parameters are checked by the catalog.
    """
    data = migrated(data)
    try:
        return Project.model_validate(data)
    except ValidationError as error:
        raise from_validation(error) from error


def migrated(data: Any) -> dict[str, Any]:
    """JSON data of an earlier schema version as this one has it. Raises NewerSchemaError for a
    later one, DocumentError where it is no document at all."""
    if not isinstance(data, dict):
        raise DocumentError.expected("document", "a JSON object", data)
    version = data.get("schema_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DocumentError.expected("schema_version", "a whole number from 1", version)
    if version > SCHEMA_VERSION:
        raise NewerSchemaError(
            f"this document has schema version {version}; this program knows up to "
            f"{SCHEMA_VERSION}. Open it with a newer Young Comet.",
            field="schema_version",
        )
    while version < SCHEMA_VERSION:
        data = MIGRATIONS[version](data)
        version += 1
        data = {**data, "schema_version": version}
    result: dict[str, Any] = data
    return result


def from_validation(error: ValidationError) -> DocumentError:
    """Pydantic's first complaint as one sentence that names the field."""
    first = error.errors(include_url=False)[0]
    field = ".".join(str(part) for part in first["loc"]) or "document"
    shown = brief(first.get("input"), 60)
    return DocumentError(f"{first['msg'][0].lower()}{first['msg'][1:]}, got {shown}", field=field)


def document_schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of a project document."""
    schema = Project.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Young Comet project"
    return schema
