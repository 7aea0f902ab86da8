"""Operations on type styles: kept from a text, worn by texts, changed with all that wear them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog.type_styles import (
    STYLED,
    check_type_style,
    differing,
    dressed,
    look_of,
    said_by,
)
from ..core.effort import spend
from ..core.model import Layer, Project, Scene, TypeStyle
from ..core.model.values import Id, Name, Value
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
    with_layers,
)
from .named import found, refuse_known, replaced, without

MAX_STYLES = 200


class SaveTypeStyle(SceneEdit):
    """How a text looks becomes a style of the project, which the text wears from then on."""

    kind: Literal["save-type-style"] = "save-type-style"
    layer: Id
    id: NewId
    name: Name

    def apply(self, project: Project, context: EditContext) -> Project:
        refuse_known(project.type_styles, self.id, "type style", "id")
        if len(project.type_styles) >= MAX_STYLES:
            raise DocumentError(f"a project has at most {MAX_STYLES} type styles", field="id")
        layer = _text(find_layer(find_scene(project, self.scene), self.layer))
        made = TypeStyle(id=self.id, name=self.name, properties=look_of(layer))
        styles = (*project.type_styles, check_type_style(made))
        project = project.model_copy(update={"type_styles": styles})
        return super().apply(project, context)

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        worn = {"type_style": self.id}
        return with_layers(scene, [self.layer], lambda layer: layer.model_copy(update=worn))

    def label(self, project: Project) -> str:
        return f"Keep the type style {self.name}"

    def touches(self) -> list[str]:
        return [f"type_styles/{self.id}", *self.layer_paths([self.layer])]


class WearTypeStyle(SceneEdit):
    """Texts wear a style: they take all that it says, but for what has keys or a formula. Worn
    already, that takes back what differs. Without a style they keep their looks as their own."""

    kind: Literal["wear-type-style"] = "wear-type-style"
    layers: LayerIds
    style: Id | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        style = None if self.style is None else find_style(project, self.style)

        def wear(layer: Layer) -> Layer:
            _text(layer)
            if style is None:
                return layer.model_copy(update={"type_style": None})
            spend(len(STYLED))
            return dressed(layer, style)

        return with_layers(scene, self.layers, wear)

    def label(self, project: Project) -> str:
        who = names_of(project, self.scene, self.layers)
        if self.style is None:
            return f"{who} without a type style"
        return f"{who} in the type style {find_style(project, self.style).name}"

    def touches(self) -> list[str]:
        return [*self.layer_paths(self.layers), f"type_styles/{self.style}"]


class ChangeTypeStyle(Edit):
    """A style gets another name or other values (None: the default), or those of a text that
    wears it (``scene`` and ``like``). Every text that wears it changes with it, where the text had
    the style's own value."""

    kind: Literal["change-type-style"] = "change-type-style"
    style: Id
    name: Name | None = None
    properties: Annotated[dict[str, Value], Field(default_factory=dict, max_length=200)]
    scene: Id | None = None
    like: Id | None = None

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_style(project, self.style)
        new = check_type_style(
            old.model_copy(
                update={"name": self.name or old.name, "properties": self._values(project, old)}
            )
        )
        changed = [name for name in STYLED if said_by(old, name) != said_by(new, name)]
        scenes = tuple(_followed(scene, old, new, changed) for scene in project.scenes)
        styles = replaced(project.type_styles, new)
        return project.model_copy(update={"type_styles": styles, "scenes": scenes})

    def _values(self, project: Project, old: TypeStyle) -> dict[str, Any]:
        values = dict(old.properties)
        if self.like is not None:
            if self.scene is None:
                raise DocumentError.expected("scene", "the scene of the text", None)
            layer = _text(find_layer(find_scene(project, self.scene), self.like))
            # What has keys says nothing of how a text looks: there the style stays.
            kept = {name: v for name, v in values.items() if name in _moving(layer)}
            values = {**look_of(layer), **kept}
        for name, value in self.properties.items():
            if value is None:
                values.pop(name, None)
            else:
                values[name] = value
        return values

    def label(self, project: Project) -> str:
        style = find_style(project, self.style)
        if self.name and not self.properties and self.like is None:
            return f"Rename the type style {style.name} to {self.name}"
        return f"Change the type style {style.name}"

    def touches(self) -> list[str]:
        return [f"type_styles/{self.style}", "scenes"]


class RemoveTypeStyle(Edit):
    """A style is no more; texts that wore it look as before."""

    kind: Literal["remove-type-style"] = "remove-type-style"
    style: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        find_style(project, self.style)

        def bare(layer: Layer) -> Layer:
            if layer.type_style != self.style:
                return layer
            return layer.model_copy(update={"type_style": None})

        scenes = tuple(
            scene.model_copy(update={"layers": tuple(bare(layer) for layer in scene.layers)})
            for scene in project.scenes
        )
        styles = without(project.type_styles, self.style)
        return project.model_copy(update={"type_styles": styles, "scenes": scenes})

    def label(self, project: Project) -> str:
        return f"Remove the type style {find_style(project, self.style).name}"

    def touches(self) -> list[str]:
        return [f"type_styles/{self.style}", "scenes"]


def find_style(project: Project, style_id: str) -> TypeStyle:
    """The type style of that id, or NotFoundError."""
    return found(project.type_styles, style_id, "type style", field="style")


def _text(layer: Layer) -> Layer:
    if layer.kind != "text":
        raise DocumentError(
            f"{layer.name!r} is no text: only texts wear type styles", field="layer"
        )
    return layer


def _moving(layer: Layer) -> set[str]:
    return {n for n, p in layer.properties.items() if n in STYLED and (p.keys or p.expression)}


def _followed(scene: Scene, old: TypeStyle, new: TypeStyle, changed: list[str]) -> Scene:
    """A scene whose texts go along with a style, in what they had of it."""
    layers = []
    for layer in scene.layers:
        if layer.type_style == old.id and layer.kind == "text":
            spend(len(STYLED))
            own = set(differing(layer, old))
            layer = dressed(layer, new, [name for name in changed if name not in own])
        layers.append(layer)
    return scene.model_copy(update={"layers": tuple(layers)})
