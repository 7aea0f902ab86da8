"""Frame rates, timecode and easings."""

from .easing import CubicBezier, Easing, Hold, Linear, easing_names, parse_easing
from .timebase import COMMON_RATES, Rate, format_timecode, parse_time

__all__ = [
    "COMMON_RATES",
    "CubicBezier",
    "Easing",
    "Hold",
    "Linear",
    "Rate",
    "easing_names",
    "format_timecode",
    "parse_easing",
    "parse_time",
]
