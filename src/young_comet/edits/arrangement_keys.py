"""Arrangements turned into ordinary keys, spans and moves."""

from __future__ import annotations

import math
from typing import Any

from ..core.catalog import MOVES, find_spec
from ..core.model import Keyframe, Layer, Move, Property
from ..core.resolve import SceneEvaluator
from ..core.resolve.courses import ArrangedProperty, Course
from .base import new_id
from .layer_edits import next_name
from .time_edits import trimmed


def parted(evaluator: SceneEvaluator, layer: Layer, course: Course, names: set[str]) -> list[Layer]:
    """A layer with what arrangements say of it as its own: as many layers as it is there times.
    ``names`` are those that are taken; new ones are added to it."""
    properties = dict(layer.properties)
    for name, prop in course.properties.items():
        properties[name] = _own(evaluator, layer, name, prop)
    whole = layer.model_copy(update={"properties": properties})
    if layer.copy_of is not None:
        whole = whole.model_copy(update={"own": tuple(sorted({*layer.own, *course.properties}))})
    pieces: list[Layer] = []
    for start, end in course.spans:
        start_s, end_s = max(layer.start_s, start), min(layer.end_s, end)
        if end_s - start_s < 1e-6:
            continue
        piece = trimmed(whole, start_s, end_s)
        for phase, edge in (("arrive", start), ("leave", end)):
            piece = _with_passage(piece, course, phase, edge)
        update: dict[str, Any] = {}
        if start_s > layer.start_s:
            update["start_tie"] = None
        if end_s < layer.end_s:
            update["end_tie"] = None
        if pieces:
            name = next_name(layer.name, names)
            names.add(name)
            update |= {"id": new_id(), "name": name, "copy_of": None, "own": ()}
        pieces.append(piece.model_copy(update=update))
    return pieces or [whole.model_copy(update={"hidden": True})]


def _own(evaluator: SceneEvaluator, layer: Layer, name: str, prop: Property) -> Property:
    """An arranged property as an ordinary one; where keys are added to it a key on every frame."""
    if not isinstance(prop, ArrangedProperty) or prop.added is None:
        return Property(
            value=prop.value, keys=prop.keys, expression=prop.expression, crosses=prop.crosses
        )
    spec = find_spec(layer, name)
    known = evaluator.find(layer.id)
    assert spec is not None and known is not None
    rate = evaluator.rate
    first, last = rate.nearest_frame(layer.start_s), rate.nearest_frame(layer.end_s)
    keys = []
    for number in range(first, last + 1):
        at = rate.time_of(number)
        value = spec.kind.to_json(evaluator.values(known, at).keyed(name))
        key = Keyframe(id=f"a{number - first}", time_s=at - layer.start_s, value=value)
        keys.append(key.model_copy(update={"easing": "linear"}))
    return Property(expression=prop.expression).with_keys(keys)


def _with_passage(layer: Layer, course: Course, phase: str, edge: float) -> Layer:
    """A layer that comes or goes as the arrangements say, in place of the moves that it wears for
    that; as it is where it does not come or go by them."""
    if math.isinf(edge):
        return layer
    arrives = phase == "arrive"
    gone = [move.id for move in layer.moves if move.phase == phase]
    layer = MOVES.without(layer, gone)
    follows = {f"{phase}_follows": False, f"{phase}_s": 0.0}
    for each in course.passages:
        ends = each.at_s if arrives else each.at_s + each.lasts_s
        if each.phase != phase or abs(ends - edge) > 1e-6:
            continue
        length = min(each.lasts_s, layer.end_s - layer.start_s)
        move = Move(id=new_id(), kind=each.kind, phase=each.phase)
        layer = layer.model_copy(
            update={**follows, f"{phase}_s": length, "moves": (*layer.moves, move)}
        )
        break
    else:
        layer = layer.model_copy(update=follows)
    return layer
