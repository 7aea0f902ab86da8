"""Pasting layers: everything that they say of each other is carried over, and what they need of
another project is brought along."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field

from ..core.catalog import find_spec, with_layers_named
from ..core.effort import spend
from ..core.model import Arrangement, Asset, Group, Ink, Layer, Project, SavedEasing, Scene, Stand
from ..core.model.document import SavedMove
from ..core.model.values import Id
from ..errors import DocumentError
from .base import EditContext, SceneEdit, SceneTime, find_scene, new_id, snap_span, with_scene
from .expression_edits import with_renamed_reads
from .layer_edits import next_name, with_references

T = TypeVar("T", Asset, Ink, SavedEasing, SavedMove)
_FEW: Any = Field(default_factory=list, max_length=2000)


class Brought(SceneEdit):
    """An operation with what was copied from a project: ``assets``, ``inks``, ``easings``,
    ``moves`` and ``scenes`` are those that it needs; what the project has already, under whatever
    id, is not added again."""

    assets: Annotated[list[Asset], _FEW]
    inks: Annotated[list[Ink], _FEW]
    easings: Annotated[list[SavedEasing], _FEW]
    moves: Annotated[list[SavedMove], _FEW]
    scenes: Annotated[list[Scene], Field(default_factory=list, max_length=100)]

    def brought_paths(self) -> list[str]:
        """Paths of what it may add to the project."""
        return [
            f"{name}/{each.id}"
            for name in ("assets", "inks", "easings", "scenes")
            for each in getattr(self, name)
        ]


class PasteLayers(Brought):
    """Layers, the lowest first, as copies with new ids (``ids`` from the old to the new).

    What they ride on, are aligned to and tied to, mattes, inputs, masks that follow and formulas
    point at the copies where the other layer was copied too, else at what it was, if that is here;
    else it is dropped. The earliest comes to start at ``at_s``; without it they keep their times.
    They lie above the layer ``above``, else on top. ``groups`` are those they were in.
    """

    kind: Literal["paste-layers"] = "paste-layers"
    layers: Annotated[list[Layer], Field(min_length=1, max_length=2000)]
    ids: Annotated[dict[Id, Id], Field(max_length=2000)]
    at_s: SceneTime | None = None
    above: Id | None = None
    groups: Annotated[list[Group], _FEW]

    def apply(self, project: Project, context: EditContext) -> Project:
        project, names = brought_along(self, project)
        return with_scene(project, self.scene, lambda scene: self._pasted(project, scene, names))

    def _pasted(self, project: Project, scene: Scene, names: Names) -> Scene:
        known = {layer.id for layer in scene.layers}
        styles = {style.id for style in project.type_styles}
        if len(set(self.ids.values())) < len(self.ids):
            raise DocumentError("each layer needs a new id of its own", field="ids")
        ids = {layer.id: self._new_id(layer, known) for layer in self.layers}
        titles = {layer.name for layer in scene.layers}
        first = min(layer.start_s for layer in self.layers)
        shift = 0.0 if self.at_s is None else self.at_s - first
        groups, group_ids = _groups(self, scene)
        renamed: dict[str, str] = {}
        copies = []
        for layer in self.layers:
            spend(1 + len(layer.properties))
            name = layer.name if layer.name not in titles else next_name(layer.name, titles)
            titles.add(name)
            renamed.setdefault(layer.name, name)
            start_s, end_s = snap_span(
                scene, layer.start_s + shift, layer.end_s + shift, f"layer {layer.name!r}"
            )
            copy = with_references(names.in_layer(layer), ids)
            update = {
                "id": ids[layer.id], "name": name, "start_s": start_s, "end_s": end_s,
                "group": group_ids.get(layer.group or ""),
                "type_style": layer.type_style if layer.type_style in styles else None,
                **_copied_of(copy, ids, known),
            }  # fmt: skip
            copies.append(copy.model_copy(update=update))
        here = known | set(ids.values())
        marks = {mark.id for mark in scene.marks}
        fixed = self.at_s is None
        copies = [without_strangers(copy, here, set(ids.values()), marks, fixed) for copy in copies]
        changed = {old: new for old, new in renamed.items() if old != new}
        copies = [with_renamed_reads(copy, changed) if changed else copy for copy in copies]
        at = next((i + 1 for i, la in enumerate(scene.layers) if la.id == self.above), None)
        at = len(scene.layers) if at is None else at
        layers = (*scene.layers[:at], *copies, *scene.layers[at:])
        return scene.model_copy(update={"layers": layers, "groups": (*scene.groups, *groups)})

    def _new_id(self, layer: Layer, known: set[str]) -> str:
        found = self.ids.get(layer.id)
        if found is None:
            raise DocumentError(f"the layer {layer.name!r} has no new id", field="ids")
        if found in known:
            raise DocumentError(f"there is a layer {found!r} already", field="ids")
        return found

    def label(self, project: Project) -> str:
        if len(self.layers) == 1:
            return f"Paste {self.layers[0].name}"
        return f"Paste {len(self.layers)} layers"

    def touches(self) -> list[str]:
        return [*self.layer_paths(self.ids.values()), *self.brought_paths()]


class Names:
    """New ids of what is brought along, and how layers say them."""

    def __init__(self) -> None:
        self.assets: dict[str, str] = {}
        self.scenes: dict[str, str] = {}
        self.moves: dict[str, str] = {}
        # As they stand in values: ink:ID, easing:ID.
        self.texts: dict[str, str] = {}

    def in_layer(self, layer: Layer) -> Layer:
        """The layer with new ids where it names assets, scenes, inks and easings."""
        if not (self.assets or self.scenes or self.texts or self.moves):
            return layer
        moves = [
            move.model_copy(update={"kind": self._move_kind(move.kind)}) for move in layer.moves
        ]
        properties = {}
        for name, prop in layer.properties.items():
            data = prop.model_dump(mode="json")
            data["value"] = self._value(layer, name, data["value"])
            data["keys"] = _translated(data["keys"], self.texts)
            properties[name] = type(prop).model_validate(data)
        slots = {key: _translated(value, self.texts) for key, value in layer.slots.items()}
        update = {"properties": properties, "moves": tuple(moves), "slots": slots}
        return layer.model_copy(update=update)

    def in_arrangement(self, arrangement: Arrangement, layers: Mapping[str, Layer]) -> Arrangement:
        """The arrangement with new ids where what it says of the layers, or its step, names such
        things."""
        stands = []
        for stand in arrangement.stands:
            layer = layers.get(stand.layer)
            if layer is not None and stand.values:
                data = stand.model_dump(mode="json")["values"]
                values = {name: self._value(layer, name, value) for name, value in data.items()}
                stand = Stand(layer=stand.layer, there=stand.there, values=values)
            stands.append(stand)
        step = arrangement.step
        led = {"easing": self.texts.get(step.easing, step.easing)}
        update = {"stands": tuple(stands), "step": step.model_copy(update=led)}
        return arrangement.model_copy(update=update)

    def _value(self, layer: Layer, property_id: str, value: Any) -> Any:
        spec = find_spec(layer, property_id)
        plain: dict[str, str] = {}
        if spec is not None and spec.kind.names in ("asset", "scene"):
            plain = self.scenes if spec.kind.names == "scene" else self.assets
        return _translated(value, {**plain, **self.texts})

    def _move_kind(self, said: str) -> str:
        kind, _, own = said.partition(":")
        return f"{kind}:{self.moves[own]}" if own in self.moves else said


def _translated(value: Any, names: Mapping[str, str]) -> Any:
    if isinstance(value, str):
        return names.get(value, value)
    if isinstance(value, list):
        return [_translated(each, names) for each in value]
    if isinstance(value, dict):
        return {key: _translated(each, names) for key, each in value.items()}
    return value


def brought_along(edit: Brought, project: Project) -> tuple[Project, Names]:
    """The project with what pasted layers need, and the ids that all of it has there."""
    names = Names()
    assets, names.assets = _merged(
        project.assets, edit.assets, lambda a, b: a.hash == b.hash and a.kind == b.kind
    )
    inks, ink_ids = _merged(
        project.inks, edit.inks, lambda a, b: a.colour == b.colour and a.name == b.name
    )
    easings, easing_ids = _merged(
        project.easings, edit.easings, lambda a, b: a.easing == b.easing and a.name == b.name
    )
    names.texts = {f"ink:{old}": f"ink:{new}" for old, new in ink_ids.items()}
    names.texts |= {f"easing:{old}": f"easing:{new}" for old, new in easing_ids.items()}
    worn = [
        SavedMove.model_validate(_translated(each.model_dump(mode="json"), names.texts))
        for each in edit.moves
    ]
    moves, names.moves = _merged(project.saved_moves, worn, lambda a, b: a == b)
    known = {scene.id for scene in project.scenes}
    titles = {scene.name for scene in project.scenes}
    for scene in edit.scenes:
        if scene.id not in known or find_scene(project, scene.id) != scene:
            names.scenes[scene.id] = new_id() if scene.id in known else scene.id
    scenes = []
    for scene in edit.scenes:
        if scene.id in names.scenes:
            title = scene.name if scene.name not in titles else next_name(scene.name, titles)
            titles.add(title)
            layers = tuple(names.in_layer(layer) for layer in scene.layers)
            by_id = {layer.id: layer for layer in scene.layers}
            row = tuple(names.in_arrangement(each, by_id) for each in scene.arrangements)
            slots = tuple(
                slot.model_copy(update={"ink": ink_ids.get(slot.ink or "", slot.ink)})
                for slot in scene.slots
            )
            update = {
                "id": names.scenes[scene.id], "name": title, "layers": layers, "slots": slots,
                "arrangements": row,
            }  # fmt: skip
            scenes.append(scene.model_copy(update=update))
    update = {
        "assets": assets, "inks": inks, "easings": easings, "saved_moves": moves,
        "scenes": (*project.scenes, *scenes),
    }  # fmt: skip
    return project.model_copy(update=update), names


def _merged(
    there: tuple[T, ...], brought: Iterable[T], same: Callable[[T, T], bool]
) -> tuple[tuple[T, ...], dict[str, str]]:
    """What a project has together with what is brought, and the ids of the latter there where they
    are other ones."""
    merged, ids = list(there), {}
    taken = {each.id for each in there}
    titles = {each.name for each in there}
    for each in brought:
        found = next((own for own in there if own.id == each.id and same(own, each)), None)
        found = found or next((own for own in there if same(own, each)), None)
        if found is None:
            fresh = new_id() if each.id in taken else each.id
            title = each.name if each.name not in titles else next_name(each.name, titles)
            found = each.model_copy(update={"id": fresh, "name": title})
            merged.append(found)
            taken.add(fresh)
            titles.add(title)
        if found.id != each.id:
            ids[each.id] = found.id
    return tuple(merged), ids


def _groups(edit: PasteLayers, scene: Scene) -> tuple[list[Group], dict[str, str]]:
    """New groups for those that pasted layers were in, and their ids."""
    used = {layer.group for layer in edit.layers if layer.group}
    titles = {group.name for group in scene.groups}
    groups, ids = [], {}
    for group in edit.groups:
        if group.id in used and group.id not in ids:
            name = group.name if group.name not in titles else next_name(group.name, titles)
            titles.add(name)
            ids[group.id] = new_id()
            groups.append(Group(id=ids[group.id], name=name))
    return groups, ids


def _copied_of(layer: Layer, ids: Mapping[str, str], known: set[str]) -> dict[str, Any]:
    """A linked copy stays one of what is here."""
    original = ids.get(layer.copy_of or "", layer.copy_of)
    if original is None or original not in known | set(ids.values()):
        return {"copy_of": None, "own": ()}
    return {"copy_of": original, "own": layer.own}


def without_strangers(
    layer: Layer, here: set[str], pasted: set[str], marks: set[str], fixed: bool
) -> Layer:
    """The layer without what it says of layers and marks that are not here. Where its times have
    changed (not ``fixed``) ties hold among the pasted layers only."""
    update: dict[str, Any] = {}
    if layer.rides and layer.rides not in here:
        update["rides"] = None
    layer = with_layers_named(layer, lambda old: old if old in here else None)
    for side in ("start_tie", "end_tie"):
        tie = getattr(layer, side)
        if tie is None:
            continue
        held = {"layer": tie.id in (here if fixed else pasted), "mark": fixed and tie.id in marks}
        if not held.get(tie.to, fixed):
            update[side] = None
    properties = {}
    for name, prop in layer.properties.items():
        spec = find_spec(layer, name)
        stranger = spec is not None and spec.kind.names == "layer" and prop.value not in ("", None)
        if not (stranger and prop.value not in here):
            properties[name] = prop
    update["properties"] = properties
    return layer.model_copy(update=update)
