"""Linked copies: layers that share properties with another one until told otherwise.

A document always holds all properties of a copy. After every edit what has changed on the
original is carried over, but for what the copy has of its own; what an edit has changed on the
copy by itself is its own from then on.
"""

from __future__ import annotations

from typing import Any

from .document import Layer, Scene

# What a layer shares as a whole, beside its properties.
SHARED_LISTS = ("parts", "axes", "runs", "fronts", "masks", "effects", "moves")
# By the first word of their members' properties.
_LISTS = {"axis": "axes"} | {name.removesuffix("s"): name for name in SHARED_LISTS}
SHARED = (*SHARED_LISTS, "type_style")


def settle_copies(before: Scene | None, scene: Scene) -> Scene:
    """The scene with linked copies as their originals are. A copy whose original is gone is a
    layer of its own."""
    if all(layer.copy_of is None for layer in scene.layers):
        return scene
    layers = {layer.id: layer for layer in scene.layers}
    old = {layer.id: layer for layer in before.layers} if before is not None else {}
    result = []
    for layer in scene.layers:
        source = layers.get(layer.copy_of or "")
        if layer.copy_of is None:
            result.append(layer)
        elif source is None or source.id == layer.id or source.kind != layer.kind:
            result.append(layer.model_copy(update={"copy_of": None, "own": ()}))
        else:
            result.append(_shared(old.get(layer.id), layer, source))
    return scene.model_copy(update={"layers": tuple(result)})


def _shared(old: Layer | None, layer: Layer, source: Layer) -> Layer:
    own = set(layer.own)
    update: dict[str, Any] = {}
    for name in SHARED:
        mine, theirs = getattr(layer, name), getattr(source, name)
        if name in own or mine == theirs:
            continue
        if old is not None and getattr(old, name) != mine:
            own.add(name)
        else:
            update[name] = theirs
    properties = dict(layer.properties)
    for name in {*layer.properties, *source.properties}:
        mine, theirs = layer.properties.get(name), source.properties.get(name)
        if name in own or mine == theirs or _member(name) in own:
            continue
        if old is not None and old.properties.get(name) != mine:
            own.add(name)
        elif theirs is None:
            properties.pop(name, None)
        else:
            properties[name] = theirs
    if properties != layer.properties:
        update["properties"] = properties
    if own != set(layer.own):
        update["own"] = tuple(sorted(own))
    return layer.model_copy(update=update) if update else layer


def _member(name: str) -> str:
    """The list that a property belongs to a member of, or nothing."""
    return _LISTS.get(name.split(".", 1)[0], "")
