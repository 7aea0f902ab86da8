"""The words of a scene with their times, as WebVTT (W3C)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from ..frame.contents import TextContent
from ..frame.resolved import ResolvedFrame, SceneContent
from .telling import Telling


@dataclass(frozen=True)
class Cue:
    """Words that are read from ``start_s`` to ``end_s``; seconds from the film's start."""

    start_s: float
    end_s: float
    text: str


def cues_of(frames: Iterable[tuple[float, ResolvedFrame]], end_s: float) -> list[Cue]:
    """The cues of frames, each with its time: what the text layers say, also those of placed
    scenes, as long as they say it. What cannot be seen at all is not read."""
    open_: dict[tuple[str, ...], tuple[float, str]] = {}
    found: list[Cue] = []

    def close(place: tuple[str, ...], time_s: float) -> None:
        start, text = open_.pop(place)
        if time_s > start:
            found.append(Cue(start, time_s, text))

    for time_s, frame in frames:
        said = dict(_said(frame, ()))
        for place, (_, text) in list(open_.items()):
            if said.get(place) != text:
                close(place, time_s)
        for place, text in said.items():
            open_.setdefault(place, (time_s, text))
    for place in list(open_):
        close(place, end_s)
    # By time; what begins together from above down, as it lies in the stack.
    return sorted(found, key=lambda cue: (cue.start_s, cue.end_s))


def _said(frame: ResolvedFrame, within: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], str]]:
    for layer in reversed(frame.layers):
        if layer.opacity <= 0:
            continue
        place = (*within, layer.id)
        if isinstance(layer.content, TextContent) and layer.content.text.strip():
            yield place, layer.content.text
        elif isinstance(layer.content, SceneContent):
            yield from _said(layer.content.frame, place)


def words_of(telling: Telling) -> str:
    """The words of a scene as a WebVTT file."""
    start_s, end_s = telling.span
    return write_vtt(cues_of(telling.frames(), end_s - start_s))


def write_vtt(cues: Iterable[Cue]) -> str:
    """A WebVTT file. Blank lines would end a cue, and an arrow would begin one."""
    blocks = ["WEBVTT"]
    for number, cue in enumerate(cues, 1):
        text = cue.text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        lines = [line.rstrip() for line in text.splitlines() if line.strip()]
        times = f"{_time(cue.start_s)} --> {_time(cue.end_s)}"
        blocks.append("\n".join([str(number), times, *lines]))
    return "\n\n".join(blocks) + "\n"


def _time(seconds: float) -> str:
    whole = round(seconds * 1000)
    hours, rest = divmod(whole, 3_600_000)
    minutes, rest = divmod(rest, 60_000)
    return f"{hours:02d}:{minutes:02d}:{rest // 1000:02d}.{rest % 1000:03d}"
