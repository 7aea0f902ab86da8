"""Sound in files: WAV and FLAC (24 bits), and the AAC beside a video."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from ..audio import SAMPLE_RATE
from .translated import translated

LAYOUT = "stereo"
# Bits a second of AAC by the video's quality.
AAC_RATES = {"draft": 128_000, "good": 192_000, "best": 320_000}
OPUS_RATES = {"draft": 96_000, "good": 160_000, "best": 256_000}
SOUND_FORMATS = {"wav": ("wav", "pcm_s24le"), "flac": ("flac", "flac")}
_BLOCK = 1 << 15


@dataclass
class Soundtrack:
    """``count`` samples to be written; ``read`` gives float32 (n, 2) from one on. ``loudest`` is
    the largest that has been read."""

    count: int
    read: Callable[[int, int], np.ndarray]
    loudest: float = 0.0

    def block(self, first: int, count: int) -> np.ndarray:
        """Samples (n, 2) from one on, as many as there are; cut off at full scale, as files are."""
        found = self.read(first, min(count, self.count - first))
        self.loudest = max(self.loudest, float(np.abs(found).max(initial=0.0)))
        cut: np.ndarray = np.clip(found, -1.0, 1.0)
        return cut

    def notice(self) -> str:
        """What a person should know of it, "" where there is nothing."""
        if self.loudest <= 1.0005:
            return ""
        over = 20 * np.log10(self.loudest)
        return f"The sound is {over:.1f} dB louder than files can hold and was cut off there."


class SoundStream:
    """A stream of a file that is being written; blocks are encoded as they are asked for."""

    def __init__(self, file: Any, codec: str, track: Soundtrack, bits_a_second: int = 0) -> None:
        self._file, self._track, self._next = file, track, 0
        self._stream: Any = file.add_stream(codec, rate=SAMPLE_RATE, layout=LAYOUT)
        context = self._stream.codec_context
        if bits_a_second:
            context.bit_rate = bits_a_second
        if codec == "flac":
            context.format = "s32"
            self._stream.options = {"compression_level": "8"}
        context.time_base = Fraction(1, SAMPLE_RATE)
        self._layout = context.format.name
        self._size = 0

    def write_until(self, time_s: float) -> None:
        """Encodes what is heard up to a time."""
        size = self._size or self._stream.codec_context.frame_size or _BLOCK
        while self._next < min(self._track.count, time_s * SAMPLE_RATE):
            self._write(size)

    def finish(self) -> None:
        """Encodes the rest."""
        self.write_until(float("inf"))
        for packet in self._stream.encode():
            self._file.mux(packet)

    def _write(self, size: int) -> None:
        block = self._track.block(self._next, size)
        frame = av.AudioFrame.from_ndarray(*_for_encoder(block, self._layout), layout=LAYOUT)
        frame.sample_rate = SAMPLE_RATE
        frame.pts, frame.time_base = self._next, Fraction(1, SAMPLE_RATE)
        self._next += len(block)
        for packet in self._stream.encode(frame):
            self._file.mux(packet)


def _for_encoder(block: np.ndarray, layout: str) -> tuple[np.ndarray, str]:
    """Samples as an encoder takes them: floats, by channels or by turns, or 24 bits at the top of
    32, rounded."""
    if layout == "fltp":
        return np.ascontiguousarray(block.T, np.float32), layout
    if layout in ("flt", "s16"):
        return np.ascontiguousarray(block, np.float32).reshape(1, -1), "flt"
    most = 2**23 - 1
    values = np.clip(np.rint(block.astype(np.float64) * 2**23), -(2**23), most).astype(np.int32)
    return np.ascontiguousarray(values << 8).reshape(1, -1), "s32"


def encode_sound(samples: np.ndarray, format: str) -> bytes:
    """Samples (n, 2) as the bytes of a file."""
    target = io.BytesIO()
    write_sound(target, Soundtrack(len(samples), lambda at, n: samples[at : at + n]), format)
    return target.getvalue()


def write_sound(target: Path | io.BytesIO, track: Soundtrack, format: str) -> None:
    """A file of sound alone."""
    container, codec = SOUND_FORMATS[format]
    where = str(target) if isinstance(target, Path) else target
    with (
        translated("the sound could not be written"),
        av.open(where, "w", format=container) as file,
    ):
        SoundStream(file, codec, track).finish()
