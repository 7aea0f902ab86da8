"""Particles: how they move, are spread in depth and drawn."""

import numpy as np
import pytest
from tests.build import draw, layer, project

from young_comet.core.effects import EFFECTS
from young_comet.core.effects.particles import swarm_at
from young_comet.core.model import Effect, Property

KINDS = [id for id, _ in EFFECTS["particles"].by_id["kind"].options]


def values(**more):
    found = {spec.id: spec.default for spec in EFFECTS["particles"].specs}
    return {**found, **{k.replace("_", "-"): v for k, v in more.items()}}


def test_speeds_are_how_fast_places_change():
    p = values(count=200, sway=40.0, variation=60)
    now, soon = swarm_at(p, 1.0), swarm_at(p, 1.0 + 1e-4)
    same = soon.age > now.age  # not born again in between
    for place, speed in (("x", "speed_x"), ("y", "speed_y")):
        moved = (getattr(soon, place) - getattr(now, place)) / 1e-4
        assert getattr(now, speed)[same] == pytest.approx(moved[same], rel=2e-3, abs=0.5)


def test_sizes_are_log_normal_and_depth_puts_near_ones_last_and_larger():
    sizes = np.log(swarm_at(values(count=2000, size=20.0, variation=50, depth=0), 1.0).size)
    assert sizes.mean() == pytest.approx(np.log(20), abs=0.04)
    assert sizes.std() == pytest.approx(0.5, abs=0.03)
    deep = swarm_at(values(count=2000, size=20.0, variation=0, depth=100), 1.0)
    assert (np.diff(deep.near) >= 0).all()
    assert deep.size == pytest.approx(20 * (1 + 1.3 * deep.near - 0.65))
    near, far = deep.near > 0.8, deep.near < 0.2
    speeds = np.hypot(deep.speed_x, deep.speed_y)
    assert np.median(speeds[near]) > 1.3 * np.median(speeds[far])


def shown(width=320, height=180, scale=1.0, time_s=1.0, **given):
    given = {"area": (300.0, 160.0), "speed": 60.0, "gravity": 20.0, "size": 16.0, **given}
    made = {f"effect.e.{k.replace('_', '-')}": Property(value=v) for k, v in given.items()}
    sky = layer("sky", "backdrop", fill__colour="#00000000")
    sky = sky.model_copy(update={
        "effects": (Effect(id="e", kind="particles"),), "properties": {**sky.properties, **made},
    })  # fmt: skip
    return draw(project(sky, ground=None, width=width, height=height), time_s, scale=scale)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_is_seen_moves_and_is_the_same_again(kind):
    few = {"kind": kind, "count": 40, "size": 10.0}
    first = shown(**few)
    assert np.array_equal(first, shown(**few))
    share = (first[..., 3] > 8).mean()
    assert 0.005 < share < 0.9
    assert (first[..., :3] <= first[..., 3:].astype(int) + 1).all()
    assert np.abs(first.astype(int) - shown(time_s=1.2, **few)).max() > 30


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("given", [
    {"size": 0.5}, {"size": 400.0, "variation": 150.0}, {"speed": 10000.0, "smear": 800.0},
    {"count": 1}, {"life": 0.1}, {"area": (0.0, 0.0)}, {"once": True, "burst": 0.0},
    {"gravity": -5000.0, "sway": 1000.0, "depth": 100.0, "tumble": 3000.0},
])  # fmt: skip
def test_extremes_do_no_harm(kind, given):
    for time_s in (0.0, 0.04, 3.96):
        pixels = shown(kind=kind, time_s=time_s, **given)
        assert (pixels[..., :3] <= pixels[..., 3:].astype(int) + 1).all()


@pytest.mark.parametrize("kind", KINDS)
def test_smears_lie_along_the_way_and_keep_about_their_light(kind):
    """Fast ones to the right are wider than they are high; what they cover is drawn fainter."""
    fast = {"kind": kind, "count": 1, "area": (0.0, 0.0), "speed": 2400.0, "spread": 0.0,
            "angle": 0.0, "gravity": 0.0, "sway": 0.0, "size": 12.0, "life": 0.4, "variation": 0.0,
            "centre": (-260.0, 0.0), "depth": 0.0, "tumble": 0.0}  # fmt: skip
    boxes = []
    for smear in (0.0, 100.0):
        for step in range(12):
            pixels = shown(width=640, smear=smear, time_s=step / 25, **fast)
            ys, xs = np.nonzero(pixels[..., 3] > 6)
            if len(xs) and xs.min() > 0 and xs.max() < 639:
                boxes.append((smear, np.ptp(xs), np.ptp(ys)))
                break
    (_, still_wide, _), (_, wide, high) = boxes
    if kind == "bubbles":
        assert wide == still_wide  # they are slow, and round
    else:
        assert wide > still_wide and wide > high


def test_leaves_have_a_darker_back():
    one = {"kind": "confetti", "count": 1, "area": (0.0, 0.0), "speed": 0.0, "gravity": 0.0,
           "sway": 0.0, "size": 60.0, "tumble": 300.0, "depth": 0.0, "smear": 0.0, "colour": "#40a0c0",
           "colour_2": "#40a0c0", "colour_3": "#40a0c0", "life": 60.0}  # fmt: skip
    brightest = []
    for step in range(60):
        pixels = shown(time_s=1 + step / 25, **one)
        solid = pixels[..., 3] > 250
        if solid.sum() > 200:
            brightest.append(int(pixels[solid][:, :3].max()))
    assert min(brightest) < 0.7 * max(brightest) and max(brightest) > 0xC0
