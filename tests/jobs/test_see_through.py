"""Files with alpha, opened again by other readers: sizes, rates, counts, alpha and colours."""

from __future__ import annotations

import io
import zipfile

import av
import numpy as np
import pytest
from PIL import Image
from tests.build import draw, key, layer, project
from tests.jobs.test_render_jobs import Here

from young_comet.core.export import RenderSettings
from young_comet.core.media import open_footage
from young_comet.errors import DocumentError
from young_comet.jobs import render_scene

# Half seen through, opaque, and nothing.
HALF, WHOLE, BARE = (80, 90), (240, 90), (160, 20)
EMBER, TEAL = (255, 122, 69), (47, 159, 179)


def tags(**more):
    """Two panels over no ground, one half seen through, that move after a while."""
    still = {"shape__size": [100, 80]}
    return project(
        layer("half", "shape", position=[80, 90], opacity=50.0, fill__colour="#ff7a45", **still),
        layer("whole", "shape", position=[240, 90], fill__colour="#2f9fb3", **still),
        length_s=1.0, **more,
    )  # fmt: skip


def rendered(whole, tmp_path, format, wide=2, **settings):
    path = tmp_path / f"tag.{format}"
    chosen = RenderSettings(format=format, **{"transparent": True, **settings})
    return path, render_scene(whole, "reveal", chosen, path, tmp_path, engine=Here(wide))


def at(pixels, point):
    """Straight red, green, blue and alpha at a point, of premultiplied BGRA."""
    b, g, r, a = (int(v) for v in pixels[point[1], point[0]])
    return (*(round(c * 255 / a) if a else 0 for c in (r, g, b)), a)


@pytest.mark.parametrize(("format", "error", "alpha_error"), [("mov", 2, 1), ("webm", 8, 4)])
@pytest.mark.parametrize("quality", ["draft", "good", "best"])
def test_alpha_and_colours_are_those_of_the_scene(tmp_path, format, error, alpha_error, quality):
    path, result = rendered(tags(), tmp_path, format, quality=quality)
    footage = open_footage(path.read_bytes())
    info = footage.info()
    assert (info.width, info.height, info.frame_count, info.alpha) == (320, 180, 25, True)
    assert str(info.rate.label) == "25" and info.duration_s == pytest.approx(1.0, abs=2e-3)
    for number in (0, 11, 12, 24):  # about where the parts are joined, too
        pixels = footage.frame(number)
        for point, colour, alpha in ((HALF, EMBER, 128), (WHOLE, TEAL, 255)):
            found = at(pixels, point)
            assert abs(found[3] - alpha) <= alpha_error
            assert max(abs(a - b) for a, b in zip(found[:3], colour, strict=True)) <= error
        assert at(pixels, BARE)[3] <= (1 if format == "mov" else 2)
    assert result.frames == 25


def test_prores_is_tagged_and_close_to_the_picture(tmp_path):
    keys = [key(0, [50, 90]), key(0.9, [250, 90])]
    whole = project(
        layer("sky", "backdrop", fill__kind="linear"),
        layer("kite", "shape", shape__kind="star", position=keys), length_s=1.0,
    )  # fmt: skip
    path, _ = rendered(whole, tmp_path, "mov", transparent=False)
    with av.open(str(path)) as file:
        stream = file.streams.video[0]
        context = stream.codec_context
        assert (context.name, context.pix_fmt) == ("prores", "yuva444p12le") or (
            context.pix_fmt or ""
        ).startswith("yuva444p1")
        assert stream.average_rate == 25 and not file.streams.audio
        frames = list(file.decode(stream))
        assert {int(frame.colorspace) for frame in frames} == {1}
    assert len(frames) == 25
    footage = open_footage(path.read_bytes())
    for number in (0, 13, 24):
        expected = draw(whole, number / 25).astype(float)
        found = footage.frame(number).astype(float)
        error = ((expected - found) ** 2).mean()
        assert 10 * np.log10(255**2 / error) > 42


def test_edges_have_no_fringe(tmp_path):
    """What is half covered at an edge has the colour of the shape, not that of a ground."""
    whole = project(layer("dot", "shape", shape__kind="ellipse", shape__size=[120, 120],
                          position=[160, 90], fill__colour="#ff7a45"), length_s=0.2)  # fmt: skip
    path, _ = rendered(whole, tmp_path, "frames", wide=1)
    picture = np.asarray(first_png(path))
    edge = picture[(picture[:, :, 3] > 40) & (picture[:, :, 3] < 215)]
    assert len(edge) > 50 and np.abs(edge[:, :3].astype(int) - EMBER).max() <= 4


def first_png(path, number=0):
    with zipfile.ZipFile(path) as opened:
        return Image.open(io.BytesIO(opened.read(sorted(opened.namelist())[number]))).convert(
            "RGBA"
        )


def test_numbered_frames_are_the_scenes_own(tmp_path):
    whole = tags()
    path, result = rendered(whole, tmp_path, "frames", from_s=0.2, to_s=1.0)
    with zipfile.ZipFile(path) as opened:
        names = opened.namelist()
        assert opened.testzip() is None
    assert names == [f"reveal_{n:05d}.png" for n in range(5, 25)] and result.frames == 20
    picture = first_png(path, 7)
    assert picture.size == (320, 180)
    assert picture.getpixel(WHOLE) == (*TEAL, 255) and picture.getpixel(BARE)[3] == 0
    r, g, b, a = picture.getpixel(HALF)
    assert abs(a - 128) <= 1 and max(abs(x - y) for x, y in zip((r, g, b), EMBER, strict=True)) <= 2


def test_the_same_frames_are_the_same_file(tmp_path):
    first, _ = rendered(tags(), tmp_path, "frames", wide=1)
    once = first.read_bytes()
    again, _ = rendered(tags(), tmp_path, "frames", wide=2)
    assert again.read_bytes() == once


@pytest.mark.parametrize("format", ["mov", "frames"])
def test_odd_sides_stay_where_the_format_allows(tmp_path, format):
    whole = tags(width=321, height=181)
    path, result = rendered(whole, tmp_path, format)
    assert (result.width, result.height, result.notice) == (321, 181, "")
    if format == "mov":
        assert open_footage(path.read_bytes()).frame(3).shape == (181, 321, 4)
    else:
        assert first_png(path).size == (321, 181)


def test_odd_sides_are_padded_where_it_does_not(tmp_path):
    path, result = rendered(tags(width=321, height=181), tmp_path, "webm")
    assert (result.width, result.height) == (322, 182) and "VP9" in result.notice
    assert open_footage(path.read_bytes()).frame(0).shape == (182, 322, 4)


def test_with_its_ground_a_scene_is_opaque(tmp_path):
    path, _ = rendered(tags(), tmp_path, "mov", transparent=False)
    assert int(open_footage(path.read_bytes()).frame(0)[:, :, 3].min()) == 255


def test_a_range_without_frames_is_refused(tmp_path):
    with pytest.raises(DocumentError):
        rendered(tags(), tmp_path, "mov", from_s=0.9, to_s=0.2)


@pytest.mark.parametrize(
    ("ground", "colour"), [("#000000", (0, 0, 0)), ("#f8f1e4", (248, 241, 228))]
)
def test_a_file_that_cannot_be_seen_through_gets_the_ground_that_is_chosen(
    tmp_path, ground, colour
):
    whole = tags(ground=None)
    path, _ = rendered(whole, tmp_path, "mp4", ground=ground, quality="best")
    pixels = open_footage(path.read_bytes()).frame(12)
    half = [round(e * 128 / 255 + g * 127 / 255) for e, g in zip(EMBER, colour, strict=True)]
    for point, expected in ((BARE, colour), (WHOLE, TEAL), (HALF, half)):
        found = at(pixels, point)
        assert max(abs(a - b) for a, b in zip(found[:3], expected, strict=True)) <= 6
