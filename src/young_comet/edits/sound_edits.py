"""Sounds placed so that their moment lies where it should."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.catalog import LAYER_KINDS
from ..core.model import Layer, Project, Property, Scene
from ..core.model.document import Tie
from ..core.model.values import MAX_NAME, Id, Name
from ..errors import DocumentError
from .base import EditContext, NewId, SceneEdit, SceneTime, find_layer, names_of
from .layer_edits import AddLayers, next_name
from .named import refuse_known
from .project_edits import find_asset

Moment = Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)]


class SeparateSound(SceneEdit):
    """A clip's sound as a layer of its own, right above the clip, where it is heard as before; the
    clip is silent then."""

    kind: Literal["separate-sound"] = "separate-sound"
    id: NewId
    layer: Id

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        clip = find_layer(scene, self.layer)
        refuse_known(scene.layers, self.id, "layer", "layer")
        v = context.evaluator(project, scene.id).values(clip, clip.start_s)
        if clip.kind != "clip":
            raise DocumentError.expected("layer", "a clip with sound", clip.kind)
        asset = find_asset(project, v("clip.asset"))
        if not asset.channels:
            raise DocumentError(f"{asset.name!r} has no sound", field="layer")
        if v("time.curve"):
            raise DocumentError("a sound has no time curve: take the clip's off", field="layer")
        if v("time.frozen"):
            raise DocumentError("let the clip run again: a frozen one is silent", field="layer")
        known = {spec.id for spec in LAYER_KINDS["sound"].specs}
        own = {name: each for name, each in clip.properties.items() if name in known}
        own["sound.asset"] = Property(value=asset.id)
        if v("time.after") not in ("loop", "there-and-back"):
            own.pop("time.after", None)  # a picture stays, a sound ends
        taken = {layer.name for layer in scene.layers}
        stem = f"Sound of {clip.name}"[:MAX_NAME]
        sound = Layer(
            id=self.id, name=next_name(stem, taken) if stem in taken else stem, kind="sound",
            start_s=clip.start_s, end_s=clip.end_s, start_tie=clip.start_tie,
            end_tie=clip.end_tie, group=clip.group, properties=own,
        )  # fmt: skip
        silent = clip.model_copy(
            update={"properties": {**clip.properties, "sound.on": Property(value=False)}}
        )
        at = scene.layers.index(clip)
        layers = (*scene.layers[:at], silent, sound, *scene.layers[at + 1 :])
        return scene.model_copy(update={"layers": layers})

    def label(self, project: Project) -> str:
        return f"Separate the sound of {names_of(project, self.scene, [self.layer])}"

    def touches(self) -> list[str]:
        return [*self.layer_paths([self.id, self.layer]), f"scenes/{self.scene}/order"]


class PlaceSound(SceneEdit):
    """A sound as a layer on top of the stack, its ``moment_s`` (from its own beginning) exactly at
    ``at_s``, between frames too: its span begins on a frame and it is slipped by the rest. What
    would lie before the scene's start is cut off. With ``tied`` its start goes with a moment of
    that layer."""

    kind: Literal["place-sound"] = "place-sound"
    id: NewId
    asset: Id
    name: Name | None = None
    at_s: SceneTime
    moment_s: Moment = 0.0
    tied: Id | None = None
    tied_to: Literal["start", "arrived", "leaves", "end"] = "start"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        asset = find_asset(project, self.asset)
        if asset.kind != "sound":
            raise DocumentError.expected("asset", "a sound", asset.kind)
        rate = scene.rate.rate
        begins = self.at_s - self.moment_s
        frame = rate.frame_at(max(0.0, begins))
        start_s = rate.time_of(frame)
        last = rate.time_of(scene.frame_count - 1)
        if start_s > last:
            raise DocumentError.expected("at_s", f"a time before {scene.length_s:g} s", self.at_s)
        end_s = rate.snap(begins + asset.duration_s)
        if end_s < begins + asset.duration_s - 1e-9:
            end_s = rate.time_of(rate.frame_at(end_s) + 1)
        end_s = max(min(scene.length_s, end_s), rate.time_of(frame + 1))
        properties = {"sound.asset": Property(value=asset.id)}
        if abs(slip := start_s - begins) > 1e-6:
            properties["time.offset"] = Property(value=round(slip, 6))
        stem = self.name or asset.name.rsplit(".", 1)[0] or "Sound"
        taken = {layer.name for layer in scene.layers}
        name = next_name(stem, taken) if stem in taken else stem
        tie = self._tie(scene, start_s) if self.tied else None
        layer = Layer(
            id=self.id, name=name, kind="sound", start_s=start_s, end_s=end_s, start_tie=tie,
            properties=properties,
        )  # fmt: skip
        return AddLayers(scene=scene.id, layers=[layer]).change(project, scene, context)

    def _tie(self, scene: Scene, start_s: float) -> Tie:
        other = find_layer(scene, self.tied or "")
        moment = {
            "start": other.start_s, "arrived": other.start_s + other.arrive_s,
            "leaves": other.end_s - other.leave_s, "end": other.end_s,
        }[self.tied_to]  # fmt: skip
        offset_s = round(start_s - moment, 6)
        return Tie(to="layer", id=other.id, moment=self.tied_to, offset_s=offset_s)

    def label(self, project: Project) -> str:
        return f"Place {self.name or find_asset(project, self.asset).name}"

    def touches(self) -> list[str]:
        return [*self.layer_paths([self.id]), f"scenes/{self.scene}/order"]
