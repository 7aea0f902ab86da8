"""How layers are cut, and where their pieces are."""

from __future__ import annotations

import hashlib
from array import array
from dataclasses import dataclass
from itertools import chain

from .units import Eye, UnitPlace


@dataclass(frozen=True)
class Cut:
    """Into what a layer is cut; which of them count depends on ``kind``."""

    kind: str
    count: int
    grid: tuple[int, int]
    angle_deg: float
    lines: str


@dataclass(frozen=True)
class Slices:
    """How a layer is cut and where each of its pieces is; ``eye`` sees those that are turned in
    space."""

    cut: Cut
    places: tuple[UnitPlace, ...]
    eye: Eye | None = None

    def __repr__(self) -> str:
        """Short: there may be thousands of pieces."""
        values = array("d", chain.from_iterable(self.places)).tobytes()
        return repr((self.cut, self.eye, hashlib.blake2b(values, digest_size=12).digest()))
