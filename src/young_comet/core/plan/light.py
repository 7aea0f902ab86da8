"""Layers that give light: it is added to what lies below, the layer itself is laid on top."""

from __future__ import annotations

from dataclasses import replace

from ..effects.light import LIGHT_PARTS, light_made_by, light_mode
from ..frame.resolved import ResolvedEffect, ResolvedLayer


def parted(layer: ResolvedLayer) -> tuple[ResolvedLayer, ...]:
    """A layer whose last effects are glows as layers that are laid one after the other: the light
    of each, by its own mode, and the layer lit within. Any other layer as it is.

    A layer that is blended by another mode, or counts on what lies below, stays one picture.
    """
    first = len(layer.effects)
    while first and _gives_light(layer.effects[first - 1]):
        first -= 1
    if first == len(layer.effects) or layer.blend != "normal" or layer.composite != "over":
        return (layer,)
    if layer.content.through:
        return (layer,)
    parts = []
    effects = layer.effects[:first]
    for effect in layer.effects[first:]:
        mode = light_mode(dict(effect.params))
        parts.append(_with(layer, (*effects, _part(effect, "light")), mode))
        effects = (*effects, _part(effect, "within"))
        if dict(effect.params).get("only"):  # what comes after lights the light
            return tuple(parts) if effect is layer.effects[-1] else (layer,)
    return (*parts, _with(layer, effects, "normal"))


def light_factor(layer: ResolvedLayer, scale: float) -> int:
    """By how much smaller than a scale (px to one of the layer) a layer's sheet may be made: light
    that is laid by itself is soft, and is worked out on a smaller picture anyway."""
    if not layer.effects or ("part", "light") not in layer.effects[-1].params:
        return 1
    return light_made_by(dict(layer.effects[-1].params), scale)


def _gives_light(effect: ResolvedEffect) -> bool:
    return effect.kind in LIGHT_PARTS and float(dict(effect.params)["strength"]) > 0  # type: ignore[arg-type]


def _part(effect: ResolvedEffect, part: str) -> ResolvedEffect:
    return replace(effect, params=(*effect.params, ("part", part)))


def _with(layer: ResolvedLayer, effects: tuple[ResolvedEffect, ...], mode: str) -> ResolvedLayer:
    states = tuple(replace(state, effects=effects) for state in layer.shutter)
    return replace(layer, effects=effects, shutter=states, blend=mode)
