"""What the stage shows at a moment: the picture, and all that the editor draws over it."""

from __future__ import annotations

import json
import time
from dataclasses import asdict
from typing import Any

import numpy as np

from ...core.export import encode_preview, raw_preview
from ...core.model import Scene
from ...core.paint import output_size
from ...core.resolve import SceneEvaluator
from ...core.views import (
    Seen,
    SeenFrame,
    SeenScene,
    arrangements_view,
    lanes_of,
    letters_view,
    scene_view,
    with_onion,
)
from ...edits import parse_edits
from ...store import Workspace
from ..frames import RenderKit
from ..messages import Compare, Compared, Looking, Stage, StageShown, pack
from .stage_parts import of_one, paths_of_layers, shapes_of_layers

# While a hand moves something, pictures that take longer than this are drawn smaller by so much.
SLOW_S, COARSER = 0.02, 2
# Stage pictures up to this size travel as raw pixels.
MAX_RAW_PIXELS = 1280 * 720


def preview_size(scene: Scene, height: int) -> tuple[int, int]:
    """Pixels of a preview whose short side has ``height`` px, never above full size."""
    scale = 1.0 if height == 0 else min(1.0, height / min(scene.width, scene.height))
    return output_size(scene.width, scene.height, scale)


def seen_of(request: Looking) -> Seen:
    """What a page has asked to see."""
    return Seen(tuple(request.only), request.dims)


def seen_scene(kit: RenderKit, evaluator: SceneEvaluator, request: Looking) -> SeenScene:
    """A scene as a page sees it."""
    scene_id = evaluator.scene.id
    return SeenScene(
        seen_of(request),
        evaluator,
        lambda project: SceneEvaluator(project, scene_id, kit.tracks, kit.library),
    )


class StageDesk:
    """Answers what one page asks of its stage; it remembers which lanes and paths the page has."""

    def __init__(self, workspace: Workspace, project_id: str, scene_id: str) -> None:
        self._workspace = workspace
        self._project_id, self._scene_id = project_id, scene_id
        self._lanes_key: Any = None
        self._paths_key: Any = None
        self._sent_lanes: dict[tuple[str, str], dict[str, Any]] = {}
        # Whether the pictures of the movement that is under way come coarse.
        self._coarse = False

    def show(self, kit: RenderKit, request: Stage) -> bytes:
        """The stage with its drafts."""
        state = self._workspace.state(self._project_id)
        project = state.project
        if request.drafts:
            project = self._workspace.drafted(self._project_id, parse_edits(request.drafts))
        evaluator = SceneEvaluator(project, self._scene_id, kit.tracks, kit.library)
        scene = evaluator.scene
        number = min(evaluator.rate.frame_at(request.time_s), scene.frame_count - 1)
        time_s = evaluator.rate.time_of(number)
        bare = dict.fromkeys(request.selected, "") if request.bare else {}
        if request.before:
            layer_id, _, effect_id = request.before.partition("|")
            bare = {layer_id: effect_id}
        frame = seen_scene(kit, evaluator, request).frame(number, bare=bare)
        coarse = self._coarse = self._coarse and request.moving
        pixels = self._drawn(kit, frame, scene, request)
        faults = [asdict(fault) for fault in kit.stage.faults]
        shown = StageShown.model_construct(
            id=request.id,
            revision=state.revision,
            frame=number,
            time_s=time_s,
            signature=frame.signature,
            layers=scene_view(evaluator, kit.library, time_s),
            shapes=shapes_of_layers(evaluator, request.selected, time_s),
            arrangements=arrangements_view(evaluator, time_s),
            faults=faults,
            coarse=coarse,
            letters=letters_view(evaluator, kit.library, request.writing, time_s)
            if request.writing
            else None,
            **self._changed(kit, evaluator, request, state.revision),
        )
        if request.onion is not None and request.selected:
            onion = request.onion
            pixels = with_onion(
                pixels, evaluator, kit.library, request.selected, number,
                before=onion.before, after=onion.after, step=onion.step,
            )  # fmt: skip
        return _picture(shown, pixels)

    def compare(self, kit: RenderKit, request: Compare) -> bytes:
        """A second picture beside it."""
        project = self._workspace.state(self._project_id).project
        if request.with_ == "before-edit":
            project = self._workspace.before_last(self._project_id)
        evaluator = SceneEvaluator(project, self._scene_id, kit.tracks, kit.library)
        scene = evaluator.scene
        number = min(evaluator.rate.frame_at(request.time_s), scene.frame_count - 1)
        frame = seen_scene(kit, evaluator, request).frame(number)
        pixels = frame.draw(kit.stage, *preview_size(scene, request.height))
        return _picture(Compared(id=request.id, frame=number), pixels)

    def _drawn(self, kit: RenderKit, frame: SeenFrame, scene: Scene, request: Stage) -> np.ndarray:
        """The picture; sees to it that a movement whose first picture takes long goes on coarse."""
        width, height = preview_size(scene, request.height)
        if self._coarse:
            return frame.draw(kit.stage, max(1, width // COARSER), max(1, height // COARSER))
        began = time.perf_counter()
        pixels = frame.draw(kit.stage, width, height)
        self._coarse = request.moving and time.perf_counter() - began > SLOW_S
        return pixels

    def _changed(
        self, kit: RenderKit, evaluator: SceneEvaluator, request: Stage, revision: int
    ) -> dict[str, Any]:
        """What depends on more than the moment, where it has changed."""
        found: dict[str, Any] = {}
        key = (revision, json.dumps([request.drafts, request.lanes, request.tall]))
        if key != self._lanes_key:
            self._lanes_key = key
            found["lanes"] = self._lanes(kit, evaluator, request)
        key = (revision, json.dumps([request.drafts, request.selected]))
        if key != self._paths_key:
            self._paths_key = key
            found["paths"] = paths_of_layers(evaluator, evaluator.scene, request.selected)
        return found

    def _lanes(
        self, kit: RenderKit, evaluator: SceneEvaluator, request: Stage
    ) -> list[dict[str, Any]]:
        """The lanes of the opened layers; of those that the page has already, only the names."""
        wanted, tall = set(request.lanes), frozenset(request.tall)
        lanes: list[dict[str, Any]] = [
            lane
            for layer in evaluator.scene.layers
            if layer.id in wanted
            for lane in of_one(layer, lambda la: lanes_of(evaluator, la, kit.lanes, tall), [])
        ]
        known = self._sent_lanes
        self._sent_lanes = {(lane["layer"], lane["property"]): lane for lane in lanes}
        return [
            {"layer": lane["layer"], "property": lane["property"], "same": True}
            if known.get((lane["layer"], lane["property"])) is lane
            else lane
            for lane in lanes
        ]


def _picture(message: StageShown | Compared, pixels: np.ndarray) -> bytes:
    """A message with a picture; on one machine moving bytes is cheaper than packing them."""
    height, width = pixels.shape[:2]
    if width * height <= MAX_RAW_PIXELS:
        message.raw = (width, height)
        return pack(message, raw_preview(pixels))
    return pack(message, encode_preview(pixels))
