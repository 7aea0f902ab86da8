"""Which way each place of a moving layer goes from one of its states to the next."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ..frame.contents import TextContent
from ..frame.resolved import ResolvedLayer
from ..geometry.affine import Affine, Box
from ..geometry.projective import Projective
from ..geometry.trail import trail
from ..typography.along import TextPath

# Ways of two states that differ by less than this, px, are one.
_ALIKE = 1.0
_MOST_GROUPS = 2
# No way is longer than this, px: it has passed through the eye.
_LONGEST = 96.0

Ways = Callable[[np.ndarray, np.ndarray], np.ndarray]


@dataclass(frozen=True)
class Stretch:
    """States (from, to) of a layer that go one way; ``ways`` gives for places x, y of the output
    how far each goes from one state to the next, (..., 2) px. ``longest`` is the longest of it."""

    first: int
    after: int
    ways: Ways
    longest: float


def stretches(states: Sequence[ResolvedLayer], view: Affine, box: Box) -> list[Stretch]:
    """The states of a layer parted into as few stretches as go alike where its box is; at most
    three."""
    maps = [_map(state, view) for state in states]
    flows = [_between(maps, index) for index in range(len(states))]
    corners = [_seen(each, box) for each in maps]
    found: list[tuple[int, int]] = []
    first = 0
    for index in range(1, len(states) + 1):
        if index < len(states) and _apart(flows[first], flows[index], corners[index]) < _ALIKE:
            continue
        found.append((first, index))
        first = index
    if len(found) > _MOST_GROUPS:
        ends = np.linspace(0, len(states), _MOST_GROUPS + 1).round().astype(int).tolist()
        found = [(a, b) for a, b in pairwise(ends) if b > a]
    result = []
    for first, after in found:
        middle = (first + after - 1) // 2
        ways, longest = flows[middle], _length(flows[middle](*corners[middle]))
        travelled = _travelling(states, middle, maps[middle])
        if travelled is not None:
            more, far = travelled
            ways, longest = _sum(ways, more), longest + far
        result.append(Stretch(first, after, ways, longest))
    return result


def _sum(a: Ways, b: Ways) -> Ways:
    return lambda x, y: a(x, y) + b(x, y)


def _map(state: ResolvedLayer, view: Affine) -> np.ndarray:
    if state.lens is not None:
        return (Projective.of(view) @ state.lens).array
    return Projective.of(view @ state.matrix).array


def _seen(through: np.ndarray, box: Box) -> tuple[np.ndarray, np.ndarray]:
    """The corners and sides of a box through a map, as x and y."""
    xs, ys = np.meshgrid(np.linspace(box[0], box[2], 3), np.linspace(box[1], box[3], 3))
    return _through(through, xs, ys)


def _through(m: np.ndarray, x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    w = m[2, 0] * x + m[2, 1] * y + m[2, 2]
    w = np.where(np.abs(w) < 1e-9, 1e-9, w)
    return (m[0, 0] * x + m[0, 1] * y + m[0, 2]) / w, (m[1, 0] * x + m[1, 1] * y + m[1, 2]) / w


def _between(maps: Sequence[np.ndarray], index: int) -> Ways:
    """How far a place goes in a step about a state, from the states beside it."""
    before, after = max(0, index - 1), min(len(maps) - 1, index + 1)
    try:
        on = maps[after] @ np.linalg.inv(maps[before])
        back = np.linalg.inv(on)
    except np.linalg.LinAlgError:  # seen edge on, or without size
        return lambda x, y: np.zeros((*np.broadcast_shapes(x.shape, y.shape), 2))
    share = 0.5 / max(1, after - before)

    def ways(x: np.ndarray, y: np.ndarray) -> np.ndarray:
        (ax, ay), (bx, by) = _through(on, x, y), _through(back, x, y)
        found = np.stack([(ax - bx) * share, (ay - by) * share], axis=-1)
        found[~np.isfinite(found).all(axis=-1)] = 0
        far = np.maximum(np.linalg.norm(found, axis=-1, keepdims=True), 1e-12)
        limited: np.ndarray = found * np.minimum(1.0, _LONGEST / far)
        return limited

    return ways


def _apart(a: Ways, b: Ways, places: tuple[np.ndarray, np.ndarray]) -> float:
    return _length(a(*places) - b(*places))


def _length(ways: np.ndarray) -> float:
    return float(np.linalg.norm(ways, axis=-1).max(initial=0.0))


def _travelling(
    states: Sequence[ResolvedLayer], index: int, through: np.ndarray
) -> tuple[Ways, float] | None:
    """The way of a text that travels along its path, and how far it is; None where it does not, or
    lies in perspective."""
    before, after = max(0, index - 1), min(len(states) - 1, index + 1)
    a, b, state = states[before].content, states[after].content, states[index]
    if not (isinstance(a, TextContent) and isinstance(b, TextContent)) or after == before:
        return None
    if a.along is None or b.along is None or state.lens is not None:
        return None
    if replace(b.along, offset=a.along.offset) != a.along or a.along.offset == b.along.offset:
        return None
    way = trail(a.along.data)
    if way.is_empty or abs(np.linalg.det(through[:2, :2])) < 1e-9:
        return None
    step = (b.along.offset - a.along.offset) * way.length / (after - before)
    step = -step if a.along.reversed else step
    back = np.linalg.inv(through)
    path = a.along

    def ways(x: np.ndarray, y: np.ndarray) -> np.ndarray:
        px, py = _through(back, x, y)
        px, py = np.broadcast_arrays(px, py)
        found = _carried(path, step, np.stack([px.ravel(), py.ravel()], axis=-1))
        result: np.ndarray = (found @ through[:2, :2].T).reshape(*px.shape, 2)
        return result

    return ways, abs(step) * 1.5 * float(np.linalg.norm(through[:2, :2], 2))


def _carried(path: TextPath, step: float, places: np.ndarray) -> np.ndarray:
    """How far places (n, 2) about a path go with what goes a step along it."""
    way = trail(path.data)
    count = int(np.clip(way.length / 12, 16, 200))
    at = np.linspace(0, way.length, count, endpoint=not way.closed)
    points, _ = way.at(at)
    far = ((places[:, None, :] - points[None, :, :]) ** 2).sum(axis=2)
    nearest = at[far.argmin(axis=1)]
    # To the foot of the normal: the samples stand apart.
    foot, deg = way.at(nearest)
    turned = np.radians(deg)
    along = ((places - foot) * np.stack([np.cos(turned), np.sin(turned)], axis=-1)).sum(axis=1)
    nearest = nearest + np.clip(along, -12, 12)
    ends = []
    foot, deg = way.at(nearest)
    apart = places - foot
    for half in (-0.5, 0.5):
        point, there = way.at(nearest + half * step)
        turn = np.radians(np.zeros_like(deg) if path.upright else there - deg)
        cos, sin = np.cos(turn), np.sin(turn)
        ends.append(
            point
            + np.stack(
                [apart[:, 0] * cos - apart[:, 1] * sin, apart[:, 0] * sin + apart[:, 1] * cos],
                axis=-1,
            )
        )
    moved: np.ndarray = ends[1] - ends[0]
    return moved
