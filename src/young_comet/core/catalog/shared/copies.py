"""A layer drawn several times, each copy a step further."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, where

_COPIED = where("copies.count", least=2)

COPIES = (
    PropertySpec(
        "copies.count", "Drawn", Kind.NUMBER, 1.0, "Copies", unit="x", minimum=1, maximum=200,
        whole=True, decimals=0, fixed=True, help="How often the layer is drawn",
    ),
    PropertySpec(
        "copies.position", "Step", Kind.POINT, (40.0, 0.0), "Copies", unit="px", minimum=-1e5,
        maximum=1e5, shown_when=_COPIED,
    ),
    PropertySpec(
        "copies.rotation", "Turned by", Kind.NUMBER, 0.0, "Copies", unit="°", minimum=-1e5,
        maximum=1e5, shown_when=_COPIED,
    ),
    PropertySpec(
        "copies.scale", "Scaled by", Kind.POINT, (100.0, 100.0), "Copies", unit="%", minimum=0,
        maximum=1000, shown_when=_COPIED,
    ),
    PropertySpec(
        "copies.delay", "Later by", Kind.NUMBER, 0.0, "Copies", unit="s", minimum=-600,
        maximum=600, decimals=3, step=0.04, fixed=True, shown_when=_COPIED,
        help="Each copy does what the one before it did so many seconds ago",
    ),
    PropertySpec(
        "copies.opacity", "Fainter to", Kind.NUMBER, 100.0, "Copies", unit="%", minimum=0,
        maximum=100, shown_when=_COPIED, help="Each has this much of the opacity of the one before",
    ),
    PropertySpec("copies.inked", "Changes ink", Kind.FLAG, False, "Copies", shown_when=_COPIED),
    PropertySpec(
        "copies.ink", "Towards", Kind.COLOUR, "#ffb44a", "Copies",
        shown_when=where("copies.inked", True), help="The last copy has this colour",
    ),
    PropertySpec(
        "copies.above", "Later ones above", Kind.FLAG, False, "Copies", shown_when=_COPIED,
    ),
)  # fmt: skip
