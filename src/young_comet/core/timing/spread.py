"""A front that travels over units: letters, slices, copies."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass

from .easings import Easing

ORDERS = ("forward", "back", "outwards", "inwards", "by-place", "shuffled")


def ranks(
    count: int, order: str, seed: int = 0, places: Sequence[float] | None = None
) -> list[float]:
    """When the front reaches each unit, 0 for the first and count - 1 for the last.

    Outwards and inwards reach pairs together. ``by-place`` sorts by a number for each unit.
    """
    if order == "back":
        return [float(count - 1 - i) for i in range(count)]
    if order in ("outwards", "inwards"):
        middle = (count - 1) / 2
        far = [abs(i - middle) for i in range(count)]
        most = max(far, default=0.0) or 1.0
        spread = [f / most * (count - 1) for f in far]
        return spread if order == "outwards" else [count - 1 - s for s in spread]
    if order == "shuffled":
        numbers = list(range(count))
        random.Random(seed).shuffle(numbers)
        return [float(n) for n in numbers]
    if order == "by-place" and places is not None:
        ordered = sorted(range(count), key=lambda i: (places[i], i))
        result = [0.0] * count
        for rank, index in enumerate(ordered):
            result[index] = float(rank)
        return result
    return [float(i) for i in range(count)]


def settled(progress: float, rank: float, count: int, width: float, profile: Easing) -> float:
    """How far the unit of a rank has come to rest, 0 displaced and 1 at rest.

    ``width`` units are in transition at once. At progress 0 all are displaced, at 1 all rest.
    """
    return profile.at(reached(progress, rank, count, width), 1.0)


def reached(progress: float, rank: float, count: int, width: float) -> float:
    """How far the unit of a rank is on its way by a front of which ``width`` units are in
    transition at once, 0..1 and not yet eased."""
    width = max(width, 1e-6)
    if progress >= 1:
        return 1.0
    if progress <= 0:
        return 0.0
    front = progress * (count - 1 + width)
    return min(1.0, max(0.0, (front - rank) / width))


@dataclass(frozen=True, slots=True)
class Tempo:
    """Units that set out one after another, every one taking its own time, in s."""

    each_s: float
    step_s: float
    count: int

    @property
    def whole_s(self) -> float:
        """From when the first sets out until the last is there."""
        return self.each_s + self.step_s * max(0, self.count - 1)

    def within(self, length_s: float) -> Tempo:
        """As it is where there is no room for the whole: the step gives way first."""
        if self.whole_s <= length_s:
            return self
        each = min(self.each_s, length_s)
        return Tempo(each, (length_s - each) / max(1, self.count - 1), self.count)

    def share(self, time_s: float, rank: float) -> float:
        """How far the unit of a rank is on its way, 0..1, so long after the first set out."""
        since = time_s - rank * self.step_s
        if self.each_s <= 1e-9:
            return 1.0 if since >= 0 else 0.0
        return min(1.0, max(0.0, since / self.each_s))
