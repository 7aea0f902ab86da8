"""Which second of a source is shown when."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.timing.playback import Playback

MODES = st.sampled_from(["stay", "end", "loop", "there-and-back"])


@given(
    st.floats(-30, 30), st.floats(-5, 5), st.floats(0.1, 8), st.booleans(), MODES, st.integers(0, 4)
)
def test_the_source_is_never_left(local, offset, speed, backwards, after, times):
    playback = Playback(1.0, 3.5, offset, speed, backwards, after, times)
    second = playback.at(local)
    assert (second is None and after == "end") or (second is not None and 1.0 <= second < 3.5)


@given(st.floats(0, 3.999))
def test_backwards_shows_the_frames_in_the_opposite_order(local):
    number = int(local * 25 + 1e-6)
    there, back = Playback(0, 4), Playback(0, 4, backwards=True)
    assert int(there.at(number / 25) * 25 + 1e-6) == number
    assert int(back.at(number / 25) * 25 + 1e-6) == 99 - number


def test_one_passage_takes_its_length_over_its_speed():
    assert Playback(1, 3, speed=4).played_s == pytest.approx(0.5)


def test_loops_end_after_their_times_at_the_last_frame():
    twice = Playback(0, 1, after="loop", times=2)
    assert [twice.at(t) for t in (0.25, 1.25)] == pytest.approx([0.25, 0.25])
    assert twice.at(9) == pytest.approx(1, abs=1e-3)
    turned = Playback(0, 1, after="there-and-back", times=2)
    assert turned.at(1.25) == pytest.approx(0.75, abs=1e-3) and turned.at(9) == pytest.approx(
        0, abs=1e-3
    )
