"""Document and time in, resolved frame out."""

from .evaluate import SceneEvaluator
from .tracks import TrackCache

__all__ = ["SceneEvaluator", "TrackCache"]
