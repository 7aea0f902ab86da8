"""What an editor shows over the picture: boxes, pivots, current values."""

from __future__ import annotations

from typing import Any

from ..catalog import layer_kind, specs_of
from ..geometry.affine import Box
from ..model import Kind, Layer
from ..pixels.colour import format_colour
from .evaluate import SceneEvaluator, is_on
from .forms import form_box
from .library import MediaLibrary
from .resolved import (
    BackdropContent,
    ClipContent,
    PictureContent,
    ResolvedLayer,
    ShapeContent,
    TextContent,
)


def content_box(resolved: ResolvedLayer, library: MediaLibrary) -> Box:
    """The box of what a layer shows, in its own space."""
    content = resolved.content
    if isinstance(content, ShapeContent):
        return form_box(content.form)
    if isinstance(content, TextContent):
        return library.text(content.text, content.style).box
    if isinstance(content, PictureContent | ClipContent):
        w, h = content.width / 2, content.height / 2
        return (-w, -h, w, h)
    assert isinstance(content, BackdropContent)
    w, h = resolved.matrix.e, resolved.matrix.f
    return (-w, -h, w, h)


def layer_bounds(
    evaluator: SceneEvaluator, library: MediaLibrary, layer: Layer, time_s: float
) -> Box | None:
    """The upright box around a layer's content in the scene; None if it shows nothing."""
    resolved = evaluator.layer(layer, time_s)
    if resolved is None:
        return None
    return resolved.matrix.box(content_box(resolved, library))


def scene_view(evaluator: SceneEvaluator, library: MediaLibrary, time_s: float) -> dict[str, Any]:
    """For every layer: whether it is on, its span, corners and pivot in the scene, its values.

    ``values`` holds the animated properties and the position in their JSON form;
    ``matrix`` maps the layer's own space into the scene (the letters of SVG's matrix()).
    """
    layers = {}
    for layer in evaluator.scene.layers:
        resolved = evaluator.layer(layer, time_s)
        values = evaluator.values(layer, time_s)
        kind = layer_kind(layer.kind)
        shown = {
            spec.id: as_json(spec.kind, values(spec.id))
            for spec in specs_of(layer)
            if spec.id.startswith("position") or _has_keys(layer, spec.id)
        }
        if kind.placed:
            shown["position"] = as_json(Kind.POINT, values("position"))
            shown["scale"] = as_json(Kind.POINT, values("scale"))
        span = [layer.start_s, layer.end_s]
        entry: dict[str, Any] = {"on": is_on(layer, time_s), "values": shown, "span": span}
        if resolved is not None:
            box = content_box(resolved, library)
            entry["box"] = box
            entry["corners"] = resolved.matrix.corners(box)
            entry["matrix"] = resolved.matrix.as_tuple()
            entry["pivot"] = values("position") if kind.placed else None
        layers[layer.id] = entry
    return layers


def _has_keys(layer: Layer, property_id: str) -> bool:
    prop = layer.properties.get(property_id)
    return prop is not None and bool(prop.keys)


def as_json(kind: Kind, value: Any) -> Any:
    """A computed value in the form documents use."""
    if kind is Kind.COLOUR:
        return format_colour(value)
    if kind is Kind.STOPS:
        return [[round(offset, 6), format_colour(colour)] for offset, colour in value]
    if kind is Kind.POINT:
        return [round(value[0], 6), round(value[1], 6)]
    if kind is Kind.NUMBER:
        return round(value, 6)
    return value
