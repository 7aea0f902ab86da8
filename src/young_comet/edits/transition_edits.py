"""Transitions: layers joined where one ends and the next begins."""

from __future__ import annotations

import itertools
from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import TRANSITIONS, normalise, transition_kind
from ..core.model import Layer, Project, Property, Scene, Transition
from ..core.model.values import Id
from ..errors import DocumentError
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


class JoinLayers(SceneEdit):
    """Each of some layers gives way to the next of them in time by a transition, in place of that
    which is there. Where two overlap, the one that comes first ends where the other begins and the
    transition takes as long as they overlapped, unless ``length_s`` says otherwise."""

    kind: Literal["join-layers"] = "join-layers"
    layers: LayerIds
    transition: Annotated[str, Field(max_length=80)]
    length_s: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] | None = None
    values: Annotated[dict[str, Any], Field(default_factory=dict, max_length=40)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        transition_kind(self.transition)
        chosen = [find_layer(scene, layer_id) for layer_id in self.layers]
        for layer in chosen:
            if not TRANSITIONS.suits(layer):
                raise DocumentError("it has no picture that could give way", field=layer.name)
        if len(chosen) < 2:
            raise DocumentError("expected two layers or more, one after the other", field="layers")
        chosen.sort(key=lambda layer: (layer.start_s, layer.end_s))
        changed: dict[str, Layer] = {layer.id: layer for layer in chosen}
        for one, other in itertools.pairwise(chosen):
            first, second = _joined(scene, changed[one.id], changed[other.id], self)
            changed[first.id], changed[second.id] = first, second
        return with_layers(scene, list(changed), lambda layer: changed[layer.id])

    def label(self, project: Project) -> str:
        kind = transition_kind(self.transition)
        return f"{kind.label} between {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


def _joined(scene: Scene, first: Layer, second: Layer, wish: JoinLayers) -> tuple[Layer, Layer]:
    frame_s = scene.rate.den / scene.rate.num
    gap = second.start_s - first.end_s
    if gap > 0.51 * frame_s:
        message = f"ends {gap:.2f} s before {second.name!r} begins: they do not meet"
        raise DocumentError(message, field=first.name)
    if second.start_s <= first.start_s + 1e-6:
        raise DocumentError(f"begins with {second.name!r}: neither is first", field=first.name)
    old = next(iter(second.transitions), None)
    length = wish.length_s or (old.length_s if old else 1.0)
    values = dict(wish.values)
    overlap = -gap
    if overlap > 0.51 * frame_s:
        # What was seen of the first beyond the joint is seen of it still.
        length = wish.length_s or min(60.0, overlap)
        values = {"lies": "after", **values}
        first = first.model_copy(
            update={
                "end_s": second.start_s, "end_tie": None,
                "leave_s": min(first.leave_s, second.start_s - first.start_s),
            }
        )  # fmt: skip
    made = Transition(
        id=old.id if old else new_id(), kind=wish.transition, before=first.id, length_s=length,
        pairs=old.pairs if old else (),
    )  # fmt: skip
    return first, with_transition(second, made, values)


def with_transition(layer: Layer, made: Transition, values: dict[str, Any]) -> Layer:
    """A layer that takes over by a transition, in place of the one it has: of that one's values
    those stay that the new kind declares too."""
    held: dict[str, Property] = {}
    for old in layer.transitions:
        own = TRANSITIONS.own(layer, old.id)
        changed = old.kind != made.kind
        for name, prop in own.items():
            spec = TRANSITIONS.spec_of_kind(made.kind, name)
            before = TRANSITIONS.spec_of_kind(old.kind, name)
            if spec is None or (changed and (before is None or before.kind is not spec.kind)):
                continue
            if changed and name == "easing":
                continue  # each has its own
            try:
                normalise(spec, prop.value, spec.label)
            except DocumentError:
                continue
            held[name] = prop
        layer = TRANSITIONS.without(layer, [old.id])
    for name, value in values.items():
        spec = TRANSITIONS.spec_of_kind(made.kind, name)
        if spec is None:
            known = ", ".join(each.id for each in TRANSITIONS.declared(made.kind) or ())
            raise DocumentError.expected("values", f"some of {known}", name)
        held[name] = Property(value=normalise(spec, value, spec.label))
    return TRANSITIONS.added(layer, made, held)


class PairLayers(SceneEdit):
    """In a matched transition one layer of the first scene becomes one of the second, or none; no
    ``to``: as the program would have it."""

    kind: Literal["pair-layers"] = "pair-layers"
    layer: Id
    of: Id
    to: Id | Literal[""] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        if not layer.transitions:
            raise DocumentError("it takes over from no other layer", field=layer.name)
        held = layer.transitions[0]
        # One of the second scene is the counterpart of one only.
        pairs = tuple(
            pair
            for pair in held.pairs
            if pair[0] != self.of and (not self.to or pair[1] != self.to)
        )
        if self.to is not None:
            pairs = (*pairs, (self.of, self.to))
        changed = held.model_copy(update={"pairs": pairs})
        return with_layers(
            scene, [layer.id], lambda each: each.model_copy(update={"transitions": (changed,)})
        )

    def label(self, project: Project) -> str:
        find_scene(project, self.scene)
        return "Correct what becomes what"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/transitions")
