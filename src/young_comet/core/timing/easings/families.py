"""The usual named families, each as -in, -out and -in-out.

The formulas are those in common use for animation: powers, sine, exponential, circle, back
(Penner's s t^2 ((s + 1) t - s)), elastic and bounce. ``expo`` is shifted so that it starts at
exactly 0. ``-out`` is 1 - in(1 - t); ``-in-out`` two halves of half size.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from ....errors import DocumentError
from .base import Easing, Handles, is_finite, number_text

Curve = Callable[[float], float]


def _expo(t: float) -> float:
    return (2 ** (10 * t) - 1) / 1023


def _circ(t: float) -> float:
    return 1 - math.sqrt(max(0.0, 1 - t * t))


def _sine(t: float) -> float:
    return 1 - math.cos(t * math.pi / 2)


def _power(n: int) -> Curve:
    return lambda t: t**n


@lru_cache(maxsize=512)
def back_strength(overshoot: float) -> float:
    """Penner's s for a back that swings out by a fraction of the way.

    t^2 ((s + 1) t - s) is least at t = 2 s / (3 (s + 1)), by 4 s^3 / (27 (s + 1)^2); that is
    solved for s by halving. 0.1 gives the customary 1.70158.
    """
    low, high = 0.0, 50.0
    for _ in range(60):
        s = (low + high) / 2
        if 4 * s**3 / (27 * (s + 1) ** 2) < overshoot:
            low = s
        else:
            high = s
    return (low + high) / 2


def _back(overshoot: float) -> Curve:
    s = back_strength(overshoot)
    return lambda t: t * t * ((s + 1) * t - s)


def _elastic(amplitude: float, period: float) -> Curve:
    shift = period / (2 * math.pi) * math.asin(1 / amplitude)

    def curve(t: float) -> float:
        if t <= 0:
            return 0.0
        wave = math.sin((t - 1 - shift) * 2 * math.pi / period)
        return -amplitude * 2 ** (10 * (t - 1)) * wave

    return curve


# So often it comes up again before it lies still.
_BOUNCES = 3


def _bounce(restitution: float) -> Curve:
    """A fall in free flight that keeps a share of its speed at each touch: every flight takes
    2 r^n falls and rises to r^(2 n) of the height. With a half it is Penner's bounce."""
    whole = 1 + 2 * sum(restitution**n for n in range(1, _BOUNCES + 1))

    def curve(t: float) -> float:
        since = (1 - t) * whole
        if since <= 1:
            return 1 - since * since
        since -= 1
        for n in range(1, _BOUNCES + 1):
            half = restitution**n
            if since <= 2 * half:
                return half * half - (since - half) ** 2
            since -= 2 * half
        return 0.0

    return curve


@dataclass(frozen=True, slots=True)
class FamilyParameter:
    """One number in the parentheses of a family."""

    label: str
    default: float
    minimum: float
    maximum: float


# family -> (curve from parameters, parameters)
FAMILIES: dict[str, tuple[Callable[..., Curve], tuple[FamilyParameter, ...]]] = {
    "sine": (lambda: _sine, ()),
    "quad": (lambda: _power(2), ()),
    "cubic": (lambda: _power(3), ()),
    "quart": (lambda: _power(4), ()),
    "quint": (lambda: _power(5), ()),
    "expo": (lambda: _expo, ()),
    "circ": (lambda: _circ, ()),
    "back": (_back, (FamilyParameter("Overshoot", 0.1, 0.0, 5.0),)),
    "elastic": (
        _elastic,
        (FamilyParameter("Amplitude", 1.0, 1.0, 10.0), FamilyParameter("Period", 0.3, 0.02, 4.0)),
    ),
    "bounce": (_bounce, (FamilyParameter("Restitution", 0.5, 0.0, 0.95),)),
}
MODES = ("in", "out", "in-out")
_BACK = {"in": "out", "out": "in", "in-out": "in-out"}

# Powers up to the third are cubic Beziers exactly.
_EXACT: dict[tuple[str, str], Handles] = {
    ("quad", "in"): (1 / 3, 0.0, 2 / 3, 1 / 3),
    ("quad", "out"): (1 / 3, 2 / 3, 2 / 3, 1.0),
    ("cubic", "in"): (1 / 3, 0.0, 2 / 3, 0.0),
    ("cubic", "out"): (1 / 3, 1.0, 2 / 3, 1.0),
}


@dataclass(frozen=True, slots=True)
class Family(Easing):
    """A member such as sine-in-out or back-out(0.2)."""

    family: str
    mode: str
    parameters: tuple[float, ...] = ()

    def __post_init__(self) -> None:
        declared = FAMILIES[self.family][1]
        given = self.parameters
        if len(given) > len(declared) or not is_finite(*given):
            names = ", ".join(p.label.lower() for p in declared) or "no numbers"
            raise DocumentError.expected("easing", f"{self.family}-{self.mode} with {names}", given)
        whole = (*given, *(p.default for p in declared[len(given) :]))
        for parameter, value in zip(declared, whole, strict=True):
            if not parameter.minimum <= value <= parameter.maximum:
                limits = f"{parameter.label.lower()} from {parameter.minimum:g}"
                raise DocumentError.expected("easing", f"{limits} to {parameter.maximum:g}", value)
        object.__setattr__(self, "parameters", whole)

    @property
    def text(self) -> str:
        name = f"{self.family}-{self.mode}"
        if not self.parameters:
            return name
        return f"{name}({', '.join(number_text(value) for value in self.parameters)})"

    def at(self, progress: float, duration_s: float = 1.0) -> float:
        if progress <= 0.0:
            return 0.0
        if progress >= 1.0:
            return 1.0
        curve = _curve(self.family, self.parameters)
        if self.mode == "in":
            return curve(progress)
        if self.mode == "out":
            return 1 - curve(1 - progress)
        if progress < 0.5:
            return curve(2 * progress) / 2
        return 1 - curve(2 - 2 * progress) / 2

    @property
    def handles(self) -> Handles | None:
        return _EXACT.get((self.family, self.mode))

    @property
    def tail(self) -> str:
        return "wavy" if self.family in ("elastic", "bounce") else "soft"

    def reversed(self) -> Easing:
        return Family(self.family, _BACK[self.mode], self.parameters)


@lru_cache(maxsize=512)
def _curve(family: str, parameters: tuple[float, ...]) -> Curve:
    return FAMILIES[family][0](*parameters)


def family_names() -> tuple[str, ...]:
    """sine-in, sine-out, sine-in-out, quad-in, ..."""
    return tuple(f"{family}-{mode}" for family in FAMILIES for mode in MODES)
