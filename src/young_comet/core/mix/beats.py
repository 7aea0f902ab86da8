"""Beats of a sound where they are heard in a scene."""

from __future__ import annotations

import numpy as np

from ..audio import SAMPLE_RATE
from ..model import Layer, Scene
from ..model.document import BeatGrid
from ..resolve import SceneEvaluator
from ..resolve.contents import sound_of
from ..resolve.values import LayerValues
from .places import Places, sound_places

# Where a sound is at other speeds or in loops its places are worked out this often (s).
_STEP_S = 0.002
METER = 4


def beats_heard(evaluator: SceneEvaluator, layer: Layer) -> list[tuple[float, int]]:
    """The beats of a layer's sound within its span: seconds of the scene, rising, each with the
    beat's number. None where it has no beats, also where it is muted: they are places in time."""
    if layer.kind not in ("sound", "clip"):
        return []
    v = evaluator.values(layer, layer.start_s)
    asset = sound_of(evaluator, v)
    if asset is None or asset.beats is None:
        return []
    places = sound_places(v, round(asset.duration_s * SAMPLE_RATE))
    return [(layer.start_s + at, n) for at, n in _crossed(v, places, asset.beats, evaluator.scene)]


def seconds_heard(evaluator: SceneEvaluator, layer: Layer, at_s: np.ndarray) -> np.ndarray:
    """The seconds of a layer's sound that are heard at moments of the scene (n,), rising; those at
    which nothing is are left out."""
    if layer.kind not in ("sound", "clip") or not len(at_s):
        return np.zeros(0)
    v = evaluator.values(layer, layer.start_s)
    asset = sound_of(evaluator, v)
    if asset is None:
        return np.zeros(0)
    places = sound_places(v, round(asset.duration_s * SAMPLE_RATE))
    found = places.where((at_s - layer.start_s) * SAMPLE_RATE) / SAMPLE_RATE
    return found[np.isfinite(found)]


def is_strong(grid: BeatGrid, number: int) -> bool:
    """Whether a beat begins a bar."""
    return (number - grid.strong) % METER == 0


def of_kind(grid: BeatGrid, number: int, kind: str) -> bool:
    """Whether a beat is one of "beats", "strong" beats or "sections"."""
    if kind == "sections":
        return number in grid.sections
    return kind == "beats" or is_strong(grid, number)


def _crossed(
    v: LayerValues, places: Places, grid: BeatGrid, scene: Scene
) -> list[tuple[float, int]]:
    length_s = min(v.layer.end_s, scene.length_s) - v.layer.start_s
    local = np.arange(0.0, length_s + _STEP_S, _STEP_S)
    second = places.where(local * SAMPLE_RATE) / SAMPLE_RATE
    times = np.array(grid.times)
    found: list[tuple[float, int]] = []
    before, after = second[:-1], second[1:]
    # A step of more than a quarter of a second is a seam: nothing is passed there.
    steady = np.isfinite(before) & np.isfinite(after) & (np.abs(after - before) < 0.25)
    low, high = np.minimum(before, after), np.maximum(before, after)
    first = np.searchsorted(times, np.where(steady, low, np.inf), side="left")
    last = np.searchsorted(times, np.where(steady, high, -np.inf), side="left")
    for step in np.flatnonzero(last > first):
        a, b = float(before[step]), float(after[step])
        passed = range(int(first[step]), int(last[step]))
        for number in passed if b >= a else reversed(passed):
            share = (times[number] - a) / (b - a)
            at = float(local[step] + share * _STEP_S)
            if at < length_s - 1e-6:
                found.append((round(at, 6), number))
    return found
