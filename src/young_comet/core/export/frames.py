"""Frames as numbered PNG files in a zip."""

from __future__ import annotations

import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import Self

import numpy as np

from .films import Film, Part, Tick
from .sound import Soundtrack
from .still import encode_png
from .translated import translated

# A fixed date, so that the same frames are the same file.
_DATE = (1980, 1, 1, 0, 0, 0)


class PartZip:
    """A part in a zip: what is in it is packed already. A context manager."""

    def __init__(self, path: Path) -> None:
        with translated("a part of the file could not be started"):
            self._zip = zipfile.ZipFile(path, "w", zipfile.ZIP_STORED)

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, _: object, __: TracebackType | None
    ) -> None:
        with translated("a part of the file could not be finished"):
            self._zip.close()

    def add(self, name: str, data: bytes) -> None:
        """One more entry."""
        with translated("the frames could not be written"):
            self._zip.writestr(zipfile.ZipInfo(name, _DATE), data)


class FrameZip(PartZip):
    """Frames one by one, numbered as they are in the scene."""

    def __init__(self, path: Path, name: str, numbers: Iterator[int]) -> None:
        super().__init__(path)
        self._name, self._numbers = name, numbers

    def write(self, pixels: np.ndarray) -> None:
        """One premultiplied BGRA frame; its PNG has straight colours."""
        self.add(f"{self._name}_{next(self._numbers):05d}.png", encode_png(pixels))


def join_zips(parts: Sequence[Path], target: Path) -> None:
    """All frames of some parts in one zip."""
    with (
        translated("the parts of the zip could not be joined"),
        zipfile.ZipFile(target, "w", zipfile.ZIP_STORED) as whole,
    ):
        for path in parts:
            with zipfile.ZipFile(path) as part:
                for entry in part.infolist():
                    whole.writestr(zipfile.ZipInfo(entry.filename, _DATE), part.read(entry))


@dataclass(frozen=True)
class Zipped:
    """Numbered PNG files."""

    passes: int = 1

    def begin(self, film: Film, part: Part) -> FrameZip:
        """Writes the frames of a part."""
        numbers = (film.moments.number(n) for n in range(part.first, part.last))
        return FrameZip(part.path, film.file_name, numbers)

    def finish(
        self, film: Film, parts: Sequence[Part], target: Path, sound: Soundtrack | None, tick: Tick
    ) -> None:
        """All frames in one zip."""
        join_zips([part.path for part in parts], target)
