"""A search for a match: what is compared, one frame a step, and what is told of it."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

from ...core.model import Project, Scene
from ...core.resolve import SceneEvaluator
from ...core.views import Comparer, best_matches, judge_loop
from ...errors import DocumentError, NotFoundError, YoungCometError
from ..frames import RenderKit
from ..messages import FindMatch, Matched, Told


def search(
    project: Callable[[], Project],
    scene_id: str,
    kit: RenderKit,
    request: FindMatch,
    tell: Callable[[Told], None],
) -> Iterator[None]:
    """Compares one frame a step, telling how far it is; the last message has the result."""
    try:
        evaluator = SceneEvaluator(project(), scene_id, kit.tracks, kit.library)
        last = min(request.last, evaluator.scene.frame_count - 1)
        frames = range(min(request.first, last), last + 1)
        compared = comparison(evaluator.project, evaluator, Comparer(kit.small), request, frames)
        steps, total = compared
    except YoungCometError as error:
        tell(Matched(id=request.id, error=str(error)))
        return
    values: list[float | None] = []
    started = told = time.monotonic()
    try:
        for value in steps:
            values.append(value)
            now = time.monotonic()
            if now - told > 0.2:
                told = now
                left = (now - started) / len(values) * (total - len(values))
                done = len(values)
                tell(Matched(id=request.id, done=done, total=total, left_s=round(left, 1)))
            yield
    except Exception as error:
        why = f"the search failed ({type(error).__name__}: {error})"
        tell(Matched(id=request.id, error=why))
        raise
    tell(match_result(request, frames, values, evaluator.scene))


def comparison(
    project: Project,
    evaluator: SceneEvaluator,
    comparer: Comparer,
    request: FindMatch,
    frames: range,
) -> tuple[Iterator[float | None], int]:
    """The steps of a comparison and how many there will be."""
    scene = evaluator.scene
    if request.how == "layers":
        known = {layer.id for layer in scene.layers}
        for layer_id in (request.one, request.other):
            if layer_id not in known:
                raise NotFoundError(f"there is no layer {layer_id!r}", field="layer")
        if request.one == request.other:
            raise DocumentError("choose two different layers", field="other")
        return comparer.layers(evaluator, request.one, request.other, frames), len(frames)
    if request.how == "moment":
        still = SceneEvaluator(project, request.scene or scene.id, library=evaluator.library)
        number = min(request.number, still.scene.frame_count - 1)
        return comparer.moment(still, number, evaluator, frames), len(frames)
    return comparer.loop(evaluator, frames), 1 + 2 * max(1, min(6, (len(frames) - 1) // 2))


def match_result(
    request: FindMatch, frames: range, values: list[float | None], scene: Scene
) -> Matched:
    """What a finished comparison found."""
    if request.how == "loop":
        verdict = judge_loop([value or 0.0 for value in values])
        loop = {"seam": verdict.seam, "usual": verdict.usual, "seamless": verdict.seamless}
        return Matched(id=request.id, how=request.how, loop=loop)
    near, offered = None, values
    if request.how == "layers":
        near, possible = hand_overs(scene, request.one, request.other)
        offered = [
            value if frames.start + index in possible else None
            for index, value in enumerate(values)
        ]
    best = best_matches(frames.start, offered, near=near)
    return Matched(
        id=request.id,
        how=request.how,
        first=frames.start,
        values=[None if value is None else round(value, 3) for value in values],
        best=[{"frame": m.frame, "difference": round(m.difference, 3)} for m in best],
    )


def hand_overs(scene: Scene, one: str, other: str) -> tuple[int, range]:
    """The frame at which one layer hands over to another now, and those at which it may: neither
    would be left without a frame."""
    rate = scene.rate.rate
    spans = {layer.id: (layer.start_s, layer.end_s) for layer in scene.layers}
    first, last = rate.nearest_frame(spans[one][0]), rate.nearest_frame(spans[other][1])
    return rate.nearest_frame(spans[other][0]), range(first + 1, last)
