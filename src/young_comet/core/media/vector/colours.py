"""Colours as CSS Color 4 and 5 write them, brought into sRGB.

Notations are read by tinycss2; conversions follow the sample code of CSS Color 4, section 18.
Colours that sRGB does not have are cut off at its ends, as browsers paint them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
import tinycss2
from tinycss2.color5 import parse_color

from ...pixels.colour import Rgba

_LMS_OF_XYZ = np.array([
    [0.8190224379967030, 0.3619062600528904, -0.1288737815209879],
    [0.0329836539323885, 0.9292868615863434, 0.0361446663506424],
    [0.0481771893596242, 0.2642395317527308, 0.6335478284694309],
])  # fmt: skip
_OKLAB_OF_LMS = np.array([
    [0.2104542683093140, 0.7936177747023054, -0.0040720430116193],
    [1.9779985324311684, -2.4285922420485799, 0.4505937096174110],
    [0.0259040424655478, 0.7827717124575296, -0.8086757549230774],
])  # fmt: skip
_XYZ_OF_LINEAR = {
    "srgb": np.array([
        [506752 / 1228815, 87881 / 245763, 12673 / 70218],
        [87098 / 409605, 175762 / 245763, 12673 / 175545],
        [7918 / 409605, 87881 / 737289, 1001167 / 1053270],
    ]),
    "display-p3": np.array([
        [608311 / 1250200, 189793 / 714400, 198249 / 1000160],
        [35783 / 156275, 247089 / 357200, 198249 / 2500400],
        [0.0, 32229 / 714400, 5220557 / 5000800],
    ]),
    "a98-rgb": np.array([
        [573536 / 994567, 263643 / 1420810, 187206 / 994567],
        [591459 / 1989134, 6239551 / 9945670, 374412 / 4972835],
        [53769 / 1989134, 351524 / 4972835, 4929758 / 4972835],
    ]),
    "rec2020": np.array([
        [63426534 / 99577255, 20160776 / 139408157, 47086771 / 278816314],
        [26158966 / 99577255, 472592308 / 697040785, 8267143 / 139408157],
        [0.0, 19567812 / 697040785, 295819943 / 278816314],
    ]),
}  # fmt: skip
# Bradford's adaptation.
_D65_OF_D50 = np.array([
    [0.955473421488075, -0.02309845494876471, 0.06325924320057072],
    [-0.0283697093338637, 1.0099953980813041, 0.021041441191917323],
    [0.012314014864481998, -0.020507649298898964, 1.330365926242124],
])  # fmt: skip
_D50 = np.array([0.3457 / 0.3585, 1.0, (1.0 - 0.3457 - 0.3585) / 0.3585])
_KAPPA, _EPSILON = 24389 / 27, 216 / 24389

_HUED = {"hsl": 0, "hwb": 0, "lch": 2, "oklch": 2}
_MIXABLE = (
    "srgb", "srgb-linear", "lab", "oklab", "xyz", "xyz-d50", "xyz-d65", "display-p3", "a98-rgb",
    "rec2020", *_HUED,
)  # fmt: skip


def css_colour(text: str, current: Rgba = (0.0, 0.0, 0.0, 1.0)) -> Rgba | None:
    """A colour in any notation, as straight sRGB cut off to 0..1; None where it is none.
    ``current`` is what currentColor stands for."""
    nodes = tinycss2.parse_component_value_list(text.strip(), skip_comments=True)
    nodes = [n for n in nodes if n.type != "whitespace"]
    return _colour(nodes[0], current, 0) if len(nodes) == 1 else None


def _colour(node: Any, current: Rgba, depth: int) -> Rgba | None:
    if depth > 12:
        return None
    if node.type == "function" and node.lower_name == "color-mix":
        return _mixed(node.arguments, current, depth)
    try:
        found = parse_color(node)
    except (ValueError, TypeError, ArithmeticError):
        return None
    if found is None:
        return None
    if found == "currentcolor":
        return current
    numbers = [0.0 if c is None else float(c) for c in found.coordinates]
    alpha = 0.0 if found.alpha is None else float(found.alpha)
    try:
        r, g, b = _srgb_of(found.space, numbers)
    except (KeyError, OverflowError, ValueError):
        return None
    return (*(_within(float(c)) for c in (r, g, b)), _within(alpha))  # type: ignore[return-value]


def _within(value: float) -> float:
    return min(1.0, max(0.0, value)) if math.isfinite(value) else 0.0


def _srgb_of(space: str, c: Sequence[float]) -> Sequence[float]:
    """sRGB, not cut off, of a colour as tinycss2 gives it."""
    if space == "srgb":
        return c
    if space == "hsl":
        return _of_hsl(c[0], c[1] / 100, c[2] / 100)
    if space == "hwb":
        white, black = c[1] / 100, c[2] / 100
        if white + black >= 1:
            return [white / (white + black)] * 3
        return [v * (1 - white - black) + white for v in _of_hsl(c[0], 1.0, 0.5)]
    return _encoded(np.linalg.solve(_XYZ_OF_LINEAR["srgb"], _xyz_of(space, c)))


def _xyz_of(space: str, c: Sequence[float]) -> np.ndarray:
    """XYZ under D65."""
    if space in ("oklch", "lch"):
        hue = math.radians(c[2])
        c = (c[0], c[1] * math.cos(hue), c[1] * math.sin(hue))
        space = space.replace("lch", "lab")
    if space == "oklab":
        lms: np.ndarray = np.linalg.solve(_OKLAB_OF_LMS, np.array(c)) ** 3
        return np.linalg.solve(_LMS_OF_XYZ, lms)
    if space == "lab":
        y = (c[0] + 16) / 116
        x, z = y + c[1] / 500, y - c[2] / 200
        far = [v**3 if v**3 > _EPSILON else (116 * v - 16) / _KAPPA for v in (x, z)]
        middle = y**3 if c[0] > _KAPPA * _EPSILON else c[0] / _KAPPA
        adapted: np.ndarray = _D65_OF_D50 @ (np.array([far[0], middle, far[1]]) * _D50)
        return adapted
    if space == "xyz-d50":
        result: np.ndarray = _D65_OF_D50 @ np.array(c)
        return result
    if space in ("xyz", "xyz-d65"):
        return np.array(c)
    if space == "srgb-linear":
        result = _XYZ_OF_LINEAR["srgb"] @ np.array(c)
        return result
    result = _XYZ_OF_LINEAR[space] @ _linear(space, np.array(c))
    return result


def _linear(space: str, c: np.ndarray) -> np.ndarray:
    size, sign = np.abs(c), np.sign(c)
    if space == "a98-rgb":
        result: np.ndarray = sign * size ** (563 / 256)
        return result
    if space == "rec2020":
        alpha, beta = 1.09929682680944, 0.018053968510807
        result = sign * np.where(
            size < beta * 4.5, size / 4.5, ((size + alpha - 1) / alpha) ** (1 / 0.45)
        )
        return result
    result = sign * np.where(size <= 0.04045, size / 12.92, ((size + 0.055) / 1.055) ** 2.4)
    return result


def _encoded(c: np.ndarray) -> list[float]:
    size, sign = np.abs(c), np.sign(c)
    curved = 1.055 * size ** (1 / 2.4) - 0.055
    found: list[float] = (sign * np.where(size > 0.0031308, curved, 12.92 * size)).tolist()
    return found


def _of_hsl(hue: float, saturation: float, lightness: float) -> list[float]:
    def channel(n: float) -> float:
        k = (n + hue / 30) % 12
        a = saturation * min(lightness, 1 - lightness)
        return lightness - a * max(-1.0, min(k - 3, 9 - k, 1.0))

    return [channel(n) for n in (0, 8, 4)]


# Mixing (CSS Color 5, 2)


def _mixed(arguments: list[Any], current: Rgba, depth: int) -> Rgba | None:
    parts: list[list[Any]] = [[]]
    for node in arguments:
        if node.type == "literal" and node.value == ",":
            parts.append([])
        elif node.type not in ("whitespace", "comment"):
            parts[-1].append(node)
    space, longer = "oklab", False
    if parts and parts[0] and getattr(parts[0][0], "lower_value", "") == "in":
        words = [getattr(n, "lower_value", "") for n in parts.pop(0)]
        space, longer = words[1] if len(words) > 1 else "", "longer" in words
    if len(parts) != 2 or space not in _MIXABLE:
        return None
    colours, shares = [], []
    for part in parts:
        percent = [n.value / 100 for n in part if n.type == "percentage"]
        rest = [n for n in part if n.type != "percentage"]
        colour = _colour(rest[0], current, depth + 1) if len(rest) == 1 else None
        if colour is None or len(percent) > 1:
            return None
        colours.append(colour)
        shares.append(percent[0] if percent else None)
    a, b = shares
    a = (1.0 if b is None else 1 - b) if a is None else a
    if shares[0] is None and b is None:
        a = 0.5
    b = 1 - a if b is None else b
    if a < 0 or b < 0 or a + b <= 0:
        return None
    return _between(colours[0], colours[1], b / (a + b), space, longer, min(1.0, a + b))


def _between(first: Rgba, last: Rgba, share: float, space: str, longer: bool, alpha: float) -> Rgba:
    """Premultiplied interpolation in a space; hues go the shorter way round, or the longer."""
    p, q = (np.array(in_space(c, space)) for c in (first, last))
    weights = (first[3] * (1 - share), last[3] * share)
    whole = sum(weights)
    mixed = (p * weights[0] + q * weights[1]) / whole if whole > 0 else p
    hue = _HUED.get(space)
    if hue is not None:
        way = (q[hue] - p[hue] + 180) % 360 - 180
        if longer and way:
            way -= math.copysign(360, way)
        mixed[hue] = p[hue] + way * share
    if space == "hsl" or space == "hwb":
        mixed[1:] *= 100
    if space == "srgb":
        found: Sequence[float] = mixed.tolist()
    else:
        found = _srgb_of(space, mixed.tolist())
    r, g, b = (_within(float(c)) for c in found)
    return (r, g, b, _within(whole * alpha))


def in_space(colour: Rgba, space: str) -> Sequence[float]:
    """An sRGB colour in a space; percentages of hsl and hwb as fractions."""
    r, g, b = colour[:3]
    if space == "srgb":
        return (r, g, b)
    if space in ("hsl", "hwb"):
        return _hued(r, g, b, space)
    linear = _linear("srgb", np.array([r, g, b]))
    if space == "srgb-linear":
        return linear.tolist()  # type: ignore[no-any-return]
    xyz = _XYZ_OF_LINEAR["srgb"] @ linear
    if space in ("oklab", "oklch"):
        lab = _OKLAB_OF_LMS @ np.cbrt(_LMS_OF_XYZ @ xyz)
        return _polar(lab) if space == "oklch" else lab.tolist()
    if space in ("lab", "lch"):
        x, y, z = np.linalg.solve(_D65_OF_D50, xyz) / _D50
        fx, fy, fz = (
            float(np.cbrt(v)) if v > _EPSILON else (_KAPPA * v + 16) / 116 for v in (x, y, z)
        )
        lab = np.array([116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)])
        return _polar(lab) if space == "lch" else lab.tolist()
    if space == "xyz-d50":
        return np.linalg.solve(_D65_OF_D50, xyz).tolist()  # type: ignore[no-any-return]
    if space in ("xyz", "xyz-d65"):
        return xyz.tolist()  # type: ignore[no-any-return]
    wide = np.linalg.solve(_XYZ_OF_LINEAR[space], xyz)
    if space == "a98-rgb":
        return (np.sign(wide) * np.abs(wide) ** (256 / 563)).tolist()  # type: ignore[no-any-return]
    if space == "rec2020":
        alpha, beta = 1.09929682680944, 0.018053968510807
        curved = alpha * np.abs(wide) ** 0.45 - (alpha - 1)
        found = np.where(np.abs(wide) > beta, np.sign(wide) * curved, 4.5 * wide)
        return found.tolist()  # type: ignore[no-any-return]
    return _encoded(wide)


def _polar(lab: np.ndarray) -> list[float]:
    return [
        float(lab[0]),
        math.hypot(lab[1], lab[2]),
        math.degrees(math.atan2(lab[2], lab[1])) % 360,
    ]


def _hued(r: float, g: float, b: float, space: str) -> tuple[float, float, float]:
    most, least = max(r, g, b), min(r, g, b)
    far = most - least
    hue = 0.0
    if far > 0:
        if most == r:
            hue = (g - b) / far % 6
        elif most == g:
            hue = (b - r) / far + 2
        else:
            hue = (r - g) / far + 4
    if space == "hwb":
        return (hue * 60, least, 1 - most)
    light = (most + least) / 2
    saturation = 0.0 if far == 0 else far / (1 - abs(2 * light - 1))
    return (hue * 60, saturation, light)
