"""The socket's part in the timing desk: lanes, onion, comparing, matching; clips and easings."""

import numpy as np
import pytest
from tests.footage import animation, number_of, video
from tests.web.steps import connect, edit, receive

S = {"scene": "reveal"}
ASK = {"type": "stage", "time_s": 0, "height": 90}


def keyed(client, project_id):
    """The box travels from x 60 to 260 in the scene's first second; its rotation has keys too."""
    rows = {"position": [(0, [60, 90]), (1, [260, 90])], "rotation": [(0, 0), (1, 90)]}
    tracks = [
        {
            "layer": "box",
            "property": name,
            "keys": [{"at_s": t, "value": v, "easing": "linear"} for t, v in keys],
        }
        for name, keys in rows.items()
    ]
    assert (
        edit(
            client, project_id, {"kind": "paste-keys", **S, "time_s": 0, "tracks": tracks}
        ).status_code
        == 200
    )


def ask(socket, number, kind="stage", **more):
    socket.send_json({**ASK, "id": number, "type": "stage", **more})
    return receive(socket, kind)


def test_only_lanes_that_look_different_are_sent_again(client, project_id):
    keyed(client, project_id)
    with connect(client, project_id) as socket:
        first, _ = ask(socket, 1, lanes=["box"])
        move = {
            "kind": "set-values",
            **S,
            "time_s": 0,
            "targets": [{"layer": "box", "property": "rotation", "value": 10}],
        }
        second, _ = ask(socket, 2, lanes=["box"], drafts=[move])
        tall, _ = ask(socket, 3, lanes=["box"], tall=["box|rotation"])
    assert [lane["property"] for lane in first["lanes"]] == ["position", "rotation"]
    assert second["lanes"][0] == {"layer": "box", "property": "position", "same": True}
    assert second["lanes"][1]["keys"][0]["values"] == [10]
    rotation = tall["lanes"][1]
    assert len(rotation["dots"]["speeds"]) == 50 and rotation["dots"]["speeds"][
        10
    ] == pytest.approx(90, abs=0.1)
    assert rotation["keys"][0]["out"]["values"] == [30] and rotation["unit"] == "°"


def test_onion_draws_other_moments_faintly_and_is_not_kept(client, project_id):
    keyed(client, project_id)
    onion = {"before": 0, "after": 2, "step": 12}
    with connect(client, project_id) as socket:
        _, plain = ask(socket, 1, selected=["box"])
        _, shown = ask(socket, 2, selected=["box"], onion=onion)
        _, again = ask(socket, 3, selected=["box"])
    assert plain[45, 80].max() < 20 < shown[45, 80].max() < 200
    assert np.array_equal(plain, again)


def test_another_moment_and_the_state_before_the_last_edit_are_compared(client, project_id):
    keyed(client, project_id)
    post = {"id": "post", "name": "Post", "kind": "shape", "start_s": 0, "end_s": 2, "properties": {
        "shape.size": {"value": [40, 60]}, "fill.colour": {"value": "#ff7a45"}, "position": {"value": [60, 90]}}}  # fmt: skip
    edit(client, project_id, {"kind": "add-layers", **S, "layers": [post]})
    edit(
        client,
        project_id,
        {
            "kind": "set-values",
            **S,
            "targets": [{"layer": "box", "property": "opacity", "value": 0}],
        },
    )
    with connect(client, project_id) as socket:
        compare = {"type": "compare", "time_s": 1.0, "height": 90}
        socket.send_json({**compare, "id": 1, "with": "moment"})
        now, moment = receive(socket, "compare")
        socket.send_json({**compare, "id": 2, "with": "before-edit"})
        _, before = receive(socket, "compare")
        # What is not seen on the stage is not in the picture beside it either.
        seen = []
        for id, only in ((3, ["post"]), (4, ["box"]), (5, ["none-such"])):
            socket.send_json({**compare, "only": only, "id": id, "with": "before-edit"})
            seen.append(receive(socket, "compare")[1])
        post, box, all_seen = seen
    assert post[45, 130].max() < 30 < post[45, 30].max()
    assert box[45, 30].max() < 30 < box[45, 130].max()
    assert np.array_equal(all_seen, before)  # where none of those is left, all are seen
    assert (now["id"], now["frame"]) == (1, 25)
    assert moment[45, 130].max() < 30 < before[45, 130].max()


def test_the_match_finder_tells_moments_loops_and_mistakes(client, project_id):
    keyed(client, project_id)
    still = {"id": "still", "name": "Still", "kind": "shape", "start_s": 0, "end_s": 2, "properties": {
        "shape.size": {"value": [100, 60]}, "fill.colour": {"value": "#ff7a45"}, "position": {"value": [160, 90]},
        "rotation": {"value": 45}}}  # fmt: skip
    edit(client, project_id, {"kind": "add-layers", **S, "layers": [still]})
    match = {"type": "match", "first": 0, "last": 49}
    with connect(client, project_id) as socket:
        socket.send_json({**match, "id": 1, "how": "layers", "one": "box", "other": "still"})
        found = final(socket)
        socket.send_json({**match, "id": 2, "how": "loop"})
        loop = final(socket)
        socket.send_json({**match, "id": 3, "how": "layers", "one": "ghost", "other": "still"})
        wrong = final(socket)
        socket.send_json({**match, "id": 4, "how": "moment", "scene": "reveal", "number": 30})
        moment = final(socket)
    # Both are the same at half a second, between two frames.
    assert found["best"][0]["frame"] in (12, 13) and len(found["values"]) == 50
    assert found["values"][0] > 2 * found["best"][0]["difference"]
    assert loop["loop"]["seamless"] is False and loop["loop"]["seam"] > loop["loop"]["usual"]
    assert "ghost" in wrong["error"]
    assert moment["values"][30] == 0 and moment["best"][0]["difference"] == 0


def final(socket):
    for _ in range(60):
        header, _ = receive(socket, "match")
        if "done" not in header:
            return header
    raise AssertionError("no result came")


def test_a_loop_without_a_jump_is_told(client, project_id):
    tracks = [{"layer": "box", "property": "rotation", "keys": [
        {"at_s": 0, "value": 0, "easing": "linear"}, {"at_s": 2, "value": 180, "easing": "linear"}]}]  # fmt: skip
    edit(client, project_id, {"kind": "paste-keys", **S, "time_s": 0, "tracks": tracks})
    with connect(client, project_id) as socket:
        socket.send_json({"type": "match", "id": 1, "how": "loop", "first": 0, "last": 49})
        assert final(socket)["loop"]["seamless"] is True


def test_a_fill_stays_in_the_working_range(client, project_id):
    keyed(client, project_id)
    edit(client, project_id, {"kind": "set-range", **S, "start_s": 0.4, "end_s": 0.8})
    with connect(client, project_id) as socket:
        socket.send_json({"type": "fill", "id": 1, "first": 15, "count": 10, "height": 90})
        frames = [receive(socket, "frame")[0]["frame"] for _ in range(10)]
    assert frames == [15, 16, 17, 18, 19, 10, 11, 12, 13, 14]


@pytest.mark.parametrize(("data", "name", "media_type", "count"), [
    (video(30), "clouds.mp4", "video/mp4", 30), (animation(5, "GIF"), "wind.gif", "image/gif", 5),
    (animation(5, "WEBP"), "wind.webp", "image/webp", 5)])  # fmt: skip
def test_clips_are_uploaded_shown_and_exported(client, project_id, data, name, media_type, count):
    answer = client.post(f"/api/projects/{project_id}/assets?name={name}", content=data)
    asset = answer.json()["asset"]
    assert answer.status_code == 201 and (
        asset["kind"],
        asset["media_type"],
        asset["frame_count"],
    ) == ("clip", media_type, count)
    assert client.get(f"/api/assets/{asset['hash']}/thumbnail").status_code == 200
    clip = {"id": "clip", "name": "Clip", "kind": "clip", "start_s": 0.4, "end_s": 2, "properties": {
        "clip.asset": {"value": asset["id"]}, "clip.fit": {"value": "fill"}}}  # fmt: skip
    assert (
        edit(client, project_id, {"kind": "add-layers", **S, "layers": [clip]}).status_code == 200
    )
    with connect(client, project_id) as socket:
        _, shown = ask(socket, 1, time_s=0.4 + 3 / 25, height=180)
    assert number_of(shown[:, 16:304]) in (3, 6, 7) or number_of(shown) == 3
    refused = edit(client, project_id, {"kind": "remove-asset", "asset": asset["id"]})
    assert (
        refused.status_code == 409 and "Clip in Logo reveal" in refused.json()["error"]["message"]
    )
    archive = client.get(f"/api/projects/{project_id}/export").content
    assert client.post("/api/projects/import", content=archive).status_code == 201


def test_a_video_that_is_none_is_refused_and_leaves_nothing(client, project_id):
    for data in (video(5)[:300], b"\x1aE\xdf\xa3 not a film", b"GIF89a" + bytes(30)):
        answer = client.post(
            f"/api/projects/{project_id}/assets?name=../../etc/film.mp4", content=data
        )
        assert answer.status_code == 415 and "film.mp4" in answer.json()["error"]["message"]
    assert client.get(f"/api/projects/{project_id}").json()["project"]["assets"] == []


def test_easings_are_described_with_curve_and_numbers(client):
    spring = client.post(
        "/api/easing", json={"easing": "spring(120, 6, 1)", "duration_s": 0.5}
    ).json()
    assert [p["label"] for p in spring["parameters"]] == ["Stiffness", "Damping", "Mass"]
    assert spring["settles_s"] > 0.5 and len(spring["samples"]) == 49 and spring["handles"] is None
    assert client.post("/api/easing", json={"easing": "ease-in"}).json()["handles"] == [
        0.42,
        0,
        1,
        1,
    ]
    wrong = client.post("/api/easing", json={"easing": "wobble"})
    assert wrong.status_code == 422 and "easing" in wrong.json()["error"]["message"]
    entries = client.get("/api/catalog").json()["gallery"]
    assert {e["section"] for e in entries} >= {
        "Basic",
        "Families",
        "Swinging",
        "Springs",
        "Steps",
    } and len(entries) > 40


def test_wrong_messages_of_the_timing_desk_are_answered(client, project_id):
    with connect(client, project_id) as socket:
        for wrong in ({"type": "compare", "id": 1, "with": "yesterday", "time_s": 0}, {"type": "match", "id": 1, "how": "magic", "first": 0, "last": 5},
                      {**ASK, "id": 1, "onion": {"before": 99}}):  # fmt: skip
            socket.send_json(wrong)
            header, _ = receive(socket, "error")
            assert header["message"]
