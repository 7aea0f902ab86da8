"""A shape that grows with another layer."""

from __future__ import annotations

from ...model.specs import Kind, PropertySpec, where

_FITTING = where("fit.layer", given=True)

FITTED = (
    PropertySpec(
        "fit.layer", "Fits around", Kind.LAYER, "", "Shape", help="It grows with that layer",
        shown_when=where("shape.kind", "rectangle", "ellipse"),
    ),
    PropertySpec(
        "fit.axes", "Fits", Kind.CHOICE, "both", "Shape",
        options=(("both", "Width and height"), ("width", "Width"), ("height", "Height")),
        shown_when=where("shape.kind", "rectangle", "ellipse") + _FITTING,
    ),
    PropertySpec(
        "fit.margin", "Margin", Kind.POINT, (24.0, 12.0), "Shape", unit="px", minimum=-20000,
        maximum=20000, shown_when=where("shape.kind", "rectangle", "ellipse") + _FITTING,
    ),
)  # fmt: skip
