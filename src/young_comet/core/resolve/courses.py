"""Layers as arrangements have them: courses of their properties, when they are there, and the moves
by which they come and go."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ..model import Layer, Move, Property


class ArrangedProperty(Property):
    """What arrangements say of a property, as keys; ``added`` is the property's own where its keys
    add to that."""

    added: Property | None = None


class ArrangedMove(Move):
    """A move by which a layer comes or goes in a step: when (s of the scene), and for how long."""

    at_s: float = 0.0
    lasts_s: float = 0.0


class ArrangedLayer(Layer):
    """A layer with the courses that arrangements give it. It is not there in the spans ``away``, s
    of the scene."""

    away: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class Passage:
    """How a layer comes ("arrive") or goes ("leave") in a step: by which move, and when."""

    phase: Literal["arrive", "leave"]
    kind: str
    at_s: float
    lasts_s: float


@dataclass(frozen=True)
class Course:
    """What arrangements mean for one layer: its properties over time, the spans (s of the scene) in
    which it is there, and how it comes and goes. ``properties`` replace its own."""

    properties: Mapping[str, Property]
    spans: tuple[tuple[float, float], ...]
    passages: tuple[Passage, ...]
