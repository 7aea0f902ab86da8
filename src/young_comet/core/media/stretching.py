"""Sound made longer or shorter while its pitch stays, by libavfilter's ``atempo`` (overlapping
pieces laid where their waves fit: WSOLA, Verhelst and Roelands, Proc. IEEE ICASSP 1993)."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import av
import numpy as np

from ...errors import MediaError
from ..audio.samples import CHANNELS, SAMPLE_RATE

# One filter plays at half to double the speed (beyond that it leaves samples out); several follow
# each other.
_MOST = 2.0
# What a filter gives begins about so much (ms) before where it should: it is delayed by that.
_EARLY_MS = 17
_PIECE = 1 << 16


def stretched(samples: np.ndarray, speed: float) -> Iterator[np.ndarray]:
    """Samples (n, 2) at another speed, n / speed of them, piece by piece as float32 (m, 2)."""
    goal = round(len(samples) / speed)
    graph = av.filter.Graph()
    source: Any = graph.add_abuffer(format="flt", sample_rate=SAMPLE_RATE, layout="stereo")
    last = source
    while not 1 / _MOST <= speed <= _MOST:
        step = _MOST if speed > 1 else 1 / _MOST
        last = _linked(graph, last, step)
        speed /= step
    last = _linked(graph, last, speed)
    plain = graph.add("aformat", "sample_fmts=flt:channel_layouts=stereo")
    last.link_to(plain)
    sink: Any = graph.add("abuffersink")
    plain.link_to(sink)
    try:
        graph.configure()
        yield from _whole(_pulled(graph, source, sink, samples), goal)
    except av.FFmpegError as error:
        raise MediaError(f"the sound cannot be made longer or shorter ({error})") from error


def _linked(graph: Any, last: Any, speed: float) -> Any:
    late = graph.add("adelay", f"{_EARLY_MS}:all=1")
    each = graph.add("atempo", f"{speed:.9f}")
    last.link_to(late)
    late.link_to(each)
    return each


def _pulled(graph: Any, source: Any, sink: Any, samples: np.ndarray) -> Iterator[np.ndarray]:
    for first in range(0, len(samples), _PIECE):
        piece = np.ascontiguousarray(samples[first : first + _PIECE], np.float32)
        frame = av.AudioFrame.from_ndarray(piece.reshape(1, -1), "flt", "stereo")
        frame.sample_rate, frame.pts = SAMPLE_RATE, first
        source.push(frame)
        yield from _ready(sink)
    source.push(None)
    yield from _ready(sink)


def _ready(sink: Any) -> Iterator[np.ndarray]:
    while True:
        try:
            frame = sink.pull()
        except (av.error.BlockingIOError, av.error.EOFError):
            return
        yield frame.to_ndarray().reshape(-1, CHANNELS)


def _whole(pieces: Iterator[np.ndarray], goal: int) -> Iterator[np.ndarray]:
    """As many samples as there must be: cut off, or silent at the end."""
    done = 0
    for piece in pieces:
        piece = piece[: max(0, goal - done)]
        done += len(piece)
        if len(piece):
            yield piece
    if done < goal:
        yield np.zeros((goal - done, CHANNELS), np.float32)
