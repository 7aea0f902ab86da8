import io
import json
import time
import zipfile

import cv2
import numpy as np
import pytest
from tests.build import png
from tests.web.steps import edit

from young_comet.core.model import document_schema


def test_projects_come_and_go_and_come_back(client, project_id):
    listed = client.get("/api/projects").json()
    assert [(p["name"], p["scene_count"], p["first_scene"]) for p in listed] == [
        ("Kite Week", 1, "reveal")
    ]
    copy = client.post(f"/api/projects/{project_id}/duplicate").json()
    assert copy["project"]["name"] == "Kite Week copy"
    assert client.delete(f"/api/projects/{project_id}").status_code == 204
    assert client.get(f"/api/projects/{project_id}").status_code == 404
    assert (
        client.post(f"/api/projects/{project_id}/restore").json()["project"]["name"] == "Kite Week"
    )


def test_edits_answer_with_a_patch_and_the_labels(client, project_id):
    base = client.get(f"/api/projects/{project_id}").json()["revision"]
    answer = edit(
        client, project_id, {"kind": "change-scene", "scene": "reveal", "name": "Opening"}, base
    ).json()
    assert answer["revision"] == base + 1
    assert answer["patch"] == [{"op": "replace", "path": "/scenes/0/name", "value": "Opening"}]
    assert answer["undo_label"] == "Rename scene to Opening"
    assert (
        client.post(f"/api/projects/{project_id}/undo").json()["redo_label"]
        == "Rename scene to Opening"
    )
    assert client.post(f"/api/projects/{project_id}/redo").json()["redo_label"] is None
    history = client.get(f"/api/projects/{project_id}/history").json()
    assert [step["number"] for step in history] == [1, 2, 3] and history[-1]["in_effect"]


@pytest.mark.parametrize(
    ("data", "status", "text"),
    [
        ({"kind": "make-tea"}, 422, "edit kind"),
        ({"kind": "remove-scene", "scene": "ghost"}, 404, "ghost"),
        ({"kind": "set-values", "scene": "reveal", "targets": [{"layer": "box", "property": "opacity", "value": 300}]}, 422, "Opacity"),
        ({"kind": "set-values", "scene": "reveal", "targets": [{"layer": "box", "property": "shape.kind", "value": "kite"}]}, 422, "one of"),
    ],
)  # fmt: skip
def test_wrong_edits_are_answered_with_what_was_expected(client, project_id, data, status, text):
    before = client.get(f"/api/projects/{project_id}").json()
    answer = edit(client, project_id, data)
    assert answer.status_code == status
    assert text in answer.json()["error"]["message"]
    assert client.get(f"/api/projects/{project_id}").json() == before


def test_not_a_number_is_refused_in_json(client, project_id):
    body = '{"edit": {"kind": "set-values", "scene": "reveal", "targets": [{"layer": "box", "property": "rotation", "value": NaN}]}}'
    answer = client.post(
        f"/api/projects/{project_id}/edits",
        content=body,
        headers={"content-type": "application/json"},
    )
    assert answer.status_code == 422 and "finite" in answer.json()["error"]["message"]


def test_edits_made_on_an_old_state_are_rebased_or_refused(client, project_id):
    base = client.get(f"/api/projects/{project_id}").json()["revision"]
    rename = {"kind": "change-scene", "scene": "reveal", "name": "One"}
    assert edit(client, project_id, rename, base).status_code == 200
    ground = {"kind": "change-scene", "scene": "reveal", "ground": "#123456"}
    assert edit(client, project_id, ground, base).status_code == 200
    refused = edit(client, project_id, {**rename, "name": "Two"}, base)
    assert refused.status_code == 409 and "changed elsewhere" in refused.json()["error"]["message"]


def test_malformed_requests_name_the_field(client, project_id):
    for body, field in (({}, "edit"), ({"edit": {}, "extra": 1}, "extra"), ({"edit": []}, "edit")):
        answer = client.post(f"/api/projects/{project_id}/edits", json=body)
        assert answer.status_code == 422 and field in answer.json()["error"]["field"]
    assert client.post("/api/projects", json={"name": ""}).status_code == 422


def test_pictures_are_uploaded_placed_and_cannot_vanish(client, project_id):
    answer = client.post(f"/api/projects/{project_id}/assets?name=kite.png", content=png(40, 30))
    assert answer.status_code == 201
    asset = answer.json()["asset"]
    assert (asset["kind"], asset["width"], asset["name"]) == ("picture", 40, "kite.png")
    again = client.post(f"/api/projects/{project_id}/assets?name=twice.png", content=png(40, 30))
    assert again.json()["asset"]["id"] == asset["id"]
    thumbnail = client.get(f"/api/assets/{asset['hash']}/thumbnail")
    assert thumbnail.headers["content-type"] == "image/webp"
    picture = {"id": "pic", "name": "Pic", "kind": "picture", "start_s": 0, "end_s": 1,
               "properties": {"picture.asset": {"value": asset["id"]}}}  # fmt: skip
    edit(client, project_id, {"kind": "add-layers", "scene": "reveal", "layers": [picture]})
    refused = edit(client, project_id, {"kind": "remove-asset", "asset": asset["id"]})
    assert refused.status_code == 409 and "Pic in Logo reveal" in refused.json()["error"]["message"]
    palette = client.get(f"/api/projects/{project_id}/assets/{asset['id']}/palette")
    (found,) = palette.json()
    assert found["colour"] == "#ff7a45"
    inks = client.get(f"/api/projects/{project_id}").json()["project"]["inks"]
    assert found["ink"] in (None, *(ink["id"] for ink in inks))
    file = client.get(f"/api/projects/{project_id}/assets/{asset['id']}/file")
    assert (
        file.content == png(40, 30) and file.headers["content-type"] == "application/octet-stream"
    )


@pytest.mark.parametrize(
    ("name", "data", "status"),
    [
        ("story.png", b"no picture", 415), ("kite.png", png()[:40], 415),
        ("big.png", b"\x89PNG" + b"0" * (3 * 2**20), 413), ("wide.png", png(4000, 1200), 413),
        ("font.ttf", b"\x00\x01\x00\x00junk", 415),
    ],
)  # fmt: skip
def test_bad_uploads_are_refused_and_leave_nothing(client, project_id, name, data, status):
    before = client.get(f"/api/projects/{project_id}").json()
    answer = client.post(f"/api/projects/{project_id}/assets?name={name}", content=data)
    assert answer.status_code == status, answer.text
    assert client.get(f"/api/projects/{project_id}").json() == before


def test_frames_strips_colours_and_picks(client, project_id):
    base = f"/api/projects/{project_id}/scenes/reveal"
    frame = cv2.imdecode(
        np.frombuffer(client.get(f"{base}/frame.jpg?height=90").content, np.uint8), 1
    )
    assert frame.shape == (90, 160, 3)
    assert np.abs(frame[45, 80].astype(int) - (0x45, 0x7A, 0xFF)).max() < 6
    strip = cv2.imdecode(
        np.frombuffer(client.get(f"{base}/strip.jpg?count=4&height=45").content, np.uint8), 1
    )
    assert strip.shape == (45, 320, 3)
    assert client.get(f"{base}/colour?time_s=0&x=160&y=90").json() == {"colour": "#ff7a45"}
    gone = client.get(f"{base}/colour?time_s=0&x=160&y=90&layer=box&effect=nowhere")
    assert gone.status_code == 404 and "no such effect" in gone.json()["error"]["message"]
    assert client.get(f"{base}/pick?time_s=0&x=160&y=90").json() == {"layers": ["box"]}
    assert client.get(f"{base}/pick?time_s=0&x=5&y=5").json() == {"layers": []}
    assert client.get(f"{base}/frame.jpg?time_s=nan").status_code == 422
    assert client.get(f"/api/projects/{project_id}/scenes/none/frame.jpg").status_code == 404
    assert client.get(f"{base}/frame.jpg?step=-1").status_code == 422
    assert client.get(f"{base}/frame.jpg?step=900").status_code == 404


def test_typed_numbers_and_times(client):
    number = {"kind": "number", "text": "50% - 10", "units": {"%": 19.2}}
    assert client.post("/api/parse", json=number).json() == {"value": 950}
    timed = {"kind": "time", "text": "+12f", "rate_num": 24, "now_s": 1}
    assert client.post("/api/parse", json=timed).json() == {"value": 1.5, "timecode": "00:01:12"}
    assert client.post("/api/parse", json={**number, "text": "import os"}).status_code == 422


def test_a_render_from_start_to_download(client, project_id):
    plan = client.post("/api/renders/plan", json={"project": project_id, "scene": "reveal"}).json()
    assert (plan["width"], plan["height"], plan["frames"], plan["notice"]) == (320, 180, 50, "")
    settings = {"format": "mp4", "to_s": 0.4, "quality": "draft"}
    started = client.post(
        "/api/renders", json={"project": project_id, "scene": "reveal", "settings": settings}
    )
    assert started.status_code == 201 and started.json()["status"] in ("waiting", "running")
    render_id = started.json()["id"]
    for _ in range(600):
        state = client.get(f"/api/renders/{render_id}").json()
        if state["status"] not in ("waiting", "running"):
            break
        time.sleep(0.1)
    assert state["status"] == "done" and state["total"] == 10
    video = client.get(state["file_url"])
    assert (
        video.headers["content-type"] == "video/mp4" and len(video.content) == state["size_bytes"]
    )
    part = client.get(state["file_url"], headers={"range": "bytes=0-99"})
    assert part.status_code == 206 and len(part.content) == 100
    named = client.get(f"{state['file_url']}?download=true").headers["content-disposition"]
    assert "logo-reveal.mp4" in named
    poster = client.get(state["poster_url"])
    assert poster.headers["content-type"] == "image/jpeg" and poster.content[:2] == b"\xff\xd8"
    assert [r["id"] for r in client.get("/api/renders").json()] == [render_id]
    renamed = client.patch(f"/api/renders/{render_id}", json={"name": "  Über the bay  "})
    assert renamed.status_code == 200 and renamed.json()["name"] == "Über the bay"
    file = client.get(f"/api/renders/{render_id}/file?download=true")
    assert "%C3%BCber-the-bay.mp4" in file.headers["content-disposition"]
    for body in ({"name": "x" * 201}, {"name": None}, {}, {"name": "a", "more": 1}):
        refused = client.patch(f"/api/renders/{render_id}", json=body)
        assert refused.status_code == 422
    assert client.patch("/api/renders/none", json={"name": "a"}).status_code == 404
    assert client.patch(f"/api/renders/{render_id}", json={"name": ""}).json()["name"] == ""
    assert client.delete(f"/api/renders/{render_id}").status_code == 204
    assert client.get(state["poster_url"]).status_code == 404
    assert client.get(f"/api/renders/{render_id}/file").status_code == 404


def test_what_files_will_be_called_and_what_they_cannot_hold_is_told_before(client, project_id):
    def plan(**settings):
        body = {"project": project_id, "scene": "reveal", "settings": settings}
        return client.post("/api/renders/plan", json=body).json()

    assert plan(name="{scene}_{size}", also=["otio"])["names"] == [
        "logo-reveal_320x180.mp4", "logo-reveal_320x180.otio",
    ]  # fmt: skip
    assert plan(format="wav", name="{scene}-{size}")["names"] == ["logo-reveal.wav"]
    assert plan(name="{nobody}")["error"]["field"] == "name"
    assert plan(format="svg")["notes"] == []
    edit = {"kind": "add-members", "scene": "reveal", "layers": ["box"], "family": "effect",
            "members": [{"member": {"id": "soft", "kind": "gaussian-blur"}}]}  # fmt: skip
    assert client.post(f"/api/projects/{project_id}/edits", json={"edit": edit}).status_code == 200
    assert "picture" in plan(format="svg")["notes"][0]


def test_render_settings_are_checked(client, project_id):
    wrong = ({"scale": 0}, {"from_s": 50}, {"format": "avi"}, {"surprise": True}, {"name": "{x}"})
    for settings in wrong:
        body = {"project": project_id, "scene": "reveal", "settings": settings}
        assert client.post("/api/renders", json=body).status_code == 422
    assert client.get("/api/renders").json() == []


def test_export_and_import(client, project_id):
    client.post(f"/api/projects/{project_id}/assets?name=kite.png", content=png())
    data = client.get(f"/api/projects/{project_id}/export")
    assert data.headers["content-disposition"].endswith('"kite-week.zip"')
    with zipfile.ZipFile(io.BytesIO(data.content)) as archive:
        assert json.loads(archive.read("project.json"))["id"] == project_id
    made = client.post("/api/projects/import", content=data.content)
    assert made.status_code == 201
    assert made.json()["project"]["id"] != project_id
    assert made.json()["project"]["scenes"][0]["layers"][0]["name"] == "Box"
    assert client.post("/api/projects/import", content=b"no zip").status_code == 415


def test_the_catalog_and_the_schema_are_served(client):
    catalog = client.get("/api/catalog").json()
    assert [kind["id"] for kind in catalog["layer_kinds"]] == [
        "backdrop",
        "shape",
        "text",
        "picture",
        "clip",
        "sound",
        "treatment",
        "carrier",
        "scene",
    ]
    assert (
        len(catalog["fonts"]) == 31 and len(catalog["rates"]) == 8 and len(catalog["frames"]) == 6
    )
    assert client.get("/api/projects/schema").json() == json.loads(json.dumps(document_schema()))
    paths = client.get("/api/openapi.json").json()["paths"]
    assert "/api/projects/{project_id}/edits" in paths


def test_pages_are_served_and_missing_ones_say_so(client, project_id):
    for path in (
        "/",
        f"/projects/{project_id}",
        f"/projects/{project_id}/scenes/reveal",
        "/renders",
    ):
        page = client.get(path)
        assert page.status_code == 200 and "Young Comet" in page.text
        assert (
            "<script>" not in page.text
            and " style=" not in page.text
            and "onclick" not in page.text
        )
    missing = client.get("/projects/nowhere")
    assert missing.status_code == 404 and "nowhere" in missing.text


def test_names_are_escaped_in_pages(client):
    made = client.post("/api/projects", json={"name": "<img src=x onerror=alert(1)>"}).json()
    page = client.get(f"/projects/{made['project']['id']}").text
    assert "<img src=x" not in page and "&lt;img" in page
