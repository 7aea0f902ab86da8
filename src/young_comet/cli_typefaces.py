"""The command that lists the typefaces that are shipped."""

from __future__ import annotations

from typing import Annotated

import typer
from rich.console import Console
from rich.table import Table

from .core.typography import FontLibrary
from .core.typography.shipped import GROUPS, SHIPPED
from .core.typography.specimen import facts_of
from .errors import NotFoundError

out = Console(highlight=False)


def typefaces(
    typeface: Annotated[str, typer.Argument(help="A typeface's id; left out: lists them")] = "",
) -> None:
    """Lists the shipped typefaces, or says what one of them has: scripts, axes, features."""
    groups = dict(GROUPS)
    if not typeface:
        table = Table("id", "name", "group", "character", box=None, pad_edge=False)
        for family in SHIPPED:
            table.add_row(family.id, family.name, groups[family.group], family.character)
        out.print(table)
        return
    found = next((family for family in SHIPPED if family.id == typeface), None)
    if found is None:
        raise NotFoundError(f"there is no typeface {typeface!r}", field="typeface")
    facts = facts_of(FontLibrary().typeface(found.id))
    lines = [f"{found.name}: {found.character.lower()}", f"scripts: {', '.join(facts.scripts)}"]
    lines += [f"{axis.label.lower()}: {axis.least:g} to {axis.most:g}" for axis in facts.axes]
    lines += [f"{feature.tag}: {feature.label.lower()}" for feature in facts.features]
    for line in lines:
        out.print(line, soft_wrap=True)
