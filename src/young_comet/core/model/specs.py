"""Declarations of properties: what the members of every family (layer kinds, effects) say."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

from .kinds import Kind as Kind  # declarations are written with both

# Kinds of assets that an asset property takes, unless it says otherwise.
PICTURES = ("picture", "svg")


@dataclass(frozen=True, slots=True)
class Needed:
    """Something that must be so for a field to be shown.

    Of the value of any of the properties ``of``: that it is one of ``values``, none of ``besides``,
    at least ``least``, not empty (``given``), that it has keys (``keyed``). Or of the layer: that
    a field of it (``layer``: what it rides on, its effects) is not empty.
    """

    of: tuple[str, ...] = ()
    values: tuple[Any, ...] = ()
    besides: tuple[Any, ...] = ()
    least: float | None = None
    given: bool = False
    keyed: bool = False
    layer: str = ""

    def under(self, prefix: str) -> Needed:
        """The same of properties with a prefix."""
        return replace(self, of=tuple(prefix + name for name in self.of))


def named(ids: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    """Options whose labels are their ids in words."""
    return tuple((i, i.replace("-", " ").capitalize()) for i in ids)


def where(property_id: str, *values: Any, **more: Any) -> tuple[Needed, ...]:
    """Shown where a property has one of some values, or as ``Needed`` says."""
    return (Needed((property_id,), values, **more),)


def named_with(whole: str, part: str) -> str:
    """A part's name with that of what it belongs to: ``Glow: size``."""
    return f"{whole}: {part[:1].lower()}{part[1:]}"


_UNITS = {
    "px": "in pixels", "%": "in percent", "°": "in degrees", "s": "in seconds", "dB": "in decibels",
    "‰": "in thousandths of an em", "/s": "a second", "px/s": "in pixels a second",
    "px/s²": "in pixels a second squared", "°/s": "in degrees a second", "x": "times",
}  # fmt: skip
# Sections whose fields are called with the section's name where they stand alone.
_NAMED_WITH = frozenset({"Slices", "Copies", "Alignment", "Drawn part", "Sound"})
# Limits that are further than this are there against mistakes, and not worth reading.
_WIDE = 10_000.0


@dataclass(frozen=True, slots=True)
class PropertySpec:
    """One declared property.

    ``minimum`` and ``maximum`` are included and hold for each coordinate of a point.
    ``shown_when`` tells what must all be so for the field to be shown. ``split`` marks a point
    that can be taken apart into x and y, each with keys of its own. ``percent_of`` tells what
    ``%`` typed into the field means: "width" and "height" of the frame ("frame"), or nothing.
    ``widget`` tells how the field is shown where its kind alone does not: "dial" (an angle),
    "linked" (both coordinates together), "steps" (a choice with buttons on and back), "place" (a
    handle on the stage), "given" (a colour found in the picture), "strokes" (several lines drawn).
    Where it is not set, its value is that of the layer's property which it ``follows``, if it
    follows one. ``assets`` are the kinds of assets that it takes. A ``default`` of None is the
    middle of the frame.
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
    shown_when: tuple[Needed, ...] = ()
    percent_of: str = ""
    widget: str = ""
    assets: tuple[str, ...] = PICTURES
    help: str = ""
    fixed: bool = False
    split: bool = False
    follows: str = ""
    axis: str = ""
    """Which coordinate of a point it is: "x" or "y"; "" where it is none."""

    @property
    def animatable(self) -> bool:
        """Whether it may have keys."""
        return (self.kind.mixes or self.kind.holds) and not self.fixed

    @property
    def expressive(self) -> bool:
        """Whether an expression may work on it."""
        return self.animatable and self.kind.reckoned

    @property
    def name(self) -> str:
        """What it is called where it stands without its section: ``Slices: overlap``."""
        return named_with(self.section, self.label) if self.section in _NAMED_WITH else self.label

    @property
    def explained(self) -> str:
        """What it does, its unit and its limits as a sentence or two for the person."""
        limits = "" if self.options else self._limits()
        return " ".join(f"{part}." for part in (self.help.rstrip("."), limits) if part)

    def _limits(self) -> str:
        low, high = self.minimum, self.maximum
        unit = _UNITS.get(self.unit, self.unit)
        if low is None or high is None or (low <= -_WIDE and high >= _WIDE):
            return unit[:1].upper() + unit[1:]
        span = f"From {low:g} up" if high >= _WIDE else f"From {low:g} to {high:g}"
        return f"{span}, {unit}" if unit else span

    def default_in(self, width: float, height: float) -> Any:
        """The default in a frame of some size."""
        if self.default is not None:
            return self.default
        return {"x": width / 2, "y": height / 2}.get(self.axis, (width / 2, height / 2))

    def parts(self) -> tuple[PropertySpec, PropertySpec]:
        """Declarations of a point's two coordinates as numbers, ``ID.x`` and ``ID.y``."""
        return (self._part(0, "x"), self._part(1, "y"))

    def under(self, prefix: str, section: str) -> PropertySpec:
        """The same declaration with another id and section: of a mask's or an effect's own."""
        shown = tuple(needed.under(prefix) for needed in self.shown_when)
        return replace(self, id=prefix + self.id, section=section, shown_when=shown)

    def _part(self, index: int, name: str) -> PropertySpec:
        default = None if self.default is None else self.default[index]
        return replace(
            self,
            id=f"{self.id}.{name}",
            label=f"{self.label} {name}",
            kind=Kind.NUMBER,
            default=default,
            widget="",
            split=False,
            axis=name,
        )
