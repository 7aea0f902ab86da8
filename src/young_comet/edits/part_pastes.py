"""Pasting one side of a layer onto others: its place, its looks, its moves, its times, its type."""

from __future__ import annotations

from typing import Annotated, Any, Literal, get_args

from pydantic import Field

from ..core.catalog import find_spec, layer_kind, normalise
from ..core.catalog.members import EFFECTS, FRONTS, MASKS, MOVES
from ..core.catalog.members.base import MemberFamily
from ..core.effort import spend
from ..core.model import Layer, Project, Property, Scene
from ..core.model.specs import PropertySpec
from ..errors import DocumentError
from .base import (
    EditContext,
    LayerIds,
    find_scene,
    names_of,
    new_id,
    snap_span,
    with_layers,
    with_scene,
)
from .paste_edits import Brought, brought_along, without_strangers

Side = Literal["place", "looks", "moves", "timing", "type"]
SIDES: tuple[Side, ...] = get_args(Side)

# Which sections of a layer's own properties belong to a side; those of shape, slices, copies,
# alignment, mattes and source belong to none.
_SECTIONS: dict[Side, frozenset[str]] = {
    "place": frozenset({"Place", "Perspective", "Motion path"}),
    "looks": frozenset(
        {"Fill", "Stroke", "Shadow", "Box behind", "Blending", "Motion blur", "Drawn part"}
    ),
    "moves": frozenset(),
    "timing": frozenset({"Time"}),
    "type": frozenset({"Text", "Letters", "Lines", "Number"}),
}
_MEMBERS: dict[Side, tuple[MemberFamily[Any], ...]] = {
    "looks": (MASKS, EFFECTS),
    "moves": (MOVES, FRONTS),
}


def side_of(spec: PropertySpec) -> Side | None:
    """The side to which one of a layer's own properties belongs."""
    if spec.id == "opacity":
        return "looks"
    if spec.id == "text":
        return None  # what it says is its own
    return next((side for side in SIDES if spec.section in _SECTIONS[side]), None)


class PasteParts(Brought):
    """What a layer was copied with, put on others in place of their own: some of its ``sides``.

    A value that the copied layer does not have set is that layer's default. What names layers or
    marks that are not here is dropped. Times put the layers where the copied one was; ties of
    theirs that would take them away again are cut.
    """

    kind: Literal["paste-parts"] = "paste-parts"
    layer: Layer
    targets: LayerIds
    sides: Annotated[list[Side], Field(min_length=1, max_length=len(SIDES))]

    def apply(self, project: Project, context: EditContext) -> Project:
        project, names = brought_along(self, project)
        scene = find_scene(project, self.scene)
        here = {layer.id for layer in scene.layers}
        marks = {mark.id for mark in scene.marks}
        copied = names.in_layer(self.layer)

        def changed(target: Layer) -> Layer:
            # Nothing follows, is filled with, or has as its input itself.
            source = without_strangers(copied, here - {target.id}, set(), marks, True)
            spend(1 + len(source.properties) + len(target.properties))
            result = target
            for side in dict.fromkeys(self.sides):
                result = _with_side(scene, result, source, side)
            if result == target and not any(_has(target, side) for side in self.sides):
                what = " or ".join(self.sides)
                raise DocumentError(f"{target.name!r} has no {what}", field="sides")
            return result

        return with_scene(project, self.scene, lambda sc: with_layers(sc, self.targets, changed))

    def label(self, project: Project) -> str:
        sides = ", ".join(dict.fromkeys(self.sides))
        return f"Paste {sides} onto {names_of(project, self.scene, self.targets)}"

    def touches(self) -> list[str]:
        return [*self.layer_paths(self.targets), *self.brought_paths()]


def _has(layer: Layer, side: Side) -> bool:
    """Whether a layer has that side at all."""
    if side == "timing":
        return True
    if side in ("looks", "moves") and layer.kind not in ("sound", "carrier"):
        return True
    return any(side_of(spec) == side for spec in layer_kind(layer.kind).specs)


def _with_side(scene: Scene, target: Layer, source: Layer, side: Side) -> Layer:
    target = _with_properties(target, source, side)
    if not _has(target, side):
        return target
    for family in _MEMBERS.get(side, ()):
        if not family.suits(target):
            continue
        target = family.without(target, [each.id for each in family.members(target)])
        for member in family.members(source):
            copy = member.model_copy(update={"id": new_id()})
            target = family.added(target, copy, family.own(source, member.id), None)
    if side == "moves":
        phases = ("arrive_s", "leave_s", "arrive_follows", "leave_follows")
        target = target.model_copy(update={name: getattr(source, name) for name in phases})
    if side == "timing":
        where = f"layer {target.name!r}"
        start_s, end_s = snap_span(scene, source.start_s, source.end_s, where)
        update = {"start_s": start_s, "end_s": end_s, "start_tie": None, "end_tie": None}
        target = target.model_copy(update=update)
    return target


def _fits(spec: PropertySpec, held: Property) -> bool:
    """Whether a property may hold what another kind's holds: choices and limits may differ."""
    try:
        for value in [key.value for key in held.keys] or [held.value]:
            normalise(spec, value, spec.label)
    except DocumentError:
        return False
    return True


def _with_properties(target: Layer, source: Layer, side: Side) -> Layer:
    """Where both kinds have a property of that side, the target has the source's."""
    properties: dict[str, Property] = dict(target.properties)
    for theirs in layer_kind(source.kind).specs:
        mine = layer_kind(target.kind).spec(theirs.id)
        if mine is None or mine.kind is not theirs.kind or side_of(mine) != side:
            continue
        ids = (mine.id, *((part.id for part in mine.parts()) if mine.split else ()))
        for name in ids:
            properties.pop(name, None)
            spec, held = find_spec(target, name), source.properties.get(name)
            if spec is not None and held is not None and _fits(spec, held):
                properties[name] = held
        unset = not any(name in source.properties for name in ids)
        usual = None if theirs.default is None else Property(value=theirs.default)
        if unset and usual and mine.default != theirs.default and _fits(mine, usual):
            properties[mine.id] = usual
    return target.model_copy(update={"properties": properties})
