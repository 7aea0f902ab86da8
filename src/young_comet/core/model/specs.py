"""Declarations of properties: what the members of every family (layer kinds, effects) say."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any


class Kind(StrEnum):
    """What a property holds; it decides how values are checked and how two are mixed.

    The JSON forms: a number; a point ``[x, y]``; a colour ``"#rrggbb[aa]"`` or ``"ink:ID"``;
    stops ``[[offset 0..1, colour], ...]``; text, choice, asset id and font id as strings; a flag
    as true or false.
    """

    NUMBER = "number"
    POINT = "point"
    COLOUR = "colour"
    STOPS = "stops"
    TEXT = "text"
    CHOICE = "choice"
    FLAG = "flag"
    ASSET = "asset"
    FONT = "font"

    @property
    def can_mix(self) -> bool:
        """Whether there are values between two values, so that keys make sense."""
        return self in (Kind.NUMBER, Kind.POINT, Kind.COLOUR, Kind.STOPS)


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
    def animatable(self) -> bool:
        return self.kind.can_mix and not self.fixed

    def parts(self) -> tuple[PropertySpec, PropertySpec]:
        """Declarations of a point's two coordinates as numbers, ``ID.x`` and ``ID.y``."""
        return (self._part(0, "x"), self._part(1, "y"))

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
