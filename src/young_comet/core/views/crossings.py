"""Transitions as an editor shows them: where layers meet, what becomes what, and moving pictures
for choosing one."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..catalog import TRANSITIONS, transition_kind
from ..model import Layer, Scene
from ..paint.renderer import Renderer
from ..resolve.joints import MEETS, Meeting, meetings_of
from ..resolve.pairs import UNSEEN, pairs_of
from ..resolve.scene import SceneEvaluator
from ..transitions import Joint
from .samples import MOVE_FRAMES, MOVE_HEIGHT, MOVE_WIDTH


def transition_sample(
    evaluator: SceneEvaluator, layer_id: str, renderer: Renderer
) -> np.ndarray | None:
    """Frames of the transition by which a layer takes over, side by side, and behind them the one
    in its middle: (63, 17 * 112, 4). None where it does not happen."""
    scene = evaluator.scene
    meeting = next((m for m in meetings_of(scene) if m.second.id == layer_id), None)
    if meeting is None:
        return None
    # In the shape of a sample, as much of the frame as has room.
    share = min(MOVE_WIDTH / scene.width, MOVE_HEIGHT / scene.height)
    width = max(2, round(scene.width * share))
    height = max(2, round(scene.height * share))
    left, top = (MOVE_WIDTH - width) // 2, (MOVE_HEIGHT - height) // 2

    def cell(pixels: np.ndarray) -> np.ndarray:
        found = np.zeros((MOVE_HEIGHT, MOVE_WIDTH, 4), np.uint8)
        found[:, :, 3] = 255
        found[top : top + height, left : left + width] = pixels
        return found

    def frame(time_s: float) -> np.ndarray:
        return renderer.render(evaluator.at(time_s), width, height).copy()

    shares = [n / (MOVE_FRAMES - 1) for n in range(MOVE_FRAMES)] + [0.45]
    kind = transition_kind(meeting.transition.kind)
    frame_s = scene.rate.den / scene.rate.num
    long = meeting.end_s - meeting.begin_s - frame_s
    if kind.matches:
        drawn = [frame(meeting.begin_s + share * long) for share in shares]
        return np.ascontiguousarray(np.hstack([cell(each) for each in drawn]))
    # Both pictures are made once: what crosses at this size hardly moves meanwhile.
    first, second = frame(meeting.begin_s), frame(meeting.end_s - frame_s)
    values = evaluator.values(meeting.second, meeting.begin_s).own(TRANSITIONS, meeting.transition)
    easing = evaluator.easing(values["easing"])
    scale = width / scene.width
    drawn = []
    for share in shares:
        eased = min(1.0, max(0.0, easing.at(share, long)))
        joint = Joint(first, second, eased, 0.0, values, scale, lambda name: None)
        drawn.append(kind.draw(joint))
    return np.ascontiguousarray(np.hstack([cell(each) for each in drawn]))


def crossings_view(evaluator: SceneEvaluator) -> dict[str, dict[str, Any]]:
    """By layers that take over from others, under ``transition``: when that happens (``begin_s``,
    ``end_s``), or why it does not (``idle``), and for a matched one the layers of the first scene
    with what they become (``pairs``) and what they could (``goals``)."""
    meetings = {each.second.id: each for each in evaluator.meetings}
    found: dict[str, dict[str, Any]] = {}
    for layer in evaluator.scene.layers:
        if layer.transitions:
            meeting = meetings.get(layer.id)
            idle = {"idle": _idle(evaluator.scene, layer)}
            found[layer.id] = {"transition": _told(evaluator, meeting) if meeting else idle}
    return found


def _told(evaluator: SceneEvaluator, meeting: Meeting) -> dict[str, Any]:
    told: dict[str, Any] = {"begin_s": meeting.begin_s, "end_s": meeting.end_s}
    if not transition_kind(meeting.transition.kind).matches:
        return told
    scenes = {scene.id: scene for scene in evaluator.project.scenes}
    first, second = (
        scenes.get(str(evaluator.values(layer, layer.start_s)("scene.id")))
        if layer.kind == "scene" else None
        for layer in (meeting.first, meeting.second)
    )  # fmt: skip
    if first is None or second is None:
        return told
    corrected = dict(meeting.transition.pairs)
    pairs = pairs_of(first, second, corrected)
    seen = _there(evaluator, meeting, meeting.first, first)
    told["pairs"] = [
        {"of": each.id, "name": each.name, "to": pairs.get(each.id, ""),
         "corrected": each.id in corrected}
        for each in seen
    ]  # fmt: skip
    goals = _there(evaluator, meeting, meeting.second, second)
    wanted = {pairs.get(each.id) for each in seen} - {each.id for each in goals}
    goals += [each for each in second.layers if each.id in wanted]
    told["goals"] = [(each.id, each.name) for each in goals]
    return told


def _there(evaluator: SceneEvaluator, meeting: Meeting, placed: Layer, scene: Scene) -> list[Layer]:
    """The layers of a placed scene that are on at some time of a transition, if it is played as it
    is; all that can be seen where it is not."""
    layers = [each for each in scene.layers if each.kind not in UNSEEN and not each.hidden]
    v = evaluator.values(placed, placed.start_s)
    if v("time.curve") or v("time.frozen") or v("time.reversed") or v("time.speed") != 100:
        return layers
    shift = v("time.from") + v("time.offset") - placed.start_s
    begin, end = max(0.0, meeting.begin_s + shift), min(scene.length_s, meeting.end_s + shift)
    return [each for each in layers if each.start_s < end and each.end_s > begin]


def _idle(scene: Scene, layer: Layer) -> str:
    """Why a transition does not happen."""
    held = layer.transitions[0]
    first = next((each for each in scene.layers if each.id == held.before), None)
    if first is None:
        return "The layer before is gone."
    if not held.on:
        return "It is off."
    if first.hidden or layer.hidden:
        return "One of its layers is hidden."
    frame_s = scene.rate.den / scene.rate.num
    if abs(first.end_s - layer.start_s) > MEETS * frame_s:
        return (
            f"{first.name} ends at {first.end_s:g} s, {layer.name} begins at {layer.start_s:g} s."
        )
    return "There is no room for it, or its layer gives way to another."
