"""Video files frame by frame: what all of them share."""

from __future__ import annotations

from contextlib import suppress
from fractions import Fraction
from pathlib import Path
from types import TracebackType
from typing import Any

import av
import numpy as np

from ..timing import Rate
from .translated import translated

# Codes of ITU-T H.273: BT.709 primaries, transfer and matrix; limited range.
BT709 = 1
LIMITED = 1


class VideoWriter:
    """Encodes frames one by one; a context manager that closes the file.

    Disk errors are raised as StorageFullError where the disk is full, else RenderError.
    """

    def __init__(
        self,
        path: Path,
        size: tuple[int, int],
        rate: Rate,
        *,
        container: str,
        codec: str,
        layout: str,
        options: dict[str, str],
        threads: int = 1,
    ) -> None:
        self._count = 0
        with translated("the video file could not be started"):
            self._file: Any = av.open(str(path), "w", format=container)
            fps = Fraction(rate.num, rate.den)
            stream: Any = self._file.add_stream(codec, rate=fps)
            stream.width, stream.height = size
            stream.pix_fmt = layout
            context = stream.codec_context
            context.thread_count = threads
            context.color_primaries = context.color_trc = context.colorspace = BT709
            context.color_range = LIMITED
            stream.options = options
            context.time_base = 1 / fps
            self._stream, self._time_base = stream, 1 / fps

    def __enter__(self) -> VideoWriter:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, _: object, __: TracebackType | None
    ) -> None:
        if kind is None:
            self.close()
        else:
            with suppress(OSError, ValueError):  # already failing: the first error matters
                self._file.close()

    def picture(self, pixels: np.ndarray) -> av.VideoFrame:
        """Must. Premultiplied BGRA as the encoder takes it."""
        raise NotImplementedError

    def write(self, pixels: np.ndarray) -> None:
        """One BGRA frame of the writer's size."""
        frame = self.picture(pixels)
        frame.pts = self._count
        frame.time_base = self._time_base
        frame.color_primaries = frame.color_trc = frame.colorspace = BT709
        frame.color_range = LIMITED
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
