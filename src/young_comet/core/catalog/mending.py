"""Documents that fail their checks, made sound again with as little lost as can be.

What is out of its limits is clamped or cut; what cannot be understood is dropped, the smallest part
first: a key, a property, a mask or effect, a layer. Every change is told in a sentence.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from ...errors import DocumentError
from ..model import Arrangement, Layer, Project, Property, Scene, Stand, Step, TypeStyle
from ..model.kinds import check_easing
from ..model.schema import migrated
from ..model.values import MAX_NAME
from .arrangements import checked_arrangement, without_lost_stands
from .check import (
    MAX_FPS,
    MAX_LAYERS,
    MAX_MARKS,
    check_layer,
    check_project,
    check_property,
    check_saved_move,
    check_scene,
    check_set,
)
from .kinds import LAYER_KINDS
from .links import check_links, check_nesting, placed_scene
from .members import FAMILIES, MemberFamily
from .properties import find_spec
from .type_styles import check_type_style

Loc = tuple[int | str, ...]
Item = TypeVar("Item", bound=BaseModel)

# A document with more that is wrong than this loses the scenes in which it is.
MOST_STEPS = 5_000


def mend_project(data: Any, id: str = "mended", name: str = "Mended") -> tuple[Project, list[str]]:
    """A project that passes ``check_project``, and what was changed for it, a sentence each.

    ``data`` is JSON data of any shape; ``id`` and ``name`` are used where it has none. Never
    raises for what the data holds.
    """
    changes: list[str] = []
    project = _validated(data, id, name, changes)
    project = _members(project, changes)
    scenes: list[Scene] = []
    for scene in project.scenes:
        if any(each.id == scene.id for each in scenes):
            changes.append(f"left out a second scene with the id {scene.id!r}")
            continue
        scenes.append(_scene(scene, changes))
    project = project.model_copy(update={"scenes": tuple(scenes)})
    project = _nesting(project, changes)
    try:
        return check_project(project), changes
    except DocumentError as error:  # something nobody thought of: scenes are what may hold it
        return _bare(project, error, changes)


def _bare(project: Project, error: DocumentError, changes: list[str]) -> tuple[Project, list[str]]:
    kept: list[Scene] = []
    for scene in project.scenes:
        try:
            check_project(project.model_copy(update={"scenes": (*kept, scene)}))
        except DocumentError as why:
            changes.append(f"left out the scene {_called(scene)} ({why})")
        else:
            kept.append(scene)
    smaller = project.model_copy(update={"scenes": tuple(kept)})
    try:
        return check_project(smaller), changes
    except DocumentError:
        changes.append(f"kept the name only ({error})")
        return Project(id=project.id, name=project.name), changes


# What the models themselves say


def _validated(data: Any, id: str, name: str, changes: list[str]) -> Project:
    try:
        data = migrated(data)
    except DocumentError as error:
        changes.append(f"nothing could be read of the document ({error})")
        return Project(id=id, name=name)
    data = _copied(data)
    for _ in range(MOST_STEPS):
        try:
            return Project.model_validate(data)
        except ValidationError as error:
            before = len(changes)
            # From the back, so that places in lists stay right while items are taken out.
            for each in sorted(error.errors(include_url=False), key=_place, reverse=True)[:500]:
                _put_right(data, each, id, name, changes)
            if len(changes) == before:
                break
        except RecursionError:
            break
    changes.append("nothing of the document could be kept but its name")
    return Project(id=id, name=name)


# Nothing of a document lies deeper; what does is left out.
_DEEPEST = 40


def _copied(data: Any, depth: int = 0) -> Any:
    """A copy of JSON data that can be changed, cut off where it goes on for ever."""
    if depth > _DEEPEST:
        return None
    if isinstance(data, dict):
        return {str(key): _copied(value, depth + 1) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [_copied(value, depth + 1) for value in data]
    return data


def _place(error: Any) -> list[tuple[int, int | str]]:
    return [(0, part) if isinstance(part, int) else (1, part) for part in error["loc"]]


def _put_right(data: Any, error: Any, id: str, name: str, changes: list[str]) -> None:
    """Changes the value that an error is about, or takes the smallest part out that holds it."""
    loc: Loc = error["loc"]
    holder, key = _holder(data, loc)
    if holder is None:
        return
    where = _named(data, loc)
    limits = error.get("ctx", {})
    if loc in (("id",), ("name",)):
        holder[key] = id if key == "id" else str(name)[:MAX_NAME] or "Mended"
        changes.append(f"gave the project another {key}")
        return
    kind, value = error["type"], holder[key] if _has(holder, key) else None
    clamped = _clamped(kind, value, limits)
    if clamped is not None:
        holder[key] = clamped
        changes.append(f"{where}: {_brief(value)} became {_brief(clamped)}")
        return
    if kind == "extra_forbidden":
        del holder[key]
        changes.append(f"{where}: left out what is not known here")
        return
    _take_out(data, loc, where, str(error["msg"]), changes)


def _clamped(kind: str, value: Any, limits: dict[str, Any]) -> Any:
    if kind in ("less_than_equal", "greater_than_equal"):
        return limits["le" if kind == "less_than_equal" else "ge"]
    if kind in ("string_too_long", "too_long") and isinstance(value, str | list):
        return value[: limits["max_length"]]
    if kind == "string_too_short":
        return "Unnamed"
    return None


def _take_out(data: Any, loc: Loc, where: str, why: str, changes: list[str]) -> None:
    """Removes the nearest enclosing item of a list, entry of properties or slots, or field."""
    for depth in range(len(loc), 0, -1):
        holder, key = _holder(data, loc[:depth])
        if isinstance(holder, list) and isinstance(key, int) and key < len(holder):
            # A pair of numbers is nothing without one of them: then what holds the pair goes.
            if holder and not isinstance(holder[key], dict):
                continue
            del holder[key]
            changes.append(f"{where}: left out ({why})")
            return
        in_entries = depth > 1 and loc[depth - 2] in ("properties", "slots")
        optional = depth == len(loc) and isinstance(key, str) and not _needed(loc)
        if isinstance(holder, dict) and key in holder and (in_entries or optional):
            del holder[key]
            changes.append(f"{where}: left out ({why})")
            return


def _needed(loc: Loc) -> bool:
    """Whether a field has no default, so that what has it cannot be without it."""
    needed = ("id", "name", "kind", "start_s", "end_s", "time_s", "width", "height", "rate", "num",
              "length_s", "hash", "media_type", "size_bytes", "colour", "easing", "phase", "to",
              "mode", "value")  # fmt: skip
    return loc[-1] in needed


def _holder(data: Any, loc: Loc) -> tuple[Any, Any]:
    """The list or object that a place lies in, and its key there; (None, None) if it is not
    there. Places of a model's own ("function-before" and the like) are passed over."""
    holder: Any = data
    key: Any = None
    for part in loc:
        if key is not None:
            if not _has(holder, key):
                return None, None
            holder = holder[key]
            key = None
        if isinstance(holder, dict | list):
            key = part
    return (holder, key) if isinstance(holder, dict | list) and key is not None else (None, None)


def _has(holder: Any, key: Any) -> bool:
    if isinstance(holder, dict):
        return key in holder
    return isinstance(holder, list) and isinstance(key, int) and key < len(holder)


def _named(data: Any, loc: Loc) -> str:
    """A place in words: the names of what lies around it, then the field."""
    words: list[str] = []
    here: Any = data
    for part in loc:
        if not isinstance(here, dict | list) or not _has(here, part):
            words.append(str(part))
            break
        here = here[part]  # type: ignore[index]
        label = here.get("name") if isinstance(here, dict) else None
        if isinstance(label, str):
            words.append(repr(label[:40]))
        elif isinstance(part, str) and part not in ("scenes", "layers", "properties"):
            words.append(part)
    return " / ".join(words) or "the document"


def place_in_words(data: Any, field: str) -> str:
    """The place of an error of the models ("scenes.0.layers.2.name") by the names around it; the
    field as it is where it is another."""
    loc = tuple(int(part) if part.isdigit() else part for part in field.split("."))
    holder, key = _holder(data, loc)
    return _named(data, loc) if holder is not None and _has(holder, key) else field


def _called(thing: Scene | Layer) -> str:
    """A name as sentences show it."""
    name = thing.name if len(thing.name) <= 40 else thing.name[:37] + "..."
    return repr(name)


def _brief(value: Any) -> str:
    text = repr(value)
    return text if len(text) <= 40 else text[:37] + "..."


# What the catalog says


def _members(project: Project, changes: list[str]) -> Project:
    """Inks, assets, easings and the rest of a project, each by itself."""
    update: dict[str, Any] = {}
    checks: dict[str, Callable[[Any], Any]] = {
        "assets": lambda each: each,
        "inks": lambda each: each,
        "easings": lambda each: check_easing(each.easing) and each,
        "effect_sets": check_set,
        "saved_moves": check_saved_move,
        "type_styles": lambda each: _type_style(each, changes),
    }
    for name, check in checks.items():
        update[name] = _sound_items(getattr(project, name), check, name, changes)
    try:
        check_easing(project.settings.new_key_easing)
    except DocumentError:
        update["settings"] = type(project.settings)()
        changes.append("the easing of new keys is the usual one again")
    return project.model_copy(update=update)


def _type_style(style: TypeStyle, changes: list[str]) -> TypeStyle:
    """The style without what it cannot say."""
    kept: dict[str, Any] = {}
    for name, value in style.properties.items():
        alone = style.model_copy(update={"properties": {name: value}})
        try:
            kept |= check_type_style(alone).properties
        except DocumentError as error:
            changes.append(f"type style {style.name[:40]!r} / {name[:40]}: left out ({error})")
    return style.model_copy(update={"properties": kept})


def _sound_items(
    items: tuple[Any, ...], check: Callable[[Any], Any], what: str, changes: list[str]
) -> tuple[Any, ...]:
    kept: dict[str, Any] = {}
    for item in items:
        if item.id in kept:
            changes.append(f"left out a second one of the id {item.id!r} among the {what}")
            continue
        try:
            kept[item.id] = check(item)
        except DocumentError as error:
            changes.append(f"left out {getattr(item, 'name', item.id)!r} of the {what} ({error})")
    return tuple(kept.values())


def _scene(scene: Scene, changes: list[str]) -> Scene:
    where = f"scene {_called(scene)}"
    groups = _sound_items(scene.groups, lambda each: each, f"groups of {where}", changes)
    marks = _sound_items(scene.marks, lambda each: each, f"marks of {where}", changes)
    slots = _sound_items(scene.slots, lambda each: each, f"slots of {where}", changes)
    layers: dict[str, Layer] = {}
    names = {group.id for group in groups}
    for layer in scene.layers[:MAX_LAYERS]:
        if layer.id in layers:
            changes.append(f"{where}: left out {_called(layer)}, the second of the id {layer.id!r}")
            continue
        if layer.group is not None and layer.group not in names:
            layer = layer.model_copy(update={"group": None})
            changes.append(f"{where}: {_called(layer)} is in no group any more")
        mended = _layer(layer, f"{where} / layer {_called(layer)}", changes)
        if mended is not None:
            layers[mended.id] = mended
    if len(scene.layers) > MAX_LAYERS or len(marks) > MAX_MARKS:
        changes.append(f"{where}: left out what is more than {MAX_LAYERS} layers or marks")
    update: dict[str, Any] = {
        "groups": groups, "marks": marks[:MAX_MARKS], "slots": slots,
        "layers": tuple(layers.values()),
    }  # fmt: skip
    if scene.standing_s is not None and scene.standing_s[1] - scene.standing_s[0] < 1e-6:
        update["standing_s"] = None
        changes.append(f"{where}: its standing part ended before it started: it has none now")
    if scene.range_s is not None and scene.range_s[1] - scene.range_s[0] < 1e-6:
        update["range_s"] = None
        changes.append(f"{where}: the working range is the whole scene")
    fps = scene.rate.num / scene.rate.den
    if not 1 <= fps <= MAX_FPS:
        update["rate"] = type(scene.rate)(num=min(MAX_FPS, max(1, round(fps))))
        changes.append(f"{where}: {fps:g} frames a second became {update['rate'].num}")
    scene = scene.model_copy(update=update)
    scene = scene.model_copy(update={"arrangements": _arrangements(scene, where, changes)})
    return _links(scene, where, changes)


def _arrangements(scene: Scene, where: str, changes: list[str]) -> tuple[Arrangement, ...]:
    """The arrangements without what they cannot say; a step that leads nowhere is the usual one."""
    fitted = without_lost_stands(scene)
    if fitted is not scene:
        changes.append(f"{where}: its arrangements say nothing of what is not there any more")
    layers = {layer.id: layer for layer in scene.layers}
    kept: list[Arrangement] = []
    for each in _sound_items(
        fitted.arrangements, lambda one: one, f"arrangements of {where}", changes
    ):
        stands: dict[str, Stand] = {}
        for stand in each.stands:
            alone = each.model_copy(update={"step": Step(), "stands": (stand,)})
            try:
                stands.setdefault(stand.layer, checked_arrangement(alone, layers).stands[0])
            except DocumentError as error:
                changes.append(f"{where} / arrangement {each.name[:40]!r}: left out ({error})")
        each = each.model_copy(update={"stands": tuple(stands.values())})
        try:
            kept.append(checked_arrangement(each, layers))
        except DocumentError as error:
            changes.append(f"{where} / arrangement {each.name[:40]!r}: the usual step ({error})")
            kept.append(each.model_copy(update={"step": Step(length_s=each.step.length_s)}))
    return tuple(kept)


def _layer(layer: Layer, where: str, changes: list[str]) -> Layer | None:
    if layer.kind not in LAYER_KINDS:
        changes.append(f"{where}: left out, as there is no kind {layer.kind!r}")
        return None
    if layer.end_s - layer.start_s < 1e-6:
        layer = layer.model_copy(update={"end_s": min(3600.0, layer.start_s + 1.0)})
        changes.append(f"{where}: its end came before its start")
    if layer.type_style is not None and layer.kind != "text":
        layer = layer.model_copy(update={"type_style": None})
        changes.append(f"{where}: wears no type style any more, as only texts do")
    for family in FAMILIES.values():
        layer = _sound_members(layer, family, where, changes)
    properties: dict[str, Property] = {}
    for name, prop in layer.properties.items():
        mended = _property(layer, name, prop, where, changes)
        if mended is not None:
            properties[name] = mended
    for name in list(properties):
        whole = name.removesuffix(".x").removesuffix(".y")
        if whole != name and whole in properties:
            del properties[whole]
            changes.append(f"{where} / {whole}: left out, as it is there in parts")
    layer = layer.model_copy(update={"properties": properties})
    try:
        return check_layer(layer)
    except DocumentError as error:
        changes.append(f"{where}: left out ({error})")
        return None


def _sound_members(
    layer: Layer, family: MemberFamily[Any], where: str, changes: list[str]
) -> Layer:
    """The layer without the members of a family that do not pass by themselves."""
    kept: list[Any] = []
    for each in family.members(layer):
        try:
            if any(each.id == other.id for other in kept):
                raise DocumentError("a second one of its id")
            family.check(layer, each, where)
        except DocumentError as error:
            changes.append(f"{where} / {family.field}: left out one ({error})")
        else:
            kept.append(each)
    return layer.model_copy(update={family.field: tuple(kept)})


def _property(
    layer: Layer, name: str, prop: Property, where: str, changes: list[str]
) -> Property | None:
    spec = find_spec(layer, name)
    field = f"{where} / {spec.label if spec else name}"
    if spec is None:
        changes.append(f"{field}: left out, as a {layer.kind} has no such property")
        return None
    try:
        return check_property(spec, prop, field)
    except DocumentError as error:
        why = str(error)
    attempts: list[tuple[str, dict[str, Any]]] = []
    if prop.expression:
        attempts.append(("its expression", {"expression": ""}))
    if prop.keys:
        kept: list[Any] = []
        for key in prop.keys:
            alone = prop.model_copy(update={"keys": (*kept, key), "expression": "", "flown": None})
            try:
                check_property(spec, alone, field)
            except DocumentError:
                continue
            kept.append(key)
        if kept:
            gone = f"{len(prop.keys) - len(kept)} of its keys"
            attempts.append((gone, {"keys": tuple(kept), "pace": "keys"}))
            attempts.append(
                (f"{gone}, its expression",
                 {"keys": tuple(kept), "pace": "keys", "expression": ""})
            )  # fmt: skip
    if isinstance(prop.value, int | float) and spec.minimum is not None:
        high = spec.maximum if spec.maximum is not None else prop.value
        clamped = min(max(prop.value, spec.minimum), high)
        attempts.append((f"{_brief(prop.value)} became {_brief(clamped)}", {"value": clamped}))
    for what, update in attempts:
        try:
            mended = check_property(spec, prop.model_copy(update=update), field)
        except DocumentError:
            continue
        changes.append(f"{field}: left out {what} ({why})" if "became" not in what
                       else f"{field}: {what}")  # fmt: skip
        return mended
    changes.append(f"{field}: left out ({why})")
    return None


def _links(scene: Scene, where: str, changes: list[str]) -> Scene:
    """The scene without the rides, ties and expressions that fit together no more: those of one
    layer after another, the first that helps."""
    while True:
        try:
            check_links(scene)
            return check_scene(scene)
        except DocumentError as error:
            why = str(error)
        tied = [la.id for la in scene.layers if _unlinked(la) is not la]
        if not tied and not any(mark.tie for mark in scene.marks):
            return scene
        scene, name = _with_one_less(scene, tied)
        changes.append(f"{where}: {name} hangs on nothing any more ({why})")


def _with_one_less(scene: Scene, tied: list[str]) -> tuple[Scene, str]:
    first: tuple[Scene, str] | None = None
    for layer_id in tied[:200]:
        layers = tuple(_unlinked(la) if la.id == layer_id else la for la in scene.layers)
        name = next(repr(la.name) for la in layers if la.id == layer_id)
        smaller = scene.model_copy(update={"layers": layers})
        first = first or (smaller, name)
        try:
            check_links(smaller)
        except DocumentError:
            continue
        return smaller, name
    if first is not None:
        return first
    marks = tuple(mark.model_copy(update={"tie": None}) for mark in scene.marks)
    return scene.model_copy(update={"marks": marks}), "its marks"


_LINKING = ("align.layer", "fit.layer")


def _unlinked(layer: Layer) -> Layer:
    """A layer that rides on, is tied to and reads nothing; the same where it is so already."""
    properties = {
        name: prop.model_copy(update={"expression": ""}) if prop.expression else prop
        for name, prop in layer.properties.items()
        if name not in _LINKING
    }
    linked = layer.rides or layer.start_tie or layer.end_tie
    if not linked and properties == layer.properties:
        return layer
    return layer.model_copy(
        update={"rides": None, "start_tie": None, "end_tie": None, "properties": properties}
    )


def _nesting(project: Project, changes: list[str]) -> Project:
    """The project with the layers left out that place a scene within itself, or too deeply."""
    while True:
        try:
            check_nesting(project)
            return project
        except DocumentError as error:
            why = str(error)
        scenes = list(project.scenes)
        for index in range(len(scenes) - 1, -1, -1):
            scene = scenes[index]
            kept = tuple(la for la in scene.layers if not placed_scene(la))
            if len(kept) < len(scene.layers):
                scenes[index] = _links(
                    scene.model_copy(update={"layers": kept}), f"scene {_called(scene)}", changes
                )
                changes.append(f"scene {_called(scene)}: left out the scenes placed in it ({why})")
                break
        project = project.model_copy(update={"scenes": tuple(scenes)})
