"""Effects: the steps that a layer's picture goes through, of the kinds of the registry."""

from __future__ import annotations

from ....errors import DocumentError
from ...effects import EFFECTS as REGISTRY
from ...effects import EffectKind
from ...model.document import Effect, Layer
from .base import OfRegistry, check_seen


def effect_kind(kind_id: str, where: str = "effect") -> EffectKind:
    """The effect of that id, or DocumentError."""
    if kind := REGISTRY.get(kind_id):
        return kind
    raise DocumentError.expected(where, "an effect of the catalog", kind_id)


class Effects(OfRegistry[Effect]):
    """The effects of a layer."""

    registry = REGISTRY
    id = "effect"
    field = "effects"
    label = "effect"
    model = Effect

    def name_of(self, member: Effect) -> str:
        return member.name or effect_kind(member.kind).label

    def check(self, layer: Layer, member: Effect, where: str) -> None:
        effect_kind(member.kind, f"{where} / effect")
        check_seen(layer, self.label, where)


EFFECTS = Effects()
