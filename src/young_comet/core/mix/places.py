"""Which sample of its source a voice plays at each sample of the scene."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ..audio import SAMPLE_RATE, interpolated, sample_at
from ..audio.varied import reach_of
from ..catalog.shared import KEEPS_PITCH
from ..model import Scene
from ..resolve.contents import playback_between
from ..resolve.nested import inner_second
from ..resolve.values import LayerValues
from ..timing.playback import Playback
from .sources import Source

# Where a place follows from a formula it is worked out this often (s), and straight in between.
GRID_S = 0.001
# Slower than this share of its speed a source stands still, and is not heard; nor is it where it is
# faster than this.
_STANDING, _FASTEST = 1e-4, 128.0


class Places:
    """How a source is played."""

    def play(self, source: Source, first: int, count: int) -> np.ndarray:
        """Must. The source's samples (count, 2) at those of the layer, counted from its start."""
        raise NotImplementedError

    def where(self, local: np.ndarray) -> np.ndarray:
        """Must. The source's samples (n,) at the layer's (n,), both with fractions, in rising
        order; not a number where it is silent."""
        raise NotImplementedError


@dataclass(frozen=True)
class Shifted(Places):
    """As it was recorded: the sample ``by`` at the layer's start, heard from ``low`` to
    ``high``."""

    by: int
    low: int
    high: int

    def play(self, source: Source, first: int, count: int) -> np.ndarray:
        """The samples as they are."""
        begin = first + self.by
        out = source.read(begin, count)
        out[: min(count, max(0, self.low - begin))] = 0
        out[max(0, min(count, self.high - begin)) :] = 0
        return out

    def where(self, local: np.ndarray) -> np.ndarray:
        """The same samples, shifted."""
        return np.where(
            (local + self.by >= self.low) & (local + self.by <= self.high), local + self.by, np.nan
        )


@dataclass(frozen=True)
class Bent(Places):
    """At other speeds, backwards, again and again, or along a curve: ``seconds`` gives the source's
    for the layer's (n,), not a number where it is silent."""

    seconds: Callable[[np.ndarray], np.ndarray]

    def play(self, source: Source, first: int, count: int) -> np.ndarray:
        """The samples, read in between where the places lie there."""
        places = self.seconds(np.arange(first, first + count + 1) / SAMPLE_RATE) * SAMPLE_RATE
        steps = np.diff(places)
        here = places[:-1]
        jumps = np.abs(steps) > _FASTEST
        heard = np.isfinite(here) & ~(np.abs(steps) < _STANDING)
        heard[:-1] &= ~(jumps[:-1] & jumps[1:])  # a seam is one jump, not many
        out = np.zeros((count, 2))
        if not heard.any():
            return out
        usual = steps[np.isfinite(steps)]
        speed = float(np.median(np.abs(usual))) if len(usual) else 1.0
        margin = reach_of(speed)
        # What jumps (a loop's seam) is read in runs, so that little of the source is needed.
        cuts = np.flatnonzero(~(np.abs(steps) <= 4 * max(speed, 1e-3)))
        edges = [0, *(int(c) + 1 for c in cuts if c + 1 < count), count]
        for begin, end in pairwise(edges):
            part = heard[begin:end]
            if not part.any():
                continue
            where = here[begin:end][part]
            low = int(np.floor(where.min())) - margin
            high = int(np.ceil(where.max())) + margin + 1
            out[begin:end][part] = interpolated(source.read(low, high - low), where - low, speed)
        return out

    def where(self, local: np.ndarray) -> np.ndarray:
        """As ``seconds`` says."""
        return self.seconds(local / SAMPLE_RATE) * SAMPLE_RATE


@dataclass(frozen=True)
class Stretched(Places):
    """At another speed with the pitch of its own: ``longer`` is the source at that speed, of which
    ``inner`` says what is played, and ``outer`` says where in the source itself that is."""

    longer: Source
    inner: Places
    outer: Places

    def play(self, source: Source, first: int, count: int) -> np.ndarray:
        """The samples of the one that is longer, or shorter."""
        return self.inner.play(self.longer, first, count)

    def where(self, local: np.ndarray) -> np.ndarray:
        """Where the source's own speed would have it."""
        return self.outer.where(local)


def kept_pitch(v: LayerValues) -> float | None:
    """The factor of speed at which a layer's sound keeps its pitch; None where it is played as
    fast as it was made, or its pitch goes along."""
    moving = v.has("time.curve") and (v("time.curve") or v("time.frozen"))
    low, high = KEEPS_PITCH
    speed = float(v("time.speed"))
    if moving or not v("sound.keeps-pitch") or speed == 100 or not low <= speed <= high:
        return None
    return speed / 100


def stretched_places(v: LayerValues, length: int, speed: float, longer: Source) -> Places:
    """How a layer plays a sound of so many samples that keeps its pitch."""
    outer = sound_places(v, length)
    own = playback_between(v, length / SAMPLE_RATE)
    inner = replace(
        own, from_s=own.from_s / speed, to_s=own.to_s / speed, offset_s=own.offset_s / speed,
        speed=1.0,
    )  # fmt: skip
    return Stretched(longer, _played(inner, longer.length), outer)


def sound_places(v: LayerValues, length: int) -> Places:
    """How a layer plays a recorded sound of so many samples."""
    duration_s = length / SAMPLE_RATE
    if v.has("time.curve") and v("time.curve"):
        return Bent(_by_track(v, "time.source"))
    if v.has("time.frozen") and v("time.frozen"):
        return Bent(lambda local: np.full(len(local), np.nan))
    return _played(playback_between(v, duration_s), length)


def _played(playback: Playback, length: int) -> Places:
    """A source of so many samples as it is played."""
    duration_s = length / SAMPLE_RATE
    if playback.speed == 1 and not playback.backwards and playback.after in ("stay", "end"):
        low = sample_at(playback.from_s)
        high = length if playback.to_s >= duration_s else sample_at(playback.to_s)
        return Shifted(sample_at(playback.from_s + playback.offset_s), low, high)
    return Bent(playback.over)


def scene_places(v: LayerValues, scene: Scene) -> Places:
    """How a layer plays the sound of a placed scene: as its pictures are shown."""
    plain = v("time.speed") == 100 and not v("time.reversed") and v("time.after") == "stay"
    still = v("time.curve") or v("time.frozen")
    if plain and not still and scene.standing_s is None:
        low, high = v("time.from"), v("time.to") or scene.length_s
        by = sample_at(v("time.from") + v("time.offset"))
        return Shifted(by, sample_at(low), sample_at(min(high, scene.length_s)))

    def seconds(local: np.ndarray) -> np.ndarray:
        grid = np.arange(local[0] - GRID_S, local[-1] + 2 * GRID_S, GRID_S)
        found = [inner_second(v.at(float(t)), scene) for t in grid]
        return _along(local, grid, np.array([np.nan if s is None else s for s in found]))

    return Bent(seconds)


def _by_track(v: LayerValues, name: str) -> Callable[[np.ndarray], np.ndarray]:
    return lambda local: curve_of(v, name, local)


def _along(at: np.ndarray, grid: np.ndarray, values: np.ndarray) -> np.ndarray:
    """Values between those of a grid: straight, but where they jump."""
    index = np.clip(np.searchsorted(grid, at, side="right") - 1, 0, len(grid) - 2)
    low, high = values[index], values[index + 1]
    share = (at - grid[index]) / GRID_S
    jump = ~(np.abs(high - low) < 0.25)
    between: np.ndarray = np.where(jump, low + (at - grid[index]), low + (high - low) * share)
    return between


def curve_of(v: LayerValues, name: str, local: np.ndarray) -> np.ndarray:
    """A number's values at seconds of a layer (n,): exact where it has keys, each millisecond
    where a formula gives it."""
    prop = v.layer.properties.get(name)
    if prop is not None and prop.expression:
        grid = local
        if local[-1] - local[0] < len(local) * GRID_S:
            grid = np.arange(local[0] - GRID_S, local[-1] + 2 * GRID_S, GRID_S)
        found: np.ndarray = np.interp(local, grid, [float(v.at(float(t))(name)) for t in grid])
        return found
    track = v.track(name)
    if track is not None:
        values: np.ndarray = track.values(local)
        return values[:, 0]
    return np.full(len(local), float(v(name)))
