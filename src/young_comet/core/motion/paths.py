"""Keys put in and taken out without changing the motion, and paths that become keys."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import Literal

import numpy as np

from ..geometry.affine import Point
from ..geometry.bezier import PathSegment
from ..geometry.fit import fit_cubic
from ..model.property import Keyframe, Property
from ..model.track import Track
from ..timing.easings import Easing, Linear, split_easing
from .fitting import FittedKey, fit_easing

Cubic = tuple[Point, Point, Point, Point]
Join = Literal["free", "smooth", "matched"]


def keyframes(fitted: Sequence[FittedKey], ids: Callable[[], str], join: Join) -> list[Keyframe]:
    """Fitted keys as the document's, with new ids."""
    return [
        Keyframe(
            id=ids(), time_s=key.time_s, value=key.value, easing=key.easing.text,
            handle_in=key.handle_in, handle_out=key.handle_out, join=join,
        )
        for key in fitted
    ]  # fmt: skip


def settled(prop: Property, track: Track, around: Sequence[int]) -> list[Keyframe]:
    """The keys, where the smooth ones of some numbers keep the shape they have now by handles
    of their own, so that a new neighbour does not change it."""
    keys = list(prop.keys)
    smooth = [i for i in around if 0 < i < len(keys) - 1 and keys[i].join == "smooth"]
    for index in smooth:
        for segment in (index - 1, index):
            if track.keys[segment].easing.handles is not None:
                text = track.easing(segment).text
                keys[segment] = keys[segment].model_copy(update={"easing": text})
        keys[index] = keys[index].model_copy(update={"join": "matched"})
    return keys


def insert_key(prop: Property, track: Track, time_s: float, key: Keyframe) -> Property:
    """The property with one more key at a time between two others that changes nothing.

    ``key`` gives the id; outside the keys it is put in as it is. Path and easing are cut by de
    Casteljau's construction.
    """
    index = track.segment_at(time_s)
    if index < 0 or index >= len(prop.keys) - 1:
        return prop.with_keys([*prop.keys, key])
    if track.even:
        return _insert_evenly(prop, track, time_s, key)
    keys = settled(prop, track, (index, index + 1))
    first, second = track.keys[index], track.keys[index + 1]
    span = second.time_s - first.time_s
    progress = (time_s - first.time_s) / span
    easing = track.easing(index)
    halves = split_easing(easing, progress, span)
    left, right = keys[index], keys[index + 1]
    if halves is None:
        text = left.easing if easing.tail in ("hold", "steps") else "linear"
        new = key.model_copy(update={"easing": left.easing})
        left = left.model_copy(update={"easing": text})
        return prop.with_keys([*keys[:index], left, new, *keys[index + 1 :]])
    new = key.model_copy(update={"easing": halves[1].text, "join": _join_of(easing)})
    left = left.model_copy(update={"easing": halves[0].text})
    path = track.path(index)
    eased = easing.at(progress, span)
    if path is not None and 0 < eased < 1:
        before, after = path.split(eased)
        left = left.model_copy(update={"handle_out": before.handles[0]})
        handles = {"handle_in": before.handles[1], "handle_out": after.handles[0]}
        new = new.model_copy(update={**handles, "value": after.point(0.0)})
        right = right.model_copy(update={"handle_in": after.handles[1]})
    return prop.with_keys([*keys[:index], left, new, right, *keys[index + 2 :]])


def _insert_evenly(prop: Property, track: Track, time_s: float, key: Keyframe) -> Property:
    """A point put on a path that is travelled at one speed: only its place along the path
    counts, so the key's own moment is put between its neighbours'."""
    part = (time_s - track.start_s) / (track.end_s - track.start_s)
    index, fraction = track.along(part * track.distances()[-1])
    left, right = prop.keys[index], prop.keys[index + 1]
    moment = left.time_s + fraction * (right.time_s - left.time_s)
    if not 1e-6 < fraction < 1 - 1e-6:
        return prop
    before, after = segment_path(track, index).split(fraction)
    straight = track.path(index) is None
    new = key.model_copy(
        update={
            "time_s": moment,
            "value": after.point(0.0),
            "handle_in": None if straight else before.handles[1],
            "handle_out": None if straight else after.handles[0],
        }
    )
    if not straight:
        left = left.model_copy(update={"handle_out": before.handles[0]})
        right = right.model_copy(update={"handle_in": after.handles[1]})
    return prop.with_keys([*prop.keys[:index], left, new, right, *prop.keys[index + 2 :]])


def _join_of(easing: Easing) -> str:
    return "matched" if easing.handles is not None else "free"


def take_key(prop: Property, track: Track, index: int) -> Property:
    """The property without a key, its neighbours' handles and easing bent so that path and
    motion change as little as possible; exactly nothing where the key was put in before."""
    if not 0 < index < len(prop.keys) - 1:
        return prop.with_keys(key for i, key in enumerate(prop.keys) if i != index)
    keys = settled(prop, track, (index - 1, index + 1))
    first, second = track.keys[index - 1], track.keys[index + 1]
    times = np.linspace(first.time_s, second.time_s, 241)
    lengths = (track.length(index - 1), track.length(index))
    total = sum(lengths)
    span = second.time_s - first.time_s
    wanted = np.array([_travelled(track, index - 1, lengths, t) for t in times]) / max(total, 1e-9)
    left, right = keys[index - 1], keys[index + 1]
    ends = (
        track.easing(index - 1).slope(0.0, span) * lengths[0],
        track.easing(index).slope(1.0, span) * lengths[1],
    )
    spans = (track.keys[index].time_s - first.time_s, second.time_s - track.keys[index].time_s)
    slopes = tuple(e * span / s / max(total, 1e-9) for e, s in zip(ends, spans, strict=True))
    easing, _ = fit_easing((times - first.time_s) / span, wanted, (slopes[0], slopes[1]))
    left = left.model_copy(update={"easing": easing.text})
    a, b = track.path(index - 1), track.path(index)
    if a is not None or b is not None:
        merged = _merged(track, index)
        out, into = merged.handles
        left = left.model_copy(update={"handle_out": out})
        right = right.model_copy(update={"handle_in": into})
    return prop.with_keys([*keys[: index - 1], left, right, *keys[index + 2 :]])


def _travelled(track: Track, index: int, lengths: tuple[float, float], time_s: float) -> float:
    for number, length in zip((index, index + 1), lengths, strict=True):
        first, second = track.keys[number].time_s, track.keys[number + 1].time_s
        if time_s <= second or number == index + 1:
            progress = min(1.0, max(0.0, (time_s - first) / (second - first)))
            way = track.easing(number).at(progress, second - first) * length
            return way if number == index else lengths[0] + way
    raise AssertionError("a time lies in one of two stretches")


def segment_path(track: Track, index: int) -> PathSegment:
    """A stretch of the path as a curve, straight ones too."""
    if path := track.path(index):
        return path
    a, b = track.keys[index].value, track.keys[index + 1].value
    third = ((b[0] - a[0]) / 3, (b[1] - a[1]) / 3)
    return PathSegment.from_handles(a, third, (-third[0], -third[1]), b)


def _merged(track: Track, index: int) -> PathSegment:
    before, after = segment_path(track, index - 1), segment_path(track, index)
    u = np.linspace(0, 1, 60)
    points = np.vstack([before.at_many(u), after.at_many(u[1:])])
    out = np.array(before.direction(0.0))
    into = -np.array(after.direction(1.0))
    curve = fit_cubic(points, out, into)
    return PathSegment(*((float(p[0]), float(p[1])) for p in curve))


def rounded_handles(before: Point | None, at: Point, after: Point | None) -> tuple[Point, Point]:
    """Handles (in, out) that lead a path smoothly through a point between its neighbours:
    along the line from one neighbour to the other, a third of the way to each."""
    a, b = before or at, after or at
    way = (b[0] - a[0], b[1] - a[1])
    size = math.hypot(*way)
    if size < 1e-9:
        return (0.0, 0.0), (0.0, 0.0)
    near = math.hypot(at[0] - a[0], at[1] - a[1]) / 3
    far = math.hypot(b[0] - at[0], b[1] - at[1]) / 3
    x, y = way[0] / size, way[1] / size
    return (-x * near, -y * near), (x * far, y * far)


def path_keys(cubics: Sequence[Cubic], start_s: float, duration_s: float) -> list[FittedKey]:
    """Keys that travel along cubics joined end to end, at one speed."""
    segments = [PathSegment(*cubic) for cubic in cubics]
    lengths = [segment.length for segment in segments]
    total = sum(lengths) or 1.0
    keys: list[FittedKey] = []
    gone, into = 0.0, None
    for segment, length in zip(segments, lengths, strict=True):
        out, arriving = segment.handles
        place = segment.point(0.0)
        keys.append(FittedKey(start_s + duration_s * gone / total, place, Linear(), into, out))
        gone, into = gone + length, arriving
    keys.append(FittedKey(start_s + duration_s, segments[-1].point(1.0), Linear(), into))
    return [
        key
        for key, after in pairwise([*keys, replace(keys[-1], time_s=math.inf)])
        if after.time_s - key.time_s > 1e-4
    ]
