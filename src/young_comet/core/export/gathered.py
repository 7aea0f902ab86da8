"""GIF: its colours are chosen for the whole film, so no part can be encoded by itself. The parts
keep their frames without loss, and the file is encoded from these."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

from .films import Film, Part, Tick
from .palette import Palette, palette_of
from .sound import Soundtrack
from .translated import translated
from .writers import VideoWriter

# So many frames, spread over the film, tell the colours of a GIF.
_TOLD_BY = 24
# A GIF's times are whole hundredths of a second; players slow down what is below two of them.
_HUNDREDTH = Fraction(1, 100)
GIF_MOST_FPS = 50


class _KeptWriter(VideoWriter):
    """Frames kept without loss, as they are."""

    def picture(self, pixels: np.ndarray) -> av.VideoFrame:
        """The pixels, named as the codec knows them."""
        return av.VideoFrame.from_ndarray(np.ascontiguousarray(pixels), format="bgra")


def frames_of(parts: Sequence[Part]) -> Iterator[np.ndarray]:
    """The frames that parts have kept, premultiplied BGRA."""
    for part in parts:
        with translated("the frames could not be read again"), av.open(str(part.path)) as file:
            for frame in file.decode(video=0):
                yield np.ascontiguousarray(frame.to_ndarray(format="bgra"))


@dataclass(frozen=True)
class Gathered:
    """Frames are kept, then made into a GIF."""

    passes: int = 2

    def begin(self, film: Film, part: Part) -> VideoWriter:
        """Keeps frames."""
        return _KeptWriter(
            part.path, film.size, film.rate, container="matroska", codec="ffv1", layout="bgra",
            options={"level": "3", "slices": "4"},
        )  # fmt: skip

    def finish(
        self, film: Film, parts: Sequence[Part], target: Path, sound: Soundtrack | None, tick: Tick
    ) -> None:
        """Encodes what was kept; a GIF has no sound."""
        palette = _colours(film, parts)
        with translated("the GIF could not be written"), closing(_GifFile(target, film)) as out:
            for number, pixels in enumerate(frames_of(parts)):
                out.write(palette.frame(pixels), number)
                tick(number + 1)


class _GifFile:
    """A GIF frame by frame."""

    def __init__(self, path: Path, film: Film) -> None:
        loops = film.settings.loops
        # The file counts how often it begins again: -1 plays it once.
        again = "0" if loops == 0 else "-1" if loops == 1 else str(loops - 1)
        self._file: Any = av.open(str(path), "w", format="gif", options={"loop": again})
        self._frame = Fraction(film.rate.den, film.rate.num)
        stream: Any = self._file.add_stream("gif", rate=1 / self._frame)
        stream.width, stream.height = film.size
        stream.pix_fmt = "pal8"
        # What stays as it was is left out, but where something may have to be cleared.
        flags = "+offsetting-transdiff" if film.clear else "+offsetting+transdiff"
        stream.options = {"gifflags": flags}
        stream.codec_context.time_base = _HUNDREDTH
        self._stream = stream

    def write(self, frame: av.VideoFrame, number: int) -> None:
        """The frame of that number, shown until the next one's time."""
        frame.pts, end = (round(n * self._frame / _HUNDREDTH) for n in (number, number + 1))
        frame.time_base = _HUNDREDTH
        frame.duration = end - frame.pts
        for packet in self._stream.encode(frame):
            self._file.mux(packet)

    def close(self) -> None:
        """Writes what is left."""
        for packet in self._stream.encode():
            self._file.mux(packet)
        self._file.close()


def _colours(film: Film, parts: Sequence[Part]) -> Palette:
    """The palette of a film, told by some of its frames."""
    step = max(1, film.moments.count // _TOLD_BY)
    some = (pixels for n, pixels in enumerate(frames_of(parts)) if n % step == 0)
    return palette_of(
        some, film.settings.colours, clear=film.clear, matte=film.settings.ground,
        dither=film.settings.dither,
    )  # fmt: skip


GIF = Gathered()
