"""What a move is: a ready-made animation of a phase, as a pose for every moment."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from ..geometry.affine import Point
from ..model.specs import Kind, PropertySpec, where
from ..registry import Registry
from ..timing.spread import ORDERS

PHASES = ("arrive", "dwell", "leave")
Params = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Wipe:
    """How much of a layer is shown, 0..1: by a soft edge at an angle (linear), from the centre
    line outwards (centre), or by a growing circle (iris). Softness in percent."""

    kind: str
    shown: float
    angle_deg: float = 0.0
    softness: float = 0.0


@dataclass(frozen=True, slots=True)
class Pose:
    """How far something is from where it rests. Offsets are px in the space around it, scales
    factors, opacity 0..1, tracking in 1/1000 em, blur a standard deviation in px; ``drawn`` is
    the share 0..1 of its outline that is stroked. A ``pivot`` other than (0, 0) is what it turns
    about: the middle of its box moved by those shares of it. ``clipped`` shows it only within its
    own box at rest. ``scrambled`` is the share 0..1 of letters that are others, ``glint`` how far a
    band of light has passed over, 0..1; ``effects`` are others with their parameters."""

    offset: Point = (0.0, 0.0)
    rotation_deg: float = 0.0
    scale: Point = (1.0, 1.0)
    opacity: float = 1.0
    tilt_deg: float = 0.0
    turn_deg: float = 0.0
    pivot: Point = (0.0, 0.0)
    tracking: float = 0.0
    blur_px: float = 0.0
    drawn: float = 1.0
    scrambled: float = 0.0
    clipped: bool = False
    cursor: bool = False
    wipe: Wipe | None = None
    glint: float | None = None
    effects: tuple[tuple[str, tuple[tuple[str, Any], ...]], ...] = ()

    def then(self, other: Pose) -> Pose:
        """Both at once: places add up, scales and opacities multiply."""
        return Pose(
            (self.offset[0] + other.offset[0], self.offset[1] + other.offset[1]),
            self.rotation_deg + other.rotation_deg,
            (self.scale[0] * other.scale[0], self.scale[1] * other.scale[1]),
            self.opacity * other.opacity,
            self.tilt_deg + other.tilt_deg,
            self.turn_deg + other.turn_deg,
            (self.pivot[0] + other.pivot[0], self.pivot[1] + other.pivot[1]),
            self.tracking + other.tracking,
            math.hypot(self.blur_px, other.blur_px),
            min(self.drawn, other.drawn),
            max(self.scrambled, other.scrambled),
            self.clipped or other.clipped,
            self.cursor or other.cursor,
            other.wipe or self.wipe,
            self.glint if other.glint is None else other.glint,
            self.effects + other.effects,
        )


REST = Pose()


@dataclass(frozen=True, slots=True)
class Moment:
    """What a move may know: the size of what moves (px), the frame's, the unit's number and how
    many there are, seconds since the phase began, a seed, marks (s since then)."""

    size: Point
    frame: Point
    nth: int = 0
    count: int = 1
    time_s: float = 0.0
    length_s: float = 1.0
    seed: int = 0
    beats: tuple[float, ...] = ()


# Takes how far it has come to rest (0 away, 1 at rest; beyond 1 where the easing overshoots) for
# arriving and leaving, or how much it is in effect (0..1) for dwelling.
Draw = Callable[[float, Params, Moment], Pose]

SPREADS = (
    ("whole", "The whole layer"),
    ("letters", "Letters"),
    ("words", "Words"),
    ("lines", "Lines"),
    ("slices", "Slices"),
    ("copies", "Copies"),
    ("group", "The layers of its group"),
)
TEXT_UNITS = ("letters", "words", "lines")


def number(
    id: str, label: str, default: float, unit: str = "", low: float = -1e5, high: float = 1e5,
    *, step: float = 1.0, decimals: int = 1, help: str = "", widget: str = "",
) -> PropertySpec:  # fmt: skip
    """A declaration of a number."""
    return PropertySpec(
        id,
        label,
        Kind.NUMBER,
        float(default),
        "Move",
        unit=unit,
        minimum=low,
        maximum=high,
        step=step,
        decimals=decimals,
        help=help,
        widget=widget,
        fixed=True,
    )


def percent(
    id: str, label: str, default: float, high: float = 400.0, help: str = ""
) -> PropertySpec:
    """A declaration of a percentage."""
    return number(id, label, default, "%", 0, high, decimals=0, help=help)


def choice(
    id: str, label: str, options: tuple[tuple[str, str], ...], default: str = "", *, help: str = ""
) -> PropertySpec:
    """A declaration of a choice."""
    return PropertySpec(
        id, label, Kind.CHOICE, default or options[0][0], "Move", options=options, help=help
    )


def flag(id: str, label: str, default: bool, help: str = "") -> PropertySpec:
    """A declaration of a switch."""
    return PropertySpec(id, label, Kind.FLAG, default, "Move", help=help)


SIDES = (
    ("left", "Left"),
    ("right", "Right"),
    ("top", "Above"),
    ("bottom", "Below"),
)
_WAY = {"left": (-1.0, 0.0), "right": (1.0, 0.0), "top": (0.0, -1.0), "bottom": (0.0, 1.0)}


def way(params: Params) -> Point:
    """The direction in which a side lies."""
    return _WAY[params["side"]]


STRENGTH = percent("strength", "Strength", 100, help="How much of the whole move is made")
SEED = number("seed", "Seed", 1, "", 0, 99999, decimals=0, help="Another number, another chance")


def common(easing: str, over: str = "whole", width: float = 3) -> tuple[PropertySpec, ...]:
    """What every arriving or leaving move has: its easing, and how it spreads over units."""
    spread = where("spread.over", besides=("whole",))
    return (
        PropertySpec(
            "easing", "Easing", Kind.EASING, easing, "Move", help="The course of each unit's way"
        ),
        choice("spread.over", "Spread unit", SPREADS, over, help="What moves one after another"),
        replace(
            number(
                "spread.width",
                "Overlap",
                width,
                "",
                0.1,
                500,
                help="How many are on their way at once",
            ),
            shown_when=spread,
        ),
        replace(
            choice(
                "spread.order",
                "Sequence",
                tuple((o, o.replace("-", " ").capitalize()) for o in ORDERS),
                help="Which of them go first",
            ),
            shown_when=spread,
        ),
    )


# Kinds of layers that moves fit: what has a place and a picture, what has only a place, what
# covers the frame.
PICTURED = ("shape", "text", "picture", "clip", "scene")
PLACED = (*PICTURED, "carrier")
SHOWN = (*PICTURED, "backdrop")
EVERY = (*PLACED, "backdrop", "treatment")


@dataclass(frozen=True)
class MoveKind:
    """A member of the registry. ``phases`` tells when it can be worn; ``draw`` gives its pose;
    ``length_s`` is the length that a phase gets which had none; ``fits`` are the kinds of layers
    that it can do something for: others are not offered it, and worn by them it does nothing.
    ``leaving`` are label and help of its way back, named by what is seen then."""

    id: str
    label: str
    phases: tuple[str, ...]
    help: str
    specs: tuple[PropertySpec, ...]
    draw: Draw
    length_s: float = 0.6
    fits: tuple[str, ...] = PICTURED
    leaving: tuple[str, str] | None = None

    def said(self, phase: str) -> str:
        """What it is called in a phase."""
        return self.leaving[0] if self.leaving is not None and phase == "leave" else self.label

    @cached_property
    def by_id(self) -> dict[str, PropertySpec]:
        return {spec.id: spec for spec in self.specs}

    @property
    def dwells(self) -> bool:
        """Whether it goes on while the layer is there."""
        return "dwell" in self.phases


# The artist's own moves: what they do is kept in the project.
OWN = MoveKind(
    "own",
    "Own move",
    ("arrive", "leave"),
    "Saved from a layer.",
    (STRENGTH, *common("linear")),
    lambda p, params, moment: REST,
    fits=EVERY,
)


class MoveRegistry(Registry[MoveKind]):
    """Moves by id, in their order; all of the artist's own (``own:ID``) are of one kind."""

    def __getitem__(self, kind_id: str) -> MoveKind:
        return OWN if kind_id.startswith("own:") else super().__getitem__(kind_id)
