"""What a layer is shown through, and which other layers it needs."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ..catalog import EFFECTS, MOST_MATTES, matte_name
from ..frame.contents import ShapeContent
from ..frame.forms import ShapeForm
from ..frame.resolved import ResolvedLayer, ResolvedMatte
from ..frame.surface import Surface
from ..geometry.affine import Affine
from ..model import Layer
from .context import Resolver
from .values import LayerValues, is_on

_NOTHING = ResolvedLayer("", ShapeContent(ShapeForm("rectangle"), Surface(None)), Affine(), 0.0)


def mattes_of(
    evaluator: Resolver, v: LayerValues, time_s: float, visiting: frozenset[str]
) -> tuple[ResolvedMatte, ...]:
    """What a layer is shown through at a time: other layers, joined, and what lies below it."""
    visiting = visiting | {v.layer.id}
    mattes = []
    found: list[ResolvedMatte] = []
    for number in range(1, MOST_MATTES + 1):
        name, by, inverted = (v(matte_name(number, part)) for part in ("layer", "by", "inverted"))
        if not name:
            continue
        mode = v(matte_name(number, "mode")) if number > 1 else "union"
        other = evaluator.other(name, time_s, visiting)
        if other is None and _is_off(evaluator, name, visiting):
            other = _NOTHING  # a matte that is off shows nothing
        if other is not None:
            found.append(ResolvedMatte(other, by, inverted, mode))
    if found:
        mattes.append(replace(found[0], joined=tuple(found[1:])))
    if v("matte.below"):
        below = _below(evaluator, v.layer, time_s)
        other = evaluator.other(below.id, time_s, visiting) if below else None
        mattes.append(ResolvedMatte(other or _NOTHING, "alpha", False))
    return tuple(mattes)


def _is_off(evaluator: Resolver, layer_id: str, visiting: frozenset[str]) -> bool:
    """Whether a layer is there and shows nothing now; one that is being resolved counts as
    not being there."""
    return evaluator.find(layer_id) is not None and layer_id not in visiting


def _below(evaluator: Resolver, layer: Layer, time_s: float) -> Layer | None:
    """The next layer below that is seen; one that is itself within the layer below it does
    not count, so that several can lie within one."""
    index = next(i for i, each in enumerate(evaluator.scene.layers) if each.id == layer.id)
    for below in reversed(evaluator.scene.layers[:index]):
        if below.hidden or not is_on(below, time_s) or below.kind == "treatment":
            continue
        prop = below.properties.get("matte.below")
        if prop is None or not prop.value:
            return below
    return None


def reach_of(layer: Layer, layers: Mapping[str, Layer]) -> frozenset[str]:
    """The layers that a layer may need as mattes or inputs, and what those need."""
    seen: set[str] = set()
    waiting = [layer]
    while waiting:
        for name in _needed(waiting.pop(), layers):
            if name in layers and name not in seen:
                seen.add(name)
                waiting.append(layers[name])
    return frozenset(seen)


def _needed(layer: Layer, layers: Mapping[str, Layer]) -> list[str]:
    below = layer.properties.get("matte.below")
    if below is not None and below.value:
        return list(layers)
    return [
        str(value)
        for name, prop in layer.properties.items()
        if name.startswith("matte.") or EFFECTS.holds(name) or name.endswith("fill.layer")
        for value in (prop.value, *(key.value for key in prop.keys))
        if isinstance(value, str)
    ]
