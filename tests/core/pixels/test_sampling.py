"""Pictures moved, enlarged and turned, and the mean of several."""

from __future__ import annotations

import math

import cv2
import numba
import numpy as np
import pytest

from young_comet.core.effects.base import laid_in
from young_comet.core.pixels.fixed import mixed, times
from young_comet.core.pixels.hull import hull, reached
from young_comet.core.pixels.mean import mean
from young_comet.core.pixels.raster import Raster
from young_comet.core.pixels.resample import MipPyramid
from young_comet.core.pixels.scaling import KeptRows, scaled, window

# Any place and scale


FINEST = 0.2  # cycles a pixel of the waves


def waves(x, y):
    """Four channels of waves at places in pixels, premultiplied by a wave of their own."""
    alpha = 190 + 60 * np.sin(2 * np.pi * (FINEST * 0.4 * x - FINEST * 0.7 * y))
    shares = [
        0.5 + 0.45 * np.cos(2 * np.pi * FINEST * (math.cos(t) * x + math.sin(t) * y))
        for t in (0.3, 1.4, 2.6)
    ]
    return np.stack([share * alpha for share in shares] + [alpha], axis=-1)


def pixels_of_waves(width=120, height=80):
    y, x = np.mgrid[0:height, 0:width] + 0.5
    return np.rint(waves(x, y)).astype(np.uint8)


def turned(scale, deg, at=(200, 150)):
    """Scaled and turned with the middle of the waves at a place."""
    c, s = scale * math.cos(math.radians(deg)), scale * math.sin(math.radians(deg))
    return (c, s, -s, c, at[0] - c * 60 + s * 40, at[1] - s * 60 - c * 40)


@pytest.mark.parametrize(
    "matrix",
    [(1, 0, 0, 1, 30.5, 7), (1, 0, 0, 1, 5, 20.3), (1, 0, 0, 1, -3.7, 2.2),
     (3, 0, 0, 2.6, 0.3, 0.7), (1.2, 0, 0, 1.02, 3.4, 1.2), (0.97, 0, 0, 0.9, 2, 3.1),
     (0.6, 0, 0, 0.7, 4.4, 3), (-1, 0, 0, 1, 130.25, 3), (-0.8, 0, 0, -2, 120, 190),
     turned(1, 30), turned(0.9, -75), turned(1.7, 181), turned(0.7, 3)],
)  # fmt: skip
def test_waves_are_sampled_where_they_are(matrix):
    """Against the formula of the waves, away from the picture's edges."""
    found = MipPyramid(pixels_of_waves()).draw(matrix, (0, 0, 400, 300))
    a, b, c, d, e, f = matrix
    v, u = np.mgrid[found.top : found.top + found.height, found.left : found.left + found.width]
    there = np.linalg.inv([[a, c], [b, d]]) @ np.stack([u + 0.5 - e, v + 0.5 - f]).reshape(2, -1)
    x, y = there.reshape(2, *u.shape)
    inside = (x > 8) & (x < 112) & (y > 8) & (y < 72)
    assert inside.sum() > 500
    far = np.abs(found.pixels - waves(x, y))[inside]
    upright = b == c == 0
    fits = min(abs(a), abs(d)) >= 0.75 if upright else math.hypot(a, b) >= 1
    # What comes near the finest that such pixels can show loses of its contrast.
    assert far.mean() < (1.75 if upright and fits else 5 if fits else 16), far.mean()


@pytest.mark.parametrize("deg", [0, 20])
@pytest.mark.parametrize("scale", [0.001, 0.013, 0.21, 0.5, 0.99, 1.0, 1.01, 2.7, 40])
def test_a_flat_picture_stays_flat_and_covers_its_area(deg, scale):
    """Whatever the scale; at its edge pixels are as transparent as they are uncovered."""
    colour = np.array([10, 120, 200, 240], np.uint8)
    pyramid = MipPyramid(np.tile(colour, (80, 120, 1)))
    clip = (-6000, -6000, 6000, 6000)
    found = pyramid.draw(turned(scale, deg, (20.3, 30.9)), clip)
    area = 120 * 80 * scale * scale
    alpha = found.pixels[:, :, 3].astype(float)
    assert alpha.sum() / 240 == pytest.approx(area, rel=0.02 if area > 100 else 0.3, abs=0.08)
    whole = found.pixels[alpha >= 240]
    assert (whole == colour).all()
    assert (found.pixels[:, :, :3] <= found.pixels[:, :, 3:]).all()


@pytest.mark.parametrize(
    "matrix", [(1, 0, 0, 1, 0.3, 0.6), (0.4, 0, 0, 0.7, 3, 3), turned(0.8, 20)]
)
@pytest.mark.parametrize("size", [(1, 1), (1, 9), (2, 2), (500, 1)])
def test_pictures_of_few_pixels_are_drawn(matrix, size):
    width, height = size
    found = MipPyramid(np.full((height, width, 4), 200, np.uint8)).draw(matrix, (0, 0, 600, 300))
    assert found is None or found.pixels.max() <= 200


def test_parts_are_those_of_the_whole():
    """A clip changes nothing within it."""
    pyramid = MipPyramid(pixels_of_waves())
    for matrix in ((0.8, 0, 0, 1.3, 0.3, 0.7), (1, 0, 0, 1, 3.5, 4), turned(0.9, 33, (60, 50))):
        whole = laid_in(pyramid.draw(matrix, (0, 0, 150, 120)), (0, 0, 150, 120))
        part = laid_in(pyramid.draw(matrix, (20, 10, 90, 60)), (20, 10, 90, 60))
        assert np.abs(whole[10:60, 20:90].astype(int) - part).max() <= 1


# Fine detail


ZONES = 512


def zone_plate():
    """Rings that become finer outwards: r / ZONES cycles a pixel at a distance r, to 0.5."""
    y, x = np.mgrid[0:ZONES, 0:ZONES] + 0.5 - ZONES / 2
    r = np.hypot(x, y)
    level = np.where(r < ZONES / 2, 127.5 + 120 * np.cos(math.pi * r * r / ZONES), 127.5)
    pixels = np.repeat(np.rint(level)[:, :, None], 4, axis=2).astype(np.uint8)
    pixels[:, :, 3] = 255
    return pixels


def centred(scale, at=256.0, deg=0.0):
    c, s = scale * math.cos(math.radians(deg)), scale * math.sin(math.radians(deg))
    half = ZONES / 2
    return (c, s, -s, c, at - c * half + s * half, at - s * half - c * half)


def contrast(drawn, scale, at=256.0, finest=None):
    """The deviation of levels over the zone plate as drawn about a place, or over its part that is
    finer than so many cycles a pixel of the frame."""
    y, x = np.mgrid[0 : drawn.shape[0], 0 : drawn.shape[1]] + 0.5 - at
    r = np.hypot(x, y) / scale
    place = r < ZONES * 0.48
    if finest is not None:
        place &= r / ZONES / scale > finest
    return float(np.sqrt(np.mean((drawn[:, :, 0][place] - 127.5) ** 2))) if place.any() else 0.0


@pytest.mark.parametrize("deg", [0, 17])
def test_what_is_too_fine_is_gone(deg):
    """Half of what averaging areas leaves of it, or less, beyond 1.2 times the finest that the
    pixels can show; and what they can show is no weaker."""
    pyramid = MipPyramid(zone_plate())
    for scale in (0.2, 0.3, 0.41, 0.499, 0.51, 0.6, 0.7, 0.8):
        size = round(ZONES * scale)
        scale = size / ZONES
        averaged = cv2.resize(zone_plate(), (size, size), interpolation=cv2.INTER_AREA)
        drawn = pyramid.draw(centred(scale, deg=deg), (0, 0, ZONES, ZONES))
        drawn = laid_in(drawn, (0, 0, ZONES, ZONES))
        left = contrast(drawn, scale, finest=0.6)
        assert left <= 0.5 * contrast(averaged, scale, size / 2, finest=0.6) + 0.3, scale
        if not deg and scale > 0.45:
            assert contrast(drawn, scale) > 0.9 * contrast(averaged, scale, size / 2)


@pytest.mark.parametrize("deg", [0, 17])
def test_contrast_does_not_jump(deg):
    """By steps of 1 %, through every change of level and through the scale of 1."""
    pyramid = MipPyramid(zone_plate())
    before = None
    for step in range(162 if not deg else 60):
        scale = (0.25 if not deg else 0.6) * 1.01**step
        size = math.ceil(ZONES * scale / 2) * 2 + 2
        drawn = pyramid.draw(centred(scale, size / 2, deg), (0, 0, size, size))
        now = contrast(laid_in(drawn, (0, 0, size, size)), scale, size / 2)
        assert before is None or abs(now / before - 1) < 0.04, scale
        before = now


def test_a_picture_that_is_moved_stays_sharp():
    """By parts of a pixel; bilinear sampling leaves 0.7."""
    pyramid, still = MipPyramid(zone_plate()), contrast(zone_plate(), 1)
    for part in (0.1, 0.25, 0.5, 0.8):
        for e, f in ((part, 0), (0, part), (part, part)):
            drawn = laid_in(pyramid.draw((1, 0, 0, 1, e, f), (0, 0, 512, 512)), (0, 0, 512, 512))
            assert contrast(drawn, 1) > 0.94 * still


@pytest.mark.parametrize("deg", [0, 9])
def test_an_edge_goes_as_far_as_it_is_moved(deg):
    """A step within a picture that grows slowly: where it lies, from the sum of the levels."""
    pixels = np.full((200, 200, 4), 255, np.uint8)
    pixels[:, :, :3] = 200
    pixels[:, :100, :3] = 60
    pyramid = MipPyramid(pixels)
    for scale in np.linspace(0.48, 1.04, 57):
        c, s = scale * math.cos(math.radians(deg)), scale * math.sin(math.radians(deg))
        # The middle of the step at (150, 100), its line through row 100.
        matrix = (c, s, -s, c, 150 - 100 * c + 100 * s, 100.5 - 100 * s - 100 * c)
        row = laid_in(pyramid.draw(matrix, (0, 0, 300, 201)), (130, 100, 170, 101))[0, :, 0]
        edge = 130 + (200.0 - row).sum() / 140
        assert edge == pytest.approx(150, abs=0.05), scale


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
    """OpenCV over every pixel of the frame, of the halving that is used."""
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
    whole = cv2.warpAffine(level, forward, (400, 300), flags=cv2.INTER_LINEAR).astype(int)
    shown = np.argwhere(whole[:, :, 3] > 0)
    (top, left), (bottom, right) = shown.min(axis=0), shown.max(axis=0)
    for quick in (True, False):
        drawn = MipPyramid(pixels).draw(matrix, (0, 0, 400, 300), quick=quick)
        found = laid_in(drawn, (0, 0, 400, 300))
        if quick and factor == 1:
            assert np.abs(found - whole).max() <= 2
        assert abs(found[:, :, 3].sum() / whole[:, :, 3].sum() - 1) < 0.02
        assert np.abs(found - whole).mean() < 2
        # No larger than what is seen, but for a few pixels, and the eight rows taken as one.
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
def each(pixels, others, k, scaled, both):
    for i in range(len(pixels)):
        scaled[i] = times(pixels[i], k)
        both[i] = mixed(pixels[i], k, others[i], np.uint32(255) - k)


@pytest.mark.parametrize("k", [0, 1, 77, 128, 254, 255])
def test_channels_are_multiplied_without_touching_one_another(k):
    """All pairs of levels, as exactly rounded fractions of 255."""
    low, high = np.meshgrid(np.arange(256), np.arange(256))
    levels = np.stack([low, high, high, low], axis=-1).reshape(-1, 4).astype(np.uint8)
    others = np.ascontiguousarray(levels[::-1])
    a, b = levels.astype(float), others.astype(float)
    out = np.empty((2, len(levels)), np.uint32)
    pixels, back = levels.view(np.uint32)[:, 0], others.view(np.uint32)[:, 0]
    each(pixels, back, np.uint32(k), *out)
    scaled, both = out.view(np.uint8).reshape(2, -1, 4)
    assert np.array_equal(scaled, np.rint(a * k / 255))
    assert np.array_equal(both, np.rint((a * k + b * (255 - k)) / 255))


# Upright ones


@pytest.mark.parametrize("scale", [1.0, 0.5, 0.25, 1 / 3, 0.2, 0.43, 2.0, -1.0, -0.5])
@pytest.mark.parametrize("down", [1.0, 0.7])
def test_windows_in_integers_agree_with_a_sum_in_floats(scale, down):
    """By the formula of the window, pixel by pixel; rows dealt out by strides or turned about."""
    picture = pixels_of_waves(40, 25)
    for offset in ((0.0, 0.0), (0.3, -0.7), (-4.5, 6.25), (20.1, 3.0), (-30.4, 2.5)):
        region = (-4, -3, 50, 30)
        mine = scaled(picture, (scale, down), offset, region).astype(float)
        wanted = picture.astype(float)
        for axis, step in ((0, down), (1, scale)):
            wanted = np.moveaxis(
                along(np.moveaxis(wanted, axis, 0), step, offset[1 - axis], region[1 - axis :: 2]),
                0, axis,
            )  # fmt: skip
        assert np.abs(mine - wanted.clip(0, 255)).max() < 6, offset


def along(line, scale, offset, span):
    """Lines (n, ...) through the window at each pixel of a span, as far as they cover it."""
    lobes, width = window(scale)
    if scale == 1 and float(offset).is_integer():
        lobes, width = 0.5, 1.0
    out = []
    low, high = sorted((offset, offset + scale * len(line)))
    for place in range(*span):
        middle = (place + 0.5 - offset) / scale - 0.5
        at = np.arange(math.ceil(middle - lobes * width), math.floor(middle + lobes * width) + 1)
        weights = np.sinc((at - middle) / width) * np.sinc((at - middle) / width / lobes)
        if lobes == 0.5:
            at, weights = np.array([round(middle)]), np.ones(1)
        covered = max(0.0, min(place + 1, high) - max(place, low))
        mixed = np.tensordot(weights / weights.sum(), line[np.clip(at, 0, len(line) - 1)], 1)
        out.append(mixed * min(1.0, covered))
    return np.stack(out)


def test_what_only_goes_to_the_side_is_the_same_from_rows_that_were_kept():
    picture = pixels_of_waves(90, 60)
    kept = KeptRows()
    for number in range(36):
        scale = ((0.5, 0.5), (1.0, 0.7), (0.43, 0.43), (1.0, 1.0))[number // 9]
        offset = (9.3 - 1.77 * number, (4.0, -20.3, 4.4, 7.0)[number // 9])
        region = (0, 0, 70, 40 + number % 9 // 6)
        again = scaled(picture, scale, offset, region, kept=kept)
        assert np.array_equal(again, scaled(picture, scale, offset, region)), number
        if number % 9 == 3:
            assert kept.nbytes > 0
