"""Operations on moves of the artist's own: saved from a layer, brought in, named, removed."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..core.catalog import EFFECTS, find_spec
from ..core.model import Layer, Project, SavedMove, SetEffect
from ..core.model.values import Id, Name
from ..core.resolve.values import LayerValues
from ..errors import DocumentError, InUseError
from .base import Edit, EditContext, NewId, SceneEdit, find_layer, find_scene
from .move_edits import FITTED, fitted
from .named import found, refuse_known, replaced, without


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
        refuse_known(project.saved_moves, self.id, "saved move", "id")
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
        for name, (_, tolerance) in FITTED.items():
            if find_spec(layer, name) is None:
                continue
            course = [v(name) for v in values]
            if any(value != course[0] for value in course):
                properties[name] = fitted(times, course, tolerance)
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
        properties, moves = {}, False
        for name, prop in EFFECTS.own(layer, effect.id).items():
            spec = EFFECTS.spec_of_kind(effect.kind, name)
            course = [v(EFFECTS.prefix(effect.id) + name) for v in values]
            numeric = spec is not None and spec.kind.course == "curves"
            if numeric and any(value != course[0] for value in course):
                properties[name] = fitted(times, course, 0.3)
                moves = True
            elif not prop.keys:
                properties[name] = prop.model_copy(update={"expression": ""})
        if moves and effect.on:
            found.append(SetEffect(kind=effect.kind, properties=properties))
    return tuple(found)


class AddSavedMove(Edit):
    """A move of the artist's own, from another project."""

    kind: Literal["add-saved-move"] = "add-saved-move"
    move: SavedMove

    def apply(self, project: Project, context: EditContext) -> Project:
        refuse_known(project.saved_moves, self.move.id, "saved move", "move")
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
        old = found(project.saved_moves, self.move, "saved move")
        if self.remove:
            kind = f"own:{old.id}"
            for scene in project.scenes:
                for layer in scene.layers:
                    if any(move.kind == kind for move in layer.moves):
                        raise InUseError(f"{layer.name!r} in {scene.name!r} wears it", field="move")
            rest = without(project.saved_moves, old.id)
            return project.model_copy(update={"saved_moves": rest})
        update = {
            name: value
            for name in ("name", "stretch")
            if (value := getattr(self, name)) is not None
        }
        new = old.model_copy(update=update)
        changed = replaced(project.saved_moves, new)
        return project.model_copy(update={"saved_moves": changed})

    def label(self, project: Project) -> str:
        return "Delete a saved move" if self.remove else "Change a saved move"

    def touches(self) -> list[str]:
        return [f"saved_moves/{self.move}"]
