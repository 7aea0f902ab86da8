"""The document: project, scenes, layers, properties, and the declarations of properties."""

from .document import (
    SCHEMA_VERSION,
    Asset,
    Group,
    Ink,
    Keyframe,
    Layer,
    Mark,
    Project,
    Property,
    RateModel,
    Repeat,
    SavedEasing,
    Scene,
    Settings,
)
from .mixing import mix_values
from .schema import document_schema, load_project
from .specs import Kind, PropertySpec
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
    "Mark",
    "Project",
    "Property",
    "PropertySpec",
    "RateModel",
    "Repeat",
    "SavedEasing",
    "Scene",
    "Settings",
    "Track",
    "document_schema",
    "load_project",
    "mix_values",
]
