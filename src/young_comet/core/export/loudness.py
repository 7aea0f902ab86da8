"""How loud a sound is by ITU-R BS.1770 and EBU R 128, measured with libavfilter's meter; and a
soundtrack brought to a loudness, its true peaks held below a limit."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from ..audio import CHANNELS, SAMPLE_RATE, limited
from .sound import LAYOUT, Soundtrack
from .translated import translated

# Below the absolute gate of BS.1770 nothing counts.
_GATE_LUFS = -70.0
# Louder than this no soundtrack is made: what is all but silent stays soft.
MOST_GAIN_DB = 40.0
_PIECE = 4800  # as often as the meter gates: ten times a second
_ROUNDS = 5
_NEAR_LU, _NEAR_DB = 0.05, 0.02


@dataclass(frozen=True)
class Loudness:
    """``integrated`` loudness in LUFS, None where nothing is above the meter's gate; ``range_lu``
    the loudness range (EBU Tech 3342) in LU, ``true_peak`` in dBTP (None in silence)."""

    integrated: float | None
    range_lu: float
    true_peak: float | None

    def told(self) -> str:
        """In words."""
        if self.integrated is None or self.true_peak is None:
            return "The sound is too soft or too short for its loudness to be measured."
        return (
            f"Loudness {self.integrated:.1f} LUFS, range {self.range_lu:.1f} LU, "
            f"true peak {self.true_peak:.1f} dBTP."
        )


def measured(read: Callable[[int, int], np.ndarray], count: int) -> Loudness:
    """The loudness of ``count`` samples, float32 (n, 2) at 48 kHz, which ``read(first, n)``
    gives."""
    with translated("the loudness could not be measured"):
        meter = _Meter()
        for first in range(0, count, _PIECE):
            meter.push(read(first, min(_PIECE, count - first)), first)
        return meter.end()


class _Meter:
    """The filter ``ebur128`` of libavfilter, fed piece by piece."""

    def __init__(self) -> None:
        graph = av.filter.Graph()
        source = graph.add_abuffer(
            sample_rate=SAMPLE_RATE, format="flt", layout=LAYOUT,
            time_base=Fraction(1, SAMPLE_RATE),
        )  # fmt: skip
        meter = graph.add("ebur128", "metadata=1:peak=true")
        self._out: Any = graph.add("abuffersink")
        source.link_to(meter)
        meter.link_to(self._out)
        graph.configure()
        self._source: Any = source
        self._graph = graph
        self._said: dict[str, str] = {}
        self._peak = 0.0

    def push(self, block: np.ndarray, at: int) -> None:
        """Samples from one on."""
        flat = np.ascontiguousarray(block, np.float32).reshape(1, -1)
        frame = av.AudioFrame.from_ndarray(flat, format="flt", layout=LAYOUT)
        frame.sample_rate, frame.pts = SAMPLE_RATE, at
        frame.time_base = Fraction(1, SAMPLE_RATE)
        self._source.push(frame)
        self._pull()

    def end(self) -> Loudness:
        """What was measured."""
        self._source.push(None)
        self._pull()
        integrated = self._number("I", _GATE_LUFS)
        return Loudness(
            integrated if integrated > _GATE_LUFS + 0.01 else None,
            max(0.0, self._number("LRA", 0.0)),
            20 * math.log10(self._peak) if self._peak > 1e-5 else None,
        )

    def _pull(self) -> None:
        while True:
            try:
                frame = self._out.pull()
            except (av.BlockingIOError, av.EOFError):
                return
            self._said = dict(frame.metadata) or self._said
            self._peak = max(self._peak, self._number("true_peak", 0.0))

    def _number(self, name: str, otherwise: float) -> float:
        found = float(self._said.get(f"lavfi.r128.{name}", otherwise))
        return found if math.isfinite(found) else otherwise


def levelled(
    track: Soundtrack, loudness: float, true_peak: float, folder: Path
) -> tuple[Soundtrack, Loudness]:
    """A soundtrack of that integrated loudness (LUFS) whose true peaks are not above ``true_peak``
    (dBTP), and what it is then. The samples lie in a file in the folder. One that is silent stays
    so; where the limit leaves too little it is as loud as it can be.
    """
    source = _kept(folder / "mix.f32", track.count, _pieces(track))
    before = measured(_reader(source), track.count)
    if before.integrated is None:
        return Soundtrack(track.count, _reader(source)), before
    gain = min(MOST_GAIN_DB, loudness - before.integrated)
    ceiling, result, after = true_peak, source, before
    for _ in range(_ROUNDS):
        pieces = limited(_reader(source), track.count, 10 ** (gain / 20), 10 ** (ceiling / 20))
        result = _kept(folder / "levelled.f32", track.count, pieces)
        after = measured(_reader(result), track.count)
        if after.integrated is None or after.true_peak is None:
            break
        # What the limiter takes is given again, as far as there is something to give; what meters
        # find between the samples beyond the limit is taken off it.
        short, over = loudness - after.integrated, after.true_peak - true_peak
        if abs(short) <= _NEAR_LU and over <= _NEAR_DB:
            break
        gain = min(MOST_GAIN_DB, gain + short)
        ceiling -= max(0.0, over)
    return Soundtrack(track.count, _reader(result)), after


def _pieces(track: Soundtrack) -> Any:
    size = 1 << 16
    return (
        track.read(at, min(size, track.count - at)) for at in range(0, track.count, size)
    )  # fmt: skip


def _kept(path: Path, count: int, pieces: Any) -> np.ndarray:
    """Pieces as one array, mapped from a file."""
    with translated("the mix could not be written down"), open(path, "wb") as file:
        for piece in pieces:
            file.write(np.ascontiguousarray(piece, np.float32).tobytes())
    if not count:
        return np.zeros((0, CHANNELS), np.float32)
    mapped: np.ndarray = np.memmap(path, np.float32, "r", shape=(count, CHANNELS))
    return mapped


def _reader(samples: np.ndarray) -> Callable[[int, int], np.ndarray]:
    return lambda first, count: np.asarray(samples[first : first + count])
