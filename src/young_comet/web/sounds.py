"""The mixes of open scenes, for playing and for drawing."""

from __future__ import annotations

import threading
from collections import OrderedDict

import numpy as np

from ..core.audio import sample_at
from ..core.export import Loudness, measured
from ..core.mix import SceneMix, Wave, wave_of
from ..core.model import Project
from ..core.paint import MediaLibrary
from ..core.resolve import SceneEvaluator
from ..core.resolve.contents import sound_of
from ..errors import NotFoundError
from ..store import AssetStore, Workspace

_KEPT = 4


class SoundService:
    """Mixes by the state of their project. Callable from any thread; one is at work at a time."""

    def __init__(self, workspace: Workspace, assets: AssetStore) -> None:
        self._workspace, self._assets = workspace, assets
        self._lock = threading.Lock()
        self._loud: OrderedDict[tuple[str, str], tuple[int, Loudness]] = OrderedDict()
        self._mixes: OrderedDict[tuple[str, str], tuple[int, SceneMix]] = OrderedDict()

    def samples(
        self, project_id: str, scene_id: str, first: int, count: int
    ) -> tuple[int, np.ndarray]:
        """The project's revision, and the scene's samples as it is then, float32 (count, 2)."""
        with self._lock:
            revision, mix = self._mix(project_id, scene_id)
            return revision, mix.samples(first, count)

    def facts(self, project_id: str, scene_id: str) -> dict[str, object]:
        """Whether anything is heard, how many samples there are, and what cannot be read."""
        with self._lock:
            revision, mix = self._mix(project_id, scene_id)
            return {
                "revision": revision, "heard": bool(mix.voices), "samples": mix.length,
                "faults": mix.faults, "layers": list(mix.voices),
            }  # fmt: skip

    def loudness(self, project_id: str, scene_id: str) -> Loudness:
        """How loud the scene is over its working range."""
        state = self._workspace.state(project_id)
        key = (project_id, scene_id)
        with self._lock:
            found = self._loud.get(key)
        if found is None or found[0] != state.revision:
            # With a mix of its own: playing goes on meanwhile.
            mix = SceneMix(self._evaluator(state.project, scene_id), self._assets)
            first, last = map(sample_at, mix.evaluator.scene.working_range)
            found = (
                state.revision,
                measured(lambda at, count: mix.samples(first + at, count), last - first),
            )
            with self._lock:
                self._loud[key] = found
                while len(self._loud) > _KEPT:
                    self._loud.popitem(last=False)
        return found[1]

    def wave(
        self, project_id: str, scene_id: str, layer_id: str, span: tuple[float, float], columns: int
    ) -> Wave:
        """What a layer's sound looks like; NotFoundError where nothing is heard of it."""
        with self._lock:
            _, mix = self._mix(project_id, scene_id)
            voice = mix.voices.get(layer_id)
            asset = None if voice is None else sound_of(mix.evaluator, voice.values)
            if voice is None or asset is None:
                words = "no sound of its own is heard of this layer"
                raise NotFoundError(words, field="layer")
            return wave_of(mix, voice, self._assets.peaks(asset.hash), *span, columns)

    def _evaluator(self, project: Project, scene_id: str) -> SceneEvaluator:
        """What evaluates a scene: gains may have formulas that go by what is heard."""
        return SceneEvaluator(project, scene_id, library=MediaLibrary(self._assets))

    def _mix(self, project_id: str, scene_id: str) -> tuple[int, SceneMix]:
        state = self._workspace.state(project_id)
        key = (project_id, scene_id)
        found = self._mixes.get(key)
        if found is None or found[0] != state.revision:
            evaluator = self._evaluator(state.project, scene_id)
            found = (state.revision, SceneMix(evaluator, self._assets))
            self._mixes[key] = found
        self._mixes.move_to_end(key)
        while len(self._mixes) > _KEPT:
            self._mixes.popitem(last=False)
        return found
