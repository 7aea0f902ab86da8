"""Arrangements: named states of a scene's layers, one after another in time.

An arrangement holds for a while, then its step leads to the next. They lie in a row from the
scene's start; the last one stays until its end. What an arrangement says of a property is the base
that keys, expressions and moves go on from.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal, Protocol

from pydantic import Field

from .values import MAX_LENGTH_S, Frozen, Id, Name, Value

MAX_ARRANGEMENTS = 100

Length = Annotated[float, Field(ge=0, le=MAX_LENGTH_S, allow_inf_nan=False)]


class Step(Frozen):
    """How one arrangement becomes the next.

    The layers that change begin one after another in the ``order``, spread over ``stagger_pct`` of
    its length; each has the rest of it for its way. By place (rightwards and so on) counts where
    they are before. Positions go straight, on an arc (``bend`` 1 is half a circle to the left of
    the way, -1 to its right), or as a drawn path ``along`` which they go leads: the first contour
    of that layer's path, turned and scaled so that its ends meet theirs. What comes does so by the
    move ``appears``, what goes by the move ``vanishes``, as they are by default.
    """

    length_s: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0.6
    easing: Annotated[str, Field(max_length=2000)] = "ease-in-out"
    stagger_pct: Annotated[float, Field(ge=0, le=90, allow_inf_nan=False)] = 0.0
    order: Literal[
        "lowest", "highest", "rightwards", "leftwards", "downwards", "upwards", "outwards",
        "inwards", "shuffled",
    ] = "lowest"  # fmt: skip
    path: Literal["straight", "arc", "drawn"] = "straight"
    bend: Annotated[float, Field(ge=-2, le=2, allow_inf_nan=False)] = 0.4
    along: Id | None = None
    appears: Annotated[str, Field(max_length=80)] = "fade"
    vanishes: Annotated[str, Field(max_length=80)] = "fade"


class Stand(Frozen):
    """What an arrangement says of a layer: whether it is there, and the values of properties that
    are not the layer's own."""

    layer: Id
    there: bool = True
    values: Annotated[dict[str, Value], Field(max_length=4000)] = Field(default_factory=dict)


class Arrangement(Frozen):
    """A state of the scene's layers that holds for a while, and the step to the next one."""

    id: Id
    name: Name
    hold_s: Length = 1.0
    step: Step = Step()
    stands: Annotated[tuple[Stand, ...], Field(max_length=2000)] = ()

    def stand(self, layer_id: str) -> Stand:
        """What it says of a layer."""
        return next((each for each in self.stands if each.layer == layer_id), Stand(layer=layer_id))


class Arranged(Protocol):
    """A scene, as far as its arrangements lie in time."""

    @property
    def arrangements(self) -> tuple[Arrangement, ...]:
        """Must. In their order."""
        ...

    @property
    def length_s(self) -> float:
        """Must. The scene's length."""
        ...


def holds_of(scene: Arranged) -> list[tuple[float, float]]:
    """When each arrangement begins and ends to hold, s of the scene; the last one stays until the
    scene ends, however long its hold is."""
    found: list[tuple[float, float]] = []
    at = 0.0
    for each in scene.arrangements:
        found.append((at, at + each.hold_s))
        at += each.hold_s + each.step.length_s
    if found:
        begin = found[-1][0]
        found[-1] = (begin, max(begin, scene.length_s))
    return found


def index_at(scene: Arranged, time_s: float) -> int:
    """The number of the arrangement that holds at a moment, or is the nearer one in time between
    two; ValueError where there is none."""
    holds = holds_of(scene)
    if not holds:
        raise ValueError("the scene has no arrangements")
    return min(range(len(holds)), key=lambda i: _away(holds[i], time_s))


def _away(hold: tuple[float, float], time_s: float) -> float:
    return max(hold[0] - time_s, time_s - hold[1], 0.0)


def with_stand(arrangement: Arrangement, stand: Stand) -> Arrangement:
    """An arrangement that says this of a layer; what says nothing is left out."""
    rest = [each for each in arrangement.stands if each.layer != stand.layer]
    if stand.values or not stand.there:
        rest.append(stand)
    return arrangement.model_copy(update={"stands": ordered(rest)})


def ordered(stands: Sequence[Stand]) -> tuple[Stand, ...]:
    """In the order of the layers' ids, so that equal documents are equal texts."""
    return tuple(sorted(stands, key=lambda each: each.layer))
