"""Scenes in scenes: a scene at a moment as the content of a layer, or its layers as ones of the
outer stack."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from ..catalog import MOST_MATTES, find_spec, matte_name, placed_scene
from ..frame.resolved import ResolvedFrame, ResolvedLayer, ResolvedMask, ResolvedMatte, SceneContent
from ..geometry.affine import Affine
from ..geometry.projective import Projective
from ..model import Layer, Project, Scene
from ..timing.standing import standing_second
from .contents import beyond_span, playback_between
from .context import Resolver
from .values import LayerValues


def inner_second(v: LayerValues, scene: Scene) -> float | None:
    """The second of the inner scene that a layer shows; None where it shows nothing."""
    if v("time.curve"):
        return float(v("time.source"))
    if v("time.frozen"):
        return float(v("time.frozen-at"))
    plain = v("time.speed") == 100 and not v("time.reversed") and v("time.after") == "stay"
    start = v("time.from") + v("time.offset")
    outer_s = v.local_s + v.layer.start_s
    if plain:
        # The outer second less a fixed shift: with none it is the very same number, so that
        # nothing falls on the other side of a key.
        end = v("time.to") or scene.length_s
        length = v.layer.end_s - v.layer.start_s
        if scene.standing_s is not None and abs(length - (end - start)) > 1e-6:
            return standing_second(v.local_s, length, (start, end), scene.standing_s)
        moment = outer_s - (v.layer.start_s - start)
        if v("time.from") <= moment < end:
            result: float | None = moment
            return result
    return playback_between(v, scene.length_s).at(v.local_s)


def slot_values(v: LayerValues) -> dict[str, Any]:
    """What a layer sets of its scene's slots at its moment, as documents have it."""
    found = dict(v.layer.slots)
    for slot_id in v.layer.slot_specs:
        name = f"slot.{slot_id}"
        spec = find_spec(v.layer, name)
        if spec is not None and name in v.layer.properties:
            found[slot_id] = spec.kind.to_json(v(name))
    return found


def scene_content(evaluator: Resolver, v: LayerValues) -> SceneContent | None:
    """What a scene layer shows: the inner scene at its moment."""
    inner = evaluator.inside(v)
    if inner is None:
        return None
    moment = beyond_span(evaluator, v, inner.scene.length_s)
    if moment is None:
        moment = inner_second(v, inner.scene)
    if moment is None:
        return None
    frame = inner.seen_at(moment)
    if not v("scene.ground"):
        frame = replace(frame, ground=None)
    return SceneContent(
        inner.scene.width, inner.scene.height, frame.signature, v("scene.sharp"), frame
    )


def see_through(evaluator: Resolver, v: LayerValues) -> list[ResolvedLayer]:
    """The layers of the inner scene as ones of the outer: with its place and opacity."""
    content = scene_content(evaluator, v)
    if content is None:
        return []
    opacity = v("opacity") / 100
    flat = evaluator.matrix(v) @ Affine.shift(-content.width / 2, -content.height / 2)
    lens = evaluator.places.lens(v)
    if lens is not None:
        lens = lens @ Projective.of(Affine.shift(-content.width / 2, -content.height / 2))
    frame: ResolvedFrame = content.frame
    return [carried(layer, flat, lens, v.layer.id, opacity) for layer in frame.layers]


def lies_flat(evaluator: Resolver, v: LayerValues) -> bool:
    """Whether a placed scene is no more than its layers where they are: nothing is done to it as
    one picture, its frame is the outer one, and no layer of it looks otherwise on what lies below.
    Drawn one by one they are exactly what they were before they were wrapped."""
    layer = v.layer
    if layer.masks or layer.effects or v.moved or v("opacity") != 100:
        return False
    plain = v("blend") == "normal" and v("composite") == "over" and v("slices.kind") == "none"
    if not plain or v("copies.count") > 1 or v("matte.below"):
        return False
    if any(v(matte_name(number, "layer")) for number in range(1, MOST_MATTES + 1)):
        return False
    inner = evaluator.inside(v)
    size = (evaluator.scene.width, evaluator.scene.height)
    if inner is None or (inner.scene.width, inner.scene.height) != size:
        return False
    if (inner.scene.ground and v("scene.ground")) or evaluator.places.lens(v) is not None:
        return False
    place = evaluator.matrix(v) @ Affine.shift(-size[0] / 2, -size[1] / 2)
    if place != Affine():
        return False
    moment = inner_second(v, inner.scene)
    if moment is None:
        return False
    return all(
        each.blend == "normal" and each.composite == "over" and not each.content.through
        for each in inner.seen_at(moment).layers
    )


def carried(
    layer: ResolvedLayer, flat: Affine, lens: Projective | None, layer_id: str, opacity: float = 1
) -> ResolvedLayer:
    """A layer of an inner scene seen through a place in the outer one."""
    seen = layer.lens
    if lens is not None:
        seen = lens @ (layer.lens or Projective.of(layer.matrix))
    elif layer.lens is not None:
        seen = Projective.of(flat) @ layer.lens

    def mask(m: ResolvedMask) -> ResolvedMask:
        return replace(m, matrix=flat @ m.matrix) if m.in_scene else m

    def matte(m: ResolvedMatte) -> ResolvedMatte:
        more = tuple(matte(each) for each in m.joined)
        return replace(m, layer=carried(m.layer, flat, lens, m.layer.id), joined=more)

    return replace(
        layer,
        id=layer_id,
        matrix=flat @ layer.matrix,
        lens=seen,
        opacity=layer.opacity * opacity,
        masks=tuple(mask(m) for m in layer.masks),
        mattes=tuple(matte(m) for m in layer.mattes),
        inner_mattes=tuple(matte(m) for m in layer.inner_mattes),
        effects=tuple(
            replace(e, inputs=tuple((n, carried(o, flat, lens, o.id)) for n, o in e.inputs))
            for e in layer.effects
        ),
        shutter=tuple(carried(s, flat, lens, layer_id) for s in layer.shutter),
    )


def used_in(project: Project, scene_id: str) -> list[tuple[Scene, Layer]]:
    """Where a scene is placed: the outer scenes with the layers that show it."""
    found = []
    for scene in project.scenes:
        for layer in scene.layers:
            if placed_scene(layer) == scene_id:
                found.append((scene, layer))
    return found
