"""Lengths and transforms as CSS and SVG write them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import tinycss2

from ...geometry.affine import Affine, Box
from .syntax import UNITS

_ANGLES = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}


@dataclass(frozen=True)
class Measures:
    """What relative units count from: the viewport's size, the font's, the whole picture's."""

    viewport: tuple[float, float]
    font_px: float = 16.0
    root: tuple[float, float] = (0.0, 0.0)

    def whole(self, name: str) -> float:
        """What 100 % of a property of geometry is (SVG 2, 8.9)."""
        width, height = self.viewport
        if name in ("x", "width", "cx", "rx", "x1", "x2", "dx"):
            return width
        if name in ("y", "height", "cy", "ry", "y1", "y2", "dy"):
            return height
        return math.hypot(width, height) / math.sqrt(2)

    def in_viewport(self, width: float, height: float) -> Measures:
        """The measures within another viewport."""
        return replace(self, viewport=(width, height))

    def length(self, text: str, name: str) -> float | None:
        """A length in px; None where it is none, or auto."""
        nodes = tinycss2.parse_component_value_list(text.strip(), skip_comments=True)
        nodes = [n for n in nodes if n.type != "whitespace"]
        if len(nodes) != 1:
            return None
        found = self._value(nodes[0], name, 0)
        return found if found is not None and math.isfinite(found) else None

    def _value(self, node: Any, name: str, depth: int) -> float | None:
        if node.type == "number":
            return float(node.value)
        if node.type == "percentage":
            return float(node.value) / 100 * self.whole(name)
        if node.type == "dimension":
            factor = self._unit(node.lower_unit)
            return None if factor is None else float(node.value) * factor
        if node.type in ("function", "() block") and depth < 20:
            known = getattr(node, "lower_name", "calc")
            inner = node.arguments if node.type == "function" else node.content
            if known == "calc":
                return self._sum(inner, name, depth + 1)
            if known in ("min", "max", "clamp"):
                parts = [self._sum(part, name, depth + 1) for part in _by_commas(inner)]
                if not parts or any(part is None for part in parts):
                    return None
                numbers = [part for part in parts if part is not None]
                if known == "clamp" and len(numbers) == 3:
                    return max(numbers[0], min(numbers[1], numbers[2]))
                return min(numbers) if known == "min" else max(numbers)
        return None

    def _sum(self, nodes: list[Any], name: str, depth: int) -> float | None:
        total, sign, product, by = 0.0, 1.0, None, ""
        for node in nodes:
            if node.type in ("whitespace", "comment"):
                continue
            if node.type == "literal" and node.value in "+-*/":
                if node.value in "+-":
                    if product is None:
                        return None
                    total, product = total + sign * product, None
                    sign = 1.0 if node.value == "+" else -1.0
                else:
                    by = node.value
                continue
            value = self._value(node, name, depth)
            if value is None:
                return None
            if product is None:
                product = value
            elif by == "*":
                product *= value
            elif by == "/" and value:
                product /= value
            elif not by and getattr(node, "representation", "")[:1] in "+-":
                total, product = total + sign * product, value  # "10px -5px" read as one sign
                sign = 1.0
            else:
                return None
            by = ""
        return None if product is None else total + sign * product

    def _unit(self, unit: str) -> float | None:
        if unit in UNITS:
            return float(UNITS[unit])
        width, height = self.root
        return {
            "em": self.font_px, "ex": self.font_px / 2, "ch": self.font_px / 2, "rem": 16.0,
            "q": 96 / 101.6, "vw": width / 100, "vh": height / 100,
            "vmin": min(width, height) / 100, "vmax": max(width, height) / 100,
        }.get(unit)  # fmt: skip


def _by_commas(nodes: list[Any]) -> list[list[Any]]:
    parts: list[list[Any]] = [[]]
    for node in nodes:
        if node.type == "literal" and node.value == ",":
            parts.append([])
        elif node.type not in ("whitespace", "comment"):
            parts[-1].append(node)
    return parts


# Transforms


def transform(
    text: str, measures: Measures, box: Box, note: Callable[[str], None]
) -> Affine | None:
    """A list of transform functions, as attributes or as CSS have them; None where it cannot be
    read. Percentages count from the reference box."""
    result = Affine()
    for node in tinycss2.parse_component_value_list(text, skip_comments=True):
        if node.type in ("whitespace",) or (node.type == "literal" and node.value == ","):
            continue
        if node.type == "ident" and node.lower_value == "none":
            return Affine()
        if node.type != "function":
            return None
        one = _function(node, measures, box, note)
        if one is None:
            return None
        result = result @ one
    return result


def _function(
    node: Any, measures: Measures, box: Box, note: Callable[[str], None]
) -> Affine | None:
    values = [n for n in node.arguments if n.type not in ("whitespace", "comment")]
    values = [n for n in values if not (n.type == "literal" and n.value == ",")]
    name = node.lower_name

    def far(index: int, axis: int) -> float:
        if index >= len(values):
            return 0.0
        if values[index].type == "percentage":
            return float(values[index].value) / 100 * (box[axis + 2] - box[axis])
        return measures.length(tinycss2.serialize([values[index]]), "xy"[axis]) or 0.0

    def number(index: int, default: float) -> float:
        if index >= len(values) or values[index].type not in ("number", "percentage"):
            return default
        value = float(values[index].value)
        return value / 100 if values[index].type == "percentage" else value

    def angle(index: int) -> float:
        return angle_deg(values[index]) if index < len(values) else 0.0

    if name == "matrix" and len(values) == 6:
        a, b, c, d = (number(i, 0.0) for i in range(4))
        return Affine(a, b, c, d, far(4, 0), far(5, 1))
    if name == "translate":
        return Affine.shift(far(0, 0), far(1, 1))
    if name in ("translatex", "translatey"):
        return Affine.shift(far(0, 0), 0.0) if name[-1] == "x" else Affine.shift(0.0, far(0, 1))
    if name == "scale":
        x = number(0, 1.0)
        return Affine.scaling(x, number(1, x))
    if name in ("scalex", "scaley"):
        x = number(0, 1.0)
        return Affine.scaling(x, 1.0) if name[-1] == "x" else Affine.scaling(1.0, x)
    if name in ("rotate", "rotatez"):
        about = Affine.shift(far(1, 0), far(2, 1)) if len(values) == 3 else Affine()
        return about @ Affine.rotation(angle(0)) @ about.inverse()
    if name == "skewx":
        return Affine.skewing(angle(0), 0.0)
    if name == "skewy":
        return Affine.skewing(0.0, angle(0))
    if name == "skew":
        return Affine.skewing(angle(0), angle(1))
    note(f"{name[:30]}() is no transform of the plane and was left out")
    return Affine()


def angle_deg(node: Any) -> float:
    """An angle; numbers are degrees."""
    if node.type == "number":
        return float(node.value)
    if node.type == "dimension":
        return float(node.value) * _ANGLES.get(node.lower_unit, 1.0)
    return 0.0


def origin(text: str, measures: Measures, box: Box) -> tuple[float, float]:
    """The point of a reference box that transform-origin names."""
    words = {"left": 0.0, "right": 1.0, "top": 0.0, "bottom": 1.0, "center": 0.5}
    found = [box[0], box[1]]
    nodes = tinycss2.parse_component_value_list(text, skip_comments=True)
    nodes = [n for n in nodes if n.type != "whitespace"][:2]
    first = getattr(nodes[0], "lower_value", "") if nodes else ""
    axes = (1, 0) if first in ("top", "bottom") else (0, 1)
    if len(nodes) == 1:
        found[1 - axes[0]] = (box[1 - axes[0]] + box[3 - axes[0]]) / 2
    for node, axis in zip(nodes, axes, strict=False):
        size = box[axis + 2] - box[axis]
        if node.type == "ident":
            found[axis] = box[axis] + words.get(node.lower_value, 0.5) * size
        elif node.type == "percentage":
            found[axis] = box[axis] + float(node.value) / 100 * size
        else:
            length = measures.length(tinycss2.serialize([node]), "xy"[axis])
            found[axis] = box[axis] + (length or 0.0)
    return (found[0], found[1])
