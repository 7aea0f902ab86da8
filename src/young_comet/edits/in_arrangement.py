"""Working in an arrangement: operations on what stands there change what it says."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import UNSEEN, arranged_spec, find_spec
from ..core.model import Arrangement, Layer, Project, Property, PropertySpec, Scene, Stand
from ..core.model.arrangements import holds_of, index_at, with_stand
from ..core.model.values import Id
from ..core.resolve.arranged import said_in
from ..core.resolve.arrangement_row import own_value
from ..core.resolve.tracks import names_of as project_names
from .arrangement_finding import find_arrangement
from .base import Edit, EditContext, SceneTime, find_scene, with_this


class WorkInArrangement(Edit):
    """Operations done while an arrangement is chosen. They see its values as the layers' own; what
    they change of them is said by that arrangement alone, and layers that they add are there in it
    alone. Keys that they set, and all that has no value, are the layers' own.

    Without an ``arrangement`` they are done in the one that is nearest to ``time_s``, and what they
    change is changed in all: numbers and points by as much, other values to the same.
    """

    kind: Literal["in-arrangement"] = "in-arrangement"
    scene: Id
    arrangement: Id | None = None
    time_s: SceneTime = 0.0
    edits: Annotated[list[dict[str, Any]], Field(min_length=1, max_length=500)]

    def apply(self, project: Project, context: EditContext) -> Project:
        for edit in self.parsed():
            if edit.arranged and getattr(edit, "scene", None) == self.scene:
                project = self._within(project, edit, context)
            else:
                project = edit.apply(project, context)
        return project

    def _within(self, project: Project, edit: Edit, context: EditContext) -> Project:
        scene = find_scene(project, self.scene)
        if not scene.arrangements:
            return edit.apply(project, context)
        chosen = None if self.arrangement is None else find_arrangement(scene, self.arrangement)
        held = chosen or scene.arrangements[index_at(scene, self.time_s)]
        if edit.in_each:
            return self._in_each(project, scene, edit, held, context)
        changed, seen = _done_in(project, scene, edit, held, context)
        done = find_scene(changed, self.scene)
        return with_this(changed, _Return(scene, seen, done, chosen).scene())

    def _in_each(
        self, project: Project, scene: Scene, edit: Edit, held: Arrangement, context: EditContext
    ) -> Project:
        """An operation on how layers hang together: what it makes of their values in each
        arrangement is said by that one; the rest is as in the one that is worked in."""
        result, seen = _done_in(project, scene, edit, held, context)
        row = {each.id: each for each in scene.arrangements}
        before = {layer.id: layer for layer in scene.layers}
        shown = {layer.id: layer for layer in seen.layers}
        base = find_scene(result, self.scene)
        own = {la.id: la for la in base.layers if la is not shown.get(la.id)}
        kept = tuple(la if la.id in own else before[la.id] for la in base.layers)
        base = base.model_copy(update={"layers": kept})
        for each, (begin, _) in zip(scene.arrangements, holds_of(scene), strict=True):
            there = edit.model_copy(update={"time_s": begin}) if each.id != held.id else edit
            changed, _ = _done_in(project, scene, there, each, context)
            for layer in find_scene(changed, self.scene).layers:
                if layer.id in own:
                    row[each.id] = _said_of(row[each.id], layer, own[layer.id], base)
        arrangements = tuple(row[each.id] for each in scene.arrangements)
        return with_this(result, base.model_copy(update={"arrangements": arrangements}))

    def label(self, project: Project) -> str:
        edits = self.parsed()
        label = edits[0].label(project)
        if self.arrangement is None or not edits[0].arranged:
            return label
        name = find_arrangement(find_scene(project, self.scene), self.arrangement).name
        return f"{label} in {name}"

    def touches(self) -> list[str]:
        paths = [path for edit in self.parsed() for path in edit.touches()]
        return [*paths, f"scenes/{self.scene}/arrangements/{self.arrangement or ''}".rstrip("/")]

    def parsed(self) -> list[Edit]:
        """Must. The operations, one by one."""
        raise NotImplementedError


def _done_in(
    project: Project, scene: Scene, edit: Edit, arrangement: Arrangement, context: EditContext
) -> tuple[Project, Scene]:
    """The project after an operation on a scene as an arrangement has it, and that scene before."""
    seen = _as_own(scene, said_in(scene, project_names(project), arrangement.id))
    return edit.apply(with_this(project, seen), context), seen


def _said_of(arrangement: Arrangement, layer: Layer, own: Layer, scene: Scene) -> Arrangement:
    """An arrangement that says of a layer what differs from its own values."""
    stand = arrangement.stand(layer.id)
    values = dict(stand.values)
    for name in layer.properties.keys() | own.properties.keys():
        spec = arranged_spec(layer, name)
        keyed = any(each.properties[name].keys for each in (layer, own) if name in each.properties)
        if spec is None or keyed:
            continue
        value = own_value(layer, spec, scene)
        if value == own_value(own, spec, scene):
            values.pop(name, None)
        else:
            values[name] = value
    return with_stand(arrangement, stand.model_copy(update={"values": values}))


def _as_own(scene: Scene, said: Mapping[str, Mapping[str, Any]]) -> Scene:
    """The scene with what an arrangement says as its layers' own; its arrangements say nothing."""
    layers = []
    for layer in scene.layers:
        values = said.get(layer.id)
        if values:
            properties = dict(layer.properties)
            for name, value in values.items():
                own = layer.properties.get(name) or Property()
                if not own.keys:
                    properties[name] = own.model_copy(update={"value": value})
            layer = layer.model_copy(update={"properties": properties})
        layers.append(layer)
    silent = tuple(each.model_copy(update={"stands": ()}) for each in scene.arrangements)
    return scene.model_copy(update={"layers": tuple(layers), "arrangements": silent})


class _Return:
    """What operations have done to a scene as an arrangement has it, brought back."""

    def __init__(self, before: Scene, seen: Scene, done: Scene, chosen: Arrangement | None) -> None:
        self.before, self.done, self.chosen = before, done, chosen
        self.own = {layer.id: layer for layer in before.layers}
        self.seen = {layer.id: layer for layer in seen.layers}
        self.row = list(before.arrangements)
        # What takes the place of other layers does so wherever they were.
        if self.own.keys() - {layer.id for layer in done.layers}:
            self.chosen = None

    def scene(self) -> Scene:
        """The scene as it is now."""
        layers = tuple(self._layer(layer) for layer in self.done.layers)
        row = {each.id: each for each in self.row}
        # Operations may have renamed or retimed them.
        arrangements = tuple(
            each.model_copy(update={"stands": row[each.id].stands}) if each.id in row else each
            for each in self.done.arrangements
        )
        return self.done.model_copy(update={"layers": layers, "arrangements": arrangements})

    def _layer(self, now: Layer) -> Layer:
        own, seen = self.own.get(now.id), self.seen.get(now.id)
        if own is None or seen is None:
            if self.chosen is not None and now.kind not in UNSEEN:
                for index, each in enumerate(self.row):
                    if each.id != self.chosen.id:
                        self.row[index] = with_stand(each, Stand(layer=now.id, there=False))
            return now
        if now is seen:
            return own
        properties = dict(now.properties)
        for name in now.properties.keys() | seen.properties.keys():
            before, after = seen.properties.get(name), now.properties.get(name)
            kept = own.properties.get(name)
            if before is not after and before != after:
                kept = self._changed(now, own, name, before, after)
            if kept is None:
                properties.pop(name, None)
            else:
                properties[name] = kept
        return now.model_copy(update={"properties": properties})

    def _changed(
        self, now: Layer, own: Layer, name: str, before: Property | None, after: Property | None
    ) -> Property | None:
        """The layer's own property after a change; what an arrangement is to say of it is said."""
        held = own.properties.get(name)
        spec = arranged_spec(now, name)
        structural = spec is None or find_spec(own, name) is None
        keyed = (before is not None and before.keys) or (after is not None and after.keys)
        if structural or keyed or spec is None:
            return after
        base = held.value if held is not None else own_value(own, spec, self.before)
        if after is None:  # back to what it is in all, or to the default
            if self.chosen is None:
                self._say(now.id, name, None)
                return None
            said = name in self._row_of(self.chosen).stand(now.id).values
            default = own_value(now, spec, self.done)
            self._say(now.id, name, None if said or default == base else default)
            return held
        old = before.value if before is not None else self._unset(now, spec)
        # All but the value (an expression, say) is the layer's own.
        bare = after.model_copy(update={"value": None})
        if bare != (before or Property()).model_copy(update={"value": None}):
            held = after.model_copy(update={"value": base})
        if after.value == old:
            return held
        if self.chosen is None:
            return self._in_all(now.id, spec, held, old, after)
        self._say(now.id, name, after.value)
        return held

    def _unset(self, now: Layer, spec: PropertySpec) -> Any:
        return own_value(self.seen[now.id], spec, self.before)

    def _row_of(self, arrangement: Arrangement) -> Arrangement:
        return next(each for each in self.row if each.id == arrangement.id)

    def _say(self, layer_id: str, name: str, value: Any) -> None:
        """The arrangement that is chosen (all: None) says a value, or nothing (None)."""
        for index, each in enumerate(self.row):
            if self.chosen is not None and each.id != self.chosen.id:
                continue
            stand = each.stand(layer_id)
            values = {k: v for k, v in stand.values.items() if k != name}
            if value is not None:
                values[name] = value
            self.row[index] = with_stand(each, stand.model_copy(update={"values": values}))

    def _in_all(
        self, layer_id: str, spec: PropertySpec, held: Property | None, old: Any, after: Property
    ) -> Property:
        """A value changed in all: by as much where it has a way, else to the same."""
        way = spec.kind.step(old, after.value) if spec.kind.course == "curves" else ()

        def moved(value: Any) -> Any:
            if not way:
                return after.value
            return _within(spec, spec.kind.to_json(spec.kind.add_step(value, way, 1.0)))

        for index, each in enumerate(self.row):
            stand = each.stand(layer_id)
            if spec.id in stand.values:
                values = {**stand.values, spec.id: moved(stand.values[spec.id])}
                self.row[index] = with_stand(each, stand.model_copy(update={"values": values}))
        value = held.value if held is not None else old
        return (held or after).model_copy(update={"value": moved(value)})


def _within(spec: PropertySpec, value: Any) -> Any:
    low = -float("inf") if spec.minimum is None else spec.minimum
    high = float("inf") if spec.maximum is None else spec.maximum
    if isinstance(value, list | tuple):
        return tuple(min(high, max(low, part)) for part in value)
    return min(high, max(low, value))
