"""Curves of keyed properties, sampled for drawing; paths of moving layers."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..catalog import find_spec, lane_label, parts_of, placed_scene, specs_of
from ..model import Kind, Layer, Property, PropertySpec, Track
from ..pixels.colour import format_colour
from ..resolve.courses import ArrangedProperty
from ..resolve.scene import SceneEvaluator
from ..resolve.values import LayerValues

SAMPLES = 160
TALL_SAMPLES = 480
MAX_DOTS = 5000


class LaneCache:
    """Lanes kept while the same property object is drawn over the same span."""

    def __init__(self, limit: int = 4000) -> None:
        self._limit = limit
        self._lanes: dict[tuple[Any, ...], tuple[Property, dict[str, Any] | None]] = {}

    def lane(
        self, evaluator: SceneEvaluator, layer: Layer, spec: PropertySpec, *, tall: bool = False
    ) -> dict[str, Any] | None:
        """As ``lane_of``; the same object as long as nothing in it has changed."""
        prop = layer.properties.get(spec.id)
        if prop is None or not prop.keys:
            return None
        span = (layer.start_s, layer.end_s, evaluator.rate)
        key = (layer.id, spec.id, id(prop), span, id(evaluator.names), tall)
        found = self._lanes.get(key)
        if found is None or found[0] is not prop:
            if len(self._lanes) >= self._limit:
                self._lanes.clear()
            found = (prop, lane_of(evaluator, layer, spec.id, tall=tall))
            self._lanes[key] = found
        return found[1]


def lane_of(
    evaluator: SceneEvaluator, layer: Layer, property_id: str, *, tall: bool = False
) -> dict[str, Any] | None:
    """The lane of a property, None where it has no keys.

    ``times`` in scene seconds over the layer's span; ``curves`` one list of values for each
    coordinate (numbers and points) with common ``low`` and ``high``, or ``colours`` for a
    colour or stops. ``keys``: time in the scene, values for each coordinate, how softly they are
    left and reached (0..1), and where their handles stand (time, values). A ``tall`` lane also
    has a dot for every frame with the speed there in units a second.
    """
    track = evaluator.track(layer, property_id)
    spec = find_spec(layer, property_id)
    if track is None or spec is None:
        return None
    prop = layer.properties[property_id]
    times = _sample_times(layer, track, TALL_SAMPLES if tall else SAMPLES)
    lane: dict[str, Any] = {
        "layer": layer.id,
        "property": property_id,
        "label": _label(evaluator, layer, spec),
        "unit": spec.unit,
        "times": np.round(layer.start_s + times, 5).tolist(),
        "keys": [_key(layer, prop, track, spec, index) for index in range(len(prop.keys))],
        "repeat": prop.repeat.mode if prop.repeat else "",
        "pace": prop.pace,
        "tall": tall,
    }
    if spec.kind.course == "curves":
        rows = track.values(times)
        lane["curves"] = np.round(rows.T, 4).tolist()
        lane["low"], lane["high"] = float(rows.min()), float(rows.max())
        if tall:
            lane["dots"] = _dots(evaluator, layer, track)
    elif spec.kind.course == "colours":
        swatches = (spec.kind.swatch(track.at(float(t))) for t in times)
        lane["colours"] = [format_colour(swatch) for swatch in swatches]
    else:
        lane["steps"] = True  # a path, a curve or a text has no one value to draw
    return lane


def _label(evaluator: SceneEvaluator, layer: Layer, spec: PropertySpec) -> str:
    """A property's name; that of a slot as its scene calls it."""
    if spec.id.startswith("slot."):
        shown = placed_scene(layer)
        for scene in evaluator.project.scenes:
            for slot in scene.slots if scene.id == shown else ():
                if slot.id == spec.id[5:]:
                    return slot.name
    return lane_label(layer, spec)


def course_of(
    evaluator: SceneEvaluator, layer: Layer, spec: PropertySpec, *, tall: bool = False
) -> dict[str, Any] | None:
    """As ``lane_of`` for a property that has only an expression: what that gives over the layer's
    span, on frames where these are few. None for what has no course to draw."""
    if not spec.kind.reckoned or spec.kind.course == "steps":
        return None
    rate, count = evaluator.rate, TALL_SAMPLES if tall else SAMPLES
    frames = max(1, rate.nearest_frame(layer.end_s) - rate.nearest_frame(layer.start_s))
    first, steps = rate.nearest_frame(layer.start_s), min(count, frames)
    moments = [rate.time_of(first + round(i * frames / steps)) for i in range(steps + 1)]
    values = [evaluator.values(layer, moment)(spec.id) for moment in moments]
    lane: dict[str, Any] = {
        "layer": layer.id, "property": spec.id, "label": _label(evaluator, layer, spec),
        "unit": spec.unit, "times": np.round(moments, 5).tolist(), "keys": [], "repeat": "",
        "pace": "keys", "tall": tall,
    }  # fmt: skip
    if spec.kind.course == "colours":
        lane["colours"] = [format_colour(spec.kind.swatch(value)) for value in values]
        return lane
    rows = np.array([spec.kind.coordinates(value) for value in values], np.float64)
    if not np.isfinite(rows).all():
        return None
    lane["curves"] = np.round(rows.T, 4).tolist()
    lane["low"], lane["high"] = float(rows.min()), float(rows.max())
    return lane


def _key(
    layer: Layer, prop: Property, track: Track, spec: PropertySpec, index: int
) -> dict[str, Any]:
    key, resolved = prop.keys[index], track.keys[index]
    last = index == len(prop.keys) - 1
    after = None if last else track.easing(index)
    before = track.easing(index - 1) if index else None
    entry: dict[str, Any] = {
        "id": key.id,
        "time_s": layer.start_s + key.time_s,
        "values": spec.kind.coordinates(resolved.value),
        "easing": key.easing,
        "join": key.join,
        "leave": after.leave if after else 0.0,
        "arrive": before.arrive if before else 0.0,
        "tail": after.tail if after else "soft",
        "tail_before": before.tail if before else "soft",
        "hold": after is not None and (after.tail == "hold" or not spec.kind.mixes),
    }
    if spec.kind.holds:
        entry["text"] = " ".join(str(resolved.value).split())[:40]
    if spec.kind.course == "curves" and not track.even:
        if after is not None and after.handles is not None:
            entry["out"] = _handle(layer, track, index, after.handles[:2], spec.kind)
        if before is not None and before.handles is not None:
            entry["into"] = _handle(layer, track, index - 1, before.handles[2:], spec.kind)
    return entry


def _handle(
    layer: Layer, track: Track, segment: int, at: tuple[float, float], kind: Kind
) -> dict[str, Any]:
    """Where a handle stands in the lane: time in the scene and a value for each coordinate."""
    first, second = track.keys[segment], track.keys[segment + 1]
    a, b = kind.coordinates(first.value), kind.coordinates(second.value)
    return {
        "time_s": layer.start_s + first.time_s + at[0] * (second.time_s - first.time_s),
        "values": [p + (q - p) * at[1] for p, q in zip(a, b, strict=True)],
    }


def _dots(evaluator: SceneEvaluator, layer: Layer, track: Track) -> dict[str, Any]:
    """For every frame of the layer's span: its values and the speed, in units a second."""
    rate = evaluator.rate
    first = rate.nearest_frame(layer.start_s)
    count = min(MAX_DOTS, rate.nearest_frame(layer.end_s) - first)
    times = np.array([rate.time_of(first + i) - layer.start_s for i in range(max(1, count))])
    reach = 0.25 / rate.fps
    values = track.values(times)
    moved = track.values(times + reach) - track.values(times - reach)
    speeds = moved[:, 0] if values.shape[1] == 1 else np.hypot(moved[:, 0], moved[:, 1])
    return {
        "first": first,
        "values": np.round(values.T, 3).tolist(),
        "speeds": np.round(speeds / (2 * reach), 2).tolist(),
    }


def _sample_times(layer: Layer, track: Track, count: int) -> np.ndarray:
    """Even steps over the span, and both sides of every key so that holds stay square."""
    length = layer.end_s - layer.start_s
    even = length * np.arange(count + 1) / count
    keys = np.array([key.time_s for key in track.keys])
    if len(keys) > count:  # far more keys than pixels
        keys = keys[:: len(keys) // count + 1]
    times = np.unique(np.concatenate([even, keys, keys - 1e-5]))
    return times[(times >= -1e-9) & (times <= length + 1e-9)]


def lanes_of(
    evaluator: SceneEvaluator, layer: Layer, cache: LaneCache, tall: frozenset[str]
) -> list[dict[str, Any]]:
    """All lanes of a layer in the order of its fields; ``tall`` holds "LAYER|PROPERTY"."""
    found = []
    for spec in specs_of(layer):
        high = f"{layer.id}|{spec.id}" in tall
        prop = layer.properties.get(spec.id)
        if isinstance(prop, ArrangedProperty):
            if course := course_of(evaluator, layer, spec, tall=high):
                found.append({**course, "arranged": True})
            continue
        if prop is not None and prop.expression and not prop.keys:
            if course := course_of(evaluator, layer, spec, tall=high):
                found.append(course)
        elif lane := cache.lane(evaluator, layer, spec, tall=high):
            found.append(lane)
    return found


def motion_path(evaluator: SceneEvaluator, layer: Layer) -> dict[str, Any] | None:
    """The way of a layer's keyed position: a point for every frame between first and last key.

    ``points`` and the ``keys`` with their handles are in scene pixels; ``first_frame`` is the
    number of the first point's frame. None where the position has fewer than two keys.
    """
    rate = evaluator.rate
    track = evaluator.track(layer, "position")
    held = layer.properties.get("position")
    if track is not None and isinstance(held, ArrangedProperty):
        return _arranged_path(evaluator, layer, track)
    if track is None:
        return _split_path(evaluator, layer)
    if len(track.keys) < 2:
        return None
    first = max(0, rate.frame_at(layer.start_s + track.start_s))
    last = min(rate.frame_at(layer.start_s + track.end_s) + 1, first + MAX_DOTS)
    times = np.array([rate.time_of(n) - layer.start_s for n in range(first, last + 1)])
    keys = [
        {
            "id": key.id,
            "time_s": layer.start_s + key.time_s,
            "point": list(key.value),
            "into": _moved(key.value, key.handle_in),
            "out": _moved(key.value, key.handle_out),
            "join": key.join,
        }
        for key in layer.properties["position"].keys
    ]
    return {
        "first_frame": first,
        "points": np.round(track.values(times), 2).tolist(),
        "keys": keys,
        "pace": layer.properties["position"].pace,
        "flown": layer.properties["position"].flown is not None,
    }


def _arranged_path(evaluator: SceneEvaluator, layer: Layer, track: Track) -> dict[str, Any] | None:
    """The way of a layer that goes where arrangements have it: it has no keys to take hold of."""
    if track.end_s - track.start_s < 1e-6:
        return None
    rate = evaluator.rate
    first = max(0, rate.frame_at(layer.start_s + track.start_s))
    last = min(rate.frame_at(layer.start_s + track.end_s) + 1, first + MAX_DOTS)
    times = np.array([rate.time_of(n) - layer.start_s for n in range(first, last + 1)])
    points = np.round(track.values(times), 2).tolist()
    return {"first_frame": first, "points": points, "keys": [], "pace": "keys", "flown": False}


def _moved(point: Any, handle: tuple[float, float] | None) -> list[float] | None:
    if handle is None or not any(handle):
        return None
    return [point[0] + handle[0], point[1] + handle[1]]


def _split_path(evaluator: SceneEvaluator, layer: Layer) -> dict[str, Any] | None:
    """The way of a position whose x and y have keys of their own."""
    parts = parts_of(layer, "position")
    values: LayerValues = evaluator.values(layer, layer.start_s)
    tracks = [t for part in parts or () if (t := values.track(part)) is not None]
    if not tracks:
        return None
    rate = evaluator.rate
    first = max(0, rate.frame_at(layer.start_s + min(t.start_s for t in tracks)))
    last = rate.frame_at(layer.start_s + max(t.end_s for t in tracks)) + 1
    last = min(last, first + MAX_DOTS)
    points = [
        values.at(rate.time_of(n) - layer.start_s)("position") for n in range(first, last + 1)
    ]
    return {
        "first_frame": first,
        "points": [[round(x, 2), round(y, 2)] for x, y in points],
        "keys": [],
        "pace": "keys",
        "flown": False,
    }
