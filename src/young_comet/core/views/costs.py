"""What of a scene costs time while it is played."""

from __future__ import annotations

from dataclasses import dataclass

from ..paint.library import MediaLibrary
from ..paint.renderer import Renderer
from ..resolve.scene import SceneEvaluator

# So many frames fill what playing keeps, and so many after them are timed.
_BEFORE, _FRAMES = 3, 4
_KEPT_BYTES = 64 * 2**20


@dataclass(frozen=True)
class Cost:
    """What a layer takes of each frame on the average, ms."""

    layer: str
    ms: float


def dearest(
    evaluator: SceneEvaluator,
    library: MediaLibrary,
    number: int,
    size: tuple[int, int],
    count: int = 3,
) -> tuple[float, list[Cost]]:
    """The time of a frame from ``number`` on, ms, and the layers that take the most of it, the
    dearest first. What stands still, and is kept while it is played, costs nothing."""
    renderer = Renderer(library, limit_bytes=_KEPT_BYTES)
    last = evaluator.scene.frame_count - 1
    spent: dict[str, float] = {}
    for offset in range(_BEFORE + _FRAMES):
        frame = evaluator.frame(min(number + offset, last))
        renderer.render(frame, *size, spent=spent if offset >= _BEFORE else None)
    found = [Cost(id, 1000 * each / _FRAMES) for id, each in spent.items()]
    found.sort(key=lambda cost: -cost.ms)
    return sum(cost.ms for cost in found), found[:count]
