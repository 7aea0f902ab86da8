"""Resolved frames mixed: what lies between two states of a scene, or between two scenes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from ..catalog import EFFECTS as LAID
from ..frame.contents import TextContent, Texts
from ..frame.resolved import (
    ResolvedEffect,
    ResolvedFrame,
    ResolvedLayer,
    ResolvedMask,
    ResolvedMatte,
    SceneContent,
)
from ..frame.slices import Slices
from ..frame.units import RESTING, place_between
from ..geometry.affine import Affine, Box, Point
from ..geometry.morph import morph
from ..geometry.projective import Projective
from ..pixels.colour import mix
from .retyping import retyped

_NO_PAIRS: Mapping[str, str] = {}


def mix_frames(
    a: ResolvedFrame,
    b: ResolvedFrame,
    amount: float,
    texts: Texts,
    pairs: Mapping[str, str] = _NO_PAIRS,
    *,
    apart: bool = False,
) -> ResolvedFrame:
    """The frame between two: ``a`` at 0, ``b`` at 1.

    Layers are matched by their ids, or as ``pairs`` says (of ``a`` to of ``b``), copies in their
    order. What is in one of them only fades, ``apart`` so that the one has gone before the other
    comes; what becomes another thing crosses over to it while
    it travels. Layers keep the order of the nearer frame. Frames keep the size of ``a``.
    """
    if amount <= 0 or amount >= 1:
        return b if amount >= 1 else a
    gone, come = amount, amount
    if apart:
        gone, come = min(1.0, 2.2 * amount), max(0.0, 2.2 * amount - 1.2)
    names = _numbered(a.layers), _numbered(b.layers)
    known = dict(zip(names[1], b.layers, strict=True))
    matched = {}
    for name in names[0]:
        goal = (pairs.get(name[0], name[0]), name[1])
        if goal in known:
            matched[name] = goal
    mixed: dict[Any, list[ResolvedLayer]] = {}
    for name, layer in zip(names[0], a.layers, strict=True):
        if name in matched:
            mixed[name] = mix_layers(layer, known[matched[name]], amount, texts)
        else:
            mixed[name] = [_faded(layer, 1 - gone)]
    taken = {goal: name for name, goal in matched.items()}
    arriving = {goal: [_faded(layer, come)] for goal, layer in known.items() if goal not in taken}
    order = [("a", name) for name in names[0]]
    other = [("a", taken[goal]) if goal in taken else ("b", goal) for goal in names[1]]
    if amount >= 0.5:
        order, other = other, order
    layers = []
    for side, name in _woven(order, other):
        layers += mixed[name] if side == "a" else arriving[name]
    return ResolvedFrame(a.width, a.height, _ground(a, b, amount), tuple(layers), a.fps)


def mix_layers(
    a: ResolvedLayer, b: ResolvedLayer, amount: float, texts: Texts
) -> list[ResolvedLayer]:
    """What a layer is between two states, the lower first: one layer; or two, of which the first
    gives way to the second, where there is nothing between them."""
    if amount <= 0 or amount >= 1 or a == b:
        return [b if amount >= 1 else a]
    laid_alike = (a.blend, a.composite) == (b.blend, b.composite)
    contents = _contents(a, b, amount, texts) if laid_alike else ()
    looks = _looks(a, b, amount, texts) if contents else None
    if looks is None:
        return _crossing(a, b, amount, texts)
    about = _middle(a.content.box(texts))
    matrix, lens = _place(a, b, amount, about)
    nearer = b if amount >= 0.5 else a
    if len(contents) > 1:
        looks["shutter"] = ()
    return [
        replace(
            a, id=nearer.id, content=content, matrix=matrix, lens=lens,
            opacity=_at(a.opacity, b.opacity, amount), **looks,
        )
        for content in contents
    ]  # fmt: skip


def _crossing(
    a: ResolvedLayer, b: ResolvedLayer, amount: float, texts: Texts
) -> list[ResolvedLayer]:
    """Both on the way from the place of the one to that of the other, each as large as the place
    asks for. The first stays whole until the second is: where both are, nothing shines through."""
    boxes = a.content.box(texts), b.content.box(texts)
    there, back = _onto(boxes[0], boxes[1]), _onto(boxes[1], boxes[0])
    goal = replace(b, matrix=b.matrix @ there, lens=b.lens and b.lens @ Projective.of(there))
    start = replace(a, matrix=a.matrix @ back, lens=a.lens and a.lens @ Projective.of(back))
    leaving, arriving = min(1.0, 2 - 2 * amount), min(1.0, 2 * amount)
    found = []
    for layer, ends, box, shown in (
        (a, (a, goal), boxes[0], leaving),
        (b, (start, b), boxes[1], arriving),
    ):
        matrix, lens = _place(*ends, amount, _middle(box))
        opacity = layer.opacity * shown
        found.append(replace(layer, matrix=matrix, lens=lens, opacity=opacity, shutter=()))
    return found


def _contents(a: ResolvedLayer, b: ResolvedLayer, amount: float, texts: Texts) -> tuple[Any, ...]:
    """What the layer shows between, the lowest first; () where there is nothing."""
    one, two = a.content, b.content
    if isinstance(one, TextContent) and isinstance(two, TextContent) and one.text != two.text:
        return retyped(one, two, amount, texts) or ()
    between = _content(one, two, amount, texts)
    return () if between is None else (between,)


def _content(one: Any, two: Any, amount: float, texts: Texts) -> Any:
    if isinstance(one, SceneContent) and isinstance(two, SceneContent):
        if (one.width, one.height, one.sharp) != (two.width, two.height, two.sharp):
            return None
        frame = mix_frames(one.frame, two.frame, amount, texts)
        return replace(one, signature=frame.signature, frame=frame)
    return one.between(two, amount)


def _looks(
    a: ResolvedLayer, b: ResolvedLayer, amount: float, texts: Texts
) -> dict[str, Any] | None:
    """Masks, effects, slices, mattes and the open shutter's states between; None where one of them
    has no counterpart."""
    found: dict[str, Any] = {
        "masks": _all(_mask, a.masks, b.masks, amount),
        "effects": _all(_effect, a.effects, b.effects, amount),
        "mattes": _all(_matte, a.mattes, b.mattes, amount, texts),
        "inner_mattes": _all(_matte, a.inner_mattes, b.inner_mattes, amount, texts),
    }
    if None in found.values():
        return None
    if a.slices != b.slices:
        found["slices"] = _slices(a.slices, b.slices, amount)
        if found["slices"] is None:
            return None
    states: list[ResolvedLayer] = []
    if len(a.shutter) == len(b.shutter):
        for p, q in zip(a.shutter, b.shutter, strict=True):
            between = mix_layers(p, q, amount, texts)
            if len(between) == 1:
                states += between
    whole = len(states) == len(a.shutter)
    return {**found, "shutter": tuple(states) if whole else ()}


def _all(between: Any, a: tuple[Any, ...], b: tuple[Any, ...], *how: Any) -> Any:
    """All of a kind between, matched in their order; None where they do not match."""
    if len(a) != len(b):
        return None
    found = [between(p, q, *how) for p, q in zip(a, b, strict=True)]
    return None if None in found else tuple(found)


def _mask(a: ResolvedMask, b: ResolvedMask, amount: float) -> ResolvedMask | None:
    same = ("half_plane", "mode", "inverted", "in_scene", "joins")
    if any(getattr(a, name) != getattr(b, name) for name in same):
        return None
    return replace(
        a, path=morph(a.path, b.path, amount) if a.path != b.path else a.path,
        feather=(_at(a.feather[0], b.feather[0], amount), _at(a.feather[1], b.feather[1], amount)),
        grow=_at(a.grow, b.grow, amount), opacity=_at(a.opacity, b.opacity, amount),
        matrix=a.matrix.towards(b.matrix, amount),
    )  # fmt: skip


def _effect(a: ResolvedEffect, b: ResolvedEffect, amount: float) -> ResolvedEffect | None:
    """Parameters by their kinds; those that do not mix have to be the same."""
    if a.kind != b.kind or a.inputs != b.inputs:
        return None
    values = dict(b.params)
    params = []
    for name, value in a.params:
        spec = LAID.spec_of_kind(a.kind, name)
        goal = values.get(name, value)
        if value != goal:
            if spec is None or not spec.kind.mixes:
                return None
            value = spec.kind.mix(value, goal, amount)
        params.append((name, value))
    time_s, length_s = _at(a.time_s, b.time_s, amount), _at(a.length_s, b.length_s, amount)
    return replace(a, params=tuple(params), time_s=time_s, length_s=length_s)


def _matte(a: ResolvedMatte, b: ResolvedMatte, amount: float, texts: Texts) -> ResolvedMatte | None:
    if (a.by, a.inverted, a.mode) != (b.by, b.inverted, b.mode):
        return None
    between = mix_layers(a.layer, b.layer, amount, texts)
    joined = _all(_matte, a.joined, b.joined, amount, texts)
    if len(between) > 1 or joined is None:
        return None
    return replace(a, layer=between[0], joined=joined)


def _slices(a: Slices | None, b: Slices | None, amount: float) -> Slices | None:
    """Pieces between; those of a layer that is whole are at rest."""
    one = a or b
    assert one is not None
    a, b = (each or Slices(one.cut, (RESTING,) * len(one.places), one.eye) for each in (a, b))
    if a.cut != b.cut or len(a.places) != len(b.places):
        return None
    places = [place_between(p, q, amount) for p, q in zip(a.places, b.places, strict=True)]
    eye = a.eye or b.eye
    if a.eye and b.eye:
        x, y, z = (_at(p, q, amount) for p, q in zip(a.eye, b.eye, strict=True))
        eye = (x, y, z)
    return Slices(a.cut, tuple(places), eye)


def _place(
    a: ResolvedLayer, b: ResolvedLayer, amount: float, about: Point
) -> tuple[Affine, Projective | None]:
    """Where a layer is between: flat, and seen in space where one of its ends is. A lens is mixed
    as the map that it is near the middle, and what it does beyond that."""
    matrix = a.matrix.towards(b.matrix, amount, about)
    if a.lens is None and b.lens is None:
        return matrix, None
    parts = []
    for layer in (a, b):
        lens = layer.lens or Projective.of(layer.matrix)
        near = lens.near(about)
        try:
            rest = (Projective.of(near.inverse()) @ lens).array
        except ValueError:
            return matrix, (b if amount >= 0.5 else a).lens
        parts.append((near, rest / rest[2, 2]))
    (near, rest), (near_b, rest_b) = parts
    between = Projective.of(near.towards(near_b, amount, about))
    return matrix, between @ Projective.from_array(rest + (rest_b - rest) * amount)


def _onto(box: Box, other: Box) -> Affine:
    """The map that lays one box over another."""
    sx, sy = (
        (other[i + 2] - other[i]) / (box[i + 2] - box[i]) if box[i + 2] > box[i] else 1.0
        for i in (0, 1)
    )
    (x, y), (goal_x, goal_y) = _middle(box), _middle(other)
    return Affine(sx, 0.0, 0.0, sy, goal_x - sx * x, goal_y - sy * y)


def _faded(layer: ResolvedLayer, share: float) -> ResolvedLayer:
    shutter = tuple(replace(state, opacity=state.opacity * share) for state in layer.shutter)
    return replace(layer, opacity=layer.opacity * share, shutter=shutter)


def _numbered(layers: tuple[ResolvedLayer, ...]) -> list[tuple[str, int]]:
    """Layers by id and the number of the copy."""
    counts: dict[str, int] = {}
    found = []
    for layer in layers:
        number = counts.get(layer.id, 0)
        counts[layer.id] = number + 1
        found.append((layer.id, number))
    return found


def _woven(order: list[Any], other: list[Any]) -> list[Any]:
    """The first list with what only the second has, each after what it follows there."""
    found = list(order)
    for index, name in enumerate(other):
        if name in found:
            continue
        before = next((each for each in reversed(other[:index]) if each in found), None)
        found.insert(0 if before is None else found.index(before) + 1, name)
    return found


def _ground(a: ResolvedFrame, b: ResolvedFrame, amount: float) -> Any:
    """The ground between: one that only one of them has fades."""
    if a.ground == b.ground:
        return a.ground
    one = a.ground or (*(b.ground or (0.0, 0.0, 0.0))[:3], 0.0)
    two = b.ground or (*one[:3], 0.0)
    return mix(one, two, amount)


def _middle(box: Box) -> Point:
    return ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)


def _at(a: float, b: float, amount: float) -> float:
    return a + (b - a) * amount
