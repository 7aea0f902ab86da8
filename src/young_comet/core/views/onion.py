"""Layers as they were and will be, drawn faintly over a frame."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from ..geometry.affine import Affine
from ..paint.compose import Composer, FrameStudio
from ..paint.library import MediaLibrary
from ..pixels.cache import SizedCache
from ..resolve.scene import SceneEvaluator
from ..resolve.values import is_on

NEAREST = 0.42


def with_onion(
    pixels: np.ndarray,
    evaluator: SceneEvaluator,
    library: MediaLibrary,
    layer_ids: Iterable[str],
    number: int,
    *,
    before: int,
    after: int,
    step: int,
) -> np.ndarray:
    """A copy of frame ``number`` with some layers' states every ``step`` frames before and
    after it, the nearest the strongest."""
    pixels = pixels.copy()
    library.begin_frame(len(evaluator.scene.layers) * (before + after + 1))
    scene = evaluator.scene
    view = Affine.scaling(pixels.shape[1] / scene.width, pixels.shape[0] / scene.height)
    composer = Composer(pixels, evaluator.frame(number), FrameStudio(library), SizedCache(1), view)
    wanted = set(layer_ids)
    layers = [la for la in scene.layers if la.id in wanted and not la.hidden]
    offsets = [
        *((-k, before) for k in range(before, 0, -1)),
        *((k, after) for k in range(after, 0, -1)),
    ]
    for offset, count in offsets:
        time_s = evaluator.rate.time_of(number + offset * step)
        strength = NEAREST * (1 - (abs(offset) - 1) / count)
        for layer in layers:
            resolved = evaluator.layer(layer, time_s) if is_on(layer, time_s) else None
            if resolved is not None and layer.kind != "treatment":
                plain = replace(
                    resolved, opacity=resolved.opacity * strength, shutter=(), composite="over"
                )
                composer.add(plain, 0)
    return pixels
