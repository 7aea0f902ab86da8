from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.timing import COMMON_RATES, Rate, format_timecode, parse_time
from young_comet.errors import DocumentError

rates = st.sampled_from(COMMON_RATES)


def test_the_common_rates_are_the_eight_that_scenes_offer():
    labels = [rate.label for rate in COMMON_RATES]
    assert labels == ["23.976", "24", "25", "29.97", "30", "50", "59.94", "60"]
    assert Rate(30000, 1001) in COMMON_RATES


@given(rates, st.integers(0, 60 * 60 * 60))
def test_frames_and_times_agree_without_drift(rate, frame):
    time_s = rate.time_of(frame)
    assert rate.frame_at(time_s) == frame
    assert abs(Fraction(frame * rate.den, rate.num) - Fraction(time_s)) < Fraction(1, 10**9)


def test_ten_minutes_of_ntsc_end_on_the_exact_frame():
    rate = Rate(30000, 1001)
    assert rate.time_of(17982) == pytest.approx(17982 * 1001 / 30000, abs=1e-12)
    assert rate.frame_count(600.0) == 17983  # 17982.02 frames begin within ten minutes


def test_a_frame_includes_its_start_and_not_its_end():
    rate = Rate(25)
    assert rate.frame_at(0.04) == 1
    assert rate.frame_at(0.0399) == 0
    assert rate.frame_count(6.0) == 150


@given(rates, st.floats(0, 4000))
def test_snapping_is_idempotent_and_near(rate, time_s):
    snapped = rate.snap(time_s)
    assert rate.snap(snapped) == snapped
    assert abs(snapped - time_s) <= 0.5 / rate.fps + 1e-9


@pytest.mark.parametrize(
    ("text", "now", "expected"),
    [
        ("2.5s", 0, 2.5), ("2.5", 0, 2.5), ("60f", 0, 2.4), ("00:02:10", 0, 2.4),
        ("01:00:00:00", 0, 3600), ("+29f", 1, 2.16), ("-1s", 3, 2), ("400ms", 0, 0.4),
        ("2:10", 0, 2.4), ("1:02:03", 0, 62.12), ("2s10f", 0, 2.4), ("1m 2s 3f", 0, 62.12),
        ("+1s1f", 2, 3.04), ("1h5f", 0, 3600.2), ("1m", 0, 60.0), ("90s", 0, 90.0),
    ],
)  # fmt: skip
def test_typed_times(text, now, expected):
    assert parse_time(text, Rate(25), now_s=now) == pytest.approx(expected)


@pytest.mark.parametrize("text", ["", "soon", "1:2:", "5x", "2s2s", "s", "f2", "--3", "1e9", "nan"])
def test_texts_that_are_no_times_are_refused_with_an_example(text):
    with pytest.raises(DocumentError, match=r"2\.5s"):
        parse_time(text, Rate(25))


def test_frames_that_a_second_does_not_have_are_refused():
    with pytest.raises(DocumentError, match="a second has 25"):
        parse_time("2:25", Rate(25))
    assert parse_time("2:29", Rate(30)) == pytest.approx(2 + 29 / 30)


@given(rates, st.integers(0, 500_000))
def test_timecode_reads_back(rate, frame):
    text = format_timecode(rate.time_of(frame), rate, hours=True)
    assert rate.nearest_frame(parse_time(text, rate)) == frame


def test_rates_out_of_range_are_refused():
    with pytest.raises(DocumentError, match="frame rate"):
        Rate(0)
    with pytest.raises(DocumentError, match="between 1 and 240"):
        Rate(1000)
    assert Rate.parse("29.97") == Rate(30000, 1001)
    with pytest.raises(DocumentError):
        Rate.parse("fast")
