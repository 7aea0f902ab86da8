"""Beats corrected, heard in the scene, turned into marks and keys."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import layer, project
from tests.edits.desk import CONTEXT
from tests.sounds import asset

from young_comet.core.catalog import check_project
from young_comet.core.mix.beats import beats_heard
from young_comet.core.model import BeatGrid, RateModel
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import revert
from young_comet.errors import DocumentError

# Beats each half second from 0.1 s on, the second of them strong.
GRID = BeatGrid(
    tempo=120, times=tuple(round(0.1 + n / 2, 6) for n in range(19)), strong=1, sections=(1, 9)
)
SAMPLES = np.zeros((48_000 * 10, 2), np.float32)


def document(*layers, beats=GRID, **more):
    bed = asset("bed", SAMPLES).model_copy(update={"beats": beats})
    whole = project(*layers, length_s=6.0, **more)
    return check_project(whole.model_copy(update={"assets": (bed,)}))


def music(start=1.0, end=5.0, **properties):
    return layer("music", "sound", start, end, sound__asset="bed", **properties)


def did(base, **edit):
    return apply_edit(base, parse_edit(edit), CONTEXT)


def grid(base):
    return base.assets[0].beats


def heard(base, at_s):
    return {"scene": "reveal", "layer": "music", "at_s": at_s if isinstance(at_s, list) else [at_s]}


def moments(base):
    ev = SceneEvaluator(base, "reveal")
    return beats_heard(ev, ev.find("music"))


# Where they are heard


def test_beats_are_heard_where_the_sound_is():
    found = moments(document(music(time__from=2.0)))
    # 2.1 s of the sound, the fifth beat, is heard 0.1 s after the layer's start.
    assert found[0] == (pytest.approx(1.1), 4) and len(found) == 8
    assert [at for at, _ in found] == pytest.approx([1.1 + n / 2 for n in range(8)], abs=1e-4)


@pytest.mark.parametrize(
    ("properties", "expected"),
    [
        ({"time__speed": 200.0}, [(1.05 + n / 4, n) for n in range(16)]),
        ({"time__speed": 50.0}, [(1.2 + n, n) for n in range(4)]),
        ({"time__offset": 0.3}, [(1.3 + n / 2, n + 1) for n in range(8)]),
        ({"time__to": 1.0, "time__after": "loop"},
         [(1.1 + n / 2, n % 2) for n in range(8)]),
        ({"time__to": 1.0}, [(1.1, 0), (1.6, 1)]),
    ],
)  # fmt: skip
def test_beats_go_by_how_the_sound_is_played(properties, expected):
    found = moments(document(music(**properties)))
    assert [number for _, number in found] == [number for _, number in expected]
    assert [at for at, _ in found] == pytest.approx([at for at, _ in expected], abs=3e-3)


def test_backwards_beats_come_backwards():
    found = moments(document(music(time__reversed=True)))
    numbers = [number for _, number in found]
    assert numbers == sorted(numbers, reverse=True) and len(numbers) >= 7
    assert [at for at, _ in found] == sorted(at for at, _ in found)


def test_what_has_none_has_none():
    assert moments(document(music(), beats=None)) == []
    ev = SceneEvaluator(document(music(), layer("box", "shape")), "reveal")
    assert beats_heard(ev, ev.find("box")) == []


# Corrected


def test_a_beat_moves_all_or_stretches_them():
    base = document(music())
    moved = did(base, kind="move-beat", asset="bed", beat=2, heard=heard(base, 2.15)).project
    # The third beat (1.1 s) lies at 1.15 s of the sound now, all others 50 ms later as well.
    assert grid(moved).times == pytest.approx([t + 0.05 for t in GRID.times])
    assert grid(moved).tempo == 120 and grid(moved).strong == 1
    edit = {
        "kind": "move-beat",
        "asset": "bed",
        "beat": 4,
        "heard": heard(base, 3.3),
        "stretch": True,
    }
    wider = did(base, **edit).project
    assert grid(wider).times[4] == pytest.approx(2.3) and grid(wider).times[0] == 0.1
    assert grid(wider).tempo == pytest.approx(120 / 1.1, abs=0.01)
    assert np.diff(grid(wider).times) == pytest.approx(0.55)
    assert grid(wider).times[-1] <= 10.0 and len(grid(wider).times) == 19


def test_beats_that_would_lie_before_the_sound_are_left_out():
    base = document(music(time__from=2.0))
    moved = did(base, kind="move-beat", asset="bed", beat=4, heard=heard(base, 1.0)).project
    assert grid(moved).times[0] == pytest.approx(0.0) and len(grid(moved).times) == 19
    far = document(music(time__from=3.0))
    moved = did(far, kind="move-beat", asset="bed", beat=10, heard=heard(far, 1.0)).project
    assert grid(moved).times[0] == pytest.approx(0.0) and grid(moved).strong == (1 - 4) % 4
    assert grid(moved).sections == (5,)


def test_taps_give_an_even_grid_through_them_all():
    base = document(music(), beats=None)
    taps = [1.52, 2.09, 2.71, 3.9, 4.49]  # one beat of 0.6 s was left out
    tapped = grid(did(base, kind="tap-beats", asset="bed", heard=heard(base, taps)).project)
    steps = np.diff(tapped.times)
    assert steps == pytest.approx(steps[0], abs=1e-5)
    assert 60 / tapped.tempo == pytest.approx(0.594, abs=0.01)
    near = [min(abs(t - (tap - 1.0)) for t in tapped.times) for tap in taps]
    assert max(near) < 0.03 and tapped.times[-1] > 9.3
    first = tapped.times[tapped.strong] - 0.52
    assert abs(first / (4 * steps[0]) - round(first / (4 * steps[0]))) < 0.05


def test_double_and_half_and_another_strong_beat():
    base = document(music())
    double = grid(did(base, kind="count-beats", asset="bed", tempo="double").project)
    assert (double.tempo, len(double.times), double.strong, double.sections) == (
        240,
        37,
        2,
        (2, 18),
    )
    again = did(base, kind="count-beats", asset="bed", tempo="half").project
    assert grid(again).times == GRID.times[1::2] and grid(again).strong == 0
    assert grid(again).sections == (0, 4) and grid(again).tempo == 60
    strong = grid(did(base, kind="count-beats", asset="bed", strong=6).project)
    assert strong.strong == 2 and strong.sections == (2, 10)


# Used


def test_beats_become_marks_named_by_bar_and_beat():
    base = document(music(time__from=2.0), rate=RateModel(num=25))
    done = did(base, kind="beats-to-marks", scene="reveal", layer="music", which="strong")
    marks = done.project.scenes[0].marks
    # The sixth beat (2.6 s) begins the second bar.
    assert [(m.name, m.time_s) for m in marks] == [("2.1", 1.6), ("3.1", 3.6)]
    again = did(done.project, kind="beats-to-marks", scene="reveal", layer="music", which="beats")
    assert len(again.project.scenes[0].marks) == 8  # no two at one moment
    parts = did(base, kind="beats-to-marks", scene="reveal", layer="music", which="sections")
    assert [m.name for m in parts.project.scenes[0].marks] == ["3.1"]
    assert revert(again.project, again.inverse).scenes[0].marks == marks


@pytest.mark.parametrize(("unit", "times", "at"), [("beats", 3, [1.6, 2.1, 2.6]),
                                                   ("strong", 9, [1.6, 3.6])])  # fmt: skip
def test_keys_are_pasted_on_beats(unit, times, at):
    base = document(music(time__from=2.0), layer("box", "shape"), rate=RateModel(num=50))
    hit = [{"at_s": 0.0, "value": 100}, {"at_s": 0.2, "value": 40}]
    track = {"layer": "box", "property": "opacity", "keys": hit}
    every = {"unit": unit, "layer": "music"}
    done = did(base, kind="paste-keys", scene="reveal", tracks=[track], time_s=1.3, every=every,
               times=times).project  # fmt: skip
    keys = done.scenes[0].layers[1].properties["opacity"].keys
    expected = [pair for t in at for pair in ((t, 100), (t + 0.2, 40))]
    assert [(round(k.time_s, 4), k.value) for k in keys] == [
        (pytest.approx(t, abs=0.011), v) for t, v in expected
    ]


@pytest.mark.parametrize(
    ("edit", "field"),
    [
        ({"kind": "beats-to-marks", "scene": "reveal", "layer": "box"}, "layer"),
        ({"kind": "move-beat", "asset": "bed", "beat": 99, "heard": heard(None, 2.0)}, "beat"),
        ({"kind": "move-beat", "asset": "bed", "beat": 3, "heard": heard(None, 0.2)}, "heard"),
        ({"kind": "move-beat", "asset": "bed", "beat": 1, "heard": heard(None, 4.9), "stretch": True},
         "heard"),
        ({"kind": "tap-beats", "asset": "bed", "heard": heard(None, [1.2, 1.7])}, "taps"),
        ({"kind": "tap-beats", "asset": "bed", "heard": heard(None, [2, 2.01, 2.02, 2.03])}, "taps"),
        ({"kind": "set-beats", "asset": "bed", "beats": {"tempo": 9, "times": [0.1, 60]}}, "beats"),
        ({"kind": "count-beats", "asset": "bed", "strong": 500}, "strong"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_refused_with_its_field(edit, field):
    base = document(music(), layer("box", "shape"))
    with pytest.raises(DocumentError) as caught:
        did(base, **edit)
    assert caught.value.field == field


@pytest.mark.parametrize(
    "beats",
    [
        {"tempo": 120, "times": [1.0, 0.5]},
        {"tempo": 0, "times": [0.1, 0.5]},
        {"tempo": 120, "times": [0.1]},
        {"tempo": 120, "times": [0.1, 0.5], "strong": 2},
        {"tempo": 120, "times": [0.1, float("nan")]},
        {"tempo": 120, "times": [0.1, 0.5], "sections": [7]},
    ],
)
def test_a_grid_that_is_none_is_refused(beats):
    with pytest.raises(DocumentError):
        parse_edit({"kind": "set-beats", "asset": "bed", "beats": beats})


def test_edits_of_beats_where_there_are_none_say_so():
    base = document(music(), layer("box", "shape"), beats=None)
    for edit in (
        {"kind": "count-beats", "asset": "bed", "tempo": "half"},
        {"kind": "beats-to-marks", "scene": "reveal", "layer": "music"},
        {"kind": "move-beat", "asset": "bed", "beat": 0, "heard": heard(base, 2.0)},
    ):
        with pytest.raises(DocumentError, match="not been found"):
            did(base, **edit)
