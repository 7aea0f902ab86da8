"""What of a layer moves while the shutter is open, and how far."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING

from ..catalog import EFFECTS
from ..geometry.affine import Affine, Box
from ..geometry.outline import from_svg_path
from ..geometry.projective import Projective
from ..geometry.trail import trail
from ..model import Layer, Property
from ..typography.along import TextPath
from .looks import masks_of, slices_of
from .resolved import (
    ClipContent,
    PictureContent,
    ResolvedLayer,
    ResolvedMask,
    SceneContent,
    ShapeContent,
    TextContent,
    TextUnit,
    UnitPlace,
)
from .slicing import pieces_shift

if TYPE_CHECKING:
    from .evaluate import SceneEvaluator
    from .values import LayerValues

MIN_SAMPLES, MAX_SAMPLES = 3, 28


def shutter_of(
    evaluator: SceneEvaluator, v: LayerValues, scene_s: float, still: ResolvedLayer
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
    evaluator: SceneEvaluator, of: LayerValues, scene_s: float, still: ResolvedLayer
) -> ResolvedLayer | None:
    """A layer at another moment as ``still`` has it, but for its place, its form, its masks and its
    pieces; it is opaque, on its own. Flows of effects, frames of footage and what a text says stay
    those of the frame."""
    v = evaluator.moving(of.layer, scene_s, of.nth)
    fixed = isinstance(still.content, ClipContent | SceneContent)
    content = still.content if fixed else evaluator.shown(v)
    if content is None:
        return None
    if isinstance(content, TextContent) and isinstance(still.content, TextContent):
        content = _as_written(content, still.content)
    return ResolvedLayer(
        still.id,
        content,
        evaluator.matrix(v),
        still.opacity,
        evaluator.places.lens(v),
        masks_of(evaluator, v, scene_s) if v.layer.masks or v.moved else (),
        still.effects,
        slices_of(evaluator, v),
        inner_mattes=still.inner_mattes,
    )


def _as_written(content: TextContent, still: TextContent) -> TextContent:
    """A text at another moment that says what it says at the frame's own, with as much of its
    letters seen: a counter shows one number, letters that appear are there or not."""
    if len(content.text) != len(still.text):
        return still  # its units are other ones
    seen = {(unit.first, unit.last): unit for unit in still.units}
    units = []
    for unit in content.units:
        own = seen.pop((unit.first, unit.last), None)
        opacity, scrambled = (own.place.opacity, own.scrambled) if own else (1.0, 0.0)
        place = unit.place._replace(opacity=opacity)
        units.append(replace(unit, place=place, scrambled=scrambled))
    for unit in seen.values():  # at rest at that moment
        units.append(replace(unit, place=UnitPlace(opacity=unit.place.opacity)))
    units.sort(key=lambda unit: unit.first)
    return replace(content, text=still.text, units=tuple(units), cursor=still.cursor)


def _may_move(
    evaluator: SceneEvaluator, v: LayerValues, scene_s: float, open_s: tuple[float, float]
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
        and not _rests(prop, first_s, last_s)
        for name, prop in layer.properties.items()
    )


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
    every 6, units every 4. None where nothing moves by 0.7 px."""
    a, m, b = first.matrix, middle.matrix, last.matrix
    shift = math.hypot(m.e - a.e, m.f - a.f) + math.hypot(b.e - m.e, b.f - m.f)
    rim = _bent(a, b) * _radius(middle)
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
            each = 4 if _only_units(first, last) else 5 if first.slices == last.slices else 1
            far, count = max(far, grown), max(count, grown / each)
    for a_mask, b_mask in zip(first.masks, last.masks, strict=True):
        moved = _mask_shift(a_mask, b_mask)
        far, count = max(far, moved), max(count, moved / 6)
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
    """How far the rim of a shape or text that changes its size or tracking goes, px; None where
    something else changes."""
    a, b = first.content, last.content
    if isinstance(a, TextContent) and isinstance(b, TextContent):
        if _only_units(first, last):
            return _units_shift(a, b) * max(first.matrix.max_scale, last.matrix.max_scale)
        style = replace(b.style, tracking=a.style.tracking, size_px=a.style.size_px)
        if replace(b, style=style, along=_travelled(b.along, a.along)) != a:
            return None
        letters = max(len(line) for line in a.text.split("\n"))
        em = abs(b.style.tracking * b.style.size_px - a.style.tracking * a.style.size_px) / 1000
        wider = letters * (em + 0.6 * abs(b.style.size_px - a.style.size_px))
        shift = wider if a.style.align != "centre" else wider / 2
        if a.along is not None and b.along is not None:
            shift += abs(b.along.offset - a.along.offset) * trail(a.along.data).length
            shift += abs(b.along.gap_px - a.along.gap_px)
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


def _only_units(first: ResolvedLayer, last: ResolvedLayer) -> bool:
    """Whether the content of two states differs in nothing but how far a text's units are."""
    a, b = first.content, last.content
    if not (isinstance(a, TextContent) and isinstance(b, TextContent)):
        return False
    return a != b and replace(b, units=a.units) == a


def _units_shift(first: TextContent, last: TextContent) -> float:
    """How far the units of a text go from one state to another, px of the layer."""
    states = [{(u.first, u.last): u for u in each.units} for each in (first, last)]
    far = 0.0
    for span in states[0].keys() | states[1].keys():
        rest = TextUnit(*span, UnitPlace())
        a, b = (state.get(span, rest).place for state in states)
        radius = first.style.size_px * max(0.5, 0.3 * (span[1] - span[0]))
        angles = (b.rotation_deg - a.rotation_deg, b.tilt_deg - a.tilt_deg, b.turn_deg - a.turn_deg)
        turned = sum(abs(math.radians(angle)) for angle in angles)
        if a.pivot_x or a.pivot_y or b.pivot_x or b.pivot_y:
            radius *= 2
        grown = math.hypot(b.sx - a.sx, b.sy - a.sy)
        far = max(far, math.hypot(b.dx - a.dx, b.dy - a.dy) + (turned + grown) * radius)
    return far


def _travelled(path: TextPath | None, to: TextPath | None) -> TextPath | None:
    """A path with its text where it is on another."""
    if path is None or to is None:
        return path
    return replace(path, offset=to.offset, gap_px=to.gap_px)


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
        if content.along is not None:
            size = content.style.size_px
            return size + max(map(abs, from_svg_path(content.along.data).bounds))
        longest = max(len(line) for line in content.text.split("\n"))
        return max(1, longest) * content.style.size_px * 0.35
    if isinstance(content, PictureContent | ClipContent | SceneContent):
        return math.hypot(content.width, content.height) / 2
    return 200.0
