"""Operations on ties: moments that hang on one another, and the lengths of phases."""

from __future__ import annotations

import itertools
from typing import Annotated, Any, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.model import Layer, Project, Scene, Tie
from ..core.model.arrangements import holds_of
from ..core.model.ties import moment_of
from ..core.model.values import Id, PhaseLength, Seconds
from ..errors import DocumentError
from .arrangement_finding import find_arrangement
from .base import (
    EditContext,
    LayerIds,
    SceneEdit,
    find_layer,
    find_scene,
    names_of,
    with_layers,
)
from .mark_edits import find_mark
from .named import replaced

_MOMENTS = {
    "start": "the start of {0}", "arrived": "the moment {0} has arrived",
    "leaves": "the moment {0} begins to leave", "end": "the end of {0}",
}  # fmt: skip


class TieTarget(BaseModel):
    """What is tied: a layer's start or end, or a mark."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    layer: Id | None = None
    side: Literal["start", "end"] = "start"
    mark: Id | None = None


TieTargets = Annotated[list[TieTarget], Field(min_length=1, max_length=2000)]


class TieTimes(SceneEdit):
    """Starts, ends or marks hang on another moment from now on: ``offset_s`` after it, or at the
    distance that they have now (None)."""

    arranged: ClassVar[bool] = False
    kind: Literal["tie-times"] = "tie-times"
    targets: TieTargets
    to: Literal["layer", "mark", "scene", "arrangement"]
    id: Id | None = None
    moment: Literal["start", "arrived", "leaves", "end"] = "start"
    offset_s: Seconds | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        base = self._base(scene)
        for target in self.targets:
            now = _time_of(scene, target)
            offset = round(now - base, 6) if self.offset_s is None else self.offset_s
            tie = Tie(to=self.to, id=self.id, moment=self.moment, offset_s=offset)
            scene = with_tie(scene, target, tie)
        return scene

    def _base(self, scene: Scene) -> float:
        if self.to == "layer":
            return moment_of(find_layer(scene, self.id or ""), self.moment)
        if self.to == "mark":
            return find_mark(scene, self.id or "").time_s
        if self.moment not in ("start", "end"):
            expected = f"start or end of the {self.to}"
            raise DocumentError.expected("moment", expected, self.moment)
        if self.to == "arrangement":
            find_arrangement(scene, self.id or "")
            for each, hold in zip(scene.arrangements, holds_of(scene), strict=True):
                if each.id == self.id:
                    return hold[self.moment == "end"]
        return scene.length_s if self.moment == "end" else 0.0

    def label(self, project: Project) -> str:
        what = _MOMENTS[self.moment]
        if self.to == "layer":
            return f"Tie to {what.format(names_of(project, self.scene, [self.id or '']))}"
        if self.to == "arrangement":
            scene = find_scene(project, self.scene)
            name = next((each.name for each in scene.arrangements if each.id == self.id), "it")
            return f"Tie to {what.format(name)}"
        return f"Tie to {'a mark' if self.to == 'mark' else what.format('the scene')}"

    def touches(self) -> list[str]:
        return [_path(self.scene, target) for target in self.targets]


class CutTies(SceneEdit):
    """Ties go; all times stay where they are."""

    arranged: ClassVar[bool] = False
    kind: Literal["cut-ties"] = "cut-ties"
    targets: TieTargets

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        for target in self.targets:
            scene = with_tie(scene, target, None)
        return scene

    def label(self, project: Project) -> str:
        return "Cut a tie" if len(self.targets) == 1 else f"Cut {len(self.targets)} ties"

    def touches(self) -> list[str]:
        return [_path(self.scene, target) for target in self.targets]


class TieInRow(SceneEdit):
    """One after another: every layer starts some seconds after the one before it has arrived, or
    has ended. The first stays; the order is that of their starts."""

    arranged: ClassVar[bool] = False
    kind: Literal["tie-in-row"] = "tie-in-row"
    layers: Annotated[list[Id], Field(min_length=2, max_length=2000)]
    after: Literal["start", "arrived", "leaves", "end"] = "arrived"
    gap_s: Seconds = 0.0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        chosen = [find_layer(scene, layer_id) for layer_id in self.layers]
        order = {layer.id: i for i, layer in enumerate(scene.layers)}
        chosen.sort(key=lambda layer: (layer.start_s, order[layer.id]))
        for before, layer in itertools.pairwise(chosen):
            tie = Tie(to="layer", id=before.id, moment=self.after, offset_s=self.gap_s)
            scene = with_tie(scene, TieTarget(layer=layer.id), tie)
        return scene

    def label(self, project: Project) -> str:
        return f"{len(self.layers)} layers one after another"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/span")


class SetPhases(SceneEdit):
    """How long layers take to arrive and to leave, and whether that follows from their moves; None
    leaves one as it is."""

    kind: Literal["set-phases"] = "set-phases"
    layers: LayerIds
    arrive_s: PhaseLength | None = None
    leave_s: PhaseLength | None = None
    arrive_follows: bool | None = None
    leave_follows: bool | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        def phased(layer: Layer) -> Layer:
            length = layer.end_s - layer.start_s
            update: dict[str, Any] = {}
            if self.arrive_s is not None:
                update["arrive_s"] = min(self.arrive_s, length)
            if self.leave_s is not None:
                update["leave_s"] = min(self.leave_s, length)
            follows = {"arrive_follows": self.arrive_follows, "leave_follows": self.leave_follows}
            update |= {name: value for name, value in follows.items() if value is not None}
            return layer.model_copy(update=update)

        return with_layers(scene, self.layers, phased)

    def label(self, project: Project) -> str:
        arriving = self.arrive_s is not None or self.arrive_follows is not None
        which = "arriving" if arriving else "leaving"
        return f"Length of {which}: {names_of(project, self.scene, self.layers)}"

    def touches(self) -> list[str]:
        return self.layer_paths(self.layers, "/phases")


def with_tie(scene: Scene, target: TieTarget, tie: Tie | None) -> Scene:
    """The scene with another tie, or none, on one moment."""
    if target.mark is not None:
        old = find_mark(scene, target.mark)
        if tie is not None and tie.to == "mark" and tie.id == old.id:
            raise DocumentError("a mark cannot be tied to itself", field="targets")
        changed = old.model_copy(update={"tie": tie})
        marks = replaced(scene.marks, changed)
        return scene.model_copy(update={"marks": marks})
    if target.layer is None:
        raise DocumentError.expected("targets", "a layer or a mark", target.model_dump())
    update = {f"{target.side}_tie": tie}
    return with_layers(scene, [target.layer], lambda layer: layer.model_copy(update=update))


def _time_of(scene: Scene, target: TieTarget) -> float:
    if target.mark is not None:
        return find_mark(scene, target.mark).time_s
    layer = find_layer(scene, target.layer or "")
    return layer.start_s if target.side == "start" else layer.end_s


def _path(scene_id: str, target: TieTarget) -> str:
    if target.mark is not None:
        return f"scenes/{scene_id}/marks/{target.mark}"
    return f"scenes/{scene_id}/layers/{target.layer}/span"
