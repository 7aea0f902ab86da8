"""The document: project, scenes, layers, properties, and the declarations of properties."""

from .document import (
    SCHEMA_VERSION,
    Asset,
    Group,
    Ink,
    Keyframe,
    Layer,
    Project,
    Property,
    RateModel,
    Scene,
    Settings,
)
from .schema import document_schema, load_project
from .specs import Kind, PropertySpec
from .mixing import mix_values
from .track import Cycle, Key, Track

__all__ = [
    "SCHEMA_VERSION",
    "Asset",
    "Cycle",
    "Group",
    "Ink",
    "Key",
    "Keyframe",
    "Kind",
    "Layer",
    "Project",
    "Property",
    "PropertySpec",
    "RateModel",
    "Scene",
    "Settings",
    "Track",
    "document_schema",
    "load_project",
    "mix_values",
]
