"""What arrangements mean for each layer: courses of its properties, when it is there, and the moves
by which it comes and goes.

A scene with arrangements is resolved as one whose layers have those courses as keys; the same
courses are what arrangements are turned into.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from ..catalog import find_spec
from ..model import Layer, Property, Scene
from ..model.arrangements import index_at
from .arrangement_row import ArrangementRow
from .courses import ArrangedLayer, ArrangedMove, Course
from .tracks import Names, make_track


def arranged(scene: Scene, names: Names) -> Scene:
    """The scene with its arrangements as courses of its layers; the same object where it has none.
    What was worked out of a scene is kept."""
    if not scene.arrangements:
        return scene
    for known, of, made in _KEPT:
        if known is scene and of is names:
            return made
    row = ArrangementRow(scene, names)
    layers = tuple(
        _made_of(row, layer) if layer.id in row.said else layer for layer in scene.layers
    )
    made = scene.model_copy(update={"layers": layers})
    _KEPT.append((scene, names, made))
    del _KEPT[:-_MOST_KEPT]
    return made


_KEPT: list[tuple[Scene, Names, Scene]] = []
_MOST_KEPT = 24
# Layers with their courses, by ids of scene and layer, with all that they were made of: an edit
# changes few of them.
_LAYERS: dict[tuple[str, str], tuple[Layer, tuple[Any, ...], Layer]] = {}
_MOST_LAYERS = 6000


def _made_of(row: ArrangementRow, layer: Layer) -> Layer:
    key = (row.scene.id, layer.id)
    of = (row.names, *row.of(layer), *row.timing(layer))
    found = _LAYERS.get(key)
    if found is not None and found[0] is layer and found[1] == of:
        return found[2]
    if len(_LAYERS) > _MOST_LAYERS:
        _LAYERS.clear()
    made = _with_course(layer, row.course(layer))
    _LAYERS[key] = (layer, of, made)
    return made


def _with_course(layer: Layer, course: Course) -> Layer:
    moves = tuple(
        ArrangedMove(
            id=f"arranged{n}", kind=each.kind, phase=each.phase, at_s=each.at_s,
            lasts_s=each.lasts_s,
        )
        for n, each in enumerate(course.passages)
    )  # fmt: skip
    values = dict(layer.__dict__)
    values["properties"] = {**layer.properties, **course.properties}
    values["moves"] = (*layer.moves, *moves)
    return ArrangedLayer.model_construct(**values, away=_gaps(course.spans))


def _gaps(spans: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    found, at = [], -math.inf
    for start, end in spans:
        if start > at:
            found.append((at, start))
        at = end
    if at < math.inf:
        found.append((at, math.inf))
    return tuple(found)


def courses_of(scene: Scene, names: Names) -> dict[str, Course]:
    """The courses of the layers of which arrangements say something, by their ids."""
    row = ArrangementRow(scene, names)
    return {layer.id: row.course(layer) for layer in scene.layers if layer.id in row.said}


def said_in(scene: Scene, names: Names, arrangement_id: str) -> dict[str, dict[str, Any]]:
    """What stands of all that any arrangement says in one of them: values by layer and property, in
    the form of the document, without those that keys take over."""
    index = [each.id for each in scene.arrangements].index(arrangement_id)
    row = ArrangementRow(scene, names)
    return {
        layer_id: {name: values[index] for name, values in said.values.items()}
        for layer_id, said in row.said.items()
    }


def values_at(scene: Scene, names: Names, time_s: float) -> dict[str, dict[str, Any]]:
    """The values that arrangements give at a moment (s of the scene), by layer and property, in the
    form of the document; of what has nothing between two values that of the nearer one."""
    near = scene.arrangements[index_at(scene, time_s)].id
    found = said_in(scene, names, near)
    layers = {layer.id: layer for layer in scene.layers}
    for layer_id, course in courses_of(scene, names).items():
        layer = layers[layer_id]
        for name, prop in course.properties.items():
            spec = find_spec(layer, name)
            if spec is None or not spec.kind.mixes or not prop.keys:
                continue
            plain = Property(keys=prop.keys)
            value = make_track(plain, spec, names).at(time_s - layer.start_s)
            found[layer_id][name] = spec.kind.check(spec, spec.kind.to_json(value), spec.label)
    return found
