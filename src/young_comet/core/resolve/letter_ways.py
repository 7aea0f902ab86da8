"""What is done to the letters, words, lines and runs of a text altogether, by moves and fronts."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from ..frame.contents import PLAIN, UnitLook
from ..geometry.affine import Point
from ..moves import REST, Pose, Wipe
from ..typography.graphemes import Range
from ..typography.style import Letters


@dataclass
class OnItsWay:
    """What is done to a unit altogether."""

    pose: Pose = REST
    skew: Point = (0.0, 0.0)
    look: UnitLook = PLAIN
    pivot: str = "middle"
    seen: str = "everywhere"
    wipe: Wipe | None = None
    rolled: float = 1.0

    @property
    def rests(self) -> bool:
        """Whether nothing is done to it."""
        still = self.pose == REST and self.skew == (0.0, 0.0) and self.rolled == 1
        return still and self.look is PLAIN and self.wipe is None


@dataclass
class SetOtherwise:
    """How letters are set otherwise: what is added to their style."""

    weight: float = 0.0
    width: float = 0.0
    slant: float = 0.0
    tracking: float = 0.0
    raised: float = 0.0
    size: float = 1.0

    def of(self, letters: Letters) -> Letters:
        """Letters with it; in steps that nobody sees, so that what is drawn can be kept."""
        return replace(
            letters,
            weight=float(round(min(1000.0, max(1.0, letters.weight + self.weight)))),
            width=round(max(1.0, letters.width + self.width) * 2) / 2,
            slant_deg=round(min(75.0, max(-75.0, letters.slant_deg + self.slant)), 2),
            tracking=letters.tracking + self.tracking,
            raised=letters.raised + self.raised,
            size_px=max(0.01, letters.size_px * self.size),
        )


@dataclass
class Found:
    """What was found of a text: its units on their way, by what they are, and letters set
    otherwise."""

    units: dict[str, dict[Range, OnItsWay]] = field(default_factory=dict)
    set: dict[Range, SetOtherwise] = field(default_factory=dict)
    boxes: dict[Range, float] = field(default_factory=dict)
    cursor: bool = False

    def unit(self, by: str, span: Range) -> OnItsWay:
        """What is done to a unit; at rest so far where it is asked for the first time."""
        return self.units.setdefault(by, {}).setdefault(span, OnItsWay())
