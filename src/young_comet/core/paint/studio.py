"""What draws what lies within other things, as whoever needs it sees it.

Painters meet scenes within scenes and layers that others are filled with; those are drawn by
whoever draws whole stacks, who uses the painters in turn.
"""

from __future__ import annotations

from typing import Protocol

import numpy as np

from ..effects.base import Region
from ..frame.contents import Content
from ..frame.resolved import ResolvedFrame, ResolvedLayer, SceneContent
from ..geometry.affine import Affine
from ..pixels.raster import Raster
from ..pixels.resample import MipPyramid
from .library import MediaLibrary


class Studio(Protocol):
    """Draws frames, layers and contents that lie within what is being drawn."""

    @property
    def library(self) -> MediaLibrary:
        """Must. The media and the set texts."""
        ...

    def frame(self, frame: ResolvedFrame, view: Affine, region: Region) -> Raster:
        """Must. A whole frame as a picture with transparency, its pixels mapped by ``view``, within
        a region; what its layers show beyond the frame is cut off."""
        ...

    def scene(self, content: SceneContent) -> MipPyramid:
        """Must. A scene at a moment as a picture at its own size."""
        ...

    def content(self, content: Content, there: Affine, region: Region) -> np.ndarray:
        """Must. A content under a map over a region, (h, w, 4)."""
        ...

    def layer(
        self, layer: ResolvedLayer, frame: tuple[int, int], view: Affine, region: Region
    ) -> np.ndarray:
        """Must. A layer's picture with its opacity over a region, (h, w, 4); ``frame`` is the size
        of the scene, which ``view`` maps to the output."""
        ...
