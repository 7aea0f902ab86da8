"""Operations on expressions: written, made by linking, turned into keys, kept whole by names."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..core.catalog import check_expression, find_spec, normalise
from ..core.effort import spend
from ..core.expressions import compile_expression
from ..core.model import Keyframe, Kind, Layer, Project, Property, PropertySpec, Scene
from ..core.model.values import Finite, Id, Value
from ..core.motion import fit_motion, fit_values, keyframes
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError
from .base import EditContext, find_layer, new_id, with_scene
from .value_edits import PropertyEdit, Target, Targets, change_properties

MAX_BAKED_FRAMES = 20_000


class SetExpression(PropertyEdit):
    """An expression on some properties; an empty text takes it off. Keys below it stay."""

    kind: Literal["set-expression"] = "set-expression"
    targets: Targets
    text: Annotated[str, Field(max_length=2000)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        text = self.text.strip()

        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            field = f"layer {layer.name!r} / {spec.label}"
            if text:
                if not spec.expressive:
                    raise DocumentError("this property cannot have an expression", field=field)
                check_expression(text, field)
            return prop.model_copy(update={"expression": text})

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        what = self.names(project, self.targets)
        return f"Expression on {what}" if self.text.strip() else f"No expression on {what}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)


class LinkProperties(PropertyEdit):
    """Properties follow another one, later by some seconds, times a factor, plus an offset."""

    kind: Literal["link-properties"] = "link-properties"
    targets: Targets
    layer: Id
    property: str
    delay_s: Annotated[float, Field(ge=-3600, le=3600, allow_inf_nan=False)] = 0.0
    factor: Finite = 1.0
    offset: Finite | tuple[Finite, Finite] = 0.0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        source = find_layer(scene, self.layer)
        if any(layer.name == source.name for layer in scene.layers if layer.id != source.id):
            message = f"another layer is named {source.name!r} as well: give one of them a new name"
            raise DocumentError(message, field="layer")
        if self.property not in ("width", "height"):
            spec = find_spec(source, self.property)
            if spec is None:
                raise DocumentError.expected("property", "a property of that layer", self.property)
        edit = SetExpression(scene=self.scene, targets=self.targets, text=self.formula(source.name))
        return edit.change(project, scene, context)

    def formula(self, name: str) -> str:
        """The expression that says the same."""
        quoted = '"' + name.replace("\\", "\\\\").replace('"', '\\"') + '"'
        late = ""
        if self.delay_s:
            late = f", at=T {'-' if self.delay_s > 0 else '+'} {abs(self.delay_s):g}"
        text = f'of({quoted}, "{self.property}"{late})'
        if self.factor != 1:
            text += f" * {self.factor:g}"
        if isinstance(self.offset, tuple):
            if any(self.offset):
                text += f" + [{self.offset[0]:g}, {self.offset[1]:g}]"
        elif self.offset:
            text += f" {'+' if self.offset > 0 else '-'} {abs(self.offset):g}"
        return text

    def label(self, project: Project) -> str:
        return f"Link {self.names(project, self.targets)}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)


class BakeExpressions(PropertyEdit):
    """Expressions become keys: few of them, fitted within a tolerance in the property's own
    unit at every frame of the layer's span."""

    arranged: ClassVar[bool] = False
    kind: Literal["bake-expressions"] = "bake-expressions"
    targets: Targets
    tolerance: Annotated[float, Field(gt=0, le=1e4, allow_inf_nan=False)] = 0.5

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = SceneEvaluator(with_scene(project, scene.id, lambda _: scene), scene.id)

        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if not prop.expression:
                return prop
            return self._baked(evaluator, layer, spec, target.property)

        return change_properties(scene, self.targets, changed)

    def _baked(
        self, evaluator: SceneEvaluator, layer: Layer, spec: PropertySpec, property_id: str
    ) -> Property:
        rate = evaluator.rate
        first, last = rate.nearest_frame(layer.start_s), rate.nearest_frame(layer.end_s)
        count = min(MAX_BAKED_FRAMES, max(2, last - first + 1))
        spend(count / 8)
        moments = [rate.time_of(first + i) for i in range(count)]
        times = np.array(moments) - layer.start_s
        known = evaluator.find(layer.id) or layer  # as arrangements have it
        values = [evaluator.values(known, moment)(property_id) for moment in moments]
        if all(value == values[0] for value in values):
            return Property(value=_json(spec, values[0]))
        if spec.kind is Kind.POINT:
            fitted = fit_motion(times, np.array(values, np.float64), self.tolerance)
            keys = keyframes(fitted, new_id, "free")
        elif spec.kind is Kind.NUMBER:
            fitted = fit_values(times, np.array(values, np.float64), self.tolerance)
            keys = keyframes(fitted, new_id, "free")
        elif spec.kind.holds:
            kept = [i for i in range(count) if not i or values[i] != values[i - 1]]
            keys = [
                Keyframe(id=new_id(), time_s=float(times[i]), value=values[i], easing="hold")
                for i in kept
            ]
        else:
            kept = _corners(np.array(values, np.float64), self.tolerance / 100)
            keys = [
                Keyframe(
                    id=new_id(), time_s=float(times[i]), value=_json(spec, values[i]),
                    easing="linear",
                )
                for i in kept
            ]  # fmt: skip
        limited = [
            key.model_copy(
                update={"value": _within(spec, key.value), "time_s": round(key.time_s, 6)}
            )
            for key in keys
        ]
        return Property().with_keys(limited)

    def label(self, project: Project) -> str:
        return f"Bake {self.names(project, self.targets)}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)


def _json(spec: PropertySpec, value: Any) -> Value:
    return normalise(spec, spec.kind.to_json(value), spec.label)


def _within(spec: PropertySpec, value: Any) -> Any:
    """A fitted value may miss a limit by a rounding."""
    if spec.kind.course != "curves":
        return value
    low = -np.inf if spec.minimum is None else spec.minimum
    high = np.inf if spec.maximum is None else spec.maximum
    if isinstance(value, tuple | list):
        return tuple(round(float(min(high, max(low, v))), 6) for v in value)
    return round(float(min(high, max(low, value))), 6)


def _corners(rows: np.ndarray, tolerance: float) -> list[int]:
    """Numbers of the samples between which straight lines stay within a tolerance (Ramer 1972,
    Douglas and Peucker 1973)."""
    kept = {0, len(rows) - 1}
    stack = [(0, len(rows) - 1)]
    while stack:
        a, b = stack.pop()
        if b - a < 2:
            continue
        share = (np.arange(a + 1, b) - a)[:, None] / (b - a)
        far = np.abs(rows[a + 1 : b] - (rows[a] + (rows[b] - rows[a]) * share)).max(axis=1)
        worst = int(far.argmax())
        if far[worst] > tolerance:
            middle = a + 1 + worst
            kept.add(middle)
            stack += [(a, middle), (middle, b)]
    return sorted(kept)


def renamed_reads(scene: Scene, layer: Layer, name: str) -> Scene:
    """The scene as it must be before a layer gets another name: whatever reads the layer goes on
    doing so. DocumentError where the new name would make expressions read another layer."""
    readers = [
        (each, name_, prop)
        for each in scene.layers
        for name_, prop in each.properties.items()
        if prop.expression
    ]
    if not readers or name == layer.name:
        return scene
    reads = {r.layer for _, _, prop in readers for r in compile_expression(prop.expression).reads}
    own = next(la for la in scene.layers if la.name == layer.name).id == layer.id
    taken = any(la.name == name for la in scene.layers if la.id != layer.id)
    if taken and (name in reads or (own and layer.name in reads)):
        message = f"expressions read layers by these names, and there is a {name!r} already"
        raise DocumentError(message, field="name")
    if not own or layer.name not in reads:
        return scene
    return scene.model_copy(
        update={
            "layers": tuple(with_renamed_reads(each, {layer.name: name}) for each in scene.layers)
        }
    )


def with_renamed_reads(layer: Layer, names: Mapping[str, str]) -> Layer:
    """A layer whose expressions read others by new names."""
    properties, changed = {}, False
    for name, prop in layer.properties.items():
        if prop.expression:
            text = prop.expression
            # By way of names that nobody has, so that two may change places.
            steps = [(old, f"\u0001{i}") for i, old in enumerate(names)]
            steps += [(f"\u0001{i}", new) for i, new in enumerate(names.values())]
            for old, new in steps:
                text = compile_expression(text).with_layer_renamed(old, new)
            if text != prop.expression:
                prop, changed = prop.model_copy(update={"expression": text}), True
        properties[name] = prop
    return layer.model_copy(update={"properties": properties}) if changed else layer
