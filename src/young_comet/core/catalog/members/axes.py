"""Axes of a typeface's own: what a variable face can be changed by besides weight, width, slant and
optical size, which are properties of every text."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import takewhile

from ....errors import DocumentError
from ...model.document import Axis, Layer
from ...model.specs import Kind, PropertySpec
from .base import MemberFamily

# What every text has as a property of its own (registered axes of OpenType).
KNOWN = frozenset({"wght", "wdth", "slnt", "opsz", "ital"})

_VALUE = (
    PropertySpec(
        "value", "Axis value", Kind.NUMBER, 0.0, "Axes", minimum=-1e5, maximum=1e5,
        help="Where its letters are along the axis; kept within what the typeface has. One that "
        "lacks the axis is as it is",
    ),
)  # fmt: skip


class Axes(MemberFamily[Axis]):
    """The axes that a text sets, in the order in which they were added."""

    id = "axis"
    field = "axes"
    label = "axis"
    model = Axis
    kind_field = ""
    changeable = ("on",)

    def kinds(self) -> Sequence[str]:
        return (self.id,)

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        return _VALUE

    def name_of(self, member: Axis) -> str:
        return f"Axis {member.tag}"

    def suits(self, layer: Layer) -> bool:
        return layer.kind == "text"

    def check(self, layer: Layer, member: Axis, where: str) -> None:
        if not self.suits(layer):
            raise DocumentError("only a text has axes of a typeface", field=where)
        if member.tag in KNOWN:
            raise DocumentError(f"{member.tag} is a property of the text itself", field=where)
        # Of two the later one is too many.
        earlier = takewhile(lambda other: other is not member, layer.axes)
        if any(other.tag == member.tag for other in earlier):
            raise DocumentError(f"the axis {member.tag} is there twice", field=where)


AXES = Axes()
