"""From a layer's document to its looks at a moment: masks, effects, slices, the shutter."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from ..catalog import effect_specs
from ..effects import EFFECTS
from ..geometry.affine import Affine
from ..geometry.outline import from_svg_path
from ..geometry.projective import Projective
from ..model import Effect, Kind, Mask
from .moving import clip_mask, moved_effects, moved_slices
from .resolved import (
    ClipContent,
    PictureContent,
    ResolvedEffect,
    ResolvedLayer,
    ResolvedMask,
    SceneContent,
    ShapeContent,
    Slices,
    TextContent,
)

if TYPE_CHECKING:
    from .evaluate import SceneEvaluator
    from .values import LayerValues

MIN_SAMPLES, MAX_SAMPLES = 3, 28


def mask_place(v: LayerValues, mask: Mask) -> Affine:
    """From a mask's path into the space that the mask lies in: moved by its position, turned
    and scaled about the middle of its path."""
    prefix = f"mask.{mask.id}."
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


def masks_of(evaluator: SceneEvaluator, v: LayerValues, scene_s: float) -> tuple[ResolvedMask, ...]:
    """The masks of a layer that are on, and the box that a move shows it within."""
    found = []
    for mask in v.layer.masks:
        if not mask.on:
            continue
        prefix = f"mask.{mask.id}."
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
            )
        )
    if v.moved and evaluator.pose(v).clipped and (clip := clip_mask(evaluator, v)):
        found.append(clip)
    return tuple(found)


def effects_of(
    evaluator: SceneEvaluator, v: LayerValues, scene_s: float, visiting: frozenset[str]
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


def effect_params(evaluator: SceneEvaluator, v: LayerValues, effect: Effect) -> dict[str, Any]:
    """The values of an effect's parameters by name; assets as their hashes, fonts by their id
    in the font library."""
    prefix = f"effect.{effect.id}."
    params = {}
    for full, spec in effect_specs(effect).items():
        value = v(full)
        if spec.kind is Kind.ASSET:
            asset = evaluator.asset(value)
            value = asset.hash if asset else ""
        elif spec.kind is Kind.FONT:
            value = evaluator.font(value)
        params[full.removeprefix(prefix)] = value
    return params


def slices_of(evaluator: SceneEvaluator, v: LayerValues) -> Slices | None:
    """How a layer is cut; None where it is whole or all its pieces are in place."""
    slices = None
    if v("slices.kind") != "none" and v("slices.progress") < 100:
        slices = all_slices(evaluator, v)
    if not v.moved:
        return slices
    return moved_slices(evaluator, v, slices, lambda: all_slices(evaluator, v))


def all_slices(evaluator: SceneEvaluator, v: LayerValues) -> Slices:
    """How a layer is cut, wherever its pieces are."""
    kind = v("slices.kind")
    profile = v("slices.profile")
    columns, rows = v("slices.grid")
    return Slices(
        kind,
        round(v("slices.count")),
        (round(columns), round(rows)),
        v("slices.angle"),
        v("slices.lines"),
        v("slices.progress") / 100,
        v("slices.width"),
        v("slices.order"),
        round(v("slices.seed")),
        evaluator.names.easings.get(profile.removeprefix("easing:"), profile)
        if profile.startswith("easing:")
        else profile,
        v("slices.offset"),
        v("slices.alternate"),
        v("slices.rotation"),
        v("slices.scale") / 100,
        v("slices.opacity") / 100,
    )


def shutter_of(
    evaluator: SceneEvaluator, v: LayerValues, scene_s: float, still: ResolvedLayer
) -> tuple[ResolvedLayer, ...]:
    """The layer's states while the shutter is open; () where it does not move.

    Flows of effects and frames of footage stay as they are at the frame's own moment.
    """
    shutter = evaluator.scene.shutter
    wanted = v("motion-blur")
    if wanted == "off" or (wanted == "scene" and not shutter.on) or not _may_move(evaluator, v):
        return ()
    frame_s = evaluator.rate.den / evaluator.rate.num
    opens = scene_s + shutter.offset_deg / 360 * frame_s
    length = shutter.angle_deg / 360 * frame_s

    def state(share: float) -> ResolvedLayer | None:
        moment = opens + share * length
        other = evaluator.layer(v.layer, moment, moving_only=True, nth=v.nth)
        return _at_rest(other, still) if other else None

    first, last = state(0.0), state(1.0)
    middle = _at_rest(still, still)
    if first is None or last is None or first.signature == last.signature == middle.signature:
        return ()
    count = _samples(first, middle, last)
    if not count:
        return ()
    states = [state((i + 0.5) / count) for i in range(count)]
    return tuple(s for s in states if s is not None)


def _may_move(evaluator: SceneEvaluator, v: LayerValues) -> bool:
    layers = (v.layer, *evaluator.places.chain(v.layer))
    if any(prop.keys or prop.expression for la in layers for prop in la.properties.values()):
        return True
    if any(la.moves for la in layers):
        return True
    if any(name in v.layer.properties for name in ("align.layer", "fit.layer")):
        return True
    return any(mask.space != "layer" for mask in v.layer.masks)


def _at_rest(moving: ResolvedLayer, still: ResolvedLayer) -> ResolvedLayer:
    """A state with the frame's own effects and footage, opacity and mattes: what moves is the
    place, the path, the masks, the pieces."""
    fixed = isinstance(still.content, ClipContent | SceneContent)
    content = still.content if fixed else moving.content
    return replace(
        moving, effects=still.effects, content=content, opacity=still.opacity, mattes=(),
        blend="normal", composite="over",
    )  # fmt: skip


def _samples(first: ResolvedLayer, middle: ResolvedLayer, last: ResolvedLayer) -> int:
    """Enough states that the steps between them are short: shifts are smeared over a step of up
    to 15 px, turning and growing need a state every 5 px of the rim, masks one every 6 px. None
    where nothing moves by half a pixel."""
    a, m, b = first.matrix, middle.matrix, last.matrix
    shift = math.hypot(m.e - a.e, m.f - a.f) + math.hypot(b.e - m.e, b.f - m.f)
    rim = _bent(a, b) * _radius(middle)
    count = max(shift / 15, rim / 3)
    far = max(shift, rim)
    if first.lens or last.lens:
        turned = _lens_shift(first, last)
        far, count = max(far, turned), max(count, turned / 6)
    if (first.content, first.slices) != (last.content, last.slices):
        grown = None if first.slices != last.slices else _form_shift(first, last)
        if grown is None:  # there is no telling how far: enough for most
            far, count = max(far, 1.0), max(count, 6)
        else:
            far, count = max(far, grown), max(count, grown / 5)
    for a_mask, b_mask in zip(first.masks, last.masks, strict=True):
        moved = _mask_shift(a_mask, b_mask)
        far, count = max(far, moved), max(count, moved / 6)
    if far < 0.7:
        return 0
    # Two copies less than a pixel apart already are what lies between them.
    least = 2 if far < 1.6 else MIN_SAMPLES
    return int(min(MAX_SAMPLES, max(least, math.ceil(count))))


def _form_shift(first: ResolvedLayer, last: ResolvedLayer) -> float | None:
    """How far the rim of a shape or text that changes its size or tracking goes, px; None where
    something else changes."""
    a, b = first.content, last.content
    if isinstance(a, TextContent) and isinstance(b, TextContent):
        style = replace(b.style, tracking=a.style.tracking, size_px=a.style.size_px)
        if replace(b, style=style) != a:
            return None
        letters = max(len(line) for line in a.text.split("\n"))
        em = abs(b.style.tracking * b.style.size_px - a.style.tracking * a.style.size_px) / 1000
        wider = letters * (em + 0.6 * abs(b.style.size_px - a.style.size_px))
        shift = wider if a.style.align != "centre" else wider / 2
        return shift * max(first.matrix.max_scale, last.matrix.max_scale)
    if not (isinstance(a, ShapeContent) and isinstance(b, ShapeContent)):
        return None
    f = a.form
    form = replace(b.form, size=f.size, start=f.start, end=f.end, radius=f.radius)
    if replace(b, form=form) != a:
        return None
    far = max(
        math.dist(a.form.size, b.form.size) / 2,
        math.dist(a.form.start, b.form.start),
        math.dist(a.form.end, b.form.end),
        abs(a.form.radius - b.form.radius),
    )
    return far * max(first.matrix.max_scale, last.matrix.max_scale)


def _lens_shift(first: ResolvedLayer, last: ResolvedLayer) -> float:
    """How far the rim of a layer that turns in space goes, px."""
    radius = _radius(first)
    a, b = (layer.lens or Projective.of(layer.matrix) for layer in (first, last))
    corners = [(x, y) for x in (-radius, radius) for y in (-radius / 2, radius / 2)]
    return max(math.dist(a(p), b(p)) for p in corners)


def _bent(a: Affine, b: Affine) -> float:
    """How far a point one pixel from (0, 0) goes at most, when a layer turns, grows or leans."""
    return Affine(b.a - a.a, b.b - a.b, b.c - a.c, b.d - a.d, 0.0, 0.0).max_scale


def _mask_shift(first: ResolvedMask, last: ResolvedMask) -> float:
    """How far a mask's edge goes, px; a path that changes its form counts as 12."""
    if first.path != last.path:
        return 12.0
    a, b = first.matrix, last.matrix
    bent = 2 * _bent(a, b)  # a mask's middle may lie far from (0, 0)
    size = 0.0 if first.half_plane else max(map(abs, from_svg_path(first.path).bounds))
    return math.hypot(b.e - a.e, b.f - a.f) + bent * max(size, 200.0)


def _radius(layer: ResolvedLayer) -> float:
    """About how far a layer's content reaches from its middle, px."""
    content = layer.content
    if isinstance(content, ShapeContent):
        form = content.form
        return max(form.radius, math.hypot(*form.size) / 2, math.hypot(*form.end), 100.0)
    if isinstance(content, TextContent):
        longest = max(len(line) for line in content.text.split("\n"))
        return max(1, longest) * content.style.size_px * 0.35
    if isinstance(content, PictureContent | ClipContent | SceneContent):
        return math.hypot(content.width, content.height) / 2
    return 200.0
