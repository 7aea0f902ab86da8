"""The moment of a scene at which most of it is there and least of it is on its way."""

from __future__ import annotations

import itertools

from ..model import Layer, Scene, Stand
from ..model.arrangements import holds_of, index_at

_MOMENTS = 120
# What is on its way counts so much against a moment, beside what is there.
_MOVING = 0.75


def settled_time(scene: Scene) -> float:
    """Seconds, of the scene's frames: where the most layers stand, arrived, with no keys under way;
    the middle of the longest such stretch. The scene's middle where nothing stands."""
    rate = scene.rate.rate
    frames = max(1, rate.nearest_frame(scene.length_s))
    step = max(1, frames // _MOMENTS)
    numbers = list(range(step // 2, frames, step)) or [0]
    layers = [each for each in scene.layers if not each.hidden and each.kind != "sound"]
    spans = [(layer, _on_its_way(layer)) for layer in layers]
    scores = [_score(scene, spans, rate.time_of(number)) for number in numbers]
    best = max(scores)
    longest, begin = (0, 0), None
    for n, score in enumerate([*scores, None]):
        if score == best:
            begin = n if begin is None else begin
        elif begin is not None:
            if n - begin > longest[1] - longest[0]:
                longest = (begin, n)
            begin = None
    return rate.time_of(numbers[(longest[0] + longest[1] - 1) // 2])


def _score(
    scene: Scene, spans: list[tuple[Layer, list[tuple[float, float]]]], time_s: float
) -> float:
    score = 0.0
    stands, between = _arranged_at(scene, time_s)
    for layer, moving in spans:
        stand = stands.get(layer.id)
        if stand is not None and not stand.there:
            continue
        if layer.start_s <= time_s < layer.end_s:
            local = time_s - layer.start_s
            under_way = between or any(begin < local < end for begin, end in moving)
            score += 1 - _MOVING * under_way
    return round(score, 6)


def _arranged_at(scene: Scene, time_s: float) -> tuple[dict[str, Stand], bool]:
    """What the nearest arrangement says of layers, and whether one becomes the next just then."""
    if not scene.arrangements:
        return {}, False
    index = index_at(scene, time_s)
    begin, end = holds_of(scene)[index]
    stands = {each.layer: each for each in scene.arrangements[index].stands}
    return stands, not begin - 1e-6 <= time_s <= end + 1e-6


def _on_its_way(layer: Layer) -> list[tuple[float, float]]:
    """When a layer arrives, leaves, or goes from one key to another that differs, s from its
    start. Keys that repeat, and slow ones, are how it is while it stands."""
    lasts = layer.end_s - layer.start_s
    found = [(0.0, layer.arrive_s), (lasts - layer.leave_s, lasts)]
    for prop in layer.properties.values():
        if prop.repeat is not None:
            continue
        keys = prop.keys
        for a, b in itertools.pairwise(keys):
            if a.value != b.value and b.time_s - a.time_s < _SLOW_S:
                found.append((a.time_s, b.time_s))
    return [(begin, end) for begin, end in found if end > begin]


# What takes longer from key to key drifts.
_SLOW_S = 1.6
