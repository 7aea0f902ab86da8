"""A point's keys taken apart into x and y, and joined again, the motion kept."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from ..model.track import Track
from ..timing.easings import Easing, Hold
from .fitting import FittedKey, fit_motion, fit_values

# Motion may differ by this much (px, or % for a scale), well under half a pixel.
TOLERANCE = 0.2
_RATE = 400.0


def split_track(track: Track, frame_s: float) -> tuple[list[FittedKey], list[FittedKey]]:
    """Keys of x and of y that move as the track of a point does.

    ``frame_s`` is the length of a frame, which key times are measured in from 0. A straight
    stretch keeps its easing; along a curve keys are added where x or y needs them.
    """
    both: tuple[list[FittedKey], list[FittedKey]] = ([], [])
    for index in range(len(track.keys) - 1):
        first, second = track.keys[index], track.keys[index + 1]
        straight = track.path(index) is None and not track.even
        for axis, keys in enumerate(both):
            if straight:
                keys.append(FittedKey(first.time_s, float(first.value[axis]), track.easing(index)))
                continue
            times = sample_times(first.time_s, second.time_s, frame_s)
            values = np.array([_inside(track, t, second.time_s)[axis] for t in times])
            keys += fit_values(times, values, TOLERANCE)[:-1]
    last = track.keys[-1]
    for axis, keys in enumerate(both):
        keys.append(FittedKey(last.time_s, float(last.value[axis]), last.easing))
    return both


def _inside(track: Track, time_s: float, end_s: float) -> tuple[float, float]:
    result: tuple[float, float] = track.at(min(time_s, end_s - 1e-9))
    return result


def sample_times(start_s: float, end_s: float, frame_s: float) -> np.ndarray:
    """The ends, every frame between them, and moments close enough that little happens
    between two of them."""
    step = frame_s / max(1, min(round(_RATE * frame_s), round(4000 * frame_s / (end_s - start_s))))
    first, last = int(np.ceil(start_s / step + 1e-6)), int(np.floor(end_s / step - 1e-6))
    inner = np.arange(first, last + 1) * step
    if len(inner) < 24:
        inner = np.union1d(inner, np.linspace(start_s, end_s, 26)[1:-1])
    return np.concatenate([[start_s], inner, [end_s]])


def join_tracks(x: Track, y: Track, frame_s: float) -> list[FittedKey]:
    """Keys of a point that moves as two tracks of numbers do, between the first and the last
    key of both. A jump of one of them gets a key that holds just before it."""
    times = sorted({key.time_s for track in (x, y) for key in track.keys})
    times = [t for i, t in enumerate(times) if i == 0 or t - times[i - 1] > 1e-6]
    keys: list[FittedKey] = []
    into: tuple[float, float] | None = None
    for start, end in pairwise(times):
        stretch = _stretch(x, y, start, end, frame_s)
        for key in stretch[:-1]:
            before = into if key is stretch[0] else key.handle_in
            keys.append(FittedKey(key.time_s, key.value, key.easing, before, key.handle_out))
        into = stretch[-1].handle_in
    final = times[-1]
    keys.append(FittedKey(final, (x.at(final), y.at(final)), x.keys[-1].easing, into))
    return keys


def _stretch(x: Track, y: Track, start: float, end: float, frame_s: float) -> list[FittedKey]:
    """Keys from ``start`` to ``end``; the last is only there for its handle."""
    cuts = [start, *_jumps(x, start, end), *_jumps(y, start, end), end]
    cuts = sorted(set(cuts))
    if len(cuts) > 2:
        keys: list[FittedKey] = []
        for a, b in pairwise(cuts):
            keys += _stretch_between(x, y, a, b, frame_s, jump=b < end or _jumps_at(x, y, b))[:-1]
        return [*keys, FittedKey(end, (x.at(end), y.at(end)), Hold())]
    return _stretch_between(x, y, start, end, frame_s, jump=_jumps_at(x, y, end))


def _stretch_between(
    x: Track, y: Track, a: float, b: float, frame_s: float, *, jump: bool
) -> list[FittedKey]:
    def place(t: float) -> tuple[float, float]:
        return (x.at(t), y.at(t))

    end = FittedKey(b, place(b), Hold())
    if jump:
        # After the last frame before the jump, so that no frame sees the hold.
        last = max(a, np.floor((b - 1e-6) / frame_s) * frame_s)
        near = float(last + (b - last) / 2)
        rest = [x.at(near) - x.at(a), y.at(near) - y.at(a)]
        if max(abs(v) for v in rest) < 1e-9:
            return [FittedKey(a, place(a), Hold()), end]
        inner = _fit(x, y, a, near, frame_s)
        return [*inner[:-1], FittedKey(near, place(near), Hold(), inner[-1].handle_in), end]
    return _fit(x, y, a, b, frame_s)


def _fit(x: Track, y: Track, a: float, b: float, frame_s: float) -> list[FittedKey]:
    times = sample_times(a, b, frame_s)
    points = np.array([(x.at(min(t, b - 1e-9)), y.at(min(t, b - 1e-9))) for t in times])
    ends = [FittedKey(b, (float(points[-1, 0]), float(points[-1, 1])), Hold())]
    start = (float(points[0, 0]), float(points[0, 1]))
    for easing in _candidates(x, y, a, b):
        progress = (times - a) / (b - a)
        eased = easing.at_many(progress, b - a)[:, None]
        line = points[0] + (points[-1] - points[0]) * eased
        if np.hypot(*(line - points).T).max() <= TOLERANCE:
            return [FittedKey(a, start, easing), *ends]
    return fit_motion(times, points, TOLERANCE)


def _candidates(x: Track, y: Track, a: float, b: float) -> list[Easing]:
    """Easings of whole segments of either track that fill the stretch."""
    found = []
    for track in (x, y):
        index = track.segment_at(a)
        if 0 <= index < len(track.keys) - 1:
            first, second = track.keys[index].time_s, track.keys[index + 1].time_s
            if abs(first - a) < 1e-6 and abs(second - b) < 1e-6:
                found.append(track.easing(index))
    return found


def _jumps(track: Track, start: float, end: float) -> list[float]:
    """Moments inside a stretch at which the track jumps (steps)."""
    index = track.segment_at(start)
    if not 0 <= index < len(track.keys) - 1 or track.easing(index).tail != "steps":
        return []
    first, second = track.keys[index].time_s, track.keys[index + 1].time_s
    times = np.linspace(first, second, 4001)
    values = np.array([track.at(t) for t in times])
    steps = np.nonzero(np.abs(np.diff(values)) > 1e-9)[0]
    return [float(times[i + 1]) for i in steps if start + 1e-6 < times[i + 1] < end - 1e-6]


def _jumps_at(x: Track, y: Track, time_s: float) -> bool:
    return any(abs(t.at(time_s) - t.at(time_s - 1e-7)) > 1e-3 for t in (x, y))
