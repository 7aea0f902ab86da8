"""Soft edges of forms, against the formula: a rectangle under a gaussian is the product of two
differences of the normal distribution's sums."""

import math
from itertools import pairwise

import numpy as np
import pytest
import skia

from young_comet.core.pixels.coverage import feathered

BOX = (100.0, 80.0, 900.0, 500.0)
REGION = (-37, 13, 960, 540)


def box() -> skia.Path:
    path = skia.Path()
    path.addRect(skia.Rect.MakeLTRB(*BOX))
    return path


def share(places: np.ndarray, low: float, high: float, sigma: float) -> np.ndarray:
    sums = [
        math.erf((p - low) / sigma / 2**0.5) - math.erf((p - high) / sigma / 2**0.5) for p in places
    ]
    return np.array(sums) / 2


@pytest.mark.parametrize(
    "feather",
    [
        (20, 20),
        (120, 120),
        (129, 129),
        (300, 300),
        (700, 700),
        (400, 6),
        (6, 400),
        (3000, 200),
        (1e5, 40),
    ],
)
@pytest.mark.parametrize("grow", [0.0, 12.0])
def test_soft_edges_agree_with_the_formula(feather, grow):
    soft = feathered(box(), skia.Matrix(), REGION, grow, feather)
    x = np.arange(REGION[0], REGION[2]) + 0.5
    y = np.arange(REGION[1], REGION[3]) + 0.5
    across = share(x, BOX[0] - grow, BOX[2] + grow, feather[0] / 2)
    down = share(y, BOX[1] - grow, BOX[3] + grow, feather[1] / 2)
    far = np.abs(soft - 255 * down[:, None] * across[None, :])
    assert np.percentile(far, 99) <= 4
    if not grow:  # else corners are round
        assert far.max() <= 5


def test_a_soft_edge_that_is_animated_has_no_step():
    softs = [
        feathered(box(), skia.Matrix(), REGION, 0.0, (w, w)).astype(float)
        for w in (127, 128, 129, 130)
    ]
    steps = [np.abs(b - a).mean() for a, b in pairwise(softs)]
    assert max(steps) < 1


def test_a_soft_edge_stays_as_its_region_moves():
    whole = feathered(box(), skia.Matrix(), (0, 0, 400, 300), 0.0, (300, 500))
    part = feathered(box(), skia.Matrix(), (33, 71, 400, 300), 0.0, (300, 500))
    # Dithered from the corner of each.
    assert np.abs(whole[71:, 33:].astype(int) - part).max() <= 2


@pytest.mark.parametrize("feather", [(4e8, 4e8), (4e8, 0.0), (1.0, 3e6)])
@pytest.mark.parametrize("region", [(0, 0, 96, 54), (5, 5, 5, 9), (-1000000, 3, -999900, 5)])
def test_what_is_as_soft_as_can_be_is_nothing_at_all(feather, region):
    soft = feathered(box(), skia.Matrix(), region, 0.0, feather)
    assert soft.shape == (region[3] - region[1], region[2] - region[0])
    assert soft.max(initial=0) <= 1
