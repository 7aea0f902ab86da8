"""Effects that do nothing until they are given something, and what they could be given."""

from __future__ import annotations

from dataclasses import dataclass

from ..catalog import EFFECTS, effect_kind, layer_kind
from ..model import Effect, Kind, Layer, Project, Scene
from ..model.specs import PropertySpec

# So many are offered.
_MOST = 3
# What others may look at best: the first first. Fields of an effect count before all of them.
_RANK = ("picture", "clip", "shape", "text", "scene", "backdrop")


@dataclass(frozen=True, slots=True)
class Wanted:
    """What an effect lacks: its parameter, a sentence, and values with the names they go by."""

    parameter: str
    says: str
    offers: tuple[tuple[str, str], ...]


def wanted_by(project: Project, scene: Scene, layer: Layer, effect: Effect) -> Wanted | None:
    """What an effect of a layer needs before it does anything; None where it has it."""
    for spec in EFFECTS.declared(effect.kind) or ():
        if spec.kind is Kind.LAYER and spec.id == "layer" and _empty(layer, effect, spec):
            others = sorted(
                (each for each in scene.layers if _seen(each) and not _uses(each, layer)), key=_rank
            )
            offers = tuple((each.id, each.name) for each in others[:_MOST])
            says = f"{_name(effect)} looks at another layer: choose one."
            return Wanted(spec.id, says if offers else f"{says} There is none yet.", offers)
        if spec.kind is Kind.ASSET and _empty(layer, effect, spec):
            found = [each for each in project.assets if each.kind in spec.assets]
            offers = tuple((each.id, each.name) for each in found[:_MOST])
            says = f"{_name(effect)} needs a table: choose one."
            if not offers:
                says = f"{_name(effect)} needs a table: bring in a .cube file."
            return Wanted(spec.id, says, offers)
    return None


def _name(effect: Effect) -> str:
    return EFFECTS.name_of(effect)


def _empty(layer: Layer, effect: Effect, spec: PropertySpec) -> bool:
    prop = layer.properties.get(EFFECTS.prefix(effect.id) + spec.id)
    return prop is None or (not prop.value and not prop.keys and not prop.expression)


def _seen(layer: Layer) -> bool:
    return layer_kind(layer.kind).spec("opacity") is not None and layer.kind in _RANK


def _uses(other: Layer, layer: Layer) -> bool:
    """Whether a layer is the other, or is looked at by it."""
    named = (prop.value == layer.id for name, prop in other.properties.items() if "layer" in name)
    return other.id == layer.id or any(named)


def _rank(layer: Layer) -> tuple[bool, int]:
    """Layers with fields of noise or colour lend themselves to it before all others."""
    generates = any(effect_kind(each.kind).fills for each in layer.effects if each.on)
    return (not generates, _RANK.index(layer.kind))
