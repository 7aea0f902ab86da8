"""Paths and tone curves."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from ....errors import DocumentError
from ...geometry.contours import parse_contours
from ...geometry.morph import morph
from ...pixels.tone import curve_table
from .base import Kind, Limits
from .colours import MAX_STOPS, check_numbers

MAX_PATH = 400_000

Curve = tuple[tuple[float, float], ...]


class PathKind(Kind):
    """A path as SVG path data."""

    id = "path"
    mixes = True

    def check(self, spec: Limits, value: Any, field: str) -> str:
        if not isinstance(value, str):
            raise DocumentError.expected(field, "a text", value)
        if len(value) > MAX_PATH:
            raise DocumentError(f"expected at most {MAX_PATH} characters", field=field)
        try:
            parse_contours(value)
        except DocumentError as error:
            raise DocumentError(str(error).removeprefix("path: "), field=field) from error
        return value

    def mix(self, a: Any, b: Any, amount: float) -> Any:
        return morph(a, b, amount)


class CurveKind(Kind):
    """A curve as points ``[[x, y], ...]`` in 0..1 with rising x."""

    id = "curve"
    mixes = True

    def check(self, spec: Limits, value: Any, field: str) -> Curve:
        return check_curve(value, field)

    def to_json(self, value: Any) -> Any:
        return [[round(x, 6), round(y, 6)] for x, y in value]

    def mix(self, a: Curve, b: Curve, amount: float) -> Curve:
        """Points mixed one by one; where their numbers differ, both are read at the places of
        either's points first."""
        amount = min(1.0, max(0.0, amount))
        if amount in (0.0, 1.0):
            return b if amount else a
        if len(a) != len(b):
            places = sorted({round(x, 4) for x, _ in (*a, *b)})
            places = [x for i, x in enumerate(places) if not i or x - places[i - 1] >= 1e-3]
            a, b = _read_at(a, places), _read_at(b, places)
        return tuple(
            (x + (u - x) * amount, y + (v - y) * amount)
            for (x, y), (u, v) in zip(a, b, strict=True)
        )


def check_curve(value: Any, field: str) -> Curve:
    """The points of a tone curve in canonical form, or DocumentError."""
    what = f"2 to {MAX_STOPS} points [x, y] in 0 to 1 with rising x"
    fine = isinstance(value, list | tuple) and 2 <= len(value) <= MAX_STOPS
    if not fine or any(not isinstance(p, list | tuple) or len(p) != 2 for p in value):
        raise DocumentError.expected(field, what, value)
    for point in value:
        check_numbers(point, 2, field, what)
        if not all(0 <= part <= 1 for part in point):
            raise DocumentError.expected(field, what, point)
    if any(b[0] - a[0] < 1e-4 for a, b in pairwise(value)):
        raise DocumentError.expected(field, what, value)
    return tuple((float(x), float(y)) for x, y in value)


def _read_at(curve: Curve, places: list[float]) -> Curve:
    table = curve_table(curve)
    return tuple((x, float(table[round(x * 255)])) for x in places)
