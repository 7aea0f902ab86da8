import math

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from tests.build import key

from young_comet.core.model import Cycle, Key, Kind, Property, Track
from young_comet.core.motion import (
    begun,
    fit_flight,
    fit_motion,
    fit_values,
    insert_key,
    join_tracks,
    path_keys,
    rounded_handles,
    split_track,
    take_key,
)
from young_comet.core.motion.dimensions import TOLERANCE
from young_comet.core.timing import parse_easing

FRAME_S = 1 / 25


def track_of(fitted, kind, cycle=None):
    none = (0.0, 0.0)
    return Track(
        kind,
        [
            Key(k.time_s, k.value, k.easing, k.handle_in or none, k.handle_out or none)
            for k in fitted
        ],
        cycle,
    )


def from_document(prop, kind=Kind.POINT):
    none = (0.0, 0.0)
    return Track(
        kind,
        [
            Key(
                k.time_s,
                k.value,
                parse_easing(k.easing),
                k.handle_in or none,
                k.handle_out or none,
                k.join == "smooth",
            )
            for k in prop.keys
        ],
        even=prop.pace == "even",
    )


EASINGS = ["linear", "ease", "ease-in-out", "cubic-bezier(0.3, 1.4, 0.6, 1)", "hold", "back-out(0.2)",
           "spring(0.4)", "bounce-out", "steps(3)", "sine-in-out"]  # fmt: skip
place = st.tuples(st.floats(-900, 900), st.floats(-900, 900))
handle = st.tuples(st.floats(-300, 300), st.floats(-300, 300))
course = st.lists(
    st.tuples(st.floats(0.4, 1.2), place, handle, handle, st.sampled_from(EASINGS)),
    min_size=2,
    max_size=4,
)


def point_track(steps, curved=True):
    keys, t = [], 0.0
    for wait, at, into, out, easing in steps:
        handles = (into, out) if curved else ((0.0, 0.0), (0.0, 0.0))
        keys.append(Key(round(t, 3), at, parse_easing(easing), *handles))
        t += wait
    return Track(Kind.POINT, keys)


def frames_of(track):
    return [
        track.start_s + i * FRAME_S for i in range(int((track.end_s - track.start_s) / FRAME_S) + 1)
    ]


@settings(max_examples=12, phases=[Phase.explicit, Phase.generate])
@given(course)
def test_x_and_y_apart_move_as_the_point_did(steps):
    track = point_track(steps)
    x, y = (track_of(keys, Kind.NUMBER) for keys in split_track(track, FRAME_S))
    for t in frames_of(track):
        a, b = track.at(t), (x.at(t), y.at(t))
        assert math.hypot(a[0] - b[0], a[1] - b[1]) < 0.5


def test_straight_stretches_keep_their_easing_and_their_number_of_keys():
    steps = [
        (1, (0, 0), (0, 0), (0, 0), "ease-in-out"),
        (1, (300, 90), (0, 0), (0, 0), "bounce-out"),
        (1, (10, 80), (0, 0), (0, 0), "linear"),
    ]
    x, _ = split_track(point_track(steps, curved=False), FRAME_S)
    assert [k.easing.text for k in x] == ["ease-in-out", "bounce-out(0.5)", "linear"]
    assert [k.value for k in x] == [0, 300, 10]


@settings(max_examples=12, phases=[Phase.explicit, Phase.generate])
@given(course, course)
def test_x_and_y_joined_move_as_they_did_apart(first, second):
    tracks = []
    for steps, axis in ((first, 0), (second, 1)):
        flat = point_track(steps, curved=False)
        tracks.append(
            Track(Kind.NUMBER, [Key(k.time_s, k.value[axis], k.easing) for k in flat.keys])
        )
    x, y = tracks
    joined = track_of(join_tracks(x, y, FRAME_S), Kind.POINT)
    for i in range(int(max(x.end_s, y.end_s) / FRAME_S) + 1):
        t = i * FRAME_S
        a, b = joined.at(t), (x.at(t), y.at(t))
        on_a_step = abs(x.at(t) - x.at(t - 1e-4)) > 1 or abs(y.at(t) - y.at(t - 1e-4)) > 1
        if not on_a_step:
            assert math.hypot(a[0] - b[0], a[1] - b[1]) < 0.5


def test_apart_and_joined_again_few_keys_are_needed():
    steps = [
        (1, (0, 0), (0, 0), (300, 0), "ease-in-out"),
        (1, (400, 300), (0, -200), (0, 200), "ease-in-out"),
        (1, (0, 500), (100, 0), (0, 0), "linear"),
    ]
    track = point_track(steps)
    x, y = split_track(track, FRAME_S)
    assert max(len(x), len(y)) <= 12
    joined = join_tracks(track_of(x, Kind.NUMBER), track_of(y, Kind.NUMBER), FRAME_S)
    back = track_of(joined, Kind.POINT)
    for t in frames_of(track):
        assert math.dist(track.at(t), back.at(t)) < 0.5


def test_fitted_values_stay_within_the_tolerance_with_few_keys():
    times = np.linspace(0, 3, 400)
    values = 100 * np.sin(times * 3) + 20 * times
    keys = fit_values(times, values, 0.5)
    track = track_of(keys, Kind.NUMBER)
    assert max(abs(track.at(t) - v) for t, v in zip(times, values, strict=True)) <= 0.75
    assert len(keys) <= 14


def test_a_looser_tolerance_gives_fewer_keys():
    times = np.linspace(0, 2, 121)
    points = np.stack([400 * np.cos(times * 4), 300 * np.sin(times * 5)], axis=1)
    counts = [len(fit_motion(times, points, tolerance)) for tolerance in (0.5, 5, 40)]
    assert counts[0] >= counts[1] >= counts[2] and counts[0] > counts[2]


def test_a_shaky_flight_becomes_a_clean_path():
    rng = np.random.default_rng(7)
    times = np.cumsum(rng.uniform(0.008, 0.03, 120))
    clean = np.stack([200 + 500 * times, 500 - 300 * np.sin(times * 2)], axis=1)
    shaky = clean + rng.normal(0, 2.5, clean.shape)
    samples = [(float(t), float(x), float(y)) for t, (x, y) in zip(times, shaky, strict=True)]
    keys = fit_flight(samples, 10)
    assert len(keys) <= 6
    track = track_of(keys, Kind.POINT)
    for t, point in zip(times, clean, strict=True):
        assert math.dist(track.at(float(t)), point) < 16


def test_a_flight_of_two_samples_is_a_straight_line():
    keys = fit_flight([(0.0, 0.0, 0.0), (1.0, 100.0, 0.0)], 5)
    track = track_of(keys, Kind.POINT)
    assert track.at(0) == (0, 0) and track.at(1) == (100, 0)
    assert track.at(0.5) == pytest.approx((50, 0), abs=1)


CURVED = Property(
    keys=(
        key(0, (0.0, 0.0), "ease-in-out", handle_out=(200.0, 0.0), join="smooth"),
        key(1, (400.0, 300.0), "cubic-bezier(0.2, 0.1, 0.5, 1)", handle_in=(0.0, -200.0), handle_out=(0.0, 200.0), join="smooth"),
        key(2, (0.0, 500.0), "ease-out", handle_in=(150.0, 0.0), handle_out=(-200.0, 0.0), join="smooth"),
        key(3, (-300.0, 0.0), "linear", handle_in=(0.0, 100.0)),
    )
)  # fmt: skip


@pytest.mark.parametrize("time_s", [0.3, 1.0001, 1.5, 2.2, 2.95])
def test_a_point_put_in_changes_nothing(time_s):
    before = from_document(CURVED)
    new = key(time_s, before.at(time_s))
    prop = insert_key(CURVED, before, time_s, new)
    after = from_document(prop)
    assert len(prop.keys) == 5
    for i in range(301):
        assert math.dist(before.at(i / 100), after.at(i / 100)) < 0.02


@pytest.mark.parametrize("time_s", [0.3, 1.5, 2.4])
def test_a_point_put_in_and_taken_out_again_leaves_the_path_as_it_was(time_s):
    before = from_document(CURVED)
    prop = insert_key(CURVED, before, time_s, key(time_s, before.at(time_s)))
    index = next(i for i, k in enumerate(prop.keys) if k.time_s == time_s)
    after = from_document(take_key(prop, from_document(prop), index))
    assert len(after.keys) == 4
    for i in range(301):
        assert math.dist(before.at(i / 100), after.at(i / 100)) < 3


@given(st.sampled_from(EASINGS), st.floats(0.05, 0.95))
def test_a_key_put_into_any_easing_keeps_the_values(easing, at):
    prop = Property(keys=(key(0, 0.0, easing), key(1, 100.0)))
    before = from_document(prop, Kind.NUMBER)
    value = before.at(at)
    after = from_document(insert_key(prop, before, at, key(at, value)), Kind.NUMBER)
    if abs(value) > 0.5 and abs(100 - value) > 0.5:
        for i in range(101):
            t = i / 100
            on_a_step = (
                abs(before.at(t) - before.at(t + 0.02)) > 8
                or abs(before.at(t) - before.at(t - 0.02)) > 8
            )
            assert after.at(t) == pytest.approx(before.at(t), abs=1.5) or on_a_step


def test_a_point_put_on_a_path_of_one_speed_changes_nothing():
    even = CURVED.model_copy(update={"pace": "even"})
    before = from_document(even)
    for time_s in (0.2, 1.1, 2.6):
        prop = insert_key(even, before, time_s, key(time_s, before.at(time_s)))
        after = from_document(prop)
        assert len(prop.keys) == 5
        for i in range(301):
            assert math.dist(before.at(i / 100), after.at(i / 100)) < 0.3


def test_a_path_from_curves_is_travelled_at_one_speed():
    curves = [
        ((0, 0), (100, 0), (200, 100), (200, 200)),
        ((200, 200), (200, 400), (100, 500), (0, 500)),
    ]
    track = track_of(path_keys(curves, 1.0, 2.0), Kind.POINT)
    steps = [math.dist(track.at(1 + i / 50), track.at(1 + (i + 1) / 50)) for i in range(100)]
    assert max(steps) / min(steps) < 1.05
    assert (track.start_s, track.end_s) == (1.0, 3.0)


def test_rounded_handles_follow_the_neighbours():
    into, out = rounded_handles((0, 0), (100, 50), (200, 0))
    assert into[1] == out[1] == 0 and into[0] < 0 < out[0]
    assert rounded_handles(None, (5, 5), None) == ((0, 0), (0, 0))


def test_repeats_are_kept_apart_and_joined():
    keys = [Key(0, (0, 0), parse_easing("linear")), Key(1, (100, 50), parse_easing("linear"))]
    track = Track(Kind.POINT, keys, Cycle("loop"))
    x, y = split_track(track, FRAME_S)
    assert [k.time_s for k in x] == [k.time_s for k in y] == [0, 1]
    assert TOLERANCE < 0.5


def test_a_flight_begins_when_the_hand_moves():
    still = [(i / 60, 100 + (i % 2), 50.0) for i in range(30)]  # a trembling hand
    moving = [(0.5 + i / 60, 100 + 8.0 * i, 50.0) for i in range(1, 30)]
    kept = begun([*still, *moving])
    assert kept == [still[-1], *moving]
    assert begun(still) == still
    assert begun(moving) == moving
