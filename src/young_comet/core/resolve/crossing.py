"""Values with nothing between them: what a layer shows under the one crosses over to what it shows
under the next."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any, Protocol

from ..catalog import find_spec
from ..frame.resolved import ResolvedFrame, ResolvedLayer
from ..model import Layer, Property, Scene
from ..timing import Easing
from .joints import Stage
from .mattes import reach_of
from .mixing import mix_frames

_ONE_S = 1e-6
# Properties that make a layer depend on another besides what its picture is made of.
_HUNG_ON = ("align.layer", "fit.layer")


class Ahead(Protocol):
    """A scene as it is with the values that are being crossed to."""

    def find(self, layer_id: str | None) -> Layer | None:
        """Must. A layer by its id."""
        ...

    def stacked(self, layer: Layer, time_s: float) -> list[ResolvedLayer]:
        """Must. All that a layer puts into the stack."""
        ...


def crossers_of(scene: Scene) -> tuple[Layer, ...]:
    """The layers that may cross over to other values."""
    return tuple(
        layer
        for layer in scene.layers
        if any(prop.crosses and prop.keys for prop in layer.properties.values())
    )


def crossing_of(
    layer: Layer, time_s: float, easing: Callable[[str], Easing]
) -> tuple[float, dict[str, Any]] | None:
    """How far (0..1) a layer is on its way to other values of properties that cross, and those, in
    the form of the document; None where it is on no such way."""
    found: tuple[float, float] | None = None
    amount, values = 0.0, {}
    for name, prop in layer.properties.items():
        if not prop.crosses or len(prop.keys) < 2:
            continue
        way = _way(prop, time_s - layer.start_s)
        if way is None or (found is not None and max(_apart(found, way[:2])) > _ONE_S):
            continue
        start, end, text, value = way
        if found is None:
            found = (start, end)
            share = (time_s - layer.start_s - start) / (end - start)
            amount = min(1.0, max(0.0, easing(text).at(share, end - start)))
        if (spec := find_spec(layer, name)) is not None and not spec.kind.mixes:
            values[name] = value
    return (amount, values) if values else None


def _apart(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
    return abs(a[0] - b[0]), abs(a[1] - b[1])


def _way(prop: Property, local_s: float) -> tuple[float, float, str, Any] | None:
    """The two keys between which a moment lies: when, by which easing, and the value of the second;
    None where nothing changes then. In a loop it lies between the same keys again."""
    first, last = prop.keys[0].time_s, prop.keys[-1].time_s
    turn = 0.0
    if prop.repeat is not None and prop.repeat.mode == "loop" and local_s >= last:
        turn = math.floor((local_s - first) / (last - first)) * (last - first)
        local_s -= turn
    for a, b in zip(prop.keys, prop.keys[1:], strict=False):
        if a.time_s <= local_s < b.time_s:
            if a.easing == "hold" or a.value == b.value:
                return None
            return a.time_s + turn, b.time_s + turn, a.easing, b.value
    return None


def hanging_on(layer: Layer, layers: Mapping[str, Layer]) -> frozenset[str]:
    """All layers on which another's picture, place or size depends."""
    found: set[str] = set()
    waiting = [layer]
    while waiting:
        here = waiting.pop()
        needed = set(reach_of(here, layers))
        needed.add(here.rides or "")
        needed |= {
            str(prop.value) for name in _HUNG_ON if (prop := here.properties.get(name)) is not None
        }
        for each in needed:
            if each in layers and each not in found:
                found.add(each)
                waiting.append(layers[each])
    return frozenset(found)


class Crossings:
    """The layers of a scene that cross over at a moment, and those that hang on them."""

    def __init__(
        self,
        amounts: Mapping[str, float],
        ahead: Ahead | None,
        hanging: Callable[[Layer], frozenset[str]],
    ) -> None:
        self._amounts, self._ahead, self._hanging = amounts, ahead, hanging

    def over(
        self, stage: Stage, layer: Layer, time_s: float, now: list[ResolvedLayer]
    ) -> list[ResolvedLayer]:
        """What a layer puts into the stack while it, or what it hangs on, crosses over; ``now`` is
        what it does by the values that it comes from."""
        amount = self._amounts.get(layer.id)
        if amount is None:
            near = self._hanging(layer)
            amount = next((a for each, a in self._amounts.items() if each in near), 0.0)
        goal = self._ahead.find(layer.id) if self._ahead is not None and amount else None
        if goal is None or self._ahead is None:
            return now
        # As many of its effects as are asked for.
        goal = goal.model_copy(update={"effects": layer.effects})
        then = self._ahead.stacked(goal, time_s)
        size = (stage.scene.width, stage.scene.height)
        a, b = (ResolvedFrame(*size, None, tuple(side), 0.0) for side in (now, then))
        return list(mix_frames(a, b, amount, stage.texts).layers)


NO_CROSSINGS = Crossings({}, None, lambda layer: frozenset())
