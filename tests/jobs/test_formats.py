"""Every format, opened again by another reader: size, count, times, alpha, colours, words."""

from __future__ import annotations

import io
import zipfile

import av
import cv2
import numpy as np
import pytest
from PIL import Image
from tests.build import draw, key, layer, project
from tests.jobs.test_heard_renders import flashing
from tests.jobs.test_render_jobs import Here
from tests.jobs.test_see_through import BARE, EMBER, HALF, TEAL, WHOLE, tags

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.export import FORMATS, RenderSettings, measured
from young_comet.core.export.palette import palette_of
from young_comet.core.export.patches import changed
from young_comet.core.model import Property, RateModel
from young_comet.errors import DocumentError, RenderCancelled
from young_comet.jobs import render, render_scene

ANIMATIONS = ("gif", "webp", "apng")


def made(whole, tmp_path, format, wide=2, **settings):
    chosen = RenderSettings(format=format, **settings)
    targets = {each: tmp_path / f"{each}.{FORMATS[each].ending}" for each in chosen.formats}
    result = render_scene(whole, "reveal", chosen, targets, tmp_path, engine=Here(wide))
    return targets, result


def animation(path):
    """Frames (RGBA arrays) and how long each is shown (ms), by Pillow."""
    frames, lasts = [], []
    with Image.open(path) as opened:
        for number in range(opened.n_frames):
            opened.seek(number)
            frames.append(np.asarray(opened.convert("RGBA")))
            lasts.append(opened.info["duration"])
    return frames, lasts


@pytest.mark.parametrize("format", ANIMATIONS)
@pytest.mark.parametrize("rate", [(25, 1), (30, 1), (30_000, 1001), (24, 1), (50, 1)])
def test_animations_have_all_frames_for_as_long_as_they_last(tmp_path, format, rate):
    box = layer("box", "shape", shape__size=[80, 60],
                position=[key(0, [50, 90], "linear"), key(1, [250, 90])])  # fmt: skip
    whole = project(layer("sky", "backdrop", fill__colour="#17224d"), box, length_s=1.0,
                    rate=RateModel(num=rate[0], den=rate[1]))  # fmt: skip
    paths, result = made(whole, tmp_path, format)
    frames, lasts = animation(paths[format])
    count = whole.scenes[0].frame_count
    assert len(frames) == count == result.frames and frames[0].shape == (180, 320, 4)
    assert sum(lasts) == pytest.approx(1000 * count * rate[1] / rate[0], abs=5)
    # Near each join, and at both ends, the shape is where it is at that time.
    for number in (0, count // 2 - 1, count // 2, count - 1):
        time_s = number * rate[1] / rate[0]
        expected = draw(whole, time_s)[:, :, 2::-1]
        error = np.abs(frames[number][:, :, :3].astype(int) - expected)
        assert error.mean() < (1.5 if format != "apng" else 0.01)


@pytest.mark.parametrize("format", ANIMATIONS)
def test_what_is_transparent_stays_so(tmp_path, format):
    paths, _ = made(tags(), tmp_path, format, transparent=True)
    frames, _ = animation(paths[format])
    for number in (0, 12, 24):
        found = [tuple(int(v) for v in frames[number][y, x]) for x, y in (HALF, WHOLE, BARE)]
        assert found[2][3] == 0 and found[1][3] == 255
        assert max(abs(a - b) for a, b in zip(found[1][:3], TEAL, strict=True)) <= 6
        if format == "gif":  # there or not: half is there, over the matte
            assert found[0][3] == 255
            assert max(abs(a - b / 2) for a, b in zip(found[0][:3], EMBER, strict=True)) <= 8
        else:
            assert abs(found[0][3] - 128) <= 2
            assert max(abs(a - b) for a, b in zip(found[0][:3], EMBER, strict=True)) <= 10


@pytest.mark.parametrize("ground", [None, "#33445580"])
@pytest.mark.parametrize("format", [*ANIMATIONS, "frames", "png", "webp-still"])
def test_a_scene_without_a_whole_ground_is_never_black_in_silence(tmp_path, format, ground):
    """Nobody asked for transparency, but it is there: files that can hold it keep it."""
    paths, _ = made(tags(ground=ground), tmp_path, format)
    if format in ANIMATIONS:
        picture = animation(paths[format])[0][12]
    elif format == "frames":
        with zipfile.ZipFile(paths[format]) as opened:
            picture = np.asarray(Image.open(io.BytesIO(opened.read(opened.namelist()[12]))))
    else:
        picture = np.asarray(Image.open(paths[format]))
    expected = 0 if ground is None else 255 if format == "gif" else 128
    assert picture.shape[2] == 4
    assert abs(int(picture[BARE[1], BARE[0], 3]) - expected) <= 1
    assert picture[WHOLE[1], WHOLE[0], 3] == 255


def test_what_was_there_and_is_gone_is_gone_in_a_gif(tmp_path):
    """Transparent again where something has been."""
    keys = [key(0, [50, 90], "linear"), key(1, [270, 90])]
    whole = project(layer("kite", "shape", shape__size=[40, 40], position=keys), length_s=1.0)
    for format in ANIMATIONS:
        paths, _ = made(whole, tmp_path, format, transparent=True)
        frames, _ = animation(paths[format])
        assert frames[0][90, 50, 3] == 255 and frames[-1][90, 50, 3] == 0
        assert (frames[-1][:, :, 3] > 128).sum() == pytest.approx(1600, abs=90)


def test_an_apng_is_the_scene_to_the_bit_and_opens_as_a_still(tmp_path):
    whole = project(layer("box", "shape", opacity=40.0, shape__size=[90, 90],
                          position=[160, 90]), length_s=0.4)  # fmt: skip
    paths, _ = made(whole, tmp_path, "apng", transparent=True)
    frames, _ = animation(paths["apng"])
    with av.open(str(paths["apng"])) as file:
        read = [frame.to_ndarray(format="rgba") for frame in file.decode(video=0)]
    assert len(read) == len(frames) == 10
    assert all(np.array_equal(a, b) for a, b in zip(read, frames, strict=True))
    still = cv2.imread(str(paths["apng"]), cv2.IMREAD_UNCHANGED)
    assert np.array_equal(still[:, :, [2, 1, 0, 3]], frames[0])


@pytest.mark.parametrize("loops", [0, 1, 3])
@pytest.mark.parametrize("format", ANIMATIONS)
def test_how_often_an_animation_plays(tmp_path, format, loops):
    paths, _ = made(tags(), tmp_path, format, loops=loops, to_s=0.2)
    with Image.open(paths[format]) as opened:
        found = opened.info.get("loop")
    if format == "gif":  # the file counts how often it begins again
        assert found == {0: 0, 1: None, 3: 2}[loops]
    else:
        assert found == loops


@pytest.mark.parametrize("format", ["jpeg", "webp-still", "png"])
@pytest.mark.parametrize("quality", ["draft", "good", "best"])
def test_stills_are_near_the_frame(tmp_path, format, quality):
    whole = project(layer("sky", "backdrop", fill__kind="linear"),
                    layer("kite", "shape", shape__kind="star", position=[160, 90]))  # fmt: skip
    paths, result = made(whole, tmp_path, format, at_s=1.0, quality=quality)
    with Image.open(paths[format]) as opened:
        found = np.asarray(opened.convert("RGB")).astype(int)
        assert opened.format == FORMATS[format].label.upper() and opened.size == (320, 180)
    expected = draw(whole, 1.0)[:, :, 2::-1]
    error = ((found - expected) ** 2).mean()
    exact = format == "png" or (format, quality) == ("webp-still", "best")
    assert error == 0 if exact else 10 * np.log10(255**2 / max(error, 1e-9)) > 33
    assert (result.width, result.height, result.frames) == (320, 180, 1)


def test_a_still_in_the_same_render_in_two_formats_and_over_a_ground(tmp_path):
    paths, _ = made(
        tags(ground=None), tmp_path, "png", also=("jpeg",), transparent=True, ground="#ffffff"
    )
    with Image.open(paths["png"]) as clear, Image.open(paths["jpeg"]) as opaque:
        assert clear.getpixel(BARE)[3] == 0
        assert min(opaque.getpixel(BARE)) >= 253
        half = [(255 + c) / 2 for c in EMBER]
        assert max(abs(a - b) for a, b in zip(opaque.getpixel(HALF), half, strict=True)) < 6


def test_several_formats_at_once_are_what_each_is_alone(tmp_path, monkeypatch):
    from young_comet.jobs import part as parts

    drawn = []

    class Counting(parts.Renderer):
        def render(self, frame, *size, **more):
            drawn.append(frame.time_s if hasattr(frame, "time_s") else 0)
            return super().render(frame, *size, **more)

    monkeypatch.setattr(parts, "Renderer", Counting)
    together, apart = tmp_path / "together", tmp_path / "apart"
    together.mkdir(), apart.mkdir()
    formats = ("mp4", "gif", "apng", "frames")
    paths, _ = made(tags(), together, "mp4", also=formats[1:], to_s=0.4)
    assert len(drawn) == 10  # each frame once, for four files
    for format in formats:
        alone, _ = made(tags(), apart, format, to_s=0.4)
        assert alone[format].read_bytes() == paths[format].read_bytes()


def test_formats_with_and_without_alpha_at_once(tmp_path):
    """What is opaque is drawn with the scene's own ground, not laid over it afterwards."""
    whole = tags(ground="#334455")
    paths, _ = made(whole, tmp_path, "apng", also=("mp4",), transparent=True, to_s=0.2)
    frames, _ = animation(paths["apng"])
    assert frames[0][BARE[1], BARE[0], 3] == 0
    with av.open(str(paths["mp4"])) as file:
        first = next(file.decode(video=0)).to_ndarray(format="rgb24")
    bare = first[BARE[1], BARE[0]].astype(int)
    assert np.abs(bare - (0x33, 0x44, 0x55)).max() <= 4


# Rates, ranges, layers


@pytest.mark.parametrize(
    ("settings", "count", "rate"),
    [
        ({"every": 2}, 13, 12.5),
        ({"every": 5}, 5, 5),
        ({"rate": {"num": 50}}, 50, 50),
        ({"rate": {"num": 10}}, 10, 10),
        ({"rate": {"num": 30_000, "den": 1001}, "from_s": 0.2, "to_s": 0.8}, 18, 30_000 / 1001),
    ],
)
def test_other_frame_rates(tmp_path, settings, count, rate):
    keys = [key(0, [20, 90], "linear"), key(1, [300, 90])]
    whole = project(layer("sky", "backdrop"), layer("box", "shape", shape__size=[20, 20],
                    position=keys), length_s=1.0)  # fmt: skip
    paths, result = made(whole, tmp_path, "frames", also=("mp4",), **settings)
    start_s = settings.get("from_s", 0.0)
    with av.open(str(paths["mp4"])) as file:
        stream = file.streams.video[0]
        times = [frame.time for frame in file.decode(stream)]
        assert float(stream.average_rate) == pytest.approx(rate, rel=1e-6)
    assert len(times) == result.frames == count
    assert times == pytest.approx([n / rate for n in range(count)], abs=1e-3)
    with zipfile.ZipFile(paths["frames"]) as opened:
        names = opened.namelist()
        step = settings.get("every", 1)
        assert names[:2] == [f"reveal_{n:05d}.png" for n in (0, step)]
        for number in (0, count // 2, count - 1):
            found = np.asarray(Image.open(io.BytesIO(opened.read(names[number]))).convert("RGB"))
            expected = draw(whole, start_s + number / rate)[:, :, 2::-1]
            assert np.abs(found.astype(int) - expected).max() <= 1


def test_single_layers_alone(tmp_path):
    paths, _ = made(tags(ground="#334455"), tmp_path, "png", layers=("whole",), transparent=True)
    with Image.open(paths["png"]) as picture:
        assert picture.getpixel(WHOLE) == (*TEAL, 255)
        assert picture.getpixel(HALF)[3] == 0 and picture.getpixel(BARE)[3] == 0


def test_a_matte_of_a_layer_that_is_not_drawn_is_still_its_matte(tmp_path):
    cutter = layer("cutter", "shape", shape__size=[50, 180], position=[240, 90])
    panel = layer(
        "panel", "shape", shape__size=[300, 100], position=[160, 90], matte__layer="cutter"
    )
    paths, _ = made(project(cutter, panel), tmp_path, "png", layers=("panel",), transparent=True)
    with Image.open(paths["png"]) as picture:
        assert picture.getpixel((240, 90))[3] == 255 and picture.getpixel((60, 90))[3] == 0


# Sound


def test_sound_is_as_long_as_the_frames_whatever_their_rate(tmp_path):
    whole, store, _ = flashing(tmp_path)
    for settings in ({"every": 3}, {"rate": {"num": 24}}, {"from_s": 0.2, "to_s": 1.32}):
        chosen = RenderSettings(format="wav", also=("mov",), **settings)
        targets = {"wav": tmp_path / "a.wav", "mov": tmp_path / "a.mov"}
        result = render_scene(whole, "reveal", chosen, targets, store._folder, engine=Here(2))
        with av.open(str(targets["mov"])) as file:
            fps = float(file.streams.video[0].average_rate)
            assert len(list(file.decode(file.streams.video[0]))) == result.frames
        for path in targets.values():
            with av.open(str(path)) as file:
                samples = sum(frame.samples for frame in file.decode(audio=0))
            assert abs(samples - result.frames / fps * SAMPLE_RATE) <= 1


def test_a_render_is_brought_to_a_loudness(tmp_path):
    at = np.arange(2 * SAMPLE_RATE) / SAMPLE_RATE
    hum = (0.05 * np.sin(2 * np.pi * 440 * at)).astype(np.float32)
    whole, store, _ = flashing(tmp_path, sound=np.stack([hum, hum], axis=1))
    chosen = RenderSettings(format="wav", loudness=-16)
    result = render_scene(whole, "reveal", chosen, tmp_path / "a.wav", store._folder, engine=Here())
    assert "Loudness -16.0 LUFS" in result.notice and "dBTP" in result.notice
    with av.open(str(tmp_path / "a.wav")) as file:
        pieces = [frame.to_ndarray().reshape(-1, 2) for frame in file.decode(audio=0)]
    samples = (np.concatenate(pieces) / 2.0**31).astype(np.float32)
    found = measured(lambda first, count: samples[first : first + count], len(samples))
    assert found.integrated == pytest.approx(-16, abs=0.1) and found.true_peak <= -0.9
    assert not list(tmp_path.glob(".render-*"))


# Words


def test_words_with_their_times(tmp_path):
    words = layer(
        "title", "text", 0.4, 1.2, text="Gullwing Bay <1>\n\nKite & Week", position=[160, 90]
    )
    named = layer("name", "text", 0.0, 2.0, text="Ada", position=[160, 150])
    changing = named.model_copy(
        update={"properties": {**named.properties, "text": Property(
            value="Ada", keys=(key(0, "Ada", "hold"), key(1.0, "Bo", "hold")))}}
    )  # fmt: skip
    unseen = layer("unseen", "text", 0, 2, text="Nobody reads this", opacity=0.0)
    whole = project(words, changing, unseen, length_s=2.0)
    paths, _ = made(whole, tmp_path, "vtt", from_s=0.2)
    cues = [block.split("\n")[1:] for block in paths["vtt"].read_text().rstrip().split("\n\n")[1:]]
    assert cues == [
        ["00:00:00.000 --> 00:00:00.800", "Ada"],
        ["00:00:00.200 --> 00:00:01.000", "Gullwing Bay &lt;1&gt;", "Kite &amp; Week"],
        ["00:00:00.800 --> 00:00:01.800", "Bo"],
    ]


# What is refused


@pytest.mark.parametrize(
    ("settings", "field"),
    [
        ({"format": "mp4", "also": ("png",)}, "also"),
        ({"format": "webp-still", "also": ("webp",)}, "also"),
        ({"format": "gif", "rate": {"num": 60}}, "every"),
        ({"format": "gif", "layers": ("nobody",)}, "layers"),
        ({"format": "png", "at_s": 99.0}, "at_s"),
        ({"format": "wav"}, "format"),
    ],
)
def test_what_cannot_be_is_refused_with_its_field(tmp_path, settings, field):
    with pytest.raises(DocumentError) as caught:
        made(tags(), tmp_path, **settings)
    assert caught.value.field == field and not list(tmp_path.iterdir())


def test_a_render_can_be_ended_while_its_file_is_put_together(tmp_path):
    told = []

    def progress(done, total):
        told.append((done, total))

    with pytest.raises(RenderCancelled):
        render_scene(
            tags(), "reveal", RenderSettings(format="gif"), tmp_path / "a.gif", tmp_path,
            engine=Here(), progress=progress, cancelled=lambda: told[-1:] > [(30, 50)],
        )  # fmt: skip
    assert told[-1][0] <= 32 and told[-1][1] == 50  # composed, then encoded
    assert not list(tmp_path.iterdir())


def test_every_format_is_known_where_it_must_be():
    from young_comet.core.export.settings import FormatId

    assert set(FormatId.__args__) == set(FORMATS)
    for each in FORMATS.values():
        assert sum(map(bool, (each.film, each.still, each.sound, each.told))) == 1
        assert each.facts()["holds"] in ("film", "still", "sound", "words")


# Palettes and patches


def test_few_colours_are_kept_as_they_are():
    pixels = np.zeros((20, 30, 4), np.uint8)
    pixels[:] = (10, 20, 30, 255)
    pixels[5:, 5:] = (12, 20, 30, 255)  # neighbours in one cell of the table
    palette = palette_of([pixels], 256, clear=False, matte="#000000", dither="ordered")
    assert palette.exact and len(palette.colours) == 2
    found = palette.colours[palette.indices(pixels)]
    assert np.abs(found[:, :, ::-1].astype(int) - pixels[:, :, :3]).max() <= 2


@pytest.mark.parametrize("dither", ["ordered", "diffused", "none"])
def test_a_palette_is_near_on_the_whole(dither):
    across = np.linspace(0, 255, 160)[None].repeat(120, 0)
    pixels = np.dstack([across, across[:, ::-1], across.T[:120, :120].repeat(2, 1)[:, :160],
                        np.full_like(across, 255)]).astype(np.uint8)  # fmt: skip
    palette = palette_of([pixels], 64, clear=False, matte="#000000", dither=dither)
    assert len(palette.colours) <= 63
    found = palette.colours[palette.indices(pixels)][:, :, ::-1].astype(float)
    smooth = [cv2.blur(each[:, :, :3].astype(float), (9, 9)) for each in (found, pixels)]
    # From afar it is the same picture, the more so where it is dithered.
    assert np.abs(smooth[0] - smooth[1]).mean() < (9 if dither == "none" else 6)


def test_a_palette_of_nothing_and_of_one_colour():
    nothing = np.zeros((8, 8, 4), np.uint8)
    palette = palette_of([nothing], 256, clear=True, matte="#ffffff", dither="ordered")
    assert (palette.indices(nothing) == 255).all()
    two = palette_of(
        [np.full((8, 8, 4), 255, np.uint8)], 2, clear=False, matte="#000000", dither="none"
    )
    assert len(two.colours) == 1 and tuple(two.colours[0]) == (255, 255, 255)


def test_patches_cover_what_has_changed():
    before = np.zeros((40, 60, 4), np.uint8)
    after = before.copy()
    assert changed(None, after, 1) == (0, 0, 60, 40)
    assert changed(before, after, 2) == (0, 0, 1, 1)
    after[7:12, 13:20, 3] = 9
    assert changed(before, after, 1) == (13, 7, 7, 5)
    assert changed(before, after, 2) == (12, 6, 8, 6)
    after[39, 59] = 1
    assert changed(before, after, 2) == (12, 6, 48, 34)


def test_a_full_disk_is_told_when_an_animation_is_put_together(tmp_path, monkeypatch):
    from young_comet.errors import StorageFullError

    monkeypatch.setattr(
        render._Job, "whole", lambda self, format: __import__("pathlib").Path("/dev/full")
    )
    for format in ANIMATIONS:
        with pytest.raises(StorageFullError):
            made(tags(), tmp_path, format)
        assert not list(tmp_path.glob(".render-*"))


# Contact sheets


@pytest.mark.parametrize("size", [(320, 180), (180, 320), (200, 200), (64, 1000)])
def test_a_contact_sheet_shows_frames_from_the_first_to_the_last(tmp_path, size):
    # Every frame has a grey of its own: the sheet can be read.
    ramp = [key(0, "#000000", "linear"), key(4, "#ffffff")]
    whole = project(layer("sky", "backdrop", 0, 4, fill__colour=ramp), width=size[0],
                    height=size[1], length_s=4.0)  # fmt: skip
    paths, result = made(whole, tmp_path, "sheet")
    assert 12 <= result.frames <= 24  # not all hundred were composed
    with Image.open(paths["sheet"]) as opened:
        page = np.asarray(opened.convert("RGB")).astype(int)
    assert page.shape == (1654, 2339, 3)
    tiles = tiles_of(page)
    assert len(tiles) == 12
    expected = np.linspace(0, result.frames - 1, 12).round() * 99 // (result.frames - 1) / 100 * 255
    assert np.abs(np.array(tiles) - expected).max() <= 12 and tiles == sorted(tiles)


def tiles_of(page):
    """The greys of the tiles of a page, in order: paper is neither grey nor dark."""
    grey = (np.abs(page - page[:, :, :1]).max(axis=2) <= 2).astype(np.uint8)
    grey = cv2.morphologyEx(grey, cv2.MORPH_OPEN, np.ones((15, 15), np.uint8))
    count, _, stats, middles = cv2.connectedComponentsWithStats(grey)
    found = []
    for number in range(1, count):
        if stats[number, cv2.CC_STAT_AREA] > 1500:
            x, y = (round(v) for v in middles[number])
            found.append((round(y / 60), x, int(page[y, x, 0])))
    return [value for _, _, value in sorted(found)]


def test_a_contact_sheet_beside_a_video_and_as_pdf(tmp_path):
    paths, result = made(tags(), tmp_path, "mp4", also=("sheet", "sheet-pdf"), to_s=0.2)
    assert result.frames == 5  # all of them: the video needs them
    with Image.open(paths["sheet"]) as opened:
        assert opened.size == (2339, 1654)
    data = paths["sheet-pdf"].read_bytes()
    assert data.startswith(b"%PDF-") and data.rstrip().endswith(b"%%EOF")
    assert b"/MediaBox [ 0 0 842" in data or b"/MediaBox [0 0 842" in data  # A4, lying


@pytest.mark.parametrize("frames", [1, 2, 3, 11, 12, 13])
def test_contact_sheets_of_few_frames(tmp_path, frames):
    whole = project(layer("sky", "backdrop", fill__colour="#808080"), length_s=frames / 25)
    paths, _ = made(whole, tmp_path, "sheet", wide=1)
    with Image.open(paths["sheet"]) as opened:
        assert len(tiles_of(np.asarray(opened.convert("RGB")).astype(int))) == min(12, frames)
