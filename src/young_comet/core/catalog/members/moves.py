"""Moves: ready-made animations that a layer wears in its phases."""

from __future__ import annotations

from collections.abc import Sequence
from types import MappingProxyType

from ....errors import DocumentError
from ...model.document import Layer, Move
from ...model.specs import PropertySpec
from ...moves import MOVES as REGISTRY
from ...moves import MoveKind
from ..kinds import layer_kind
from .base import OfRegistry


def move_kind(kind_id: str, where: str = "move") -> MoveKind:
    """The move of that id, or DocumentError."""
    if kind := REGISTRY.get(kind_id):
        return kind
    raise DocumentError.expected(where, "a move of the catalog", kind_id)


LEAVING = "@leave"


class Moves(OfRegistry[Move]):
    """The moves of a layer."""

    registry = REGISTRY
    id = "move"
    field = "moves"
    label = "move"
    model = Move
    changeable = ("on",)

    def kinds(self) -> Sequence[str]:
        """Those of the registry; "own:" stands for all that a project keeps as its own."""
        return (*super().kinds(), "own:")

    # What leaves has defaults of its own.
    variant_field = "phase"
    variants = MappingProxyType({"leave": LEAVING})

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        plain = kind_id.removesuffix(LEAVING)
        kind = REGISTRY.get(plain)
        if kind is None or plain == kind_id:
            return None if kind is None else kind.specs
        return kind.leaving_specs if "leave" in kind.phases else None

    def name_of(self, member: Move) -> str:
        return move_kind(member.kind).said(member.phase)

    def check(self, layer: Layer, member: Move, where: str) -> None:
        kind = move_kind(member.kind, f"{where} / move")
        if member.phase not in kind.phases:
            expected = " or ".join(kind.phases)
            raise DocumentError.expected(f"{where} / {kind.label}", expected, member.phase)

    def fitted(self, layer: Layer, member: Move) -> Move:
        """Only where it can do something; older documents may hold others."""
        kind = move_kind(member.kind)
        if layer.kind not in kind.fits:
            fit = ", ".join(layer_kind(each).label.lower() for each in kind.fits)
            raise DocumentError(
                f"{kind.label} does nothing for a {layer.kind}; it fits: {fit}",
                field=f"layer {layer.name!r} / moves",
            )
        return member


MOVES = Moves()
