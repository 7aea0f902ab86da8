"""Expressions, moves and scenes in scenes over HTTP."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from tests.web.steps import edit


def add(client, project_id, **layer):
    made = {"kind": "shape", "start_s": 0, "end_s": 2, "properties": {}, **layer}
    answer = edit(client, project_id, {"kind": "add-layers", "scene": "reveal", "layers": [made]})
    assert answer.status_code == 200, answer.text


def asked(client, project_id, text, property="rotation", layer="box", **more):
    body = {"layer": layer, "property": property, "text": text, **more}
    return client.post(f"/api/projects/{project_id}/scenes/reveal/expression", json=body)


def picture(answer):
    assert answer.status_code == 200 and answer.headers["content-type"] == "image/jpeg"
    return cv2.imdecode(np.frombuffer(answer.content, np.uint8), cv2.IMREAD_COLOR)


# Expressions


def test_an_expression_is_told_its_value_and_course(client, project_id):
    found = asked(client, project_id, "45 * t", time_s=1.0).json()
    assert found["error"] is None and found["value"] == "45"
    (curve,) = found["curves"]
    assert (curve[0], curve[-1]) == pytest.approx((0, 90)) and found["high"] == pytest.approx(90)
    point = asked(client, project_id, "[100 + t, 50]", "position", time_s=1.0).json()
    assert point["value"] == "101, 50" and len(point["curves"]) == 2
    ink = asked(client, project_id, "[t / 2, t / 2, t / 2]", "fill.colour").json()
    assert ink["error"] is None and ink["colours"][0] == "#000000"
    # Nothing of it is saved.
    scene = client.get(f"/api/projects/{project_id}").json()["project"]["scenes"][0]
    assert all(not p["expression"] for p in scene["layers"][0]["properties"].values())


@pytest.mark.parametrize(
    ("text", "words", "column"),
    [
        ("2 + wind", "'wind' is not known", 4),
        ("  2 + wind", "'wind' is not known", 6),
        ("sin(", "", None),
        ("__import__('os')", "", None),
        ('of("Nobody", "rotation")', "Nobody", None),
        ('of("Box", "rotation")', "circle", None),
        ('"east"', "", None),
    ],
)
def test_what_is_wrong_with_an_expression_is_said_in_words(client, project_id, text, words, column):
    found = asked(client, project_id, text).json()
    assert found["error"] and words in found["error"], found["error"]
    assert column is None or found["column"] == column


def test_readers_of_a_property_are_listed(client, project_id):
    add(client, project_id, id="bow", name="Bow")
    link = {
        "kind": "set-expression", "scene": "reveal", "text": 'of("Box", "rotation") / 2',
        "targets": [{"layer": "bow", "property": "rotation"}],
    }  # fmt: skip
    assert edit(client, project_id, link).status_code == 200
    (reader,) = asked(client, project_id, "").json()["readers"]
    assert reader == {"layer": "bow", "property": "rotation", "label": "Bow: Rotation"}
    circle = {**link, "text": 'of("Bow", "rotation")',
              "targets": [{"layer": "box", "property": "rotation"}]}  # fmt: skip
    refused = edit(client, project_id, circle)
    assert refused.status_code == 422 and "Bow" in refused.json()["error"]["message"]


def test_expressions_of_what_is_not_there_are_refused(client, project_id):
    assert asked(client, project_id, "1", layer="nobody").status_code == 404
    assert asked(client, project_id, "1", "no-such").status_code in (404, 422)
    assert asked(client, project_id, "1" * 5000).status_code == 422
    assert asked(client, project_id, "1", time_s=-1).status_code == 422
    unknown = client.post(
        f"/api/projects/{project_id}/scenes/none/expression",
        json={"layer": "box", "property": "rotation", "text": "1"},
    )
    assert unknown.status_code == 404


# Moves


def keep_a_move(client, project_id):
    turned = {
        "kind": "add-layers",
        "scene": "reveal",
        "layers": [
            {
                "id": "turned",
                "name": "Turned",
                "kind": "shape",
                "start_s": 0,
                "end_s": 2,
                "arrive_s": 0.6,
                "properties": {
                    "rotation": {
                        "keys": [
                            {"id": "a", "time_s": 0, "value": -90},
                            {"id": "b", "time_s": 0.6, "value": 0},
                        ]
                    }
                },
            }
        ],
    }
    assert edit(client, project_id, turned).status_code == 200
    saved = {"kind": "save-move", "scene": "reveal", "layer": "turned", "id": "turn",
             "name": "Quarter turn", "phase": "arrive"}  # fmt: skip
    answer = edit(client, project_id, saved)
    assert answer.status_code == 200, answer.text


def test_moves_show_themselves_moving(client):
    found = picture(client.get("/api/moves/lift/sample.jpg"))
    assert found.shape == (63, 17 * 112, 3)
    first, last = found[:, :112].astype(int), found[:, -112:].astype(int)
    assert np.abs(first - last).max() > 60
    assert client.get("/api/moves/no-such/sample.jpg").status_code == 422


def test_a_move_of_ones_own_is_shared_and_taken_back(client, project_id):
    assert client.get("/api/own-moves").json() == {"moves": []}
    keep_a_move(client, project_id)
    own = picture(client.get(f"/api/projects/{project_id}/moves/turn/sample.jpg"))
    assert own.shape == (63, 17 * 112, 3)
    assert client.get("/api/own-moves/turn/sample.jpg").status_code == 404
    shared = client.post(f"/api/projects/{project_id}/moves/turn/share")
    assert shared.status_code == 204
    (kept,) = client.get("/api/own-moves").json()["moves"]
    assert kept["name"] == "Quarter turn" and kept["phase"] == "arrive"
    assert np.array_equal(picture(client.get("/api/own-moves/turn/sample.jpg")), own)
    # Another project takes it in and wears it.
    other = client.post("/api/projects", json={"name": "Elsewhere"}).json()["project"]["id"]
    assert edit(client, other, {"kind": "add-saved-move", "move": kept}).status_code == 200
    assert client.post("/api/own-moves/remove", json={"move": "turn"}).status_code == 204
    assert client.get("/api/own-moves").json() == {"moves": []}
    assert client.post("/api/own-moves/remove", json={"move": "turn"}).status_code == 404
    names = [
        m["name"] for m in client.get(f"/api/projects/{other}").json()["project"]["saved_moves"]
    ]
    assert names == ["Quarter turn"]


def test_unknown_moves_are_not_shared(client, project_id):
    missing = client.post(f"/api/projects/{project_id}/moves/none/share")
    assert missing.status_code == 404 and "none" in missing.json()["error"]["message"]
    assert client.get(f"/api/projects/{project_id}/moves/none/sample.jpg").status_code == 404


# Scenes in scenes


def test_wrapping_and_circles_of_scenes(client, project_id):
    wrap = {"kind": "wrap-layers", "scene": "reveal", "layers": ["box"], "id": "placed",
            "new_scene": "inside", "name": "Inside"}  # fmt: skip
    done = edit(client, project_id, wrap)
    assert done.status_code == 200, done.text
    scenes = client.get(f"/api/projects/{project_id}").json()["project"]["scenes"]
    assert [s["id"] for s in scenes] == ["reveal", "inside"]
    circle = {"kind": "add-layers", "scene": "inside", "layers": [
        {"id": "loop", "name": "Loop", "kind": "scene", "start_s": 0, "end_s": 1,
         "properties": {"scene.id": {"value": "reveal"}}}]}  # fmt: skip
    refused = edit(client, project_id, circle)
    assert refused.status_code == 422 and "within" in refused.json()["error"]["message"]
    assert client.post(f"/api/projects/{project_id}/undo").status_code == 200
    scenes = client.get(f"/api/projects/{project_id}").json()["project"]["scenes"]
    assert [s["id"] for s in scenes] == ["reveal"]


def test_a_setting_is_seen_on_ones_own_layer_and_passages_move(client, project_id):
    add = {"kind": "add-members", "family": "effect", "scene": "reveal", "layers": ["box"],
           "members": [{"member": {"id": "e", "kind": "glow"}}]}  # fmt: skip
    assert edit(client, project_id, add).status_code == 200
    before = client.get(f"/api/projects/{project_id}").json()["revision"]
    url = f"/api/projects/{project_id}/scenes/reveal/layers/box/effects/e"
    seen = {}
    for setting in ("halo", "neon"):
        found = client.get(f"{url}/{setting}.jpg", params={"time_s": 0.5})
        assert picture(found).shape == (99, 176, 3)
        seen[setting] = found.content
    assert seen["halo"] != seen["neon"]
    assert client.get(f"/api/projects/{project_id}").json()["revision"] == before
    refused = client.get(f"{url}/moonlight.jpg")
    assert refused.status_code == 422 and "halo" in refused.json()["error"]["message"]
    assert client.get(f"{url.replace('effects/e', 'effects/none')}/halo.jpg").status_code == 404
    assert client.get(f"{url}/halo.jpg", params={"time_s": -1}).status_code == 422
    assert picture(client.get("/api/passages/waterline/sample.jpg")).shape == (63, 17 * 112, 3)
    assert client.get("/api/passages/none/sample.jpg").status_code == 422


def test_a_move_is_seen_on_ones_own_layer(client, project_id):
    url = f"/api/projects/{project_id}/scenes/reveal/layers/box/worn.jpg"
    before = client.get(f"/api/projects/{project_id}").json()["revision"]
    for phase in ("arrive", "leave"):
        found = client.get(url, params={"move": "lift", "phase": phase})
        assert picture(found).shape == (63, 17 * 112, 3)
    assert (
        client.get(f"/api/projects/{project_id}").json()["revision"] == before
    )  # nothing is saved
    assert client.get(url, params={"move": "lift", "phase": "dwell"}).status_code == 422
    assert client.get(url, params={"move": "nothing", "phase": "arrive"}).status_code == 422
    other = url.replace("box", "none")
    assert client.get(other, params={"move": "lift", "phase": "arrive"}).status_code == 404
