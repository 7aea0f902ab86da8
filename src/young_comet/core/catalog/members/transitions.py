"""Transitions: how a layer takes over from the one before it."""

from __future__ import annotations

from collections.abc import Callable

from ....errors import DocumentError
from ...model.document import Layer, Transition
from ...transitions import TRANSITIONS as REGISTRY
from ...transitions import TransitionKind
from .base import OfRegistry


def transition_kind(kind_id: str, where: str = "transition") -> TransitionKind:
    """The transition of that id, or DocumentError."""
    return REGISTRY.known(kind_id, where)


class Transitions(OfRegistry[Transition]):
    """What a layer has of them: one at most."""

    registry = REGISTRY
    id = "transition"
    field = "transitions"
    label = "transition"
    model = Transition
    changeable = ("on", "length_s", "before", "kind", "pairs")

    def name_of(self, member: Transition) -> str:
        return transition_kind(member.kind).label

    def suits(self, layer: Layer) -> bool:
        return layer.kind not in ("sound", "carrier", "treatment")

    def check(self, layer: Layer, member: Transition, where: str) -> None:
        transition_kind(member.kind, f"{where} / transition")
        if not self.suits(layer):
            raise DocumentError(f"a {layer.kind} has no picture to go over to", field=where)
        if len(layer.transitions) > 1:
            raise DocumentError("a layer takes over from one other only", field=where)
        if member.before == layer.id:
            raise DocumentError("a layer cannot take over from itself", field=where)

    def layers_named(self, member: Transition) -> tuple[str, ...]:
        return (member.before,) if member.before else ()

    def with_layers_named(
        self, member: Transition, new_id: Callable[[str], str | None]
    ) -> Transition:
        """One whose layer is not there waits for another."""
        before = new_id(member.before) if member.before else None
        return member.model_copy(update={"before": before})


TRANSITIONS = Transitions()
