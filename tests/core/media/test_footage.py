import random
from fractions import Fraction

import numpy as np
import pytest
from tests.footage import animation, number_of, video

from young_comet.core.media import check_footage, index_at, is_animated, open_footage
from young_comet.errors import MediaError, MediaTooLargeError

KINDS = {
    "mp4": {},
    "mp4-b-frames": {"bf": "3", "preset": "medium"},
    "mov-prores": {"codec": "prores_ks", "format": "mov", "pix_fmt": "yuva444p10le", "alpha": 128},
    "webm-vp9": dict(
        codec="libvpx-vp9", format="webm", **{"deadline": "realtime", "cpu-used": "8"}
    ),
    "webm-alpha": dict(
        codec="libvpx-vp9",
        format="webm",
        pix_fmt="yuva420p",
        alpha=128,
        **{"deadline": "realtime", "cpu-used": "8"},
    ),
    "mov-qtrle": {"codec": "qtrle", "format": "mov", "pix_fmt": "argb", "alpha": 128},
}


@pytest.mark.parametrize("kind", KINDS)
def test_every_frame_is_found_in_any_order(kind):
    footage = open_footage(video(30, **KINDS[kind]))
    order = [
        *list(range(30)),
        29,
        0,
        15,
        14,
        13,
        29,
        12,
        11,
        *random.Random(4).sample(range(30), 20),
    ]
    for index in order:
        assert number_of(footage.frame(index)) == index


@pytest.mark.parametrize("kind", KINDS)
def test_size_length_rate_and_transparency_are_told(kind):
    info = check_footage(video(30, **KINDS[kind]))
    assert (info.width, info.height, info.frame_count) == (128, 64, 30)
    assert info.duration_s == pytest.approx(1.2, abs=1e-3)
    assert info.rate is not None and info.rate.fps == 25
    assert info.alpha == ("alpha" in KINDS[kind])


@pytest.mark.parametrize("kind", [k for k in KINDS if "alpha" in KINDS[k]])
def test_alpha_is_read_premultiplied(kind):
    pixel = open_footage(video(4, **KINDS[kind])).frame(2)[56, 64].astype(int)
    assert pixel[3] == pytest.approx(128, abs=4)
    straight = np.array([69, 122, 255])
    assert np.abs(pixel[:3] - straight * pixel[3] / 255).max() < 12


def test_colours_come_back_as_they_were_drawn():
    # x264 keeps flat colours to a few steps; a wrong matrix or range would be off by ten and more.
    pixel = open_footage(video(3, qp="4")).frame(1)[56, 64].astype(int)
    assert np.abs(pixel[:3] - np.array([69, 122, 255])).max() <= 5


def test_the_rate_of_broadcast_is_its_fraction():
    info = check_footage(video(40, rate=Fraction(30000, 1001)))
    assert (info.rate.num, info.rate.den) == (30000, 1001)
    footage = open_footage(video(40, rate=Fraction(30000, 1001)))
    for index in (0, 7, 39):
        assert index_at(footage.times, (index + 0.5) * 1001 / 30000) == index


@pytest.mark.parametrize("format", ["GIF", "PNG", "WEBP"])
def test_animated_pictures_are_clips(format):
    data = animation(7, format)
    assert is_animated(data)
    info = check_footage(data)
    assert info.frame_count == 7 and info.rate.fps == 25
    footage = open_footage(data)
    for index in (0, 6, 3, 2, 5):
        assert number_of(footage.frame(index)) == index


def test_frames_of_different_lengths_keep_their_own_times():
    data = animation(3, "WEBP", duration=[40, 200, 80])
    info = check_footage(data)
    assert info.rate is None and info.duration_s == pytest.approx(0.32)
    times = open_footage(data).times
    assert times == pytest.approx([0, 0.04, 0.24])
    assert [index_at(times, t) for t in (0.03, 0.05, 0.2, 0.25, 9)] == [0, 1, 1, 2, 2]


def test_a_still_is_no_clip():
    assert not is_animated(animation(1, "GIF"))


@pytest.mark.parametrize(
    "damage",
    [
        lambda d: d[:200],
        lambda d: d[:8] + bytes(400),
        lambda d: b"\x1aE\xdf\xa3" + d[4:],
        lambda d: b"#EXTM3U\n" + d,
    ],
)
def test_damaged_and_foreign_files_are_refused(damage):
    with pytest.raises(MediaError):
        check_footage(damage(video(5)))


def test_too_many_pixels_are_refused_before_decoding():
    with pytest.raises(MediaTooLargeError):
        check_footage(video(3), max_pixels=1000)


def test_greys_and_colours_of_our_own_yuv_come_back_without_a_bias():
    """What is encoded by ITU-R BT.709 (219 steps of luma) and decoded again is as bright on the
    mean, and no level differs by more than the steps allow."""
    import av

    from young_comet.core.media.footage import _ROUNDED
    from young_comet.core.pixels.yuv import to_i420

    chance = np.random.default_rng(3)
    greys = [(g, g, g) for g in range(256)]
    colours = [tuple(int(c) for c in chance.integers(0, 256, 3)) for _ in range(200)]
    for shades, most in ((greys, 1), (colours, 3)):
        apart = []
        for shade in shades:
            pixels = np.full((16, 16, 4), 255, np.uint8)
            pixels[..., :3] = shade
            planes = np.empty((24, 16), np.uint8)
            to_i420(pixels, planes)
            frame = av.VideoFrame.from_ndarray(planes, format="yuv420p")
            back = frame.reformat(
                format="bgra",
                src_colorspace=1,
                dst_colorspace=1,
                dst_color_range=2,
                interpolation=_ROUNDED,
            ).to_ndarray()
            apart.append(back[8, 8, :3].astype(int) - shade)
        assert abs(np.mean(apart)) < 0.12 and np.abs(apart).max() <= most
