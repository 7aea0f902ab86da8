"""Operations on saved sets of effects."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.catalog import EFFECTS, normalise
from ..core.effects.settings import KEPT, SETTINGS, Setting
from ..core.model import Effect, EffectSet, Layer, Project, Property, Scene, SetEffect
from ..core.model.values import Id, Name
from ..errors import DocumentError
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
from .named import found, refuse_known, replaced, without


class SaveEffects(SceneEdit):
    """Effects of a layer kept under a name, with their keys."""

    kind: Literal["save-effects"] = "save-effects"
    layer: Id
    effects: Annotated[list[Id], Field(min_length=1, max_length=100)]
    id: NewId
    name: Name

    def apply(self, project: Project, context: EditContext) -> Project:
        refuse_known(project.effect_sets, self.id, "effect set", "id")
        layer = find_layer(find_scene(project, self.scene), self.layer)
        members = []
        for effect_id in self.effects:
            effect = EFFECTS.find(layer, effect_id)
            values = EFFECTS.own(layer, effect_id)
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
    """The effect set of that id, or NotFoundError."""
    return found(project.effect_sets, set_id, "effect set")


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
                layer = EFFECTS.added(layer, effect, each.properties)
            return layer

        scene = with_layers(find_scene(project, self.scene), self.layers, changed)
        scenes = replaced(project.scenes, scene)
        return project.model_copy(update={"scenes": scenes})

    def label(self, project: Project) -> str:
        name = find_set(project, self.set).name
        return f"{name} on {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return [*self.layer_paths(self.layers, "/effects"), f"effect_sets/{self.set}"]


class UseSetting(SceneEdit):
    """An effect of a layer has the values of a setting by name; what that does not name has its
    default. Values with keys or expressions stay, and so does how far something has come."""

    kind: Literal["use-setting"] = "use-setting"
    layer: Id
    effect: Id
    setting: Annotated[str, Field(max_length=60)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        effect = EFFECTS.find(layer, self.effect)
        setting = find_setting(effect.kind, self.setting)
        prefix = EFFECTS.prefix(effect.id)
        properties = dict(layer.properties)
        own = EFFECTS.own(layer, effect.id)
        kept = KEPT | {name for name, p in own.items() if p.keys or p.expression}
        for name in own:
            if name not in kept:
                del properties[prefix + name]
        for name, value in setting.values.items():
            spec = EFFECTS.spec_of_kind(effect.kind, name)
            if spec is not None and name not in kept:
                properties[prefix + name] = Property(value=normalise(spec, value, spec.label))
        changed = layer.model_copy(update={"properties": properties})
        return with_layers(scene, [layer.id], lambda _: changed)

    def label(self, project: Project) -> str:
        layer = find_layer(find_scene(project, self.scene), self.layer)
        effect = EFFECTS.find(layer, self.effect)
        setting = find_setting(effect.kind, self.setting)
        return f"{EFFECTS.name_of(effect)}: {setting.label}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer])


def find_setting(kind: str, setting_id: str) -> Setting:
    """A setting of a kind of effect, or DocumentError."""
    for setting in SETTINGS.get(kind, ()):
        if setting.id == setting_id:
            return setting
    known = ", ".join(setting.id for setting in SETTINGS.get(kind, ())) or "none"
    raise DocumentError.expected("setting", f"one of {known}", setting_id)


class ChangeEffectSet(Edit):
    """Another name for a saved set, or its end (``remove``); layers keep their effects."""

    kind: Literal["change-effect-set"] = "change-effect-set"
    set: Id
    name: Name | None = None
    remove: bool = False

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_set(project, self.set)
        if self.remove:
            rest = without(project.effect_sets, old.id)
            return project.model_copy(update={"effect_sets": rest})
        changed = old.model_copy(update={"name": self.name or old.name})
        sets = replaced(project.effect_sets, changed)
        return project.model_copy(update={"effect_sets": sets})

    def label(self, project: Project) -> str:
        name = find_set(project, self.set).name
        return f"Remove effect set {name}" if self.remove else f"Rename effect set {name}"

    def touches(self) -> list[str]:
        return [f"effect_sets/{self.set}"]
