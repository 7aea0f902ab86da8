"""Operations on the project itself: its name, settings, inks and assets."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, Literal

from ..core.catalog import check_easing, find_spec
from ..core.model import (
    Arrangement,
    Asset,
    EffectSet,
    Ink,
    Layer,
    Project,
    Property,
    Scene,
    Settings,
    TypeStyle,
)
from ..core.model.values import Colour, Id, Name, Tags
from ..errors import DocumentError, InUseError
from .base import Edit, EditContext
from .named import found, refuse_known, replaced, without


class RenameProject(Edit):
    """The project gets another name."""

    kind: Literal["rename-project"] = "rename-project"
    name: Name

    def apply(self, project: Project, context: EditContext) -> Project:
        return project.model_copy(update={"name": self.name})

    def label(self, project: Project) -> str:
        return f"Rename the project to {self.name}"

    def touches(self) -> list[str]:
        return ["name"]


class SetTags(Edit):
    """The words by which lists find a scene, or the project where no ``scene`` is named."""

    kind: Literal["set-tags"] = "set-tags"
    scene: Id | None = None
    tags: Tags

    def apply(self, project: Project, context: EditContext) -> Project:
        known = {tag.casefold(): tag for tag in reversed(self.tags)}
        tags = tuple(dict.fromkeys(known[tag.casefold()] for tag in self.tags))
        if self.scene is None:
            return project.model_copy(update={"tags": tags})
        scene = found(project.scenes, self.scene, "scene")
        return project.model_copy(
            update={"scenes": replaced(project.scenes, scene.model_copy(update={"tags": tags}))}
        )

    def label(self, project: Project) -> str:
        whose = next((s.name for s in project.scenes if s.id == self.scene), "the project")
        return f"Tags of {whose}: {', '.join(self.tags) or 'none'}"

    def touches(self) -> list[str]:
        return ["tags"] if self.scene is None else [f"scenes/{self.scene}/tags"]


class ChangeSettings(Edit):
    """Settings of the project; what is left out stays."""

    kind: Literal["change-settings"] = "change-settings"
    new_key_easing: str | None = None
    new_layers: Literal["playhead", "start"] | None = None

    def apply(self, project: Project, context: EditContext) -> Project:
        if self.new_key_easing is not None:
            check_easing(self.new_key_easing)
        settings = Settings(
            new_key_easing=self.new_key_easing or project.settings.new_key_easing,
            new_layers=self.new_layers or project.settings.new_layers,
        )
        return project.model_copy(update={"settings": settings})

    def label(self, project: Project) -> str:
        if self.new_layers is not None:
            where = {"playhead": "the playhead", "start": "the scene's start"}[self.new_layers]
            return f"New layers begin at {where}"
        return f"New keys: {self.new_key_easing}"

    def touches(self) -> list[str]:
        return ["settings"]


class AddInks(Edit):
    """New inks, after those that there are."""

    kind: Literal["add-inks"] = "add-inks"
    inks: list[Ink]

    def apply(self, project: Project, context: EditContext) -> Project:
        known = {ink.id for ink in project.inks}
        for ink in self.inks:
            if ink.id in known:
                raise DocumentError(f"there is an ink {ink.id!r} already", field="ink")
            known.add(ink.id)
        return project.model_copy(update={"inks": (*project.inks, *self.inks)})

    def label(self, project: Project) -> str:
        return "Add ink " + ", ".join(ink.name for ink in self.inks)

    def touches(self) -> list[str]:
        return [f"inks/{ink.id}" for ink in self.inks]


class ChangeInk(Edit):
    """An ink gets another name or colour."""

    kind: Literal["change-ink"] = "change-ink"
    ink: Id
    name: Name | None = None
    colour: Colour | None = None

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_ink(project, self.ink)
        changed = Ink(id=old.id, name=self.name or old.name, colour=self.colour or old.colour)
        inks = replaced(project.inks, changed)
        return project.model_copy(update={"inks": inks})

    def label(self, project: Project) -> str:
        return f"Change ink {find_ink(project, self.ink).name}"

    def touches(self) -> list[str]:
        return [f"inks/{self.ink}"]


class RemoveInk(Edit):
    """Whatever used the ink keeps its colour."""

    kind: Literal["remove-ink"] = "remove-ink"
    ink: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        ink = find_ink(project, self.ink)
        scenes = tuple(
            scene.model_copy(
                update={
                    "layers": tuple(_without_ink(layer, ink) for layer in scene.layers),
                    "arrangements": tuple(
                        _row_without_ink(each, ink) for each in scene.arrangements
                    ),
                }
            )
            for scene in project.scenes
        )
        inks = without(project.inks, ink.id)
        sets = tuple(_set_without_ink(saved, ink) for saved in project.effect_sets)
        styles = tuple(_style_without_ink(style, ink) for style in project.type_styles)
        update = {"inks": inks, "scenes": scenes, "effect_sets": sets, "type_styles": styles}
        return project.model_copy(update=update)

    def label(self, project: Project) -> str:
        return f"Remove ink {find_ink(project, self.ink).name}"

    def touches(self) -> list[str]:
        return ["inks", "scenes", "type_styles"]


class AddAsset(Edit):
    """A file comes into the project."""

    kind: Literal["add-asset"] = "add-asset"
    asset: Asset

    def apply(self, project: Project, context: EditContext) -> Project:
        refuse_known(project.assets, self.asset.id, "asset", "asset")
        return project.model_copy(update={"assets": (*project.assets, self.asset)})

    def label(self, project: Project) -> str:
        return f"Add {self.asset.name}"

    def touches(self) -> list[str]:
        return [f"assets/{self.asset.id}"]


class ReplaceAsset(Edit):
    """Another file in place of an asset's: whatever shows the asset shows that one. It must be of
    the same kind; a picture may take a vector picture's place and the other way round."""

    kind: Literal["replace-asset"] = "replace-asset"
    asset: Id
    file: Asset

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_asset(project, self.asset)
        pictures = {"picture", "svg"}
        if self.file.kind != old.kind and not {self.file.kind, old.kind} <= pictures:
            raise DocumentError.expected("file", f"a {old.kind}", self.file.kind)
        changed = self.file.model_copy(update={"id": old.id})
        assets = replaced(project.assets, changed)
        return project.model_copy(update={"assets": assets})

    def label(self, project: Project) -> str:
        return f"{self.file.name} in place of {find_asset(project, self.asset).name}"

    def touches(self) -> list[str]:
        return [f"assets/{self.asset}"]


class RenameAsset(Edit):
    """An asset gets another name."""

    kind: Literal["rename-asset"] = "rename-asset"
    asset: Id
    name: Name

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_asset(project, self.asset)
        changed = old.model_copy(update={"name": self.name})
        assets = replaced(project.assets, changed)
        return project.model_copy(update={"assets": assets})

    def label(self, project: Project) -> str:
        return f"Rename {find_asset(project, self.asset).name} to {self.name}"

    def touches(self) -> list[str]:
        return [f"assets/{self.asset}"]


class RemoveAsset(Edit):
    """Refused while a layer uses the asset."""

    kind: Literal["remove-asset"] = "remove-asset"
    asset: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        asset = find_asset(project, self.asset)
        users = asset_users(project, self.asset)
        if users:
            where = ", ".join(f"{layer} in {scene}" for scene, layer in users[:3])
            more = f" and {len(users) - 3} more" if len(users) > 3 else ""
            raise InUseError(f"{asset.name!r} is used by {where}{more}", field="asset")
        assets = without(project.assets, asset.id)
        return project.model_copy(update={"assets": assets})

    def label(self, project: Project) -> str:
        return f"Remove {find_asset(project, self.asset).name}"

    def touches(self) -> list[str]:
        return [f"assets/{self.asset}", "scenes"]


def find_ink(project: Project, ink_id: str) -> Ink:
    """The ink of that id, or NotFoundError."""
    return found(project.inks, ink_id, "ink")


def find_asset(project: Project, asset_id: str) -> Asset:
    """The asset of that id, or NotFoundError."""
    return found(project.assets, asset_id, "asset")


def asset_users(project: Project, asset_id: str) -> list[tuple[str, str]]:
    """Names of (scene, layer) that show a picture or are set in a font, and of type styles that
    have it."""
    wanted = (asset_id, f"asset:{asset_id}")
    layers = [
        (scene.name, layer.name)
        for scene in project.scenes
        for layer in scene.layers
        if any(value in wanted for value in _asset_values(scene, layer))
    ]
    styles = [
        ("the type styles", style.name)
        for style in project.type_styles
        if any(value in wanted for value in style.properties.values() if isinstance(value, str))
    ]
    return layers + styles


def _asset_values(scene: Scene, layer: Layer) -> Iterator[Any]:
    """What a layer has of pictures, clips, tables and fonts: its own, and what arrangements say."""

    def names(property_id: str) -> bool:
        spec = find_spec(layer, property_id)
        return spec is not None and spec.kind.names == "asset"

    for name, prop in layer.properties.items():
        if names(name):
            yield prop.value
            yield from (key.value for key in prop.keys)
    for each in scene.arrangements:
        for name, value in each.stand(layer.id).values.items():
            if names(name):
                yield value


def _without_ink(layer: Layer, ink: Ink) -> Layer:
    changed = _plain_properties(layer.properties, ink)
    if not changed:
        return layer
    return layer.model_copy(update={"properties": {**layer.properties, **changed}})


def _row_without_ink(arrangement: Arrangement, ink: Ink) -> Arrangement:
    stands = tuple(
        stand.model_copy(
            update={"values": {name: _plain(value, ink) for name, value in stand.values.items()}}
        )
        for stand in arrangement.stands
    )
    return arrangement.model_copy(update={"stands": stands})


def _set_without_ink(saved: EffectSet, ink: Ink) -> EffectSet:
    effects = tuple(
        each.model_copy(
            update={"properties": {**each.properties, **_plain_properties(each.properties, ink)}}
        )
        for each in saved.effects
    )
    return saved.model_copy(update={"effects": effects})


def _style_without_ink(style: TypeStyle, ink: Ink) -> TypeStyle:
    properties = {name: _plain(value, ink) for name, value in style.properties.items()}
    return style.model_copy(update={"properties": properties})


def _plain(value: Any, ink: Ink) -> Any:
    """A value with an ink's colour in place of the ink."""
    if value == f"ink:{ink.id}":
        return ink.colour
    return tuple(_plain(part, ink) for part in value) if isinstance(value, tuple) else value


def _plain_properties(properties: Mapping[str, Property], ink: Ink) -> dict[str, Property]:
    """Those properties that use an ink, with its colour instead."""
    changed = {}
    for property_id, prop in properties.items():
        keys = tuple(
            key.model_copy(update={"value": _plain(key.value, ink)})
            if _plain(key.value, ink) != key.value
            else key
            for key in prop.keys
        )
        if keys != prop.keys or _plain(prop.value, ink) != prop.value:
            update = {"value": _plain(prop.value, ink), "keys": keys}
            changed[property_id] = prop.model_copy(update=update)
    return changed
