"""Colours between the stops of gradients, held against Oklab."""

import itertools

import numpy as np
import pytest

from young_comet.core.pixels.colour import parse_colour
from young_comet.core.pixels.mixing import MIXINGS, mixed_stops
from young_comet.core.pixels.oklab import oklab_of
from young_comet.core.views import gradient_bar

PAIRS = [("#ff7a45", "#2f9fb3"), ("#0000ff", "#ffff00"), ("#1d2750", "#ffd27a"),
         ("#ff0000", "#00ff00"), ("#ffffff80", "#10204000"), ("#e8486f", "#3ad07a")]  # fmt: skip


def stops(*colours):
    count = max(1, len(colours) - 1)
    return tuple((n / count, parse_colour(c)) for n, c in enumerate(colours))


def chroma(rgba):
    return float(np.hypot(*oklab_of(rgba[:3])[1:]))


@pytest.mark.parametrize("mixing", [id for id, _ in MIXINGS])
@pytest.mark.parametrize("pair", PAIRS)
def test_the_stops_themselves_stay_and_no_step_jumps(pair, mixing):
    found = mixed_stops(stops(*pair), mixing)
    assert (found[0], found[-1]) == (stops(*pair)[0], stops(*pair)[-1])
    assert all(p[0] < q[0] for p, q in itertools.pairwise(found))
    row = gradient_bar(stops(*pair), mixing)[0].astype(int)
    assert np.abs(np.diff(row, axis=0)).max() < 22
    assert mixed_stops(stops(*pair), "plain") == stops(*pair)


def test_the_way_around_grey_keeps_colour_where_the_even_one_loses_it():
    for pair in PAIRS:
        even, around = (mixed_stops(stops(*pair), mixing) for mixing in ("even", "around"))
        if pair[0].endswith("80"):
            continue
        least = [min(chroma(colour) for _, colour in found) for found in (even, around)]
        ends = min(chroma(parse_colour(c)) for c in pair)
        assert least[1] >= min(0.4 * ends, least[0]) and least[1] >= least[0] - 1e-3
    assert min(chroma(c) for _, c in mixed_stops(stops(*PAIRS[0]), "around")) > 0.03


def test_lightness_goes_evenly_and_neighbours_of_one_colour_add_no_stops():
    found = mixed_stops(stops("#000000", "#ffffff"), "even")
    lightness = [oklab_of(colour[:3])[0] for _, colour in found]
    assert lightness == pytest.approx([at for at, _ in found], abs=0.01)
    assert len(mixed_stops(stops("#336699", "#336699", "#336699"), "around")) == 3
    assert mixed_stops(stops("#336699"), "around") == stops("#336699")


def test_the_bent_way_changes_steadily_as_colours_do():
    """Turning one colour round the circle a degree at a time never flips the whole way."""
    before = None
    for degree in range(0, 360, 2):
        x, y = np.cos(np.radians(degree)), np.sin(np.radians(degree))
        turned = (0.5 + 0.4 * x, 0.5 + 0.4 * y, 0.4, 1.0)
        bar = gradient_bar(((0.0, parse_colour("#2f9fb3")), (1.0, turned)), "around")
        middle = bar[0, 96].astype(float) / 255
        if before is not None:
            assert np.abs(middle - before).max() < 0.12, degree
        before = middle
