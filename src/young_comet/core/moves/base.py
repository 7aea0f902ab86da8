"""What a move is: a ready-made animation of a phase, as a pose for every moment."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from ..geometry.affine import Point
from ..model.specs import Kind, PropertySpec
from ..registry import Registry
from .tempo import EACH_S, tempo_specs

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
    band of light has passed over, 0..1; ``effects`` are others with their
    parameters. So many times a second as it ``flickers`` chance decides whether it is as said or
    at rest."""

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
    flickers: float = 0.0

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

    def onwards(self) -> Pose:
        """The same way on the other side of where it rests."""
        wipe = self.wipe
        if wipe is not None:
            wipe = replace(wipe, angle_deg=wipe.angle_deg + 180)
        return replace(
            self, offset=(-self.offset[0], -self.offset[1]), rotation_deg=-self.rotation_deg,
            tilt_deg=-self.tilt_deg, turn_deg=-self.turn_deg, wipe=wipe,
        )  # fmt: skip


REST = Pose()


@dataclass(frozen=True, slots=True)
class Moment:
    """What a move may know: the size of what moves (px), the frame's, the unit's number and how
    many there are, seconds since the phase began, a seed, marks (s since then), the size of its
    letters or what stands for it (px), and how much of the way's time is behind it, 0 away and 1 at
    rest, whatever the easing makes of it; and seconds since its layer began."""

    size: Point
    frame: Point
    nth: int = 0
    count: int = 1
    time_s: float = 0.0
    length_s: float = 1.0
    seed: int = 0
    beats: tuple[float, ...] = ()
    em: float = 0.0
    share: float = 1.0
    leaving: bool = False
    local_s: float = 0.0


# Takes how far it has come to rest (0 away, 1 at rest; beyond 1 where the easing overshoots) for
# arriving and leaving, or how much it is in effect (0..1) for dwelling.
Draw = Callable[[float, Params, Moment], Pose]


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


# Nearly half of the way in the first sixth of the time, and a long rest.
ARRIVES = "cubic-bezier(0.16, 1, 0.3, 1)"
# It starts at once and becomes faster.
LEAVES = "cubic-bezier(0.4, 0.14, 0.8, 0.5)"
# Edges that pass over something.
PASSES = "cubic-bezier(0.65, 0, 0.35, 1)"
# What leaves takes this share of the time in which it would arrive.
LEAVING = 0.6


def common(
    easing: str,
    over: str = "whole",
    each_s: float = EACH_S,
    letter_step_s: float | None = None,
    besides: tuple[str, ...] = (),
) -> tuple[PropertySpec, ...]:
    """What every arriving or leaving move has: its easing, and how it spreads over units."""
    return (
        PropertySpec(
            "easing", "Easing", Kind.EASING, easing, "Move", help="The course of each unit's way"
        ),
        *tempo_specs(over, each_s, letter_step_s, besides),
    )


AWAY = choice(
    "away",
    "Goes",
    (("back", "The way it came"), ("onwards", "On in the same direction")),
    help="Back to where it came from, or on past its place",
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
    ``leaving`` are label and help of its way back, named by what is seen then; ``leaves`` is the
    easing that it leaves by, in the share ``hurry`` of the time; ``onward`` tells whether it may go
    on in the direction it came, and which of both it does by itself; ``last_first`` that what came
    last is the first to go. ``throughout`` is of those that dwell all the while that the layer is
    there, its arriving and leaving included."""

    id: str
    label: str
    phases: tuple[str, ...]
    help: str
    specs: tuple[PropertySpec, ...]
    draw: Draw
    length_s: float = 0.6
    fits: tuple[str, ...] = PICTURED
    leaving: tuple[str, str] | None = None
    leaves: str = LEAVES
    hurry: float = LEAVING
    onward: str = ""
    last_first: bool = False
    throughout: bool = False

    def said(self, phase: str) -> str:
        """What it is called in a phase."""
        return self.leaving[0] if self.leaving is not None and phase == "leave" else self.label

    def lasts_s(self, phase: str) -> float:
        """How long a phase becomes that it is the first in."""
        return self.length_s * (self.hurry if phase == "leave" else 1.0)

    @cached_property
    def leaving_specs(self) -> tuple[PropertySpec, ...]:
        """What it declares where it leaves: shorter, with its own easing."""
        found = []
        for spec in self.specs:
            if spec.id == "easing":
                spec = replace(spec, default=self.leaves)
            elif spec.id == "spread.each" or spec.id.startswith("spread.step"):
                spec = replace(spec, default=round(spec.default * self.hurry, 3))
            elif spec.id == "spread.order" and self.last_first:
                spec = replace(spec, default="back")
            found.append(spec)
            if spec.id == "easing" and self.onward:
                found.append(replace(AWAY, default=self.onward))
        return tuple(found)

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
    leaves="linear",
    hurry=1.0,
)


class MoveRegistry(Registry[MoveKind]):
    """Moves by id, in their order; all of the artist's own (``own:ID``) are of one kind."""

    def __getitem__(self, kind_id: str) -> MoveKind:
        return OWN if kind_id.startswith("own:") else super().__getitem__(kind_id)
