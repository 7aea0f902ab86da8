"""All registries gathered: what a document's ids and parameters may be."""

from .check import check_layer, check_project, check_scene, normalise
from .kinds import LAYER_KINDS, LayerKind, layer_kind, spec_of

__all__ = [
    "LAYER_KINDS",
    "LayerKind",
    "check_layer",
    "check_project",
    "check_scene",
    "layer_kind",
    "normalise",
    "spec_of",
]
