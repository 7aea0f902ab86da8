"""Passages: how something comes, what it does while it is there and how it goes, chosen to go
together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ..registry import Registry
from .base import MoveKind
from .tempo import TEXT_UNITS

Values = Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Worn:
    """One move of a passage: in which phase, of which kind, with which values."""

    phase: str
    kind: str
    values: Values = field(default_factory=dict)

    def on(self, layer_kind: str) -> Values:
        """Its values on a kind of layer: what has no letters is moved as a whole."""
        if layer_kind == "text" or self.values.get("spread.over") not in TEXT_UNITS:
            return self.values
        return {k: v for k, v in self.values.items() if not k.startswith("spread.")}


@dataclass(frozen=True, slots=True)
class Passage:
    """A member of the registry."""

    id: str
    label: str
    help: str
    moves: tuple[Worn, ...]

    def fits(self, layer_kind: str, kinds: Mapping[str, MoveKind]) -> bool:
        """Whether each of its moves does something for a kind of layer."""
        return all(layer_kind in kinds[each.kind].fits for each in self.moves)


def _passage(
    id: str, label: str, help: str, arrive: tuple[Any, ...], dwell: tuple[Any, ...],
    leave: tuple[Any, ...], *more: Worn,
) -> Passage:  # fmt: skip
    moves = []
    for phase, (kind, values) in (("arrive", arrive), ("dwell", dwell), ("leave", leave)):
        if kind:
            moves.append(Worn(phase, kind, values))
    return Passage(id, label, help, (*moves, *more))


def _by(over: str, each: float, step: float, **more: Any) -> dict[str, Any]:
    """A spread over units, each so long on its way and a step apart, s."""
    name = {"letters": "letters", "words": "words", "lines": "lines"}[over]
    values = {"spread.over": over, "spread.each": each, f"spread.step-{name}": step}
    return {**values, **{key.replace("__", ".").replace("_", "-"): v for key, v in more.items()}}


_NOTHING: tuple[str, dict[str, Any]] = ("", {})
_NEARER = ("push-in", {"by": 3})
# Smoother at its end than the usual arriving: for large, slow things.
_CALM = "cubic-bezier(0.22, 0.8, 0.2, 1)"

PASSAGES: Registry[Passage] = Registry(
    "a passage",
    (
        _passage(
            "waterline", "Waterline", "Words rise from behind their line, and go on above it",
            ("slide", _by("words", 0.8, 0.09, side="bottom")), _NEARER,
            ("slide", _by("words", 0.45, 0.05, side="bottom", away="onwards")),
        ),
        _passage(
            "headline", "Headline", "Line after line from behind its edge, and back",
            ("slide", _by("lines", 0.9, 0.14, side="bottom", easing=_CALM)), _NOTHING,
            ("slide", _by("lines", 0.5, 0.07, side="bottom")),
        ),
        _passage(
            "sleeve", "Sleeve", "Letters slip out from behind their line, close upon each other",
            ("slide", _by("letters", 0.7, 0.025, side="bottom")), _NOTHING,
            ("slide", _by("letters", 0.4, 0.014, side="bottom", away="onwards")),
        ),
        _passage(
            "first-light", "First light", "Letters come out of a haze from the middle outwards",
            ("focus", _by("letters", 0.9, 0.03, blur=14, scale=104, spread__order="outwards")),
            _NEARER, ("focus", {"blur": 14, "scale": 103}),
        ),
        _passage(
            "onshore", "Onshore", "Letters drift up into place as if a wind carried them",
            ("lift", _by("letters", 0.9, 0.03, distance_em=0.45)), _NOTHING,
            ("lift", _by("letters", 0.5, 0.014, distance_em=0.35, away="onwards")),
        ),
        _passage(
            "swell", "Swell", "In from the middle; then a wave runs through the letters",
            ("lift", _by("letters", 0.8, 0.035, spread__order="outwards", distance_em=0.4)),
            ("float", {"spread.over": "letters", "spread.lag": 0.12, "distance": 6, "every": 3}),
            ("lift", _by("letters", 0.45, 0.015, distance_em=0.3)),
        ),
        _passage(
            "horizon", "Horizon", "The letters close up slowly, then all of it comes nearer",
            ("tracking", {"tracking": 320, "blur": 5, "easing": _CALM}), _NEARER,
            ("tracking", {"tracking": 160, "blur": 6}),
        ),
        _passage(
            "starting-gun", "Starting gun", "Words slam in large, one at a time",
            ("grow", _by("words", 0.35, 0.16, start=170, easing="cubic-bezier(0.2, 0.9, 0.25, 1)")),
            _NEARER, ("grow", _by("words", 0.22, 0.05, start=88)),
        ),
        _passage(
            "heartbeat", "Heartbeat", "Words grow into place; each beat strikes the next one",
            ("grow", _by("words", 0.6, 0.1, start=75)),
            ("pulse", {"spread.over": "words", "turns": True, "every": 0.6, "by": 6}),
            ("fade", _by("words", 0.3, 0.05)),
        ),
        _passage(
            "landing", "Landing", "Words drop, bounce once and settle, and spring off",
            ("drop", _by("words", 0.8, 0.1, height=25)), _NOTHING,
            ("drop", _by("words", 0.4, 0.05, height=25)),
        ),
        _passage(
            "pennants", "Pennants", "Letters pop up one by one and swing out",
            ("spring-in", _by("letters", 0.9, 0.045, easing="spring(0.45)")), _NOTHING,
            ("spring-in", _by("letters", 0.35, 0.02)),
        ),
        _passage(
            "weathervane", "Weathervane", "Letters turn to the eye, and turn on when they leave",
            ("turn-in", _by("letters", 0.8, 0.035, angle=90)), _NOTHING,
            ("turn-in", _by("letters", 0.45, 0.02, angle=90, away="onwards")),
        ),
        _passage(
            "pages", "Pages", "Lines unfold about their upper edge",
            ("turn-in", _by("lines", 0.9, 0.14, axis="x", angle=-88, hinge="top", easing=_CALM)),
            _NOTHING, ("turn-in", _by("lines", 0.5, 0.07, axis="x", angle=-88, hinge="top")),
        ),
        _passage(
            "logbook", "Logbook", "Typed, with a cursor, and taken back",
            ("type-on", {"spread.step-letters": 0.055}), _NOTHING,
            ("type-on", {"spread.step-letters": 0.025}),
        ),
        _passage(
            "signal-flags", "Signal flags", "Other letters first; the right ones run through it",
            ("scramble", _by("letters", 0.4, 0.04)), _NOTHING, ("fade", _by("letters", 0.2, 0.012)),
        ),
        _passage(
            "ink", "Ink", "Outlines are drawn letter by letter and fill",
            ("draw-on", _by("letters", 1.1, 0.06)), _NOTHING, ("fade", {}),
        ),
        _passage(
            "harbour-light", "Harbour light", "Lights up unsteadily; light passes over it",
            ("flicker", {}), ("glint", {"every": 2.6}), ("flicker", {}),
        ),
        _passage(
            "curtain", "Curtain", "Opens from its middle line and closes on it",
            ("open", {"axis": "width"}), _NEARER, ("open", {"axis": "width"}),
        ),
        _passage(
            "passing-edge", "Passing edge", "An edge passes over it to show it, and one to take it",
            ("unroll", {"angle": 0}), _NEARER, ("unroll", {"angle": 0, "away": "onwards"}),
        ),
        _passage(
            "buoy", "Buoy", "Pops up, rides on the water, and goes under",
            ("spring-in", {"lean": -8, "easing": "spring(0.45)"}), ("float", {"distance": 9}),
            ("lift", {"distance-em": 0.6}),
        ),
        _passage(
            "keel", "Keel", "Turns upright as it grows, sways, and turns on",
            ("spin", {"angle": 60, "shrunk": 35}), ("sway", {"angle": 1.5, "every": 4}),
            ("spin", {"angle": 40, "shrunk": 20, "away": "onwards"}),
        ),
        _passage(
            "fog", "Fog", "Out of a soft blur, drifting a little, and into it again",
            ("focus", {"blur": 30, "scale": 108, "easing": _CALM}), ("wander", {"distance": 6}),
            ("focus", {"blur": 30, "scale": 104}),
        ),
    ),
)  # fmt: skip
