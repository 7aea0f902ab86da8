"""Moves of what is there: they go on between arriving and leaving."""

from __future__ import annotations

import math
from dataclasses import replace

from ..expressions.functions import drift
from ..model.specs import PropertySpec, where
from .base import (
    PLACED,
    REST,
    SEED,
    SHOWN,
    STRENGTH,
    Moment,
    MoveKind,
    Params,
    Pose,
    choice,
    flag,
    number,
    percent,
)
from .tempo import tempo_specs

DWELL = ("dwell",)
# Two frames of a film.
_ATTACK_S = 2 / 25


def _strength(params: Params, k: float) -> float:
    result: float = k * params["strength"] / 100
    return result


def _wander(k: float, params: Params, m: Moment) -> Pose:
    far, every = params["distance"] * _strength(params, k), params["every"]
    seed = round(params["seed"]) + 101 * m.nth
    return Pose(
        offset=(far * drift(m.time_s, every, seed), far * drift(m.time_s, every, seed + 1)),
        rotation_deg=params["turn"] * _strength(params, k) * drift(m.time_s, every, seed + 2),
    )


def _sway(k: float, params: Params, m: Moment) -> Pose:
    phase = 360 * m.time_s / params["every"]
    return Pose(rotation_deg=params["angle"] * _strength(params, k) * math.sin(math.radians(phase)))


def _swell(k: float, params: Params, m: Moment) -> Pose:
    phase = 360 * m.time_s / params["every"]
    s = 1 + params["by"] / 100 * _strength(params, k) * (1 - math.cos(math.radians(phase))) / 2
    return Pose(scale=(s, s))


def _pulse(k: float, params: Params, m: Moment) -> Pose:
    """A short beat, on a rate or on the scene's marks."""
    struck = _since(params, m)
    if struck is None:
        return REST
    s = 1 + params["by"] / 100 * _strength(params, k) * _beat(struck, params)
    return Pose(scale=(s, s))


def _since(params: Params, m: Moment) -> float | None:
    """Seconds since what moves was struck last; None where it has not been yet. By turns every
    beat strikes the next unit only."""
    turns = m.count if params["turns"] and m.count > 1 else 1
    if params["on"] == "marks":
        past = [beat for n, beat in enumerate(m.beats) if n % turns == m.nth % turns]
        return min((m.time_s - beat for beat in past if beat <= m.time_s), default=None)
    since = m.time_s - (m.nth % turns) * params["every"]
    return None if since < 0 else since % (params["every"] * turns)


def _beat(since: float, params: Params) -> float:
    """A beat's course: up within two frames, and down by its fall time."""
    attack = min(1.0, since / _ATTACK_S)
    return attack * math.exp(-max(0.0, since - _ATTACK_S) / max(0.02, params["fall"]))


def _push(k: float, params: Params, m: Moment) -> Pose:
    """Slowly nearer all the while, whatever the envelope: it never falls back."""
    share = m.time_s / max(1e-6, m.length_s)
    s = 1 + params["by"] / 100 * params["strength"] / 100 * share
    return Pose(scale=(s, s))


def _float(k: float, params: Params, m: Moment) -> Pose:
    phase = math.radians(360 * m.time_s / params["every"])
    far = params["distance"] * _strength(params, k)
    return Pose(
        offset=(0.3 * far * math.sin(phase / 2), far * math.sin(phase)),
        rotation_deg=0.04 * far * math.sin(phase + 1),
    )


def _shake(k: float, params: Params, m: Moment) -> Pose:
    far, every = params["distance"] * _strength(params, k), 1 / params["rate"]
    seed = round(params["seed"]) + 101 * m.nth
    return Pose(
        offset=(far * drift(m.time_s, every, seed), far * drift(m.time_s, every, seed + 1)),
        rotation_deg=0.06 * far * drift(m.time_s, every, seed + 2),
    )


def _glint(k: float, params: Params, m: Moment) -> Pose:
    into = m.time_s % params["every"]
    share = into / min(params["every"], params["takes"])
    return Pose(glint=share if share < 1 else None)


def _blink(k: float, params: Params, m: Moment) -> Pose:
    on = (m.time_s % params["every"]) < params["every"] * params["lit"] / 100
    low = 1 - (1 - params["dark"] / 100) * k
    return Pose(opacity=1.0 if on else low)


_EVERY = number(
    "every", "Period", 3, "s", 0.05, 600, step=0.1, decimals=2, help="From one round to the next"
)
_EVERY_SECOND = replace(_EVERY, default=1.0)


def _spread(lag_s: float = 0.1) -> tuple[PropertySpec, ...]:
    """Over what a move that dwells goes, each unit so much later than the one before."""
    over, order = (spec for spec in tempo_specs("whole", 0) if spec.id in _SPREAD)
    lag = number(
        "spread.lag", "Lag", lag_s, "s", -60, 60, step=0.02, decimals=2,
        help="How much later the next one does the same",
    )  # fmt: skip
    return over, replace(lag, shown_when=where("spread.over", besides=("whole",))), order


_SPREAD = ("spread.over", "spread.order")

DWELLING = (
    MoveKind(
        "wander",
        "Wander",
        DWELL,
        "Drifts about its place.",
        (
            number(
                "distance",
                "Distance",
                10,
                "px",
                0,
                4000,
                help="How far from its place it goes at most",
            ),
            number("turn", "Turning angle", 0.6, "°", 0, 360, help="How far it turns at most"),
            _EVERY,
            STRENGTH,
            SEED,
            *_spread(),
        ),
        _wander,
        fits=PLACED,
    ),
    MoveKind(
        "sway",
        "Sway",
        DWELL,
        "Swings about its pivot.",
        (
            number("angle", "Angle", 2, "°", -180, 180, help="How far it turns to each side"),
            _EVERY,
            STRENGTH,
            *_spread(),
        ),
        _sway,
        fits=PLACED,
    ),
    MoveKind(
        "swell",
        "Swell",
        DWELL,
        "Grows and shrinks softly.",
        (
            percent("by", "Growth", 3, help="How much larger it becomes"),
            _EVERY,
            STRENGTH,
            *_spread(),
        ),
        _swell,
        fits=PLACED,
    ),
    MoveKind(
        "pulse",
        "Pulse",
        DWELL,
        "Beats, on a rate or on the marks.",
        (
            choice(
                "on",
                "Beat source",
                (("rate", "On a rate"), ("marks", "On the scene's marks")),
                help="On a rate of its own, or on the scene's marks",
            ),
            _EVERY_SECOND,
            percent("by", "Growth", 5, help="How much larger it becomes"),
            number(
                "fall",
                "Fall time",
                0.18,
                "s",
                0.02,
                10,
                step=0.02,
                decimals=2,
                help="How long a beat takes to fade",
            ),
            STRENGTH,
            *_spread(),
            replace(
                flag("turns", "Turns", False, "Every beat strikes the next one only"),
                shown_when=where("spread.over", besides=("whole",)),
            ),
        ),
        _pulse,
        fits=PLACED,
    ),
    MoveKind(
        "push-in",
        "Push in",
        DWELL,
        "Comes slowly nearer.",
        (percent("by", "Growth", 4, help="How much larger it becomes"), STRENGTH),
        _push,
        fits=PLACED,
        throughout=True,
    ),
    MoveKind(
        "float",
        "Float",
        DWELL,
        "Rises and falls as on water.",
        (
            number(
                "distance",
                "Distance",
                14,
                "px",
                0,
                4000,
                help="How far from its place it goes at most",
            ),
            number(
                "every", "Period", 4, "s", 0.05, 600, decimals=2, help="From one round to the next"
            ),
            STRENGTH,
            *_spread(),
        ),
        _float,
        fits=PLACED,
    ),
    MoveKind(
        "shake",
        "Shake",
        DWELL,
        "Trembles.",
        (
            number(
                "distance",
                "Distance",
                8,
                "px",
                0,
                4000,
                help="How far from its place it goes at most",
            ),
            number("rate", "Shake rate", 12, "/s", 0.5, 60, help="How often it shakes"),
            STRENGTH,
            SEED,
            *_spread(),
        ),
        _shake,
        fits=PLACED,
    ),
    MoveKind(
        "glint",
        "Glint",
        DWELL,
        "A band of light passes over.",
        (
            _EVERY,
            number(
                "takes",
                "Sweep time",
                0.9,
                "s",
                0.05,
                60,
                step=0.1,
                decimals=2,
                help="How long the light takes across it",
            ),
        ),
        _glint,
        fits=SHOWN,
    ),
    MoveKind(
        "blink",
        "Blink",
        DWELL,
        "On and off.",
        (
            _EVERY_SECOND,
            percent("lit", "Lit share", 50, 100, help="For how much of each round it is lit"),
            percent("dark", "Dark opacity", 0, 100, help="How much of it is seen while it is dark"),
            *_spread(),
        ),
        _blink,
        fits=(*SHOWN, "treatment"),
    ),
)
