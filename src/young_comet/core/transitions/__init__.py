"""Transitions: the registry of how one layer gives way to the next on their joint."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

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

_OWN = {kind.step.id: kind.step for kind in TRANSITIONS.values()}


class _Steps(Mapping[str, EffectKind]):
    """Effects, and the steps of transitions."""

    def __getitem__(self, kind_id: str) -> EffectKind:
        return _OWN[kind_id] if kind_id in _OWN else EFFECTS[kind_id]

    def __iter__(self) -> Iterator[str]:
        return iter((*EFFECTS, *_OWN))

    def __len__(self) -> int:
        return len(EFFECTS) + len(_OWN)


# All that may be a step of a sheet, by the kinds of resolved effects.
STEPS = _Steps()

__all__ = ["STEPS", "TRANSITIONS", "Joint", "TransitionKind"]
