"""The command that lists and writes the kit of sounds."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer
from rich.console import Console
from rich.table import Table

from .cli_outputs import format_among
from .core.audio.kit import KIT, LONGEST_S, SHORTEST_S, Wish
from .core.export import encode_sound
from .errors import DocumentError

out = Console(highlight=False)


def kit(
    sound: Annotated[str, typer.Argument(help="A sound's id; left out: lists them")] = "",
    to_file: Annotated[Path | None, typer.Option("--out", "-o", help="File to write")] = None,
    length: Annotated[float | None, typer.Option(help="Seconds [default: its own]")] = None,
    pitch: Annotated[float, typer.Option(help="Semitones, -24 to 24")] = 0.0,
    brightness: Annotated[float, typer.Option(help="Steps, -4 to 4")] = 0.0,
    seed: Annotated[int, typer.Option(help="Of what is left to chance in it")] = 0,
) -> None:
    """Lists the kit of sounds, or writes one of them (.wav, .flac)."""
    if not sound:
        table = Table("sound", "family", "name", "length", "its moment", box=None, pad_edge=False)
        for each in KIT.values():
            moment = f"{each.moment_s(each.length_s):g} s"
            table.add_row(each.id, each.family, each.label, f"{each.length_s:g} s", moment)
        out.print(table)
        return
    found = KIT.known(sound)
    if to_file is None:
        raise DocumentError.expected("--out", "a file to write", "nothing")
    format = format_among(to_file, "wav", "flac")
    for name, value, low, high in (
        ("--length", length or found.length_s, SHORTEST_S, LONGEST_S), ("--pitch", pitch, -24, 24),
        ("--brightness", brightness, -4, 4), ("--seed", seed, 0, 999_999),
    ):  # fmt: skip
        if not low <= value <= high:
            raise DocumentError.expected(name, f"{low:g} to {high:g}", value)
    wish = Wish(length or found.length_s, 2 ** (pitch / 12), 2 ** (brightness / 4), seed)
    to_file.write_bytes(encode_sound(found.make(wish), format))
    out.print(f"{to_file}: {found.label}, {wish.length_s:g} s", soft_wrap=True)
