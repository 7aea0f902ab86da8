"""A front that travels over units: letters, slices, copies."""

from __future__ import annotations

import random
from collections.abc import Sequence

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
    width = max(width, 1e-6)
    if progress >= 1:
        return 1.0
    if progress <= 0:
        return 0.0
    front = progress * (count - 1 + width)
    share = min(1.0, max(0.0, (front - rank) / width))
    return profile.at(share, 1.0)
