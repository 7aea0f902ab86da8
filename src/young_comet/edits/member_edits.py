"""Operations on the members of layers (masks, effects, moves, parts): added, removed, changed,
copied. What is peculiar to a family is in its own module of edits."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from ..core.catalog import FAMILIES, MemberFamily
from ..core.model import Layer, Project, Property, Scene
from ..core.model.values import Id
from ..errors import DocumentError, NotFoundError
from .base import (
    EditContext,
    LayerIds,
    SceneEdit,
    find_layer,
    find_scene,
    names_of,
    new_id,
    with_layers,
)


def _family(value: str) -> str:
    if value not in FAMILIES:
        raise ValueError("expected one of " + ", ".join(FAMILIES))
    return value


FamilyId = Annotated[str, AfterValidator(_family)]
MemberIds = Annotated[list[Id], Field(min_length=1, max_length=100)]


class NewMember(BaseModel):
    """A member in its JSON form and the properties it comes with, by their plain names."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    member: dict[str, Any]
    properties: dict[str, Property] = Field(default_factory=dict)


class MemberEdit(SceneEdit):
    """An operation on members of one family."""

    family: FamilyId

    @cached_property
    def of(self) -> MemberFamily[Any]:
        """The family."""
        return FAMILIES[self.family]

    def paths(self, layers: list[str]) -> list[str]:
        """Paths of the members of layers."""
        return self.layer_paths(layers, f"/{self.of.field}")

    def said(self, project: Project, layer_id: str, members: list[str]) -> str:
        """Some members of a layer as the history calls them: a name, or how many."""
        if len(members) == 1:
            try:
                layer = find_layer(find_scene(project, self.scene), layer_id)
                return self.of.name_of(self.of.find(layer, members[0]))
            except (NotFoundError, DocumentError):
                return f"a {self.of.label}"
        return f"{len(members)} {self.of.field}"


class AddMembers(MemberEdit):
    """Members on some layers, after those that they have or before the one of ``index``; the ids
    of those on further layers than the first are new."""

    kind: Literal["add-members"] = "add-members"
    layers: LayerIds
    members: Annotated[list[NewMember], Field(min_length=1, max_length=100)]
    index: Annotated[int, Field(ge=0)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        first = self.layers[0]
        read = [self.of.read(new.member) for new in self.members]

        def changed(layer: Layer) -> Layer:
            for number, (member, new) in enumerate(zip(read, self.members, strict=True)):
                own = member if layer.id == first else _with_id(member, new_id())
                at = None if self.index is None else self.index + number
                layer = self.of.added(layer, own, new.properties, at)
            return layer

        return with_layers(scene, self.layers, changed)

    def label(self, project: Project) -> str:
        names = [self.of.name_of(self.of.read(new.member)) for new in self.members]
        what = names[0] if len(names) == 1 else f"{len(names)} {self.of.field}"
        return f"{what} on {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.paths(self.layers)


class RemoveMembers(MemberEdit):
    """Members are taken off a layer, with their properties."""

    kind: Literal["remove-members"] = "remove-members"
    layer: Id
    members: MemberIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        return with_layers(scene, [self.layer], lambda la: self.of.without(la, self.members))

    def label(self, project: Project) -> str:
        what = self.said(project, self.layer, self.members)
        return f"Remove {what} of {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.paths([self.layer])


class ChangeMember(MemberEdit):
    """Fields of a member are set (whether it is on, its name, what else its family allows), or it
    gets another place in the order."""

    kind: Literal["change-member"] = "change-member"
    layer: Id
    member: Id
    set: dict[str, Any] = Field(default_factory=dict)
    index: Annotated[int, Field(ge=0)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def changed(layer: Layer) -> Layer:
            member = self.of.with_fields(self.of.find(layer, self.member), self.set)
            return self.of.changed(layer, member, self.index)

        return with_layers(scene, [self.layer], changed)

    def label(self, project: Project) -> str:
        what = self.said(project, self.layer, [self.member])
        who = names_of(project, self.scene, [self.layer])
        if "on" in self.set:
            return f"Switch {what} of {who} {'on' if self.set['on'] else 'off'}"
        verb = "Order" if self.index is not None else "Change"
        return f"{'Rename' if list(self.set) == ['name'] else verb} {what} of {who}"

    def touches(self) -> list[str]:
        return self.paths([self.layer])


class MembersCopied(MemberEdit):
    """What operations that copy members have in common."""

    layer: Id
    members: MemberIds
    targets: LayerIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        source = find_layer(scene, self.layer)

        def changed(layer: Layer) -> Layer:
            for member_id in self.members:
                layer = self.copied(source, layer, member_id)
            return layer

        return with_layers(scene, self.targets, changed)

    def copied(self, source: Layer, target: Layer, member_id: str) -> Layer:
        """A layer with a copy of another one's member."""
        member = self.of.find(source, member_id)
        index = None
        if target.id == source.id:
            index = [each.id for each in self.of.members(target)].index(member_id) + 1
        copy = _with_id(member, new_id())
        return self.of.added(target, copy, self.of.own(source, member_id), index)

    def label(self, project: Project) -> str:
        what = self.said(project, self.layer, self.members)
        return f"Copy {what} to {names_of(project, self.scene, self.targets)}"

    def touches(self) -> list[str]:
        return [*self.paths([self.layer]), *self.paths(self.targets)]


class CopyMembers(MembersCopied):
    """Members of one layer, with all their keys, put on layers after those that they have.

    On the layer itself it duplicates them, each just after its original.
    """

    kind: Literal["copy-members"] = "copy-members"


def _with_id(member: Any, id: str) -> Any:
    return member.model_copy(update={"id": id})
