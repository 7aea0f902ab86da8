"""Transitions: the registry of how one layer gives way to the next on their joint."""

from __future__ import annotations

from collections.abc import Mapping

from ..effects import EFFECTS, EffectKind
from ..registry import Registry
from .base import Joint, TransitionKind, common
from .edges import EDGES
from .fades import FADES, crossed
from .shifts import SHIFTS

MATCHED = TransitionKind(
    "matched", "Matched", "What both scenes have goes from one to the other.",
    common("ease-in-out"), crossed, matches=True,
)  # fmt: skip

TRANSITIONS: Registry[TransitionKind] = Registry("a transition")
TRANSITIONS.add(*FADES, *SHIFTS, *EDGES, MATCHED)

# All that may be a step of a sheet, by the kinds of resolved effects.
STEPS: Mapping[str, EffectKind] = {
    **EFFECTS, **{kind.step.id: kind.step for kind in TRANSITIONS.values()},
}  # fmt: skip

__all__ = ["STEPS", "TRANSITIONS", "Joint", "TransitionKind"]
