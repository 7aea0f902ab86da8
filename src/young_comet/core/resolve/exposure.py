"""What of a layer moves while the shutter is open, and how far."""

from __future__ import annotations

import math
from dataclasses import replace

from ..catalog import EFFECTS
from ..frame.pieces import pieces_shift
from ..frame.resolved import ResolvedLayer, ResolvedMask
from ..geometry.affine import Affine, Box
from ..geometry.outline import from_svg_path
from ..geometry.projective import Projective
from ..model import Layer, Property
from .context import Resolver
from .courses import ArrangedProperty
from .looks import masks_of, slices_of
from .values import LayerValues

MIN_SAMPLES, MAX_SAMPLES = 3, 28


def shutter_of(
    evaluator: Resolver, v: LayerValues, scene_s: float, still: ResolvedLayer
) -> tuple[ResolvedLayer, ...]:
    """The layer's states while the shutter is open; () where it does not move."""
    shutter = evaluator.scene.shutter
    wanted = v("motion-blur")
    if wanted == "off" or (wanted == "scene" and not shutter.on):
        return ()
    frame_s = evaluator.rate.den / evaluator.rate.num
    opens = scene_s + shutter.opens_deg / 360 * frame_s
    length = shutter.angle_deg / 360 * frame_s
    if not _may_move(evaluator, v, scene_s, (opens, opens + length)):
        return ()
    first, last = (_state(evaluator, v, moment, still) for moment in (opens, opens + length))
    if first is None or last is None:
        return ()
    middle = _state(evaluator, v, scene_s, still) or still
    if first == last == middle:
        return ()
    box = evaluator.content_box(v.bare())
    count = _samples(first, middle, last, box)
    if not count:
        return ()
    moments = [opens + (i + 0.5) / count * length for i in range(count)]
    states = [_state(evaluator, v, moment, still) for moment in moments]
    return tuple(s for s in states if s is not None)


def _state(
    evaluator: Resolver, of: LayerValues, scene_s: float, still: ResolvedLayer
) -> ResolvedLayer | None:
    """A layer at another moment as ``still`` has it, but for its place, its form, its masks and its
    pieces; it is opaque, on its own. Flows of effects, frames of footage and what a text says stay
    those of the frame."""
    v = evaluator.moving(of.layer, scene_s, of.nth)
    masks = masks_of(evaluator, v, scene_s) if v.layer.masks or v.moved else ()
    if still.content.covers:  # of what fills the frame only its masks move
        return replace(still, masks=masks, blend="normal", composite="over", mattes=())
    content = still.content if still.content.held else evaluator.shown(v)
    if content is None:
        return None
    content = content.as_in(still.content)
    return ResolvedLayer(
        still.id,
        content,
        evaluator.matrix(v),
        still.opacity,
        evaluator.places.lens(v),
        masks,
        still.effects,
        slices_of(evaluator, v),
        inner_mattes=still.inner_mattes,
    )


def _may_move(
    evaluator: Resolver, v: LayerValues, scene_s: float, open_s: tuple[float, float]
) -> bool:
    """Whether anything that moves can change while the shutter is open (seconds of the scene)."""
    chain = (v.layer, *evaluator.places.chain(v.layer))
    tied = ("align.layer", "fit.layer")
    if any(la.moves or any(name in la.properties for name in tied) for la in chain):
        return True
    if any(mask.space != "layer" for mask in v.layer.masks):
        return True
    starts = [(chain[0], scene_s - v.local_s), *((la, la.start_s) for la in chain[1:])]
    return any(_changes(la, open_s[0] - start, open_s[1] - start) for la, start in starts)


def _changes(layer: Layer, first_s: float, last_s: float) -> bool:
    """Whether a layer's place, form, masks or pieces can change between two times of its own."""
    return any(
        (prop.keys or prop.expression)
        and name not in ("opacity", "text")
        and not EFFECTS.holds(name)
        and not all(_rests(each, first_s, last_s) for each in _keyed(prop))
        for name, prop in layer.properties.items()
    )


def _keyed(prop: Property) -> tuple[Property, ...]:
    """A property, and that of which the keys are added to it."""
    added = prop.added if isinstance(prop, ArrangedProperty) else None
    return (prop,) if added is None else (prop, added)


def _rests(prop: Property, first_s: float, last_s: float) -> bool:
    """Whether a property stays as it is: before its first key or after its last."""
    if prop.expression or (prop.repeat and last_s > prop.keys[0].time_s):
        return False
    return last_s <= prop.keys[0].time_s or first_s >= prop.keys[-1].time_s


def _samples(
    first: ResolvedLayer, middle: ResolvedLayer, last: ResolvedLayer, box: Box | None
) -> int:
    """Enough states that the steps between them, over which each place is smeared, are short: 15
    px where a layer shifts, fewer where its rim turns or grows. Forms need a state every 5, masks
    every 6 or 3, units, whose states are not smeared, every 2.5 and slow ones every 1.3.
    None where nothing moves by 0.7 px."""
    a, m, b = first.matrix, middle.matrix, last.matrix
    shift = math.hypot(m.e - a.e, m.f - a.f) + math.hypot(b.e - m.e, b.f - m.f)
    rim = _bent(a, b) * middle.content.radius()
    count = max(shift / 15, _states_of(rim))
    far = max(shift, rim)
    if first.lens or last.lens:
        turned = _lens_shift(first, last)
        far, count = max(far, turned), max(count, _states_of(turned))
    if (first.content, first.slices) != (last.content, last.slices):
        grown = None if first.slices != last.slices else _form_shift(first, last)
        if first.slices and last.slices and first.content == last.content and box is not None:
            grown = pieces_shift(first.slices, last.slices, box) * middle.matrix.max_scale
        if grown is None:  # there is no telling how far: enough for most
            far, count = max(far, 1.0), max(count, 6)
        else:
            if first.content.only_units_differ(last.content):
                needed = max(grown / 2.5, min(grown / 1.3, 7.0))
            else:
                needed = grown / (5 if first.slices == last.slices else 1)
            far, count = max(far, grown), max(count, needed)
    if len(first.masks) != len(last.masks):  # a move that brings its own ends, or begins
        far, count = max(far, 1.0), max(count, 6)
    # Masks that move over a picture that stays are cheap.
    step = 6 if far > 0 else 3
    for a_mask, b_mask in zip(first.masks, last.masks, strict=False):
        moved = _mask_shift(a_mask, b_mask)
        far, count = max(far, moved), max(count, moved / step)
    if far < 0.7:
        return 0
    # Two copies less than a pixel apart already are what lies between them.
    least = 2 if far < 1.6 else MIN_SAMPLES
    return int(min(MAX_SAMPLES, max(least, math.ceil(count))))


def _states_of(rim: float) -> float:
    """How many states a rim needs that goes so far: less than 2 px apart they need no smearing,
    which takes some sharpness along the way."""
    return min(rim / 1.8, 6 + rim / 9)


def _form_shift(first: ResolvedLayer, last: ResolvedLayer) -> float | None:
    """How far the rim of what changes its form goes, px; None where there is no telling."""
    shift = first.content.rim_shift(last.content)
    if shift is None:
        return None
    return shift * max(first.matrix.max_scale, last.matrix.max_scale)


def _lens_shift(first: ResolvedLayer, last: ResolvedLayer) -> float:
    """How far the rim of a layer that turns in space goes, px."""
    radius = first.content.radius()
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
