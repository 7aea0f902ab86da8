"""Runs: stretches of a text with letters and paint of their own."""

from __future__ import annotations

from collections.abc import Sequence

from ....errors import DocumentError
from ...model.document import Layer, Run
from ...model.specs import PropertySpec
from ..shared import RUN
from .base import MemberFamily


class Runs(MemberFamily[Run]):
    """The runs of a text, in its order."""

    id = "run"
    field = "runs"
    label = "run"
    model = Run
    kind_field = ""
    changeable = ("on", "first", "last")

    def kinds(self) -> Sequence[str]:
        return (self.id,)

    def declared(self, kind_id: str) -> Sequence[PropertySpec] | None:
        return RUN

    def name_of(self, member: Run) -> str:
        if member.last - member.first == 1:
            return f"Letter {member.last}"
        return f"Letters {member.first + 1}–{member.last}"

    def suits(self, layer: Layer) -> bool:
        return layer.kind == "text"

    def check(self, layer: Layer, member: Run, where: str) -> None:
        if not self.suits(layer):
            raise DocumentError("only a text has runs", field=where)
        for other in layer.runs:
            apart = member.last <= other.first or other.last <= member.first
            if other is not member and other.on and member.on and not apart:
                raise DocumentError(
                    f"two runs of a text lie over one another ({other.first} to {other.last} and "
                    f"{member.first} to {member.last})",
                    field=where,
                )


RUNS = Runs()
