"""One layer at a moment: what it shows, where, and all that is laid on it."""

from __future__ import annotations

from dataclasses import replace

from ..catalog import layer_kind
from ..frame.resolved import ResolvedLayer
from .context import Resolver
from .exposure import shutter_of
from .looks import effects_of, masks_of, slices_of
from .mattes import mattes_of
from .values import LayerValues


def resolved(
    evaluator: Resolver, v: LayerValues, time_s: float, shutter: bool, visiting: frozenset[str]
) -> ResolvedLayer | None:
    """A layer, or a copy of one; None where it shows nothing. ``shutter`` False leaves motion blur
    out; ``visiting`` are layers that are being resolved already."""
    layer = v.layer
    content = evaluator.shown(v)
    if content is None:
        return None
    opacity = v("opacity") / 100
    if v.nth:
        opacity *= (v("copies.opacity") / 100) ** v.nth
    placed = layer_kind(layer.kind).placed
    mattes = mattes_of(evaluator, v, time_s, visiting)
    before = bool(mattes) and layer.kind != "treatment" and v("matte.before")
    found = ResolvedLayer(
        layer.id,
        content,
        evaluator.matrix(v),
        opacity,
        lens=evaluator.places.lens(v) if placed else None,
        masks=masks_of(evaluator, v, time_s) if layer.masks or v.moved else (),
        effects=effects_of(evaluator, v, time_s, visiting) if layer.effects or v.moved else (),
        slices=slices_of(evaluator, v) if placed else None,
        blend=v("blend"),
        composite=v("composite") if layer.kind != "treatment" else "over",
        mattes=() if before else mattes,
        inner_mattes=mattes if before else (),
    )
    if shutter and (placed or (found.masks and layer.kind != "treatment")):
        states = shutter_of(evaluator, v, time_s, found)
        if states:
            return replace(found, shutter=states)
    if placed and not evaluator.places.sized(v):
        return replace(found, opacity=0.0)
    return found
