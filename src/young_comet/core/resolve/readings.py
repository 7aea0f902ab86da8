"""What expressions read of the scene around them: marks, arrangements, other layers, sounds."""

from __future__ import annotations

from typing import Any

from ...errors import DocumentError
from ..expressions import ExpressionError
from ..model import Layer, Scene
from ..model.arrangements import holds_of
from .contents import level_of
from .context import Resolver
from .values import is_on

# Expressions may also read these of a layer: the size of what it shows (px, in its own space)
# and when it is on (seconds of the scene).
MEASURES = ("width", "height", "start", "end")


def mark_time(scene: Scene, name: str) -> float:
    """The second of a mark; ExpressionError where there is none of that name."""
    for mark in scene.marks:
        if mark.name == name:
            return mark.time_s
    raise ExpressionError(f"there is no mark {name!r}")


def held_time(scene: Scene, name: str, end: bool) -> float:
    """When an arrangement begins or ends to hold; ExpressionError where there is none."""
    for each, hold in zip(scene.arrangements, holds_of(scene), strict=True):
        if each.name == name:
            return hold[end]
    raise ExpressionError(f"there is no arrangement {name!r}")


def read(evaluator: Resolver, layer: Layer, property_id: str, time_s: float) -> Any:
    """What an expression reads of a layer: a property or one of MEASURES, as numbers, lists of
    numbers or texts. ExpressionError where there is nothing of that name."""
    if property_id == "start":
        return layer.start_s
    if property_id == "end":
        return layer.end_s
    values = evaluator.values(layer, time_s)
    if property_id in MEASURES:
        box = evaluator.content_box(values)
        if box is None:
            raise ExpressionError(f"{layer.name!r} shows nothing that has a size")
        return box[2] - box[0] if property_id == "width" else box[3] - box[1]
    try:
        value = values(property_id)
    except (KeyError, DocumentError):
        raise ExpressionError(f"{layer.name!r} has no property {property_id!r}") from None
    return value if isinstance(value, float | str | tuple) else float(value)


def level(evaluator: Resolver, layer: Layer, time_s: float, band_hz: tuple[float, float]) -> float:
    """How loud what is played of a layer's file is at a scene time between two frequencies, 0 to
    1, before its gain and fades; 0 where it is not heard. ExpressionError where there is no sound,
    or it cannot be read."""
    if layer.kind not in ("sound", "clip"):
        raise ExpressionError(f"{layer.name!r} is no sound and no clip")
    if layer.hidden or not is_on(layer, time_s):
        return 0.0
    return level_of(evaluator, evaluator.values(layer, time_s), evaluator.library, band_hz)
