"""What the operations on the time of layers do: clips, splitting, trimming, slipping, ripple."""

import numpy as np
import pytest
from tests.edits.desk import FRAME_S, desk, do, layer_of, prop, starts, targets, value_at
from tests.sounds import Recordings, asset, tone

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.mix import SceneMix
from young_comet.core.resolve import SceneEvaluator
from young_comet.errors import DocumentError

TONE = tone(180, 3.0)


def source(document, layer_id, time_s):
    evaluator = SceneEvaluator(document, "reveal")
    resolved = evaluator.layer(layer_of(document, layer_id), time_s)
    return None if resolved is None else int(resolved.content.moment_s * 25)


def clip(**values):
    edits = [
        {"layer": "clip", "property": name.replace("_", ".", 1).replace("_", "-"), "value": value}
        for name, value in values.items()
    ]
    return do(desk(), {"kind": "set-values", "targets": edits}) if edits else desk()


def test_a_clip_shows_its_frames_one_by_one():
    assert [source(desk(), "clip", 1.0 + i * FRAME_S) for i in range(3)] == [5, 6, 7]
    assert source(desk(), "clip", 1.0 + 60 * FRAME_S) == 49


def test_speed_backwards_freezing_and_what_follows():
    assert [source(clip(time_speed=200.0), "clip", 1.0 + i * FRAME_S) for i in range(3)] == [
        5,
        7,
        9,
    ]
    assert [source(clip(time_reversed=True), "clip", 1.0 + i * FRAME_S) for i in range(3)] == [
        49,
        48,
        47,
    ]
    assert source(clip(time_frozen=True, time_frozen_at=1.0), "clip", 1.5) == 25
    short = {"time_from": 0.0, "time_to": 0.2}

    def frames(**more):
        moments = [1.0 + i * FRAME_S for i in range(12)]
        return [source(clip(**short, **more), "clip", t) for t in moments]

    assert frames(time_after="stay") == [0, 1, 2, 3, 4] + [4] * 7
    assert frames(time_after="end") == [0, 1, 2, 3, 4] + [None] * 7
    assert frames(time_after="loop") == [0, 1, 2, 3, 4] * 2 + [0, 1]
    assert frames(time_after="there-and-back") == [0, 1, 2, 3, 4, 4, 3, 2, 1, 0, 0, 1]
    assert frames(time_after="loop", time_times=2.0) == [0, 1, 2, 3, 4] * 2 + [4, 4]


def same_frames(a, b, *layers, start=0, end=100):
    for i in range(start, end):
        shown = []
        for document in (a, b):
            evaluator = SceneEvaluator(document, "reveal")
            frame = evaluator.frame(i)
            shown.append([layer.signature for layer in frame.layers])
        assert shown[0] == shown[1], i


@pytest.mark.parametrize(
    "more",
    [{}, {"time_speed": 150.0}, {"time_reversed": True}, {"time_after": "loop", "time_to": 0.6}],
)
def test_splitting_changes_nothing_on_the_stage(more):
    before = clip(**more)
    after = do(
        before, {"kind": "split-layers", "time_s": 1.6, "ids": {"clip": "clip2", "box": "box2"}}
    )
    same_frames(before, after)
    assert [la.id for la in after.scenes[0].layers][:3] == ["box", "box2", "ring"]


def test_trimming_keeps_the_footage_where_it_is_and_sliding_takes_it_along():
    span = {"spans": [{"layer": "clip", "start_s": 1.4, "end_s": 2.6}]}
    trimmed = do(desk(), {"kind": "set-spans", "mode": "trim", **span})
    assert source(trimmed, "clip", 1.4) == source(desk(), "clip", 1.4)
    slid = do(desk(), {"kind": "set-spans", "mode": "slide", **span})
    assert source(slid, "clip", 1.4) == source(desk(), "clip", 1.0)


def test_slipping_moves_what_is_shown_under_the_span():
    slipped = do(desk(), {"kind": "slip-layers", "layers": ["clip", "name"], "by_s": -0.2})
    assert source(slipped, "clip", 1.0) == source(desk(), "clip", 1.2)
    assert value_at(slipped, "name", "opacity", 1.0) == pytest.approx(
        value_at(desk(), "name", "opacity", 1.2)
    )
    assert starts(slipped) == starts(desk())


def test_ripple_takes_what_follows_along():
    document = do(
        desk(), {"kind": "set-spans", "spans": [{"layer": "clip", "start_s": 2.8, "end_s": 3.2}]}
    )
    edit = {
        "kind": "set-spans",
        "mode": "trim",
        "spans": [{"layer": "name", "start_s": 1.0, "end_s": 2.0}],
    }
    before = do(
        document, {"kind": "set-spans", "spans": [{"layer": "name", "start_s": 1.0, "end_s": 2.4}]}
    )
    rippled, plain = do(before, {**edit, "ripple": True}), do(before, edit)
    assert starts(plain)["clip"] == 70 and starts(rippled)["clip"] == 60
    shorter = {
        "kind": "set-spans",
        "mode": "trim",
        "ripple": True,
        "spans": [{"layer": "name", "start_s": 1.4, "end_s": 2.4}],
    }
    closed = do(before, shorter)
    assert layer_of(closed, "name").start_s == 1.0 and starts(closed)["clip"] == 60


def test_speed_by_length_and_the_time_curve():
    fast = do(desk(), {"kind": "fit-speed", "layers": ["clip"], "length_s": 0.9})
    assert prop(fast, "clip", "time.speed").value == pytest.approx(200) and layer_of(
        fast, "clip"
    ).end_s == pytest.approx(1.9, abs=0.021)
    filled = do(desk(), {"kind": "fit-speed", "layers": ["clip"]})
    assert prop(filled, "clip", "time.speed").value == pytest.approx(112.5)
    curve = do(desk(), {"kind": "time-curve", "layer": "clip", "on": True})
    same_frames(desk(), curve, start=25, end=64)
    eased = do(
        curve,
        {
            "kind": "ease-keys",
            "keys": targets("clip", "time.source", prop(curve, "clip", "time.source").keys[0].id),
            "easing": "ease-in",
        },
    )
    assert source(eased, "clip", 1.4) < source(curve, "clip", 1.4)
    with pytest.raises(DocumentError, match="only a clip"):
        do(desk(), {"kind": "fit-speed", "layers": ["box"]})


def test_freezing_holds_the_frame_under_the_playhead():
    frozen = do(desk(), {"kind": "freeze-layers", "layers": ["clip"], "time_s": 1.4})
    assert {source(frozen, "clip", t) for t in (1.0, 1.4, 2.5)} == {source(desk(), "clip", 1.4)}
    thawed = do(frozen, {"kind": "freeze-layers", "layers": ["clip"]})
    assert source(thawed, "clip", 2.0) == source(desk(), "clip", 2.0)


@pytest.mark.parametrize("time_s", [0.4, 1.2, 2.0])
def test_a_layer_hands_over_to_another_where_both_abut(time_s):
    """Whatever their spans were: one ends where the other starts, and both show what they showed."""
    before = do(
        desk(), {"kind": "set-spans", "spans": [{"layer": "box", "start_s": 0, "end_s": 1}]}
    )
    after = do(
        before, {"kind": "hand-over", "one": "box", "other": "clip", "time_s": time_s + 0.011}
    )
    one, other = layer_of(after, "box"), layer_of(after, "clip")
    assert one.end_s == other.start_s == pytest.approx(time_s)
    for document_time in (1.2, 2.4):
        if document_time > time_s:
            assert source(after, "clip", document_time) == source(before, "clip", document_time)
    was, now = (SceneEvaluator(d, "reveal") for d in (before, after))
    for moment in (0.0, 0.36):
        layers = (e.layer(e.find("box"), moment) for e in (was, now))
        assert len({each.signature for each in layers}) == 1


def test_what_is_split_together_stays_together():
    """Second halves ride on the second half of their carrier, and are shown through the second
    half of their matte: the picture does not change at any frame."""
    from tests.build import draw, key, layer, project

    carrier = layer(
        "carrier",
        "carrier",
        position=[key(0, [60, 90]), key(2, [260, 90])],
        rotation=[key(0, 0.0), key(2, 90.0)],
    )
    matte = layer("matte", "shape", shape__size=[200.0, 60.0], position=[160, 90])
    matte = matte.model_copy(update={"hidden": True})
    rider = layer("rider", "shape", shape__size=[80.0, 80.0], position=[0, 0], matte__layer="matte")
    rider = rider.model_copy(update={"rides": "carrier"})
    before = project(carrier, matte, rider)
    ids = {"carrier": "c2", "matte": "m2", "rider": "r2"}
    after = do(before, {"kind": "split-layers", "time_s": 1.0, "ids": ids})
    second = layer_of(after, "r2")
    assert second.rides == "c2" and second.properties["matte.layer"].value == "m2"
    assert layer_of(after, "rider").rides == "carrier"
    for time_s in (0.4, 0.96, 1.0, 1.04, 1.6):
        assert np.array_equal(draw(before, time_s), draw(after, time_s))


def test_a_size_is_taken_apart_into_width_and_height_and_joined():
    from tests.build import draw, key, layer, project

    made = layer(
        "pane", "shape", position=[160, 90], shape__size=[key(0, [40, 20]), key(1, [200, 100])]
    )
    before = project(made)
    target = [{"layer": "pane", "property": "shape.size"}]
    apart = do(before, {"kind": "split-property", "targets": target})
    assert {"shape.size.x", "shape.size.y"} <= layer_of(apart, "pane").properties.keys()
    for time_s in (0.0, 0.4, 1.0, 2.0):
        assert np.abs(draw(before, time_s).astype(int) - draw(apart, time_s)).max() <= 3
    wide = do(
        apart,
        {
            "kind": "set-values",
            "time_s": 0.0,
            "targets": [{"layer": "pane", "property": "shape.size.x", "value": 10.0}],
        },
    )
    assert draw(wide, 0.0)[90, 150, 0] == draw(wide, 0.0)[0, 0, 0]
    again = do(apart, {"kind": "join-property", "targets": target})
    assert "shape.size.x" not in layer_of(again, "pane").properties


# Sounds


def heard_desk(**values):
    """A bed on the desk, two seconds long from second one on."""
    whole = desk()
    bed = {
        "id": "bed", "name": "Bed", "kind": "sound", "start_s": 1.0, "end_s": 3.0,
        "properties": {"sound.asset": {"value": "tone"}, **{k: {"value": v} for k, v in values.items()}},
    }  # fmt: skip
    found = asset("tone", TONE)
    whole = whole.model_copy(update={"assets": (*whole.assets, found)})
    return do(whole, {"kind": "add-layers", "layers": [bed]})


def mixed(document):
    return SceneMix.of(document, "reveal", Recordings(tone=TONE)).read(0, 4 * SAMPLE_RATE)


def test_a_sound_that_is_split_slid_apart_and_back_sounds_the_same():
    before = heard_desk(**{"sound.fade-in": 0.2, "sound.fade-out": 0.3})
    after = do(before, {"kind": "split-layers", "time_s": 1.8, "ids": {"bed": "bed2"}})
    assert np.abs(mixed(after) - mixed(before)).max() < 1e-9


def test_a_trimmed_sound_stays_where_it_is():
    before = heard_desk()
    span = {"layer": "bed", "start_s": 1.4, "end_s": 2.6}
    after = do(before, {"kind": "set-spans", "mode": "trim", "spans": [span]})
    a, b = mixed(before), mixed(after)
    inside = slice(round(1.4 * SAMPLE_RATE), round(2.6 * SAMPLE_RATE))
    assert np.abs(a[inside] - b[inside]).max() < 1e-9
    assert not b[: inside.start].any() and not b[inside.stop :].any()


def test_a_slipped_sound_plays_another_part():
    after = do(heard_desk(), {"kind": "slip-layers", "layers": ["bed"], "by_s": -0.4})
    part = mixed(after)[SAMPLE_RATE : SAMPLE_RATE + 1000]
    assert np.abs(part - TONE[round(0.4 * SAMPLE_RATE) :][:1000]).max() < 1e-6


def test_a_sound_fills_its_span_but_never_stands_still():
    after = do(heard_desk(), {"kind": "fit-speed", "layers": ["bed"]})
    assert prop(after, "bed", "time.speed").value == pytest.approx(150.0)
    for kind, more in (("freeze-layers", {"layers": ["bed"], "time_s": 1.5}),
                       ("time-curve", {"layer": "bed", "on": True})):  # fmt: skip
        with pytest.raises(DocumentError, match="neither stands still"):
            do(heard_desk(), {"kind": kind, **more})
