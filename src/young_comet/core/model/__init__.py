"""The document: project, scenes, layers, properties, and the declarations of properties."""

from .document import (
    SCHEMA_VERSION,
    Asset,
    Effect,
    EffectSet,
    Group,
    Ink,
    Keyframe,
    Layer,
    Mark,
    Mask,
    Part,
    Project,
    Property,
    RateModel,
    Repeat,
    SavedEasing,
    Scene,
    SetEffect,
    Settings,
    Shutter,
)
from .mixing import mix_values
from .schema import document_schema, load_project
from .specs import Kind, PropertySpec
from .track import Cycle, Key, Track

__all__ = [
    "SCHEMA_VERSION",
    "Asset",
    "Cycle",
    "Effect",
    "EffectSet",
    "Group",
    "Ink",
    "Key",
    "Keyframe",
    "Kind",
    "Layer",
    "Mark",
    "Mask",
    "Part",
    "Project",
    "Property",
    "PropertySpec",
    "RateModel",
    "Repeat",
    "SavedEasing",
    "Scene",
    "SetEffect",
    "Settings",
    "Shutter",
    "Track",
    "document_schema",
    "load_project",
    "mix_values",
]
