"""What the operations of the timing desk do, against what they promise."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.edits.desk import (
    BOX,
    CONTEXT,
    PATH,
    S,
    desk,
    do,
    facts,
    layer_of,
    prop,
    saved,
    starts,
    targets,
    value_at,
)

from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError

BOTH = [
    *BOX,
    *targets("box", "position", "k0", "k1000", "k2000"),
    *targets("ring", "scale", "k0", "k800"),
]


# Inverses


@given(st.floats(0.05, 20), st.floats(-2, 4))
def test_stretching_and_stretching_back_gives_the_same(factor, about):
    stretch = {"kind": "stretch-keys", "keys": BOTH, "about_s": about, "factor": factor}
    there = do(desk(), stretch)
    back = do(there, {**stretch, "factor": 1 / factor})
    assert facts(back) == facts(desk())
    assert facts(there) != facts(desk()) or abs(factor - 1) < 1e-6


def test_reversing_twice_gives_the_same():
    once = do(desk(), {"kind": "reverse-keys", "keys": BOTH})
    assert facts(once) != facts(desk())
    assert facts(do(once, {"kind": "reverse-keys", "keys": BOTH})) == facts(desk())


@pytest.mark.parametrize("axis", ["both", "x", "y"])
def test_mirroring_twice_gives_the_same(axis):
    edit = {"kind": "mirror-keys", "keys": BOTH, "axis": axis}
    once = do(desk(), edit)
    assert facts(once) != facts(desk())
    assert facts(do(once, edit)) == facts(desk())


def test_a_reversed_motion_is_the_motion_played_backwards():
    before, after = desk(), do(desk(), {"kind": "reverse-keys", "keys": BOX})
    for i in range(1, 41):  # a hold played backwards jumps at once
        t = i / 20
        if abs(t - 1.5) > 0.01 and abs(t - 0.5) > 0.01:  # a hold jumps at the key itself
            expected = value_at(before, "box", "rotation", 2 - t)
            assert value_at(after, "box", "rotation", t) == pytest.approx(expected, abs=1e-3)


# Many keys at once


def test_spread_keys_are_equally_far_apart():
    keys = prop(do(desk(), {"kind": "distribute-keys", "keys": BOX}), "box", "rotation").keys
    assert [k.time_s for k in keys] == pytest.approx([0, 2 / 3, 4 / 3, 2])


def test_values_are_set_added_to_and_multiplied_together():
    edit = {"kind": "change-key-values", "keys": BOX}
    values = lambda d: [k.value for k in prop(d, "box", "rotation").keys]  # noqa: E731
    assert values(do(desk(), {**edit, "how": "set", "value": 5})) == [5] * 4
    assert values(do(desk(), {**edit, "how": "add", "value": -5})) == [-5, 25, -15, -5]
    assert values(do(desk(), {**edit, "how": "multiply", "value": 0.5})) == [0, 15, -5, 0]
    both = do(desk(), {"kind": "change-key-values", "keys": PATH, "how": "add", "value": [1, 2]})
    assert prop(both, "box", "position").keys[1].value == (201, 62)


def test_pasted_keys_come_again_every_second_and_at_every_mark():
    track = {"layer": "name", "property": "scale", "keys": [
        {"at_s": 0, "value": [100, 100]}, {"at_s": 0.1, "value": [120, 120]}, {"at_s": 0.2, "value": [100, 100]}]}  # fmt: skip
    seconds = do(
        desk(),
        {
            "kind": "paste-keys",
            "tracks": [track],
            "time_s": 1.0,
            "times": 3,
            "every": {"unit": "seconds", "count": 0.5},
        },
    )
    starts = [k.time_s + 1.0 for k in prop(seconds, "name", "scale").keys if k.value == (120, 120)]
    assert starts == pytest.approx([1.1, 1.6, 2.1])
    marks = do(
        desk(),
        {
            "kind": "paste-keys",
            "tracks": [track],
            "time_s": 0.0,
            "times": 8,
            "every": {"unit": "marks"},
        },
    )
    starts = [k.time_s + 1.0 for k in prop(marks, "name", "scale").keys if k.value == (120, 120)]
    assert starts == pytest.approx([1.1, 2.1])


def test_keys_can_be_pasted_into_a_property_of_the_same_shape_only():
    keys = [{"at_s": 0, "value": [10, 20]}]
    do(
        desk(),
        {
            "kind": "paste-keys",
            "tracks": [{"layer": "ring", "property": "pivot", "keys": keys}],
            "time_s": 1,
        },
    )
    with pytest.raises(DocumentError, match="Rotation"):
        do(
            desk(),
            {
                "kind": "paste-keys",
                "tracks": [{"layer": "ring", "property": "rotation", "keys": keys}],
                "time_s": 1,
            },
        )


def test_repeats_loop_turn_back_and_build_on():
    edit = {"kind": "repeat-keys", "targets": [{"layer": "ring", "property": "scale"}]}
    base = do(
        desk(), {"kind": "ease-keys", "keys": targets("ring", "scale", "k0"), "easing": "linear"}
    )

    def at(mode, local, **more):
        return value_at(do(base, {**edit, "mode": mode, **more}), "ring", "scale", 0.4 + local)[0]

    assert at("loop", 0.8 + 0.2) == pytest.approx(25)
    assert at("there-and-back", 0.8 + 0.2) == pytest.approx(75)
    assert at("build-on", 0.8 + 0.2) == pytest.approx(125)
    assert at("loop", 2.5, times=2) == pytest.approx(100)
    assert at("there-and-back", 2.5, times=2) == pytest.approx(0)
    assert at("build-on", 2.5, times=3) == pytest.approx(300)


def test_one_side_of_a_key_can_be_eased_alone():
    edit = {"kind": "ease-keys", "keys": PATH, "easing": "cubic-bezier(0.9, 0, 0.2, 1)"}
    left = prop(do(desk(), {**edit, "side": "leave"}), "box", "position").keys
    assert left[1].easing == "cubic-bezier(0.9, 0, 0.58, 1)" and left[0].easing == "ease-in-out"
    arrived = prop(do(desk(), {**edit, "side": "arrive"}), "box", "position").keys
    assert arrived[0].easing == "cubic-bezier(0.42, 0, 0.2, 1)" and arrived[1].easing == "ease-out"
    with pytest.raises(DocumentError, match="no side"):
        do(desk(), {**edit, "easing": "bounce-out", "side": "arrive"})


# Curves


def speed(document, layer_id, property_id, time_s, side):
    a, b = (time_s, time_s + 1e-6) if side > 0 else (time_s - 1e-6, time_s)
    return (
        value_at(document, layer_id, property_id, b) - value_at(document, layer_id, property_id, a)
    ) / 1e-6


@given(
    st.lists(st.floats(-200, 200), min_size=3, max_size=7),
    st.lists(st.floats(0.15, 1.0), min_size=7, max_size=7),
)
def test_smooth_keys_keep_their_speed_and_never_pass_their_neighbours(values, gaps):
    times = [round(sum(gaps[:i]), 3) for i in range(len(values))]
    rows = [
        {"at_s": t, "value": v, "easing": "ease-in-out", "join": "smooth"}
        for t, v in zip(times, values, strict=True)
    ]
    paste = {
        "kind": "paste-keys",
        "time_s": 0,
        "tracks": [{"layer": "curve", "property": "rotation", "keys": rows}],
    }
    document = do(desk(), paste)
    for (t0, v0), (t1, v1) in zip(
        zip(times, values, strict=True), list(zip(times, values, strict=True))[1:], strict=False
    ):
        inside = [
            value_at(document, "curve", "rotation", t0 + (t1 - t0) * i / 20) for i in range(21)
        ]
        assert min(inside) >= min(v0, v1) - 1e-6 and max(inside) <= max(v0, v1) + 1e-6
    for t in times[1:-1]:
        before, after = (
            speed(document, "curve", "rotation", t, -1),
            speed(document, "curve", "rotation", t, 1),
        )
        assert before == pytest.approx(after, abs=max(1.0, abs(before) * 0.02))


def test_a_matched_key_has_one_speed_on_both_sides_also_when_a_handle_is_dragged():
    rows = [{"at_s": 0, "value": 0}, {"at_s": 1, "value": 100}, {"at_s": 1.5, "value": 130}]
    paste = {
        "kind": "paste-keys",
        "time_s": 0,
        "tracks": [{"layer": "curve", "property": "rotation", "keys": rows}],
    }
    base = do(desk(), paste)
    middle = prop(base, "curve", "rotation").keys[1].id
    keys = targets("curve", "rotation", middle)
    base = do(
        base,
        {"kind": "ease-keys", "keys": keys, "easing": "linear"},
        {"kind": "join-keys", "keys": keys, "join": "matched"},
    )
    drag = {
        "kind": "drag-handle",
        "layer": "curve",
        "property": "rotation",
        "key": middle,
        "side": "leave",
        "reach": 0.4,
        "value": 125,
    }
    for document in (base, do(base, drag)):
        assert speed(document, "curve", "rotation", 1, -1) == pytest.approx(
            speed(document, "curve", "rotation", 1, 1), rel=0.02
        )
    easing = prop(do(base, drag), "curve", "rotation").keys[1].easing
    assert easing.startswith("cubic-bezier(0.4, 0.83333,")


def test_a_key_that_was_smooth_keeps_its_curve_when_set_free():
    smooth = do(desk(), {"kind": "join-keys", "keys": PATH, "join": "smooth"})
    free = do(smooth, {"kind": "join-keys", "keys": PATH, "join": "free"})
    for i in range(51):
        a, b = (
            value_at(smooth, "box", "position", i / 25),
            value_at(free, "box", "position", i / 25),
        )
        assert math.dist(a, b) < 0.01
    assert all(k.join == "free" for k in prop(free, "box", "position").keys)


def test_split_points_are_set_keyed_and_joined_as_one():
    base = do(
        desk(), {"kind": "split-property", "targets": [{"layer": "box", "property": "position"}]}
    )
    assert set(layer_of(base, "box").properties) >= {"position.x", "position.y"}
    moved = do(
        base,
        {
            "kind": "set-values",
            "time_s": 1.0,
            "targets": [{"layer": "box", "property": "position", "value": [7, 8]}],
        },
    )
    assert value_at(moved, "box", "position", 1.0) == pytest.approx((7, 8))
    joined = do(
        base, {"kind": "join-property", "targets": [{"layer": "box", "property": "position"}]}
    )
    for i in range(60):
        a, b = (value_at(d, "box", "position", i / 25) for d in (desk(), joined))
        assert math.dist(a, b) < 0.5
    with pytest.raises(DocumentError, match="not split"):
        do(desk(), {"kind": "join-property", "targets": [{"layer": "box", "property": "position"}]})


# Paths


def test_a_layer_turns_with_its_path():
    turn = {
        "kind": "set-values",
        "targets": [
            {"layer": "box", "property": "turn.on", "value": True},
            {"layer": "box", "property": "turn.offset", "value": 10},
        ],
    }
    document = do(desk(), turn)
    evaluator = SceneEvaluator(document, "reveal")
    matrix = evaluator.layer(layer_of(document, "box"), 0.3).matrix
    path = math.degrees(math.atan2(40, 180))
    own = value_at(document, "box", "rotation", 0.3)
    assert math.degrees(math.atan2(matrix.b, matrix.a)) == pytest.approx(path + own + 10, abs=1e-3)
    split = do(
        document, {"kind": "split-property", "targets": [{"layer": "box", "property": "position"}]}
    )
    other = SceneEvaluator(split, "reveal").layer(layer_of(split, "box"), 0.3).matrix
    assert other.b == pytest.approx(matrix.b, abs=2e-3)


def test_a_flight_makes_no_keys_while_the_hand_is_still():
    still = [[0.5 + i / 50, 100, 100] for i in range(25)]
    moving = [[1.0 + i / 50, 100 + 8 * i, 100] for i in range(1, 50)]
    edit = {"kind": "fly-path", **S, "layer": "ring", "samples": [*still, *moving]}
    begin = layer_of(desk(), "ring").start_s
    keys = prop(do(desk(), edit), "ring", "position").keys
    assert keys[0].time_s + begin == pytest.approx(0.98, abs=1e-6)
    # Where it moves already, it is held still for as long as the hand was.
    keys = prop(do(desk(), {**edit, "layer": "box"}), "box", "position").keys
    assert any(abs(key.time_s - (0.5 - layer_of(desk(), "box").start_s)) < 1e-6 for key in keys)


def test_a_flight_is_kept_and_fitted_anew():
    document = saved()
    flown = prop(document, "name", "position")
    loose = do(document, {"kind": "refit-path", "layer": "name", "tolerance": 60})
    assert flown.flown == prop(loose, "name", "position").flown and len(flown.flown) == 60
    assert len(prop(loose, "name", "position").keys) <= len(flown.keys)
    moved = do(document, {"kind": "move-path", "layer": "name", "by": [5, 5]})
    assert prop(moved, "name", "position").flown is None
    with pytest.raises(DocumentError, match="no flight"):
        do(moved, {"kind": "refit-path", "layer": "name", "tolerance": 5})


def test_a_path_taken_from_a_shape_lies_on_it():
    document = do(
        desk(),
        {
            "kind": "take-path",
            "layer": "name",
            "source": "curve",
            "start_s": 1.0,
            "duration_s": 2.0,
        },
    )
    start, end = (value_at(document, "name", "position", t) for t in (1.0, 3.0))
    assert start == pytest.approx((80, 90), abs=0.5) and end == pytest.approx((240, 90), abs=0.5)
    steps = [
        math.dist(
            value_at(document, "name", "position", 1 + i / 20),
            value_at(document, "name", "position", 1 + (i + 1) / 20),
        )
        for i in range(40)
    ]
    assert max(steps) / min(steps) < 1.05
    with pytest.raises(DocumentError, match="source: 'Clip' has no outline"):
        do(
            desk(),
            {
                "kind": "take-path",
                "layer": "name",
                "source": "clip",
                "start_s": 1.0,
                "duration_s": 2.0,
            },
        )


# Stagger


@pytest.mark.parametrize(
    ("order", "expected"),
    [("stack-up", (0, 5, 10)), ("stack-down", (10, 5, 0)), ("from-middle", (5, 0, 5)),
     ("left-to-right", (0, 10, 5)), ("right-to-left", (10, 0, 5)), ("top-to-bottom", (0, 5, 10)),
     ("bottom-to-top", (10, 5, 0))],
)  # fmt: skip
def test_layers_are_staggered_in_their_order(order, expected):
    edit = {
        "kind": "stagger",
        "layers": ["box", "ring", "name"],
        "frames": 5,
        "order": order,
        "together": True,
        "time_s": 1.0,
    }
    # At 1 s the box is at (20, 60), the ring at (250, 90), the name at (90, 150).
    base = do(desk(), {"kind": "move-path", "layer": "box", "by": [-180, 0]})
    found = starts(do(base, edit))
    assert (found["box"], found["ring"], found["name"]) == expected


def test_a_shuffled_stagger_follows_its_seed_and_gaps_are_kept():
    edit = {
        "kind": "stagger",
        "layers": ["box", "ring", "name"],
        "frames": 4,
        "order": "shuffled",
        "together": True,
    }
    one, same, other = (starts(do(desk(), {**edit, "seed": seed})) for seed in (1, 1, 4))
    assert one == same != other
    assert sorted(one[i] for i in ("box", "ring", "name")) == [0, 4, 8]


def test_only_keys_can_be_staggered():
    document = do(
        desk(), {"kind": "stagger", "layers": ["box", "ring"], "frames": 5, "what": "keys"}
    )
    assert starts(document) == starts(desk())
    assert prop(document, "ring", "scale").keys[0].time_s == pytest.approx(0.2)
    assert prop(document, "box", "rotation").keys[0].time_s == 0


# Marks, range, easings


def test_marks_stay_in_order_get_names_and_refuse_doubles():
    document = do(
        desk(),
        {"kind": "add-mark", "time_s": 0.49},
        {"kind": "change-mark", "mark": "gust", "time_s": 3.0},
    )
    assert [(m.name, round(m.time_s, 2)) for m in document.scenes[0].marks] == [
        ("Mark 1", 0.48),
        ("Hit", 2.0),
        ("Gust", 3.0),
    ]
    with pytest.raises(DocumentError, match="already"):
        do(desk(), {"kind": "add-mark", "time_s": 2.0})


def test_the_working_range_is_kept_within_the_scene():
    document = do(desk(), {"kind": "set-range", "start_s": 1.01, "end_s": 99})
    assert document.scenes[0].working_range == (1.0, 4.0)
    assert do(document, {"kind": "set-range"}).scenes[0].range_s is None
    with pytest.raises(DocumentError, match="after the start"):
        do(desk(), {"kind": "set-range", "start_s": 2, "end_s": 1})
    shorter = do(
        document,
        {"kind": "change-frame", "width": 320, "height": 180, "rate": {"num": 25}, "length_s": 2.0},
    )
    assert shorter.scenes[0].range_s == (1.0, 2.0)


def test_a_saved_easing_is_followed_copied_on_removal_and_known_by_name():
    document = saved()
    before = value_at(document, "box", "rotation", 0.25)
    changed = apply_edit(
        document, parse_edit({"kind": "change-easing", "id": "gull", "easing": "linear"}), CONTEXT
    ).project
    assert value_at(changed, "box", "rotation", 0.25) == pytest.approx(15) != before
    gone = apply_edit(
        document, parse_edit({"kind": "remove-easing", "id": "gull"}), CONTEXT
    ).project
    assert value_at(gone, "box", "rotation", 0.25) == before
    assert prop(gone, "box", "rotation").keys[0].easing == "cubic-bezier(0.2, 0, 0, 1)"
    label = apply_edit(
        desk(), parse_edit({"kind": "add-easing", "name": "Puff", "easing": "sine-out"}), CONTEXT
    ).label
    assert label == "Save easing Puff"


WRONG = [
    ({"kind": "stretch-keys", "keys": BOX, "about_s": 0, "factor": 0}, "factor"),
    ({"kind": "stretch-keys", "keys": BOX, "about_s": 0, "factor": float("nan")}, "factor"),
    ({"kind": "ease-keys", "keys": BOX, "easing": "easing:ghost"}, "easing"),
    ({"kind": "ease-keys", "keys": BOX, "easing": "wobble"}, "easing"),
    ({"kind": "mirror-keys", "keys": targets("name", "fill.colour", "k0")}, "no key"),
    ({"kind": "change-key-values", "keys": BOX, "value": "red"}, "a number"),
    ({"kind": "change-keys", "rows": [{**BOX[0], "value": 1e9}]}, "Rotation"),
    ({"kind": "paste-keys", "tracks": [{"layer": "ring", "property": "opacity", "keys": [{"at_s": 0, "value": 5}]}],
      "time_s": 3.0, "times": 2, "every": {"unit": "marks"}}, "no mark"),
    ({"kind": "repeat-keys", "targets": [{"layer": "box", "property": "opacity"}], "mode": "loop"}, "two keys"),
    ({"kind": "drag-handle", "layer": "box", "property": "rotation", "key": "k0", "side": "arrive", "reach": 0.5, "value": 1}, "side"),
    ({"kind": "split-property", "targets": [{"layer": "box", "property": "rotation"}]}, "cannot be split"),
    ({"kind": "set-pace", "targets": [{"layer": "box", "property": "rotation"}], "pace": "even"}, "point"),
    ({"kind": "fly-path", "layer": "box", "samples": [[0, 1, 1], [0.001, 2, 2]]}, "short"),
    ({"kind": "fly-path", "layer": "box", "samples": [[0, 1, 1], [1, float("inf"), 2]]}, "finite"),
    ({"kind": "take-path", "layer": "box", "points": [[1, 1], [1, 1]], "start_s": 0, "duration_s": 1}, "length"),
    ({"kind": "split-layers", "time_s": 0.5, "ids": {"name": "name2"}}, "not on"),
    ({"kind": "extend-layers", "layers": ["ghost"]}, "ghost"),
    ({"kind": "add-mark", "time_s": float("nan")}, "time_s"),
    ({"kind": "change-mark", "mark": "ghost", "name": "x"}, "ghost"),
    ({"kind": "stagger", "layers": ["box"], "frames": 1, "order": "sideways"}, "order"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("data", "said"), WRONG, ids=[f"{data['kind']}-{said}" for data, said in WRONG]
)
def test_what_makes_no_sense_is_refused_in_words(data, said):
    with pytest.raises(DocumentError, match=said):
        do(desk(), data)


def test_many_keys_are_one_step_with_one_label():
    edit = parse_edit({**S, "kind": "stagger", "layers": ["box", "ring", "name"], "frames": 2})
    assert apply_edit(desk(), edit, CONTEXT).label == "Stagger 3 layers"
