import numpy as np
import pytest
from starlette.websockets import WebSocketDisconnect
from tests.web.steps import BOX, SCENE, connect, edit, receive


def test_foreign_hosts_are_refused(client):
    for host in ("evil.example", "127.0.0.1.evil.example", "", "kites.local:8765"):
        assert client.get("/api/projects", headers={"host": host}).status_code == 403
    for host in ("localhost:8765", "127.0.0.1", "[::1]:9"):
        assert client.get("/api/projects", headers={"host": host}).status_code == 200


def test_foreign_origins_are_refused(client):
    body = {"name": "x"}
    for origin in ("http://evil.example", "null", "http://127.0.0.1:9999"):
        assert (
            client.post("/api/projects", json=body, headers={"origin": origin}).status_code == 403
        )
    own = {"origin": "http://127.0.0.1:8765"}
    assert client.post("/api/projects", json=body, headers=own).status_code == 201


def test_every_answer_carries_the_security_headers(client):
    for path in ("/", "/api/projects", "/static/css/base.css", "/nowhere"):
        headers = client.get(path).headers
        policy = headers["content-security-policy"]
        assert "default-src 'self'" in policy and "unsafe" not in policy
        assert headers["x-content-type-options"] == "nosniff"


def test_files_outside_static_are_not_served(client):
    for path in ("/static/../app.py", "/static/%2e%2e/app.py", "/static/..%2fapp.py"):
        assert client.get(path).status_code in (403, 404)


def test_foreign_pages_cannot_open_a_socket(client, project_id):
    for headers in ({"origin": "http://evil.example"}, {"host": "evil.example"}):
        with pytest.raises(WebSocketDisconnect), connect(client, project_id, **headers):
            pass


def test_a_stage_frame_comes_with_what_the_editor_draws_over_it(client, project_id):
    with connect(client, project_id) as socket:
        socket.send_json(
            {"type": "stage", "id": 7, "time_s": 0.5, "height": 90, "selected": ["box"]}
        )
        header, picture = receive(socket, "stage")
    assert (header["id"], header["frame"]) == (7, 12)
    assert picture.shape == (90, 160, 3)
    assert header["layers"]["box"]["corners"][0] == [110, 60]
    assert header["layers"]["box"]["values"]["position"] == [160, 90]


def test_drafts_are_shown_and_not_saved(client, project_id):
    move = {
        "kind": "set-values",
        "scene": "reveal",
        "targets": [{"layer": "box", "property": "position", "value": [60, 40]}],
    }
    before = client.get(f"/api/projects/{project_id}").json()
    with connect(client, project_id) as socket:
        socket.send_json({"type": "stage", "id": 1, "time_s": 0, "height": 180, "drafts": [move]})
        header, picture = receive(socket, "stage")
    assert header["layers"]["box"]["pivot"] == [60, 40]
    assert picture[40, 60, 2] > 240 and picture[90, 160, 2] < 20
    assert client.get(f"/api/projects/{project_id}").json() == before


def test_a_movement_whose_pictures_take_long_comes_coarse_until_it_rests(
    client, project_id, monkeypatch
):
    monkeypatch.setattr("young_comet.web.live.stage.SLOW_S", 0.0)
    ask = {"type": "stage", "time_s": 0, "height": 180}
    shown = []
    with connect(client, project_id) as socket:
        for number, moving in enumerate((False, True, True, True, False, True)):
            socket.send_json({**ask, "id": number, "moving": moving})
            header, picture = receive(socket, "stage")
            assert header["raw"] == [picture.shape[1], picture.shape[0]]
            shown.append((header["coarse"], picture.shape[:2]))
    whole, coarse = (False, (180, 320)), (True, (90, 160))
    assert shown == [whole, whole, coarse, coarse, whole, whole]


def test_a_movement_whose_pictures_are_quick_stays_whole(client, project_id, monkeypatch):
    monkeypatch.setattr("young_comet.web.live.stage.SLOW_S", 60.0)
    with connect(client, project_id) as socket:
        for number in range(3):
            ask = {"type": "stage", "id": number, "time_s": 0, "height": 180, "moving": True}
            socket.send_json(ask)
            header, picture = receive(socket, "stage")
            assert header["coarse"] is False and picture.shape[:2] == (180, 320)


def test_lanes_and_paths_come_when_they_have_changed(client, project_id):
    for time_s, x in ((0.0, 60), (1.0, 260)):
        target = {"layer": "box", "property": "position", "value": [x, 90]}
        if time_s == 0:
            keys = {
                "kind": "set-keys",
                "scene": "reveal",
                "time_s": 0,
                "targets": [{"layer": "box", "property": "position"}],
            }
            edit(client, project_id, keys)
        edit(
            client,
            project_id,
            {"kind": "set-values", "scene": "reveal", "targets": [target], "time_s": time_s},
        )
    ask = {"type": "stage", "time_s": 0, "height": 90, "lanes": ["box"], "selected": ["box"]}
    with connect(client, project_id) as socket:
        socket.send_json({**ask, "id": 1})
        first, _ = receive(socket, "stage")
        socket.send_json({**ask, "id": 2, "time_s": 0.2})
        second, _ = receive(socket, "stage")
    assert [lane["property"] for lane in first["lanes"]] == ["position"]
    assert len(first["paths"]["box"]["points"]) == 27
    assert "lanes" not in second


def test_fill_sends_each_picture_once(client, project_id):
    with connect(client, project_id) as socket:
        socket.send_json({"type": "fill", "id": 1, "first": 45, "count": 50, "height": 90})
        frames = []
        for _ in range(50):
            header, picture = receive(socket, "frame")
            frames.append((header["frame"], picture is not None))
        receive(socket, "filled")
        assert [number for number, _ in frames] == [(45 + i) % 50 for i in range(50)]
        # Nothing moves: one picture serves all fifty frames.
        assert sum(sent for _, sent in frames) == 1
        signature = header["signature"]
        socket.send_json({"type": "forget", "signatures": [signature]})
        socket.send_json({"type": "fill", "id": 2, "first": 0, "count": 1, "height": 90})
        header, picture = receive(socket, "frame")
        assert header["signature"] == signature and picture is not None


def test_edits_reach_every_open_page(client, project_id):
    with connect(client, project_id) as one, connect(client, project_id) as two:
        edit(client, project_id, {"kind": "change-scene", "scene": "reveal", "name": "Opening"})
        for socket in (one, two):
            header, _ = receive(socket, "edited")
            assert header["patch"][0]["value"] == "Opening" and header["undo_label"]
        client.post(f"/api/projects/{project_id}/undo")
        assert receive(two, "edited")[0]["patch"][0]["value"] == SCENE["name"]


@pytest.mark.parametrize(
    "message",
    ["no json", "[]", '{"type": "dance"}', '{"type": "stage", "id": 1, "time_s": -1}',
     '{"type": "fill", "id": 1, "first": 0, "count": 999999}', '{"type": "stage", "id": 1, "time_s": 1e999}'],
)  # fmt: skip
def test_wrong_messages_are_answered_and_the_socket_lives_on(client, project_id, message):
    with connect(client, project_id) as socket:
        socket.send_text(message)
        assert receive(socket, "error")[0]["message"]
        socket.send_json({"type": "stage", "id": 2, "time_s": 0, "height": 90})
        assert receive(socket, "stage")[0]["id"] == 2


def test_a_draft_that_makes_no_sense_is_told(client, project_id):
    with connect(client, project_id) as socket:
        drafts = [{"kind": "remove-layers", "scene": "reveal", "layers": ["ghost"]}]
        socket.send_json({"type": "stage", "id": 3, "time_s": 0, "height": 90, "drafts": drafts})
        header, _ = receive(socket, "error")
        assert header["id"] == 3 and "ghost" in header["message"]


def test_the_scene_can_go_while_a_page_shows_it(client, project_id):
    with connect(client, project_id) as socket:
        edit(client, project_id, {"kind": "remove-scene", "scene": "reveal"})
        socket.send_json({"type": "stage", "id": 1, "time_s": 0, "height": 90})
        assert "reveal" in receive(socket, "error")[0]["message"]
    assert BOX["id"] == "box"


def test_a_stage_frame_travels_raw_and_a_large_one_as_jpeg(client, monkeypatch, project_id):
    with connect(client, project_id) as socket:
        socket.send_json({"type": "stage", "id": 1, "time_s": 0, "height": 90})
        small, raw = receive(socket, "stage")
        monkeypatch.setattr("young_comet.web.live.stage.MAX_RAW_PIXELS", 10)
        socket.send_json({"type": "stage", "id": 2, "time_s": 0, "height": 90})
        large, packed = receive(socket, "stage")
    assert small["raw"] == [160, 90] and "raw" not in large
    assert np.abs(raw.astype(int) - packed).mean() < 3


def test_a_page_sees_some_layers_alone_on_the_stage_and_in_playback(client, project_id):
    ask = {"time_s": 0.0, "height": 180}
    with connect(client, project_id) as socket:
        pictures = []
        for number, more in enumerate(({}, {"only": ["none-such"]}, {"only": ["box"]})):
            socket.send_json({"type": "stage", "id": number + 1, **ask, **more})
            pictures.append(receive(socket, "stage"))
        assert pictures[0][0]["signature"] == pictures[1][0]["signature"]
        layers = pictures[0][0]["layers"]
        assert pictures[2][0]["layers"] == layers, "what has handles does not change"
        socket.send_json(
            {"type": "fill", "id": 9, "first": 0, "count": 1, "height": 180, "only": ["box"]}
        )
        header, _ = receive(socket, "frame")
        assert header["signature"] == pictures[2][0]["signature"]
        socket.send_json({"type": "stage", "id": 5, **ask, "only": ["x" * 65]})
        assert "only" in receive(socket, "error")[0]["message"]
