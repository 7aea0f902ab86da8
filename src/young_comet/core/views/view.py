"""What an editor shows over the picture: boxes, pivots, current values."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..catalog import FRONTS, MASKS, PARTS, find_spec, layer_kind, parts_of
from ..frame.faults import reason
from ..frame.resolved import ResolvedLayer
from ..geometry.affine import Affine, Box, Point
from ..geometry.contours import parse_contours
from ..model import Kind, Layer
from ..paint.library import MediaLibrary
from ..resolve.courses import ArrangedProperty
from ..resolve.looks import mask_place
from ..resolve.scene import SceneEvaluator
from ..resolve.values import LayerValues, is_on
from .crossings import crossings_view
from .wanted import wanted_by

_CARRIER_PX = 48.0
CARRIER_BOX = (-_CARRIER_PX, -_CARRIER_PX, _CARRIER_PX, _CARRIER_PX)


def placed_corners(resolved: ResolvedLayer, library: MediaLibrary) -> list[Point]:
    """The corners of a layer's content box in the scene, clockwise from its top left."""
    box = resolved.content.box(library)
    return (resolved.lens or resolved.matrix).corners(box)


def placed_box(resolved: ResolvedLayer, library: MediaLibrary) -> Box:
    """The upright box around a layer's content in the scene."""
    xs, ys = zip(*placed_corners(resolved, library), strict=True)
    return (min(xs), min(ys), max(xs), max(ys))


def layer_bounds(
    evaluator: SceneEvaluator, library: MediaLibrary, layer: Layer, time_s: float
) -> Box | None:
    """The upright box around a layer's content in the scene; None if it shows nothing."""
    resolved = evaluator.layer(layer, time_s)
    if resolved is None:
        return None
    return placed_box(resolved, library)


def scene_view(evaluator: SceneEvaluator, library: MediaLibrary, time_s: float) -> dict[str, Any]:
    """For every layer: whether it is on, its span, corners and pivot in the scene, its values.

    ``values`` holds the animated properties and the position in their JSON form;
    ``matrix`` maps the layer's own space into the scene (the letters of SVG's matrix()),
    ``carried`` the space that it rides in. ``faults`` tells why expressions have no result,
    ``wants`` what effects lack, by their ids (``wanted.py``).
    """
    layers: dict[str, dict[str, Any]] = {}
    for layer in evaluator.scene.layers:
        try:
            layers[layer.id] = _layer_view(evaluator, library, layer, time_s)
        except Exception as error:  # one layer that cannot be worked out must not hide the others  # noqa: BLE001
            span = [layer.start_s, layer.end_s]
            layers[layer.id] = {
                "on": is_on(layer, time_s), "values": {}, "span": span, "lost": reason(error),
            }  # fmt: skip
    for layer_id, told in crossings_view(evaluator).items():
        layers[layer_id] |= told
    for (layer_id, property_id), message in evaluator.faults.items():
        if layer_id in layers:
            layers[layer_id].setdefault("faults", {})[property_id] = message
    return layers


def _layer_view(
    evaluator: SceneEvaluator, library: MediaLibrary, layer: Layer, time_s: float
) -> dict[str, Any]:
    resolved = evaluator.layer(layer, time_s)
    values = evaluator.values(layer, time_s)
    kind = layer_kind(layer.kind)
    shown = {}
    names = [name for name in layer.properties if _varies(layer, name)]
    for name in (*names, *(parts_of(layer, "position") or ())):
        spec = find_spec(layer, name)
        if spec is not None:
            shown[name] = spec.kind.to_json(values(name))
    if kind.placed:
        shown["position"] = Kind.POINT.to_json(values("position"))
        shown["scale"] = Kind.POINT.to_json(values("scale"))
    span = [layer.start_s, layer.end_s]
    entry: dict[str, Any] = {"on": is_on(layer, time_s), "values": shown, "span": span}
    if resolved is not None:
        entry["box"] = resolved.content.box(library)
        entry["corners"] = placed_corners(resolved, library)
        entry["matrix"] = resolved.matrix.as_tuple()
        entry["pivot"] = _pivot(resolved, values) if kind.placed else None
    elif layer.kind == "carrier":
        entry |= _carrier_view(evaluator, values)
    wanted = {each.id: wanted_by(evaluator.project, evaluator.scene, layer, each)
              for each in layer.effects}  # fmt: skip
    if wants := {effect: asdict(found) for effect, found in wanted.items() if found}:
        entry["wants"] = wants
    if kind.placed and layer.rides is not None:
        entry["carried"] = _carried(evaluator, values)
    return entry


def _pivot(resolved: ResolvedLayer, values: LayerValues) -> Point:
    return (resolved.lens or resolved.matrix)(values("pivot"))


def _carrier_view(evaluator: SceneEvaluator, values: LayerValues) -> dict[str, Any]:
    """A carrier has no picture: a small cross stands for it."""
    place = evaluator.matrix(values)
    seen = evaluator.places.lens(values) or place
    box = CARRIER_BOX
    return {
        "box": box,
        "corners": seen.corners(box),
        "matrix": place.as_tuple(),
        "pivot": seen(values("pivot")),
    }


def _carried(evaluator: SceneEvaluator, values: LayerValues) -> tuple[float, ...]:
    """The map from the space that a layer rides in into the scene, near the layer where that is
    in perspective: as drags need it."""
    lens = evaluator.places.carrier_lens(values)
    if lens is None:
        return evaluator.places.carrier(values).as_tuple()
    return lens.near(values("position")).as_tuple()


def paths_view(evaluator: SceneEvaluator, layer: Layer, time_s: float) -> list[dict[str, Any]]:
    """The paths of a layer that are edited on the stage: its own, its parts', that which its text
    follows, those that give its fronts their order, the lines that it is cut along, its masks'.

    ``contours`` hold points as [x, y, into x, into y, out x, out y, smooth] in the path's own
    space, which ``matrix`` (the letters of SVG's matrix()) maps into the scene; ``path`` is the
    SVG path data. A half plane has the matrix only.
    """
    values = evaluator.values(layer, time_s)
    place = _path_space(evaluator, layer, time_s)
    found = []
    if layer.kind == "shape" and values("shape.kind") == "path":
        found.append(_path_view("shape.path", values("shape.path"), place))
    if layer.kind == "shape" and values("shape.kind") == "drawing":
        for part in layer.parts:
            name = PARTS.prefix(part.id) + "path"
            found.append(_path_view(name, values(name), place))
    if layer.kind == "text" and values("text.path"):
        found.append(_path_view("text.path", values("text.path"), place))
    for front in layer.fronts:
        prefix = FRONTS.prefix(front.id)
        if values(prefix + "order") == "path":
            found.append(_path_view(prefix + "path", values(prefix + "path"), place))
    if find_spec(layer, "slices.kind") is not None and values("slices.kind") == "lines":
        found.append(_path_view("slices.lines", values("slices.lines"), place))
    for mask in layer.masks:
        name = MASKS.prefix(mask.id) + "path"
        path = "" if mask.form == "half-plane" else values(name)
        matrix = path_place(evaluator, layer, name, time_s)
        found.append({**_path_view(name, path, matrix), "mask": mask.id, "colour": mask.colour})
    return found


def path_place(evaluator: SceneEvaluator, layer: Layer, property_id: str, time_s: float) -> Affine:
    """Where a path of a layer lies: from its own space into the scene at a time."""
    place = _path_space(evaluator, layer, time_s)
    if not MASKS.holds(property_id):
        return place
    mask = MASKS.find(layer, property_id.split(".")[1])
    matrix = mask_place(evaluator.values(layer, time_s), mask)
    if mask.space == "layer":
        return place @ matrix
    if mask.space == "follow":
        return (evaluator.place_of(mask.follows or "", time_s) or place) @ matrix
    return matrix


def _path_space(evaluator: SceneEvaluator, layer: Layer, time_s: float) -> Affine:
    """Where a layer lies; in perspective as it does about its pivot: what is drawn over the stage
    is right there."""
    values = evaluator.values(layer, time_s)
    lens = evaluator.places.lens(values) if layer_kind(layer.kind).placed else None
    return evaluator.matrix(values) if lens is None else lens.near(values("pivot"))


def _path_view(property_id: str, path: str, matrix: Affine) -> dict[str, Any]:
    contours = [
        {
            "closed": contour.closed,
            "points": [
                [
                    *(round(v, 3) for v in (*p.at, *p.into, *p.out)), p.smooth,
                ]
                for p in contour.points
            ],
        }
        for contour in (parse_contours(path) if path else ())
    ]  # fmt: skip
    return {
        "property": property_id,
        "matrix": matrix.as_tuple(),
        "contours": contours,
        "path": path,
    }


def _varies(layer: Layer, property_id: str) -> bool:
    prop = layer.properties.get(property_id)
    if isinstance(prop, ArrangedProperty):
        return True
    return prop is not None and bool(prop.keys or prop.expression)
