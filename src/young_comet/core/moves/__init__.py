"""Moves: ready-made animations of arriving, dwelling and leaving."""

from .arriving import ARRIVING
from .base import PHASES, REST, TEXT_UNITS, Moment, MoveKind, MoveRegistry, Pose, Wipe
from .dwelling import DWELLING

MOVES = MoveRegistry("a move")
MOVES.add(*ARRIVING, *DWELLING)

__all__ = [
    "MOVES",
    "PHASES",
    "REST",
    "TEXT_UNITS",
    "Moment",
    "MoveKind",
    "MoveRegistry",
    "Pose",
    "Wipe",
]
