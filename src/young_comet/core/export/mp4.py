"""MP4 files with H.264 video, BT.709. With ``media`` this room is the only door to PyAV."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np

from ..timing import Rate
from .writers import VideoWriter


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


class Mp4Writer(VideoWriter):
    """Encodes opaque frames of even sides."""

    def __init__(
        self, path: Path, width: int, height: int, rate: Rate, quality: Quality, threads: int = 1
    ) -> None:
        self._planes = np.empty((height * 3 // 2, width), np.uint8)
        options = {"crf": str(quality.crf), "preset": quality.preset}
        super().__init__(
            path, (width, height), rate, container="mp4", codec="libx264", layout="yuv420p",
            options=options, threads=threads,
        )  # fmt: skip

    def picture(self, pixels: np.ndarray) -> av.VideoFrame:
        """Planes of BT.709."""
        from ..pixels.yuv import to_i420  # numba takes a second to load: only when needed

        to_i420(pixels, self._planes)
        return av.VideoFrame.from_ndarray(self._planes, format="yuv420p")
