"""Curves of keyed properties, sampled for drawing; paths of moving layers."""

from __future__ import annotations

from typing import Any

from ..catalog import layer_kind
from ..model import Kind, Layer
from ..pixels.colour import format_colour
from ..timing import Hold, parse_easing
from .evaluate import SceneEvaluator

SAMPLES = 160


def lane_of(evaluator: SceneEvaluator, layer: Layer, property_id: str) -> dict[str, Any] | None:
    """The lane of a property, None where it has no keys.

    ``times`` in scene seconds over the layer's span; ``curves`` one list of values for each
    coordinate (numbers and points) with common ``low`` and ``high``, or ``colours`` for a
    colour or stops; ``keys`` with their time in the scene, values for each coordinate, and how
    softly they are left and reached (0..1).
    """
    track = evaluator.track(layer, property_id)
    spec = layer_kind(layer.kind).spec(property_id)
    if track is None or spec is None:
        return None
    prop = layer.properties[property_id]
    times = _sample_times(layer, [key.time_s for key in prop.keys])
    values = [track.at(t) for t in times]
    keys = []
    arrive, arrive_kind = 0.0, ""
    for key, resolved in zip(prop.keys, track.keys, strict=True):
        easing = parse_easing(key.easing)
        keys.append(
            {
                "id": key.id,
                "time_s": layer.start_s + key.time_s,
                "values": _coordinates(spec.kind, resolved.value),
                "easing": key.easing,
                "leave": easing.leave,
                "hold": isinstance(easing, Hold),
                "arrive": arrive,
                "after_hold": arrive_kind == "hold",
            }
        )
        arrive, arrive_kind = easing.arrive, key.easing
    keys[-1].update(leave=0.0, hold=False)  # nothing follows: its easing does not show
    lane: dict[str, Any] = {
        "layer": layer.id,
        "property": property_id,
        "label": spec.label,
        "times": [round(layer.start_s + t, 5) for t in times],
        "keys": keys,
    }
    if spec.kind in (Kind.NUMBER, Kind.POINT):
        rows = [_coordinates(spec.kind, value) for value in values]
        curves = [[round(row[i], 4) for row in rows] for i in range(len(rows[0]))]
        lane["curves"] = curves
        lane["low"] = min(min(curve) for curve in curves)
        lane["high"] = max(max(curve) for curve in curves)
    elif spec.kind is Kind.COLOUR:
        lane["colours"] = [format_colour(value) for value in values]
    else:
        lane["colours"] = [format_colour(value[len(value) // 2][1]) for value in values]
    return lane


def _coordinates(kind: Kind, value: Any) -> list[float]:
    if kind is Kind.NUMBER:
        return [value]
    return list(value) if kind is Kind.POINT else []


def _sample_times(layer: Layer, key_times: list[float]) -> list[float]:
    """Even steps over the span, and both sides of every key so that holds stay square."""
    length = layer.end_s - layer.start_s
    times = {length * i / SAMPLES for i in range(SAMPLES + 1)}
    for t in key_times:
        times.update((t, t - 1e-5))
    return sorted(t for t in times if -1e-9 <= t <= length + 1e-9)


def motion_path(evaluator: SceneEvaluator, layer: Layer) -> dict[str, Any] | None:
    """The way of a layer's keyed position: a point for every frame between first and last key.

    ``points`` and the ``keys`` with their ids are in scene pixels; ``frames`` gives the number
    of the first point's frame. None where the position has fewer than two keys.
    """
    track = evaluator.track(layer, "position")
    if track is None or len(track.keys) < 2:
        return None
    rate = evaluator.rate
    first = max(0, rate.frame_at(layer.start_s + track.keys[0].time_s))
    last = rate.frame_at(layer.start_s + track.keys[-1].time_s) + 1
    last = min(last, first + 5000)
    points = [track.at(rate.time_of(n) - layer.start_s) for n in range(first, last + 1)]
    keys = layer.properties["position"].keys
    return {
        "first_frame": first,
        "points": [[round(x, 2), round(y, 2)] for x, y in points],
        "keys": [
            {"id": key.id, "time_s": layer.start_s + key.time_s, "point": list(key.value)}
            for key in keys
        ],
    }
