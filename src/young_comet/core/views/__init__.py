"""What editors ask of a scene besides its pictures: views, lanes, picks, matches, samples."""

from .arrangements import arrangements_view
from .costs import Cost, dearest
from .crossings import transition_sample
from .gradients import gradient_bar
from .lanes import LaneCache, lane_of, lanes_of, motion_path
from .letters import letters_view
from .matching import Comparer, best_matches, judge_loop
from .onion import with_onion
from .pick import colour_at, colour_before, layers_at
from .reading import Reading, contrast_below
from .samples import effect_sample, front_sample, move_sample, passage_sample
from .seen import Seen, SeenFrame, SeenScene, with_only
from .settled import settled_time
from .view import layer_bounds, paths_view, scene_view
from .worn import seen_sample, worn_sample

__all__ = [
    "Comparer",
    "Cost",
    "LaneCache",
    "Reading",
    "Seen",
    "SeenFrame",
    "SeenScene",
    "arrangements_view",
    "best_matches",
    "colour_at",
    "colour_before",
    "contrast_below",
    "dearest",
    "effect_sample",
    "front_sample",
    "gradient_bar",
    "judge_loop",
    "lane_of",
    "lanes_of",
    "layer_bounds",
    "layers_at",
    "letters_view",
    "motion_path",
    "move_sample",
    "passage_sample",
    "paths_view",
    "scene_view",
    "seen_sample",
    "settled_time",
    "transition_sample",
    "with_onion",
    "with_only",
    "worn_sample",
]
