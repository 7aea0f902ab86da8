"""Documents that fail their checks, made sound again with as little lost as can be.

What is out of its limits is clamped or cut; what cannot be understood is dropped, the smallest part
first: a key, a property, a mask or effect, a layer. Every change is told in a sentence.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from pydantic import BaseModel

from ...errors import DocumentError
from ..model import Arrangement, Layer, Project, Property, Scene, Stand, Step, TypeStyle
from ..model.kinds import check_easing
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
from .unread import brief, validated

Item = TypeVar("Item", bound=BaseModel)


def mend_project(data: Any, id: str = "mended", name: str = "Mended") -> tuple[Project, list[str]]:
    """A project that passes ``check_project``, and what was changed for it, a sentence each.

    ``data`` is JSON data of any shape; ``id`` and ``name`` are used where it has none. Never
    raises for what the data holds.
    """
    changes: list[str] = []
    project = validated(data, id, name, changes)
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


def _called(thing: Scene | Layer) -> str:
    """A name as sentences show it."""
    name = thing.name if len(thing.name) <= 40 else thing.name[:37] + "..."
    return repr(name)


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
        attempts.append((f"{brief(prop.value)} became {brief(clamped)}", {"value": clamped}))
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
