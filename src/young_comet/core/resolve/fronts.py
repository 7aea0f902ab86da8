"""What fronts do to the units of a text that they have not reached."""

from __future__ import annotations

from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np

from ..catalog import FRONTS
from ..frame.contents import TextContent, UnitLook
from ..geometry.affine import Point
from ..geometry.trail import trail
from ..moves import POINTS, Pose, Wipe
from ..pixels.colour import Rgba, mix
from ..timing.chance import chance, lit
from ..timing.spread import reached
from .context import Resolver
from .letter_units import ranges_of, reached_at
from .letter_ways import Found, OnItsWay, SetOtherwise
from .values import LayerValues


def fronted(evaluator: Resolver, v: LayerValues, content: TextContent, found: Found) -> None:
    """Adds what the fronts of a text do to its units at a moment to what was ``found``."""
    for front in v.layer.fronts:
        if not front.on:
            continue
        progress = v(FRONTS.prefix(front.id) + "progress") / 100
        if progress >= 1:
            continue
        params = v.own(FRONTS, front)
        found.cursor = found.cursor or params["cursor"]
        pairs = (params["offset"], params["scale"], params["skew"], params["apart"])
        poses = any(params[name] for name in _POSED) or any(any(pair) for pair in pairs)
        by = params["by"]
        ranges = ranges_of(evaluator, content, by)
        at = reached_at(evaluator, content, ranges, params)
        profile = evaluator.easing(params["profile"])
        sets = any(params[name] for name in _RESET)
        width, seed, rate = params["width"], round(params["seed"]), params["flicker"]
        for nth, (span, rank) in enumerate(zip(ranges, at, strict=True)):
            share = reached(progress, rank, len(ranges), width)
            away = 1 - profile.at(share, 1.0)
            if away and not (rate and lit(seed, nth, rate, v.local_s, share)):
                if sets:
                    _resize(found.set.setdefault(span, SetOtherwise()), away, params)
                if poses:
                    _displace(found.unit(by, span), away, params, _sides(nth, seed, params))
                if params["box"]:
                    grown = min(1.0, max(0.0, 1 + away * params["box"] / 100))
                    found.boxes[span] = found.boxes.get(span, 1.0) * grown


_RESET = ("weight", "width-axis", "slant", "tracking", "raised", "size")
_POSED = (
    "rotation", "tilt", "turn", "opacity", "blur", "fill", "tint", "outline", "others", "wiped",
    "undrawn", "way",
)  # fmt: skip


def _resize(own: SetOtherwise, away: float, params: dict[str, Any]) -> None:
    """Letters that are so far (0..1, beyond where they overshoot) from rest, set otherwise."""
    own.weight += away * params["weight"]
    own.width += away * params["width-axis"]
    own.slant += away * params["slant"]
    own.tracking += away * params["tracking"]
    own.raised += away * params["raised"]
    own.size *= max(0.0, 1 + away * params["size"] / 100)


class _Sides(NamedTuple):
    """To which side a unit is displaced, and how far: 1 as its front says, -1 the other way."""

    x: float
    y: float
    rotation: float
    skew: float
    tilt: float
    turn: float
    apart: float


_AS_SAID, _OPPOSITE = _Sides(*[1.0] * 7), _Sides(*[-1.0] * 7)


def _sides(nth: int, seed: int, params: dict[str, Any]) -> _Sides:
    side = -1.0 if params["opposite"] and nth % 2 else 1.0
    own = params["chance"] / 100
    if not own:
        return _AS_SAID if side > 0 else _OPPOSITE
    return _Sides(*(side * (1 - own + own * each) for each in _by_chance(nth, seed)))


@lru_cache(maxsize=8192)
def _by_chance(nth: int, seed: int) -> tuple[float, ...]:
    """Seven numbers of -1 to 1 for a unit, beyond those by which units flicker."""
    return tuple(2 * chance(seed, 7 * nth + k - 1e5) - 1 for k in range(7))


def _displace(unit: OnItsWay, away: float, params: dict[str, Any], sides: _Sides) -> None:
    """A unit that is so far from rest."""
    pairs = (params["offset"], params["scale"], params["skew"])
    (dx, dy), (sx, sy), (kx, ky) = pairs
    # Of several fronts the first that turns about an edge says which.
    edge = POINTS.get(params["pivot"], POINTS["middle"])
    unit.pose = unit.pose.then(
        Pose(
            offset=(away * sides.x * dx, away * sides.y * dy),
            rotation_deg=away * sides.rotation * params["rotation"],
            scale=(max(0.0, 1 + away * sx / 100), max(0.0, 1 + away * sy / 100)),
            opacity=min(1.0, max(0.0, 1 + away * params["opacity"] / 100)),
            tilt_deg=away * sides.tilt * params["tilt"],
            turn_deg=away * sides.turn * params["turn"],
            pivot=edge if unit.pose.pivot == POINTS["middle"] else POINTS["middle"],
            scrambled=min(1.0, max(0.0, away * params["others"] / 100)),
        )
    )
    if params["way"]:
        x, y = _on_its_way(params["way"], away)
        unit.pose = unit.pose.then(Pose(offset=(sides.x * x, sides.y * y)))
    lean = away * sides.skew
    unit.skew = (unit.skew[0] + lean * kx, unit.skew[1] + lean * ky)
    if params["pivot"] not in POINTS:
        unit.pivot = params["pivot"]
    if params["seen"] != "everywhere":
        unit.seen = params["seen"]
    if away * params["wiped"] > 0:
        shown = max(0.0, 1 - away * params["wiped"] / 100)
        unit.wipe = Wipe(params["wipe"], shown, params["wipe-angle"], params["wipe-soft"])
    unit.look = _look(unit.look, away, params, sides.apart)


def _on_its_way(path: str, away: float) -> Point:
    """How far from its end one is on a path that is so far from there; beyond, where it overshoots,
    straight on."""
    way = trail(path)
    if way.is_empty:
        return (0.0, 0.0)
    ends, _ = way.at(np.array([way.length * (1 - away), way.length]))
    x, y = ends[0] - ends[1]
    return (float(x), float(y))


def _look(look: UnitLook, away: float, params: dict[str, Any], side: float) -> UnitLook:
    blur, tint = max(0.0, away * params["blur"]), min(1.0, max(0.0, away * params["tint"] / 100))
    fill = min(1.0, max(0.0, 1 + away * params["fill"] / 100))
    outline = away * params["outline"]
    undrawn = min(1.0, max(0.0, away * params["undrawn"] / 100))
    ax, ay = params["apart"]
    apart = (side * away * ax, side * away * ay)
    if not (blur or tint or outline or undrawn or any(apart)) and fill == 1:
        return look
    colour: Rgba = params["colour"]
    whole = 1 - (1 - look.tinted) * (1 - tint)
    mixed = mix(look.tint, colour, tint / whole) if whole and look.tinted else colour
    return UnitLook(
        mixed, whole, look.filled * fill, look.wider_px + outline,
        (look.blur_px**2 + blur**2) ** 0.5, look.drawn * (1 - undrawn),
        (look.apart[0] + apart[0], look.apart[1] + apart[1]),
    )  # fmt: skip
