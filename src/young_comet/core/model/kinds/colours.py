"""Colours, gradient stops, colour points."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from ....errors import DocumentError
from ...pixels.colour import Rgba, format_colour, mix, parse_colour
from .base import Kind, Limits
from .numbers import worked_out

MAX_SPOTS = 64
MAX_STOPS = 64
INK = "ink:"
MISSING_INK: Rgba = (1.0, 0.0, 1.0, 1.0)  # plainly wrong, so that it is seen and mended

Stops = tuple[tuple[float, Rgba], ...]
Spots = tuple[tuple[float, float, float, Rgba], ...]


def checked_colour(value: Any, field: str) -> str:
    """A colour as documents have it: CSS hex or ``ink:ID``."""
    if isinstance(value, str) and value.startswith(INK):
        return value
    parse_colour(value, field)
    return str(value)


def resolve_colour(text: str, inks: Mapping[str, Rgba]) -> Rgba:
    """A document's colour as numbers."""
    if text.startswith(INK):
        return inks.get(text[len(INK) :], MISSING_INK)
    return parse_colour(text)


def check_numbers(values: Any, count: int, field: str, what: str) -> None:
    """Raises DocumentError where one of the first so many is no finite number."""
    for value in values[:count]:
        wrong = isinstance(value, bool) or not isinstance(value, int | float)
        if wrong or not math.isfinite(value):
            raise DocumentError.expected(field, what, value)


def _premultiplied(c: Rgba) -> Rgba:
    return (c[0] * c[3], c[1] * c[3], c[2] * c[3], c[3])


class ColourKind(Kind):
    """A colour ``"#rrggbb[aa]"`` or ``"ink:ID"``; the computation has red, green, blue and alpha
    in 0..1, not premultiplied."""

    id = "colour"
    mixes = reckoned = True
    course = "colours"

    def check(self, spec: Limits, value: Any, field: str) -> str:
        return checked_colour(value, field)

    def resolve(self, value: Any, inks: Mapping[str, Rgba]) -> Rgba:
        return value if isinstance(value, tuple) else resolve_colour(value, inks)

    def to_json(self, value: Any) -> Any:
        return format_colour(value)

    def mix(self, a: Any, b: Any, amount: float) -> Any:
        return mix(a, b, amount)

    def step(self, a: Any, b: Any) -> tuple[float, ...]:
        """Colours count premultiplied."""
        return tuple(q - p for p, q in zip(_premultiplied(a), _premultiplied(b), strict=True))

    def swatch(self, value: Any) -> Rgba:
        found: Rgba = value
        return found

    def said(self, value: Any, spec: Limits) -> str:
        return "" if value.startswith(INK) else str(value)

    def from_expression(self, value: Any, spec: Limits) -> Any:
        """A text (hex or ``ink:ID``), or a list of red, green, blue and perhaps alpha, 0..1."""
        if isinstance(value, str):
            return value
        if not isinstance(value, tuple):
            raise DocumentError("a colour needs a list of numbers, or a text such as '#ff7a45'")
        if len(value) not in (3, 4):
            raise DocumentError("a colour needs three or four numbers from 0 to 1")
        parts = tuple(min(1.0, max(0.0, worked_out(part, "a colour"))) for part in value)
        return parts if len(parts) == 4 else (*parts, 1.0)


class StopsKind(Kind):
    """Gradient stops ``[[offset 0..1, colour], ...]``."""

    id = "stops"
    mixes = True
    course = "colours"

    def check(self, spec: Limits, value: Any, field: str) -> tuple[tuple[float, str], ...]:
        fine = isinstance(value, list | tuple) and 2 <= len(value) <= MAX_STOPS
        if not fine or any(not isinstance(s, list | tuple) or len(s) != 2 for s in value):
            raise DocumentError.expected(field, f"2 to {MAX_STOPS} stops [offset, colour]", value)
        result = []
        for offset, colour in value:
            if isinstance(offset, bool) or not isinstance(offset, int | float):
                raise DocumentError.expected(field, "offsets from 0 to 1", offset)
            if not 0 <= offset <= 1:
                raise DocumentError.expected(field, "offsets from 0 to 1", offset)
            result.append((float(offset), checked_colour(colour, field)))
        return tuple(result)

    def resolve(self, value: Any, inks: Mapping[str, Rgba]) -> Stops:
        return tuple((offset, resolve_colour(colour, inks)) for offset, colour in value)

    def to_json(self, value: Any) -> Any:
        return [[round(offset, 6), format_colour(colour)] for offset, colour in value]

    def mix(self, a: Stops, b: Stops, amount: float) -> Stops:
        """Mixed one by one; a list that is shorter repeats its last stop."""
        count = max(len(a), len(b))
        a += (a[-1],) * (count - len(a))
        b += (b[-1],) * (count - len(b))
        return tuple(
            (min(1.0, max(0.0, p + (q - p) * amount)), mix(c, d, amount))
            for (p, c), (q, d) in zip(a, b, strict=True)
        )

    def step(self, a: Any, b: Any) -> tuple[float, ...]:
        count = min(len(a), len(b))
        parts: list[float] = []
        for (p, c), (q, d) in zip(a[:count], b[:count], strict=True):
            parts += [q - p, *Kind.COLOUR.step(c, d)]
        return tuple(parts)

    def swatch(self, value: Any) -> Rgba:
        found: Rgba = value[len(value) // 2][-1]
        return found


class SpotsKind(Kind):
    """Colour points ``[[x, y, softness, colour], ...]``, the numbers in percent."""

    id = "spots"
    mixes = True
    course = "colours"

    def check(
        self, spec: Limits, value: Any, field: str
    ) -> tuple[tuple[float, float, float, str], ...]:
        what = f"1 to {MAX_SPOTS} colour points [x, y, softness, colour], numbers in percent"
        fine = isinstance(value, list | tuple) and 1 <= len(value) <= MAX_SPOTS
        if not fine or any(not isinstance(p, list | tuple) or len(p) != 4 for p in value):
            raise DocumentError.expected(field, what, value)
        result = []
        for spot in value:
            check_numbers(spot, 3, field, what)
            x, y, softness = (float(part) for part in spot[:3])
            if not (abs(x) <= 1e4 and abs(y) <= 1e4 and 0 <= softness <= 1000):
                raise DocumentError.expected(field, what, spot)
            result.append((x, y, softness, checked_colour(spot[3], field)))
        return tuple(result)

    def resolve(self, value: Any, inks: Mapping[str, Rgba]) -> Spots:
        return tuple((x, y, soft, resolve_colour(colour, inks)) for x, y, soft, colour in value)

    def to_json(self, value: Any) -> Any:
        return [
            [round(x, 4), round(y, 4), round(soft, 4), format_colour(c)] for x, y, soft, c in value
        ]

    def mix(self, a: Spots, b: Spots, amount: float) -> Spots:
        """Mixed one by one; a list that is shorter repeats its last one."""
        count = max(len(a), len(b))
        a += (a[-1],) * (count - len(a))
        b += (b[-1],) * (count - len(b))
        return tuple(
            (
                p[0] + (q[0] - p[0]) * amount,
                p[1] + (q[1] - p[1]) * amount,
                max(0.0, p[2] + (q[2] - p[2]) * amount),
                mix(p[3], q[3], amount),
            )
            for p, q in zip(a, b, strict=True)
        )

    def swatch(self, value: Any) -> Rgba:
        found: Rgba = value[len(value) // 2][-1]
        return found
