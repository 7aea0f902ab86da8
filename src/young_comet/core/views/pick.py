"""Which layers lie under a point, and which colour is there."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..effects import laid_in
from ..frame.resolved import ResolvedLayer
from ..geometry.affine import Affine, Box
from ..model import Layer
from ..paint.compose import FrameStudio
from ..paint.library import MediaLibrary
from ..paint.placing import tight
from ..paint.renderer import Renderer
from ..paint.sheets import LayerPictures
from ..pixels.cache import SizedCache
from ..pixels.colour import Rgba
from ..resolve.scene import SceneEvaluator, before_effect
from ..resolve.values import is_on
from .view import placed_box

REACH_PX = 4.0  # a thin line can be taken hold of this far from it, in output pixels


def layers_at(
    evaluator: SceneEvaluator,
    library: MediaLibrary,
    time_s: float,
    point: tuple[float, float],
    reach: float = REACH_PX,
) -> list[str]:
    """Ids of the unlocked visible layers at a point of the scene, the highest first.

    ``reach`` is in scene pixels. A layer is hit on each of its copies: a text anywhere in its box,
    along a path on its letters, other layers where they have paint.
    """
    found = []
    library.begin_frame(len(evaluator.scene.layers))
    for layer in reversed(evaluator.scene.layers):
        if layer.hidden or layer.locked or not is_on(layer, time_s):
            continue
        copies = evaluator.copies(layer, time_s)
        if any(_hit(evaluator, each, library, point, reach) for each in copies):
            found.append(layer.id)
    return found


def _hit(
    evaluator: SceneEvaluator,
    resolved: ResolvedLayer,
    library: MediaLibrary,
    point: tuple[float, float],
    reach: float,
) -> bool:
    content = resolved.content
    if content.through:
        return False  # it lies over everything: it is chosen in the timeline
    try:
        own = (resolved.lens or resolved.matrix).inverse()(point)
    except ValueError:
        return False  # it has no size
    told = None if resolved.masks else content.touched(own, library)
    if told is not None:
        return told
    outline = content.outline(library) if content.hollow and resolved.is_plain else None
    if outline is not None:
        left, top, right, bottom = outline.mapped(resolved.matrix).bounds
        beside = not (
            left - reach <= point[0] <= right + reach and top - reach <= point[1] <= bottom + reach
        )
        if beside:
            return False
    # A few pixels about the point are drawn: a thin line is hit close by.
    side = 2 * round(reach) + 1
    view = Affine.shift(side / 2 - point[0], side / 2 - point[1])
    region = (0, 0, side, side)
    frame = (evaluator.scene.width, evaluator.scene.height)
    pictures = LayerPictures(FrameStudio(library), SizedCache(1), view, region, frame)
    pixels = laid_in(pictures.picture(replace(resolved, shutter=())), region)
    alpha = pixels[:, :, 3]
    return bool(alpha.max() > 40) if content.lined else bool(alpha[side // 2, side // 2] > 8)


def seen_box(
    evaluator: SceneEvaluator, library: MediaLibrary, layer: Layer, time_s: float
) -> Box | None:
    """The upright box in the scene around what is seen of a layer, also beside the frame, to a
    pixel of the scene or to a thousandth of its size; that of its content where nothing is seen,
    None where it shows nothing."""
    resolved = evaluator.layer(layer, time_s, shutter=False)
    if resolved is None:
        return None
    box = placed_box(resolved, library)
    if box is None or not all(map(math.isfinite, box)):
        return box
    around = max(box[2] - box[0], box[3] - box[1], 1.0) / 2 + 100
    left, top = box[0] - around, box[1] - around
    width, height = box[2] - box[0] + 2 * around, box[3] - box[1] + 2 * around
    scale = min(1.0, 2000 / max(width, height))
    view = Affine.scaling(scale, scale) @ Affine.shift(-left, -top)
    region = (0, 0, math.ceil(width * scale), math.ceil(height * scale))
    frame = (evaluator.scene.width, evaluator.scene.height)
    pictures = LayerPictures(FrameStudio(library), SizedCache(1), view, region, frame)
    found = tight(pictures.picture(resolved))
    if found.is_empty:
        return box
    # Its edges by how much of their pixels is covered.
    alpha = found.pixels[:, :, 3].astype(np.float32) / 255
    columns, rows = alpha.max(axis=0).tolist(), alpha.max(axis=1).tolist()
    most = max(1e-6, float(alpha.max()))
    return (
        (found.left + 1 - columns[0] / most) / scale + left,
        (found.top + 1 - rows[0] / most) / scale + top,
        (found.left + found.width - 1 + columns[-1] / most) / scale + left,
        (found.top + found.height - 1 + rows[-1] / most) / scale + top,
    )


def colour_at(
    evaluator: SceneEvaluator, renderer: Renderer, time_s: float, point: tuple[float, float]
) -> Rgba:
    """The composed colour of the scene's pixel at a point; transparent outside the frame."""
    x, y = int(point[0]), int(point[1])
    frame = evaluator.at(time_s)
    if not (0 <= x < frame.width and 0 <= y < frame.height):
        return (0.0, 0.0, 0.0, 0.0)
    pixels = renderer.render(frame, frame.width, frame.height)
    return _straight(pixels[y, x].astype(np.float64))


def colour_before(
    evaluator: SceneEvaluator,
    renderer: Renderer,
    time_s: float,
    point: tuple[float, float],
    layer: Layer,
    effect_id: str,
) -> Rgba:
    """The colour of a layer at a point as one of its effects is given it: after its masks and the
    effects before that one, without its mattes, its opacity and what lies about it. A treatment is
    given what lies below. The mean of what is seen within 3 x 3 pixels; transparent where there is
    nothing."""
    bare = before_effect(layer, effect_id)
    frame = (evaluator.scene.width, evaluator.scene.height)
    if layer.kind == "treatment":
        whole = evaluator.at(time_s, bare={layer.id: effect_id})
        ids = [each.id for each in whole.layers]
        if layer.id not in ids:
            return (0.0, 0.0, 0.0, 0.0)
        at = ids.index(layer.id)
        plain = replace(whole.layers[at], masks=(), mattes=(), inner_mattes=(), opacity=1.0)
        shown = replace(whole, layers=(*whole.layers[:at], *((plain,) if bare.effects else ())))
        pixels = renderer.render(shown, *frame)
        x, y = int(point[0]), int(point[1])
        found = pixels[max(0, y - 1) : max(0, y + 2), max(0, x - 1) : max(0, x + 2)]
    else:
        library = renderer.library
        library.begin_frame(1)
        resolved = evaluator.layer(bare, time_s, shutter=False)
        if resolved is None:
            return (0.0, 0.0, 0.0, 0.0)
        view = Affine.shift(1 - math.floor(point[0]), 1 - math.floor(point[1]))
        region = (0, 0, 3, 3)
        pictures = LayerPictures(FrameStudio(library), SizedCache(1), view, region, frame)
        found = laid_in(pictures.unmatted(resolved), region)
    if not found.size:
        return (0.0, 0.0, 0.0, 0.0)
    return _straight(found.reshape(-1, 4).astype(np.float64).mean(axis=0))


def _straight(bgra: np.ndarray) -> Rgba:
    """A premultiplied pixel, 0..255, as a colour."""
    b, g, r, a = (float(c) for c in bgra)
    if a <= 0:
        return (0.0, 0.0, 0.0, 0.0)
    return (min(1.0, r / a), min(1.0, g / a), min(1.0, b / a), a / 255)
