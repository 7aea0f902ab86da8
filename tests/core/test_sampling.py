"""Pictures moved, enlarged and turned, and the mean of several."""

from __future__ import annotations

import math

import cv2
import numba
import numpy as np
import pytest

from young_comet.core.effects.base import laid_in
from young_comet.core.pixels.hull import hull, reached
from young_comet.core.pixels.lanes import mixed, shared, times
from young_comet.core.pixels.mean import mean
from young_comet.core.pixels.raster import Raster
from young_comet.core.pixels.resample import MipPyramid


def smooth(seed):
    return cv2.GaussianBlur(
        np.random.default_rng(seed).integers(0, 256, (80, 120, 4), np.uint8), (0, 0), 2
    )


@pytest.mark.parametrize(
    "matrix",
    [(1, 0, 0, 1, 0.3, 7), (1, 0, 0, 1, -60.4, 3), (1, 0, 0, 1, 140, 20.1),
     (1, 0, 0, 1, -3, -2.2), (3, 0, 0, 2.6, 0.3, 0.7), (1.2, 0, 0, 1.7, -30.4, -20.2)],
)  # fmt: skip
@pytest.mark.parametrize("clip", [(0, 0, 200, 150), (20, 10, 90, 60)])
def test_short_ways_of_sampling_agree_with_the_general_one(matrix, clip):
    pyramid = MipPyramid(smooth(2))
    found = pyramid.draw(matrix, clip)
    a, b, c, d, e, f = matrix
    general = pyramid.draw((a, b + 1e-9, c, d, e + 1e-6, f + 1e-6), clip)
    assert (found is None) == (general is None or not general.pixels.any())
    if found is not None:
        far = np.abs(laid_in(found, clip).astype(int) - laid_in(general, clip))
        assert far.max() <= 2


# Turned pictures are sampled where they show something


def kite(height=150, width=130):
    """Noise within a rhomb, its edges soft; its corners lie off the middle."""
    y, x = np.mgrid[0:height, 0:width]
    inside = abs(x - 50) / 48 + abs(y - 90) / 55 < 1
    pixels = np.zeros((height, width, 4), np.uint8)
    pixels[inside] = np.random.default_rng(5).integers(40, 256, (int(inside.sum()), 4))
    return cv2.GaussianBlur(pixels, (0, 0), 1.5)


def about(scale, deg):
    """Turned and scaled about the middle of a frame of 400 x 300."""
    c, s = scale * math.cos(math.radians(deg)), scale * math.sin(math.radians(deg))
    return (c, s, -s, c, 200 - c * 65 + s * 75, 150 - s * 65 - c * 75)


@pytest.mark.parametrize("deg", [0.4, 33, 90.5, 170, 271])
@pytest.mark.parametrize("scale", [0.2, 0.9, 1.8])
def test_a_turned_picture_is_that_of_the_library_on_the_whole_frame(scale, deg):
    """OpenCV on the level that is used, over every pixel of the frame."""
    pixels, matrix = kite(), about(scale, deg)
    level, factor = pixels, 1
    while scale * factor * 2 <= 1:
        size = (level.shape[1] // 2, level.shape[0] // 2)
        level, factor = cv2.resize(level, size, interpolation=cv2.INTER_AREA), factor * 2
    fx, fy = pixels.shape[1] / level.shape[1], pixels.shape[0] / level.shape[0]
    a, b, c, d, e, f = matrix
    forward = np.array(
        [[a * fx, c * fy, e - 0.5 + (a * fx + c * fy) / 2],
         [b * fx, d * fy, f - 0.5 + (b * fx + d * fy) / 2]]
    )  # fmt: skip
    whole = cv2.warpAffine(level, forward, (400, 300), flags=cv2.INTER_LINEAR)
    drawn = MipPyramid(pixels).draw(matrix, (0, 0, 400, 300))
    found = laid_in(drawn, (0, 0, 400, 300))
    assert np.abs(found.astype(int) - whole).max() <= 2
    shown = np.argwhere(whole[:, :, 3] > 0)
    (top, left), (bottom, right) = shown.min(axis=0), shown.max(axis=0)
    # No larger than what is seen, but for a few pixels, and the eight rows that are taken as one.
    spare = 6 + 16 * scale
    assert drawn.width <= right - left + spare and drawn.height <= bottom - top + spare


def test_a_turned_picture_of_nothing_is_none():
    assert MipPyramid(np.zeros((20, 30, 4), np.uint8)).draw(about(1, 30), (0, 0, 400, 300)) is None


def test_a_hull_holds_every_pixel_and_touches_the_outermost():
    pixels = kite()
    rows, columns = np.nonzero(pixels[:, :, 3])
    corners = hull(pixels).astype(np.float32)
    for x, y in zip(columns, rows, strict=True):
        for cx, cy in ((x, y), (x + 1, y), (x, y + 1), (x + 1, y + 1)):
            assert cv2.pointPolygonTest(corners, (float(cx), float(cy)), False) >= 0
    assert corners[:, 0].min() == columns.min() and corners[:, 0].max() == columns.max() + 1
    # Rows are taken by eights.
    assert rows.min() - 8 < corners[:, 1].min() <= rows.min()
    assert len(hull(np.zeros((10, 10, 4), np.uint8))) == 0


def test_what_a_polygon_reaches_of_a_strip():
    """A square on its corner: (50, 0), (100, 50), (50, 100), (0, 50)."""
    square = np.array([(50.0, 0.0), (100.0, 50.0), (50.0, 100.0), (0.0, 50.0)])
    lines = np.array([-20.0, -10.0, 10.0, 40.0, 60.0, 100.0, 120.0])
    sharp = reached(square, lines, 0.0)
    assert sharp[1:5].tolist() == [[40, 60], [10, 90], [0, 100], [10, 90]]
    assert sharp[0, 0] == np.inf and sharp[0, 1] == -np.inf
    wider = reached(square, lines, 2.0)
    assert wider[1].tolist() == [36, 64], "12 lines down, and 2 to each side"
    level = reached(np.array([(0.0, 5.0), (9.0, 5.0)]), np.array([0.0, 10.0]), 0.0)
    assert level.tolist() == [[0, 9]]


# The mean


def test_a_mean_counts_nothing_where_a_picture_is_not():
    rng = np.random.default_rng(3)
    rasters = [
        Raster(rng.integers(0, 256, (h, w, 4), np.uint8), left, top)
        for w, h, left, top in ((40, 90, 10, 20), (70, 60, 15, 65), (5, 130, 80, 20))
    ]
    region = (10, 20, 90, 150)
    total = sum(laid_in(raster, region).astype(float) for raster in rasters)
    for count in (3, 4, 200):
        assert np.abs(mean(rasters, region, count) - total / count).max() <= 0.51
    for count in range(1, 129):
        white = [Raster(np.full((1, 1, 4), 255, np.uint8))] * count
        assert (mean(white, (0, 0, 1, 1), count) == 255).all(), count


# Pixels as numbers


@numba.njit
def each(pixels, others, k, m, scaled, both, between):
    for i in range(len(pixels)):
        scaled[i] = times(pixels[i], k)
        both[i] = mixed(pixels[i], k, others[i], np.uint32(255) - k)
        between[i] = shared(pixels[i], others[i], m)


@pytest.mark.parametrize("k", [0, 1, 77, 128, 254, 255])
def test_channels_are_multiplied_without_touching_one_another(k):
    """All pairs of levels, as exactly rounded fractions of 255 and of 128."""
    low, high = np.meshgrid(np.arange(256), np.arange(256))
    levels = np.stack([low, high, high, low], axis=-1).reshape(-1, 4).astype(np.uint8)
    others = np.ascontiguousarray(levels[::-1])
    a, b = levels.astype(float), others.astype(float)
    part = min(k, 128)
    out = np.empty((3, len(levels)), np.uint32)
    pixels, back = levels.view(np.uint32)[:, 0], others.view(np.uint32)[:, 0]
    each(pixels, back, np.uint32(k), np.uint32(part), *out)
    scaled, both, between = out.view(np.uint8).reshape(3, -1, 4)
    assert np.array_equal(scaled, np.rint(a * k / 255))
    assert np.array_equal(both, np.rint((a * k + b * (255 - k)) / 255))
    assert np.array_equal(between, np.floor((a * (128 - part) + b * part) / 128 + 0.5))
