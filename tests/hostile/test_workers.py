"""One failing thing never stops another: every worker goes on after a job that raised."""

import asyncio
import json
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest
from fastapi.testclient import TestClient
from tests.build import layer, png, project
from tests.web.steps import SCENE, connect, edit

from young_comet.config import Config
from young_comet.core.export import RenderSettings
from young_comet.core.paint import shared_out
from young_comet.errors import RenderError, StorageFullError
from young_comet.jobs import LocalProcesses, RenderQueue, Worker, guarded
from young_comet.jobs import queue as queues
from young_comet.web import create_app
from young_comet.web.frames import FrameService


def wait_for(what, seconds=8.0):
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if found := what():
            return found
        time.sleep(0.02)
    raise AssertionError("it did not come about")


def result_of(coroutine):
    """Runs it in a thread of its own: a test before may have left a loop in this one."""
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(asyncio.run, coroutine).result()


def torn(*_, **__):
    raise ValueError("torn sail")


# The loop


def test_a_turn_that_raises_costs_its_own_job_only():
    done, jobs = [], [torn, lambda: done.append(1), torn, lambda: done.append(2)]
    there = threading.Event()

    def turn():
        if jobs:
            jobs.pop(0)()
        else:
            there.wait(0.05)

    worker = Worker("test", turn, there.set)
    worker.start()
    wait_for(lambda: done == [1, 2])
    assert worker.is_alive
    worker.stop(2)
    assert not worker.is_alive


def test_a_turn_that_always_fails_does_not_keep_a_core_busy():
    count = []
    worker = Worker("test", lambda: (count.append(1), torn()), lambda: None)
    worker.start()
    time.sleep(0.5)
    worker.stop(3)
    assert 2 <= len(count) < 12


def test_reports_that_fail_do_no_harm():
    heard = []
    assert guarded("x", lambda: heard.append(1))
    assert not guarded("x", torn, lambda error: heard.append(str(error)))
    assert not guarded("x", torn, torn)
    assert heard == [1, "torn sail"]


# The frame thread


@pytest.fixture
def frames(folder):
    service = FrameService(folder.assets, shared_out(1024, 1), None)
    service.start()
    yield service
    service.stop()


def test_stage_frames_fills_and_tasks_that_fail_leave_the_thread_alive(frames):
    drawn = []
    frames.stage(1, torn)

    def fails(kit):
        yield
        raise KeyError("gust")

    frames.fill(2, fails)
    frames.stage(3, lambda kit: drawn.append("stage"))

    def steps(kit):
        yield
        drawn.append("fill")

    frames.fill(4, steps)
    wait_for(lambda: set(drawn) == {"stage", "fill"})
    with pytest.raises(ValueError, match="torn sail"):
        result_of(frames.run(torn))
    assert result_of(frames.run(lambda kit: 7)) == 7
    assert not frames._fills  # what has failed is not tried again


def test_who_waits_for_a_task_hears_that_the_program_ends(folder):
    service = FrameService(folder.assets, shared_out(1024, 1), None)  # its thread never starts

    async def ask():
        waiting = asyncio.ensure_future(service.run(lambda kit: 1))
        await asyncio.sleep(0.05)
        service.stop()
        return await waiting

    with pytest.raises(RenderError, match="being stopped"):
        result_of(ask())


# The page is told


@pytest.fixture
def client(config: Config):
    with TestClient(
        create_app(config), base_url="http://127.0.0.1:8765", raise_server_exceptions=False
    ) as client:
        made = client.post("/api/projects", json={"name": "Kite Week"}).json()["project"]["id"]
        assert edit(client, made, {"kind": "add-scene", "scene": SCENE}).status_code == 200
        client.project = made
        yield client


def stage(client):
    with connect(client, client.project) as socket:
        socket.send_text(json.dumps({"type": "stage", "id": 1, "time_s": 0.2, "height": 90}))
        data = socket.receive_bytes()
        return json.loads(data[4 : 4 + int.from_bytes(data[:4], "big")])


def add(client, **values):
    new = {"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 2, **values}
    assert (
        edit(
            client, client.project, {"kind": "add-layers", "scene": "reveal", "layers": [new]}
        ).status_code
        == 200
    )


def test_the_stage_tells_what_cannot_be_drawn_and_shows_the_rest(client, monkeypatch):
    from tests.hostile.test_drawing import broken

    from young_comet.core.effects import EFFECTS

    broken(EFFECTS, monkeypatch, "swirl")
    add(client, effects=[{"id": "e", "kind": "swirl"}])
    header = stage(client)
    assert header["faults"] == [
        {"layer": "kite", "inner": "", "part": "Swirl", "why": "ValueError: torn sail"}
    ]
    assert header["layers"]["kite"]["on"] and "corners" in header["layers"]["kite"]
    picture = client.get(f"/api/projects/{client.project}/scenes/reveal/frame.jpg?height=60")
    assert picture.status_code == 200
    monkeypatch.undo()
    assert stage(client)["faults"] == []


def test_a_missing_file_leaves_a_mark_is_listed_and_is_found_again(client):
    from young_comet.web.services import Services

    services: Services = client.app.state.services
    url = f"/api/projects/{client.project}"
    asset = client.post(f"{url}/assets?name=emblem.png", content=png()).json()["asset"]
    add(client, kind="picture", properties={"picture.asset": {"value": asset["id"]}})
    services.assets._path(asset["hash"]).unlink()
    faults = stage(client)["faults"]
    assert [(f["layer"], f["part"], f["why"]) for f in faults] == [
        ("kite", "emblem.png", "its file is missing")
    ]
    assert [m["why"] for m in client.get(f"{url}/missing").json()] == ["its file is missing"]
    assert client.get(f"{url}/export").status_code == 200
    other = client.post(f"{url}/assets/{asset['id']}/file?name=x.png", content=png(9, 9))
    assert other.status_code == 409 and "not the file" in other.json()["error"]["message"]
    again = client.post(f"{url}/assets/{asset['id']}/file?name=x.png", content=png())
    assert again.status_code == 200 and client.get(f"{url}/missing").json() == []
    assert stage(client)["faults"] == []
    taken = client.post(
        f"{url}/assets/{asset['id']}/file?name=y.png&another=true", content=png(9, 9)
    ).json()["asset"]
    assert (taken["id"], taken["width"]) == (asset["id"], 9)
    assert client.post(f"{url}/undo").status_code == 200
    wrong = client.post(
        f"{url}/assets/{asset['id']}/file?name=y.cube&another=true",
        content=b"LUT_1D_SIZE 2\n0 0 0\n1 1 1\n",
    )
    assert wrong.status_code == 422 and "picture" in wrong.json()["error"]["message"]


def test_binary_and_wrong_messages_leave_the_socket_open(client):
    with connect(client, client.project) as socket:
        socket.send_bytes(b"\x00\xff")
        assert json.loads(socket.receive_text())["type"] == "error"
        socket.send_text("[" * 5000)
        assert json.loads(socket.receive_text())["type"] == "error"
        socket.send_text(json.dumps({"type": "stage", "id": 4, "time_s": 0, "height": 90}))
        assert socket.receive_bytes()


def test_pages_hear_of_edits_in_the_order_of_their_revisions(client):
    with connect(client, client.project) as socket:
        add(client)
        threads = [
            threading.Thread(target=edit, args=(client, client.project, {
                "kind": "set-values", "scene": "reveal", "targets": [{"layer": "kite", "property": "opacity", "value": n}]}))
            for n in range(1, 25)
        ]  # fmt: skip
        for thread in threads:
            thread.start()
        heard = [json.loads(socket.receive_text())["revision"] for _ in range(25)]
        for thread in threads:
            thread.join()
    assert heard == sorted(heard) and len(set(heard)) == 25


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [("get", "/api/nothing/here", 404), ("delete", "/api/catalog", 405), ("get", "/api/projects/ghost", 404),
     ("get", "/static/none.js", 404)],
)  # fmt: skip
def test_every_answer_of_the_api_has_the_documented_form(client, method, path, status):
    answer = getattr(client, method)(path)
    assert answer.status_code == status
    if path.startswith("/api/"):
        assert set(answer.json()["error"]) == {"kind", "message", "field"}


def test_an_unforeseen_error_is_told_in_the_documented_form(client, monkeypatch):
    monkeypatch.setattr(client.app.state.services.workspace, "projects", torn)
    answer = client.get("/api/projects")
    assert answer.status_code == 500 and "torn" not in answer.text
    assert answer.json()["error"]["message"].startswith(
        "something unexpected went wrong (ValueError)"
    )


def test_a_foreign_origin_that_is_none_is_refused(client):
    answer = client.get("/api/catalog", headers={"origin": "http://[::1"})
    assert answer.status_code == 403


# The render queue


@pytest.fixture
def queue(folder):
    made = RenderQueue(folder.renders, folder.renders_dir, folder.assets_dir, LocalProcesses(1))
    made.start()
    yield made
    made.stop()


def still(**more):
    return RenderSettings(format="png", scale=0.1, **more)


def ended(queue, folder, record):
    wait_for(lambda: folder.renders.get(record.id).status not in ("waiting", "running"), 30)
    return folder.renders.get(record.id)


def test_a_report_that_cannot_be_stored_ends_neither_the_thread_nor_the_render(
    queue, folder, monkeypatch
):
    document = project(layer("kite", "shape"))
    real, failures = folder.renders.change, []

    def change(render_id, **values):
        if len(failures) < 3:
            failures.append(values)
            raise StorageFullError("the disk is full")
        real(render_id, **values)

    monkeypatch.setattr(folder.renders, "change", change)
    first = queue.add(document, "reveal", still())
    assert ended(queue, folder, first).status == "done" and len(failures) == 3
    second = queue.add(document, "reveal", still())
    assert ended(queue, folder, second).status == "done"


def test_a_render_that_raises_fails_in_words_and_the_next_one_is_done(queue, folder, monkeypatch):
    document = project(layer("kite", "shape"))
    monkeypatch.setattr(queues, "render_scene", torn)
    first = ended(queue, folder, queue.add(document, "reveal", still()))
    assert first.status == "failed" and "torn sail" in first.message
    monkeypatch.undo()
    assert ended(queue, folder, queue.add(document, "reveal", still())).status == "done"
    queue.again(first.id)
    assert ended(queue, folder, first).status == "done"


def test_a_render_stops_where_something_is_missing_or_goes_on_with_a_mark(queue, folder):
    from young_comet.core.model import Asset

    lost = Asset(
        id="a",
        name="emblem.png",
        kind="picture",
        media_type="image/png",
        hash="a" * 64,
        size_bytes=1,
        width=40,
        height=40,
    )
    document = project(layer("kite", "picture", picture__asset="a")).model_copy(
        update={"assets": (lost,)}
    )
    stopped = ended(
        queue, folder, queue.add(document, "reveal", RenderSettings(scale=0.2, to_s=0.2))
    )
    assert stopped.status == "failed"
    assert stopped.message == "Frame 0: emblem.png of 'Kite' cannot be drawn: its file is missing"
    queue.again(stopped.id, gaps="mark")
    gone_on = ended(queue, folder, stopped)
    assert gone_on.status == "done" and "Marked as missing: emblem.png of 'Kite'" in gone_on.message


def test_stopping_marks_a_render_as_interrupted_not_as_cancelled(folder):
    queue = RenderQueue(folder.renders, folder.renders_dir, folder.assets_dir, LocalProcesses(1))
    queue.start()
    record = queue.add(project(layer("kite", "shape"), length_s=600.0), "reveal", RenderSettings())
    wait_for(lambda: folder.renders.get(record.id).status == "running")
    began = time.monotonic()
    queue.stop()
    assert time.monotonic() - began < 5
    found = folder.renders.get(record.id)
    assert (found.status, found.done) == ("interrupted", 0) and "stopped" in found.message
    assert not list(folder.renders_dir.glob(".render-*"))


def test_the_picture_that_stands_in_is_kept_when_a_page_is_left(client):
    add(client)
    url = f"/api/projects/{client.project}/scenes/reveal/kept.jpg"
    assert client.get(url).status_code == 204
    stage(client)
    assert wait_for(lambda: client.get(url).content)[:2] == b"\xff\xd8"
    assert client.get(f"/api/projects/{client.project}/scenes/ghost/kept.jpg").status_code == 204
