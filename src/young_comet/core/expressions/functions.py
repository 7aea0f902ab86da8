"""The functions of expressions. Each gets the scope and checked arguments."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache
from typing import Any

from ..timing import clock_text, parse_easing
from .scope import Scope
from .values import ExpressionError, number, numbers, text

Function = Callable[..., Any]


@lru_cache(maxsize=65536)
def _random(seed: int, index: int) -> float:
    """A number in -1..1 for a seed and a place: the finaliser of SplitMix64 (Steele, Lea and
    Flood 2014) over both."""
    mask = 0xFFFFFFFFFFFFFFFF
    z = (index * 0x9E3779B97F4A7C15 + seed * 0xD1B54A32D192ED03 + 0x632BE59BD9B4E019) & mask
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & mask
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & mask
    z ^= z >> 31
    return z / 2**63 - 1.0


def drift(at_s: float, every_s: float, seed: int) -> float:
    """A smooth drift in about -1..1 that goes through a new random value every so many seconds:
    Catmull-Rom splines, so that its speed is continuous."""
    place = at_s / every_s
    if not abs(place) < 1e12:
        raise ExpressionError("sway's every is too small")
    index = math.floor(place)
    u = place - index
    a, b = _random(seed, index - 1), _random(seed, index)
    c, d = _random(seed, index + 1), _random(seed, index + 2)
    return b + 0.5 * u * (c - a + u * (2 * a - 5 * b + 4 * c - d + u * (3 * (b - c) + d - a)))


def sway(scope: Scope, amount: Any, every: Any = 1.0, seed: Any = 0.0) -> Any:
    """A drift of a number, or of each number of a list by itself."""
    every_s = number(every, "sway's every")
    if every_s <= 0:
        raise ExpressionError("sway's every must be more than 0 seconds")
    first = int(min(1e9, max(-1e9, number(seed, "sway's seed"))))
    if isinstance(amount, tuple):
        sizes = numbers(amount, "sway")
        return tuple(s * drift(scope.t, every_s, first + 7919 * i) for i, s in enumerate(sizes))
    return number(amount, "sway") * drift(scope.t, every_s, first)


def _of(scope: Scope, layer: Any, property_id: Any, at: Any = None) -> Any:
    when = None if at is None else number(at, "of's at")
    return scope.of(text(layer, "of"), text(property_id, "of"), when)


def _level(scope: Scope, layer: Any, low: Any = 20.0, high: Any = 20_000.0) -> float:
    """The loudness of a band of a layer's sound, 0 to 1 of the loudest it ever is there."""
    least, most = number(low, "level's low"), number(high, "level's high")
    if not 0 <= least < most:
        raise ExpressionError("level needs a low frequency and a higher one, in Hz")
    return scope.level(text(layer, "level"), least, most)


def _late(scope: Scope, seconds: Any) -> Any:
    return scope.late(number(seconds, "late"))


def _rate(scope: Scope, layer: Any, property_id: Any) -> Any:
    """Change per second: the difference over a hundredth of a second."""
    name, prop = text(layer, "rate"), text(property_id, "rate")
    h = 0.005
    before, after = scope.of(name, prop, scope.T - h), scope.of(name, prop, scope.T + h)
    if isinstance(before, tuple):
        pairs = zip(numbers(before, "rate"), numbers(after, "rate"), strict=True)
        return tuple((b - a) / (2 * h) for a, b in pairs)
    return (number(after, "rate") - number(before, "rate")) / (2 * h)


@lru_cache(maxsize=256)
def _easing(name: str) -> Any:
    try:
        return parse_easing(name)
    except Exception as error:
        raise ExpressionError(f"remap's ease: {error}") from error


def _remap(
    scope: Scope, x: Any, source: Any, goal: Any, ease: Any = "linear", clamp: Any = True
) -> Any:
    """A number from one span to another, by an easing."""
    a, b = _span(source)
    c, d = _span(goal)
    if a == b:
        raise ExpressionError("remap's first pair must be two different numbers")
    progress = (number(x, "remap") - a) / (b - a)
    inside = min(1.0, max(0.0, progress))
    eased = _easing(text(ease, "remap's ease")).at(inside)
    if not clamp:
        eased += progress - inside
    return c + (d - c) * eased


def _span(value: Any) -> tuple[float, float]:
    pair = numbers(value, "remap")
    if len(pair) != 2:
        raise ExpressionError("remap needs pairs such as (0, 1)")
    return pair[0], pair[1]


def _pulse(scope: Scope, every: Any, width: Any) -> float:
    """1 for some seconds, again every so many seconds; else 0."""
    period = number(every, "pulse")
    if period <= 0:
        raise ExpressionError("pulse's every must be more than 0 seconds")
    return 1.0 if scope.t % period < number(width, "pulse") else 0.0


def _pick(scope: Scope, items: Any, n: Any) -> Any:
    """The item of that number, counted from 0; beyond the last it starts again."""
    if not isinstance(items, tuple | str) or not items:
        raise ExpressionError("pick needs a list with something in it")
    index = number(n, "pick")
    if not math.isfinite(index):
        raise ExpressionError("pick needs a finite number")
    return items[math.floor(index) % len(items)]


def _clock(scope: Scope, seconds: Any, pattern: Any = "mm:ss:ff") -> str:
    """A time as a text: hh, mm, ss, ff stand for hours, minutes, seconds, frames; the largest
    of them that is there takes the rest. Negative times have a minus."""
    value, form = number(seconds, "clock"), text(pattern, "clock")
    if not abs(value) < 1e9 or len(form) > 100:
        raise ExpressionError("clock needs a shorter time or pattern")
    return clock_text(value, form, scope.fps)


def _least(scope: Scope, *items: Any) -> float:
    return min(_all_numbers("min", items))


def _most(scope: Scope, *items: Any) -> float:
    return max(_all_numbers("max", items))


def _all_numbers(name: str, items: tuple[Any, ...]) -> tuple[float, ...]:
    found = numbers(items[0], name) if len(items) == 1 and isinstance(items[0], tuple) else items
    if not found:
        raise ExpressionError(f"{name} needs at least one number")
    return tuple(number(each, name) for each in found)


def _each(name: str, one: Callable[[float], float]) -> Function:
    def apply(scope: Scope, x: Any) -> Any:
        try:
            if isinstance(x, tuple):
                return tuple(float(one(value)) for value in numbers(x, name))
            return float(one(number(x, name)))
        except (ValueError, OverflowError):
            raise ExpressionError(f"{name} has no result for this number") from None

    return apply


def _round(scope: Scope, x: Any, places: Any = 0.0) -> Any:
    digits = round(min(12.0, max(-12.0, number(places, "round"))))
    return _each("round", lambda value: round(value, digits))(scope, x)


def _mark(scope: Scope, name: Any) -> float:
    return scope.mark(text(name, "mark"))


def _begins(scope: Scope, name: Any) -> float:
    return scope.held(text(name, "begins"), end=False)


def _ends(scope: Scope, name: Any) -> float:
    return scope.held(text(name, "ends"), end=True)


def _sqrt(x: float) -> float:
    if x < 0:
        raise ExpressionError("a negative number has no square root")
    return math.sqrt(x)


def _log(x: float) -> float:
    if x <= 0:
        raise ExpressionError("only a number above 0 has a logarithm")
    return math.log(x)


def _clamp(scope: Scope, x: Any, low: Any, high: Any) -> Any:
    """Kept from a low to a high; of a list each number."""
    least, most = number(low, "clamp's low"), number(high, "clamp's high")
    if least > most:
        raise ExpressionError("clamp's low must not be above its high")
    return _each("clamp", lambda value: min(most, max(least, value)))(scope, x)


def _noise(scope: Scope, place: Any, seed: Any = 0.0) -> float:
    """A smooth drift in about -1..1 over a number, or over the two of a point."""
    first = _seed("noise", seed)
    if not isinstance(place, tuple):
        return drift(number(place, "noise"), 1.0, first)
    pair = numbers(place, "noise")
    if len(pair) != 2:
        raise ExpressionError("noise goes over a number or a point")
    # Along y from row to row of drifts along x, by the same splines.
    if not abs(pair[1]) < 1e12:
        raise ExpressionError("noise's place is too far away")
    row = math.floor(pair[1])
    u = pair[1] - row
    a, b, c, d = (drift(pair[0], 1.0, first + 7919 * (row + k)) for k in (-1, 0, 1, 2))
    return b + 0.5 * u * (c - a + u * (2 * a - 5 * b + 4 * c - d + u * (3 * (b - c) + d - a)))


def _chance(scope: Scope, seed: Any, low: Any = 0.0, high: Any = 1.0) -> float:
    """The same number for the same seed, from a low to a high; seeds count as whole numbers."""
    least, most = number(low, "random's low"), number(high, "random's high")
    return least + (most - least) * (_random(_seed("random", seed), 0) + 1) / 2


def _seed(name: str, seed: Any) -> int:
    return math.floor(min(1e9, max(-1e9, number(seed, f"{name}'s seed"))))


def _step(scope: Scope, edge: Any, x: Any, soft: Any = 0.0) -> Any:
    """0 below an edge, 1 from it on; over ``soft`` about the edge it rises smoothly (3u^2 - 2u^3,
    as smoothstep in the OpenGL Shading Language, 8.3)."""
    at, wide = number(edge, "step's edge"), abs(number(soft, "step's soft"))

    def one(value: float) -> float:
        if wide == 0:
            return 1.0 if value >= at else 0.0
        u = min(1.0, max(0.0, (value - at) / wide + 0.5))
        return u * u * (3 - 2 * u)

    return _each("step", one)(scope, x)


def _mod(scope: Scope, x: Any, by: Any) -> Any:
    """What is left of a division, with the sign of what is divided by: it goes round."""
    size = number(by, "mod")
    if size == 0:
        raise ExpressionError("mod cannot divide by 0")
    return _each("mod", lambda value: value % size)(scope, x)


def _long(scope: Scope, vector: Any) -> float:
    """How long a vector is, or how far a point is from (0, 0)."""
    return math.hypot(*numbers(vector, "norm"))


def _angle(scope: Scope, vector: Any) -> float:
    """The direction of a vector in degrees, clockwise from the right."""
    pair = numbers(vector, "angle")
    if len(pair) < 2:
        raise ExpressionError("angle needs a vector such as (3, 4)")
    return math.degrees(math.atan2(pair[1], pair[0]))


# name -> function, fewest and most arguments, names of those that may be given by name
FUNCTIONS: dict[str, tuple[Function, int, int, tuple[str, ...]]] = {
    "sway": (sway, 1, 3, ("amount", "every", "seed")),
    "of": (_of, 2, 3, ("layer", "property_id", "at")),
    "level": (_level, 1, 3, ("layer", "low", "high")),
    "late": (_late, 1, 1, ("seconds",)),
    "rate": (_rate, 2, 2, ()),
    "remap": (_remap, 3, 5, ("x", "source", "goal", "ease", "clamp")),
    "pulse": (_pulse, 2, 2, ("every", "width")),
    "pick": (_pick, 2, 2, ()),
    "clock": (_clock, 1, 2, ()),
    "mark": (_mark, 1, 1, ()),
    "begins": (_begins, 1, 1, ()),
    "ends": (_ends, 1, 1, ()),
    "min": (_least, 1, 64, ()),
    "max": (_most, 1, 64, ()),
    "abs": (_each("abs", abs), 1, 1, ()),
    "round": (_round, 1, 2, ()),
    "sin": (_each("sin", lambda a: math.sin(math.radians(a))), 1, 1, ()),
    "cos": (_each("cos", lambda a: math.cos(math.radians(a))), 1, 1, ()),
    "tan": (_each("tan", lambda a: math.tan(math.radians(a))), 1, 1, ()),
    "sqrt": (_each("sqrt", _sqrt), 1, 1, ()),
    "floor": (_each("floor", math.floor), 1, 1, ()),
    "ceil": (_each("ceil", math.ceil), 1, 1, ()),
    "clamp": (_clamp, 3, 3, ("x", "low", "high")),
    "step": (_step, 2, 3, ("edge", "x", "soft")),
    "mod": (_mod, 2, 2, ()),
    "sign": (_each("sign", lambda a: (a > 0) - (a < 0)), 1, 1, ()),
    "exp": (_each("exp", math.exp), 1, 1, ()),
    "log": (_each("log", _log), 1, 1, ()),
    "noise": (_noise, 1, 2, ("place", "seed")),
    "random": (_chance, 1, 3, ("seed", "low", "high")),
    "norm": (_long, 1, 1, ()),
    "angle": (_angle, 1, 1, ()),
}

FUNCTION_HELP: dict[str, tuple[str, str]] = {
    "sway": ("sway(10, every=1.0, seed=0)", "drifts smoothly by up to 10, a new way each second"),
    "of": ('of("Layer", "position", at=T)', "another layer's property"),
    "level": (
        'level("Layer", 20, 20000)',
        "how loud its sound is, 0 to 1, from a low to a high Hz; (20, 120) is the kick",
    ),
    "late": ("late(0.5)", "what this property's keys gave half a second ago"),
    "rate": ('rate("Layer", "position")', "how fast it changes, per second"),
    "remap": ('remap(x, (0, 1), (0, 100), ease="linear", clamp=True)', "from one span to another"),
    "pulse": ("pulse(1, 0.2)", "1 for 0.2 seconds in every second, else 0"),
    "pick": ("pick([a, b, c], n)", "one of a list, going round"),
    "clock": ('clock(t, "mm:ss:ff")', "a time as a text"),
    "mark": ('mark("hit")', "the second at which a mark stands"),
    "begins": ('begins("Hold")', "the second at which an arrangement begins to hold"),
    "ends": ('ends("Hold")', "the second at which an arrangement ends to hold"),
    "min": ("min(a, b)", "the least"),
    "max": ("max(a, b)", "the most"),
    "abs": ("abs(x)", "without its sign"),
    "round": ("round(x, 2)", "rounded"),
    "sin": ("sin(90 * t)", "sine of degrees"),
    "cos": ("cos(90 * t)", "cosine of degrees"),
    "tan": ("tan(45)", "tangent of degrees"),
    "sqrt": ("sqrt(x)", "square root"),
    "floor": ("floor(x)", "the whole number below"),
    "ceil": ("ceil(x)", "the whole number above"),
    "clamp": ("clamp(x, 0, 100)", "kept from a low to a high"),
    "step": ("step(2, t, soft=0.5)", "0 before 2, 1 after it, rising over half a second"),
    "mod": ("mod(90 * t, 360)", "what a division leaves: it goes round"),
    "sign": ("sign(x)", "-1, 0 or 1"),
    "exp": ("exp(-3 * t)", "e to the power of x: decays and grows"),
    "log": ("log(x)", "the natural logarithm"),
    "noise": ("noise(2 * t, seed=1)", "a smooth chance in -1 to 1 over a number or a point"),
    "random": ("random(nth, 0, 100)", "a chance from 0 to 100, the same for the same seed"),
    "norm": ("norm((3, 4))", "how long a vector is"),
    "angle": ("angle((3, 4))", "its direction in degrees"),
}

NAME_HELP: dict[str, str] = {
    "keyed": "what this property's own value or keys give",
    "t": "seconds since the layer's start",
    "T": "seconds in the scene",
    "frame": "number of the frame",
    "fps": "frames a second",
    "length": "seconds that the layer is on",
    "nth": "which of its copies or letters this is, from 0",
    "count": "how many copies or letters there are",
    "pi": "3.14159…",
}
