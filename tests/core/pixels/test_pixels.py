import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.geometry.affine import Affine
from young_comet.core.geometry.outline import rectangle, skia_matrix
from young_comet.core.pixels import Canvas, Gradient, format_colour, mix, parse_colour
from young_comet.core.pixels.raster import Raster, empty, premultiply, unpremultiply
from young_comet.core.pixels.resample import MipPyramid
from young_comet.core.pixels.yuv import to_i420
from young_comet.errors import DocumentError

BLACK, WHITE = (0.0, 0.0, 0.0, 1.0), (1.0, 1.0, 1.0, 1.0)
unit = st.floats(0, 1)
colours = st.tuples(unit, unit, unit, unit)


@given(st.integers(0, 2**32 - 1))
def test_hex_colours_read_back(number):
    text = f"#{number:08x}"
    assert parse_colour(format_colour(parse_colour(text))) == parse_colour(text)


def test_short_hex_and_mistakes():
    assert parse_colour("#f80") == parse_colour("#ff8800")
    for text in ("red", "#12", "#ggg", "ff0000", "#12345", ""):
        with pytest.raises(DocumentError, match="hex colour"):
            parse_colour(text)


@given(colours, colours, st.floats(-1, 2))
def test_mixing_stays_within_the_gamut(a, b, p):
    assert all(0 <= c <= 1 for c in mix(a, b, p))
    assert mix(a, b, 0)[3] == pytest.approx(a[3])


def test_premultiplying_rounds_to_nearest_and_back():
    values = np.arange(256, dtype=np.uint8)
    straight = np.stack([*np.meshgrid(values, values), *np.meshgrid(values, values)], axis=-1)
    result = premultiply(np.ascontiguousarray(straight))
    exact = np.floor(straight[:, :, :3] * (straight[:, :, 3:4] / 255.0) + 0.5)
    assert np.abs(result[:, :, :3] - exact).max() <= 1
    opaque = straight[straight[:, :, 3] == 255]
    assert (premultiply(opaque[None]) == opaque[None]).all()
    assert (unpremultiply(result)[:, :, 3] == straight[:, :, 3]).all()


def test_rasters_refuse_other_arrays():
    for wrong in (
        np.zeros((2, 2, 3), np.uint8),
        np.zeros((2, 2, 4)),
        np.zeros((4, 4, 4), np.uint8)[::2],
    ):
        with pytest.raises(ValueError):
            Raster(wrong)


def test_a_dark_gradient_is_dithered_and_shows_no_bands():
    pixels = empty(512, 64)
    stops = ((0.0, (0.05, 0.05, 0.05, 1.0)), (1.0, (0.08, 0.08, 0.08, 1.0)))
    Canvas(pixels).fill_all(Gradient("linear", (0, 0), (512, 0), stops), skia_matrix(Affine()))
    green = pixels[:, :, 1].astype(int)
    # Eight grey levels over 512 px: without dithering each column holds a single level.
    mixed = sum(len(set(green[:, x])) > 1 for x in range(512))
    assert mixed > 300
    ramp = np.linspace(13, 20, 512)  # the stops are 8-bit colours
    assert np.abs(green.mean(axis=0) - ramp).max() < 0.6


@pytest.mark.parametrize(
    ("kind", "at", "expected"),
    [("linear", (75, 50), 0.75), ("radial", (75, 50), 0.5), ("conic", (50, 75), 0.25)],
)
def test_gradients_lie_where_their_points_say(kind, at, expected):
    pixels = empty(100, 100)
    start = (0, 50) if kind == "linear" else (50, 50)
    stops = ((0.0, BLACK), (1.0, WHITE))
    Canvas(pixels).fill_all(Gradient(kind, start, (100, 50), stops), skia_matrix(Affine()))
    assert pixels[at[1], at[0], 1] / 255 == pytest.approx(expected, abs=0.02)


def test_edges_are_smooth_and_cover_their_share():
    pixels = empty(20, 20)
    matrix = skia_matrix(Affine.shift(10.25, 10))
    Canvas(pixels).fill(rectangle(10, 10).skia_path, WHITE, matrix, 1.0)
    assert pixels[10, 5, 3] / 255 == pytest.approx(0.75, abs=0.02)
    assert pixels[10, 15, 3] / 255 == pytest.approx(0.25, abs=0.02)
    assert pixels[:, :, 3].sum() / 255 == pytest.approx(100, rel=0.01)


def pattern(width=64, height=48):
    rng = np.random.default_rng(5)
    picture = rng.integers(0, 256, (height, width, 4), dtype=np.uint8)
    picture[:, :, 3] = 255
    return np.ascontiguousarray(picture)


def test_a_picture_at_its_size_is_copied_exactly():
    source = pattern()
    raster = MipPyramid(source).draw((1, 0, 0, 1, 7, 5), (0, 0, 200, 200))
    y, x = 5 - raster.top, 7 - raster.left
    assert (raster.pixels[y : y + 48, x : x + 64] == source).all()
    assert raster.pixels.sum() == source.sum()


def test_a_clipped_copy_shows_the_part_inside():
    source = pattern()
    raster = MipPyramid(source).draw((1, 0, 0, 1, -10, -20), (0, 0, 30, 20))
    y, x = -raster.top, -raster.left
    assert (raster.pixels[y : y + 20, x : x + 30] == source[20:40, 10:40]).all()
    assert MipPyramid(source).draw((1, 0, 0, 1, 500, 0), (0, 0, 100, 100)) is None


@pytest.mark.parametrize("scale", [0.9, 0.5, 0.25, 0.13])
def test_a_smaller_picture_stays_where_it_is_and_keeps_its_mean(scale):
    ramp = np.zeros((128, 128, 4), np.uint8)
    ramp[:, :, :3] = (np.arange(128) * 2)[None, :, None]
    ramp[:, :, 3] = 255
    raster = MipPyramid(ramp).draw((scale, 0, 0, scale, 20, 20), (0, 0, 200, 200))
    middle = raster.pixels[raster.height // 2, :, 0].astype(float)
    for x in (40, 64, 90):
        out = 20 + x * scale - raster.left - 0.5
        got = np.interp(out, np.arange(len(middle)), middle)
        assert got == pytest.approx((x - 0.5) * 2, abs=3.0)


@given(st.integers(0, 255), st.integers(0, 255), st.integers(0, 255))
def test_yuv_agrees_with_the_formula_of_bt709(r, g, b):
    pixels = np.empty((2, 2, 4), np.uint8)
    pixels[:] = (b, g, r, 255)
    out = np.empty((3, 2), np.uint8)
    to_i420(pixels, out)
    y = 0.2126 * r + 0.7152 * g + 0.0722 * b
    expected = (
        16 + y * 219 / 255,
        128 + (b - y) / 1.8556 * 224 / 255,
        128 + (r - y) / 1.5748 * 224 / 255,
    )
    assert out[0, 0] == pytest.approx(expected[0], abs=0.51)
    assert out[2, 0] == pytest.approx(expected[1], abs=0.51)
    assert out[2, 1] == pytest.approx(expected[2], abs=0.51)


def test_yuv_refuses_odd_sizes():
    with pytest.raises(ValueError, match="even"):
        to_i420(np.zeros((3, 4, 4), np.uint8), np.zeros((4, 4), np.uint8))


def test_a_blur_that_is_animated_has_no_step():
    """Over noise and edges: a tenth of a pixel more never changes a level by more than 5."""
    from young_comet.core.pixels import blur

    edges = np.zeros((160, 200, 4), np.uint8)
    edges[40:120, 50:150] = 255
    noise = np.random.default_rng(1).integers(0, 256, (160, 200, 4), dtype=np.uint8)
    for picture in (edges, noise):
        last = blur.gaussian(picture, 2.9).astype(int)
        for sigma in np.arange(3.0, 30.0, 0.1):
            now = blur.gaussian(picture, float(sigma)).astype(int)
            assert np.abs(now - last).max() <= 5, sigma
            last = now


def test_a_blurred_gradient_has_no_bands_and_keeps_its_mean():
    """A slope of one level in 40 px, blurred far: the mean of any 8 x 8 pixels follows the slope to
    a fifth of a level, where whole levels would be half of one away."""
    from young_comet.core.pixels import blur

    slope = 60 + np.arange(640) / 40
    chance = np.random.default_rng(5)
    dithered = np.floor(slope[None, :] + chance.random((240, 640))).astype(np.uint8)
    picture = np.dstack([dithered] * 3 + [np.full_like(dithered, 255)])
    for sigma in (8.0, 20.0):
        found = blur.gaussian(np.ascontiguousarray(picture), sigma, edges="repeat")
        middle = found[80:160, 120:520, 0].astype(float)
        blocks = middle.reshape(10, 8, 50, 8).mean(axis=(1, 3))
        there = slope[120:520].reshape(50, 8).mean(axis=1)
        assert np.abs(blocks - there).max() < 0.33 and np.abs(blocks - there).mean() < 0.1
        assert (found[..., 3] == 255).all()
        assert (found[..., 0] == found[..., 2]).all()


def test_levels_that_are_whole_stay_and_colours_stay_within_alpha():
    from young_comet.core.pixels.blur import in_levels

    levels = np.arange(256, dtype=np.uint16).repeat(4).reshape(16, 16, 4)
    assert np.array_equal(in_levels(levels * 257), levels)
    chance = np.random.default_rng(1)
    wide = np.sort(chance.integers(0, 65536, (40, 40, 4), dtype=np.uint16), axis=2)
    found = in_levels(wide)
    assert (found[..., :3] <= found[..., 3:]).all()
    for shape in ((16, 24), (16, 24, 1), (16, 24, 2)):
        half = np.full(shape, 100 * 257 + 128, np.uint16)
        assert in_levels(half).mean() == pytest.approx(100.5, abs=0.02)


@pytest.mark.parametrize(("opacity", "count"), [(1.3, 60), (0.3, 100), (5.2, 10)])
def test_many_faint_layers_add_up(opacity, count):
    """1 - (1 - a)^n of white on black, where each by itself is rounded; the same every time."""
    from tests.build import draw, layer, project

    for kind, more in (
        ("shape", {"shape__size": [400, 300]}),
        ("text", {"text": "III", "text__size": 300.0}),
    ):
        ground = layer("ground", "backdrop", fill__colour="#000000")
        faint = [
            layer(
                f"l{n}", kind, opacity=opacity, position=[160, 90], fill__colour="#ffffff", **more
            )
            for n in range(count)
        ]
        document = project(ground, *faint)
        found = draw(document)
        inside = (
            draw(
                project(
                    layer("one", kind, position=[160, 90], fill__colour="#ffffff", **more),
                    ground="#000000",
                )
            )[..., 0]
            == 255
        )
        expected = 255 * (1 - (1 - opacity / 100) ** count)
        shown = found[inside][:, 0].astype(float)
        assert shown.mean() == pytest.approx(expected, abs=0.6) and shown.std() < 6
        assert np.array_equal(found, draw(document))
