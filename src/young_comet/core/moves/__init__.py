"""Moves: ready-made animations of arriving, dwelling and leaving."""

from .arriving import ARRIVING
from .base import PHASES, REST, Moment, MoveKind, MoveRegistry, Pose, Wipe
from .dwelling import DWELLING
from .passages import PASSAGES, Passage
from .tempo import TEXT_UNITS, tempo_of
from .ways import POINTS

MOVES = MoveRegistry("a move")
MOVES.add(*ARRIVING, *DWELLING)

__all__ = [
    "MOVES",
    "PASSAGES",
    "PHASES",
    "POINTS",
    "REST",
    "TEXT_UNITS",
    "Moment",
    "MoveKind",
    "MoveRegistry",
    "Passage",
    "Pose",
    "Wipe",
    "tempo_of",
]
