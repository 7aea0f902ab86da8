"""Scenes placed in another one, one after the other."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.effort import spend
from ..core.model import Layer, Project, Property, Scene
from ..core.model.document import Tie
from ..core.model.values import MAX_LENGTH_S, Id
from ..errors import DocumentError
from .base import EditContext, NewId, SceneEdit, SceneTime, find_scene, snap_span
from .layer_edits import next_name
from .named import refuse_known


class Placing(BaseModel):
    """A scene and the id of the layer that shows it."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    scene: Id
    id: NewId


class PlaceScenes(SceneEdit):
    """Scenes as layers on top of the stack, each from where the one before ends, tied to it; the
    first from ``at_s``. The scene becomes as long as they need; an empty one exactly so long."""

    kind: Literal["place-scenes"] = "place-scenes"
    placed: Annotated[list[Placing], Field(min_length=1, max_length=100)]
    at_s: SceneTime = 0.0

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        titles = {layer.name for layer in scene.layers}
        taken: list[Layer] = list(scene.layers)
        at_s, before = self.at_s, None
        for each in self.placed:
            spend(1)
            inner = find_scene(project, each.scene)
            refuse_known(taken, each.id, "layer", "placed")
            name = inner.name if inner.name not in titles else next_name(inner.name, titles)
            titles.add(name)
            start_s, end_s = snap_span(scene, at_s, at_s + inner.length_s, f"scene {inner.name!r}")
            tie = None if before is None else Tie(to="layer", id=before, moment="end")
            taken.append(
                Layer(
                    id=each.id, name=name, kind="scene", start_s=start_s, end_s=end_s,
                    start_tie=tie, properties={"scene.id": Property(value=inner.id)},
                )
            )  # fmt: skip
            at_s, before = end_s, each.id
        if at_s > MAX_LENGTH_S:
            raise DocumentError("together they are longer than an hour", field="placed")
        length_s = at_s if not scene.layers else max(scene.length_s, at_s)
        return scene.model_copy(update={"layers": tuple(taken), "length_s": length_s})

    def label(self, project: Project) -> str:
        if len(self.placed) == 1:
            return f"Place {find_scene(project, self.placed[0].scene).name}"
        return f"Place {len(self.placed)} scenes one after another"

    def touches(self) -> list[str]:
        layers = self.layer_paths([each.id for each in self.placed])
        return [*layers, f"scenes/{self.scene}/length_s"]
