"""Video files with alpha, to be laid over footage: MOV with ProRes 4444, WebM with VP9."""

from __future__ import annotations

from pathlib import Path

import av
import numpy as np
from av.video.reformatter import Interpolation

from ..pixels.raster import unpremultiply
from ..timing import Rate
from .mp4 import Quality
from .writers import BT709, LIMITED, VideoWriter

# Of libvpx: constant quality, and how much time it may take (less for a larger number).
_VP9 = {"draft": ("40", "8"), "good": ("24", "5"), "best": ("12", "3")}
_ROUNDED = Interpolation.BILINEAR | Interpolation.ACCURATE_RND | Interpolation.FULL_CHR_H_INT


class _StraightWriter(VideoWriter):
    """Colours go into the file straight, not multiplied by alpha: nothing dark can show at edges,
    and that is what editors take such files for."""

    layout: str

    def picture(self, pixels: np.ndarray) -> av.VideoFrame:
        """Straight colours and alpha in the file's own layout."""
        straight = np.ascontiguousarray(unpremultiply(pixels))
        return av.VideoFrame.from_ndarray(straight, format="bgra").reformat(
            format=self.layout, src_color_range=2, dst_color_range=LIMITED, dst_colorspace=BT709,
            interpolation=_ROUNDED,
        )  # fmt: skip


class ProResWriter(_StraightWriter):
    """ProRes 4444: every frame by itself, 10 bits, alpha exact to 16."""

    layout = "yuva444p10le"

    def __init__(
        self, path: Path, width: int, height: int, rate: Rate, quality: Quality, threads: int = 1
    ) -> None:
        options = {"profile": "4444", "alpha_bits": "16", "vendor": "apl0"}
        super().__init__(
            path, (width, height), rate, container="mov", codec="prores_ks", layout=self.layout,
            options=options, threads=threads,
        )  # fmt: skip


class WebmWriter(_StraightWriter):
    """VP9 with a second picture for alpha."""

    layout = "yuva420p"

    def __init__(
        self, path: Path, width: int, height: int, rate: Rate, quality: Quality, threads: int = 1
    ) -> None:
        crf, speed = _VP9[quality.id]
        options = {
            "crf": crf, "b": "0", "cpu-used": speed, "deadline": "good", "auto-alt-ref": "0",
        }  # fmt: skip
        super().__init__(
            path, (width, height), rate, container="webm", codec="libvpx-vp9", layout=self.layout,
            options=options, threads=threads,
        )  # fmt: skip
        self._stream.metadata["alpha_mode"] = "1"
