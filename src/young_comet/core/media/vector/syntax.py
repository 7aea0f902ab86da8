"""The small languages within SVG: numbers, lengths, transforms."""

from __future__ import annotations

import math
import re
from xml.etree.ElementTree import Element

from ...geometry.affine import Affine

_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")

_TRANSFORM = re.compile(r"(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^)]*)\)")

# CSS Values 4: absolute lengths in px.
UNITS = {"": 1, "px": 1, "pt": 96 / 72, "pc": 16, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96}


def tag_of(element: Element) -> str:
    """An element's name without its namespace."""
    return element.tag.split("}")[-1] if isinstance(element.tag, str) else ""


def numbers(text: str) -> list[float]:
    """All numbers of a text."""
    return [float(n) for n in _NUMBER.findall(text)]


def length(text: str | None, default: float = 0.0) -> float:
    """A length with an absolute unit in px; the default where it is none."""
    match = re.fullmatch(r"\s*([0-9.eE+-]+)\s*([a-z%]*)\s*", text or "")
    if not match:
        return default
    try:
        value = float(match[1])
    except ValueError:
        return default
    return value * UNITS.get(match[2], 1.0) if math.isfinite(value) else default


def coordinate(text: str, whole: float) -> float:
    """A coordinate in px; percents are of the whole."""
    if text.strip().endswith("%"):
        return share(text) * whole
    return length(text)


def share(text: str) -> float:
    """A number or a percentage as a fraction."""
    found = numbers(text)
    if not found:
        return 1.0
    return found[0] / 100 if text.strip().endswith("%") else found[0]


def transform_of(text: str) -> Affine:
    """The map of a transform attribute."""
    result = Affine()
    for name, arguments in _TRANSFORM.findall(text or ""):
        v = numbers(arguments)
        if name == "matrix" and len(v) == 6:
            result = result @ Affine(*v)
        elif name == "translate" and v:
            result = result @ Affine.shift(v[0], v[1] if len(v) > 1 else 0.0)
        elif name == "scale" and v:
            result = result @ Affine.scaling(v[0], v[1] if len(v) > 1 else v[0])
        elif name == "rotate" and v:
            about = (v[1], v[2]) if len(v) > 2 else (0.0, 0.0)
            turn = Affine.shift(*about) @ Affine.rotation(v[0]) @ Affine.shift(-about[0], -about[1])
            result = result @ turn
        elif name == "skewX" and v:
            result = result @ Affine.skewing(v[0], 0.0)
        elif name == "skewY" and v:
            result = result @ Affine.skewing(0.0, v[0])
    return result


def view_matrix(element: Element, width: float, height: float) -> Affine:
    """The viewBox fitted into a size as preserveAspectRatio says (SVG 2, 8.6)."""
    view = numbers(element.get("viewBox", ""))
    if len(view) != 4 or view[2] <= 0 or view[3] <= 0:
        return Affine()
    sx, sy = width / view[2], height / view[3]
    words = element.get("preserveAspectRatio", "xMidYMid meet").split()
    align = words[0] if words else "xMidYMid"
    if align != "none":
        sx = sy = max(sx, sy) if "slice" in words else min(sx, sy)
    spare_x, spare_y = width - view[2] * sx, height - view[3] * sy
    kx = 0.0 if "xMin" in align else 1.0 if "xMax" in align else 0.5
    ky = 0.0 if "YMin" in align else 1.0 if "YMax" in align else 0.5
    shift = Affine.shift(spare_x * kx - view[0] * sx, spare_y * ky - view[1] * sy)
    return shift @ Affine.scaling(sx, sy)


def declarations(text: str) -> dict[str, str]:
    """The declarations of a plain style attribute: no quotes, no semicolons within."""
    found = {}
    for part in text.split(";"):
        name, colon, value = part.partition(":")
        if colon:
            found[name.strip()] = value.strip()
    return found
