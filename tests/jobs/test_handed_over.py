"""Timelines, pages for review, small pictures and names of what is handed over."""

from __future__ import annotations

import base64
import re
from datetime import date

import av
import cv2
import opentimelineio as otio
import pytest
from tests.build import key, layer, project, scene
from tests.jobs.test_formats import made
from tests.sounds import asset, noise

from young_comet.core.catalog import check_project
from young_comet.core.export import FORMATS, Named, RenderSettings, file_stem
from young_comet.core.model import Asset, Mark, Project, RateModel
from young_comet.errors import DocumentError
from young_comet.jobs.part import POSTER

BED = noise(6.0)
FLIGHT = Asset(
    id="flight", name="Flight over the bay.mp4", kind="clip", media_type="video/mp4", hash="a" * 64,
    size_bytes=9, width=64, height=36, duration_s=4.0, frame_count=100, rate=RateModel(num=25),
    channels=2, sample_rate=48_000,
)  # fmt: skip


def kites(*layers, scenes=(), **more):
    whole = Project(
        id="kites", name="Kite Week", scenes=(scene(*layers, **more), *scenes),
        assets=(asset("bed", BED), FLIGHT),
    )  # fmt: skip
    return check_project(whole)


def told(whole, tmp_path, **settings):
    targets, _ = made(whole, tmp_path, "otio", **settings)
    return otio.adapters.read_from_file(str(targets["otio"]))


def frames(span):
    assert span.start_time.rate == span.duration.rate
    return (span.start_time.value, span.duration.value)


STACK = (
    layer("sky", "backdrop"),
    layer("flight", "clip", 1.0, 3.0, clip__asset="flight", time__from=0.4, time__speed=200.0,
          sound__on=True),
    layer("name", "text", 0.52, 4.0, text="Gullwing Bay"),
    layer("music", "sound", 0.2, 3.8, sound__asset="bed", time__offset=1.0),
)  # fmt: skip


def test_a_timeline_has_a_track_for_each_layer_and_each_sound(tmp_path):
    marks = (Mark(id="hit", name="hit", time_s=1.2, note="Softer"),)
    found = told(kites(*STACK, marks=marks), tmp_path)
    assert found.name == "Kite Week: Reveal" and found.duration().value == 100
    pictures = [(t.name, len(t), frames(t[-1].range_in_parent())) for t in found.video_tracks()]
    assert pictures == [
        ("Sky", 1, (0, 100)), ("Flight", 2, (25, 50)), ("Name", 2, (13, 87)),
    ]  # fmt: skip
    sounds = [(t.name, frames(t[-1].range_in_parent())) for t in found.audio_tracks()]
    assert sounds == [("Flight", (25, 50)), ("Music", (5, 90))]
    flight = found.video_tracks()[1][-1]
    assert flight.media_reference.target_url == "Flight%20over%20the%20bay.mp4"
    assert frames(flight.media_reference.available_range) == (0, 100)
    assert frames(flight.source_range) == (10, 50)
    assert [each.time_scalar for each in flight.effects] == [2.0]
    assert frames(found.audio_tracks()[1][-1].source_range) == (25, 90)
    words = found.video_tracks()[2][-1].media_reference
    assert words.generator_kind == "text" and words.parameters["text"] == "Gullwing Bay"
    mark = found.tracks.markers[0]
    assert (mark.name, mark.comment, mark.marked_range.start_time.value) == ("hit", "Softer", 30)


def test_a_part_of_a_scene_and_single_layers(tmp_path):
    found = told(kites(*STACK), tmp_path, from_s=2.0, to_s=3.0, layers=("flight",))
    assert [t.name for t in found.tracks] == ["Flight", "Flight"] and found.duration().value == 25
    assert frames(found.tracks[0][-1].source_range) == (60, 25)  # a second in, at twice the speed


@pytest.mark.parametrize("values, effects", [
    ({"time__frozen": True}, ["FreezeFrame.1"]), ({"time__reversed": True}, ["LinearTimeWarp.1"]),
    ({}, []), ({"time__after": "loop", "time__to": 0.5}, []),
])  # fmt: skip
def test_how_a_clip_is_played(tmp_path, values, effects):
    clip = layer("flight", "clip", 0.0, 4.0, clip__asset="flight", **values)
    found = told(kites(clip), tmp_path).tracks[0][-1]
    names = [f"{type(each).__name__}.1" for each in found.effects]
    assert names == effects
    assert ("after" in found.metadata["young_comet"]) == ("time__after" in values)


def test_placed_scenes_are_stacks_and_do_not_grow_without_bound(tmp_path):
    inner = scene(*STACK[1:3]).model_copy(update={"id": "inner", "name": "Inner"})
    outer = layer("placed", "scene", 1.0, 3.0, scene__id="inner", time__from=0.4)
    found = told(kites(outer, scenes=(inner,)), tmp_path).tracks[0][-1]
    assert isinstance(found, otio.schema.Stack) and frames(found.source_range) == (10, 50)
    assert [t.name for t in found] == ["Flight", "Name", "Flight"]
    # Ten scenes, each of which places the next three times, would be 59,049 times the last.
    deep = [
        scene(*(layer(f"p{n}", "scene", scene__id=f"s{k + 1}") for n in range(3))).model_copy(
            update={"id": f"s{k}", "name": f"S{k}"}
        )
        for k in range(10)
    ]
    deep.append(scene(STACK[2]).model_copy(update={"id": "s10", "name": "S10"}))
    top = layer("top", "scene", scene__id="s0")
    found = told(kites(top, scenes=tuple(deep)), tmp_path, at_s=0.0)
    assert len(found.find_clips()) < 10_000


def test_an_empty_scene_is_an_empty_timeline(tmp_path):
    found = told(kites(layer("hidden", "backdrop").model_copy(update={"hidden": True})), tmp_path)
    assert len(found.tracks) == 0


# Pages for review


@pytest.mark.parametrize(
    "name", ["Reveal", '</script><script>alert("@FILM@")</script>', "@FACTS@ & <b>"]
)
def test_a_page_for_review_has_the_film_in_it_whatever_the_scene_is_called(tmp_path, name):
    rect = layer(
        "box", "shape", shape__size=(60, 60), position=[key(0.0, (40, 90)), key(1.0, (280, 90))]
    )
    whole = project(rect, length_s=1.0)
    named = whole.scenes[0].model_copy(update={"name": name})
    whole = whole.model_copy(update={"scenes": (named,)})
    targets, result = made(whole, tmp_path, "review", also=("mp4",))
    page = targets["review"].read_text(encoding="utf-8")
    data = re.search(r'id="data">([A-Za-z0-9+/=]+)</script>', page)
    assert base64.b64decode(data[1]) == targets["mp4"].read_bytes()
    assert page.count("<script") == 2 and page.count("</script>") == 2
    assert "http:" not in page and "https:" not in page  # nothing is loaded from elsewhere
    with av.open(str(targets["mp4"])) as film:
        assert film.streams.video[0].frames == 25 and result.frames == 25


# Small pictures


@pytest.mark.parametrize("format", [each.id for each in FORMATS.values() if each.film])
def test_every_film_has_a_small_picture_of_its_middle(tmp_path, format):
    from tests.jobs.test_render_jobs import Here

    from young_comet.jobs import render_scene

    rect = layer("box", "shape", shape__size=(90, 90), fill__colour="#ff7a45",
                 position=[key(0.0, (-60, 90)), key(1.0, (160, 90)), key(2.0, (400, 90))])  # fmt: skip
    poster = tmp_path / POSTER
    target = tmp_path / f"film.{FORMATS[format].ending}"
    render_scene(
        project(rect, length_s=2.0), "reveal", RenderSettings(format=format), target, tmp_path,
        engine=Here(2), poster=poster,
    )  # fmt: skip
    picture = cv2.imread(str(poster))
    assert picture.shape[:2] == (180, 320)
    blue, _, red = picture[90, 160]
    assert red > 200 and blue < 120
    assert sorted(each.name for each in tmp_path.iterdir()) == sorted([POSTER, target.name])


# Names


def named(pattern, **more):
    whole = project(**more)
    scene_of = whole.scenes[0].model_copy(update={"name": "Name tag: Ünal/Öz"})
    return file_stem(
        RenderSettings(name=pattern), Named(whole, scene_of, (1920, 1080), date(2026, 6, 4))
    )


@pytest.mark.parametrize(("pattern", "stem"), [
    ("{scene}", "name-tag-ünal-öz"), ("{project}_{scene}", "kite-week_name-tag-ünal-öz"),
    ("{size} {rate} {quality} {date}", "1920x1080-25-good-2026-06-04"), ("Final V2", "Final-V2"),
    ("../../etc/passwd", "etc-passwd"), ("a\\b:c*?\"<>|d", "a-b-c-d"), ("..", "render"), ("///", "render"),
    ("x" * 200, "x" * 120), ("{scene", "scene"),
])  # fmt: skip
def test_names_of_files_by_a_pattern(pattern, stem):
    assert named(pattern) == stem


@pytest.mark.parametrize("pattern", ["{}", "{nobody}", "{scene.id}", "{0}", "{scene!r}"])
def test_words_that_a_pattern_does_not_have_are_refused(pattern):
    with pytest.raises(DocumentError, match=r"name.*\{scene\}"):
        named(pattern)
