"""Pictures laid onto pictures by compiled loops, against the formulas in floats."""

from __future__ import annotations

import subprocess
import sys

import numpy as np
import pytest

from young_comet.core.pixels import blend as blends
from young_comet.core.pixels.blur import gaussian, glow_field, glow_light
from young_comet.core.pixels.coverage import MODES, joined, let_through
from young_comet.core.pixels.ink import Ink, ink_of
from young_comet.core.pixels.modes import LOOPS
from young_comet.core.pixels.raster import Raster
from young_comet.core.pixels.tone import channel_tables, toned

INK = (1.0, 0.5, 0.2, 1.0)


def some_pixels(seed, height=40, width=50, alphas=(0, 255, 30, 120, 200)):
    """A premultiplied picture."""
    rng = np.random.default_rng(seed)
    alpha = rng.choice(alphas, (height, width, 1))
    straight = rng.integers(0, 256, (height, width, 3))
    colours = np.rint(straight * (alpha / 255))
    return np.concatenate([colours, alpha], axis=2).astype(np.uint8)


def some_levels(seed, height=40, width=50):
    levels = np.random.default_rng(seed).integers(0, 256, (height, width)).astype(np.uint8)
    levels[:3], levels[3:6] = 0, 255
    return levels


def hard(s, d, a, b):
    return np.where(2 * s <= a, 2 * s * d, a * b - 2 * (b - d) * (a - s))


FORMULAS = {
    "plus-lighter": lambda s, d, a, b: np.minimum(1, s + d),
    "screen": lambda s, d, a, b: s + d - s * d,
    "multiply": lambda s, d, a, b: s * (1 - b) + d * (1 - a) + s * d,
    "hard-light": lambda s, d, a, b: s * (1 - b) + d * (1 - a) + hard(s, d, a, b),
    "overlay": lambda s, d, a, b: s * (1 - b) + d * (1 - a) + hard(d, s, b, a),
}


@pytest.mark.parametrize("opacity", [1.0, 0.6, 0.0])
@pytest.mark.parametrize("mode", sorted(LOOPS))
def test_loops_blend_as_the_formulas_say(mode, opacity):
    low, top = some_pixels(1), some_pixels(2)
    s, d = top / 255 * opacity, low / 255
    expected = FORMULAS[mode](s, d, s[:, :, 3:], d[:, :, 3:]) * 255
    found = low.copy()
    blends.blend(found, top, mode, opacity)
    # An opacity rounds the upper picture first, which hard light then doubles.
    assert np.abs(found - expected).max() <= 1.3
    assert (found[:, :, :3] <= found[:, :, 3:]).all()


def test_a_part_of_a_picture_is_blended_and_nothing_beyond_it():
    whole, top = some_pixels(1), some_pixels(2, 20, 30)
    for mode in LOOPS:
        found = whole.copy()
        blends.blend(found[10:30, 5:35], top, mode)
        alone = np.ascontiguousarray(whole[10:30, 5:35])
        blends.blend(alone, top, mode)
        assert np.array_equal(found[10:30, 5:35], alone)
        found[10:30, 5:35] = whole[10:30, 5:35]
        assert np.array_equal(found, whole)


@pytest.mark.parametrize("opacity", [1.0, 0.3])
def test_a_picture_is_laid_through_a_coverage(opacity):
    low, top, cover = some_pixels(1), some_pixels(2), some_levels(3)
    k = cover[:, :, None] / 255 * opacity
    expected = top * k + low * (1 - top[:, :, 3:] / 255 * k)
    found = low.copy()
    blends.lay_through(found, top, cover, opacity)
    assert np.abs(found - expected).max() <= 1.3


@pytest.mark.parametrize("colour", [INK, (0.2, 1.0, 1.0, 0.4)])
@pytest.mark.parametrize("covered", [True, False])
def test_a_colour_is_laid_where_its_alpha_is(colour, covered):
    low, alpha, cover = some_pixels(1), some_levels(2), some_levels(3)
    k = alpha / 255 * 0.7 * colour[3]
    k = (k * cover / 255 if covered else k)[:, :, None]
    r, g, b, _ = colour
    expected = np.array([b, g, r, 1.0]) * 255 * k + low * (1 - k)
    found = np.zeros((60, 70, 4), np.uint8)
    found[5:45, 7:57] = low
    part = found[5:45, 7:57]
    blends.lay_ink(part, alpha, colour, 0.7, cover if covered else None)
    assert np.abs(part - expected).max() <= 1.3
    part[:] = 0
    assert not found.any()


def test_a_raster_of_one_colour_gives_its_pixels():
    ink = Ink(some_levels(1), INK)
    raster = Raster(ink, 3, 4)
    assert (raster.width, raster.height, raster.left, raster.top) == (50, 40, 3, 4)
    assert raster.nbytes == 2000 and np.array_equal(raster.pixels[:, :, 3], ink.alpha)
    assert raster.nbytes == 10000  # both are held now
    assert raster.pixels is raster.pixels and ink_of(raster) is ink
    other = raster.copy()
    assert ink_of(other) is not ink and np.array_equal(other.pixels, raster.pixels)
    assert ink_of(Raster(raster.pixels)) is None
    with pytest.raises(ValueError, match="uint8"):
        Ink(np.zeros((2, 2), np.float32), INK)


# Tones


def test_tables_of_several_steps_are_one():
    curve, steps = np.linspace(0, 1, 256) ** 0.8, np.floor(np.linspace(0, 0.99, 256) * 6) / 5
    opaque = some_pixels(1, alphas=(255,))
    same = np.linspace(0, 1, 256)
    first = toned(Raster(opaque), tables=channel_tables(curve, same, curve))
    dark = some_levels(4)
    found = toned(toned(first, tables=channel_tables(steps, steps, same)), dark=dark).pixels
    once = np.rint(curve * 255).astype(int)
    twice = np.rint(steps * 255).astype(int)
    left = 1 - dark / 255
    for channel, values in ((2, twice[once[opaque[:, :, 2]]]), (1, twice[opaque[:, :, 1]]),
                            (0, once[opaque[:, :, 0]])):  # fmt: skip
        assert np.abs(found[:, :, channel] - values * left).max() <= 0.5
    assert (found[:, :, 3] == 255).all()
    assert np.array_equal(opaque, some_pixels(1, alphas=(255,)))  # not its own: left alone


def test_tones_of_what_is_seen_through_are_those_of_straight_colours():
    pixels = some_pixels(1)
    inverted = channel_tables(*[np.linspace(1, 0, 256)] * 3)
    mine = pixels.copy()
    found = toned(Raster(mine), tables=inverted, owned=True).pixels
    assert found is mine  # written over
    alpha = pixels[:, :, 3:]
    expected = np.where(alpha > 0, alpha - pixels[:, :, :3].astype(int), 0)
    assert np.abs(found[:, :, :3] - expected).max() <= 1
    assert np.array_equal(found[:, :, 3:], alpha)


# Glows


@pytest.mark.parametrize("near", [1.5, 4.0, 14.0])
def test_gaussians_at_once_are_their_sum(near):
    pixels = np.zeros((192, 256, 4), np.uint8)
    pixels[60:130, 90:170] = (60, 120, 200, 255)
    gain, parts = 1.3, [(near, 0.45), (near * 3, 0.3), (near * 9, 0.25)]
    field = glow_field(pixels, parts)
    found = glow_light(field, near, gain, 256, 192)
    whole = sum(share * gaussian(pixels, sigma).astype(float) for sigma, share in parts)
    assert np.abs(found - np.minimum(255, whole * gain)).max() <= 5
    assert (found[:, :, :3] <= found[:, :, 3:]).all()


@pytest.mark.parametrize("inverted", [False, True])
@pytest.mark.parametrize("opacity", [1.0, 0.4, 0.0])
def test_a_matte_lets_through_what_it_covers(opacity, inverted):
    picture, levels = some_pixels(4), some_levels(5)
    for values, alphas in ((picture, picture[:, :, 3]), (levels, levels)):
        expected = np.zeros((60, 90))
        expected[7:47, 30:80] = alphas * opacity
        expected = 255 - expected if inverted else expected
        found = let_through(values, opacity, inverted, (60, 90), (30, 7))
        assert np.abs(found - expected).max() <= 0.51
    empty = let_through(np.zeros((0, 0, 4), np.uint8), opacity, inverted, (3, 4))
    assert (empty == (255 if inverted else 0)).all() and empty.shape == (3, 4)


JOINS = {
    "union": lambda a, b: a + b - a * b,
    "minus": lambda a, b: a * (1 - b),
    "intersect": lambda a, b: a * b,
    "exclude": lambda a, b: a * (1 - b) + b * (1 - a),
}


@pytest.mark.parametrize("mode", MODES)
def test_coverages_are_joined_as_alphas(mode):
    """All pairs of levels."""
    a, b = np.mgrid[0:256, 0:256].astype(np.uint8)
    expected = JOINS[mode](a / 255, b / 255) * 255
    assert np.abs(joined(a, np.ascontiguousarray(b), mode) - expected).max() <= 1


def test_every_compiled_loop_is_loaded_at_the_start():
    """In a process of its own, where no other test has called any."""
    code = """
import importlib, pkgutil
import young_comet.core as core
from numba.core.dispatcher import Dispatcher
from young_comet.core.kernels import load_kernels
load_kernels()
loops = {}
for found in pkgutil.walk_packages(core.__path__, "young_comet.core."):
    for value in vars(importlib.import_module(found.name)).values():
        if isinstance(value, Dispatcher):
            loops[value.py_func.__module__, value.py_func.__name__] = value
# What others call is compiled into them.
called = {name for loop in loops.values() for name in loop.py_func.__code__.co_names}
missing = {".".join(k) for k, loop in loops.items() if not loop.signatures and k[1] not in called}
assert len(loops) > 20
print(",".join(sorted(missing)))
"""
    done = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=300
    )
    assert done.stdout.strip() == ""


@pytest.mark.parametrize("part", [False, True])
def test_pictures_laid_beside_each_other_share_what_a_pixel_has(part):
    """X Rendering Extension 0.11, DisjointOver: Fa = 1, Fb = min(1, (1 - as) / ab)."""
    low, top = some_pixels(1), some_pixels(2)
    keep = np.minimum(1.0, (255.0 - top[..., 3]) / np.maximum(low[..., 3], 1.0))
    wanted = top + low * keep[..., None]
    given = np.zeros((40, 90, 4), np.uint8)
    given[:, 20:70] = low
    into = given[:, 20:70] if part else low.copy()
    blends.lay_beside(into, top)
    assert np.abs(into - wanted).max() < 1.5
    assert (into[..., :3].max(axis=2) <= into[..., 3]).all()
    assert not given[:, :20].any() and not given[:, 70:].any()
    half = np.full((1, 1, 4), 128, np.uint8)
    other = np.full((1, 1, 4), 127, np.uint8)
    blends.lay_beside(half, other)
    assert half.tolist() == [[[255, 255, 255, 255]]], "edges that meet close"
