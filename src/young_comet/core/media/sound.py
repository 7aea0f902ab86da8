"""Sound read whole: brought to two channels at the rate that scenes are mixed at.

The file's kind is told from its first bytes and its reader is fixed by that, as with footage.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import av
import numpy as np
import soxr

from ...errors import MediaError, MediaTooLargeError
from ..audio.samples import CHANNELS, SAMPLE_RATE
from .footage import footage_kind

MAX_SECONDS = 3600.0
MAX_CHANNELS = 64
RATES = (4_000, 768_000)
# Sound that pauses for longer than this within its file is silent for so long.
_GAP_S = 0.05
# Louder than this is no sound any more (36 dB above full scale).
_LOUDEST = 64.0

_DECODERS = (
    "pcm_", "flac", "alac", "mp3", "mp2", "vorbis", "libvorbis", "opus", "libopus", "aac",
)  # fmt: skip
_TYPES = {
    "wav": "audio/wav", "flac": "audio/flac", "ogg": "audio/ogg", "mp3": "audio/mpeg",
    "aac": "audio/aac", "mov": "audio/mp4", "matroska": "audio/webm",
}  # fmt: skip

# Shares of the left and right channel (ITU-R BS.775-3, table 2: 5.1 to stereo; what lies in the
# middle or behind is 3 dB softer, and low frequency effects are left out).
_HALF = 0.5**0.5
_LEFT, _RIGHT, _BOTH, _NONE = (1.0, 0.0), (0.0, 1.0), (_HALF, _HALF), (0.0, 0.0)
_SHARES = {
    "FL": _LEFT, "FR": _RIGHT, "FC": _BOTH, "LFE": _NONE, "BL": (_HALF, 0.0), "BR": (0.0, _HALF),
    "SL": (_HALF, 0.0), "SR": (0.0, _HALF), "BC": (0.5, 0.5), "FLC": _LEFT, "FRC": _RIGHT,
    "DL": _LEFT, "DR": _RIGHT,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class SoundInfo:
    """Type by content, the file's own channels and rate (Hz), its length at the rate that it was
    brought to, and what of it will not be heard, in sentences."""

    media_type: str
    channels: int
    sample_rate: int
    samples: int
    notes: tuple[str, ...] = ()

    @property
    def duration_s(self) -> float:
        """Its length in seconds."""
        return self.samples / SAMPLE_RATE


def sound_kind(data: bytes) -> str:
    """The reader for a file by its first bytes; "" where it is no sound. "mov" and "matroska" may
    hold pictures as well."""
    if data[:4] in (b"RIFF", b"RF64") and data[8:12] == b"WAVE":
        return "wav"
    if data[:4] == b"fLaC":
        return "flac"
    if data[:4] == b"OggS":
        return "ogg"
    if data[:3] == b"ID3":
        return "mp3"
    if len(data) > 2 and data[0] == 0xFF and data[1] & 0xF6 == 0xF0:
        return "aac"
    if len(data) > 2 and data[0] == 0xFF and data[1] & 0xE0 == 0xE0 and data[1] & 0x06:
        return "mp3"
    kind = footage_kind(data)
    return kind if kind in ("mov", "matroska") else ""


def has_pictures(data: bytes, kind: str) -> bool:
    """Whether a film file has a stream of pictures that is more than a cover."""
    try:
        with av.open(io.BytesIO(data), format=kind, options={"protocol_whitelist": ""}) as file:
            return any(not _is_cover(stream) for stream in file.streams.video)
    except (av.FFmpegError, ValueError, OSError) as error:
        raise MediaError(f"the file cannot be read ({error})") from error


def _is_cover(stream: Any) -> bool:
    return bool(int(stream.disposition) & int(av.stream.Disposition.attached_pic))


def decode_sound(
    data: bytes, write: Callable[[np.ndarray], object], *, max_seconds: float = MAX_SECONDS
) -> SoundInfo | None:
    """Decodes a file's first sound and gives it, piece by piece, as float32 (n, 2) at 48 kHz; None
    where it has no sound. MediaError says what is wrong with it.

    The sound of a film begins with its first picture.
    """
    kind = sound_kind(data)
    if not kind:
        raise MediaError("this is no WAV, FLAC, MP3, Ogg, Opus, AAC or M4A file")
    try:
        with av.open(io.BytesIO(data), format=kind, options={"protocol_whitelist": ""}) as file:
            if not file.streams.audio:
                return None
            return _Decoding(file, kind, write, max_seconds).run(_origin_s(data, file, kind))
    except (av.FFmpegError, ValueError, OSError, IndexError) as error:
        raise MediaError(f"the sound cannot be read ({error})") from error


def _origin_s(data: bytes, file: Any, kind: str) -> float | None:
    """When the film's first picture is shown; None where there are no pictures."""
    films = [s for s in file.streams.video if not _is_cover(s)]
    if not films:
        return None
    # The first in time need not be the first in the file, and asking for it moves on in the file.
    opened: Any = av.open(io.BytesIO(data), format=kind, options={"protocol_whitelist": ""})
    with opened as again:
        stream = again.streams[films[0].index]
        first = None
        for number, packet in enumerate(again.demux(stream)):
            if packet.pts is not None and packet.size and not packet.is_discard:
                first = packet.pts if first is None else min(first, packet.pts)
            if number > 64:
                break
        return None if first is None else float(first * stream.time_base)


class _Decoding:
    """One file on its way to 48 kHz."""

    def __init__(
        self, file: Any, kind: str, write: Callable[[np.ndarray], object], max_seconds: float
    ) -> None:
        self._file, self._kind, self._write = file, kind, write
        self._stream = file.streams.audio[0]
        context = self._stream.codec_context
        if context is None:
            raise MediaError("the sound's codec is not known")
        if not context.name.startswith(_DECODERS):
            raise MediaError(f"sound in {context.name} is not read")
        context.thread_type = "NONE"
        self._most = round(max_seconds * SAMPLE_RATE)
        self._written = self._strange = 0
        self._rate = self._channels = 0
        self._shares = np.zeros((0, CHANNELS), np.float32)
        self._stream_out: Any = None

    def run(self, origin_s: float | None) -> SoundInfo:
        """Decodes all of it."""
        came = 0  # samples of the file that have been passed on
        for frame in self._frames():
            block = self._stereo(frame)
            if frame.time is not None:
                if origin_s is None:
                    origin_s = float(frame.time)
                at = round((float(frame.time) - origin_s) * self._rate)
                if at < came and came == 0:
                    block = block[-at:]
                elif at - came > _GAP_S * self._rate or came == 0:
                    came += self._silence(at - came)
            if len(block):
                self._pass(block)
                came += len(block)
        if not self._rate:
            raise MediaError("there is no sound in it")
        self._pass(np.zeros((0, CHANNELS), np.float32), last=True)
        if not self._written:
            raise MediaError("there is no sound in it")
        notes = []
        if self._channels > 2:
            notes.append(f"Its {self._channels} channels are heard as two")
        if self._strange:
            notes.append(f"{self._strange:,} of its samples are no numbers: it is silent there")
        return SoundInfo(
            _TYPES[self._kind], self._channels, self._rate, self._written, tuple(notes)
        )

    def _frames(self) -> Iterator[Any]:
        """Decoded frames; what is damaged is left out as long as something can be read."""
        damaged = 0
        for packet in self._file.demux(self._stream):
            try:
                yield from packet.decode()
            except av.FFmpegError as error:
                damaged += 1
                if damaged > 100:
                    raise MediaError(f"the sound is damaged ({error})") from error

    def _stereo(self, frame: Any) -> np.ndarray:
        """A decoded frame as (n, 2) float32."""
        rate, names = int(frame.sample_rate), [c.name for c in frame.layout.channels]
        if not RATES[0] <= rate <= RATES[1]:
            raise MediaError(f"sound at {rate} samples a second is not read")
        if not 1 <= len(names) <= MAX_CHANNELS:
            raise MediaError(f"sound with {len(names)} channels is not read")
        if not self._rate:
            self._rate, self._channels = rate, len(names)
            self._shares = _shares_of(names)
            self._stream_out = (
                soxr.ResampleStream(rate, SAMPLE_RATE, CHANNELS, np.float32, "VHQ")
                if rate != SAMPLE_RATE
                else None
            )
        elif (rate, len(names)) != (self._rate, self._channels):
            raise MediaError("the sound changes its rate or its channels on the way")
        samples = frame.to_ndarray()
        if not frame.format.is_planar:
            samples = samples.reshape(-1, len(names)).T
        values = _as_float(samples)
        wrong = ~np.isfinite(values)
        if wrong.any():
            self._strange += int(wrong.any(axis=0).sum())
            values = np.where(wrong, np.float32(0), values)
        values = np.clip(values, -_LOUDEST, _LOUDEST)
        return np.ascontiguousarray(values.T.astype(np.float32) @ self._shares)

    def _silence(self, count: int) -> int:
        """So many samples of silence, in pieces."""
        count = max(0, count)
        if count / max(1, self._rate) > self._most / SAMPLE_RATE:
            raise MediaTooLargeError("the sound has a gap longer than it may be")
        left = count
        while left > 0:
            piece = min(left, 1 << 16)
            self._pass(np.zeros((piece, CHANNELS), np.float32))
            left -= piece
        return count

    def _pass(self, block: np.ndarray, last: bool = False) -> None:
        if self._stream_out is not None:
            block = self._stream_out.resample_chunk(block, last=last)
        if not len(block):
            return
        self._written += len(block)
        if self._written > self._most:
            raise MediaTooLargeError(
                f"the sound is longer than {self._most / SAMPLE_RATE:g} s, which is the most"
            )
        self._write(np.ascontiguousarray(block, np.float32))


def _shares_of(names: list[str]) -> np.ndarray:
    """How much of each channel goes left and right, (channels, 2) float32."""
    if len(names) == 1:
        return np.ones((1, CHANNELS), np.float32)
    if len(set(names)) == len(names) and all(name in _SHARES for name in names):
        return np.array([_SHARES[name] for name in names], np.float32)
    # A layout that nobody has named: by turns left and right, as loud as two.
    shares = [(_LEFT, _RIGHT)[number % 2] for number in range(len(names))]
    return np.array(shares, np.float32) * np.float32(2 / len(names))


def _as_float(samples: np.ndarray) -> np.ndarray:
    """Samples of any format as float64 in which 1 is full scale."""
    values = samples.astype(np.float64)
    if samples.dtype == np.uint8:
        return (values - 128) / 128
    if samples.dtype.kind == "i":
        return values / float(1 << (8 * samples.dtype.itemsize - 1))
    return values
