"""What arrangements mean for each layer: courses of its properties, when it is there, and the moves
by which it comes and goes.

A scene with arrangements is resolved as one whose layers have those courses as keys; the same
courses are what arrangements are turned into.
"""

from __future__ import annotations

import math
import zlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np

from ...errors import YoungCometError
from ..catalog import MOVES as WORN
from ..catalog import UNSEEN, arranged_spec, find_spec, parts_of
from ..geometry.affine import Point
from ..geometry.contours import parse_contours, write_contours
from ..geometry.trail import Trail, trail
from ..model import Keyframe, Kind, Layer, Move, Property, PropertySpec, Scene, Step
from ..model.arrangements import holds_of, index_at
from ..moves import MOVES
from ..timing import resolve_easing
from .tracks import Names, make_track

# Two moments nearer than this are one.
_ONE_S = 1e-6
# Ways along a drawn path have so many points a frame, and no more than this.
_PER_FRAME, _MOST_POINTS = 2, 600
_PLAIN_MOVE = "fade"


class ArrangedProperty(Property):
    """What arrangements say of a property, as keys; ``added`` is the property's own where its keys
    add to that."""

    added: Property | None = None


class ArrangedMove(Move):
    """A move by which a layer comes or goes in a step: when (s of the scene), and for how long."""

    at_s: float = 0.0
    lasts_s: float = 0.0


class ArrangedLayer(Layer):
    """A layer with the courses that arrangements give it. It is not there in the spans ``away``, s
    of the scene."""

    away: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Passage:
    """How a layer comes ("arrive") or goes ("leave") in a step: by which move, and when."""

    phase: Literal["arrive", "leave"]
    kind: str
    at_s: float
    lasts_s: float


@dataclass(frozen=True)
class Course:
    """What arrangements mean for one layer: its properties over time, the spans (s of the scene) in
    which it is there, and how it comes and goes. ``properties`` replace its own."""

    properties: Mapping[str, Property]
    spans: tuple[tuple[float, float], ...]
    passages: tuple[Passage, ...]


_ALWAYS = ((-math.inf, math.inf),)


def arranged(scene: Scene, names: Names) -> Scene:
    """The scene with its arrangements as courses of its layers; the same object where it has none.
    What was worked out of a scene is kept."""
    if not scene.arrangements:
        return scene
    for known, of, made in _KEPT:
        if known is scene and of is names:
            return made
    row = _Row(scene, names)
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
# changes few of them. What arrangements say of a layer, likewise.
_LAYERS: dict[tuple[str, str], tuple[Layer, tuple[Any, ...], Layer]] = {}
_SAID: dict[tuple[str, str], tuple[Layer, tuple[Any, ...], _Said]] = {}
_MOST_LAYERS = 6000


def _made_of(row: _Row, layer: Layer) -> Layer:
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
    row = _Row(scene, names)
    return {layer.id: row.course(layer) for layer in scene.layers if layer.id in row.said}


def said_in(scene: Scene, names: Names, arrangement_id: str) -> dict[str, dict[str, Any]]:
    """What stands of all that any arrangement says in one of them: values by layer and property, in
    the form of the document, without those that keys take over."""
    index = [each.id for each in scene.arrangements].index(arrangement_id)
    row = _Row(scene, names)
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


@dataclass(frozen=True)
class _Said:
    """What arrangements say of a layer: of which properties, the values in each, in the form of the
    document, and whether it is there in each."""

    specs: Mapping[str, PropertySpec]
    values: Mapping[str, list[Any]]
    there: list[bool]


class _Row:
    """The arrangements of a scene while they are worked out."""

    def __init__(self, scene: Scene, names: Names) -> None:
        self.scene, self.names = scene, names
        self.holds = holds_of(scene)
        self.stands = [{s.layer: s for s in each.stands} for each in scene.arrangements]
        self.layers = {layer.id: layer for layer in scene.layers}
        self.said: dict[str, _Said] = {}
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

    def _said(self, layer: Layer) -> _Said:
        key, of = (self.scene.id, layer.id), self.of(layer)
        found = _SAID.get(key)
        if found is not None and found[0] is layer and found[1] == of:
            return found[2]
        specs = self._specs(layer)
        there = [s[layer.id].there if layer.id in s else True for s in self.stands]
        if layer.kind in UNSEEN:
            there = [True] * len(there)
        values = {name: self._values(layer, spec) for name, spec in specs.items()}
        if len(_SAID) > _MOST_LAYERS:
            _SAID.clear()
        said = _Said(specs, values, there)
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
            if end - start > _ONE_S:
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
        line = _Line(layer.start_s, values[shown[0]])
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
            if end - start <= _ONE_S:
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
        path = _first_contour(data)
        if path is None or path.is_empty or path.closed:  # a closed one leads nowhere
            return []
        rate = self.scene.rate.rate
        count = int(min(_MOST_POINTS, max(2, math.ceil(lasts_s * rate.fps * _PER_FRAME))))
        easing = resolve_easing(step.easing, self.names.easings)
        shares = [min(1.0, max(0.0, easing.at(i / count, lasts_s))) for i in range(count + 1)]
        shares[0], shares[-1] = 0.0, 1.0
        there, _ = path.at(np.array(shares) * path.length)
        points = [complex(x, y) for x, y in there.tolist()]
        if abs(points[-1] - points[0]) < _ONE_S:
            return []
        turn = (complex(*b) - complex(*a)) / (points[-1] - points[0])
        moved = [complex(*a) + (point - points[0]) * turn for point in points]
        return [(each.real, each.imag) for each in moved]


class _Line:
    """The keys of a property while they are put together; times of the scene come in."""

    def __init__(self, start_s: float, value: Any) -> None:
        self.start_s = start_s
        self.made: list[Keyframe] = []
        self.value = value
        self._put(0.0, value, "hold")

    def _put(self, time_s: float, value: Any, easing: str, into: Any = None) -> None:
        local = round(time_s - self.start_s, 9)
        key = Keyframe.model_construct(
            id="", time_s=local, value=value, easing=easing, handle_in=into, handle_out=None,
            join="free",
        )  # fmt: skip
        if self.made and local - self.made[-1].time_s <= _ONE_S:
            last = self.made.pop()
            key = key.model_copy(
                update={"time_s": last.time_s, "handle_in": into or last.handle_in}
            )
        self.made.append(key)
        self.value = value

    def jump(self, time_s: float, value: Any) -> None:
        """From then on another value."""
        self._put(time_s, value, "hold")

    def way(self, start: float, end: float, value: Any, easing: str, handles: Any) -> None:
        """On the way to a value between two times."""
        out, into = handles or (None, None)
        self._put(start, self.value, easing)
        self.made[-1] = self.made[-1].model_copy(update={"handle_out": out})
        self._put(end, value, "hold", into)

    def through(self, start: float, end: float, points: Sequence[Point]) -> None:
        """Through points at even times."""
        for index, point in enumerate(points):
            at = start + (end - start) * index / (len(points) - 1)
            self._put(at, point, "linear" if index < len(points) - 1 else "hold")

    def keys(self) -> tuple[Keyframe, ...]:
        """All keys, without a first one that the second repeats."""
        made = self.made
        if len(made) > 1 and made[0].value == made[1].value:
            made = made[1:]
        return tuple(key.model_copy(update={"id": f"a{n}"}) for n, key in enumerate(made))


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


def arc_handles(a: Point, b: Point, bend: float) -> tuple[Point, Point] | None:
    """The handles (out of the first point, into the second) of a cubic that is nearest to an arc
    of a circle through both: its height is ``bend`` times half the way, to the left of it where
    that is above 0; None where the two are one.

    A cubic's handles for an arc of angle w and radius r are 4/3 tan(w/4) r long (Riskus,
    Information Technology and Control 35, 2006); the height says tan(w/4) = bend.
    """
    way = complex(b[0] - a[0], b[1] - a[1])
    if abs(way) < 1e-9 or abs(bend) < 1e-9:
        return None
    quarter = math.atan(bend)
    radius = abs(way) / (2 * math.sin(2 * quarter)) if abs(math.sin(2 * quarter)) > 1e-9 else 0.0
    length = 4 / 3 * math.tan(quarter) * radius
    along = way / abs(way)
    # On the screen y goes down: what is to the left of the way is above one that leads right.
    out = along * complex(math.cos(2 * quarter), -math.sin(2 * quarter)) * length
    into = along * complex(math.cos(2 * quarter), math.sin(2 * quarter)) * -length
    return (out.real, out.imag), (into.real, into.imag)


def path_of(layer: Layer) -> str:
    """The path that a layer is drawn by, as SVG path data: a shape's, that which a text follows,
    the first part's of a drawing; "" where it has none. Of keys the first counts."""
    names = ["shape.path", "text.path"]
    names += [f"part.{part.id}.path" for part in layer.parts]
    for name in names:
        prop = layer.properties.get(name)
        value = None if prop is None else (prop.keys[0].value if prop.keys else prop.value)
        if isinstance(value, str) and value:
            return value
    return ""


def _first_contour(data: str) -> Trail | None:
    try:
        contours = parse_contours(data)
        return trail(write_contours(contours[:1])) if contours else None
    except YoungCometError:
        return None


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
