"""Declarations of properties: what the members of every family (layer kinds, effects) say."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any


class Kind(StrEnum):
    """What a property holds; it decides how values are checked and how two are mixed.

    The JSON forms: a number; a point ``[x, y]``; a colour ``"#rrggbb[aa]"`` or ``"ink:ID"``;
    stops ``[[offset 0..1, colour], ...]``; a path as SVG path data; a curve as points ``[[x, y],
    ...]`` in 0..1 with rising x; spots ``[[x, y, softness, colour], ...]``, the numbers in
    percent; text, choice, asset id, font id, layer id and scene id as strings; a flag as true or
    false.
    """

    NUMBER = "number"
    POINT = "point"
    COLOUR = "colour"
    STOPS = "stops"
    PATH = "path"
    CURVE = "curve"
    SPOTS = "spots"
    TEXT = "text"
    CHOICE = "choice"
    FLAG = "flag"
    ASSET = "asset"
    FONT = "font"
    LAYER = "layer"
    SCENE = "scene"

    @property
    def can_mix(self) -> bool:
        """Whether there are values between two values."""
        return self in _MIXED


_RECKONED = frozenset((Kind.NUMBER, Kind.POINT, Kind.COLOUR))
_MIXED = frozenset(
    (Kind.NUMBER, Kind.POINT, Kind.COLOUR, Kind.STOPS, Kind.PATH, Kind.CURVE, Kind.SPOTS)
)


@dataclass(frozen=True, slots=True)
class PropertySpec:
    """One declared property.

    ``minimum`` and ``maximum`` are included and hold for each coordinate of a point.
    ``shown_when`` names another property and the values of it for which the field is shown.
    ``split`` marks a point that can be taken apart into x and y, each with keys of its own.
    ``percent_of`` tells what ``%`` typed into the field means: "width" and "height" of the
    frame ("frame"), or nothing.
    """

    id: str
    label: str
    kind: Kind
    default: Any
    section: str
    unit: str = ""
    minimum: float | None = None
    maximum: float | None = None
    step: float = 1.0
    decimals: int = 1
    whole: bool = False
    options: tuple[tuple[str, str], ...] = field(default=())
    shown_when: tuple[str, tuple[Any, ...]] | None = None
    percent_of: str = ""
    hint: str = ""
    help: str = ""
    fixed: bool = False
    split: bool = False

    @property
    def written(self) -> bool:
        """Whether it is what a text says: its keys hold until the next."""
        return self.kind is Kind.TEXT and self.hint == "lines"

    @property
    def animatable(self) -> bool:
        return (self.kind.can_mix or self.written) and not self.fixed

    @property
    def expressive(self) -> bool:
        """Whether an expression may work on it."""
        return self.written or (self.animatable and self.kind in _RECKONED)

    def parts(self) -> tuple[PropertySpec, PropertySpec]:
        """Declarations of a point's two coordinates as numbers, ``ID.x`` and ``ID.y``."""
        return (self._part(0, "x"), self._part(1, "y"))

    def under(self, prefix: str, section: str) -> PropertySpec:
        """The same declaration with another id and section: of a mask's or an effect's own."""
        shown = self.shown_when and (f"{prefix}{self.shown_when[0]}", self.shown_when[1])
        return replace(self, id=prefix + self.id, section=section, shown_when=shown)

    def _part(self, index: int, name: str) -> PropertySpec:
        default = None if self.default is None else self.default[index]
        return replace(
            self,
            id=f"{self.id}.{name}",
            label=f"{self.label} {name}",
            kind=Kind.NUMBER,
            default=default,
            hint="",
            split=False,
        )
