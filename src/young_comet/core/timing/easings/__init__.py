"""Easings: how a value travels from one key to the next. In documents an easing is its text."""

from .base import Easing, Reversed
from .css import CubicBezier, Hold, Linear, LinearStops, Steps
from .families import FAMILIES, MODES, Family, family_names
from .splitting import split_easing
from .spring import SoftSpring, Spring, settle_time, spring_at
from .text import REFERENCE, GalleryEntry, easing_names, gallery, parse_easing, resolve_easing

__all__ = [
    "FAMILIES",
    "MODES",
    "REFERENCE",
    "CubicBezier",
    "Easing",
    "Family",
    "GalleryEntry",
    "Hold",
    "Linear",
    "LinearStops",
    "Reversed",
    "SoftSpring",
    "Spring",
    "Steps",
    "easing_names",
    "family_names",
    "gallery",
    "parse_easing",
    "resolve_easing",
    "settle_time",
    "split_easing",
    "spring_at",
]
