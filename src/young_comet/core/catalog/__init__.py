"""All registries gathered: what a document's ids and parameters may be."""

from .check import check_easing, check_layer, check_project, check_scene, normalise
from .common import MASK, PART_SPECS
from .kinds import LAYER_KINDS, LayerKind, layer_kind
from .properties import (
    effect_kind,
    effect_specs,
    find_spec,
    mask_specs,
    part_specs,
    parts_of,
    spec_of,
    specs_of,
)

__all__ = [
    "LAYER_KINDS",
    "MASK",
    "PART_SPECS",
    "LayerKind",
    "check_easing",
    "check_layer",
    "check_project",
    "check_scene",
    "effect_kind",
    "effect_specs",
    "find_spec",
    "layer_kind",
    "mask_specs",
    "normalise",
    "part_specs",
    "parts_of",
    "spec_of",
    "specs_of",
]
