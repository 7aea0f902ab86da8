"""Which properties arrangements may say something of, and what they say checked."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from ...errors import DocumentError
from ..model.arrangements import Arrangement, Stand, ordered
from ..model.document import Layer, Scene
from ..model.kinds import Kind, check_easing
from ..model.specs import PropertySpec
from .kinds import layer_kind
from .members import move_kind
from .properties import find_spec, parts_of

# A layer's clock, and what it hangs on, are the same in all.
_ALONE = ("time.", "move.", "transition.", "slot.", "align.to")
# What is not seen is not there or away either.
UNSEEN = frozenset(("sound", "carrier"))
_NOTHING: Mapping[int, Any] = MappingProxyType({})


def arranged_spec(layer: Layer, property_id: str) -> PropertySpec | None:
    """The declaration of a property that may differ between arrangements; None where it has no such
    property, or one that is the same in all: what never changes, other layers, its clock."""
    if property_id.startswith(_ALONE):
        return None
    spec = find_spec(layer, property_id)
    if spec is None or spec.fixed or spec.kind in (Kind.LAYER, Kind.SCENE, Kind.EASING):
        return None
    return spec


def check_arrangements(scene: Scene, known: Scene | None = None) -> tuple[Arrangement, ...]:
    """The arrangements of a scene in canonical form; DocumentError where one says something of what
    the scene does not have."""
    if not scene.arrangements:
        return scene.arrangements
    if known is not None and _alike(scene, known):
        return known.arrangements
    ids = [each.id for each in scene.arrangements]
    if len(set(ids)) != len(ids):
        double = next(i for i in ids if ids.count(i) > 1)
        raise DocumentError(f"two arrangements have the id {double!r}", field="arrangements")
    layers = {layer.id: layer for layer in scene.layers}
    fine = _fine(known)
    return tuple(checked_arrangement(each, layers, fine) for each in scene.arrangements)


Fine = Mapping[int, tuple[Stand, Layer]]


def _fine(known: Scene | None) -> Fine:
    """What a scene says of its layers that was checked before, by the identity of each saying."""
    if known is None:
        return {}
    layers = {layer.id: layer for layer in known.layers}
    return {
        id(stand): (stand, layers[stand.layer])
        for each in known.arrangements
        for stand in each.stands
        if stand.layer in layers
    }


def _alike(scene: Scene, known: Scene) -> bool:
    same = len(scene.layers) == len(known.layers) and all(
        a is b for a, b in zip(scene.layers, known.layers, strict=True)
    )
    return same and len(scene.arrangements) == len(known.arrangements) and all(
        a is b for a, b in zip(scene.arrangements, known.arrangements, strict=True)
    )  # fmt: skip


def checked_arrangement(
    arrangement: Arrangement, layers: Mapping[str, Layer], fine: Fine = _NOTHING
) -> Arrangement:
    """One arrangement in canonical form, of the layers of its scene; DocumentError. What is
    ``fine`` was checked before, of the same layers."""
    field = f"arrangement {arrangement.name!r}"
    step = arrangement.step
    try:
        check_easing(step.easing)
    except DocumentError as error:
        raise DocumentError(str(error), field=f"{field} / easing") from error
    for name, phase in (("appears", "arrive"), ("vanishes", "leave")):
        kind = move_kind(getattr(step, name), f"{field} / {name}")
        if phase not in kind.phases:
            raise DocumentError.expected(f"{field} / {name}", f"a move that can {phase}", kind.id)
    if step.along is not None and step.along not in layers:
        raise DocumentError.expected(f"{field} / along", "a layer of this scene", step.along)
    if len({stand.layer for stand in arrangement.stands}) != len(arrangement.stands):
        raise DocumentError("it says twice how a layer stands", field=field)
    stands = []
    for stand in arrangement.stands:
        layer = layers.get(stand.layer)
        if layer is None:
            raise DocumentError.expected(field, "layers of this scene", stand.layer)
        if not stand.there and layer.kind in UNSEEN:
            label = layer_kind(layer.kind).label.lower()
            raise DocumentError(f"a {label} is not seen: it is there in all", field=field)
        was = fine.get(id(stand))
        if was is not None and was[0] is stand and was[1] is layer:
            stands.append(stand)
            continue
        stands.append(_checked_stand(stand, layer, f"{field} / layer {layer.name!r}"))
    found = ordered(stands)
    same = len(found) == len(arrangement.stands) and all(
        a is b for a, b in zip(found, arrangement.stands, strict=True)
    )
    return arrangement if same else arrangement.model_copy(update={"stands": found})


def _checked_stand(stand: Stand, layer: Layer, field: str) -> Stand:
    values: dict[str, Any] = {}
    for name, value in sorted(stand.values.items()):
        spec = arranged_spec(layer, name)
        if spec is None:
            raise DocumentError(
                f"a {layer.kind} layer has no property {name!r} that arrangements could change",
                field=field,
            )
        values[name] = spec.kind.check(spec, value, f"{field} / {spec.label}")
    if list(values.items()) == list(stand.values.items()):
        return stand
    return stand.model_copy(update={"values": values})


def without_lost_stands(scene: Scene, known: Scene | None = None) -> Scene:
    """The scene with arrangements that say nothing of layers, members and properties which it does
    not have (any more); of a point taken apart they say its two numbers. What they said of the
    same layers of a ``known`` scene is not looked at again."""
    if not scene.arrangements:
        return scene
    layers = {layer.id: layer for layer in scene.layers}
    fine = _fine(known)
    kept = tuple(_kept(each, layers, fine) for each in scene.arrangements)
    if all(a is b for a, b in zip(kept, scene.arrangements, strict=True)):
        return scene
    return scene.model_copy(update={"arrangements": kept})


def _kept(arrangement: Arrangement, layers: Mapping[str, Layer], fine: Fine) -> Arrangement:
    update: dict[str, Any] = {}
    stands = []
    for stand in arrangement.stands:
        layer = layers.get(stand.layer)
        if layer is None:
            continue
        was = fine.get(id(stand))
        if was is not None and was[0] is stand and was[1] is layer:
            stands.append(stand)
            continue
        values = _values_of(layer, stand.values)
        if values != stand.values:
            stand = stand.model_copy(update={"values": values})
        if values or not stand.there:
            stands.append(stand)
    if len(stands) != len(arrangement.stands) or any(
        a is not b for a, b in zip(stands, arrangement.stands, strict=True)
    ):
        update["stands"] = tuple(stands)
    if arrangement.step.along is not None and arrangement.step.along not in layers:
        update["step"] = arrangement.step.model_copy(update={"along": None, "path": "straight"})
    return arrangement.model_copy(update=update) if update else arrangement


def _values_of(layer: Layer, values: Mapping[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in values.items():
        whole = name[:-2] if name.endswith((".x", ".y")) else ""
        spec = arranged_spec(layer, name)
        if whole and (point := arranged_spec(layer, whole)) and point.split:
            # One coordinate alone is said only of a point that is taken apart.
            if parts_of(layer, whole):
                found[name] = value
        elif spec is not None and spec.split and (parts := parts_of(layer, name)):
            found |= dict(zip(parts, value, strict=True))
        elif spec is not None:
            found[name] = value
    return dict(sorted(found.items()))
