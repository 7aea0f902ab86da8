"""The arrangements of a scene one after the other: what they say of each layer, and the course that
comes of it."""

from __future__ import annotations

import math
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np

from ..catalog import MOVES as WORN
from ..catalog import UNSEEN, arranged_spec, find_spec, parts_of
from ..geometry.affine import Point
from ..model import Keyframe, Kind, Layer, Property, PropertySpec, Scene, Step
from ..model.arrangements import holds_of
from ..moves import MOVES
from ..timing import resolve_easing
from .arrangement_way import ONE_S, Line, arc_handles, first_contour, path_of
from .courses import ArrangedProperty, Course, Passage
from .tracks import Names

# Ways along a drawn path have so many points a frame, and no more than this.
_PER_FRAME, _MOST_POINTS = 2, 600
_PLAIN_MOVE = "fade"
_ALWAYS = ((-math.inf, math.inf),)


@dataclass(frozen=True)
class Said:
    """What arrangements say of a layer: of which properties, the values in each, in the form of the
    document, and whether it is there in each."""

    specs: Mapping[str, PropertySpec]
    values: Mapping[str, list[Any]]
    there: list[bool]


# What arrangements say of layers, by ids of scene and layer, with all that it was made of: an edit
# changes little of it.
_SAID: dict[tuple[str, str], tuple[Layer, tuple[Any, ...], Said]] = {}
_MOST_SAID = 6000


class ArrangementRow:
    """The arrangements of a scene while they are worked out."""

    def __init__(self, scene: Scene, names: Names) -> None:
        self.scene, self.names = scene, names
        self.holds = holds_of(scene)
        self.stands = [{s.layer: s for s in each.stands} for each in scene.arrangements]
        self.layers = {layer.id: layer for layer in scene.layers}
        self.said: dict[str, Said] = {}
        for layer in scene.layers:
            if any(layer.id in stands for stands in self.stands):
                said = self._said(layer)
                if said.specs or not all(said.there):
                    self.said[layer.id] = said

    @cached_property
    def ways(self) -> list[dict[str, tuple[float, float]]]:
        """For every step, when each layer that changes in it does so, s of the scene."""
        return [self._ways(index) for index in range(len(self.holds) - 1)]

    def of(self, layer: Layer) -> tuple[Any, ...]:
        """What the arrangements say of a layer, and the frame that its defaults depend on."""
        stands = tuple(stands.get(layer.id) for stands in self.stands)
        return (self.scene.width, self.scene.height, self.scene.rate, stands)

    def timing(self, layer: Layer) -> tuple[Any, ...]:
        """How and when a layer changes in each step."""
        return tuple(
            (
                way, each.step, self.layers.get(each.step.along or "")
                if each.step.path == "drawn" else None,
            )
            for each, ways in zip(self.scene.arrangements, self.ways, strict=False)
            if (way := ways.get(layer.id)) is not None
        )  # fmt: skip

    def _said(self, layer: Layer) -> Said:
        key, of = (self.scene.id, layer.id), self.of(layer)
        found = _SAID.get(key)
        if found is not None and found[0] is layer and found[1] == of:
            return found[2]
        specs = self._specs(layer)
        there = [s[layer.id].there if layer.id in s else True for s in self.stands]
        if layer.kind in UNSEEN:
            there = [True] * len(there)
        values = {name: self._values(layer, spec) for name, spec in specs.items()}
        if len(_SAID) > _MOST_SAID:
            _SAID.clear()
        said = Said(specs, values, there)
        _SAID[key] = (layer, of, said)
        return said

    def _specs(self, layer: Layer) -> dict[str, PropertySpec]:
        """The properties of which arrangements say something that its own keys do not take over."""
        found: dict[str, PropertySpec] = {}
        for stands in self.stands:
            for name in stands[layer.id].values if layer.id in stands else ():
                spec = arranged_spec(layer, name)
                if spec is None or name in found:
                    continue
                own = layer.properties.get(name)
                if own is not None and own.keys and not (own.adds and _adds(spec)):
                    continue
                found[name] = spec
        return found

    def _values(self, layer: Layer, spec: PropertySpec) -> list[Any]:
        """A property's value in each arrangement, in the form of the document."""
        own = own_value(layer, spec, self.scene)
        found = []
        for stands in self.stands:
            stand = stands.get(layer.id)
            if stand is not None and spec.id in stand.values:
                found.append(stand.values[spec.id])
            elif spec.follows and stand is not None and spec.follows in stand.values:
                found.append(stand.values[spec.follows])
            else:
                found.append(own)
        return found

    def _changes(self, layer: Layer, index: int) -> bool:
        """Whether a layer changes in the step that follows an arrangement."""
        said = self.said.get(layer.id)
        if said is None:
            return False
        there = said.there
        if there[index] != there[index + 1]:
            return True
        return there[index] and any(
            values[index] != values[index + 1] for values in said.values.values()
        )

    def _ways(self, index: int) -> dict[str, tuple[float, float]]:
        """When each layer that changes in a step does so, s of the scene."""
        step = self.scene.arrangements[index].step
        begin = self.holds[index][1]
        changing = [layer for layer in self.scene.layers if self._changes(layer, index)]
        if not step.stagger_pct:
            return {layer.id: (begin, begin + step.length_s) for layer in changing}
        ranked = sorted(
            range(len(changing)), key=lambda i: self._rank(changing[i], i, step.order, index)
        )
        spread = step.length_s * step.stagger_pct / 100 if len(changing) > 1 else 0.0
        lasts = step.length_s - spread
        ways = {}
        for rank, at in enumerate(ranked):
            start = begin + (spread * rank / (len(changing) - 1) if spread else 0.0)
            ways[changing[at].id] = (start, start + lasts)
        return ways

    def _rank(self, layer: Layer, at: int, order: str, index: int) -> float:
        if order in ("lowest", "highest"):
            return at if order == "lowest" else -at
        x, y = self.place(layer, index)
        middle = (self.scene.width / 2, self.scene.height / 2)
        ranks: dict[str, Callable[[], float]] = {
            "rightwards": lambda: x,
            "leftwards": lambda: -x,
            "downwards": lambda: y,
            "upwards": lambda: -y,
            "outwards": lambda: math.dist((x, y), middle),
            "inwards": lambda: -math.dist((x, y), middle),
            "shuffled": lambda: zlib.crc32(f"{layer.id} {index}".encode()),
        }
        return ranks[order]()

    def place(self, layer: Layer, index: int) -> Point:
        """About where a layer is in an arrangement: what it rides on counts as neither turned nor
        scaled."""
        x, y = 0.0, 0.0
        seen: set[str] = set()
        here: Layer | None = layer
        while here is not None and here.id not in seen:
            seen.add(here.id)
            spec = find_spec(here, "position")
            if spec is None:
                break
            for axis, part in enumerate(parts_of(here, "position") or ("", "")):
                name = part or "position"
                said = self.said.get(here.id)
                values = said.values.get(name) if said is not None else None
                declared = find_spec(here, name)
                assert declared is not None
                value = values[index] if values else own_value(here, declared, self.scene)
                along = value if part else value[axis]
                x, y = (x + along, y) if axis == 0 else (x, y + along)
            here = self.layers.get(here.rides or "")
        return (x, y)

    def course(self, layer: Layer) -> Course:
        """What they mean for a layer of which they say something."""
        said = self.said[layer.id]
        properties = {
            name: self._property(layer, spec, said.values[name])
            for name, spec in said.specs.items()
        }
        spans, passages = self._presence(layer)
        return Course(properties, spans, passages)

    def _presence(
        self, layer: Layer
    ) -> tuple[tuple[tuple[float, float], ...], tuple[Passage, ...]]:
        there = self.said[layer.id].there
        if all(there):
            return _ALWAYS, ()
        spans: list[tuple[float, float]] = []
        passages: list[Passage] = []
        since = -math.inf if there[0] else None
        for index, ways in enumerate(self.ways):
            if there[index] == there[index + 1]:
                continue
            start, end = ways[layer.id]
            comes = there[index + 1]
            step = self.scene.arrangements[index].step
            if comes:
                since = start
            else:
                spans.append((-math.inf if since is None else since, end))
                since = None
            if end - start > ONE_S:
                wish = step.appears if comes else step.vanishes
                phase: Literal["arrive", "leave"] = "arrive" if comes else "leave"
                kind = _fitting(layer, wish)
                if kind:
                    passages.append(Passage(phase, kind, start, end - start))
        if since is not None:
            spans.append((since, math.inf))
        return tuple(spans), tuple(passages)

    def _property(self, layer: Layer, spec: PropertySpec, values: Sequence[Any]) -> Property:
        own = layer.properties.get(spec.id) or Property()
        keys = self._keys(layer, spec, values)
        added = own if own.keys else None
        if len(keys) == 1 and added is None:
            return ArrangedProperty(value=keys[0].value, expression=own.expression)
        return ArrangedProperty(
            keys=keys, expression=own.expression, crosses=not spec.kind.mixes, added=added
        )

    def _keys(
        self, layer: Layer, spec: PropertySpec, values: Sequence[Any]
    ) -> tuple[Keyframe, ...]:
        there = self.said[layer.id].there
        shown = [i for i, is_there in enumerate(there) if is_there] or [0]
        line = Line(layer.start_s, values[shown[0]])
        for index, ways in enumerate(self.ways):
            a, b = values[index], values[index + 1]
            if not there[index + 1]:
                continue  # it goes, or is not there
            if not there[index]:
                if index + 1 > shown[0]:  # it has been elsewhere when it was seen last
                    line.jump(ways[layer.id][0], b)
                continue
            if a == b:
                continue
            start, end = ways[layer.id]
            if end - start <= ONE_S:
                line.jump(start, b)
                continue
            step = self.scene.arrangements[index].step
            drawn = spec.id == "position" and step.path == "drawn"
            if drawn and (way := self._drawn(step, a, b, end - start)):
                line.through(start, end, way)
                continue
            handles = arc_handles(a, b, step.bend) if _bends(spec, step) else None
            line.way(start, end, b, step.easing, handles)
        return line.keys()

    def _drawn(self, step: Step, a: Point, b: Point, lasts_s: float) -> list[Point]:
        """Points at even times of a way along a drawn path; none where there is no such path."""
        drawn = next((each for each in self.scene.layers if each.id == step.along), None)
        data = path_of(drawn) if drawn is not None else ""
        if not data:
            return []
        path = first_contour(data)
        if path is None or path.is_empty or path.closed:  # a closed one leads nowhere
            return []
        rate = self.scene.rate.rate
        count = int(min(_MOST_POINTS, max(2, math.ceil(lasts_s * rate.fps * _PER_FRAME))))
        easing = resolve_easing(step.easing, self.names.easings)
        shares = [min(1.0, max(0.0, easing.at(i / count, lasts_s))) for i in range(count + 1)]
        shares[0], shares[-1] = 0.0, 1.0
        there, _ = path.at(np.array(shares) * path.length)
        points = [complex(x, y) for x, y in there.tolist()]
        if abs(points[-1] - points[0]) < ONE_S:
            return []
        turn = (complex(*b) - complex(*a)) / (points[-1] - points[0])
        moved = [complex(*a) + (point - points[0]) * turn for point in points]
        return [(each.real, each.imag) for each in moved]


def own_value(layer: Layer, spec: PropertySpec, scene: Scene) -> Any:
    """A property's own value in the form of the document: of keys the first; its default, or that
    of what it follows, where it is not set."""
    prop = layer.properties.get(spec.id)
    if prop is not None:
        return prop.keys[0].value if prop.keys else prop.value
    if spec.split and (parts := parts_of(layer, spec.id)):
        each = (find_spec(layer, part) for part in parts)
        return tuple(own_value(layer, one, scene) for one in each if one is not None)
    if spec.follows and (followed := find_spec(layer, spec.follows)):
        return own_value(layer, followed, scene)
    return spec.default_in(scene.width, scene.height)


def _bends(spec: PropertySpec, step: Step) -> bool:
    return spec.id == "position" and step.path == "arc"


def _adds(spec: PropertySpec) -> bool:
    return spec.kind in (Kind.NUMBER, Kind.POINT)


def _fitting(layer: Layer, wish: str) -> str:
    """The move of that name, or the plain one where it does nothing for such a layer; "" where that
    does not either."""
    for kind_id in (wish, _PLAIN_MOVE):
        kind = MOVES.get(kind_id)
        if kind is not None and layer.kind in kind.fits and WORN.declared(kind_id) is not None:
            return kind_id
    return ""
