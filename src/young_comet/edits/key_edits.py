"""Operations on many keys at once: eased, stretched, reversed, mirrored, spread."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.catalog import check_easing, normalise
from ..core.model import Keyframe, Kind, Layer, Project, Property, PropertySpec, Scene
from ..core.model.values import Value
from ..core.timing import REFERENCE, CubicBezier, parse_easing, resolve_easing
from ..errors import DocumentError
from .base import EditContext, SceneTime, find_layer
from .value_edits import (
    KeyTarget,
    KeyTargets,
    PropertyEdit,
    Target,
    change_properties,
    count_keys,
    find_key,
    of_target,
    put_keys,
)

Finite = Annotated[float, Field(allow_inf_nan=False)]
Arrange = Callable[[Layer, PropertySpec, Property, list[Keyframe]], list[Keyframe]]


def chosen_keys(keys: Sequence[KeyTarget]) -> dict[tuple[str, str], set[str]]:
    """The keys' ids by layer and property."""
    chosen: dict[tuple[str, str], set[str]] = {}
    for target in keys:
        chosen.setdefault((target.layer, target.property), set()).add(target.key)
    return chosen


def chosen_targets(chosen: Iterable[tuple[str, str]]) -> list[Target]:
    """The properties that keys were chosen of."""
    return [Target(layer=layer, property=name) for layer, name in chosen]


def arrange_keys(scene: Scene, keys: Sequence[KeyTarget], arrange: Arrange) -> Scene:
    """The scene with some keys replaced, property by property.

    ``arrange`` gets a property's chosen keys in the order of their times and gives their
    successors; keys that these land on are replaced.
    """
    chosen = chosen_keys(keys)

    def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
        ids = of_target(chosen, layer, target.property)
        for key_id in ids:
            find_key(layer, prop, key_id)
        mine = [key for key in prop.keys if key.id in ids]
        rest = prop.with_keys(key for key in prop.keys if key.id not in ids)
        return put_keys(rest, arrange(layer, spec, prop, mine))

    return change_properties(scene, chosen_targets(chosen), changed)


class KeysEdit(PropertyEdit):
    """An operation on chosen keys."""

    keys: KeyTargets

    def touches(self) -> list[str]:
        return self.paths(self.keys)

    def said(self, project: Project, verb: str) -> str:
        """What is done to how many keys, for the history."""
        return f"{verb} {count_keys(self.keys)} of {self.names(project, self.keys)}"

    def span(self, scene: Scene) -> tuple[float, float]:
        """Scene times of the first and the last of the keys."""
        times = [_scene_time(scene, target) for target in self.keys]
        return min(times), max(times)


def _scene_time(scene: Scene, target: KeyTarget) -> float:
    layer = find_layer(scene, target.layer)
    prop = layer.properties.get(target.property, Property())
    return layer.start_s + find_key(layer, prop, target.key).time_s


class EaseKeys(KeysEdit):
    """The easing from keys to the next ("after"), or only one of its sides: how the key is
    left ("leave"), how it is reached ("arrive"), or both of these ("around")."""

    kind: Literal["ease-keys"] = "ease-keys"
    easing: str
    side: Literal["after", "leave", "arrive", "around"] = "after"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        check_easing(self.easing)
        saved = {each.id: each.easing for each in project.easings}
        if self.easing.startswith(REFERENCE) and self.easing[len(REFERENCE) :] not in saved:
            raise DocumentError.expected("easing", "one of the project's easings", self.easing)
        if self.side == "after":
            update = {"easing": self.easing}

            def whole(
                layer: Layer, spec: PropertySpec, prop: Property, mine: list[Keyframe]
            ) -> list[Keyframe]:
                return [_left_freely(key).model_copy(update=update) for key in mine]

            return arrange_keys(scene, self.keys, whole)
        handles = resolve_easing(self.easing, saved).handles
        if handles is None:
            raise DocumentError(
                f"{self.easing} shapes the whole way to the next key; it has no side to apply",
                field="easing",
            )
        chosen = chosen_keys(self.keys)

        def sided(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            keys = list(prop.keys)
            for index, key in enumerate(keys):
                if key.id not in of_target(chosen, layer, target.property):
                    continue
                keys[index] = _left_freely(key)
                if self.side in ("leave", "around"):
                    keys[index] = _with_side(keys[index], handles[:2], None, saved)
                if self.side in ("arrive", "around") and index:
                    keys[index - 1] = _with_side(keys[index - 1], None, handles[2:], saved)
            return prop.with_keys(keys)

        return change_properties(scene, chosen_targets(chosen), sided)

    def label(self, project: Project) -> str:
        easing = self.easing
        if easing.startswith(REFERENCE):
            easing = next(
                (e.name for e in project.easings if e.id == easing[len(REFERENCE) :]), easing
            )
        return f"Ease {self.names(project, self.keys)}: {easing}"


def _left_freely(key: Keyframe) -> Keyframe:
    """A key that is given an easing by hand is no longer smoothed by itself."""
    return key if key.join == "free" else key.model_copy(update={"join": "free"})


def _with_side(
    key: Keyframe,
    leave: tuple[float, float] | None,
    arrive: tuple[float, float] | None,
    saved: dict[str, str],
) -> Keyframe:
    now = resolve_easing(key.easing, saved).handles or (1 / 3, 1 / 3, 2 / 3, 2 / 3)
    numbers = (*(leave or now[:2]), *(arrive or now[2:]))
    return key.model_copy(update={"easing": CubicBezier.limited(*numbers).text})


class StretchKeys(KeysEdit):
    """Distances from a moment (s in the scene) become ``factor`` times as long.

    Not snapped to frames, so that stretching back gives the same moments again.
    """

    kind: Literal["stretch-keys"] = "stretch-keys"
    about_s: SceneTime
    factor: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def stretched(
            layer: Layer, spec: PropertySpec, prop: Property, mine: list[Keyframe]
        ) -> list[Keyframe]:
            about = self.about_s - layer.start_s
            return [_at(key, about + (key.time_s - about) * self.factor) for key in mine]

        return arrange_keys(scene, self.keys, stretched)

    def label(self, project: Project) -> str:
        return self.said(project, "Stretch")


def _at(key: Keyframe, time_s: float) -> Keyframe:
    return key.model_copy(update={"time_s": time_s})


class ReverseKeys(KeysEdit):
    """The keys in the opposite order within their stretch of time, played backwards."""

    kind: Literal["reverse-keys"] = "reverse-keys"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        low, high = self.span(scene)

        def turned(
            layer: Layer, spec: PropertySpec, prop: Property, mine: list[Keyframe]
        ) -> list[Keyframe]:
            result = []
            for index, key in enumerate(reversed(mine)):
                before = len(mine) - 2 - index
                easing = mine[-1].easing if before < 0 else reversed_text(mine[before].easing)
                time_s = low + high - (layer.start_s + key.time_s) - layer.start_s
                update = {
                    "time_s": time_s, "easing": easing,
                    "handle_in": key.handle_out, "handle_out": key.handle_in,
                }  # fmt: skip
                result.append(key.model_copy(update=update))
            return result

        return arrange_keys(scene, self.keys, turned)

    def label(self, project: Project) -> str:
        return self.said(project, "Reverse")


def reversed_text(easing: str) -> str:
    """The easing of the way back; a saved one is named as it is where it reads the same."""
    if easing.startswith(REFERENCE):
        return easing
    return parse_easing(easing).reversed().text


class MirrorKeys(KeysEdit):
    """Values mirrored about the middle of each property's chosen keys; ``axis`` of points."""

    kind: Literal["mirror-keys"] = "mirror-keys"
    axis: Literal["both", "x", "y"] = "both"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def mirrored(
            layer: Layer, spec: PropertySpec, prop: Property, mine: list[Keyframe]
        ) -> list[Keyframe]:
            if spec.kind is Kind.NUMBER:
                total = _extent([key.value for key in mine])
                return [key.model_copy(update={"value": total - key.value}) for key in mine]
            if spec.kind is not Kind.POINT:
                raise DocumentError(f"{spec.label} has no values to mirror", field=layer.name)
            axes = {"both": (0, 1), "x": (0,), "y": (1,)}[self.axis]
            return [_mirrored_point(key, mine, axes) for key in mine]

        return arrange_keys(scene, self.keys, mirrored)

    def label(self, project: Project) -> str:
        return self.said(project, "Mirror")


def _extent(values: list[float]) -> float:
    return min(values) + max(values)


def _mirrored_point(key: Keyframe, mine: list[Keyframe], axes: tuple[int, ...]) -> Keyframe:
    value = list(key.value)
    signs = [1.0, 1.0]
    for axis in axes:
        value[axis] = _extent([each.value[axis] for each in mine]) - value[axis]
        signs[axis] = -1.0

    def turned(handle: tuple[float, float] | None) -> tuple[float, float] | None:
        return None if handle is None else (handle[0] * signs[0], handle[1] * signs[1])

    update = {
        "value": tuple(value),
        "handle_in": turned(key.handle_in),
        "handle_out": turned(key.handle_out),
    }
    return key.model_copy(update=update)


class DistributeKeys(KeysEdit):
    """Equal distances in time between each property's chosen keys, its outermost two staying."""

    kind: Literal["distribute-keys"] = "distribute-keys"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def spread(
            layer: Layer, spec: PropertySpec, prop: Property, mine: list[Keyframe]
        ) -> list[Keyframe]:
            if len(mine) < 3:
                return mine
            first, last = mine[0].time_s, mine[-1].time_s
            step = (last - first) / (len(mine) - 1)
            return [_at(key, first + step * i) for i, key in enumerate(mine)]

        return arrange_keys(scene, self.keys, spread)

    def label(self, project: Project) -> str:
        return self.said(project, "Distribute")


class ChangeKeyValues(KeysEdit):
    """Values of keys set, added to or multiplied; ``part`` picks a coordinate of points."""

    kind: Literal["change-key-values"] = "change-key-values"
    how: Literal["set", "add", "multiply"] = "set"
    value: Value
    part: Literal[0, 1] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def changed(
            layer: Layer, spec: PropertySpec, prop: Property, mine: list[Keyframe]
        ) -> list[Keyframe]:
            field = f"layer {layer.name!r} / {spec.label}"
            return [
                key.model_copy(
                    update={"value": normalise(spec, self._new(spec, key.value, field), field)}
                )
                for key in mine
            ]

        return arrange_keys(scene, self.keys, changed)

    def _new(self, spec: PropertySpec, old: Any, field: str) -> Any:
        if spec.kind is Kind.POINT:
            return self._new_point(old, field)
        if spec.kind is Kind.NUMBER:
            return self._number(old, self.value, field)
        if self.how != "set":
            raise DocumentError(f"{spec.label} can only be set", field=field)
        return self.value

    def _new_point(self, old: Any, field: str) -> Any:
        given = self.value if isinstance(self.value, tuple) else (self.value, self.value)
        if len(given) != 2:
            raise DocumentError.expected(field, "a number or two", self.value)
        parts = (0, 1) if self.part is None else (self.part,)
        return tuple(
            self._number(old[i], given[i], field) if i in parts else old[i] for i in (0, 1)
        )

    def _number(self, old: float, given: Any, field: str) -> float:
        if isinstance(given, bool) or not isinstance(given, int | float):
            raise DocumentError.expected(field, "a number", given)
        if self.how == "add":
            return old + given
        return old * given if self.how == "multiply" else given

    def label(self, project: Project) -> str:
        return self.said(project, {"add": "Add to", "multiply": "Multiply"}.get(self.how, "Set"))


class KeyRow(KeyTarget):
    """A row of the table of keys: what is given is changed."""

    time_s: SceneTime | None = None
    value: Value = None
    easing: str | None = None


class ChangeKeys(PropertyEdit):
    """Time, value and easing of keys, each as typed; moments need not be on frames."""

    kind: Literal["change-keys"] = "change-keys"
    rows: Annotated[list[KeyRow], Field(min_length=1, max_length=20_000)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        rows = {(row.layer, row.property, row.key): row for row in self.rows}

        def typed(
            layer: Layer, spec: PropertySpec, prop: Property, mine: list[Keyframe]
        ) -> list[Keyframe]:
            result = []
            for key in mine:
                row = rows[layer.id, spec.id, key.id]
                update: dict[str, Any] = {}
                if row.time_s is not None:
                    update["time_s"] = row.time_s - layer.start_s
                if row.value is not None:
                    update["value"] = normalise(spec, row.value, spec.label)
                if row.easing is not None:
                    update["easing"] = check_easing(row.easing)
                    key = _left_freely(key)
                result.append(key.model_copy(update=update))
            return result

        return arrange_keys(scene, self.rows, typed)

    def label(self, project: Project) -> str:
        return f"Change {count_keys(self.rows)} of {self.names(project, self.rows)}"

    def touches(self) -> list[str]:
        return self.paths(self.rows)
