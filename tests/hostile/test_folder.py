"""The data folder: one holder, full, read-only or damaged disks, kills."""

import errno
import os
import shutil
import signal
import subprocess
import sys
import time

import pytest
from sqlalchemy import event
from tests.build import layer, png, project
from tests.hostile.server import Server, gone_within, killed, new_project, set_opacity

from young_comet.config import Config
from young_comet.edits import parse_edit
from young_comet.errors import DamagedError, StorageError, StorageFullError
from young_comet.store import DataFolder, examined

# A server ends in a second or two; what hangs in it here would take a minute.
ENDS_S = 10


def cli(*arguments, **environment):
    done = subprocess.run(
        [sys.executable, "-m", "young_comet.cli", *arguments], capture_output=True, text=True,
        env={**os.environ, "COLUMNS": "300", **environment}, timeout=60,
    )  # fmt: skip
    return done.returncode, done.stdout, done.stderr


def opacity(value):
    target = {"layer": "kite", "property": "opacity", "value": value}
    return parse_edit({"kind": "set-values", "scene": "reveal", "targets": [target]})


# Two servers


def test_a_second_server_says_who_has_the_folder_and_touches_nothing(tmp_path):
    server = Server(tmp_path / "data", previews=0)
    try:
        project_id = new_project(server)
        started = server.ask("POST", "/api/renders", {"project": project_id, "scene": "reveal"})
        code, _, said = cli("serve", "--data", str(server.data), "--port", "0")
        assert (
            code == 1
            and f"in use by another Young Comet, process {server.process.pid} ({server.address})"
            in said
        )
        port = server.address.rsplit(":", 1)[1]
        code, _, said = cli("serve", "--data", str(tmp_path / "other"), "--port", port)
        assert code == 1 and f"port {port} is in use by another program" in said
        assert not (tmp_path / "other").exists()
        assert server.ask("GET", f"/api/renders/{started['id']}")["status"] in (
            "waiting",
            "running",
            "done",
        )
        assert set_opacity(server, project_id, 50) == 4
        code, listed, _ = cli("projects", "--data", str(server.data))
        assert code == 0 and "Kite Week" in listed
        code, _, said = cli(
            "import-project", str(tmp_path / "none.zip"), "--data", str(server.data)
        )
        assert code == 1 and "in use" in said
    finally:
        assert server.terminate() < ENDS_S


def test_kills_lose_nothing_that_was_acknowledged_and_leave_nothing(tmp_path):
    assert killed(tmp_path / "data", 4, seed=1) == []


FAILING = """
import young_comet.core.effects as effects
from dataclasses import replace
import time
def fails(*_): raise ValueError("torn sail")
def hangs(*_): time.sleep(60)
members = effects.EFFECTS._members
members["swirl"] = replace(members["swirl"], draw=fails)
members["wave"] = replace(members["wave"], draw=hangs)
"""


def test_a_server_whose_frames_fail_goes_on_and_one_whose_frames_hang_ends_within_seconds(tmp_path):
    server = Server(tmp_path / "data", prelude=FAILING, previews=1)
    project_id = new_project(server)
    frame = f"/api/projects/{project_id}/scenes/reveal/frame.jpg?height=60"
    add = {
        "kind": "add-members",
        "family": "effect",
        "scene": "reveal",
        "layers": ["kite"],
        "members": [{"member": {"id": "e", "kind": "swirl"}}],
    }
    server.edit(project_id, add)
    assert server.ask("GET", frame)[:2] == b"\xff\xd8"
    server.edit(project_id, {**add, "members": [{"member": {"id": "w", "kind": "wave"}}]})
    with pytest.raises(OSError):  # nobody answers while the thread hangs, but other things go on
        server.ask("GET", frame + "&time_s=1", timeout=1)
    assert set_opacity(server, project_id, 40) > 0
    family = server.family()
    assert server.terminate() < ENDS_S
    assert gone_within(family, 2) == set()


@pytest.mark.parametrize("signum", [signal.SIGTERM, signal.SIGINT])
def test_a_server_told_to_end_while_its_helpers_start_leaves_nothing(tmp_path, signum):
    server = Server(tmp_path / "data", previews=1)
    until = time.monotonic() + 30
    while len(server.family()) < 4 and time.monotonic() < until:
        time.sleep(0.02)
    family = server.family()
    assert len(family) >= 4
    assert server.terminate(signum) < ENDS_S
    assert server.process.returncode == -signum
    assert gone_within(family, 1) == set()


# Disks


def full_database(folder):
    """Makes the database's file as large as it may be."""

    def limited(connection, _):
        connection.execute("PRAGMA max_page_count=1")

    event.listen(folder.database.engine, "connect", limited)
    folder.database.engine.dispose()


def test_a_full_disk_is_said_and_nothing_is_lost(folder):
    folder.workspace.create(project(layer("kite", "shape")))
    folder.workspace.edit("kites", opacity(10))
    full_database(folder)
    with pytest.raises(StorageFullError, match="make room"):
        for value in range(400):
            folder.workspace.edit("kites", opacity(value % 90 + 0.25))
    kept = folder.workspace.state("kites")
    reopened = DataFolder.__new__(DataFolder)  # the same folder read by somebody else
    del reopened
    from tests.build import Context

    from young_comet.store import Workspace

    again = Workspace(folder.database, Context).state("kites")
    assert again.project == kept.project and again.revision == kept.revision


def test_a_full_disk_refuses_uploads_in_words(folder, monkeypatch):
    def full(*_, **__):
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    monkeypatch.setattr("young_comet.store.assets.os.fdopen", full)
    with pytest.raises(StorageFullError, match="the disk is full"):
        folder.assets.ingest("kite.png", png(), "a1")
    monkeypatch.undo()
    assert folder.assets.ingest("kite.png", png(), "a1").width == 40
    assert not list(folder.assets_dir.rglob(".part-*"))


def test_answers_of_the_api_about_a_full_disk(config, monkeypatch):
    from fastapi.testclient import TestClient
    from tests.web.steps import SCENE, edit

    from young_comet.web import create_app

    with TestClient(
        create_app(config), base_url="http://127.0.0.1:8765", raise_server_exceptions=False
    ) as client:
        made = client.post("/api/projects", json={"name": "Kite Week"}).json()["project"]["id"]

        def full(*_, **__):
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

        monkeypatch.setattr("young_comet.store.assets.os.fdopen", full)
        monkeypatch.setattr("tempfile.TemporaryFile", full)
        monkeypatch.setattr("tempfile.NamedTemporaryFile", full)
        for answer in (
            client.post(f"/api/projects/{made}/assets?name=k.png", content=png()),
            client.get(f"/api/projects/{made}/export"),
            client.post("/api/projects/import", content=b"PK"),
        ):
            assert answer.status_code == 507 and "make room" in answer.json()["error"]["message"]
        monkeypatch.undo()
        full_database(client.app.state.services.folder)
        for _ in range(300):
            answer = edit(
                client,
                made,
                {"kind": "add-scene", "scene": {**SCENE, "id": f"s{_}", "name": "x" * 200}},
            )
            if answer.status_code != 200:
                break
        assert answer.status_code == 507 and answer.json()["error"]["kind"] == "StorageFullError"


@pytest.mark.parametrize(
    ("break_it", "words"),
    [
        (lambda path: path.write_bytes(b"hello" * 100), "damaged"),
        (lambda path: path.write_bytes(path.read_bytes()[:3000]), "damaged"),
    ],
)
def test_a_damaged_database_is_said(config, break_it, words):
    DataFolder(config).close()
    break_it(config.data / "young-comet.sqlite")
    with pytest.raises(StorageError, match=words):
        DataFolder(config)
    assert any(f.level == "wrong" and words in f.words for f in examined(config))


def test_a_database_of_a_later_version_is_said_and_left_alone(config):
    import sqlite3

    DataFolder(config).close()
    path = config.data / "young-comet.sqlite"
    with sqlite3.connect(path) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    connection.close()
    before = path.read_bytes()
    with pytest.raises(DamagedError, match="later Young Comet"):
        DataFolder(config)
    assert path.read_bytes() == before


def test_a_database_from_before_the_journal_is_brought_along(config):
    import sqlite3

    first = DataFolder(config)
    first.workspace.create(project(layer("kite", "shape")))
    first.workspace.edit("kites", opacity(10))
    first.close()
    path = config.data / "young-comet.sqlite"
    with sqlite3.connect(path) as connection:
        connection.executescript(
            "DROP TABLE journal; ALTER TABLE projects DROP COLUMN checkpoint; ALTER TABLE projects DROP COLUMN scene_count;"
            "ALTER TABLE projects DROP COLUMN first_scene; ALTER TABLE projects DROP COLUMN tags;"
            "ALTER TABLE renders DROP COLUMN name; UPDATE alembic_version SET version_num = '0001'"
        )
    connection.close()
    second = DataFolder(config)
    (listed,) = second.workspace.projects()
    assert (listed.scene_count, listed.first_scene) == (1, "reveal")
    state = second.workspace.undo("kites").state
    assert "opacity" not in state.project.scenes[0].layers[0].properties
    second.close()


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["serve", "--data", "FILE"], "is a file where a folder is expected"),
        (["projects", "--data", "FILE/below"], "a file where a folder is expected"),
        (["serve", "--port", "70000"], "port"),
        (["serve", "--host", "300.1.2.3", "--port", "0"], "no address to listen at"),
    ],
)
def test_wrong_settings_are_sentences(tmp_path, arguments, words):
    file = tmp_path / "file"
    file.write_text("kite")
    filled = [a.replace("FILE", str(file)) for a in arguments]
    if "--data" not in filled:
        filled += ["--data", str(tmp_path / "data")]
    code, _, said = cli(*filled)
    assert code == 1 and words in said and "Traceback" not in said


@pytest.mark.skipif(os.geteuid() == 0, reason="root may write everywhere")
def test_a_read_only_folder_is_said(config):
    DataFolder(config).close()
    config.data.chmod(0o500)
    try:
        with pytest.raises(StorageError, match="write access"):
            DataFolder(config)
    finally:
        config.data.chmod(0o700)


def test_errors_of_the_disk_in_words():
    from young_comet.store.trouble import storage_error

    said = {code: str(storage_error(OSError(code, os.strerror(code)), "/kites")) for code in
            (errno.ENOSPC, errno.EACCES, errno.EROFS, errno.ENOTDIR, errno.EMFILE, errno.EIO)}  # fmt: skip
    assert "make room" in said[errno.ENOSPC] and "write access" in said[errno.EROFS]
    assert all(text and "Errno" not in text for text in said.values())


# What is left and what is wrong


def test_a_start_removes_what_a_killed_program_left(config):
    folder = DataFolder(config)
    folder.assets.ingest("kite.png", png(), "a1")
    left = [
        folder.renders_dir / ".render-x",
        folder.path / ".part-y",
        next(folder.assets_dir.iterdir()) / ".part-z",
    ]
    left[0].mkdir()
    (left[0] / "part-0.mp4").write_bytes(b"x")
    for file in left[1:]:
        file.write_bytes(b"x")
    folder.close()
    DataFolder(config).close()
    assert not any(path.exists() for path in left)


def test_the_doctor_finds_what_is_wrong_and_changes_nothing(config):
    folder = DataFolder(config)
    asset = folder.assets.ingest("kite.png", png(), "emblem")
    other = folder.assets.ingest("bay.png", png(9, 9), "bay")
    document = project(layer("kite", "shape")).model_copy(update={"assets": (asset, other)})
    folder.workspace.create(document)
    folder.close()
    assert all(finding.level == "well" for finding in examined(config))
    folder.assets._path(asset.hash).unlink()
    path = folder.assets._path(other.hash)
    path.write_bytes(path.read_bytes()[::-1])
    (config.data / ".part-x").write_bytes(b"x")
    before = (config.data / "young-comet.sqlite").read_bytes()
    found = [(f.level, f.words) for f in examined(config)]
    assert (config.data / "young-comet.sqlite").read_bytes() == before and (
        config.data / ".part-x"
    ).exists()
    wrong = [words for level, words in found if level == "wrong"]
    assert any("'kite.png': its file is missing" in words for words in wrong)
    assert any("'bay.png': its file holds other bytes" in words for words in wrong)
    assert any("left over" in words for level, words in found if level == "note")
    code, said, _ = cli("doctor", "--data", str(config.data))
    assert code == 1 and "find it again" in said


def test_thumbnails_are_kept_and_pruned(folder):
    kept = folder.thumbnails
    kept.put(b"one", "frame", 1)
    assert kept.get("frame", 1) == b"one" and kept.get("frame", 2) is None
    kept._limit = 0
    kept.prune()
    assert kept.get("frame", 1) is None
    shutil.rmtree(folder.thumbnails_dir)
    kept.prune()


def test_a_config_of_nonsense_is_named():
    with pytest.raises(ValueError):
        Config(port=-1)


def test_small_answers_are_sent_at_once(tmp_path):
    import http.client
    import time
    from urllib.parse import urlsplit

    server = Server(tmp_path / "data", previews=0)
    try:
        where = urlsplit(server.address)
        connection = http.client.HTTPConnection(where.hostname, where.port)
        took = []
        for _ in range(25):
            began = time.monotonic()
            connection.request("GET", "/static/comet.svg")
            connection.getresponse().read()
            took.append(time.monotonic() - began)
        # An answer that waits for the other side's acknowledgement takes 40 ms.
        assert sorted(took)[len(took) // 4] < 0.03
    finally:
        server.terminate()
