"""Masks: paths that a layer is shown within."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ....errors import DocumentError
from ...model.document import Layer, Mask
from ...model.specs import Kind, PropertySpec
from .base import MemberFamily, check_seen

MASK = (
    PropertySpec(
        "path", "Path", Kind.PATH, "M-200 -120 L200 -120 L200 120 L-200 120 Z", "Mask",
        help="SVG path data in the mask's own space",
    ),
    PropertySpec(
        "position", "Position", Kind.POINT, (0.0, 0.0), "Mask", unit="px", minimum=-1e6,
        maximum=1e6, split=True,
        help="Where the mask's origin lies on the layer",
    ),
    PropertySpec(
        "rotation", "Rotation", Kind.NUMBER, 0.0, "Mask", unit="°", minimum=-1e6, maximum=1e6,
        help="Turns the mask about its origin, clockwise",
    ),
    PropertySpec(
        "scale", "Scale", Kind.POINT, (100.0, 100.0), "Mask", unit="%", minimum=-1e5,
        maximum=1e5,
        widget="linked",
        help="Of the path's own size, along x and y",
    ),
    PropertySpec(
        "feather", "Feather", Kind.POINT, (0.0, 0.0), "Mask", unit="px", minimum=0, maximum=4000,
        widget="linked", help="Width of the soft edge along x and y",
    ),
    PropertySpec(
        "grow", "Growth", Kind.NUMBER, 0.0, "Mask", unit="px", minimum=-4000, maximum=4000,
        help="Moves the edge outwards, or inwards where negative",
    ),
    PropertySpec(
        "opacity", "Opacity", Kind.NUMBER, 100.0, "Mask", unit="%", minimum=0, maximum=100,
        help="How much of what it leaves is seen",
    ),
)  # fmt: skip

# A half plane has no path: its edge is the line through its position.
_PATHLESS = tuple(spec for spec in MASK if spec.id not in ("path", "scale"))

# Outlines of masks on the stage, told apart from one another.
OUTLINES = ("#7fd4e8", "#ffb44a", "#8ed17f", "#e85d8f", "#c9b6ff", "#ff7a45", "#5fb7a8", "#d9d27a")


class Masks(MemberFamily[Mask]):
    """The masks of a layer."""

    id = "mask"
    field = "masks"
    label = "mask"
    model = Mask
    kind_field = "form"
    changeable = ("on", "name", "mode", "inverted", "colour")

    def kinds(self) -> Sequence[str]:
        return ("path", "half-plane")

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        return {"path": MASK, "half-plane": _PATHLESS}.get(kind_id)

    def name_of(self, member: Mask) -> str:
        return member.name

    def check(self, layer: Layer, member: Mask, where: str) -> None:
        check_seen(layer, self.label, where)
        if (member.space == "follow") != (member.follows is not None):
            field = f"{where} / mask {member.name!r}"
            raise DocumentError("only a mask that follows names a layer, and it must", field=field)

    def fitted(self, layer: Layer, member: Mask) -> Mask:
        """One without a colour of its own gets the next of a series."""
        if "colour" in member.model_fields_set:
            return member
        colour = OUTLINES[len(layer.masks) % len(OUTLINES)]
        return member.model_copy(update={"colour": colour})

    def layers_named(self, member: Mask) -> tuple[str, ...]:
        return (member.follows,) if member.follows else ()

    def with_layers_named(self, member: Mask, new_id: Callable[[str], str | None]) -> Mask:
        """One that followed a layer which is not there lies in its own layer's space."""
        if not member.follows:
            return member
        follows = new_id(member.follows)
        space = "follow" if follows else "layer"
        return member.model_copy(update={"follows": follows, "space": space})


MASKS = Masks()
