"""The families of a layer's members, in the order of their fields."""

from collections.abc import Callable
from typing import Any

from ...model.document import Layer
from ...registry import Registry
from .axes import AXES
from .base import MemberFamily
from .effects import EFFECTS, effect_kind
from .fronts import FRONTS
from .fronts import READY as READY_FRONTS
from .masks import MASKS
from .moves import MOVES, move_kind
from .parts import PARTS
from .runs import RUNS
from .transitions import TRANSITIONS, transition_kind

FAMILIES: Registry[MemberFamily[Any]] = Registry(
    "a family of members", (PARTS, AXES, RUNS, FRONTS, MASKS, EFFECTS, MOVES, TRANSITIONS)
)


def layers_named(layer: Layer) -> set[str]:
    """The ids of the layers that a layer's members name in their own fields."""
    return {
        name
        for family in FAMILIES.values()
        for member in family.members(layer)
        for name in family.layers_named(member)
    }


def with_layers_named(layer: Layer, new_id: Callable[[str], str | None]) -> Layer:
    """The layer with members that name layers by other ids; None is a layer that is not there."""
    update = {
        family.field: tuple(
            family.with_layers_named(member, new_id) for member in family.members(layer)
        )
        for family in FAMILIES.values()
        if any(family.layers_named(member) for member in family.members(layer))
    }
    return layer.model_copy(update=update) if update else layer


__all__ = [
    "AXES",
    "EFFECTS",
    "FAMILIES",
    "FRONTS",
    "MASKS",
    "MOVES",
    "PARTS",
    "READY_FRONTS",
    "RUNS",
    "TRANSITIONS",
    "MemberFamily",
    "effect_kind",
    "layers_named",
    "move_kind",
    "transition_kind",
    "with_layers_named",
]
