"""The values of a layer's properties at a time: value or keys, and the expression on top."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, Protocol

from ..catalog import MemberFamily, find_spec, parts_of
from ..expressions import Expression, ExpressionError, compile_expression, to_kind
from ..model import Layer, PropertySpec, Scene, Track
from ..moves import Pose
from ..timing.timebase import SAME_MOMENT_S
from .budget import Budget
from .courses import ArrangedLayer
from .tracks import Names, TrackCache


class Known:
    """What has been looked up of one layer of one state of a project: values that do not change
    over time, the tracks of those that do, and expressions."""

    __slots__ = ("expressed", "fixed", "tracks")

    def __init__(self) -> None:
        self.fixed: dict[str, Any] = {}
        self.tracks: dict[str, Track] = {}
        self.expressed: dict[str, tuple[Expression, PropertySpec]] = {}


class World(Protocol):
    """What expressions of one layer may learn of the rest of the scene."""

    memo: dict[Any, Any]
    budget: Budget
    faults: dict[tuple[str, str], str]

    def pose(self, values: LayerValues) -> Pose:
        """Must. How moves have a layer at a moment."""
        ...

    def mark_time(self, name: str) -> float:
        """Must. Seconds of a mark; ExpressionError where there is none."""
        ...

    def held_time(self, name: str, end: bool) -> float:
        """Must. Seconds at which an arrangement begins, or ends, to hold; ExpressionError."""
        ...

    def level(self, layer: str, time_s: float, low_hz: float, high_hz: float) -> float:
        """Must. How loud a layer's sound is at a scene time, 0 to 1; ExpressionError."""
        ...

    def read(self, layer: str, property_id: str, time_s: float) -> Any:
        """Must. A property of the layer of that name at a scene time; ExpressionError."""
        ...


# What moves do to values: places add up, scales and opacities multiply.
_MOVED: dict[str, Callable[[Any, Pose], Any]] = {
    "position": lambda v, p: (v[0] + p.offset[0], v[1] + p.offset[1]),
    "rotation": lambda v, p: v + p.rotation_deg,
    "scale": lambda v, p: (v[0] * p.scale[0], v[1] * p.scale[1]),
    "opacity": lambda v, p: v * min(1.0, max(0.0, p.opacity)),
    "tilt": lambda v, p: v + p.tilt_deg,
    "turn": lambda v, p: v + p.turn_deg,
    "text.tracking": lambda v, p: v + p.tracking,
    "drawn.to": lambda v, p: v * p.drawn,
}


_UNKNOWN = object()


class LayerValues:
    """The values of one layer's properties at one time (s from the layer's start). ``nth`` is
    the number of a copy, ``count`` how many there are. What moves do on top counts where
    ``moved``: for the picture, not for what is edited."""

    def __init__(
        self,
        layer: Layer,
        scene: Scene,
        local_s: float,
        names: Names,
        cache: TrackCache,
        known: Known | None = None,
        world: World | None = None,
        nth: int = 0,
        count: int = 1,
        moved: bool = False,
    ) -> None:
        self.layer, self.scene, self.local_s = layer, scene, local_s
        self.nth, self.count = nth, count
        # Whether moves count.
        self.moved = moved and bool(layer.moves or layer.fronts) and world is not None
        self._names, self._cache, self._world = names, cache, world
        self._known = known or Known()

    def __call__(self, property_id: str) -> Any:
        if not self.moved:
            found = self._known.fixed.get(property_id, _UNKNOWN)
            return self.unmoved(property_id) if found is _UNKNOWN else found
        if property_id in _MOVED:
            assert self._world is not None
            return _MOVED[property_id](self.unmoved(property_id), self._world.pose(self))
        return self.unmoved(property_id)

    def own(self, family: MemberFamily[Any], member: Any) -> dict[str, Any]:
        """The values of all that a member of the layer declares, by plain names."""
        prefix = family.prefix(member.id)
        return {spec.id.removeprefix(prefix): self(spec.id) for spec in family.fields(member)}

    def has(self, property_id: str) -> bool:
        """Whether layers of this kind have such a property."""
        return find_spec(self.layer, property_id) is not None

    def bare(self) -> LayerValues:
        """The same moment without what moves do."""
        if not self.moved:
            return self
        return LayerValues(
            self.layer, self.scene, self.local_s, self._names, self._cache, self._known,
            self._world, self.nth, self.count,
        )  # fmt: skip

    def unmoved(self, property_id: str) -> Any:
        """A value before what moves do to it."""
        known = self._known
        if property_id in known.fixed:
            return known.fixed[property_id]
        if property_id in known.expressed:
            return self._expressed(property_id)
        if property_id in known.tracks:
            return known.tracks[property_id].at(self.local_s)
        prop = self.layer.properties.get(property_id)
        if prop is not None and prop.expression and self._world is not None:
            spec = find_spec(self.layer, property_id)
            if spec is not None and spec.expressive:
                known.expressed[property_id] = (compile_expression(prop.expression), spec)
                return self._expressed(property_id)
        return self.keyed(property_id)

    def keyed(self, property_id: str) -> Any:
        """What value or keys give, whatever expression there is."""
        known = self._known
        if property_id in known.tracks:
            return known.tracks[property_id].at(self.local_s)
        spec = find_spec(self.layer, property_id)
        if spec is None:
            raise KeyError(property_id)
        prop = self.layer.properties.get(property_id)
        if prop is None and spec.split and (parts := parts_of(self.layer, property_id)):
            return (self(parts[0]), self(parts[1]))
        if prop is None and spec.follows:
            return self.unmoved(spec.follows)
        if prop is not None and prop.keys:
            track = self._cache.track(prop, spec, self._names)
            known.tracks[property_id] = track
            return track.at(self.local_s)
        raw = default_value(spec, self.scene) if prop is None else prop.value
        value = spec.kind.resolve(raw, self._names.inks)
        if property_id not in known.expressed:
            known.fixed[property_id] = value
        return value

    def _expressed(self, property_id: str) -> Any:
        """The expression's result; where it has none, what value or keys give."""
        world = self._world
        assert world is not None
        # Times that differ by a rounding are one moment.
        local_s = round(self.local_s, 9)
        key = (self.layer.id, property_id, local_s, self.nth)
        if key in world.memo:
            return world.memo[key]
        moment = self if local_s == self.local_s else self.at(local_s)
        expression, spec = self._known.expressed[property_id]
        place = (self.layer.id, property_id)
        try:
            world.budget.formula()
            value = to_kind(expression(_Moment(moment, property_id, world)), spec)
            value = spec.kind.resolve(value, self._names.inks)
            world.faults.pop(place, None)
        except ExpressionError as error:
            world.faults[place] = str(error).removeprefix("expression: ")
            value = self.keyed(property_id)
        except Exception as error:
            if not isinstance(error, ValueError):
                raise
            world.faults[place] = str(error)  # a text that is no colour
            value = self.keyed(property_id)
        world.memo[key] = value
        return value

    def at(self, local_s: float) -> LayerValues:
        """The same layer at another time."""
        return LayerValues(
            self.layer, self.scene, local_s, self._names, self._cache, self._known, self._world,
            self.nth, self.count, self.moved,
        )  # fmt: skip

    def track(self, property_id: str) -> Track | None:
        """The track of a keyed property, None where it has no keys."""
        prop, spec = self.layer.properties.get(property_id), find_spec(self.layer, property_id)
        if prop is None or spec is None or not prop.keys:
            return None
        return self._cache.track(prop, spec, self._names)

    def travel_deg(self) -> float:
        """The direction in which the position travels, clockwise from the right; 0 if it rests
        for good."""
        track = self.track("position")
        if track is not None:
            dx, dy = track.direction(self.local_s)
        else:
            dx, dy = self._split_direction()
        return math.degrees(math.atan2(dy, dx)) if dx or dy else 0.0

    def _split_direction(self) -> tuple[float, float]:
        parts = parts_of(self.layer, "position")
        tracks = [t for part in parts or () if (t := self.track(part)) is not None]
        if not tracks:
            return (0.0, 0.0)
        start, end = min(t.start_s for t in tracks), max(t.end_s for t in tracks)
        for reach in (0.002, 0.05, 0.25, 1.0, 5.0):
            for a, b in ((-reach, reach), (0.0, reach), (-reach, 0.0)):
                low = max(start, self.local_s + a)
                high = (
                    self.local_s + b if any(t.cycle for t in tracks) else min(end, self.local_s + b)
                )
                p, q = self.at(low)("position"), self.at(high)("position")
                if math.hypot(q[0] - p[0], q[1] - p[1]) > 1e-6:
                    return (q[0] - p[0], q[1] - p[1])
        return (0.0, 0.0)


class _Moment:
    """The scope of an expression: one property of one layer at one time."""

    __slots__ = ("T", "_property", "_values", "_world", "fps", "t")

    def __init__(self, values: LayerValues, property_id: str, world: World) -> None:
        self._values, self._property, self._world = values, property_id, world
        self.t = values.local_s
        self.T = values.local_s + values.layer.start_s
        rate = values.scene.rate
        self.fps = rate.num / rate.den

    @property
    def frame(self) -> float:
        return float(math.floor(self.T * self.fps + 1e-4))

    @property
    def length(self) -> float:
        return self._values.layer.end_s - self._values.layer.start_s

    @property
    def nth(self) -> float:
        return float(self._values.nth)

    @property
    def count(self) -> float:
        return float(self._values.count)

    @property
    def keyed(self) -> Any:
        return self._values.keyed(self._property)

    def mark(self, name: str) -> float:
        return self._world.mark_time(name)

    def held(self, name: str, end: bool) -> float:
        return self._world.held_time(name, end)

    def of(self, layer: str, property_id: str, at: float | None) -> Any:
        when = self.T if at is None else at
        if not abs(when) < 1e6:
            raise ExpressionError("of's at is too far away")
        return self._world.read(layer, property_id, when)

    def level(self, layer: str, low_hz: float, high_hz: float) -> float:
        return self._world.level(layer, self.T, low_hz, high_hz)

    def late(self, seconds: float) -> Any:
        if not abs(seconds) < 1e6:
            raise ExpressionError("late's seconds are too many")
        return self._values.at(self.t - seconds).keyed(self._property)


def is_on(layer: Layer, time_s: float) -> bool:
    """A span includes its start and ends before its end. What an arrangement has away is off."""
    if isinstance(layer, ArrangedLayer):
        for start, end in layer.away:
            if start - SAME_MOMENT_S <= time_s < end - SAME_MOMENT_S:
                return False
    return layer.start_s - SAME_MOMENT_S <= time_s < layer.end_s - SAME_MOMENT_S


def default_value(spec: PropertySpec, scene: Scene) -> Any:
    """The declared default; a position without one is the middle of the frame."""
    return spec.default_in(scene.width, scene.height)
