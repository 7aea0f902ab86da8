"""How well a layer's colour is read on what lies below it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..media.written_colours import contrast, relative_luminance
from ..paint.renderer import Renderer
from ..pixels.colour import Rgba
from ..resolve.scene import SceneEvaluator
from .pick import seen_box

# The picture below is looked at with so many pixels on its shorter side.
_SIDE_PX = 180
# A tenth of what lies below may be worse than what is told as the worst.
_WORST_PERCENT = 10.0


@dataclass(frozen=True)
class Reading:
    """WCAG contrast ratios: with what lies below on the whole, and with the worst tenth of it."""

    mean: float
    worst: float


def contrast_below(
    evaluator: SceneEvaluator,
    renderer: Renderer,
    layer_id: str,
    time_s: float,
    colour: Rgba,
) -> Reading | None:
    """How a colour of a layer reads on the layers below it, within the box of what is seen of it.

    None where the layer shows nothing, lies beside the frame, or over nothing. A colour that is
    see-through is laid over what is there first.
    """
    scene = evaluator.scene
    at = next((i for i, each in enumerate(scene.layers) if each.id == layer_id), None)
    if at is None:
        return None
    layer = scene.layers[at]
    if layer.kind == "treatment":
        return None
    box = seen_box(evaluator, renderer.library, layer, time_s)
    if box is None or not all(map(math.isfinite, box)):
        return None
    scale = _SIDE_PX / min(scene.width, scene.height)
    size = (max(1, round(scene.width * scale)), max(1, round(scene.height * scale)))
    above = [each.id for each in scene.layers[at:]]
    number = min(evaluator.rate.frame_at(time_s), scene.frame_count - 1)
    pixels = renderer.render(evaluator.frame(number, without=frozenset(above)), *size)
    left, right = (int(np.clip(edge * scale, 0, size[0])) for edge in (box[0], math.ceil(box[2])))
    top, bottom = (int(np.clip(edge * scale, 0, size[1])) for edge in (box[1], math.ceil(box[3])))
    part = pixels[top : max(bottom, top + 1), left : max(right, left + 1)].astype(float) / 255
    if box[2] <= 0 or box[3] <= 0 or box[0] >= scene.width or box[1] >= scene.height:
        return None
    alpha = part[..., 3]
    if not part.size or alpha.mean() < 0.5:
        return None
    # As they come from the canvas: blue, green, red, premultiplied.
    below = part[..., 2::-1] / np.maximum(alpha, 1e-6)[..., None]
    below = below.clip(0, 1)[alpha > 0.5]
    over = np.array(colour[:3]) * colour[3] + below * (1 - colour[3])
    ratios = contrast(relative_luminance(over), relative_luminance(below))
    mean = contrast(relative_luminance(over).mean(), relative_luminance(below).mean())
    return Reading(float(mean), float(np.percentile(ratios, _WORST_PERCENT)))
