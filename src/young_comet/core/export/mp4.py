"""MP4 files with H.264 video, BT.709, and AAC. With ``media`` the only door to PyAV."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ..timing import Rate
from .sound import AAC_RATES, SoundStream, Soundtrack
from .translated import translated


@dataclass(frozen=True, slots=True)
class Quality:
    """A choice in plain words: x264's constant rate factor and preset."""

    id: str
    label: str
    crf: int
    preset: str


QUALITIES: dict[str, Quality] = {
    q.id: q
    for q in (
        Quality("draft", "Draft: quick and small, to check the timing", 28, "ultrafast"),
        Quality("good", "Good: clean on screen, moderate size", 20, "veryfast"),
        Quality("best", "Best: for handing on to an edit, large", 14, "medium"),
    )
}

# Codes of ITU-T H.273: BT.709 primaries, transfer and matrix; limited range.
_BT709 = 1
_LIMITED = 1


class Mp4Writer:
    """Encodes frames one by one; a context manager that closes the file.

    Disk errors are raised as StorageFullError where the disk is full, else RenderError.
    """

    def __init__(
        self, path: Path, width: int, height: int, rate: Rate, quality: Quality, threads: int = 1
    ) -> None:
        self._path = path
        self._size = (width, height)
        self._planes = np.empty((height * 3 // 2, width), np.uint8)
        self._count = 0
        with translated("the video file could not be started"):
            self._file = av.open(str(path), "w", format="mp4")
            fps = Fraction(rate.num, rate.den)
            stream = self._file.add_stream("libx264", rate=fps)
            stream.width, stream.height = width, height
            stream.pix_fmt = "yuv420p"
            context = stream.codec_context
            context.thread_count = threads
            context.color_primaries = context.color_trc = context.colorspace = _BT709
            context.color_range = _LIMITED
            stream.options = {"crf": str(quality.crf), "preset": quality.preset}
            context.time_base = 1 / fps
            self._stream, self._time_base = stream, 1 / fps

    def __enter__(self) -> Mp4Writer:
        return self

    def __exit__(self, kind: object, *_: object) -> None:
        if kind is None:
            self.close()
        else:
            with suppress(OSError, ValueError):  # already failing: the first error matters
                self._file.close()

    def write(self, pixels: np.ndarray) -> None:
        """One opaque BGRA frame of the writer's size."""
        from ..pixels.yuv import to_i420  # numba takes a second to load: only when needed

        to_i420(pixels, self._planes)
        frame = av.VideoFrame.from_ndarray(self._planes, format="yuv420p")
        frame.pts = self._count
        frame.time_base = self._time_base
        frame.color_primaries = frame.color_trc = frame.colorspace = _BT709
        frame.color_range = _LIMITED
        self._count += 1
        with translated("the video could not be written"):
            for packet in self._stream.encode(frame):
                self._file.mux(packet)

    def close(self) -> None:
        """Writes what is left and closes the file."""
        with translated("the video could not be finished"):
            for packet in self._stream.encode():
                self._file.mux(packet)
            self._file.close()


def join_parts(
    parts: Sequence[Path],
    counts: Sequence[int],
    rate: Rate,
    target: Path,
    sound: Soundtrack | None = None,
    quality: str = "good",
) -> None:
    """Puts encoded parts (``counts`` frames each) one after another without encoding again, with
    the sound encoded beside them."""
    with (
        translated("the parts of the video could not be joined"),
        av.open(str(target), "w", format="mp4", options={"movflags": "+faststart"}) as out,
    ):
        stream = heard = None
        start = Fraction(0)
        for path, count in zip(parts, counts, strict=True):
            with av.open(str(path)) as part:
                source = part.streams.video[0]
                if stream is None:
                    stream = out.add_stream_from_template(source)
                    stream.time_base = source.time_base
                    if sound is not None:
                        heard = SoundStream(out, "aac", sound, AAC_RATES[quality])
                assert source.time_base is not None
                offset = round(start / source.time_base)
                for packet in part.demux(source):
                    if packet.dts is None:
                        continue
                    packet.pts = (packet.pts or 0) + offset
                    packet.dts += offset
                    packet.stream = stream
                    if heard is not None:  # players want both side by side in the file
                        heard.write_until(float(packet.dts * source.time_base) + 0.5)
                    out.mux(packet)
            start += Fraction(count * rate.den, rate.num)
        if heard is not None:
            heard.finish()
