"""Operations that make more of keys: copied, pasted, repeated."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..core.catalog import check_easing, normalise
from ..core.model import Keyframe, Kind, Layer, Project, Property, PropertySpec, Repeat, Scene
from ..core.model.values import Id, Value
from ..core.timing import REFERENCE
from ..errors import DocumentError
from .base import EditContext, SceneTime, new_id
from .beat_edits import beat_moments
from .key_edits import Finite
from .value_edits import (
    KeyMoves,
    PropertyEdit,
    Target,
    Targets,
    change_properties,
    count_keys,
    find_key,
    put_keys,
)


class CopyKeys(PropertyEdit):
    """Copies of keys at other moments (and values); the originals stay."""

    kind: Literal["copy-keys"] = "copy-keys"
    moves: KeyMoves
    free: bool = False

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        rate = scene.rate.rate
        wanted: dict[tuple[str, str], list[Any]] = {}
        for move in self.moves:
            wanted.setdefault((move.layer, move.property), []).append(move)

        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            copies = []
            for move in wanted[target.layer, target.property]:
                key = find_key(layer, prop, move.key)
                time_s = move.time_s if self.free else rate.snap(move.time_s)
                update: dict[str, Any] = {"id": new_id(), "time_s": time_s - layer.start_s}
                if move.value is not None:
                    update["value"] = normalise(spec, move.value, spec.label)
                copies.append(key.model_copy(update=update))
            return put_keys(prop, copies)

        targets = [Target(layer=layer, property=name) for layer, name in wanted]
        return change_properties(scene, targets, changed)

    def label(self, project: Project) -> str:
        return f"Copy {count_keys(self.moves)} of {self.names(project, self.moves)}"

    def touches(self) -> list[str]:
        return self.paths(self.moves)


class PastedKey(BaseModel):
    """A key from the clipboard; ``at_s`` counts from the first of all copied keys."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    at_s: Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)]
    value: Value
    easing: str = "ease-in-out"
    join: Literal["free", "smooth", "matched"] = "free"
    handle_in: tuple[Finite, Finite] | None = None
    handle_out: tuple[Finite, Finite] | None = None


class PastedTrack(Target):
    """Copied keys of one property, with where they go."""

    keys: Annotated[list[PastedKey], Field(min_length=1, max_length=20_000)]


class Every(BaseModel):
    """How far apart repeated pastes are: so many frames or seconds, at every mark, or at every
    beat, strong beat or part of the music that ``layer``, a sound, is heard to have."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    unit: Literal["frames", "seconds", "marks", "beats", "strong", "sections"]
    count: Annotated[float, Field(gt=0, le=3600, allow_inf_nan=False)] = 1.0
    layer: Id | None = None


class PasteKeys(PropertyEdit):
    """Copied keys put into properties from a moment on, once or again and again."""

    kind: Literal["paste-keys"] = "paste-keys"
    tracks: Annotated[list[PastedTrack], Field(min_length=1, max_length=2000)]
    time_s: SceneTime
    every: Every | None = None
    times: Annotated[int, Field(ge=1, le=1000)] = 1

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        moments = self._moments(project, scene)
        wanted = {(track.layer, track.property): track for track in self.tracks}
        known = {each.id for each in project.easings}

        def pasted(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            field = f"layer {layer.name!r} / {spec.label}"
            if not spec.animatable:
                raise DocumentError(f"{spec.label} cannot have keys", field=field)
            new = []
            for moment in moments:
                for key in wanted[target.layer, target.property].keys:
                    points = spec.kind is Kind.POINT
                    new.append(
                        Keyframe(
                            id=new_id(), time_s=moment + key.at_s - layer.start_s,
                            value=normalise(spec, key.value, field),
                            easing=_known(check_easing(key.easing), known), join=key.join,
                            handle_in=key.handle_in if points else None,
                            handle_out=key.handle_out if points else None,
                        )
                    )  # fmt: skip
            return put_keys(prop, new)

        return change_properties(scene, self.tracks, pasted)

    def _moments(self, project: Project, scene: Scene) -> list[float]:
        if self.every is None:
            return [self.time_s]
        if self.every.unit in ("beats", "strong", "sections"):
            if self.every.layer is None:
                raise DocumentError.expected("every.layer", "the sound whose beats these are", None)
            heard = beat_moments(project, scene, self.every.layer, self.every.unit)
            rate = scene.rate.rate
            beats = [rate.snap(at) for at, _ in heard if at >= self.time_s - 1e-6]
            if not beats:
                raise DocumentError("there is no beat from here on", field="every")
            return beats[: self.times]
        if self.times == 1 and self.every.unit != "marks":
            return [self.time_s]
        if self.every.unit == "marks":
            moments = [mark.time_s for mark in scene.marks if mark.time_s >= self.time_s - 1e-6]
            if not moments:
                raise DocumentError("there is no mark from here on", field="every")
            return moments[: self.times]
        frame = scene.rate.den / scene.rate.num
        step = self.every.count * (frame if self.every.unit == "frames" else 1.0)
        return [self.time_s + step * i for i in range(self.times)]

    def label(self, project: Project) -> str:
        again = f", {self.times} times" if self.times > 1 else ""
        return f"Paste keys into {self.names(project, self.tracks)}{again}"

    def touches(self) -> list[str]:
        return self.paths(self.tracks)


def _known(easing: str, saved: set[str]) -> str:
    """An easing from another project that is not saved here becomes an ordinary one."""
    if easing.startswith(REFERENCE) and easing[len(REFERENCE) :] not in saved:
        return "ease-in-out"
    return easing


class RepeatKeys(PropertyEdit):
    """What follows the last key of properties; no mode: nothing."""

    kind: Literal["repeat-keys"] = "repeat-keys"
    targets: Targets
    mode: Literal["loop", "there-and-back", "build-on"] | None
    times: Annotated[int, Field(ge=2, le=10_000)] | None = None

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        repeat = None if self.mode is None else Repeat(mode=self.mode, times=self.times)

        def changed(target: Target, layer: Layer, spec: PropertySpec, prop: Property) -> Property:
            if len(prop.keys) < 2 and repeat is not None:
                raise DocumentError(f"{spec.label} needs two keys to repeat", field=layer.name)
            return prop.model_copy(update={"repeat": repeat})

        return change_properties(scene, self.targets, changed)

    def label(self, project: Project) -> str:
        what = {None: "no more", "loop": "in a loop", "there-and-back": "there and back"}
        return f"Repeat {self.names(project, self.targets)}: {what.get(self.mode, 'building on')}"

    def touches(self) -> list[str]:
        return self.paths(self.targets)
