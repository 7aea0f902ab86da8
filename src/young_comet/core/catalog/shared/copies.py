"""A layer drawn several times, each copy a step further."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, where

_COPIED = where("copies.count", least=2)

COPIES = (
    PropertySpec(
        "copies.count", "Count", Kind.NUMBER, 1.0, "Copies", minimum=1, maximum=200,
        whole=True, decimals=0, fixed=True, help="How often the layer is drawn",
    ),
    PropertySpec(
        "copies.position", "Position step", Kind.POINT, (40.0, 0.0), "Copies", unit="px",
        minimum=-1e5,
        maximum=1e5, shown_when=_COPIED,
        help="How far each copy lies from the one before",
    ),
    PropertySpec(
        "copies.rotation", "Rotation step", Kind.NUMBER, 0.0, "Copies", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_COPIED,
        help="How far each copy is turned against the one before, clockwise",
    ),
    PropertySpec(
        "copies.scale", "Scale step", Kind.POINT, (100.0, 100.0), "Copies", unit="%", minimum=0,
        maximum=1000, shown_when=_COPIED,
        help="How large each copy is, of the one before",
    ),
    PropertySpec(
        "copies.delay", "Delay", Kind.NUMBER, 0.0, "Copies", unit="s", minimum=-600,
        maximum=600, decimals=3, step=0.04, fixed=True, shown_when=_COPIED,
        help="Each copy does what the one before it did so many seconds ago",
    ),
    PropertySpec(
        "copies.opacity", "Opacity step", Kind.NUMBER, 100.0, "Copies", unit="%", minimum=0,
        maximum=100, shown_when=_COPIED, help="Each has this much of the opacity of the one before",
    ),
    PropertySpec("copies.inked", "Colour shift", Kind.FLAG, False, "Copies", shown_when=_COPIED,
        help="Whether the copies change towards a colour"),
    PropertySpec(
        "copies.ink", "Last copy colour", Kind.COLOUR, "#ffb44a", "Copies",
        shown_when=where("copies.inked", True), help="The last copy has this colour",
    ),
    PropertySpec(
        "copies.above", "Reversed stacking", Kind.FLAG, False, "Copies", shown_when=_COPIED,
        help="Later copies lie above earlier ones",
    ),
)  # fmt: skip
