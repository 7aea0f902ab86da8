"""How moving pictures become files: what takes the frames of a part, what makes one file of all."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

import numpy as np

from ..timing import Rate
from .moments import Moments
from .mp4 import QUALITIES, Quality
from .settings import RenderSettings
from .sound import Soundtrack

Tick = Callable[[int], None]


@dataclass(frozen=True)
class Film:
    """What all parts of a film have in common: its size, its moments, what was chosen, the name and
    the id of its scene, and whether (``clear``) something may show through that is to stay
    transparent."""

    size: tuple[int, int]
    moments: Moments
    settings: RenderSettings
    name: str
    clear: bool
    scene: str = ""

    @property
    def rate(self) -> Rate:
        """Frames a second in the file."""
        return self.moments.rate

    @property
    def quality(self) -> Quality:
        """The chosen quality."""
        return QUALITIES[self.settings.quality]

    @property
    def file_name(self) -> str:
        """The scene's name as files are called."""
        return re.sub(r"[^A-Za-z0-9]+", "-", self.name).strip("-").lower() or "frame"


class FrameSink(Protocol):
    """Takes frames, one after another."""

    def write(self, pixels: np.ndarray) -> None:
        """Must. One premultiplied BGRA frame of the film's size."""
        ...


@dataclass(frozen=True)
class Part:
    """A stretch of the film in a file of its own: moments ``first`` to ``last - 1``."""

    path: Path
    first: int
    last: int


class Filming(Protocol):
    """A way in which moving pictures become a file."""

    def begin(self, film: Film, part: Part) -> AbstractContextManager[FrameSink]:
        """Must. What takes the frames of a part and writes its file."""
        ...

    def finish(
        self, film: Film, parts: Sequence[Part], target: Path, sound: Soundtrack | None, tick: Tick
    ) -> None:
        """Must. One file of all parts. Where that takes a while ``tick`` is called with how many
        frames are done; it may raise to end it."""
        ...

    @property
    def passes(self) -> int:
        """How often all frames are gone through: 1 where parts are only put together."""
        ...
