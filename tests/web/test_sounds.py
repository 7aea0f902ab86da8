"""Sounds over HTTP: uploaded, drawn, heard, rendered."""

from __future__ import annotations

import numpy as np
import pytest
from tests.core.audio.test_beats import song
from tests.core.media.test_sound import BAD, film, float_wav
from tests.sounds import encoded, noise
from tests.web.steps import edit

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.export import measured

BED = noise(3.0)


def upload(client, project_id, name, data):
    return client.post(f"/api/projects/{project_id}/assets", params={"name": name}, content=data)


@pytest.fixture
def scene(client, project_id):
    """A scene in which a bed is heard, 6 dB softer."""
    answer = upload(client, project_id, "bed.wav", float_wav(BED)).json()
    layer = {
        "id": "bed", "name": "Bed", "kind": "sound", "start_s": 0.6, "end_s": 2.0,
        "properties": {"sound.asset": {"value": answer["asset"]["id"]}, "sound.gain": {"value": -6}},
    }  # fmt: skip
    add = {"kind": "add-layers", "scene": "reveal", "layers": [layer]}
    assert edit(client, project_id, add).status_code == 200
    return f"/api/projects/{project_id}/scenes/reveal"


def samples(client, scene, first, count):
    answer = client.get(f"{scene}/sound.pcm", params={"first": first, "count": count})
    assert answer.status_code == 200
    return np.frombuffer(answer.content, "<f4").reshape(-1, 2)


def test_a_sound_is_an_asset_with_what_is_known_of_it(client, project_id):
    answer = upload(
        client, project_id, "bed.flac", encoded(BED, 44_100, format="flac", codec="flac")
    )
    assert answer.status_code == 201
    asset = answer.json()["asset"]
    assert (asset["kind"], asset["channels"], asset["sample_rate"]) == ("sound", 2, 44_100)
    assert asset["duration_s"] == pytest.approx(len(BED) / 44_100, abs=1e-3)


def test_a_film_with_sound_says_so(client, project_id):
    answer = upload(client, project_id, "gull.mov", film()).json()
    assert answer["asset"]["kind"] == "clip" and answer["asset"]["channels"] == 1
    assert any("switch it on" in note for note in answer["notes"])


@pytest.mark.parametrize("what", [name for name in BAD if BAD[name]])
def test_a_bad_file_is_refused_in_words_and_nothing_is_left(client, project_id, what, config):
    answer = upload(client, project_id, "bad.wav", BAD[what])
    assert answer.status_code in (400, 415, 422) and "bad.wav" in answer.json()["error"]["message"]
    assert client.get(f"/api/projects/{project_id}").json()["project"]["assets"] == []
    assert not list(config.data.rglob(".part-*"))


def test_pieces_of_the_mix_are_the_mix(client, scene):
    facts = client.get(f"{scene}/sound").json()
    assert facts["heard"] and facts["samples"] == 2 * SAMPLE_RATE and facts["layers"] == ["bed"]
    whole = np.concatenate([samples(client, scene, n * 24_000, 24_000) for n in range(4)])
    expected = np.zeros((2 * SAMPLE_RATE, 2))
    start = round(0.6 * SAMPLE_RATE)
    expected[start:] = BED[: 2 * SAMPLE_RATE - start] * 10 ** (-6 / 20)
    assert np.abs(whole - expected).max() < 1e-6


def test_a_change_is_heard_at_once_and_undone(client, project_id, scene):
    before = samples(client, scene, 30_000, 1000)
    target = {"layer": "bed", "property": "sound.muted", "value": True}
    edit(
        client,
        project_id,
        {"kind": "set-values", "scene": "reveal", "targets": [target], "time_s": 0},
    )
    assert not samples(client, scene, 30_000, 1000).any()
    client.post(f"/api/projects/{project_id}/undo")
    assert np.array_equal(samples(client, scene, 30_000, 1000), before)


def test_a_wave_follows_the_samples(client, scene):
    asked = {"from_s": 0.0, "to_s": 2.0, "columns": 40}
    wave = client.get(f"{scene}/layers/bed/wave", params=asked).json()
    assert [len(wave[name]) for name in ("low", "high", "gain")] == [40, 40, 40]
    high = np.array(wave["high"]) / 1000
    assert not high[:12].any() and (high[12:] > 0.3).all()  # silent before its start
    assert all(gain == pytest.approx(501, abs=1) for gain in wave["gain"][12:])
    # One frame, far enlarged: the samples themselves.
    asked = {"from_s": 1.0, "to_s": 1.04, "columns": 1920}
    close = client.get(f"{scene}/layers/bed/wave", params=asked).json()
    first = round(0.4 * SAMPLE_RATE)
    part = BED[first : first + 1920].max(axis=1)
    drawn = np.sign(part) * np.abs(part) ** 0.7 * 1000
    assert np.abs(np.array(close["high"]) - drawn).max() <= 1


@pytest.mark.parametrize("query", [
    "first=-1&count=10", "first=0&count=0", "first=0&count=99999999", "first=no&count=1",
])  # fmt: skip
def test_wrong_pieces_are_refused(client, scene, query):
    answer = client.get(f"{scene}/sound.pcm?{query}")
    assert answer.status_code == 422 and answer.json()["error"]["field"]


def test_what_is_not_heard_has_no_wave(client, scene):
    asked = {"from_s": 0, "to_s": 1}
    assert client.get(f"{scene}/layers/box/wave", params=asked).status_code == 404
    assert client.get(f"{scene}/layers/nobody/wave", params=asked).status_code == 404


def test_a_placed_scene_is_heard_and_not_drawn(client, project_id, scene):
    outer = {"id": "outer", "name": "Outer", "width": 320, "height": 180, "rate": {"num": 25},
             "length_s": 2.0}  # fmt: skip
    inner = {"id": "in", "name": "In", "kind": "scene", "start_s": 0, "end_s": 2,
             "properties": {"scene.id": {"value": "reveal"}}}  # fmt: skip
    edit(client, project_id, {"kind": "add-scene", "scene": outer})
    edit(client, project_id, {"kind": "add-layers", "scene": "outer", "layers": [inner]})
    where = f"/api/projects/{project_id}/scenes/outer"
    assert np.array_equal(samples(client, where, 0, 96_000), samples(client, scene, 0, 96_000))
    asked = {"from_s": 0, "to_s": 2}
    assert client.get(f"{where}/layers/in/wave", params=asked).status_code == 404


def test_a_missing_file_is_named_and_the_rest_goes_on(client, scene, config):
    for path in (config.data / "assets").rglob("*"):
        if path.is_file():
            path.unlink()
    edit_free = client.get(f"{scene}/sound").json()
    if edit_free["heard"]:  # the mix that is open has the file mapped
        project = scene.split("/")[3]
        edit(client, project, {"kind": "rename-scene", "scene": "reveal", "name": "Reveal again"})
    facts = client.get(f"{scene}/sound").json()
    assert not facts["heard"] and "bed" in facts["faults"]
    assert not samples(client, scene, 30_000, 100).any()


def test_loudness_is_that_of_what_is_heard_now(client, project_id, scene):
    found = client.get(f"{scene}/loudness").json()
    heard = samples(client, scene, 0, 2 * SAMPLE_RATE).copy()
    same = measured(lambda at, count: heard[at : at + count], len(heard))
    assert found["integrated"] == pytest.approx(same.integrated, abs=0.05)
    assert found["told"].startswith("Loudness -") and found["true_peak"] < 0

    def put(name, value):
        targets = [{"layer": "bed", "property": name, "value": value}]
        change = {"kind": "set-values", "scene": "reveal", "targets": targets, "time_s": 0}
        assert edit(client, project_id, change).status_code == 200

    put("sound.gain", -12)
    again = client.get(f"{scene}/loudness").json()
    assert again["integrated"] == pytest.approx(found["integrated"] - 6, abs=0.1)
    put("sound.muted", True)
    silent = client.get(f"{scene}/loudness").json()
    assert silent["integrated"] is None and "too soft" in silent["told"]


def test_a_gain_may_go_by_what_is_heard(client, project_id, scene):
    """One bed is only heard while the other is loud."""
    layers = client.get(f"/api/projects/{project_id}").json()["project"]["scenes"][0]["layers"]
    asset = next(each for each in layers if each["id"] == "bed")["properties"]["sound.asset"][
        "value"
    ]
    other = {
        "id": "other", "name": "Other", "kind": "sound", "start_s": 0.0, "end_s": 2.0,
        "properties": {
            "sound.asset": {"value": asset},
            "sound.gain": {"value": 0, "expression": 'step(0.2, level("Bed")) * 96 - 96'},
        },
    }  # fmt: skip
    add = {"kind": "add-layers", "scene": "reveal", "layers": [other]}
    assert edit(client, project_id, add).status_code == 200
    before = samples(client, scene, 0, round(0.5 * SAMPLE_RATE))
    assert not before.any()  # the bed begins at 0.6 s
    both = samples(client, scene, round(0.8 * SAMPLE_RATE), 4800)
    at, own = round(0.8 * SAMPLE_RATE), round(0.2 * SAMPLE_RATE)
    expected = BED[own : own + 4800] * 10 ** (-6 / 20) + BED[at : at + 4800]
    assert np.abs(both - expected).max() < 1e-3


def test_a_plan_tells_what_comes_of_a_render(client, project_id, scene):
    def plan(**settings):
        new = {"project": project_id, "scene": "reveal", "settings": settings}
        return client.post("/api/renders/plan", json=new)

    found = plan(format="mp4", also=["gif", "wav"], every=2, transparent=True).json()
    assert found["frames"] == 25 and found["seconds"] == pytest.approx(2.0) and found["heard"]
    assert found["about"]["size_bytes"] > 500_000 and found["about"]["seconds"] > 1
    assert any("GIF has 255 colours" in note for note in found["notes"])
    assert any("MP4, H.264 cannot be seen through" in note for note in found["notes"])
    assert "GIF has no sound." in found["notes"]
    wrong = plan(format="gif", rate={"num": 60})
    assert wrong.status_code == 422 and wrong.json()["error"]["field"] == "every"
    small = plan(format="mp4", scale=0.5).json()["about"]["size_bytes"]
    assert small < plan(format="mp4").json()["about"]["size_bytes"]


def test_beats_are_found_heard_and_corrected(client, project_id):
    samples, beats = song(120, bars=6)
    data = encoded(samples, SAMPLE_RATE, format="mp3", codec="libmp3lame")
    answer = upload(client, project_id, "song.mp3", data).json()["asset"]
    assert answer["beats"] is None
    layer = {
        "id": "song", "name": "Song", "kind": "sound", "start_s": 0.4, "end_s": 2.0,
        "properties": {"sound.asset": {"value": answer["id"]}},
    }  # fmt: skip
    edit(client, project_id, {"kind": "add-layers", "scene": "reveal", "layers": [layer]})
    scene = f"/api/projects/{project_id}/scenes/reveal"
    assert client.get(f"{scene}/beats").json() == {"layers": {}}
    found = client.post(f"/api/projects/{project_id}/assets/{answer['id']}/beats")
    assert found.status_code == 200 and found.json()["tempo"] == pytest.approx(120, rel=1e-2)
    heard = client.get(f"{scene}/beats").json()["layers"]["song"]
    expected = [0.4 + t for t in beats if t < 1.6]
    assert [beat["at_s"] for beat in heard["beats"]] == pytest.approx(expected, abs=0.02)
    assert sum(beat["strong"] for beat in heard["beats"]) in (0, 1)
    assert client.post(f"/api/projects/{project_id}/undo").status_code == 200
    assert client.get(f"{scene}/beats").json() == {"layers": {}}


def test_what_has_no_beats_is_said(client, project_id):
    silent = float_wav(np.zeros((SAMPLE_RATE * 3, 2), np.float32))
    asset = upload(client, project_id, "quiet.wav", silent).json()["asset"]
    answer = client.post(f"/api/projects/{project_id}/assets/{asset['id']}/beats")
    assert answer.status_code == 422 and "no beats" in answer.json()["error"]["message"]
    assert client.post(f"/api/projects/{project_id}/assets/nobody/beats").status_code == 404


def test_a_bed_of_the_kit_brings_its_beats(client, project_id):
    taken = {"sound": "bed-race-day", "length_s": 8.0}
    asset = client.post(f"/api/projects/{project_id}/kit", json=taken).json()["asset"]
    beats = asset["beats"]
    assert beats["times"][0] == 0 and beats["strong"] == 0
    steps = np.diff(beats["times"])
    assert steps == pytest.approx(60 / beats["tempo"], abs=1e-4) and len(steps) in (
        31,
        32,
        47,
        63,
        64,
    )
