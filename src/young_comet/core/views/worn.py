"""A move on the artist's own layer as a small moving picture, for choosing one."""

from __future__ import annotations

import time

import numpy as np

from ..model import Layer
from ..paint import Renderer, output_size
from ..pixels.resample import resized
from ..resolve import SceneEvaluator
from .samples import MOVE_FRAMES, MOVE_HEIGHT, MOVE_WIDTH

# How much of what surrounds the layer is in the picture, of its longer side.
_AROUND = 0.3
# The picture in which the layer is looked for, and the largest of the whole scene out of
# which its surroundings are cut.
_SOUGHT_PX, _LARGEST_PX = 240, 1280
# A frame that takes longer is drawn with half the pixels each way; longer still, and it is no help.
_SLOW_S, _TOO_SLOW_S = 0.012, 0.04
_DWELL_S, _HOLD_S = 2.4, 0.4
_DIFFERS = 6


def worn_sample(
    evaluator: SceneEvaluator, layer: Layer, phase: str, renderer: Renderer
) -> np.ndarray | None:
    """A phase of a layer in frames side by side: (63, 17 * 112, 4), premultiplied, 16 in the order
    of time, then the layer at rest. None where there is nothing to see of it at rest, or where it
    would take too long."""
    scene, others = evaluator.scene, frozenset({layer.id})
    first, last, rest = _moments(layer, phase)

    def drawn(moment: float, size: tuple[int, int], without: frozenset[str]) -> np.ndarray:
        within = min(max(0.0, moment), scene.length_s)
        return renderer.render(evaluator.at(within, without=without), *size).copy()

    longer = max(scene.width, scene.height)
    small = output_size(scene.width, scene.height, min(1.0, _SOUGHT_PX / longer))
    view = _view(drawn(rest, small, frozenset()), drawn(rest, small, others))
    if view is None:
        return None
    x, y, width = (side * scene.width / small[0] for side in view)
    size = output_size(scene.width, scene.height, min(MOVE_WIDTH / width, _LARGEST_PX / longer))
    on_its_way = first + (last - first) / 3
    drawn(on_its_way, size, frozenset())  # what is kept of it is made once
    began = time.perf_counter()
    drawn(on_its_way, size, frozenset())
    took = time.perf_counter() - began
    if took > _TOO_SLOW_S:
        return None
    if took > _SLOW_S:
        size = (max(2, size[0] // 2), max(2, size[1] // 2))
    steps = [first + (last - first) * (i + 0.5) / MOVE_FRAMES for i in range(MOVE_FRAMES)]
    frames = [
        _cut(
            drawn(moment, size, frozenset()), x / scene.width, y / scene.width, width / scene.width
        )
        for moment in (*steps, rest)
    ]
    return np.ascontiguousarray(np.hstack(frames))


# Pictures of settings.
SETTING_WIDTH, SETTING_HEIGHT = 176, 99


def seen_sample(
    evaluator: SceneEvaluator, plain: SceneEvaluator, layer_id: str, time_s: float,
    renderer: Renderer,
) -> np.ndarray | None:  # fmt: skip
    """A layer and what is around it at a moment, in its scene: (99, 176, 4), premultiplied. All
    samples of it show the part in which it is seen as it is ``plain``; None where it is not."""
    scene = evaluator.scene
    longer = max(scene.width, scene.height)

    def drawn(of: SceneEvaluator, px: float, without: frozenset[str] = frozenset()) -> np.ndarray:
        size = output_size(scene.width, scene.height, min(1.0, px / longer))
        return renderer.render(of.at(time_s, without=without), *size).copy()

    small = drawn(plain, _SOUGHT_PX)
    view = _view(small, drawn(plain, _SOUGHT_PX, frozenset({layer_id})))
    if view is None:
        return None
    shares = [side / small.shape[1] for side in view]
    # As large as it has to be for the part that is cut out.
    pixels = drawn(evaluator, min(_LARGEST_PX, longer * SETTING_WIDTH / (shares[2] * scene.width)))
    left, top, wide = shares
    return _cut(pixels, left, top, wide, (SETTING_WIDTH, SETTING_HEIGHT))


def _cut(
    pixels: np.ndarray, left: float, top: float, wide: float,
    size: tuple[int, int] = (MOVE_WIDTH, MOVE_HEIGHT),
) -> np.ndarray:  # fmt: skip
    """A sample's picture out of that of a scene: its left, top and width in widths of the scene.
    What lies beside the scene is transparent."""
    height, width = pixels.shape[:2]
    columns, rows = (
        max(2, round(wide * width)),
        max(2, round(wide * width * MOVE_HEIGHT / MOVE_WIDTH)),
    )
    x, y = round(left * width), round(top * width)
    part = np.zeros((rows, columns, 4), np.uint8)
    x0, y0, x1, y1 = max(0, x), max(0, y), min(width, x + columns), min(height, y + rows)
    if x0 < x1 and y0 < y1:
        part[y0 - y : y1 - y, x0 - x : x1 - x] = pixels[y0:y1, x0:x1]
    return resized(part, *size)


def _moments(layer: Layer, phase: str) -> tuple[float, float, float]:
    """When the pictures begin and end, and a moment at which the layer rests, s."""
    start, end = layer.start_s, layer.end_s
    arrived, leaving = min(end, start + layer.arrive_s), max(start, end - layer.leave_s)
    rest = (arrived + leaving) / 2 if arrived < leaving else (start + end) / 2
    if phase == "arrive":
        return start, min(end, arrived + _HOLD_S), rest
    if phase == "leave":
        return max(start, leaving - _HOLD_S), end, rest
    return arrived, min(arrived + _DWELL_S, max(leaving, arrived + 0.1)), rest


def _view(with_it: np.ndarray, without: np.ndarray) -> tuple[float, float, float] | None:
    """Left, top and width of a part of the picture, of the shape of a sample, that holds what
    differs between two and something around it; None where nothing does."""
    differs = np.abs(with_it.astype(np.int16) - without).max(2) > _DIFFERS
    rows, columns = np.flatnonzero(differs.any(1)), np.flatnonzero(differs.any(0))
    if not len(rows):
        return None
    height, width = differs.shape
    across, down = columns[-1] + 1 - columns[0], rows[-1] + 1 - rows[0]
    around = _AROUND * max(across, down)
    shape = MOVE_WIDTH / MOVE_HEIGHT
    wide = max(across + 2 * around, (down + 2 * around) * shape)
    wide = min(wide, max(width, height * shape))

    def begin(low: int, high: int, length: float, whole: int) -> float:
        """Centred on the layer, within the picture where there is room."""
        middle = (low + high + 1 - length) / 2
        return min(max(0.0, middle), whole - length) if length <= whole else (whole - length) / 2

    left = begin(columns[0], columns[-1], wide, width)
    return left, begin(rows[0], rows[-1], wide / shape, height), wide
