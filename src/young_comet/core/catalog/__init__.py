"""All registries gathered: what a document's ids and parameters may be."""

from .check import (
    check_easing,
    check_expression,
    check_layer,
    check_project,
    check_saved_move,
    check_scene,
    normalise,
)
from .common import MASK, PART_SPECS
from .kinds import LAYER_KINDS, MOVABLE, LayerKind, layer_kind
from .links import (
    MAX_NESTED,
    check_links,
    check_nesting,
    covers_frame,
    find_circle,
    placed_scene,
    readers_of,
)
from .properties import (
    effect_kind,
    effect_specs,
    find_spec,
    lane_label,
    mask_specs,
    move_kind,
    move_specs,
    part_specs,
    parts_of,
    spec_of,
    specs_of,
)

__all__ = [
    "LAYER_KINDS",
    "MASK",
    "MAX_NESTED",
    "MOVABLE",
    "PART_SPECS",
    "LayerKind",
    "check_easing",
    "check_expression",
    "check_layer",
    "check_links",
    "check_nesting",
    "check_project",
    "check_saved_move",
    "check_scene",
    "covers_frame",
    "effect_kind",
    "effect_specs",
    "find_circle",
    "find_spec",
    "lane_label",
    "layer_kind",
    "mask_specs",
    "move_kind",
    "move_specs",
    "normalise",
    "part_specs",
    "parts_of",
    "placed_scene",
    "readers_of",
    "spec_of",
    "specs_of",
]
