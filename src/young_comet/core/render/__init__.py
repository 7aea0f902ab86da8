"""From a document and a time to pixels: evaluate, then compose."""

from .evaluate import SceneEvaluator, TrackCache
from .faults import Fault, fault_words
from .lanes import LaneCache, lane_of, lanes_of, motion_path
from .library import AssetReader, MediaLibrary
from .limits import CacheLimits, shared_out
from .matching import Comparer, best_matches, judge_loop
from .onion import with_onion
from .pick import colour_at, colour_before, layers_at
from .renderer import Renderer, output_size
from .resolved import ResolvedFrame, ResolvedLayer
from .samples import effect_sample, move_sample
from .view import layer_bounds, paths_view, scene_view

__all__ = [
    "AssetReader",
    "CacheLimits",
    "Comparer",
    "Fault",
    "LaneCache",
    "MediaLibrary",
    "Renderer",
    "ResolvedFrame",
    "ResolvedLayer",
    "SceneEvaluator",
    "TrackCache",
    "best_matches",
    "colour_at",
    "colour_before",
    "effect_sample",
    "fault_words",
    "judge_loop",
    "lane_of",
    "lanes_of",
    "layer_bounds",
    "layers_at",
    "motion_path",
    "move_sample",
    "output_size",
    "paths_view",
    "scene_view",
    "shared_out",
    "with_onion",
]
