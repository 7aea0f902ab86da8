"""A shape that grows with another layer."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, where

_FITTING = where("fit.layer", given=True)

FITTED = (
    PropertySpec(
        "fit.layer", "Fitted layer", Kind.LAYER, "", "Shape", help="The layer that it grows with",
        shown_when=where("shape.kind", "rectangle", "ellipse"),
    ),
    PropertySpec(
        "fit.axes", "Fitted axes", Kind.CHOICE, "both", "Shape",
        options=(("both", "Width and height"), ("width", "Width"), ("height", "Height")),
        shown_when=where("shape.kind", "rectangle", "ellipse") + _FITTING,
        help="Along which of its sides it grows with that layer",
    ),
    PropertySpec(
        "fit.margin", "Fit margin", Kind.POINT, (24.0, 12.0), "Shape", unit="px", minimum=-20000,
        maximum=20000, shown_when=where("shape.kind", "rectangle", "ellipse") + _FITTING,
        help="How much larger than that layer it is at each side",
    ),
)  # fmt: skip
