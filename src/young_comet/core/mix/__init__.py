"""What is heard of a scene: its layers' sounds with their gains, summed."""

from .scene import SceneMix, is_heard
from .sources import Recorded, Sounds
from .wave import MAX_COLUMNS, Wave, wave_of

__all__ = [
    "MAX_COLUMNS",
    "Recorded",
    "SceneMix",
    "Sounds",
    "Wave",
    "is_heard",
    "wave_of",
]
