"""Operations on layers as a whole: the stack, names, spans, groups."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import find_spec, with_layers_named
from ..core.model import Group, Layer, Project, Scene
from ..core.model.linked import SHARED
from ..core.model.values import Id, Name
from ..errors import DocumentError
from .base import (
    EditContext,
    LayerIds,
    NewId,
    SceneEdit,
    find_group,
    find_layer,
    names_of,
    snap_span,
    with_layers,
)
from .expression_edits import renamed_reads, with_renamed_reads
from .named import refuse_known
from .ride_edits import released


class AddLayers(SceneEdit):
    """New layers, the lowest first, at a place of the stack (None: on top)."""

    kind: Literal["add-layers"] = "add-layers"
    layers: Annotated[list[Layer], Field(min_length=1, max_length=2000)]
    index: Annotated[int, Field(ge=0)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        known = {layer.id for layer in scene.layers}
        groups = {group.id for group in scene.groups}
        new = {layer.id for layer in self.layers}
        added = []
        for layer in self.layers:
            if layer.id in known:
                raise DocumentError(f"there is a layer {layer.id!r} already", field="layer")
            known.add(layer.id)
            field = f"layer {layer.name!r}"
            start_s, end_s = snap_span(scene, layer.start_s, layer.end_s, field)
            update = {
                "start_s": start_s, "end_s": end_s,
                "group": layer.group if layer.group in groups else None,
                "rides": layer.rides if layer.rides in (known | new) else None,
                "copy_of": None, "own": (),
            }  # fmt: skip
            added.append(layer.model_copy(update=update))
        at = len(scene.layers) if self.index is None else min(self.index, len(scene.layers))
        layers = (*scene.layers[:at], *added, *scene.layers[at:])
        return scene.model_copy(update={"layers": layers})

    def label(self, project: Project) -> str:
        if len(self.layers) == 1:
            return f"Add {self.layers[0].name}"
        return f"Add {len(self.layers)} layers"

    def touches(self) -> list[str]:
        return self.layer_paths(layer.id for layer in self.layers)


class RemoveLayers(SceneEdit):
    """Layers go, and groups that are empty then; what hung on them is set free."""

    kind: Literal["remove-layers"] = "remove-layers"
    layers: LayerIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            find_layer(scene, layer_id)
        gone = set(self.layers)
        scene = released(project, scene, gone)
        rest = tuple(layer for layer in scene.layers if layer.id not in gone)
        return _without_empty_groups(scene.model_copy(update={"layers": rest}))

    def label(self, project: Project) -> str:
        return f"Delete {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


class DuplicateLayers(SceneEdit):
    """Each copy lies just above its original; ``copies`` maps ids to the new ids. ``linked`` ones
    share content and keys with their originals until a property of theirs is changed."""

    kind: Literal["duplicate-layers"] = "duplicate-layers"
    copies: Annotated[dict[Id, Id], Field(min_length=1, max_length=2000)]
    linked: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        taken = {layer.id for layer in scene.layers}
        names = {layer.name for layer in scene.layers}
        layers: list[Layer] = []
        for layer in scene.layers:
            layers.append(layer)
            if layer.id in self.copies:
                copy_id = self.copies[layer.id]
                if copy_id in taken:
                    raise DocumentError(f"there is a layer {copy_id!r} already", field="copies")
                taken.add(copy_id)
                name = next_name(layer.name, names)
                names.add(name)
                copy = layer.model_copy(update={"id": copy_id, "name": name})
                layers.append(with_references(copy, self.copies))
        for layer_id in self.copies:
            find_layer(scene, layer_id)
        # What reads another of the copied layers reads its copy from now on.
        by_id = {layer.id: layer for layer in layers}
        renamed = {by_id[old].name: by_id[new].name for old, new in self.copies.items()}
        made = set(self.copies.values())
        layers = [with_renamed_reads(la, renamed) if la.id in made else la for la in layers]
        if self.linked:
            originals = {new: find_layer(scene, old) for old, new in self.copies.items()}
            layers = [_linked(la, originals[la.id]) if la.id in made else la for la in layers]
        return scene.model_copy(update={"layers": tuple(layers)})

    def label(self, project: Project) -> str:
        how = "Linked copy of" if self.linked else "Duplicate"
        return f"{how} {names_of(project, self.scene, self.copies)}"

    def touches(self) -> list[str]:
        return self.layer_paths([*self.copies, *self.copies.values()])


def _linked(copy: Layer, original: Layer) -> Layer:
    """A copy linked to its original, or to that which the original is linked to; what differs
    from the start (what refers to other copies) is its own."""
    own = set(original.own) if original.copy_of else set()
    names = {*copy.properties, *original.properties}
    own |= {n for n in names if copy.properties.get(n) != original.properties.get(n)}
    own |= {n for n in SHARED if getattr(copy, n) != getattr(original, n)}
    update = {"copy_of": original.copy_of or original.id, "own": tuple(sorted(own))}
    return copy.model_copy(update=update)


class ShareAgain(SceneEdit):
    """Linked copies take some of their own properties from their originals again; without names
    all of them. ``apart`` cuts the link: they are layers of their own."""

    kind: Literal["share-again"] = "share-again"
    layers: LayerIds
    properties: Annotated[list[str], Field(default_factory=list, max_length=4000)]
    apart: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def shared(layer: Layer) -> Layer:
            if layer.copy_of is None:
                raise DocumentError(f"{layer.name!r} is no linked copy", field="layers")
            if self.apart:
                return layer.model_copy(update={"copy_of": None, "own": ()})
            source = find_layer(scene, layer.copy_of)
            names = self.properties or layer.own
            properties = {k: p for k, p in layer.properties.items() if k not in names}
            properties |= {n: p for n in names if (p := source.properties.get(n)) is not None}
            lists = {n: getattr(source, n) for n in SHARED if n in names}
            own = tuple(name for name in layer.own if name not in names)
            return layer.model_copy(update={"properties": properties, "own": own, **lists})

        return with_layers(scene, self.layers, shared)

    def label(self, project: Project) -> str:
        names = names_of(project, self.scene, self.layers)
        return f"{'Unlink' if self.apart else 'Share again:'} {names}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


class OrderLayers(SceneEdit):
    """Moves layers, in their present order, so that the lowest of them gets ``index``."""

    kind: Literal["order-layers"] = "order-layers"
    layers: LayerIds
    index: Annotated[int, Field(ge=0)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for layer_id in self.layers:
            find_layer(scene, layer_id)
        moved = tuple(layer for layer in scene.layers if layer.id in self.layers)
        rest = tuple(layer for layer in scene.layers if layer.id not in self.layers)
        at = min(self.index, len(rest))
        return scene.model_copy(update={"layers": (*rest[:at], *moved, *rest[at:])})

    def label(self, project: Project) -> str:
        return f"Order {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/order"]


class ChangeLayers(SceneEdit):
    """Names, and whether layers are hidden or locked."""

    kind: Literal["change-layers"] = "change-layers"
    layers: LayerIds
    name: Name | None = None
    hidden: bool | None = None
    locked: bool | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        update: dict[str, Any] = {
            key: value
            for key in ("name", "hidden", "locked")
            if (value := getattr(self, key)) is not None
        }
        if self.name is not None:
            for layer_id in self.layers:
                scene = renamed_reads(scene, find_layer(scene, layer_id), self.name)
        return with_layers(scene, self.layers, lambda layer: layer.model_copy(update=update))

    def label(self, project: Project) -> str:
        names = names_of(project, self.scene, self.layers)
        if self.name is not None:
            return f"Rename {names} to {self.name}"
        if self.hidden is not None:
            return f"{'Hide' if self.hidden else 'Show'} {names}"
        return f"{'Lock' if self.locked else 'Unlock'} {names}"

    def touches(self) -> list[str]:
        what = [key for key in ("name", "hidden", "locked") if getattr(self, key) is not None]
        return [path for key in what for path in self.layer_paths(self.layers, f"/{key}")]


class GroupLayers(SceneEdit):
    """The layers become one group and come to lie next to each other, below the highest."""

    kind: Literal["group-layers"] = "group-layers"
    layers: LayerIds
    id: NewId
    name: Name = "Group"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        refuse_known(scene.groups, self.id, "group", "group")
        for layer_id in self.layers:
            find_layer(scene, layer_id)
        inside = set(self.layers)
        members = tuple(
            layer.model_copy(update={"group": self.id})
            for layer in scene.layers
            if layer.id in inside
        )
        highest = max(i for i, layer in enumerate(scene.layers) if layer.id in inside)
        below = tuple(la for la in scene.layers[:highest] if la.id not in inside)
        above = tuple(la for la in scene.layers[highest + 1 :] if la.id not in inside)
        return _without_empty_groups(
            scene.model_copy(
                update={
                    "layers": (*below, *members, *above),
                    "groups": (*scene.groups, Group(id=self.id, name=self.name)),
                }
            )
        )

    def label(self, project: Project) -> str:
        return f"Group {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [*self.layer_paths(self.layers, "/group"), f"scenes/{self.scene}/order"]


class Ungroup(SceneEdit):
    """A group goes; its layers stay."""

    kind: Literal["ungroup"] = "ungroup"
    group: Id

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        find_group(scene, self.group)
        layers = tuple(
            layer.model_copy(update={"group": None}) if layer.group == self.group else layer
            for layer in scene.layers
        )
        return _without_empty_groups(scene.model_copy(update={"layers": layers}))

    def label(self, project: Project) -> str:
        return "Ungroup"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/groups/{self.group}"]


class RenameGroup(SceneEdit):
    """A group gets another name."""

    kind: Literal["rename-group"] = "rename-group"
    group: Id
    name: Name

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        find_group(scene, self.group)
        groups = tuple(
            Group(id=group.id, name=self.name) if group.id == self.group else group
            for group in scene.groups
        )
        return scene.model_copy(update={"groups": groups})

    def label(self, project: Project) -> str:
        return f"Rename group to {self.name}"

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/groups/{self.group}"]


def _without_empty_groups(scene: Scene) -> Scene:
    used = {layer.group for layer in scene.layers}
    groups = tuple(group for group in scene.groups if group.id in used)
    return scene if groups == scene.groups else scene.model_copy(update={"groups": groups})


def with_references(layer: Layer, ids: Mapping[str, str]) -> Layer:
    """The layer referring to other layers by new ids: what it rides on, mattes, inputs of
    effects, masks that follow."""
    layer = with_layers_named(layer, lambda old: ids.get(old, old))
    properties = {}
    for name, prop in layer.properties.items():
        spec = find_spec(layer, name)
        if spec is not None and spec.kind.names == "layer" and prop.value in ids:
            prop = prop.model_copy(update={"value": ids[prop.value]})
        properties[name] = prop
    rides = ids.get(layer.rides, layer.rides) if layer.rides else None
    update: dict[str, Any] = {"properties": properties, "rides": rides}
    for side in ("start_tie", "end_tie"):
        tie = getattr(layer, side)
        if tie is not None and tie.to == "layer":
            update[side] = tie.model_copy(update={"id": ids.get(tie.id, tie.id)})
    return layer.model_copy(update=update)


def next_name(name: str, taken: set[str]) -> str:
    """``Cloud`` -> ``Cloud 2``, ``Cloud 2`` -> ``Cloud 3``: the next that is free."""
    stem, _, tail = name.rpartition(" ")
    if not (stem and tail.isdigit()):
        stem, tail = name, "1"
    number = int(tail) + 1
    while f"{stem} {number}" in taken:
        number += 1
    return f"{stem} {number}"
