"""Operations on effects and saved sets of them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.catalog import effect_kind
from ..core.model import Effect, EffectSet, Layer, Project, Property, Scene, SetEffect
from ..core.model.document import Id, Name
from ..errors import DocumentError, NotFoundError
from .base import (
    Edit,
    EditContext,
    LayerIds,
    NewId,
    SceneEdit,
    find_layer,
    find_scene,
    names_of,
    new_id,
    with_layers,
)


def find_effect(layer: Layer, effect_id: str) -> Effect:
    for effect in layer.effects:
        if effect.id == effect_id:
            return effect
    raise NotFoundError(f"{layer.name!r} has no effect {effect_id!r}", field="effect")


def parameters_of(layer: Layer, effect_id: str) -> dict[str, Property]:
    """An effect's own properties by their names."""
    prefix = f"effect.{effect_id}."
    return {
        name.removeprefix(prefix): prop
        for name, prop in layer.properties.items()
        if name.startswith(prefix)
    }


def with_effect(
    layer: Layer, effect: Effect, parameters: dict[str, Property], index: int | None = None
) -> Layer:
    """The layer with one more effect, at the end or before the one of an index."""
    if any(each.id == effect.id for each in layer.effects):
        raise DocumentError(f"there is an effect {effect.id!r} already", field="effect")
    at = len(layer.effects) if index is None else min(index, len(layer.effects))
    effects = (*layer.effects[:at], effect, *layer.effects[at:])
    properties = dict(layer.properties)
    for name, prop in parameters.items():
        properties[f"effect.{effect.id}.{name}"] = prop
    return layer.model_copy(update={"effects": effects, "properties": properties})


class EffectEdit(SceneEdit):
    """An operation on the effects of one layer."""

    layer: Id

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/effects")

    def who(self, project: Project) -> str:
        return names_of(project, self.scene, [self.layer])

    def effect_name(self, project: Project, effect_id: str) -> str:
        try:
            layer = find_layer(find_scene(project, self.scene), self.layer)
            effect = find_effect(layer, effect_id)
        except NotFoundError:
            return "an effect"
        return effect.name or effect_kind(effect.kind).label


class AddEffect(SceneEdit):
    """An effect on some layers; the ids of the others than the first are new. ``properties``
    are its parameters by name."""

    kind: Literal["add-effect"] = "add-effect"
    layers: LayerIds
    effect: Effect
    properties: dict[str, Property] = Field(default_factory=dict)
    index: Annotated[int, Field(ge=0)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        effect_kind(self.effect.kind)
        first = self.layers[0]

        def changed(layer: Layer) -> Layer:
            own = self.effect
            if layer.id != first:
                own = own.model_copy(update={"id": new_id()})
            return with_effect(layer, own, self.properties, self.index)

        return with_layers(scene, self.layers, changed)

    def label(self, project: Project) -> str:
        label = effect_kind(self.effect.kind).label
        return f"{label} on {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/effects")


class RemoveEffects(EffectEdit):
    kind: Literal["remove-effects"] = "remove-effects"
    effects: Annotated[list[Id], Field(min_length=1, max_length=100)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        for effect_id in self.effects:
            find_effect(layer, effect_id)
        gone = tuple(f"effect.{effect_id}." for effect_id in self.effects)
        update = {
            "effects": tuple(e for e in layer.effects if e.id not in self.effects),
            "properties": {k: v for k, v in layer.properties.items() if not k.startswith(gone)},
        }
        return with_layers(scene, [self.layer], lambda la: la.model_copy(update=update))

    def label(self, project: Project) -> str:
        what = "effects"
        if len(self.effects) == 1:
            what = self.effect_name(project, self.effects[0])
        return f"Remove {what} of {self.who(project)}"


class ChangeEffect(EffectEdit):
    """Switches an effect on or off, names it, or moves it in the order."""

    kind: Literal["change-effect"] = "change-effect"
    effect: Id
    on: bool | None = None
    name: Annotated[str, Field(max_length=200)] | None = None
    index: Annotated[int, Field(ge=0)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        old = find_effect(layer, self.effect)
        update = {f: v for f in ("on", "name") if (v := getattr(self, f)) is not None}
        changed = old.model_copy(update=update)
        effects = [changed if each is old else each for each in layer.effects]
        if self.index is not None:
            effects.remove(changed)
            effects.insert(min(self.index, len(effects)), changed)
        return with_layers(
            scene, [self.layer], lambda la: la.model_copy(update={"effects": tuple(effects)})
        )

    def label(self, project: Project) -> str:
        name = self.effect_name(project, self.effect)
        if self.on is not None:
            return f"Switch {name} of {self.who(project)} {'on' if self.on else 'off'}"
        return f"{'Order' if self.index is not None else 'Rename'} {name} of {self.who(project)}"


class CopyEffects(SceneEdit):
    """Effects of one layer, with all their keys, put on layers after those that they have.

    On the layer itself it duplicates them, each just after its original.
    """

    kind: Literal["copy-effects"] = "copy-effects"
    layer: Id
    effects: Annotated[list[Id], Field(min_length=1, max_length=100)]
    targets: LayerIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        source = find_layer(scene, self.layer)
        found = [find_effect(source, effect_id) for effect_id in self.effects]

        def changed(layer: Layer) -> Layer:
            for effect in found:
                copy = effect.model_copy(update={"id": new_id()})
                index = None
                if layer.id == source.id:
                    index = [e.id for e in layer.effects].index(effect.id) + 1
                layer = with_effect(layer, copy, parameters_of(source, effect.id), index)
            return layer

        return with_layers(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        what = "an effect" if len(self.effects) == 1 else f"{len(self.effects)} effects"
        return f"Copy {what} to {names_of(project, self.scene, self.targets)}"

    def touches(self) -> list[str]:
        paths = self.layer_paths([self.layer], "/effects")
        return [*paths, *self.layer_paths(self.targets, "/effects")]


class SaveEffects(EffectEdit):
    """Effects of a layer kept under a name, with their keys."""

    kind: Literal["save-effects"] = "save-effects"
    effects: Annotated[list[Id], Field(min_length=1, max_length=100)]
    id: NewId
    name: Name

    def apply(self, project: Project, context: EditContext) -> Project:
        if any(each.id == self.id for each in project.effect_sets):
            raise DocumentError(f"there is an effect set {self.id!r} already", field="id")
        layer = find_layer(find_scene(project, self.scene), self.layer)
        members = []
        for effect_id in self.effects:
            effect = find_effect(layer, effect_id)
            values = parameters_of(layer, effect_id)
            members.append(
                SetEffect(kind=effect.kind, name=effect.name, on=effect.on, properties=values)
            )
        saved = EffectSet(id=self.id, name=self.name, effects=tuple(members))
        return project.model_copy(update={"effect_sets": (*project.effect_sets, saved)})

    def label(self, project: Project) -> str:
        return f"Save effects as {self.name}"

    def touches(self) -> list[str]:
        return [f"effect_sets/{self.id}", *self.layer_paths([self.layer], "/effects")]


def find_set(project: Project, set_id: str) -> EffectSet:
    for each in project.effect_sets:
        if each.id == set_id:
            return each
    raise NotFoundError(f"there is no effect set {set_id!r}", field="set")


class ApplyEffects(SceneEdit):
    """A saved set put on layers after the effects that they have."""

    kind: Literal["apply-effects"] = "apply-effects"
    layers: LayerIds
    set: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        saved = find_set(project, self.set)

        def changed(layer: Layer) -> Layer:
            for each in saved.effects:
                effect = Effect(id=new_id(), kind=each.kind, name=each.name, on=each.on)
                layer = with_effect(layer, effect, each.properties)
            return layer

        scene = with_layers(find_scene(project, self.scene), self.layers, changed)
        scenes = tuple(scene if each.id == scene.id else each for each in project.scenes)
        return project.model_copy(update={"scenes": scenes})

    def label(self, project: Project) -> str:
        name = find_set(project, self.set).name
        return f"{name} on {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [*self.layer_paths(self.layers, "/effects"), f"effect_sets/{self.set}"]


class ChangeEffectSet(Edit):
    """Another name for a saved set, or its end (``remove``); layers keep their effects."""

    kind: Literal["change-effect-set"] = "change-effect-set"
    set: Id
    name: Name | None = None
    remove: bool = False

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_set(project, self.set)
        if self.remove:
            rest = tuple(each for each in project.effect_sets if each is not old)
            return project.model_copy(update={"effect_sets": rest})
        changed = old.model_copy(update={"name": self.name or old.name})
        sets = tuple(changed if each is old else each for each in project.effect_sets)
        return project.model_copy(update={"effect_sets": sets})

    def label(self, project: Project) -> str:
        name = find_set(project, self.set).name
        return f"Remove effect set {name}" if self.remove else f"Rename effect set {name}"

    def touches(self) -> list[str]:
        return [f"effect_sets/{self.set}"]
