"""What pages and server say to each other, held against the published schema."""

import threading
from typing import Annotated

import pytest
from pydantic import Field, TypeAdapter
from tests.web.steps import connect, edit, receive

from young_comet.web.messages import ASKED, AnyTold, Edited, Matched, Problem
from young_comet.web.messages.told import StageShown

TOLD = TypeAdapter(Annotated[AnyTold, Field(discriminator="type")])


def told(header):
    return TOLD.validate_python(header)


def test_the_schema_lists_every_message_of_both_directions(client):
    schema = client.get("/api/live/schema").json()
    asked = set(schema["asked"]["discriminator"]["mapping"])
    assert asked == {"stage", "compare", "fill", "forget", "match", "cancel-match"}
    said = set(schema["told"]["discriminator"]["mapping"])
    assert said == {
        "stage", "compare", "frame", "filled", "match", "edited", "render", "asset-found", "error",
    }  # fmt: skip


def test_every_answer_is_one_of_the_schema(client, project_id):
    asked = {
        "stage": {"time_s": 1, "height": 90, "selected": ["box"], "lanes": ["box"]},
        "compare": {"with": "moment", "time_s": 2, "height": 90},
        "fill": {"first": 0, "count": 2, "height": 90},
        "match": {"how": "loop", "first": 0, "last": 8},
    }
    answers = {"stage": "stage", "compare": "compare", "fill": "filled", "match": "match"}
    with connect(client, project_id) as socket:
        for number, (kind, more) in enumerate(asked.items()):
            ASKED.validate_python({"type": kind, "id": number, **more})
            socket.send_json({"type": kind, "id": number, **more})
            header, _ = receive(socket, answers[kind])
            assert told(header).id == number
        socket.send_json({"type": "stage", "id": 9, "time_s": "noon"})
        header, _ = receive(socket, "error")
        assert isinstance(told(header), Problem) and "time_s" in header["message"]
        edit(client, project_id, {"kind": "rename-project", "name": "Kites at noon"})
        header, _ = receive(socket, "edited")
        change = told(header)
        assert isinstance(change, Edited) and change.label and change.patch


def test_what_is_not_said_is_left_out_but_nothing_to_redo_is_said():
    stage = StageShown(
        id=1, revision=2, frame=3, time_s=0.1, signature="s", layers={}, shapes={}
    )  # fmt: skip
    assert "lanes" not in stage.data() and stage.data()["faults"] == []
    assert Matched(id=1, error="lost").data() == {"type": "match", "id": 1, "error": "lost"}
    change = Edited(revision=1, patch=[], label="x", undo_label="x", redo_label=None)
    assert change.data()["redo_label"] is None


def test_everything_a_session_keeps_is_touched_by_the_frame_thread_alone(
    client, project_id, monkeypatch
):
    from young_comet.web.live import playback

    threads = set()

    class Watched(set):
        def __contains__(self, item):
            threads.add(threading.current_thread().name)
            return super().__contains__(item)

        def add(self, item):
            threads.add(threading.current_thread().name)
            super().add(item)

        def __iter__(self):
            threads.add(threading.current_thread().name)
            return super().__iter__()

    made = playback.Playback.__init__

    def watched(self, *args):
        made(self, *args)
        self._sent, self._numbers = Watched(), Watched()

    monkeypatch.setattr(playback.Playback, "__init__", watched)
    with connect(client, project_id) as socket:
        for number in range(2):
            socket.send_json({"type": "fill", "id": number, "first": 0, "count": 3, "height": 90})
            header, _ = receive(socket, "filled")
            assert "error" not in header
            socket.send_json({"type": "forget", "signatures": ["gone"]})
    assert threads == {"frames"}


@pytest.mark.parametrize("text", ["", "[]", "nonsense", '{"type": "weather"}', '{"type": "fill"}'])
def test_a_wrong_message_is_answered_and_the_next_one_served(client, project_id, text):
    with connect(client, project_id) as socket:
        socket.send_text(text)
        header, _ = receive(socket, "error")
        assert told(header).message
        socket.send_json({"type": "stage", "id": 4, "time_s": 0, "height": 90})
        header, _ = receive(socket, "stage")
        assert header["id"] == 4
