"""Sound in rendered files, decoded again: as long, as loud and at the moment that it should be."""

from __future__ import annotations

import struct
from fractions import Fraction

import av
import numpy as np
import pytest
from tests.build import key, layer, scene
from tests.core.media.test_sound import float_wav
from tests.jobs.test_render_jobs import Here
from tests.sounds import noise

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.catalog import check_project
from young_comet.core.export import RenderSettings
from young_comet.core.mix import SceneMix
from young_comet.core.model import Project, RateModel
from young_comet.errors import DocumentError, RenderCancelled, RenderError
from young_comet.jobs import LocalProcesses, render_scene
from young_comet.store.assets import AssetStore

RATES = {"24": (24, 1), "25": (25, 1), "29.97": (30_000, 1001), "60": (60, 1)}
FLASH_S = 1.0


def click():
    """Silence, and a burst that begins at once."""
    samples = np.zeros((SAMPLE_RATE // 2, 2), np.float32)
    at = np.arange(480) / SAMPLE_RATE
    samples[:480] = (0.9 * np.sin(2 * np.pi * 1000 * at) * np.linspace(1, 0, 480))[:, None]
    return samples


def flashing(tmp_path, rate=(25, 1), sound=None, **values):
    """White from a second on, and a click with it."""
    store = AssetStore(tmp_path / "assets")
    found = store.ingest("click.wav", float_wav(click() if sound is None else sound), "click")
    model = RateModel(num=rate[0], den=rate[1])
    start_s = model.rate.snap(FLASH_S)
    flash = layer("flash", "backdrop", start_s, 2.0, fill__colour="#ffffff")
    heard = layer("hit", "sound", start_s, 2.0, sound__asset="click", **values)
    shown = scene(flash, heard, rate=model, length_s=model.rate.snap(2.0), width=64, height=36)
    whole = check_project(Project(id="kites", name="Kite Week", scenes=(shown,), assets=(found,)))
    return whole, store, start_s


def rendered(project, store, path, engine=None, **settings):
    settings.setdefault("format", path.suffix[1:])
    return render_scene(
        project, "reveal", RenderSettings(**settings), path, store._folder, engine=engine or Here()
    )


def decoded(path):
    """Samples (n, 2) with the time of the first, and the times of pictures with their brightness."""
    with av.open(str(path)) as file:
        frames = list(file.decode(audio=0))
        blocks = [f.to_ndarray() for f in frames]
        if not frames[0].format.is_planar:
            blocks = [block.reshape(-1, 2).T for block in blocks]
        samples = np.concatenate(blocks, axis=1).T
        begins = float(frames[0].time)
        rate = frames[0].sample_rate
    pictures = []
    with av.open(str(path)) as file:
        if file.streams.video:
            pictures = [
                (float(f.time), f.to_ndarray(format="gray").mean()) for f in file.decode(video=0)
            ]
    return samples, begins, rate, pictures


def riff(data):
    """The chunks of a WAV file, read as the format is described."""
    assert data[:4] == b"RIFF" and data[8:12] == b"WAVE"
    found, at = {}, 12
    while at + 8 <= len(data):
        size = struct.unpack_from("<I", data, at + 4)[0]
        found[data[at : at + 4]] = data[at + 8 : at + 8 + size]
        at += 8 + size + size % 2
    return found


def begins_at(samples, begins, rate):
    """When it becomes loud."""
    level = np.abs(samples).max(axis=1)
    return begins + int(np.flatnonzero(level > 0.2 * level.max())[0]) / rate


# How far apart they may be (s), and how much a codec may add to the end (samples).
APART = {"mp4": (0.01, 2048), "mov": (0.001, 0), "webm": (0.01, 2000)}


@pytest.mark.parametrize("name", RATES)
@pytest.mark.parametrize(("format", "wide"), [("mp4", 1), ("mp4", 2), ("mov", 2), ("webm", 2)])
def test_a_flash_and_a_click_stay_together_in_a_video(tmp_path, name, format, wide):
    project, store, start_s = flashing(tmp_path, RATES[name])
    path = tmp_path / f"flash.{format}"
    rendered(project, store, path, Here(wide))
    samples, begins, rate, pictures = decoded(path)
    flash_s = next(time for time, level in pictures if level > 128)
    apart, padding = APART[format]
    # WebM counts in milliseconds.
    assert flash_s == pytest.approx(start_s, abs=1e-4 if format != "webm" else 6e-4)
    assert begins_at(samples, begins, rate) == pytest.approx(flash_s, abs=apart)
    length_s = project.scenes[0].length_s
    assert abs(begins + len(samples) / rate - length_s) <= (padding + 1) / rate
    frames = Fraction(len(pictures) * RATES[name][1], RATES[name][0])
    assert float(frames) == pytest.approx(length_s, abs=1e-6)


@pytest.mark.parametrize("name", RATES)
def test_sound_alone_is_exact(tmp_path, name):
    project, store, start_s = flashing(tmp_path, RATES[name])
    rendered(project, store, tmp_path / "flash.wav")
    chunks = riff((tmp_path / "flash.wav").read_bytes())
    _, channels, rate, _, _, bits = struct.unpack_from("<HHIIHH", chunks[b"fmt "])
    assert (channels, rate, bits) == (2, SAMPLE_RATE, 24)
    bytes_ = np.frombuffer(chunks[b"data"], np.uint8).reshape(-1, 3)
    length = len(bytes_) // 2
    assert length == round(project.scenes[0].length_s * SAMPLE_RATE)
    padded = np.concatenate([np.zeros((len(bytes_), 1), np.uint8), bytes_], axis=1)
    values = padded.copy().view("<i4").reshape(-1, 2) / 2**31
    mix = SceneMix.of(project, "reveal", store).read(0, length)
    assert np.abs(values - mix).max() <= 0.51 / 2**23
    first = int(np.flatnonzero(np.abs(values).max(axis=1) > 0)[0])
    assert abs(first / SAMPLE_RATE - start_s) < 1e-3


def test_flac_holds_what_wav_holds(tmp_path):
    project, store, _ = flashing(tmp_path, sound=noise(0.8))
    for format in ("wav", "flac"):
        rendered(project, store, tmp_path / f"a.{format}")
    found = [decoded(tmp_path / f"a.{format}")[0] for format in ("wav", "flac")]
    wav = found[0].reshape(-1, 2)
    assert np.array_equal(wav, found[1].reshape(-1, 2))


def test_a_range_is_heard_from_its_first_frame(tmp_path):
    project, store, _ = flashing(tmp_path, sound=noise(0.8))
    rendered(project, store, tmp_path / "a.wav", from_s=1.2, to_s=1.6)
    samples = decoded(tmp_path / "a.wav")[0].reshape(-1, 2) / 2**31
    mix = SceneMix.of(project, "reveal", store).read(round(1.2 * SAMPLE_RATE), len(samples))
    assert len(samples) == round(0.4 * SAMPLE_RATE) and np.abs(samples - mix).max() < 1e-6


def test_two_processes_render_what_one_does(tmp_path):
    project, store, _ = flashing(tmp_path)
    rendered(project, store, tmp_path / "one.mp4")
    rendered(project, store, tmp_path / "two.mp4", LocalProcesses(2))
    one, two = (decoded(tmp_path / f"{name}.mp4")[0] for name in ("one", "two"))
    assert np.array_equal(one, two)


def test_what_is_silent_has_no_stream(tmp_path):
    project, store, _ = flashing(tmp_path)
    quiet = project.model_copy(update={"scenes": (project.scenes[0].model_copy(
        update={"layers": project.scenes[0].layers[:1]}),)})  # fmt: skip
    rendered(quiet, store, tmp_path / "quiet.mp4")
    rendered(project, store, tmp_path / "unheard.mp4", sound=False)
    for name in ("quiet", "unheard"):
        with av.open(str(tmp_path / f"{name}.mp4")) as file:
            assert not file.streams.audio and len(file.streams.video) == 1
    with pytest.raises(DocumentError, match="nothing is heard"):
        rendered(quiet, store, tmp_path / "quiet.wav")
    assert not (tmp_path / "quiet.wav").exists()


def test_what_is_too_loud_is_cut_off_and_said(tmp_path):
    project, store, _ = flashing(tmp_path, sound__gain=12.0)
    result = rendered(project, store, tmp_path / "loud.wav")
    assert "dB louder than files can hold" in result.notice
    samples = decoded(tmp_path / "loud.wav")[0]
    assert samples.max() < 2**31 and np.abs(samples / 2**31).max() > 0.999


@pytest.mark.parametrize("format", ["wav", "mp4"])
def test_a_sound_that_is_gone_stops_a_render_by_name_or_is_told_of(tmp_path, format):
    project, store, _ = flashing(tmp_path)
    for path in (tmp_path / "assets").rglob("*"):
        if path.is_file():
            path.unlink()
    target = tmp_path / f"a.{format}"
    with pytest.raises(RenderError, match="layer 'Hit'"):
        rendered(project, store, target)
    assert not target.exists()
    result = rendered(project, store, target, gaps="mark")
    assert "'Hit'" in result.notice and target.exists()


def test_a_cancelled_render_leaves_nothing(tmp_path):
    project, store, _ = flashing(tmp_path)
    with pytest.raises(RenderCancelled):
        render_scene(
            project, "reveal", RenderSettings(format="wav"), tmp_path / "a.wav", store._folder,
            engine=Here(), cancelled=lambda: True,
        )  # fmt: skip
    assert not (tmp_path / "a.wav").exists() and not list(tmp_path.glob(".render-*"))


def test_keyed_gain_is_in_the_file(tmp_path):
    keys = [key(0.0, -30.0), key(0.8, 0.0)]
    project, store, start_s = flashing(tmp_path, sound=np.full((48_000, 2), 0.5), sound__gain=keys)
    rendered(project, store, tmp_path / "a.wav")
    samples = decoded(tmp_path / "a.wav")[0].reshape(-1, 2) / 2**31
    for local_s in (0.1, 0.4, 0.79):
        db = -30 + 30 * local_s / 0.8
        value = samples[round((start_s + local_s) * SAMPLE_RATE), 0]
        assert value == pytest.approx(0.5 * 10 ** (db / 20), abs=1e-5)
