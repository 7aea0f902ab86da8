"""Parts: the paths of a drawing, each with a fill and a stroke of its own."""

from __future__ import annotations

from collections.abc import Sequence

from ....errors import DocumentError
from ...model.document import Layer, Part
from ...model.specs import Kind, PropertySpec
from ..shared import paint_specs, stroke_specs
from .base import MemberFamily

PART = (
    PropertySpec(
        "path", "Path", Kind.PATH, "M-100 -60 L100 -60 L100 60 L-100 60 Z", "Part",
        help="The part's outline as SVG path data",
    ),
    PropertySpec(
        "opacity", "Opacity", Kind.NUMBER, 100.0, "Part", unit="%", minimum=0, maximum=100,
        help="How much of this part is seen",
    ),
    PropertySpec("fill.on", "Fill", Kind.FLAG, True, "Part", help="Whether its inside is painted"),
    *paint_specs("#ff7a45", ((0.0, "#ff7a45"), (1.0, "#e85d8f"))), *stroke_specs(0.0),
)  # fmt: skip


class Parts(MemberFamily[Part]):
    """The parts of a drawing."""

    id = "part"
    field = "parts"
    label = "part"
    model = Part
    kind_field = ""

    def kinds(self) -> Sequence[str]:
        return (self.id,)

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        return PART

    def name_of(self, member: Part) -> str:
        return member.name

    def suits(self, layer: Layer) -> bool:
        return layer.kind == "shape"

    def check(self, layer: Layer, member: Part, where: str) -> None:
        if not self.suits(layer):
            raise DocumentError("only a shape layer has parts", field=where)


PARTS = Parts()
