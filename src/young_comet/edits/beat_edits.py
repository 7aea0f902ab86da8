"""Beats of sounds: set, corrected, turned into marks."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ..core.mix.beats import METER, beats_heard, of_kind, seconds_heard
from ..core.model import Mark, Project, Scene
from ..core.model.document import Asset, BeatGrid
from ..core.model.values import Id
from ..core.resolve import SceneEvaluator
from ..errors import DocumentError
from .base import Edit, EditContext, SceneEdit, SceneTime, find_layer, new_id
from .mark_edits import with_marks
from .named import replaced
from .project_edits import find_asset

Kind = Literal["beats", "strong", "sections"]
# More marks than this help nobody.
MAX_MARKS = 500
FEWEST_TAPS = 4


def beats_of(asset: Asset) -> BeatGrid:
    """The beats of an asset; DocumentError where it has none."""
    if asset.beats is None:
        raise DocumentError("its beats have not been found yet", field=f"asset {asset.name!r}")
    return asset.beats


class HeardAt(BaseModel):
    """Moments of a scene (s), at which a layer's sound is heard."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    scene: Id
    layer: Id
    at_s: Annotated[tuple[SceneTime, ...], Field(min_length=1, max_length=2000)]

    def seconds(self, project: Project) -> list[float]:
        """The seconds of the sound that are heard then; those when nothing is are left out."""
        evaluator = SceneEvaluator(project, self.scene)
        layer = find_layer(evaluator.scene, self.layer)
        found = seconds_heard(evaluator, layer, np.array(sorted(self.at_s)))
        if not len(found):
            raise DocumentError("nothing is heard of it then", field="heard")
        return [max(0.0, float(each)) for each in found]


class BeatEdit(Edit):
    """An edit of the beats of one sound."""

    asset: Id

    def apply(self, project: Project, context: EditContext) -> Project:
        old = find_asset(project, self.asset)
        if not old.channels:
            raise DocumentError.expected("asset", "a sound, or a clip with sound", old.kind)
        grid = self.changed(old, project)
        if grid is not None and grid.times[-1] > old.duration_s + 0.05:
            raise DocumentError("there are beats after the sound's end", field="beats")
        changed = old.model_copy(update={"beats": grid})
        return project.model_copy(update={"assets": replaced(project.assets, changed)})

    def changed(self, asset: Asset, project: Project) -> BeatGrid | None:
        """Must. The beats as they are to be."""
        raise NotImplementedError

    def label(self, project: Project) -> str:
        return f"Beats of {find_asset(project, self.asset).name}"

    def touches(self) -> list[str]:
        return [f"assets/{self.asset}/beats"]


class SetBeats(BeatEdit):
    """The beats of a sound; none: they are forgotten."""

    kind: Literal["set-beats"] = "set-beats"
    beats: BeatGrid | None

    def changed(self, asset: Asset, project: Project) -> BeatGrid | None:
        return self.beats


class TapBeats(BeatEdit):
    """Beats as they were tapped while a layer was heard: evenly over the whole of its sound, by the
    line nearest to the taps. The first of them is strong."""

    kind: Literal["tap-beats"] = "tap-beats"
    heard: HeardAt

    def changed(self, asset: Asset, project: Project) -> BeatGrid | None:
        taps = np.array(self.heard.seconds(project))
        if len(taps) < FEWEST_TAPS:
            raise DocumentError.expected("taps", f"at least {FEWEST_TAPS}", len(taps))
        gaps = np.diff(taps)
        usual = float(np.median(gaps))
        if usual < 0.2:
            raise DocumentError.expected("taps", "at least 0.2 s apart", f"{usual:.2f} s")
        # Who leaves a beat out does not change the tempo.
        numbers = np.concatenate([[0], np.cumsum(np.maximum(1, np.rint(gaps / usual)))])
        slope, start = np.polyfit(numbers, taps, 1)
        return even_grid(float(start), float(slope), asset.duration_s)


class MoveBeat(BeatEdit):
    """A beat laid where a layer is heard at a moment: all go along, or, with ``stretch``, the first
    stays and the others go further apart, or nearer."""

    kind: Literal["move-beat"] = "move-beat"
    beat: Annotated[int, Field(ge=0, le=20_000)]
    heard: HeardAt
    stretch: bool = False

    def changed(self, asset: Asset, project: Project) -> BeatGrid | None:
        grid = beats_of(asset)
        if self.beat >= len(grid.times):
            raise DocumentError.expected("beat", f"up to {len(grid.times) - 1}", self.beat)
        to_s = self.heard.seconds(project)[0]
        times = np.array(grid.times)
        if not self.stretch:
            moved = times + (to_s - times[self.beat])
            return moved_grid(grid, moved, grid.tempo, asset.duration_s)
        span = times[self.beat] - times[0]
        factor = (to_s - times[0]) / span if span > 0 else 0.0
        if not 0.5 <= factor <= 2:
            raise DocumentError("a beat can be stretched to between half and double", field="heard")
        moved = times[0] + (times - times[0]) * factor
        return moved_grid(grid, moved, grid.tempo / factor, asset.duration_s)


class CountBeats(BeatEdit):
    """Twice as many beats, or every other one; or another that is strong."""

    kind: Literal["count-beats"] = "count-beats"
    tempo: Literal["double", "half"] | None = None
    strong: Annotated[int, Field(ge=0, le=20_000)] | None = None

    def changed(self, asset: Asset, project: Project) -> BeatGrid | None:
        grid = beats_of(asset)
        if self.tempo == "double":
            between = [(a + b) / 2 for a, b in pairwise(grid.times)]
            times = tuple(sorted((*grid.times, *(round(t, 6) for t in between))))
            grid = BeatGrid(
                tempo=grid.tempo * 2, times=times, strong=grid.strong * 2,
                sections=tuple(2 * n for n in grid.sections),
            )  # fmt: skip
        elif self.tempo == "half":
            odd = grid.strong % 2
            times = grid.times[odd::2]
            if len(times) < 4:
                raise DocumentError("there would be too few beats left", field="tempo")
            grid = BeatGrid(
                tempo=grid.tempo / 2, times=times, strong=(grid.strong - odd) // 2 % METER,
                sections=tuple(sorted({(n - odd) // 2 for n in grid.sections if n >= odd})),
            )  # fmt: skip
        if self.strong is not None:
            if self.strong >= len(grid.times):
                raise DocumentError.expected("strong", f"up to {len(grid.times) - 1}", self.strong)
            by = self.strong % METER - grid.strong % METER
            moved = {n + by for n in grid.sections}
            sections = tuple(sorted(n for n in moved if 0 <= n < len(grid.times)))
            first = self.strong % METER
            grid = grid.model_copy(update={"strong": first, "sections": sections})
        return grid


class BeatsToMarks(SceneEdit):
    """Marks where the beats of a layer's sound are heard, named by bar and beat; where a mark is
    already, none."""

    kind: Literal["beats-to-marks"] = "beats-to-marks"
    layer: Id
    which: Kind = "strong"

    def change(self, project: Project, scene: Scene, context: EditContext) -> Scene:
        moments = beat_moments(project, scene, self.layer, self.which)
        if not moments:
            raise DocumentError("none of its beats is heard in this scene", field="layer")
        if len(moments) > MAX_MARKS:
            raise DocumentError.expected("which", f"at most {MAX_MARKS} beats", len(moments))
        rate = scene.rate.rate
        taken = {round(mark.time_s, 6) for mark in scene.marks}
        made = []
        for time_s, name in moments:
            at = rate.snap(time_s)
            if round(at, 6) in taken or at >= scene.length_s:
                continue
            taken.add(round(at, 6))
            made.append(Mark(id=new_id(), name=name, time_s=at))
        return with_marks(scene, [*scene.marks, *made])

    def label(self, project: Project) -> str:
        return {"beats": "Mark the beats", "strong": "Mark the strong beats"}.get(
            self.which, "Mark the parts of the music"
        )

    def touches(self) -> list[str]:
        return [f"scenes/{self.scene}/marks"]


def beat_moments(
    project: Project, scene: Scene, layer_id: str, which: str
) -> list[tuple[float, str]]:
    """When the beats of a layer's sound are heard, each with its bar and beat ("5.1")."""
    layer = find_layer(scene, layer_id)
    evaluator = SceneEvaluator(project, scene.id)
    v = evaluator.values(layer, layer.start_s)
    known = "sound.asset" if layer.kind == "sound" else "clip.asset"
    if not v.has(known):
        raise DocumentError.expected("layer", "a sound, or a clip with sound", layer.kind)
    asset = evaluator.asset(v(known))
    if asset is None:
        raise DocumentError("it has no sound", field="layer")
    grid = beats_of(asset)
    found = []
    for time_s, number in beats_heard(evaluator, layer):
        if of_kind(grid, number, which):
            bar, beat = divmod(number - grid.strong, METER)
            found.append((time_s, f"{bar + 1}.{beat + 1}"))
    return found


def even_grid(start_s: float, step_s: float, duration_s: float) -> BeatGrid:
    """Beats that far apart over a whole sound, one of them at ``start_s``, which is strong."""
    first = -int(start_s / step_s + 1e-6)
    count = int((duration_s - start_s) / step_s + 1e-6) + 1
    times = [round(start_s + n * step_s, 6) for n in range(first, count)]
    times = [t for t in times if 0 <= t <= duration_s]
    if len(times) < 2:
        raise DocumentError("the sound is too short for these beats", field="taps")
    return BeatGrid(tempo=round(60 / step_s, 3), times=tuple(times[:20_000]), strong=-first % METER)


def moved_grid(grid: BeatGrid, times: np.ndarray, tempo: float, duration_s: float) -> BeatGrid:
    """Beats at other times; those that would lie beside the sound are left out."""
    inside = np.flatnonzero((times > -1e-6) & (times <= duration_s))
    if len(inside) < 2:
        raise DocumentError("no beats would be left in the sound", field="heard")
    first, last = int(inside[0]), int(inside[-1])
    kept = [round(max(0.0, float(t)), 6) for t in times[first : last + 1]]
    return BeatGrid(
        tempo=round(tempo, 3), times=tuple(kept), strong=(grid.strong - first) % METER,
        sections=tuple(n - first for n in grid.sections if first <= n <= last),
    )  # fmt: skip
