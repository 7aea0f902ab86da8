"""Phrases: lines of text with times, from subtitle files (WebVTT, SubRip) or plain lines."""

from __future__ import annotations

import html
import io
import re
from dataclasses import dataclass

import webvtt
from webvtt.errors import MalformedFileError

from ...errors import MediaError

MAX_BYTES = 512 * 1024
MAX_PHRASES = 500
MAX_LETTERS = 2000
_ARROW = re.compile(r"\d[.,]\d{3}\s*-->\s*\d")
_TAG = re.compile(r"</?[a-zA-Z][^<>]{0,80}>|<\d[\d:.]{0,20}>|\{\\[^{}]{0,80}\}")
# How long a phrase is read, seconds: so long in any case, and so many letters in each.
_LEAST_S, _LETTERS_A_SECOND = 1.0, 15.0
_MOST_S = 24 * 3600.0


@dataclass(frozen=True, slots=True)
class Phrase:
    """What is said, and from when until when, seconds; None where the file has no times."""

    text: str
    start_s: float | None = None
    end_s: float | None = None


def decoded(data: bytes) -> str:
    """The text of a file: by its mark of byte order, as UTF-8, or else as Windows-1252, which old
    subtitles are in."""
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        return data.decode("utf-16", "replace")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace")


def read_phrases(data: bytes) -> tuple[list[Phrase], list[str]]:
    """The phrases of a file with what has to be said of it. MediaError where it is too large, has
    none, or too many."""
    if len(data) > MAX_BYTES:
        raise MediaError(f"phrases have at most {MAX_BYTES // 1024} KB")
    text = decoded(data).replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")
    timed = bool(_ARROW.search(text))
    found, notes = _cues(text) if timed else (_lines(text), [])
    if not found:
        raise MediaError("there are no phrases in it: one line each, or a WebVTT or SubRip file")
    if len(found) > MAX_PHRASES:
        raise MediaError(f"expected at most {MAX_PHRASES} phrases, got {len(found)}")
    return found, notes


def _lines(text: str) -> list[Phrase]:
    lines = (" ".join(line.split()) for line in text.split("\n"))
    return [Phrase(line[:MAX_LETTERS]) for line in lines if line]


def _cues(text: str) -> tuple[list[Phrase], list[str]]:
    form = "vtt" if text.lstrip("\ufeff \n").startswith("WEBVTT") else "srt"
    text = text.lstrip("\ufeff \n")
    try:
        cues = webvtt.from_buffer(io.StringIO(text), format=form).captions
    except (MalformedFileError, ValueError, IndexError) as error:
        raise MediaError(f"this subtitle file cannot be read ({error})") from error
    found: list[Phrase] = []
    backwards = over = 0
    for cue in cues:
        said = html.unescape(_TAG.sub("", cue.raw_text)).strip()
        start, end = _seconds(cue.start_time), _seconds(cue.end_time)
        if not said:
            continue
        if not 0 <= start < end <= _MOST_S:
            backwards += 1
            continue
        if found and start < (found[-1].end_s or 0.0):
            over += 1
        found.append(Phrase(said[:MAX_LETTERS], start, end))
    notes = []
    if backwards:
        notes.append(f"{backwards} of its times end before they begin: these are left out")
    if over:
        notes.append(f"{over} begin before the one before them has ended")
    return sorted(found, key=lambda each: each.start_s or 0.0), notes


def _seconds(stamp: webvtt.models.Timestamp) -> float:
    whole = stamp.hours * 3600 + stamp.minutes * 60 + stamp.seconds
    return float(whole) + stamp.milliseconds / 1000


def spans(texts: list[str], start_s: float, length_s: float, how: str) -> list[tuple[float, float]]:
    """When phrases without times are seen, one after the other: ``even`` within a length, or as
    long as each is ``read``, within that length."""
    if how == "even":
        each = length_s / max(1, len(texts))
        return [(start_s + n * each, start_s + (n + 1) * each) for n in range(len(texts))]
    lasts = [max(_LEAST_S, len(text) / _LETTERS_A_SECOND) for text in texts]
    factor = min(1.0, length_s / max(1e-9, sum(lasts)))
    found, at = [], start_s
    for last in lasts:
        found.append((at, at + last * factor))
        at += last * factor
    return found
