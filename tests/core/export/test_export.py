import os
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from pydantic import ValidationError
from tests.build import draw, key, layer, project

from young_comet.core.export import (
    FORMATS,
    QUALITIES,
    Mp4Writer,
    RenderSettings,
    encode_png,
    frame_range,
    picture_size,
)
from young_comet.core.export.still import over_checkerboard
from young_comet.core.export.videos import MP4, join_parts
from young_comet.core.model import RateModel
from young_comet.core.timing import Rate
from young_comet.errors import DocumentError, StorageFullError


def moving(**more):
    keys = [key(0, [50, 90]), key(2, [250, 90])]
    return project(layer("box", "shape", shape__size=[80, 60], position=keys), **more)


def write(path: Path, rate: Rate, frames: range) -> None:
    document = moving()
    with Mp4Writer(path, 320, 180, rate, QUALITIES["good"]) as writer:
        for n in frames:
            writer.write(draw(document, n / 25))


@pytest.mark.parametrize("rate", [Rate(25), Rate(30000, 1001)])
def test_joined_parts_play_as_one_video(tmp_path, rate):
    parts = [tmp_path / "a.mp4", tmp_path / "b.mp4"]
    write(parts[0], rate, range(0, 30))
    write(parts[1], rate, range(30, 50))
    whole = tmp_path / "whole.mp4"
    join_parts(MP4, parts, [30, 20], rate, whole)
    with av.open(str(whole)) as video:
        stream = video.streams.video[0]
        frames = list(video.decode(stream))
        assert (stream.width, stream.height) == (320, 180)
        assert (
            stream.average_rate == rate.num / rate.den or stream.average_rate.numerator == rate.num
        )
        context = stream.codec_context
        assert (context.colorspace, context.color_primaries, context.color_trc) == (1, 1, 1)
        assert context.color_range == 1
    assert len(frames) == 50
    times = [frame.time for frame in frames]
    assert times == pytest.approx([rate.time_of(n) for n in range(50)], abs=1e-4)
    for n in (0, 29, 30, 49):
        planes = frames[n].to_ndarray(format="yuv420p")[:180].astype(int)
        row = planes[90]
        left = int(np.argmax(row > 80))
        assert left == pytest.approx(50 + n * 4 - 40, abs=2)


def test_a_full_disk_is_told_as_such(tmp_path):
    if not os.path.exists("/dev/full"):
        pytest.skip("no /dev/full on this system")
    target = tmp_path / "full.mp4"
    target.symlink_to("/dev/full")
    with pytest.raises(StorageFullError, match="disk is full"):
        write(target, Rate(25), range(40))


def test_stills_keep_alpha_only_where_there_is_some():
    document = moving()
    opaque = cv2.imdecode(np.frombuffer(encode_png(draw(document)), np.uint8), cv2.IMREAD_UNCHANGED)
    assert opaque.shape == (180, 320, 3)
    clear = encode_png(draw(document, transparent=True))
    pixels = cv2.imdecode(np.frombuffer(clear, np.uint8), cv2.IMREAD_UNCHANGED)
    assert pixels.shape == (180, 320, 4)
    assert tuple(pixels[90, 50]) == (0x45, 0x7A, 0xFF, 255) and pixels[5, 5, 3] == 0


def test_the_preview_shows_a_checkerboard_where_nothing_is():
    shown = over_checkerboard(draw(moving(), transparent=True))
    assert set(np.unique(shown[:24, 200:240, 0])) == {30, 44}
    assert tuple(shown[90, 50]) == (0x45, 0x7A, 0xFF, 255)


def test_ranges_count_the_frames_whose_start_is_inside():
    scene = moving(length_s=4.0).scenes[0]
    assert frame_range(scene, RenderSettings()) == range(0, 100)
    assert frame_range(scene, RenderSettings(from_s=1, to_s=2)) == range(25, 50)
    assert frame_range(scene, RenderSettings(to_s=99)) == range(0, 100)
    with pytest.raises(DocumentError, match="no frame"):
        frame_range(scene, RenderSettings(from_s=5))
    with pytest.raises(DocumentError, match="no frame"):
        frame_range(scene, RenderSettings(from_s=2, to_s=1))
    ntsc = moving(rate=RateModel(num=30000, den=1001)).scenes[0]
    assert len(frame_range(ntsc, RenderSettings())) == ntsc.frame_count == 120


def test_odd_sizes_are_padded_or_cropped_with_a_notice():
    scene = moving(width=321, height=181).scenes[0]
    assert picture_size(scene, RenderSettings(), FORMATS["mp4"])[:2] == (322, 182)
    width, height, notice = picture_size(scene, RenderSettings(odd="crop"), FORMATS["mp4"])
    assert (width, height) == (320, 180) and "cropped" in notice
    assert picture_size(moving().scenes[0], RenderSettings(), FORMATS["mp4"])[2] == ""
    with pytest.raises(DocumentError, match="scale"):
        picture_size(moving(width=8192).scenes[0], RenderSettings(scale=2), FORMATS["png"])


@pytest.mark.parametrize(
    "wrong",
    [
        {"format": "avi"},
        {"scale": 0},
        {"scale": float("nan")},
        {"quality": "superb"},
        {"from_s": -1},
        {"to_s": float("inf")},
        {"surprise": 1},
    ],
)
def test_settings_out_of_range_are_refused(wrong):
    with pytest.raises(ValidationError):
        RenderSettings(**wrong)
