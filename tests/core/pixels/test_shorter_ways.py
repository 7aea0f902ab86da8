"""Loops and shorter ways to a picture, each against the plain way: formulas, OpenCV, brute force."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest

from young_comet.core.pixels import blur, noise
from young_comet.core.pixels.blend import by_order
from young_comet.core.pixels.coverage import half_plane, shared
from young_comet.core.pixels.flow import grid_of, smeared
from young_comet.core.pixels.hull import bounds, filled
from young_comet.core.pixels.mean import mean_of_rows
from young_comet.core.pixels.raster import Raster
from young_comet.core.pixels.tone import Grain, grained, toned
from young_comet.core.pixels.warp import field_moved


def picture(seed=1, height=50, width=70, opaque=False):
    """Soft spots of colour, premultiplied."""
    chance = np.random.default_rng(seed)
    straight = cv2.GaussianBlur(chance.integers(0, 256, (height, width, 4), np.uint8), (0, 0), 2)
    alpha = (
        np.full((height, width), 255)
        if opaque
        else (straight[..., 3].astype(int) - 90).clip(0, 60) * 4
    )
    found = straight.astype(int) * alpha[..., None] // 255
    found[..., 3] = alpha
    return np.ascontiguousarray(found.astype(np.uint8))


def test_bounds_and_rows_of_what_is_not_transparent():
    chance = np.random.default_rng(0)
    for _ in range(150):
        height, width = chance.integers(1, 90), chance.integers(1, 140)
        pixels = np.zeros((height, width, 4), np.uint8)
        for _ in range(chance.integers(0, 4)):
            pixels[chance.integers(0, height), chance.integers(0, width)] = chance.integers(
                0, 255, 4
            )
        there = pixels[..., 3] > 0
        rows, columns = np.flatnonzero(there.any(1)), np.flatnonzero(there.any(0))
        wanted = (columns[0], rows[0], columns[-1] + 1, rows[-1] + 1) if len(rows) else (0, 0, 0, 0)
        assert bounds(pixels) == wanted
        for group, (first, last) in enumerate(filled(pixels, 8)):
            lit = np.flatnonzero(there[group * 8 : group * 8 + 8].any(0))
            assert (first, last) == ((lit[0], lit[-1] + 1) if len(lit) else (width, 0))


@pytest.mark.parametrize("soft", [0.0, 1.0, 12.0, 400.0])
@pytest.mark.parametrize("turned", [0.0, 37.0, 90.0, 200.0])
def test_a_half_plane_is_the_sum_of_a_gaussian(soft, turned):
    point, region = (31.3, 12.8), (-9, -7, 80, 60)
    normal = (math.cos(math.radians(turned)), math.sin(math.radians(turned)))
    found = half_plane(point, normal, region, soft).astype(float)
    x = np.arange(region[0], region[2]) + 0.5 - point[0]
    y = np.arange(region[1], region[3]) + 0.5 - point[1]
    far = x[None, :] * normal[0] + y[:, None] * normal[1]
    if soft < 0.3:
        wanted = np.clip(far + 0.5, 0, 1)
    else:
        wanted = np.vectorize(lambda d: (1 + math.erf(d / soft / math.sqrt(2))) / 2)(far)
    assert np.abs(found - 255 * wanted).max() < 1.2


def test_shared_coverages_fill_what_rounding_took():
    whole = np.array([[0, 100, 239, 240, 254, 255, 256, 300]], np.uint16)
    shown = np.array([[0, 100, 120, 120, 127, 255, 128, 300]], np.uint16)
    wanted = [0, 100, 120, 127.5, 127.5, 255, 127.5, 255]
    assert np.abs(shared(whole, shown)[0] - np.array(wanted)).max() <= 1


def test_gradient_noise_is_nothing_at_corners_and_the_same_by_both_loops():
    """At the corners of cells gradient noise is 0 (Perlin); samples far apart are worked out one by
    one, and are those that lie between samples near to each other."""
    corners = noise._gradient_noise(-3.0, 5.0, 1.0, 1.0, 2.0, 12, 9, 4)
    assert np.abs(corners).max() < 1e-6
    near = noise._gradient_noise(-2.7, 1.3, 0.25, 0.4, 0.7, 81, 20, 5)
    far = noise._gradient_noise(-2.7, 1.3, 2.0, 0.4, 0.7, 11, 20, 5)
    assert np.abs(near[:, ::8] - far).max() < 1e-6
    assert 0.2 < near.std() < 0.4 and np.abs(near).max() < 1
    # Nothing jumps from one cell to the next.
    fine = noise._gradient_noise(0.0, 0.37, 0.001, 1.0, 0.2, 4000, 1, 8)[0]
    assert np.abs(np.diff(fine)).max() < 0.004
    assert noise._gradient_noise(0.0, 0.0, 1.0, 1.0, 0.0, 0, 3, 1).shape == (3, 0)


def test_a_field_is_read_where_others_move_it():
    chance = np.random.default_rng(2)
    field = chance.random((60, 80), np.float32)
    across, down = (chance.random((40, 50), np.float32) * 3 - 1.5 for _ in range(2))
    found = field_moved(field, across, down, (9.0, 7.0), (12.0, 11.0))
    x = np.arange(50, dtype=np.float32)[None, :] + 12 + np.clip(across, -1, 1) * np.float32(9)
    y = np.arange(40, dtype=np.float32)[:, None] + 11 + np.clip(down, -1, 1) * np.float32(7)
    # OpenCV goes by 32nds of a pixel.
    wanted = cv2.remap(field, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    assert np.abs(found - wanted).max() < 0.06 and np.abs(found - wanted).mean() < 0.008
    edge = field_moved(field, across * 0 + 1, down * 0 - 1, (500.0, 500.0), (0.0, 0.0))
    assert np.abs(edge - field[0, -1]).max() < 0.01


@pytest.mark.parametrize("soft", [0.004, 0.2, 1.0])
@pytest.mark.parametrize("reached", [-0.1, 0.0, 0.45, 1.2, 2.1])
def test_two_pictures_in_an_order_are_mixed_by_the_formula(reached, soft):
    first, second = picture(1), picture(2)
    order = np.random.default_rng(3).random(first.shape[:2]).astype(np.float32)
    found = by_order(first, second, order, reached, soft)
    t = np.clip((reached - order) / soft, 0, 1)
    share = (t * t * (3 - 2 * t))[..., None]
    assert np.abs(found - (first * (1 - share) + second * share)).max() <= 1.6
    assert (found[..., :3] <= found[..., 3:].astype(int) + 1).all()


@pytest.mark.parametrize("grey", [True, False])
@pytest.mark.parametrize("opaque", [True, False])
def test_grain_after_tables_and_dark_is_what_it_is_by_itself(grey, opaque):
    pixels = picture(4, opaque=opaque)
    tables = np.stack([np.arange(256)[::-1], np.arange(256) ** 2 // 255, np.arange(256)]).astype(
        np.uint8
    )
    dark = np.random.default_rng(5).integers(0, 256, pixels.shape[:2]).astype(np.uint8)
    grain = Grain(3, 4, 7, 11, 9.0, grey)
    together = grained(toned(Raster(pixels.copy()), tables=tables, dark=dark), grain)
    apart = toned(Raster(pixels.copy()), tables=tables, dark=dark).pixels.copy()
    noise.add_grain(apart, 3, 4, 7, 11, 9.0, grey)
    assert np.array_equal(together.pixels, apart)
    assert np.array_equal(pixels, picture(4, opaque=opaque)), "pixels that are not owned stay"
    field = noise.grain(3, 4, pixels.shape[1], pixels.shape[0], 7, 11)
    spread = (together.pixels.astype(int) - toned(Raster(pixels), tables=tables, dark=dark).pixels)[
        ..., 0
    ]
    assert spread[pixels[..., 3] > 200].std() > 1 and field.std() == pytest.approx(1, abs=0.05)


def test_grain_of_fields_is_strongest_in_the_middle_tones():
    values = np.array([0, 64, 128, 192, 255], np.uint8)
    pixels = np.ascontiguousarray(np.repeat(np.repeat(values[:, None, None], 6, 1), 4, 2))
    pixels[..., 3] = 255
    field = np.full((5, 6), -0.5, np.float32)
    noise.add_fields(pixels, field, field, field, 40.0)
    tone = values / 255
    wanted = values - 20 * (0.35 + 0.65 * 4 * tone * (1 - tone))
    assert np.abs(pixels[:, 0, 1] - wanted.clip(0)).max() <= 0.6
    assert (pixels[..., 3] == 255).all()


def test_the_mean_of_pictures_row_by_row():
    pictures = [picture(seed, height=150) for seed in range(5)]
    rows = [lambda first, last, of=of: np.ascontiguousarray(of[first:last]) for of in pictures]
    found = mean_of_rows(rows, 70, 150)
    assert np.abs(found - np.mean([p.astype(float) for p in pictures], axis=0)).max() <= 0.6


@pytest.mark.parametrize("turn", [0.0, 0.06])
def test_places_of_one_colour_are_as_if_they_were_smeared(turn, monkeypatch):
    """Where all that a pixel sees is one colour it is taken as it is: the same as working it out."""
    pixels = np.zeros((200, 240, 4), np.uint8)
    cv2.rectangle(pixels, (40, 40), (170, 150), (90, 140, 200, 255), -1)
    cv2.circle(pixels, (100, 90), 25, (200, 60, 10, 255), -1, cv2.LINE_AA)
    pixels[:, 200:] = (20, 30, 40, 255)  # up to the raster's edge, beyond which is nothing
    region = (-20, -16, 268, 216)
    x, y = grid_of(region)
    ways = np.stack(np.broadcast_arrays(18 - (y - 100) * turn, 5 + (x - 120) * turn), axis=2)
    found = smeared(Raster(pixels), ways, region).pixels
    monkeypatch.setattr("young_comet.core.pixels.flow._mottled", lambda of: np.cumsum(np.cumsum(
        np.pad(np.ones((-(-of.shape[0] // 8), -(-of.shape[1] // 8)), np.int32), ((1, 0), (1, 0))), 0,
        dtype=np.int32), 1, dtype=np.int32))  # fmt: skip
    whole = smeared(Raster(pixels), ways, region).pixels
    assert np.array_equal(found, whole)
    assert (found[..., 3] > 0).any() and (found[..., 3] == 0).any()


def test_light_is_worked_out_on_a_picture_as_small_as_is_said():
    pixels = picture(6, 128, 128)
    for near in (1.0, 2.0, 3.0, 8.0, 30.0, 300.0):
        parts = [(near, 0.5), (4 * near, 0.5)]
        factor = blur.glow_factor(parts)
        field = blur.glow_field(pixels, parts)
        assert field.shape[0] == -(-128 // factor)
        assert factor == 1 or near / factor >= 1
