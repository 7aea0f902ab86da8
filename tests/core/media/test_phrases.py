"""Phrases of subtitle files and plain lines: right, or refused with words."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from young_comet.core.media.phrases import MAX_BYTES, Phrase, decoded, read_phrases, spans
from young_comet.errors import MediaError

VTT = """WEBVTT - Kite Week

NOTE the wind
is not said

STYLE
::cue { color: red }

first
00:01.000 --> 00:02.500 align:start line:80%
<v Mara>Hold <i>on</i> &amp; wait

00:02.500 --> 01:00:04.250
to the wind
of the bay
"""
SRT = "1\r\n00:00:01,000 --> 00:00:02,500\r\n<b>Hold</b> on\r\n\r\n2\r\n00:00:02,500 --> 00:00:04,000\r\nLet go\r\n"


def test_cues_of_webvtt_and_subrip_are_read_without_their_marks():
    found, notes = read_phrases(VTT.encode())
    assert found == [
        Phrase("Hold on & wait", 1.0, 2.5), Phrase("to the wind\nof the bay", 2.5, 3604.25),
    ]  # fmt: skip
    assert notes == []
    found, _ = read_phrases(SRT.encode())
    assert found == [Phrase("Hold on", 1.0, 2.5), Phrase("Let go", 2.5, 4.0)]


def test_lines_are_phrases_without_times():
    found, _ = read_phrases(b"Hold on\n\n  to   the wind \n")
    assert found == [Phrase("Hold on"), Phrase("to the wind")]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_files_in_other_encodings_are_read(encoding):
    said = SRT.replace("Let go", "Grüße, naïve Möwe")
    found, _ = read_phrases(said.encode(encoding))
    assert found[1].text == "Grüße, naïve Möwe"
    assert decoded("Ветер".encode("utf-16")) == "Ветер"


def test_what_is_wrong_with_times_is_said():
    text = (
        SRT + "\n3\n00:00:03,000 --> 00:00:05,000\nover\n\n4\n00:00:09,000 --> 00:00:07,000\nback\n"
    )
    found, notes = read_phrases(text.encode())
    assert [p.text for p in found] == ["Hold on", "Let go", "over"]
    assert len(notes) == 2 and "before they begin" in notes[0] and "has ended" in notes[1]


@pytest.mark.parametrize(
    ("data", "said"),
    [(b"", "no phrases"), (b" \n \n", "no phrases"), (b"a\n" * 501, "at most 500"),
     (b"x" * (MAX_BYTES + 1), "KB"), (b"WEBVTT\n\n00:09.000 --> 00:01.000\nx\n", "no phrases"),
     (b"\x00\xff" * 40, None), (b"1\n00:00:01,000 --> 00:00:0", None)],
)  # fmt: skip
def test_hostile_files_are_refused_with_words_or_read(data, said):
    try:
        found, _ = read_phrases(data)
    except MediaError as error:
        assert said is None or said in str(error)
    else:
        assert said is None and found


@given(st.binary(max_size=400))
def test_any_bytes_are_read_or_refused(data):
    try:
        found, _ = read_phrases(data)
    except MediaError:
        return
    assert all(p.text and (p.start_s is None or p.start_s < p.end_s) for p in found)


@pytest.mark.parametrize("how", ["even", "read"])
def test_phrases_without_times_follow_one_another(how):
    texts = ["Hold", "on to the wind that comes off the bay in the evening", "and let go"]
    found = spans(texts, 2.0, 6.0, how)
    assert found[0][0] == 2.0 and found[-1][1] <= 8.0 + 1e-9
    assert all(a[1] == pytest.approx(b[0]) for a, b in pairwise(found))
    lasts = [b - a for a, b in found]
    if how == "even":
        assert lasts == pytest.approx([2.0] * 3)
    else:
        assert lasts[1] > 2 * lasts[0]
