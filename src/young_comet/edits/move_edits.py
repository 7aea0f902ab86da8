"""Operations on moves: worn, changed, copied, turned into keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..core.catalog import EFFECTS, find_spec, move_kind, normalise, parts_of
from ..core.catalog import MOVES as WORN
from ..core.effort import spend
from ..core.model import (
    Effect,
    Layer,
    Move,
    Project,
    Property,
    Scene,
)
from ..core.model.values import Id
from ..core.motion import fit_motion, fit_values, keyframes
from ..core.moves import MOVES, REST, TEXT_UNITS, Pose
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError
from .base import (
    EditContext,
    LayerIds,
    NewId,
    SceneEdit,
    find_layer,
    names_of,
    new_id,
    with_layers,
    with_scene,
)
from .following import FOLLOWS, PHASE_LENGTHS


class WearMove(SceneEdit):
    """Layers wear a move in a phase. A phase without a length gets that of its moves; another move
    that arrives (or leaves) is replaced unless ``besides``."""

    kind: Literal["wear-move"] = "wear-move"
    layers: LayerIds
    id: NewId
    move: str
    phase: Literal["arrive", "dwell", "leave"]
    values: dict[str, Any] = Field(default_factory=dict)
    besides: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        kind = move_kind(self.move)
        if self.phase not in kind.phases:
            raise DocumentError.expected("phase", " or ".join(kind.phases), self.phase)

        def worn(layer: Layer) -> Layer:
            gone: list[str] = []
            if not self.besides and self.phase != "dwell":
                gone = [each.id for each in layer.moves if each.phase == self.phase]
            own = {}
            wanted = Move(id=self.id, kind=self.move, phase=self.phase)
            for name, value in self.values.items():
                spec = WORN.spec_of_kind(WORN.kind_of(wanted), name)
                if spec is None:
                    raise DocumentError.expected("values", f"parameters of {kind.label}", name)
                own[name] = Property(value=normalise(spec, value, spec.label))
                # A value without which it would not count is said with it.
                for needed in spec.shown_when:
                    other = needed.of[0].removeprefix(WORN.prefix("x")) if needed.values else ""
                    if other and other not in self.values:
                        own.setdefault(other, Property(value=needed.values[0]))
            layer = WORN.added(WORN.without(layer, gone), wanted, own)
            length = PHASE_LENGTHS.get(self.phase)
            if length is None:
                return layer
            if getattr(layer, length) <= 0:
                new = min(kind.lasts_s(self.phase), (layer.end_s - layer.start_s) / 2)
                return layer.model_copy(update={length: new, FOLLOWS[self.phase]: True})
            return layer

        return with_layers(scene, self.layers, worn)

    def label(self, project: Project) -> str:
        kind = MOVES.get(self.move)
        name = kind.said(self.phase) if kind else self.move
        return f"{name}: {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/moves")


class CopyMoves(SceneEdit):
    """All moves of a layer, with the lengths of its phases, on others in place of theirs."""

    kind: Literal["copy-moves"] = "copy-moves"
    layer: Id
    targets: LayerIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        source = find_layer(scene, self.layer)
        if not source.moves:
            raise DocumentError(f"{source.name!r} wears no moves", field="layer")

        def worn(layer: Layer) -> Layer:
            layer = WORN.without(layer, [move.id for move in layer.moves])
            for move in source.moves:
                layer = WORN.added(layer, move, WORN.own(source, move.id))
            length = layer.end_s - layer.start_s
            update = {
                "arrive_s": min(source.arrive_s, length),
                "leave_s": min(source.leave_s, length),
                "arrive_follows": source.arrive_follows,
                "leave_follows": source.leave_follows,
            }
            return layer.model_copy(update=update)

        return with_layers(scene, [t for t in self.targets if t != source.id], worn)

    def label(self, project: Project) -> str:
        return f"Copy moves to {names_of(project, self.scene, self.targets)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.targets, "/moves")


class MovesToKeys(SceneEdit):
    """The moves of layers become ordinary keys: fitted to what they do at every frame. What a
    value cannot say becomes an effect with keys. Refused for spreads over letters, words and
    lines, which a layer's own properties cannot say either, and for turns about a hinge."""

    arranged: ClassVar[bool] = False
    kind: Literal["moves-to-keys"] = "moves-to-keys"
    layers: LayerIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        evaluator = context.evaluator(with_scene(project, scene.id, lambda _: scene), scene.id)
        for layer_id in self.layers:
            layer = find_layer(scene, layer_id)
            if layer.moves:
                changed = _as_keys(evaluator, layer)
                scene = with_layers(scene, [layer_id], lambda _, c=changed: c)  # type: ignore[misc]
        return scene

    def label(self, project: Project) -> str:
        return f"Moves of {names_of(project, self.scene, self.layers)} into keys"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers)


# What of a pose each property takes up, and how closely it is fitted.
FITTED: dict[str, tuple[Callable[[Pose], Any], float]] = {
    "position": (lambda p: p.offset, 0.35),
    "rotation": (lambda p: p.rotation_deg, 0.08),
    "scale": (lambda p: p.scale, 0.15),
    "opacity": (lambda p: p.opacity, 0.4),
    "tilt": (lambda p: p.tilt_deg, 0.15),
    "turn": (lambda p: p.turn_deg, 0.15),
    "text.tracking": (lambda p: p.tracking, 0.8),
    "drawn.to": (lambda p: p.drawn, 0.2),
}


def _as_keys(evaluator: SceneEvaluator, layer: Layer) -> Layer:
    field = f"layer {layer.name!r}"
    for move in layer.moves:
        over = WORN.own(layer, move.id).get("spread.over")
        spec = WORN.spec_of_kind(WORN.kind_of(move), "spread.over")
        chosen = over.value if over is not None else (spec.default if spec else "whole")
        if chosen in TEXT_UNITS and layer.kind == "text" and move.on:
            message = f"a spread over {chosen} cannot be said by keys of the layer"
            raise DocumentError(message, field=field)
        if chosen == "slices" and move.on and _is_cut(layer):
            message = "a spread over slices has no keys yet: key how far they are in place instead"
            raise DocumentError(message, field=field)
    times, moments = _moments(evaluator, layer)
    # As arrangements have it; how they let it come and go stays theirs.
    known = evaluator.find(layer.id) or layer
    known = known if known is layer else known.model_copy(update={"moves": layer.moves})
    values = [evaluator.moving(known, moment) for moment in moments]
    poses = [evaluator.pose(v) for v in values]
    if any(pose.pivot != REST.pivot for pose in poses):
        message = "a hinge has no keys yet: set the move's hinge back to the pivot first"
        raise DocumentError(message, field=field)
    properties = dict(WORN.without(layer, [move.id for move in layer.moves]).properties)
    for name, (part, tolerance) in FITTED.items():
        spec = find_spec(layer, name)
        if spec is None or all(part(pose) == part(REST) for pose in poses):
            continue
        whole = [v(name) for v in values]
        for own in parts_of(layer, name) or ():
            properties.pop(own, None)
        properties[name] = fitted(times, whole, tolerance)
    effects = list(layer.effects)
    _effects(layer, poses, times, properties, effects)
    update = {"moves": (), "properties": properties, "effects": tuple(effects)}
    return layer.model_copy(update=update)


def _is_cut(layer: Layer) -> bool:
    prop = layer.properties.get("slices.kind")
    return prop is not None and prop.value != "none"


def _moments(evaluator: SceneEvaluator, layer: Layer) -> tuple[np.ndarray, list[float]]:
    rate = evaluator.rate
    first, last = rate.nearest_frame(layer.start_s), rate.nearest_frame(layer.end_s)
    spend((last - first + 1) / 2)
    moments = [rate.time_of(n) for n in range(first, last + 1)]
    return np.array(moments) - layer.start_s, moments


def fitted(times: np.ndarray, values: list[Any], tolerance: float) -> Property:
    """Few keys that follow sampled values within a tolerance."""
    rows = np.array(values, np.float64)
    fit = fit_motion if rows.ndim == 2 else fit_values
    keys = keyframes(fit(times, rows, tolerance), new_id, "free")
    rounded = [
        key.model_copy(update={"time_s": round(key.time_s, 6), "value": _round(key.value)})
        for key in keys
    ]
    return Property().with_keys(rounded)


def _round(value: Any) -> Any:
    if isinstance(value, tuple | list):
        return tuple(round(float(v), 4) for v in value)
    return round(float(value), 4)


def _effects(
    layer: Layer, poses: list[Pose], times: np.ndarray, properties: dict[str, Property],
    effects: list[Effect],
) -> None:  # fmt: skip
    """What poses do that is no value of a layer: as effects with keys."""

    def add(kind: str, values: dict[str, Any], keyed: str, course: list[Any]) -> None:
        effect = Effect(id=new_id(), kind=kind)
        effects.append(effect)
        for name, value in values.items():
            properties[EFFECTS.prefix(effect.id) + name] = Property(value=value)
        properties[EFFECTS.prefix(effect.id) + keyed] = fitted(times, course, 0.3)

    if any(pose.blur_px for pose in poses):
        add("gaussian-blur", {}, "size", [(pose.blur_px, pose.blur_px) for pose in poses])
    wipes = [pose.wipe for pose in poses]
    first = next((wipe for wipe in wipes if wipe is not None), None)
    if first is not None:
        kind = {"linear": "linear-wipe", "centre": "centre-wipe", "iris": "radial-wipe"}[first.kind]
        fixed: dict[str, Any] = {"softness": first.softness}
        if first.kind != "iris":
            fixed["angle"] = first.angle_deg
        shown = [100.0 if wipe is None else 100 * wipe.shown for wipe in wipes]
        add(kind, fixed, "shown", shown)
    if any(pose.glint is not None for pose in poses):
        shares = [0.0 if pose.glint is None else 100 * pose.glint for pose in poses]
        add("glint", {}, "progress", shares)
