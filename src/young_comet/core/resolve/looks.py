"""From a layer's document to its looks at a moment: masks, effects, slices."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from ..catalog import EFFECTS as LAID
from ..catalog import MASKS
from ..effects import EFFECTS
from ..frame.pieces import Piece, cut_pieces
from ..frame.resolved import ResolvedEffect, ResolvedMask
from ..frame.slices import Cut, Slices
from ..frame.units import RESTING, UnitPlace
from ..geometry.affine import Affine
from ..geometry.outline import from_svg_path
from ..model import Effect, Kind, Mask
from ..timing import Easing
from ..timing.spread import ranks, settled
from .context import Resolver
from .moves import clip_mask, moved_effects, moved_slices
from .values import LayerValues


def mask_place(v: LayerValues, mask: Mask) -> Affine:
    """From a mask's path into the space that the mask lies in: moved by its position, turned
    and scaled about the middle of its path."""
    prefix = MASKS.prefix(mask.id)
    position, rotation = v(prefix + "position"), v(prefix + "rotation")
    if mask.form == "half-plane":
        return Affine.shift(*position) @ Affine.rotation(rotation)
    sx, sy = v(prefix + "scale")
    left, top, right, bottom = from_svg_path(v(prefix + "path")).bounds
    middle = ((left + right) / 2, (top + bottom) / 2)
    return (
        Affine.shift(position[0] + middle[0], position[1] + middle[1])
        @ Affine.rotation(rotation)
        @ Affine.scaling(sx / 100, sy / 100)
        @ Affine.shift(-middle[0], -middle[1])
    )


def masks_of(evaluator: Resolver, v: LayerValues, scene_s: float) -> tuple[ResolvedMask, ...]:
    """The masks of a layer that are on, and the box that a move shows it within."""
    found = []
    for mask in v.layer.masks:
        if not mask.on:
            continue
        prefix = MASKS.prefix(mask.id)
        matrix, in_scene = mask_place(v, mask), mask.space != "layer"
        if mask.space == "follow":
            followed = evaluator.place_of(mask.follows or "", scene_s)
            if followed is None:  # what it followed is gone: it stays where it is
                in_scene = False
            else:
                matrix = followed @ matrix
        found.append(
            ResolvedMask(
                mask.form == "half-plane",
                "" if mask.form == "half-plane" else v(prefix + "path"),
                mask.mode,
                mask.inverted,
                v(prefix + "feather"),
                v(prefix + "grow"),
                v(prefix + "opacity") / 100,
                matrix,
                in_scene,
                mask.joins,
            )
        )
    if v.moved and evaluator.pose(v).clipped and (clip := clip_mask(evaluator, v)):
        found.append(clip)
    return tuple(found)


def effects_of(
    evaluator: Resolver, v: LayerValues, scene_s: float, visiting: frozenset[str]
) -> tuple[ResolvedEffect, ...]:
    """The effects of a layer that are on, in their order; then those of its moves."""
    found = []
    for effect in v.layer.effects:
        kind = EFFECTS.get(effect.kind)
        if kind is None or not effect.on:
            continue
        params = effect_params(evaluator, v, effect)
        inputs = []
        for name in kind.inputs:
            other = evaluator.other(params[name], scene_s, visiting | {v.layer.id})
            if other is not None:
                inputs.append((name, other))
        moving = kind.timed and params.get("flow", 1) != 0
        found.append(
            ResolvedEffect(
                effect.kind,
                tuple(params.items()),
                v.local_s if moving else 0.0,
                v.layer.end_s - v.layer.start_s if kind.timed else 0.0,
                tuple(inputs),
            )
        )
    if v.moved:
        found += moved_effects(evaluator.pose(v))
    return tuple(found)


def effect_params(evaluator: Resolver, v: LayerValues, effect: Effect) -> dict[str, Any]:
    """The values of an effect's parameters by name; assets as their hashes, fonts by their id
    in the font library."""
    params = v.own(LAID, effect)
    for name, value in params.items():
        spec = LAID.spec_of_kind(effect.kind, name)
        assert spec is not None
        if spec.kind is Kind.ASSET:
            asset = evaluator.asset(value)
            params[name] = asset.hash if asset else ""
        elif spec.kind is Kind.FONT:
            params[name] = evaluator.font(value)
    return params


def slices_of(evaluator: Resolver, v: LayerValues) -> Slices | None:
    """How a layer is cut; None where it is whole or all its pieces are in place."""
    if v("slices.kind") == "none":
        return None
    away = v("slices.progress") < 100
    if not away and not v.moved:
        return None
    box = evaluator.content_box(v)
    if box is None:
        return None
    cut = cut_of(v)
    pieces = cut_pieces(cut, box)
    places = slice_places(v, evaluator.easing, pieces) if away else [RESTING] * len(pieces)
    if v.moved:
        places = moved_slices(evaluator, v, places, pieces)
    if all(place is RESTING for place in places):
        return None
    eye = evaluator.places.eye_of(v) if any(place.in_space for place in places) else None
    return Slices(cut, tuple(places), eye)


def cut_of(v: LayerValues) -> Cut:
    """Into what a layer is cut."""
    columns, rows = v("slices.grid")
    return Cut(
        v("slices.kind"),
        round(v("slices.count")),
        (round(columns), round(rows)),
        v("slices.angle"),
        v("slices.lines"),
    )


def slice_places(
    v: LayerValues, easing: Callable[[str], Easing], pieces: Sequence[Piece]
) -> list[UnitPlace]:
    """Where the pieces are by the layer's own properties."""
    progress, width, count = v("slices.progress") / 100, v("slices.width"), len(pieces)
    by_place = [p.along for p in pieces]
    order = ranks(count, v("slices.order"), round(v("slices.seed")), by_place)
    profile = easing(v("slices.profile"))
    (dx, dy), (px, py) = v("slices.offset"), v("slices.pivot")
    rotation, scale, opacity = v("slices.rotation"), v("slices.scale"), v("slices.opacity")
    tilt, turn, by_turns = v("slices.tilt"), v("slices.turn"), v("slices.alternate")
    places = []
    for index, rank in enumerate(order):
        away = 1 - settled(progress, rank, count, width, profile)
        if not away:
            places.append(RESTING)
            continue
        by = -away if by_turns and index % 2 else away
        size = 1 + (scale / 100 - 1) * away
        shown = min(1.0, max(0.0, 1 + (opacity / 100 - 1) * away))
        places.append(
            UnitPlace(
                by * dx, by * dy, by * rotation, size, size, shown, by * tilt, by * turn,
                px / 100, py / 100,
            )
        )  # fmt: skip
    return places
