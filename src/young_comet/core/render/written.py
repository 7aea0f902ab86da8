"""Computed values in the form documents use."""

from __future__ import annotations

from typing import Any

from ..model import Kind
from ..pixels.colour import format_colour


def as_json(kind: Kind, value: Any) -> Any:
    """A computed value in the form documents use."""
    if kind is Kind.COLOUR:
        return format_colour(value)
    if kind is Kind.STOPS:
        return [[round(offset, 6), format_colour(colour)] for offset, colour in value]
    if kind is Kind.CURVE:
        return [[round(x, 6), round(y, 6)] for x, y in value]
    if kind is Kind.SPOTS:
        return [
            [round(x, 4), round(y, 4), round(soft, 4), format_colour(c)] for x, y, soft, c in value
        ]
    if kind is Kind.POINT:
        return [round(value[0], 6), round(value[1], 6)]
    if kind is Kind.NUMBER:
        return round(value, 6)
    return value
