"""Moments where pictures agree: where a copy can hand over to another, where a scene loops."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ...errors import DocumentError
from ..frame.resolved import ResolvedFrame
from ..model import Layer
from ..paint.renderer import Renderer
from ..pixels.resample import resized
from ..resolve.scene import SceneEvaluator

# Pictures are compared at this width: differences of a pixel or two of the frame still count.
WIDTH = 320
APART = 4
# What stands out between two matches, in percent and as a share of the whole curve's height; what
# counts as level; from which alpha on a pixel shows something.
_RIDGE, _RIDGE_SHARE, _LEVEL = 0.15, 0.05, 0.02
_SEEN = 8


@dataclass(frozen=True, slots=True)
class Match:
    """A moment where two pictures agree best; ``difference`` in percent of full scale."""

    frame: int
    difference: float


def difference(a: np.ndarray, b: np.ndarray) -> float:
    """Root mean square of the difference of two pictures, 0..100 (percent of full scale)."""
    away = a.astype(np.float32) - b.astype(np.float32)
    return float(np.sqrt((away * away).mean()) / 255 * 100)


def difference_of_covers(a: np.ndarray, b: np.ndarray) -> float | None:
    """As ``difference``, over the pixels where either picture shows anything; None where one of
    them shows nothing."""
    covers = [picture[:, :, 3] >= _SEEN for picture in (a, b)]
    if not all(cover.any() for cover in covers):
        return None
    cover = covers[0] | covers[1]
    return difference(a[cover], b[cover])


def best_matches(
    first: int,
    values: Sequence[float | None],
    count: int = 6,
    *,
    near: int | None = None,
) -> list[Match]:
    """The lowest valleys of a curve of differences whose first value is for frame ``first``, the
    best first. Valleys count as one unless a ridge parts them; a level stretch is one moment, the
    one nearest to frame ``near``. Where there is no value, there is no match."""
    known = [value for value in values if value is not None]
    if not known:
        return []
    ridge = max(_RIDGE, _RIDGE_SHARE * (max(known) - min(known)))
    chosen: list[int] = []
    taken = [value is None for value in values]
    for index in sorted(range(len(values)), key=lambda i: (_or_far(values[i]), i)):
        value = values[index]
        if value is None or taken[index] or len(chosen) == count:
            continue
        low, high = _valley(values, index, value + ridge)
        fresh = not any(taken[low : high + 1])
        level = _valley(values, index, value + _LEVEL)
        for each in range(low, high + 1):
            taken[each] = True
        best = index
        if near is not None:
            best = min(max(near - first, level[0]), level[1])
        if fresh and not any(abs(best - other) < APART for other in chosen):
            chosen.append(best)
    return [Match(first + index, float(values[index] or 0.0)) for index in chosen]


def _or_far(value: float | None) -> float:
    return math.inf if value is None else value


def _valley(values: Sequence[float | None], index: int, rim: float) -> tuple[int, int]:
    """The first and last of the moments about one that lie below a rim without a break."""
    low = high = index
    while low > 0 and _or_far(values[low - 1]) <= rim:
        low -= 1
    while high < len(values) - 1 and _or_far(values[high + 1]) <= rim:
        high += 1
    return low, high


class Comparer:
    """Draws small pictures of scenes and compares them, one frame a step."""

    def __init__(self, renderer: Renderer) -> None:
        self._renderer = renderer

    def picture(self, evaluator: SceneEvaluator, number: int) -> np.ndarray:
        """A frame at the size of comparison."""
        scene = evaluator.scene
        height = max(1, round(WIDTH * scene.height / scene.width))
        return self._renderer.render(evaluator.frame(number), WIDTH, height)

    def layers(
        self, evaluator: SceneEvaluator, one: str, other: str, frames: range
    ) -> Iterator[float | None]:
        """How much two layers differ, frame by frame, in what each would show if it were on then,
        whatever its span; as if neither arrived or left by moves. None where one of them shows
        nothing. DocumentError where both are one."""
        layers = [evaluator.find(layer_id) for layer_id in (one, other)]
        if one == other or layers[0] is None or layers[1] is None:
            raise DocumentError("choose two different layers", field="layer")
        for number in frames:
            pictures = [self._alone(evaluator, layer, number) for layer in layers if layer]
            yield difference_of_covers(pictures[0], pictures[1])

    def _alone(self, evaluator: SceneEvaluator, layer: Layer, number: int) -> np.ndarray:
        """A layer by itself on nothing, at a frame at which it need not be on."""
        scene = evaluator.scene
        evaluator.memo.clear()
        evaluator.budget.renew()
        moves = tuple(move for move in layer.moves if move.phase == "dwell")
        shown = layer.model_copy(update={"moves": moves}) if moves != layer.moves else layer
        drawn = evaluator.drawn(shown, evaluator.rate.time_of(number))
        visible = tuple(each for each in drawn if each.opacity > 0)
        frame = ResolvedFrame(scene.width, scene.height, None, visible, evaluator.rate.fps)
        height = max(1, round(WIDTH * scene.height / scene.width))
        return self._renderer.render(frame, WIDTH, height)

    def moment(
        self, still: SceneEvaluator, number: int, moving: SceneEvaluator, frames: range
    ) -> Iterator[float]:
        """How much every frame of one scene differs from one moment of another (or itself)."""
        goal = self.picture(still, number)
        for each in frames:
            picture = self.picture(moving, each)
            if picture.shape != goal.shape:
                picture = resized(picture, goal.shape[1], goal.shape[0])
            yield difference(goal, picture)

    def loop(self, evaluator: SceneEvaluator, frames: range) -> Iterator[float]:
        """First the step from the last frame of a stretch back to its first, then the ordinary
        steps just inside both ends: the seam does not show where it is no larger than they."""
        first, last = frames.start, frames.stop - 1
        begin, end = self.picture(evaluator, first), self.picture(evaluator, last)
        yield difference(end, begin)
        inner = max(1, min(6, (len(frames) - 1) // 2))
        before = begin
        for number in range(first + 1, first + 1 + inner):
            now = self.picture(evaluator, number)
            yield difference(before, now)
            before = now
        after = end
        for number in range(last - 1, last - 1 - inner, -1):
            now = self.picture(evaluator, number)
            yield difference(now, after)
            after = now


@dataclass(frozen=True, slots=True)
class LoopVerdict:
    """The seam's step, the largest ordinary step beside it, and whether the seam shows."""

    seam: float
    usual: float
    seamless: bool


def judge_loop(values: list[float]) -> LoopVerdict:
    """What ``Comparer.loop`` gave, judged: a seam up to a quarter above its neighbours is not
    seen; nor is one below 0.15 %."""
    seam, usual = values[0], max(values[1:], default=0.0)
    return LoopVerdict(seam, usual, seam <= max(usual * 1.25, 0.15))
