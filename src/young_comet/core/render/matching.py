"""Moments where pictures agree: where a copy can hand over to another, where a scene loops."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..pixels.resample import resized
from .evaluate import SceneEvaluator
from .renderer import Renderer

# Pictures are compared at this width: differences of a pixel or two of the frame still count.
WIDTH = 320
APART = 4


@dataclass(frozen=True, slots=True)
class Match:
    """A moment where two pictures agree best; ``difference`` in percent of full scale."""

    frame: int
    difference: float


def difference(a: np.ndarray, b: np.ndarray) -> float:
    """Root mean square of the difference of two pictures, 0..100 (percent of full scale)."""
    away = a.astype(np.float32) - b.astype(np.float32)
    return float(np.sqrt((away * away).mean()) / 255 * 100)


def best_matches(first: int, values: list[float], count: int = 6) -> list[Match]:
    """The lowest valleys of a curve of differences whose first value is for frame ``first``,
    some frames apart from each other; the best first."""
    order = sorted(range(len(values)), key=lambda i: (values[i], i))
    chosen: list[int] = []
    for index in order:
        low = values[max(0, index - 1) : index + 2]
        if values[index] > min(low) or any(abs(index - other) < APART for other in chosen):
            continue
        chosen.append(index)
        if len(chosen) == count:
            break
    return [Match(first + index, values[index]) for index in chosen]


class Comparer:
    """Draws small pictures of scenes and compares them, one frame a step."""

    def __init__(self, renderer: Renderer) -> None:
        self._renderer = renderer

    def picture(
        self, evaluator: SceneEvaluator, number: int, without: frozenset[str] = frozenset()
    ) -> np.ndarray:
        """A frame at the size of comparison, some layers left out."""
        scene = evaluator.scene
        height = max(1, round(WIDTH * scene.height / scene.width))
        frame = evaluator.frame(number, without=without)
        return self._renderer.render(frame, WIDTH, height)

    def layers(
        self, evaluator: SceneEvaluator, one: str, other: str, frames: range
    ) -> Iterator[float]:
        """How much the scene differs, frame by frame, with one of two layers in place of the
        other: where it is least a cut from one to the other shows least."""
        for number in frames:
            with_one = self.picture(evaluator, number, frozenset({other}))
            with_other = self.picture(evaluator, number, frozenset({one}))
            yield difference(with_one, with_other)

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
