"""Values between two values, and values as vectors."""

from __future__ import annotations

from typing import Any

from ..geometry.morph import morph
from ..pixels.colour import Rgba, mix
from ..pixels.tone import curve_table
from .specs import Kind

Stops = tuple[tuple[float, Rgba], ...]
Curve = tuple[tuple[float, float], ...]
Spots = tuple[tuple[float, float, float, Rgba], ...]


def mix_values(kind: Kind, a: Any, b: Any, amount: float) -> Any:
    """``a`` at 0, ``b`` at 1, beyond the two outside 0..1 (colours and stops are clamped)."""
    if kind is Kind.NUMBER:
        return a + (b - a) * amount
    if kind is Kind.POINT:
        return (a[0] + (b[0] - a[0]) * amount, a[1] + (b[1] - a[1]) * amount)
    if kind is Kind.COLOUR:
        return mix(a, b, amount)
    if kind is Kind.STOPS:
        return mix_stops(a, b, amount)
    if kind is Kind.PATH:
        return morph(a, b, amount)
    if kind is Kind.CURVE:
        return mix_curves(a, b, amount)
    if kind is Kind.SPOTS:
        return mix_spots(a, b, amount)
    return a


def mix_curves(a: Curve, b: Curve, amount: float) -> Curve:
    """Points of two curves mixed one by one; where their numbers differ, both are read at the
    places of either's points first."""
    amount = min(1.0, max(0.0, amount))
    if amount in (0.0, 1.0):
        return b if amount else a
    if len(a) != len(b):
        places = sorted({round(x, 4) for x, _ in (*a, *b)})
        places = [x for i, x in enumerate(places) if not i or x - places[i - 1] >= 1e-3]
        a, b = _read_at(a, places), _read_at(b, places)
    return tuple(
        (x + (u - x) * amount, y + (v - y) * amount) for (x, y), (u, v) in zip(a, b, strict=True)
    )


def _read_at(curve: Curve, places: list[float]) -> Curve:
    table = curve_table(curve)
    return tuple((x, float(table[round(x * 255)])) for x in places)


def mix_spots(a: Spots, b: Spots, amount: float) -> Spots:
    """Colour points mixed one by one; a list that is shorter repeats its last one."""
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


def mix_stops(a: Stops, b: Stops, amount: float) -> Stops:
    """Gradient stops mixed one by one; a list that is shorter repeats its last stop."""
    count = max(len(a), len(b))
    a += (a[-1],) * (count - len(a))
    b += (b[-1],) * (count - len(b))
    return tuple(
        (min(1.0, max(0.0, p + (q - p) * amount)), mix(c, d, amount))
        for (p, c), (q, d) in zip(a, b, strict=True)
    )


def step(kind: Kind, a: Any, b: Any) -> tuple[float, ...]:
    """The way from one value to another as a vector, in the kind's own units; () for kinds
    without values in between. Colours count premultiplied."""
    if kind is Kind.NUMBER:
        return (b - a,)
    if kind is Kind.POINT:
        return (b[0] - a[0], b[1] - a[1])
    if kind is Kind.COLOUR:
        return tuple(q - p for p, q in zip(_premultiplied(a), _premultiplied(b), strict=True))
    if kind is Kind.STOPS:
        count = min(len(a), len(b))
        parts: list[float] = []
        for (p, c), (q, d) in zip(a[:count], b[:count], strict=True):
            parts += [q - p, *step(Kind.COLOUR, c, d)]
        return tuple(parts)
    return ()


def add_step(kind: Kind, value: Any, way: tuple[float, ...], times: float) -> Any:
    """A number or point moved on by a step some times; other kinds stay."""
    if kind is Kind.NUMBER:
        return value + way[0] * times
    if kind is Kind.POINT:
        return (value[0] + way[0] * times, value[1] + way[1] * times)
    return value


def _premultiplied(c: Rgba) -> Rgba:
    return (c[0] * c[3], c[1] * c[3], c[2] * c[3], c[3])
