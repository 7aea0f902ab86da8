"""Notes of a client that become marks, and a clip's sound that becomes a layer."""

from __future__ import annotations

import json

import numpy as np
import pytest
from pydantic import ValidationError
from tests.build import layer, project
from tests.edits.sound_desk import S, sounding
from tests.edits.test_edits import applied
from tests.sounds import Recordings, noise

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.mix import SceneMix
from young_comet.core.model import Mark, Property
from young_comet.edits import parse_edit
from young_comet.edits.note_edits import MOST_BYTES, read_notes
from young_comet.errors import DocumentError, NotFoundError


def noted(*notes, scene="reveal", by="Mara", **more):
    file = {"kind": "young-comet-notes", "scene": scene, "by": by, **more}
    file["notes"] = [{"at_s": at, "text": text} for at, text in notes]
    return {"kind": "notes-to-marks", "scene": "reveal", "file": file}


def marks(document):
    return [(mark.time_s, mark.name, mark.note) for mark in document.scenes[0].marks]


def kites():
    return project(layer("sky", "backdrop"), marks=(Mark(id="hit", name="hit", time_s=1.0),))


def test_notes_lie_on_the_nearest_frames_in_the_order_of_their_times():
    after = applied(kites(), noted((3.01, "Later"), (0.13, "  The sail\nis too red  "))).project
    assert marks(after) == [
        (0.12, "The sail is too red", "Mara: The sail\nis too red"), (1.0, "hit", ""),
        (3.0, "Later", "Mara: Later"),
    ]  # fmt: skip


def test_a_note_at_a_mark_is_added_to_it_and_none_is_taken_twice():
    first = applied(kites(), noted((1.0, "Softer"), (1.01, "And rounder"))).project
    assert marks(first) == [(1.0, "hit", "Mara: Softer\n\nMara: And rounder")]
    more = applied(first, noted((1.0, "Softer"), (2.0, "Hold it"))).project
    assert [note for _, _, note in marks(more)] == [
        "Mara: Softer\n\nMara: And rounder", "Mara: Hold it",
    ]  # fmt: skip
    with pytest.raises(DocumentError, match="there already"):
        applied(more, noted((1.0, "Softer")))


def test_long_notes_have_short_names_and_what_lies_beyond_the_end_lies_at_it():
    words = "The emblem should come to rest a little before the drum, not after it"
    after = applied(kites(), noted((900.0, words), by="")).project
    time_s, name, note = marks(after)[-1]
    assert time_s == 4.0 and note == words
    assert name.endswith("…") and len(name) <= 41 and words.startswith(name[:-1])


def test_notes_on_another_scene_are_refused_and_those_of_a_copy_taken():
    other = kites()
    second = other.scenes[0].model_copy(update={"id": "tag", "name": "Name tag"})
    other = other.model_copy(update={"scenes": (*other.scenes, second)})
    with pytest.raises(DocumentError, match="Name tag"):
        applied(other, noted((1.0, "Softer"), scene="tag"))
    assert applied(other, noted((2.0, "Softer"), scene="elsewhere")).project


@pytest.mark.parametrize("wrong", [
    noted(), noted((float("nan"), "x")), noted((-1.0, "x")), noted((1.0, "")),
    noted((1.0, "x" * 3000)), noted((1.0, "x"), scene="../up"), noted((1.0, "x"), more=1),
    noted((1.0, "x"), by="x" * 101), noted(*((n / 1000, "x") for n in range(1001))),
    {"kind": "notes-to-marks", "scene": "reveal", "file": {}},
    {"kind": "notes-to-marks", "scene": "reveal", "file": None},
])  # fmt: skip
def test_what_are_no_notes_are_refused(wrong):
    with pytest.raises((DocumentError, ValidationError)):
        parse_edit(wrong)


def test_more_notes_than_a_mark_can_hold_are_refused_whole():
    many = [(1.0, f"{n} " + "x" * 1900) for n in range(4)]
    with pytest.raises(DocumentError, match="at most 4000"):
        applied(kites(), noted(*many))


def test_a_file_of_notes_is_read_or_refused_in_words(tmp_path):
    path = tmp_path / "film.notes.json"
    path.write_text(json.dumps(noted((1.0, "Softer"))["file"]), encoding="utf-8")
    assert read_notes(path).notes[0].text == "Softer"
    for data, said in ((b"", "JSON"), (b"{}", "kind"), (b"\xff\xfe", "."), (b"[" * 9999, "."),
                       (b" " * (MOST_BYTES + 1), "at most")):  # fmt: skip
        path.write_bytes(data)
        with pytest.raises(DocumentError, match=said):
            read_notes(path)
    for gone in (tmp_path, tmp_path / "no.json"):
        with pytest.raises(NotFoundError):
            read_notes(gone)


# A clip's sound

FLIGHT = noise(3.0, 5)


def heard(document):
    clip = next(each for each in document.assets if each.id == "flight")
    sounds = Recordings(flight=FLIGHT)
    sounds.sounds[clip.hash] = FLIGHT
    muted = document.scenes[0].model_copy(
        update={"layers": tuple(la for la in document.scenes[0].layers if la.id != "music")}
    )
    document = document.model_copy(update={"scenes": (muted,)})
    return SceneMix.of(document, "reveal", sounds).read(0, 4 * SAMPLE_RATE)


@pytest.mark.parametrize("values", [
    {}, {"time.speed": 100.0}, {"time.after": "loop", "time.to": 0.5}, {"time.reversed": True},
    {"time.from": 0.7, "time.offset": 0.2, "sound.pan": -40.0, "sound.fade-in": 0.3},
])  # fmt: skip
def test_a_clip_sounds_the_same_with_its_sound_beside_it(values):
    before = sounding()
    clip = before.scenes[0].layers[0]
    chosen = {name: Property(value=value) for name, value in values.items()}
    clip = clip.model_copy(update={"properties": clip.properties | chosen})
    scene = before.scenes[0].model_copy(update={"layers": (clip, *before.scenes[0].layers[1:])})
    before = before.model_copy(update={"scenes": (scene,)})
    after = applied(
        before, {"kind": "separate-sound", **S, "layer": "kites", "id": "apart"}
    ).project
    names = [la.id for la in after.scenes[0].layers]
    assert names[:2] == ["kites", "apart"]
    assert np.abs(heard(before)).max() > 0.01
    assert np.abs(heard(after) - heard(before)).max() < 1e-9


@pytest.mark.parametrize(("layer_id", "values", "said"), [
    ("name", {}, "a clip with sound"), ("music", {}, "a clip with sound"),
    ("kites", {"time.curve": True}, "time curve"), ("kites", {"time.frozen": True}, "frozen"),
    ("nobody", {}, "nobody"),
])  # fmt: skip
def test_what_has_no_sound_of_its_own_is_refused(layer_id, values, said):
    document = sounding()
    chosen = {name: Property(value=value) for name, value in values.items()}
    layers = tuple(
        la.model_copy(update={"properties": la.properties | chosen}) if la.id == layer_id else la
        for la in document.scenes[0].layers
    )
    scene = document.scenes[0].model_copy(update={"layers": layers})
    document = document.model_copy(update={"scenes": (scene,)})
    with pytest.raises((DocumentError, NotFoundError), match=said):
        applied(document, {"kind": "separate-sound", **S, "layer": layer_id})


def test_a_silent_clip_has_none_to_separate():
    document = sounding()
    silent = tuple(
        each.model_copy(update={"channels": 0}) if each.id == "flight" else each
        for each in document.assets
    )
    document = document.model_copy(update={"assets": silent})
    with pytest.raises(DocumentError, match="no sound"):
        applied(document, {"kind": "separate-sound", **S, "layer": "kites"})
