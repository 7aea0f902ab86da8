"""From a document and a time to pixels: evaluate, then compose."""

from .evaluate import SceneEvaluator, TrackCache
from .lanes import lane_of, motion_path
from .library import AssetReader, MediaLibrary
from .pick import colour_at, layers_at
from .renderer import Renderer, output_size
from .resolved import ResolvedFrame, ResolvedLayer
from .view import layer_bounds, scene_view

__all__ = [
    "AssetReader",
    "MediaLibrary",
    "Renderer",
    "ResolvedFrame",
    "ResolvedLayer",
    "SceneEvaluator",
    "TrackCache",
    "colour_at",
    "lane_of",
    "layer_bounds",
    "layers_at",
    "motion_path",
    "output_size",
    "scene_view",
]
