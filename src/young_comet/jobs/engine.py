"""What renders the parts of a video: a protocol, so that other machines can do it as well."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Protocol

from ..core.paint import CacheLimits


@dataclass(frozen=True)
class RenderPart:
    """A stretch of a render, as plain data: ``first`` to ``last - 1`` of its moments go into files
    that begin with ``path``, one for each format (``part_file``). ``assets`` is the folder of the
    asset files. ``poster`` is the number of the moment of which a small JPEG is kept as well."""

    document: str
    scene_id: str
    settings: dict[str, Any]
    first: int
    last: int
    path: str
    assets: str
    limits: CacheLimits
    frames_per_report: int = 5
    poster: int | None = None


@dataclass(frozen=True)
class FramesDone:
    """So many frames of a part are done."""

    part: int
    frames: int


@dataclass(frozen=True)
class GapFound:
    """Something could not be drawn and is marked in the picture."""

    part: int
    words: str


@dataclass(frozen=True)
class PartDone:
    """A part's file is whole."""

    part: int


@dataclass(frozen=True)
class PartFailed:
    """A part is lost, and with it the render. ``full``: there is no room left for its file."""

    part: int
    words: str
    full: bool = False


Report = FramesDone | GapFound | PartDone | PartFailed


class RenderRun(Protocol):
    """Parts that are being rendered. Used by one thread, and always closed."""

    def next_report(self, timeout_s: float) -> Report | None:
        """Must. The next that happened, or None where nothing did within so long. A part that ends
        without a word is reported as failed."""
        ...

    def close(self) -> None:
        """Must. Ends whatever is still at work, within some seconds, and gives everything back:
        this is also how a render is cancelled."""
        ...


class RenderEngine(Protocol):
    """Something that renders parts."""

    @property
    def wide(self) -> int:
        """Must. How many parts it works at side by side: a render is cut into no more."""
        ...

    def submit(self, parts: Sequence[RenderPart]) -> RenderRun:
        """Must. Starts on parts."""
        ...
