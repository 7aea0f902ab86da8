"""Properties as they are saved: a value, keys, an expression."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from pydantic import Field

from .values import (
    Finite,
    Frozen,
    Id,
    Seconds,
    Value,
)


class Keyframe(Frozen):
    """A value at a time, and the easing of the segment that follows it.

    Path handles are offsets from the value of a point property that moves along a curve.
    ``join`` tells how the two sides of the key meet: each by its own easing ("free"), at one
    speed worked out from the neighbours ("smooth"), or with handles that are moved together
    ("matched"). ``easing`` is a text, or ``easing:ID`` for one saved in the project.
    """

    id: Id
    time_s: Seconds
    value: Value
    easing: str = "ease-in-out"
    handle_in: tuple[float, float] | None = None
    handle_out: tuple[float, float] | None = None
    join: Literal["free", "smooth", "matched"] = "free"


class Repeat(Frozen):
    """What follows the last key: the keys again, to and fro, or again from where they ended.

    ``times`` is how often they are played altogether; None for ever.
    """

    mode: Literal["loop", "there-and-back", "build-on"]
    times: Annotated[int, Field(ge=2, le=10_000)] | None = None


class Property(Frozen):
    """A value, or keyframes in the order of their times. With keys the value is not used.

    An ``expression`` works on top of what value or keys give, which it knows as ``keyed``.
    ``pace`` "even" takes a point along its whole path at one speed. ``flown`` keeps the way a
    hand has flown the layer, as (scene time s, x, y), so that it can be fitted anew; it goes
    when the keys are changed otherwise. Where arrangements of the scene say something of it too,
    keys take over, or (``adds``) what has changed since the first key is added to that. Of values
    with nothing between them a property that ``crosses`` lets what the layer shows cross over
    from the one to the next.
    """

    value: Value = None
    keys: tuple[Keyframe, ...] = ()
    repeat: Repeat | None = None
    pace: Literal["keys", "even"] = "keys"
    flown: tuple[tuple[Finite, Finite, Finite], ...] | None = None
    expression: Annotated[str, Field(max_length=2000)] = ""
    adds: bool = False
    crosses: bool = False

    def with_keys(self, keys: Iterable[Keyframe]) -> Property:
        """The same property with other keys, in the order of their times."""
        ordered = tuple(sorted(keys, key=lambda key: key.time_s))
        return self.model_copy(update={"keys": ordered, "value": None, "flown": None})
