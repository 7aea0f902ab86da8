"""Colours as people write them, and how well they are read on each other."""

from __future__ import annotations

import math
import re

import numpy as np

from ...errors import DocumentError
from ..pixels.colour import Rgba, format_colour, parse_colour
from .vector.colours import css_colour, in_space

_DIGITS = re.compile(r"[0-9a-fA-F]{3,8}")
MOST_LETTERS = 200


def typed_colour(text: str, field: str = "colour") -> Rgba:
    """A colour in any notation of CSS Color 4 (hex with or without ``#``, names, rgb(), hsl(),
    hwb(), lab(), oklch(), color(), ...). DocumentError where it is none."""
    text = text.strip()[:MOST_LETTERS]
    if _DIGITS.fullmatch(text) and len(text) in (3, 4, 6, 8):
        return parse_colour(f"#{text}", field)
    found = None if "currentcolor" in text.lower() else css_colour(text)
    if found is None:
        told = "a colour such as #ff7a45, tomato, rgb(255 122 69) or oklch(0.74 0.17 45)"
        raise DocumentError.expected(field, told, text)
    return found


def notations(colour: Rgba) -> dict[str, str]:
    """A colour as hex, rgb(), hsl() and oklch() of CSS Color 4; the alpha where it is not 1."""
    r, g, b, alpha = colour
    tail = "" if alpha >= 1 else f" / {_plain(alpha, 3)}"
    hue, saturation, lightness = in_space(colour, "hsl")
    ok_l, chroma, ok_hue = in_space(colour, "oklch")
    return {
        "hex": format_colour(colour),
        "rgb": f"rgb({round(r * 255)} {round(g * 255)} {round(b * 255)}{tail})",
        "hsl": (
            f"hsl({_angle(hue)} {_plain(saturation * 100, 1)}% {_plain(lightness * 100, 1)}%{tail})"
        ),
        "oklch": f"oklch({_plain(ok_l, 4)} {_plain(chroma, 4)} {_angle(ok_hue)}{tail})",
    }


def _plain(value: float, decimals: int) -> str:
    return f"{round(value, decimals) + 0.0:g}"


def _angle(degrees: float) -> str:
    return "0" if math.isnan(degrees) else _plain(degrees % 360, 1)


def relative_luminance(rgb: np.ndarray) -> np.ndarray:
    """WCAG 2.2's relative luminance of sRGB in 0..1 (..., 3)."""
    linear = np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)
    weighed: np.ndarray = linear @ np.array([0.2126, 0.7152, 0.0722])
    return weighed


def contrast(one: np.ndarray | float, other: np.ndarray | float) -> np.ndarray:
    """WCAG 2.2's contrast ratio of relative luminances, 1 to 21."""
    low, high = np.minimum(one, other), np.maximum(one, other)
    ratio: np.ndarray = (high + 0.05) / (low + 0.05)
    return ratio


def contrast_of(one: Rgba, other: Rgba) -> float:
    """The contrast ratio of two colours, taken as opaque."""
    a, b = (relative_luminance(np.array(each[:3])) for each in (one, other))
    return float(contrast(a, b))
