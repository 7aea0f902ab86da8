"""Frame rates, timecode and easings."""

from .easings import (
    REFERENCE,
    CubicBezier,
    Easing,
    Hold,
    Linear,
    easing_names,
    gallery,
    parse_easing,
    resolve_easing,
)
from .timebase import COMMON_RATES, Rate, clock_text, format_timecode, parse_time

__all__ = [
    "COMMON_RATES",
    "REFERENCE",
    "CubicBezier",
    "Easing",
    "Hold",
    "Linear",
    "Rate",
    "clock_text",
    "easing_names",
    "format_timecode",
    "gallery",
    "parse_easing",
    "parse_time",
    "resolve_easing",
]
