"""Document and time in, resolved frame out."""

from .scene import SceneEvaluator
from .tracks import TrackCache

__all__ = ["SceneEvaluator", "TrackCache"]
