"""The artist's own moves: poses read from the keys that were saved."""

from __future__ import annotations

from typing import Any

from ..catalog import EFFECTS, MOVABLE
from ..model import Property, PropertySpec, SavedMove
from ..moves import REST, Moment, Pose
from .context import Resolver
from .tracks import make_track


class OwnMove:
    """One saved move, ready to be asked for poses."""

    def __init__(self, evaluator: Resolver, saved: SavedMove) -> None:
        self._saved = saved
        self._evaluator = evaluator
        self._courses = {
            name: self._course(MOVABLE[name], prop) for name, prop in saved.properties.items()
        }
        self._effects = []
        for each in saved.effects:
            courses = {}
            for spec in EFFECTS.declared(each.kind) or ():
                prop = each.properties.get(spec.id) or Property(value=spec.default)
                courses[spec.id] = self._course(spec, prop)
            self._effects.append((each.kind, courses))

    @property
    def length_s(self) -> float:
        """How long the phase was that it was saved from."""
        return self._saved.length_s

    def _course(self, spec: PropertySpec, prop: Property) -> Any:
        names = self._evaluator.names
        if prop.keys:
            return make_track(prop, spec, names).at
        value = spec.kind.resolve(prop.value, names.inks)
        return lambda time_s: value

    def draw(self, p: float, params: dict[str, Any], moment: Moment) -> Pose:
        """The pose where it has come to rest by ``p``."""
        saved = self._saved
        arriving = saved.phase == "arrive"
        if saved.stretch:
            at = (p if arriving else 1 - p) * saved.length_s
        else:
            left = (1 - p) * moment.length_s
            at = max(0.0, saved.length_s - left) if arriving else left
        rest = saved.length_s if arriving else 0.0
        k = params["strength"] / 100

        def away(name: str) -> Any:
            course = self._courses.get(name)
            if course is None:
                return None
            now, then = course(at), course(rest)
            if isinstance(now, tuple):
                return tuple(a - b for a, b in zip(now, then, strict=True))
            return now - then

        def factor(name: str, k: float = 1.0) -> Any:
            course = self._courses.get(name)
            if course is None:
                return None
            now, then = course(at), course(rest)
            if isinstance(now, tuple):
                shares = (a / b if abs(b) > 1e-9 else 1.0 for a, b in zip(now, then, strict=True))
                return tuple(1 + (share - 1) * k for share in shares)
            return now / then if abs(then) > 1e-9 else now / 100

        offset = away("position") or (0.0, 0.0)
        return Pose(
            offset=(offset[0] * k, offset[1] * k),
            rotation_deg=(away("rotation") or 0.0) * k,
            scale=factor("scale", k) or REST.scale,
            opacity=1.0 if (o := factor("opacity")) is None else o,
            tilt_deg=(away("tilt") or 0.0) * k,
            turn_deg=(away("turn") or 0.0) * k,
            tracking=(away("text.tracking") or 0.0) * k,
            drawn=1.0 if (d := factor("drawn.to")) is None else d,
            effects=tuple(
                (kind, tuple((name, course(at)) for name, course in courses.items()))
                for kind, courses in self._effects
            ),
        )
