"""The API and the socket of looks: samples, curves, drawings, tables, paths, playback's processes."""

import time

import cv2
import numpy as np
import pytest
from fastapi.testclient import TestClient
from tests.core.media.test_vector import SVG
from tests.web.steps import BOX, SCENE, connect, edit, receive

from young_comet.config import Config
from young_comet.core.effects import EFFECTS
from young_comet.web import create_app


def upload(client, project_id, name, data):
    return client.post(f"/api/projects/{project_id}/assets", params={"name": name}, content=data)


def test_the_catalog_declares_effects_masks_and_parts(client):
    catalog = client.get("/api/catalog").json()
    assert [effect["id"] for effect in catalog["effects"]] == list(EFFECTS)
    families = {family["id"] for family in catalog["effect_families"]}
    assert {effect["family"] for effect in catalog["effects"]} == families
    declared = {family["id"]: family["kinds"] for family in catalog["families"]}
    assert {spec["id"] for spec in declared["mask"]["path"]} >= {"path", "feather", "grow"}
    assert {spec["id"] for spec in declared["part"]["part"]} >= {
        "path",
        "fill.colour",
        "stroke.width",
    }
    assert declared["effect"].keys() == set(EFFECTS)
    assert "strength" in {spec["id"] for spec in declared["move"]["own:"]}


def test_every_effect_has_a_picture_of_its_own(client):
    glow = client.get("/api/effects/glow/sample.jpg")
    picture = cv2.imdecode(np.frombuffer(glow.content, np.uint8), 1)
    assert glow.headers["content-type"] == "image/jpeg" and picture.shape == (180, 320, 3)
    assert client.get("/api/effects/swirl/sample.jpg").content != glow.content
    wrong = client.get("/api/effects/sparkle/sample.jpg")
    assert wrong.status_code == 422 and "catalog" in wrong.json()["error"]["message"]


def test_tone_curves_are_computed_by_the_server(client):
    values = client.post("/api/tone-curve", json={"points": [[0, 0], [0.5, 0.8], [1, 1]]}).json()[
        "values"
    ]
    assert values[0] == 0 and values[-1] == 1 and max(values) <= 1
    assert values[32] == pytest.approx(0.8, abs=0.02)
    for wrong in ([[0, 0]], [[0.5, 0], [0.5, 1]], [[0, "x"], [1, 1]], "curve"):
        answer = client.post("/api/tone-curve", json={"points": wrong})
        assert answer.status_code == 422 and "points" in answer.json()["error"]["message"]


def test_an_svg_is_read_as_the_parts_of_a_shape_layer(client, project_id):
    asset = upload(client, project_id, "boat.svg", SVG.encode()).json()["asset"]
    found = client.get(f"/api/projects/{project_id}/assets/{asset['id']}/shapes").json()
    assert len(found["parts"]) == 6 and found["notes"]
    layer = {"id": "boat", "name": "Boat", "kind": "shape", "start_s": 0, "end_s": 2, "parts": found["parts"],
             "properties": {"shape.kind": {"value": "drawing"}, **found["properties"]}}  # fmt: skip
    assert (
        edit(
            client, project_id, {"kind": "add-layers", "scene": "reveal", "layers": [layer]}
        ).status_code
        == 200
    )
    png = cv2.imencode(".png", np.zeros((9, 9, 3), np.uint8))[1].tobytes()
    picture = upload(client, project_id, "a.png", png).json()["asset"]
    assert (
        client.get(f"/api/projects/{project_id}/assets/{picture['id']}/shapes").status_code == 415
    )


def test_colour_tables_are_uploaded_and_broken_ones_refused(client, project_id):
    steps = "\n".join(f"{r} {g} {b}" for b in (0, 1) for g in (0, 1) for r in (0, 1))
    asset = upload(client, project_id, "Dusk.cube", f"LUT_3D_SIZE 2\n{steps}\n".encode()).json()[
        "asset"
    ]
    assert (asset["kind"], asset["name"]) == ("table", "Dusk.cube")
    broken = upload(client, project_id, "Broken.cube", b"LUT_3D_SIZE 2\n0 0 0\n")
    assert broken.status_code == 415 and "expected 8" in broken.json()["error"]["message"]
    effect = {"kind": "add-members", "family": "effect", "scene": "reveal", "layers": ["box"], "members": [{"member": {"id": "lut", "kind": "look-up-table"},
              "properties": {"table": {"value": asset["id"]}}}]}  # fmt: skip
    assert edit(client, project_id, effect).status_code == 200
    archive = client.get(f"/api/projects/{project_id}/export")
    assert archive.status_code == 200
    again = client.post("/api/projects/import", content=archive.content)
    assert again.status_code == 201, again.text


MASKED = {"kind": "add-members", "family": "mask", "scene": "reveal", "layers": ["box"], "members": [
    {"member": {"id": "m", "name": "Sail"}, "properties": {"path": {"value": "M0 0 L30 0 L30 20 Z"}, "position": {"value": [5, 5]}}}]}  # fmt: skip


def test_the_stage_brings_the_paths_of_selected_layers(client, project_id):
    edit(client, project_id, MASKED)
    with connect(client, project_id) as socket:
        socket.send_json({"type": "stage", "id": 1, "time_s": 0, "height": 90, "selected": ["box"]})
        header, _ = receive(socket, "stage")
        (mask,) = header["shapes"]["box"]
        assert (mask["property"], mask["mask"]) == ("mask.m.path", "m")
        assert mask["matrix"][4:] == [165, 95] and len(mask["contours"][0]["points"]) == 3
        socket.send_json({"type": "stage", "id": 2, "time_s": 0, "height": 90})
        header, _ = receive(socket, "stage")
        assert header["shapes"] == {}


def test_the_stage_can_leave_out_the_effects_of_what_is_selected(client, project_id):
    fill = {"kind": "add-members", "family": "effect", "scene": "reveal", "layers": ["box"], "members": [{"member": {"id": "e", "kind": "colour-fill"},
            "properties": {"colour": {"value": "#0000ff"}}}]}  # fmt: skip
    edit(client, project_id, fill)
    ask = {"type": "stage", "time_s": 0, "height": 180, "selected": ["box"]}
    with connect(client, project_id) as socket:
        socket.send_json({**ask, "id": 1})
        _, treated = receive(socket, "stage")
        socket.send_json({**ask, "id": 2, "bare": True})
        _, bare = receive(socket, "stage")
    assert treated[90, 160, 0] > 200 > bare[90, 160, 0]


def test_lanes_of_masks_and_effects_are_named_after_them(client, project_id):
    edit(client, project_id, MASKED)
    keys = {"kind": "set-keys", "scene": "reveal", "time_s": 0.5, "targets": [
        {"layer": "box", "property": "mask.m.grow"}, {"layer": "box", "property": "mask.m.path"}]}  # fmt: skip
    assert edit(client, project_id, keys).status_code == 200
    with connect(client, project_id) as socket:
        socket.send_json({"type": "stage", "id": 1, "time_s": 0, "height": 90, "lanes": ["box"]})
        header, _ = receive(socket, "stage")
    assert {lane["label"] for lane in header["lanes"]} == {"Sail: growth", "Sail: path"}


def test_playback_is_drawn_by_processes_and_goes_on_after_a_crash(tmp_path):
    """Frames come in their order, as the server itself would draw them; a process that dies
    costs nothing but time."""
    config = Config(data=tmp_path / "data", preview_processes=1)
    with TestClient(create_app(config), base_url="http://127.0.0.1:8765") as client:
        project = client.post("/api/projects", json={"name": "Kites"}).json()["project"]["id"]
        edit(client, project, {"kind": "add-scene", "scene": SCENE})
        moving = {**BOX, "properties": {**BOX["properties"], "rotation": {"keys": [
            {"id": "a", "time_s": 0, "value": 0}, {"id": "b", "time_s": 2, "value": 90}]}}}  # fmt: skip
        edit(client, project, {"kind": "add-layers", "scene": "reveal", "layers": [moving]})
        with connect(client, project) as socket:
            fill = {"type": "fill", "first": 0, "count": 12, "height": 90}
            socket.send_json({**fill, "id": 1})
            frames = [receive(socket, "frame") for _ in range(12)]
            assert [header["frame"] for header, _ in frames] == list(range(12))
            receive(socket, "filled")
            pool = client.app.state.services.frames.pool
            for worker in pool._pools[0]._processes.values():
                worker.kill()
            time.sleep(0.3)
            socket.send_json({**fill, "id": 2, "first": 20})
            after = [receive(socket, "frame") for _ in range(12)]
            assert [header["frame"] for header, _ in after] == list(range(20, 32))
        assert len({header["signature"] for header, _ in frames}) == 12
        whole = client.get(
            f"/api/projects/{project}/scenes/reveal/frame.jpg", params={"time_s": 0.2, "height": 90}
        )
        mine = cv2.imdecode(np.frombuffer(whole.content, np.uint8), 1)
        assert np.abs(frames[5][1].astype(int) - mine).mean() < 1


def test_colours_are_read_in_any_notation_and_faults_are_said(client):
    found = client.get("/api/colours", params={"text": "hsl(120 100% 25%)"}).json()
    assert found["colour"] == "#008000" and found["notations"]["rgb"] == "rgb(0 128 0)"
    wrong = client.get("/api/colours", params={"text": "kite"})
    assert wrong.status_code == 422 and "such as #ff7a45" in wrong.text
    assert client.get("/api/colours", params={"text": "x" * 300}).status_code == 422


def test_ready_fronts_have_moving_samples(client):
    answer = client.get("/api/fronts/behind/sample.jpg")
    assert answer.status_code == 200 and answer.content[:2] == b"\xff\xd8"
    assert client.get("/api/fronts/behind/sample.jpg").content == answer.content
    refused = client.get("/api/fronts/gust/sample.jpg")
    assert refused.status_code == 422 and "slam" in str(refused.json()["error"])


def test_gradients_are_drawn_as_bars_by_how_they_are_mixed(client):
    def bar(**query):
        return client.get("/api/gradient.png", params=query)

    ends = ["0 #ff7a45", "1 #2f9fb3"]
    pictures = {
        mixing: cv2.imdecode(
            np.frombuffer(bar(stop=ends, mixing=mixing).content, np.uint8), -1
        )[0].astype(int)
        for mixing in ("plain", "even", "around")
    }  # fmt: skip
    assert all(row.shape == (192, 3) for row in pictures.values())
    assert pictures["plain"][96] == pytest.approx([124, 140.5, 151], abs=3)
    assert np.abs(pictures["around"][96] - pictures["even"][96]).max() > 12  # by another way
    for query, says in (
        ({"stop": ends, "mixing": "moonlight"}, "expected one of around, even, plain"),
        ({"stop": ["2 #ff7a45"]}, "expected a share of 0 to 1"),
        ({"stop": ["nan #ff7a45"]}, "expected a share of 0 to 1"),
        ({"stop": ["0 sea"]}, "stop"),
    ):
        refused = bar(**query)
        assert refused.status_code in (400, 422) and says in refused.text
    assert bar().status_code == 422 and bar(stop=ends * 40).status_code == 422
