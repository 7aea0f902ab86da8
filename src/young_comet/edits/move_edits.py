"""Operations on moves: worn, changed, copied, turned into keys."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from ..core.catalog import find_spec, layer_kind, move_kind, move_specs, normalise, parts_of
from ..core.effort import spend
from ..core.model import (
    Effect,
    Kind,
    Layer,
    Move,
    Project,
    Property,
    SavedMove,
    Scene,
    SetEffect,
)
from ..core.model.document import Id, Name
from ..core.motion import fit_motion, fit_values, keyframes
from ..core.moves import MOVES, REST, TEXT_UNITS, MoveKind, Pose
from ..core.render import SceneEvaluator
from ..core.render.values import LayerValues
from ..errors import DocumentError, InUseError, NotFoundError
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
    with_scene,
)

_PHASE_LENGTH = {"arrive": "arrive_s", "leave": "leave_s"}


def check_fit(kind: MoveKind, layer: Layer) -> None:
    """DocumentError where a move can do nothing for a layer of that kind."""
    if layer.kind not in kind.fits:
        fit = ", ".join(layer_kind(each).label.lower() for each in kind.fits)
        raise DocumentError(
            f"{kind.label} does nothing for a {layer.kind}; it fits: {fit}",
            field=f"layer {layer.name!r} / moves",
        )


class WearMove(SceneEdit):
    """Layers wear a move in a phase. A phase without a length gets the move's own; another move
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
            check_fit(kind, layer)
            move = Move(id=self.id, kind=self.move, phase=self.phase)
            if any(each.id == self.id for each in layer.moves):
                raise DocumentError(f"there is a move {self.id!r} already", field="id")
            gone = set()
            if not self.besides and self.phase != "dwell":
                gone = {each.id for each in layer.moves if each.phase == self.phase}
            moves = (*(each for each in layer.moves if each.id not in gone), move)
            properties = _without(layer, gone)
            for name, value in self.values.items():
                spec = move_specs(move).get(f"move.{move.id}.{name}")
                if spec is None:
                    raise DocumentError.expected("values", f"parameters of {kind.label}", name)
                properties[spec.id] = Property(value=normalise(spec, value, spec.label))
            update: dict[str, Any] = {"moves": moves, "properties": properties}
            length = _PHASE_LENGTH.get(self.phase)
            if length and getattr(layer, length) <= 0:
                update[length] = min(kind.length_s, (layer.end_s - layer.start_s) / 2)
            return layer.model_copy(update=update)

        return with_layers(scene, self.layers, worn)

    def label(self, project: Project) -> str:
        kind = MOVES.get(self.move)
        name = kind.said(self.phase) if kind else self.move
        return f"{name}: {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/moves")


class ChangeMove(SceneEdit):
    """Whether a move counts, and its place among those of the layer."""

    kind: Literal["change-move"] = "change-move"
    layer: Id
    move: Id
    on: bool | None = None
    index: Annotated[int, Field(ge=0)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        old = find_move(layer, self.move)
        new = old if self.on is None else old.model_copy(update={"on": self.on})
        moves = [new if each is old else each for each in layer.moves]
        if self.index is not None:
            moves.remove(new)
            moves.insert(min(self.index, len(moves)), new)
        changed = layer.model_copy(update={"moves": tuple(moves)})
        return with_layers(scene, [layer.id], lambda _: changed)

    def label(self, project: Project) -> str:
        return f"Moves of {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/moves")


class RemoveMoves(SceneEdit):
    """Moves are taken off, with their parameters; the phases keep their lengths."""

    kind: Literal["remove-moves"] = "remove-moves"
    layer: Id
    moves: Annotated[list[Id], Field(min_length=1, max_length=60)]

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        layer = find_layer(scene, self.layer)
        gone = {find_move(layer, move_id).id for move_id in self.moves}
        moves = tuple(each for each in layer.moves if each.id not in gone)
        update = {"moves": moves, "properties": _without(layer, gone)}
        return with_layers(scene, [layer.id], lambda la: la.model_copy(update=update))

    def label(self, project: Project) -> str:
        return f"Take a move off {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return self.layer_paths([self.layer], "/moves")


class CopyMoves(SceneEdit):
    """All moves of a layer, with the lengths of its phases, on others in place of theirs."""

    kind: Literal["copy-moves"] = "copy-moves"
    layer: Id
    targets: LayerIds

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        source = find_layer(scene, self.layer)
        if not source.moves:
            raise DocumentError(f"{source.name!r} wears no moves", field="layer")
        own = {k: p for k, p in source.properties.items() if k.startswith("move.")}

        def worn(layer: Layer) -> Layer:
            for move in source.moves:
                check_fit(move_kind(move.kind), layer)
            length = layer.end_s - layer.start_s
            update = {
                "moves": source.moves,
                "properties": {**_without(layer, {m.id for m in layer.moves}), **own},
                "arrive_s": min(source.arrive_s, length),
                "leave_s": min(source.leave_s, length),
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


def find_move(layer: Layer, move_id: str) -> Move:
    for move in layer.moves:
        if move.id == move_id:
            return move
    raise NotFoundError(f"layer {layer.name!r} has no move {move_id!r}", field="move")


def _without(layer: Layer, moves: set[str]) -> dict[str, Property]:
    """The properties of a layer but for those of some moves."""
    return {
        name: prop
        for name, prop in layer.properties.items()
        if not (name.startswith("move.") and name.split(".")[1] in moves)
    }


# What of a pose each property takes up, and how closely it is fitted.
_FITTED: dict[str, tuple[Callable[[Pose], Any], float]] = {
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
        over = layer.properties.get(f"move.{move.id}.spread.over")
        spec = move_specs(move).get(f"move.{move.id}.spread.over")
        chosen = over.value if over is not None else (spec.default if spec else "whole")
        if chosen in TEXT_UNITS and layer.kind == "text" and move.on:
            message = f"a spread over {chosen} cannot be said by keys of the layer"
            raise DocumentError(message, field=field)
        if chosen == "slices" and move.on and _is_cut(layer):
            message = "a spread over slices has no keys yet: key how far they are in place instead"
            raise DocumentError(message, field=field)
    times, moments = _moments(evaluator, layer)
    values = [evaluator.moving(layer, moment) for moment in moments]
    poses = [evaluator.pose(v) for v in values]
    if any(pose.pivot != REST.pivot for pose in poses):
        message = "a hinge has no keys yet: set the move's hinge back to the pivot first"
        raise DocumentError(message, field=field)
    properties = _without(layer, {move.id for move in layer.moves})
    for name, (part, tolerance) in _FITTED.items():
        spec = find_spec(layer, name)
        if spec is None or all(part(pose) == part(REST) for pose in poses):
            continue
        whole = [v(name) for v in values]
        for own in parts_of(layer, name) or ():
            properties.pop(own, None)
        properties[name] = _fitted(times, whole, tolerance)
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


def _fitted(times: np.ndarray, values: list[Any], tolerance: float) -> Property:
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
            properties[f"effect.{effect.id}.{name}"] = Property(value=value)
        properties[f"effect.{effect.id}.{keyed}"] = _fitted(times, course, 0.3)

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


class SaveMove(SceneEdit):
    """What a layer does in a phase, its keys, expressions and effects, kept as a move of the
    project's own."""

    kind: Literal["save-move"] = "save-move"
    layer: Id
    id: NewId
    name: Name
    phase: Literal["arrive", "leave"]
    stretch: bool = True

    def apply(self, project: Project, context: EditContext) -> Project:
        scene = find_scene(project, self.scene)
        layer = find_layer(scene, self.layer)
        if any(saved.id == self.id for saved in project.saved_moves):
            raise DocumentError(f"there is a saved move {self.id!r} already", field="id")
        length = layer.arrive_s if self.phase == "arrive" else layer.leave_s
        if length <= 0:
            word = "arrives" if self.phase == "arrive" else "leaves"
            message = f"{layer.name!r} has no length for this yet: set how long it {word} first"
            raise DocumentError(message, field="layer")
        evaluator = context.evaluator(project, scene.id)
        start = layer.start_s if self.phase == "arrive" else layer.end_s - layer.leave_s
        times = np.linspace(0.0, length, max(3, round(length * 50) + 1))
        values = [evaluator.values(layer, start + float(t)) for t in times]
        properties = {}
        for name, (_, tolerance) in _FITTED.items():
            if find_spec(layer, name) is None:
                continue
            course = [v(name) for v in values]
            if any(value != course[0] for value in course):
                properties[name] = _fitted(times, course, tolerance)
        saved = SavedMove(
            id=self.id, name=self.name, phase=self.phase, length_s=length, stretch=self.stretch,
            properties=properties, effects=_saved_effects(layer, values, times),
        )  # fmt: skip
        if not saved.properties and not saved.effects:
            raise DocumentError(f"{layer.name!r} does not move in this phase", field="layer")
        return project.model_copy(update={"saved_moves": (*project.saved_moves, saved)})

    def label(self, project: Project) -> str:
        return f"Save the move {self.name}"

    def touches(self) -> list[str]:
        return [f"saved_moves/{self.id}"]


def _saved_effects(
    layer: Layer, values: list[LayerValues], times: np.ndarray
) -> tuple[SetEffect, ...]:
    """The effects of a layer that change in a phase: the changing parameters with keys."""
    found = []
    for effect in layer.effects:
        prefix = f"effect.{effect.id}."
        own = {n: p for n, p in layer.properties.items() if n.startswith(prefix)}
        properties, moves = {}, False
        for name, prop in own.items():
            spec = find_spec(layer, name)
            course = [v(name) for v in values]
            numeric = spec is not None and spec.kind in (Kind.NUMBER, Kind.POINT)
            if numeric and any(value != course[0] for value in course):
                properties[name.removeprefix(prefix)] = _fitted(times, course, 0.3)
                moves = True
            elif not prop.keys:
                properties[name.removeprefix(prefix)] = prop.model_copy(update={"expression": ""})
        if moves and effect.on:
            found.append(SetEffect(kind=effect.kind, properties=properties))
    return tuple(found)


class AddSavedMove(Edit):
    """A move of the artist's own, from another project."""

    kind: Literal["add-saved-move"] = "add-saved-move"
    move: SavedMove

    def apply(self, project: Project, context: EditContext) -> Project:
        if any(saved.id == self.move.id for saved in project.saved_moves):
            raise DocumentError(f"there is a saved move {self.move.id!r} already", field="move")
        return project.model_copy(update={"saved_moves": (*project.saved_moves, self.move)})

    def label(self, project: Project) -> str:
        return f"Bring in the move {self.move.name}"

    def touches(self) -> list[str]:
        return [f"saved_moves/{self.move.id}"]


class ChangeSavedMove(Edit):
    """Another name or rule for its length; ``remove`` takes it away where no layer wears it."""

    kind: Literal["change-saved-move"] = "change-saved-move"
    move: Id
    name: Name | None = None
    stretch: bool | None = None
    remove: bool = False

    def apply(self, project: Project, context: EditContext) -> Project:
        old = next((saved for saved in project.saved_moves if saved.id == self.move), None)
        if old is None:
            raise NotFoundError(f"there is no saved move {self.move!r}", field="move")
        if self.remove:
            kind = f"own:{old.id}"
            for scene in project.scenes:
                for layer in scene.layers:
                    if any(move.kind == kind for move in layer.moves):
                        raise InUseError(f"{layer.name!r} in {scene.name!r} wears it", field="move")
            rest = tuple(saved for saved in project.saved_moves if saved is not old)
            return project.model_copy(update={"saved_moves": rest})
        update = {
            name: value
            for name in ("name", "stretch")
            if (value := getattr(self, name)) is not None
        }
        new = old.model_copy(update=update)
        changed = tuple(new if saved is old else saved for saved in project.saved_moves)
        return project.model_copy(update={"saved_moves": changed})

    def label(self, project: Project) -> str:
        return "Delete a saved move" if self.remove else "Change a saved move"

    def touches(self) -> list[str]:
        return [f"saved_moves/{self.move}"]
