"""Sound files of all kinds, good and bad, read as arrays."""

from __future__ import annotations

import io
import struct
import wave

import av
import numpy as np
import pytest
from tests.sounds import encoded, noise, tone

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.media import decode_sound, has_pictures, sound_kind
from young_comet.errors import MediaError, MediaTooLargeError


def read(data, **more):
    blocks = []
    info = decode_sound(data, blocks.append, **more)
    return info, np.concatenate(blocks)


def wav(values, rate=SAMPLE_RATE, bits=16):
    """By Python's own writer: another one than ours."""
    target = io.BytesIO()
    with wave.open(target, "wb") as file:
        file.setnchannels(values.shape[1])
        file.setsampwidth(bits // 8)
        file.setframerate(rate)
        if bits == 8:
            file.writeframes((values * 127 + 128).round().astype(np.uint8).tobytes())
        elif bits == 24:
            whole = (values * (2**23 - 1)).round().astype("<i4")
            file.writeframes(whole.view(np.uint8).reshape(*values.shape, 4)[..., :3].tobytes())
        else:
            file.writeframes((values * (2**15 - 1)).round().astype("<i2").tobytes())
    return target.getvalue()


def float_wav(values, rate=SAMPLE_RATE):
    data = values.astype("<f4").tobytes()
    channels = values.shape[1]
    head = struct.pack("<4sI4s4sIHHIIHH", b"RIFF", 36 + len(data), b"WAVE", b"fmt ", 16, 3, channels,
                       rate, rate * channels * 4, channels * 4, 32)  # fmt: skip
    return head + struct.pack("<4sI", b"data", len(data)) + data


@pytest.mark.parametrize(("bits", "error"), [(8, 1 / 120), (16, 1 / 32000), (24, 1 / 8_000_000)])
def test_a_wav_is_its_samples(bits, error):
    values = noise(0.5)
    info, found = read(wav(values, bits=bits))
    assert (info.media_type, info.channels, info.sample_rate) == ("audio/wav", 2, SAMPLE_RATE)
    assert found.shape == values.shape and np.abs(found - values).max() <= error


def test_a_wav_of_floats_is_its_samples_and_what_is_no_number_is_silent():
    values = noise(0.2) * 4  # beyond full scale, which floats may be
    values[100:110, 0], values[200, 1], values[300] = np.nan, np.inf, 1e30
    info, found = read(float_wav(values))
    assert "11 of its samples are no numbers" in info.notes[0]
    keep = np.ones(len(values), bool)
    keep[[*range(100, 110), 200, 300]] = False
    assert np.abs(found[keep] - values[keep]).max() < 1e-6
    assert np.isfinite(found).all() and not found[100:110, 0].any() and np.abs(found).max() <= 64


FORMATS = [
    ("flac", "flac", 44_100, "audio/flac", 0), ("mp3", "libmp3lame", 44_100, "audio/mpeg", 2400),
    ("ogg", "libopus", 48_000, "audio/ogg", 400), ("adts", "aac", 44_100, "audio/aac", 4096),
    ("mp4", "aac", 44_100, "audio/mp4", 2400), ("mp4", "alac", 44_100, "audio/mp4", 0),
    ("mov", "pcm_s16le", 48_000, "audio/mp4", 0), ("webm", "libopus", 48_000, "audio/webm", 400),
]  # fmt: skip


@pytest.mark.parametrize(("format", "codec", "rate", "media_type", "padding"), FORMATS)
def test_every_format_is_read_as_long_and_as_it_sounds(format, codec, rate, media_type, padding):
    values = tone(440, 2.0, rate)
    data = encoded(values, rate, format=format, codec=codec)
    info, found = read(data)
    assert info.media_type == media_type and info.channels == 2
    assert abs(len(found) - 2 * SAMPLE_RATE) <= padding + 1
    # Where it is loudest in a spectrum.
    middle = found[SAMPLE_RATE // 2 : SAMPLE_RATE * 3 // 2, 0] * np.hanning(SAMPLE_RATE)
    assert abs(int(np.abs(np.fft.rfft(middle)).argmax()) - 440) <= 1


@pytest.mark.parametrize("rate", [8_000, 11_025, 22_050, 44_100, 96_000, 192_000])
def test_a_sine_at_any_rate_is_the_sine_that_it_is(rate):
    hertz = 997
    _, found = read(float_wav(tone(hertz, 1.0, rate), rate))
    assert abs(len(found) - SAMPLE_RATE) <= 1
    expected = tone(hertz, 1.0)[: len(found)]
    inside = slice(4800, len(found) - 4800)
    error = np.sqrt(((found[inside] - expected[inside]) ** 2).mean() / (expected**2).mean())
    assert 20 * np.log10(error) < -90


def test_one_channel_is_heard_on_both_sides_and_many_as_two():
    mono = noise(0.1)[:, :1]
    _, found = read(wav(mono, bits=24))
    assert np.abs(found - mono).max() < 1e-6
    # 5.1: left, right, middle, low effects, left and right behind (ITU-R BS.775).
    six = np.zeros((6000, 6), np.float32)
    for channel in range(6):
        six[channel * 1000 : channel * 1000 + 1000, channel] = 0.5
    info, found = read(encoded(six, SAMPLE_RATE, format="wav", codec="pcm_f32le", layout="5.1"))
    half = 0.5 * 0.5**0.5
    expected = [(0.5, 0), (0, 0.5), (half, half), (0, 0), (half, 0), (0, half)]
    for channel, pair in enumerate(expected):
        assert found[channel * 1000 + 500] == pytest.approx(pair, abs=1e-6)
    assert "6 channels" in info.notes[0]


def test_eight_channels_are_read():
    info, found = read(wav(np.repeat(noise(0.2)[:, :1], 8, axis=1)))
    assert info.channels == 8 and np.isfinite(found).all() and np.abs(found).max() > 0.1


def film(sound_first_s=0.0):
    """A film of pictures with a click half a second after its first one."""
    target = io.BytesIO()
    with av.open(target, "w", format="mov") as file:
        pictures = file.add_stream("mpeg4", rate=25)
        pictures.width, pictures.height, pictures.pix_fmt = 64, 36, "yuv420p"
        sound = file.add_stream("pcm_s16le", rate=SAMPLE_RATE, layout="mono")
        for number in range(25):
            frame = av.VideoFrame.from_ndarray(
                np.full((36, 64, 3), number, np.uint8), format="rgb24"
            )
            frame.pts = number
            file.mux(pictures.encode(frame))
        file.mux(pictures.encode())
        samples = np.zeros((1, SAMPLE_RATE), np.int16)
        samples[0, round((0.5 - sound_first_s) * SAMPLE_RATE)] = 30_000
        frame = av.AudioFrame.from_ndarray(samples, format="s16", layout="mono")
        frame.sample_rate, frame.pts = SAMPLE_RATE, round(sound_first_s * SAMPLE_RATE)
        file.mux(sound.encode(frame))
        file.mux(sound.encode())
    return target.getvalue()


@pytest.mark.parametrize("late_s", [0.0, 0.2])
def test_the_sound_of_a_film_begins_with_its_first_picture(late_s):
    data = film(late_s)
    assert sound_kind(data) == "mov" and has_pictures(data, "mov")
    _, found = read(data)
    assert abs(int(np.abs(found[:, 0]).argmax()) - SAMPLE_RATE // 2) <= 1


def test_a_film_without_sound_has_none():
    target = io.BytesIO()
    with av.open(target, "w", format="mp4") as file:
        pictures = file.add_stream("mpeg4", rate=25)
        pictures.width, pictures.height, pictures.pix_fmt = 64, 36, "yuv420p"
        frame = av.VideoFrame.from_ndarray(np.zeros((36, 64, 3), np.uint8), format="rgb24")
        file.mux(pictures.encode(frame))
        file.mux(pictures.encode())
    assert decode_sound(target.getvalue(), lambda block: None) is None


BAD = {
    "nothing": b"", "words": b"the wind is up", "only a head": wav(noise(0.1))[:40],
    "no samples": wav(np.zeros((0, 2))), "a head of FLAC": b"fLaC" + b"\0" * 200,
    "a head of Ogg": b"OggS" + b"\xff" * 200, "a head of MP3": b"ID3\x04\0\0\0\0\0\x10" + b"\0" * 200,
    "a playlist": b"#EXTM3U\nfile:///etc/passwd\n",
}  # fmt: skip


@pytest.mark.parametrize("what", BAD)
def test_what_is_no_sound_is_refused_in_words(what):
    with pytest.raises(MediaError):
        read(BAD[what])


@pytest.mark.parametrize("cut", [0.2, 0.5, 0.9, 0.99])
@pytest.mark.parametrize(
    ("format", "codec"), [("flac", "flac"), ("mp3", "libmp3lame"), ("ogg", "libopus")]
)
def test_what_is_cut_short_is_read_as_far_as_it_goes_or_refused(format, codec, cut):
    data = encoded(noise(1.0), SAMPLE_RATE, format=format, codec=codec)
    try:
        _, found = read(data[: round(len(data) * cut)])
    except MediaError:
        return
    assert np.isfinite(found).all() and len(found) <= 1.1 * SAMPLE_RATE


def test_what_is_damaged_never_does_more_than_be_refused():
    random = np.random.default_rng(5)
    whole = {
        format: encoded(noise(0.3), SAMPLE_RATE, format=format, codec=codec)
        for format, codec in (("flac", "flac"), ("mp3", "libmp3lame"), ("ogg", "libopus"),
                              ("mp4", "aac"), ("wav", "pcm_s16le"), ("adts", "aac"))
    }  # fmt: skip
    for data in whole.values():
        for _ in range(40):
            torn = bytearray(data)
            for at in random.integers(0, len(torn), random.integers(1, 40)):
                torn[at] = random.integers(0, 256)
            try:
                blocks = []
                info = decode_sound(bytes(torn), blocks.append, max_seconds=60)
            except MediaError:
                continue
            assert info is None or info.samples == sum(len(block) for block in blocks)
            assert all(np.isfinite(block).all() for block in blocks)


def test_longer_than_it_may_be_is_refused():
    with pytest.raises(MediaTooLargeError, match=r"longer than 0\.5 s"):
        read(wav(noise(1.0)), max_seconds=0.5)
