"""Files from strangers, read in a process of their own."""

from .examine import CUBE_TYPE, Examined
from .process import DRAW_S, LISTEN_S, READ_S, READ_S_PER_MB, ForeignReader, reader, stop_readers

__all__ = [
    "CUBE_TYPE",
    "DRAW_S",
    "LISTEN_S",
    "READ_S",
    "READ_S_PER_MB",
    "Examined",
    "ForeignReader",
    "reader",
    "stop_readers",
]
