"""The kit of sounds over HTTP."""

from __future__ import annotations

import pytest
from tests.core.media.test_sound import read

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.audio.kit import KIT


def test_the_kit_is_listed_by_families(client):
    families = client.get("/api/kit").json()
    sounds = [sound for family in families for sound in family["sounds"]]
    assert {sound["id"] for sound in sounds} == {each.id for each in KIT.values()}
    assert all(0 <= sound["moment_s"] <= sound["length_s"] for sound in sounds)


def test_a_sound_is_heard_as_it_is_wished(client):
    answer = client.get("/api/kit/hit-drum.flac", params={"length_s": 0.5, "pitch": -3, "seed": 2})
    assert answer.status_code == 200 and answer.headers["content-type"] == "audio/flac"
    info, samples = read(answer.content)
    assert (info.channels, info.sample_rate, len(samples)) == (2, SAMPLE_RATE, SAMPLE_RATE // 2)


def test_a_sound_is_taken_once_into_a_project(client, project_id):
    wish = {"sound": "whoosh-soft-pass", "length_s": 0.8, "seed": 1}
    first = client.post(f"/api/projects/{project_id}/kit", json=wish).json()
    again = client.post(f"/api/projects/{project_id}/kit", json=wish).json()
    assert first == again and first["moment_s"] == pytest.approx(0.55 * 0.8)
    assets = client.get(f"/api/projects/{project_id}").json()["project"]["assets"]
    assert [asset["name"] for asset in assets] == ["Soft pass.flac"]
    assert assets[0]["duration_s"] == pytest.approx(0.8, abs=1e-4)


@pytest.mark.parametrize(("wish", "field"), [
    ({"sound": "hit-nobody"}, ""), ({"sound": "hit-drum", "length_s": 0}, "length_s"),
    ({"sound": "hit-drum", "length_s": 1e9}, "length_s"), ({"sound": "hit-drum", "pitch": 99}, "pitch"),
    ({"sound": "hit-drum", "seed": -1}, "seed"), ({}, "sound"), ({"sound": "hit-drum", "loud": 1}, "loud"),
])  # fmt: skip
def test_wrong_wishes_are_refused_by_name(client, project_id, wish, field):
    answer = client.post(f"/api/projects/{project_id}/kit", json=wish)
    assert answer.status_code in (400, 404, 422)
    assert (field in str(answer.json()["error"]) and "kit" in str(answer.json())) or field
    assert client.get(f"/api/projects/{project_id}").json()["project"]["assets"] == []
