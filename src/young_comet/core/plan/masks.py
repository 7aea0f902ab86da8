"""Where a layer's masks lie in its working pixels, and how far what they let through can reach."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..effects.base import Region, join, meet
from ..frame.resolved import ResolvedLayer, ResolvedMask
from ..geometry.affine import Affine
from ..geometry.outline import from_svg_path
from ..geometry.projective import Projective
from ..pixels.blur import reach_of
from .regions import outset

# How far the edges of pieces that lie side by side reach beyond one another, working px.
JOIN_PX = 1.25
# An anti-aliased edge, and what joins.
_EDGE_PX = 3
# Bounds go by such steps: pictures are halved by pairs of pixels from their corner on, and those
# of a mask that moves should be the same ones from frame to frame.
_STEP_PX = 64


def mask_place(mask: ResolvedMask, layer: ResolvedLayer, working: Affine) -> Affine | Projective:
    """From a mask's space into its layer's working pixels; ValueError where there is no such map:
    the layer has no size, or is seen edge on."""
    if not mask.in_scene:
        return working @ mask.matrix
    if layer.lens is None:
        return working @ layer.matrix.inverse() @ mask.matrix
    return Projective.of(working) @ layer.lens.inverse() @ Projective.of(mask.matrix)


def let_through(layer: ResolvedLayer, working: Affine) -> Region | None:
    """Working pixels beyond which the masks of a layer let nothing through at any moment; None
    where that has no bounds that can be told."""
    found: Region = (0, 0, 0, 0)
    for masks in layer.mask_moments or (layer.masks,):
        own = _let_through(masks, layer, working)
        if own is None:
            return None
        found = join(found, own)
    return found


def _let_through(
    masks: Sequence[ResolvedMask], layer: ResolvedLayer, working: Affine
) -> Region | None:
    found: Region | None = None
    for nth, mask in enumerate(masks):
        own = None if mask.inverted or mask.half_plane else _bounds(mask, layer, working)
        if nth == 0:
            found = None if mask.mode == "minus" else own
        elif mask.mode == "intersect":
            found = meet(found, own) if found and own else found or own
        elif mask.mode != "minus":
            found = join(found, own) if found and own else None
    return found


def _bounds(mask: ResolvedMask, layer: ResolvedLayer, working: Affine) -> Region | None:
    try:
        place = mask_place(mask, layer, working)
    except ValueError:
        return (0, 0, 0, 0)  # a mask without a place lets nothing through
    if isinstance(place, Projective):
        return None
    left, top, right, bottom = from_svg_path(mask.path).bounds
    by = max(0.0, mask.grow)
    box = place.box((left - by, top - by, right + by, bottom + by))
    soft = max(mask.feather) * place.mean_scale / 2
    if not all(map(math.isfinite, (*box, soft))):
        return None
    left, top, right, bottom = outset(box, _EDGE_PX + reach_of(soft))
    return (
        left // _STEP_PX * _STEP_PX, top // _STEP_PX * _STEP_PX,
        -(-right // _STEP_PX) * _STEP_PX, -(-bottom // _STEP_PX) * _STEP_PX,
    )  # fmt: skip
