"""What is heard of a scene: its layers' sounds with their gains, summed."""

from .scene import SceneMix, is_heard
from .sources import Sounds

__all__ = ["SceneMix", "Sounds", "is_heard"]
