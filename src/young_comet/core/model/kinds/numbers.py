"""Numbers and points."""

from __future__ import annotations

import math
from typing import Any

from ....errors import DocumentError
from .base import Kind, Limits


def checked_number(spec: Limits, value: Any, field: str) -> float:
    """A finite number within a declaration's limits."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise DocumentError.expected(field, "a finite number", value)
    low, high = spec.minimum, spec.maximum
    if (low is not None and value < low) or (high is not None and value > high):
        limits = f"a number from {_plain(low)} to {_plain(high)}{spec.unit}"
        raise DocumentError.expected(field, limits, value)
    # With nothing added to it -0.0 is 0.0: equal numbers are equal texts.
    return (float(round(value)) if spec.whole else float(value)) + 0.0


def _plain(limit: float | None) -> str:
    return "any" if limit is None else f"{limit:,.10g}"


def worked_out(value: Any, where: str) -> float:
    """A finite number that an expression gave."""
    if isinstance(value, bool | int | float):
        if not math.isfinite(value):
            raise DocumentError("the result is not a finite number")
        return float(value)
    raise DocumentError(f"{where} needs a number, not {what(value)}")


def what(value: Any) -> str:
    """The type of an expression's value in plain words."""
    if isinstance(value, bool):
        return "a yes or no"
    if isinstance(value, int | float):
        return "a number"
    return "a text" if isinstance(value, str) else "a list"


def _limited(value: float, spec: Limits) -> float:
    if spec.minimum is not None:
        value = max(spec.minimum, value)
    if spec.maximum is not None:
        value = min(spec.maximum, value)
    return float(round(value)) if spec.whole else value


def _short(value: float, unit: str) -> str:
    text = f"{round(value, 2):g}" if abs(value) < 1e6 else f"{value:.6g}"
    return f"{text} {unit}" if unit and unit != "°" else text + unit


class Number(Kind):
    """A number."""

    id = "number"
    mixes = reckoned = True
    course = "curves"

    def check(self, spec: Limits, value: Any, field: str) -> float:
        return checked_number(spec, value, field)

    def to_json(self, value: Any) -> Any:
        return round(float(value), 6)

    def mix(self, a: Any, b: Any, amount: float) -> Any:
        return a + (b - a) * amount

    def step(self, a: Any, b: Any) -> tuple[float, ...]:
        return (b - a,)

    def add_step(self, value: Any, way: tuple[float, ...], times: float) -> Any:
        return value + way[0] * times

    def coordinates(self, value: Any) -> list[float]:
        return [value]

    def said(self, value: Any, spec: Limits) -> str:
        return _short(value, spec.unit)

    def from_expression(self, value: Any, spec: Limits) -> float:
        return _limited(worked_out(value, "the result"), spec)


class PointKind(Kind):
    """A point ``[x, y]``."""

    id = "point"
    mixes = reckoned = True
    course = "curves"

    def check(self, spec: Limits, value: Any, field: str) -> tuple[float, ...]:
        if not isinstance(value, list | tuple) or len(value) != 2:
            raise DocumentError.expected(field, "two numbers [x, y]", value)
        return tuple(checked_number(spec, part, field) for part in value)

    def to_json(self, value: Any) -> Any:
        return [round(float(value[0]), 6), round(float(value[1]), 6)]

    def mix(self, a: Any, b: Any, amount: float) -> Any:
        return (a[0] + (b[0] - a[0]) * amount, a[1] + (b[1] - a[1]) * amount)

    def step(self, a: Any, b: Any) -> tuple[float, ...]:
        return (b[0] - a[0], b[1] - a[1])

    def add_step(self, value: Any, way: tuple[float, ...], times: float) -> Any:
        return (value[0] + way[0] * times, value[1] + way[1] * times)

    def coordinates(self, value: Any) -> list[float]:
        return list(value)

    def said(self, value: Any, spec: Limits) -> str:
        return f"{_short(value[0], '')}, {_short(value[1], spec.unit)}"

    def from_expression(self, value: Any, spec: Limits) -> tuple[float, ...]:
        """A single number serves both coordinates."""
        pair = value if isinstance(value, tuple) else (value, value)
        if len(pair) != 2:
            raise DocumentError(f"a point needs two numbers, not {len(pair)}")
        return tuple(_limited(worked_out(each, "the result"), spec) for each in pair)
