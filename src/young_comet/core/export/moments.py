"""Which moments of a scene go into a film, and at what rate they follow each other."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ...errors import DocumentError
from ..model import Scene
from ..timing import Rate
from .settings import RenderSettings

MAX_FRAMES = 400_000


@dataclass(frozen=True)
class Moments:
    """``count`` moments, shown at a rate. They are every so many frames of the scene from the frame
    ``first`` on; or, at a rate of the film's own, moments from the start of that frame on."""

    scene_rate: Rate
    rate: Rate
    first: int
    count: int
    every: int | None

    def time(self, index: int) -> float:
        """The moment of that index, seconds of the scene."""
        if self.every is not None:
            return self.scene_rate.time_of(self.first + index * self.every)
        return float(self._start + Fraction(index * self.rate.den, self.rate.num))

    def number(self, index: int) -> int:
        """What a file of the moment of that index is numbered with: its frame of the scene, or its
        place in a film of another rate."""
        return index if self.every is None else self.first + index * self.every

    @property
    def span(self) -> tuple[float, float]:
        """From the first moment to the end of the last, seconds of the scene."""
        end = self._start + Fraction(self.count * self.rate.den, self.rate.num)
        return float(self._start), float(end)

    @property
    def _start(self) -> Fraction:
        return Fraction(self.first * self.scene_rate.den, self.scene_rate.num)


def frame_range(scene: Scene, settings: RenderSettings) -> range:
    """Numbers of the frames whose start lies in the range; DocumentError if there are none."""
    rate = scene.rate.rate
    start_s, end_s = scene.working_range
    start_s = start_s if settings.from_s is None else settings.from_s
    end_s = end_s if settings.to_s is None else min(settings.to_s, scene.length_s)
    first = rate.nearest_frame(start_s)
    last = min(rate.nearest_frame(end_s), scene.frame_count)
    if settings.to_s is None and scene.range_s is None:
        last = scene.frame_count
    if last <= first:
        raise DocumentError(
            f"from {start_s:g} s to {end_s:g} s there is no frame "
            f"(the scene is {scene.length_s:g} s long)",
            field="range",
        )
    return range(first, last)


def moments_of(scene: Scene, settings: RenderSettings) -> Moments:
    """The moments of a render; DocumentError where there are none, or too many."""
    frames, rate = frame_range(scene, settings), scene.rate.rate
    if settings.rate is None:
        every = settings.every
        shown = Fraction(rate.num, rate.den * every)
        own = Rate(shown.numerator, shown.denominator)
        return Moments(rate, own, frames.start, -(-len(frames) // every), every)
    own = settings.rate.rate
    lasts = Fraction(len(frames) * rate.den, rate.num)
    count = max(1, -int(-lasts * own.num // own.den))
    if count > MAX_FRAMES:
        raise DocumentError.expected("rate", f"at most {MAX_FRAMES:,} frames", count)
    return Moments(rate, own, frames.start, count, None)
