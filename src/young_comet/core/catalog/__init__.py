"""All registries gathered: what a document's ids and parameters may be."""

from .check import check_easing, check_layer, check_project, check_scene, normalise
from .kinds import LAYER_KINDS, LayerKind, layer_kind, parts_of, spec_of, specs_of

__all__ = [
    "LAYER_KINDS",
    "LayerKind",
    "check_easing",
    "check_layer",
    "check_project",
    "check_scene",
    "layer_kind",
    "normalise",
    "parts_of",
    "spec_of",
    "specs_of",
]
