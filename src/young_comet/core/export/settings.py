"""What a person chooses for a render."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..model import RateModel
from ..model.values import Colour, Id

# Every format there is: what each of them is stands in ``formats.py``.
FormatId = Literal[
    "mp4", "mov", "webm", "gif", "apng", "webp", "frames", "png", "jpeg", "webp-still", "wav",
    "flac", "vtt", "sheet", "sheet-pdf", "svg", "otio", "review",
]  # fmt: skip


class RenderSettings(BaseModel):
    """A video of a range, its sound alone, or a still of one moment.

    ``also`` are further formats of the same render: pictures are composed once for all of them.
    ``from_s`` and ``to_s`` bound the range (the end is not included; None: those of the scene's
    working range, which is the whole scene where none is set); ``at_s`` is the still's moment.
    ``every`` takes every so many frames of the scene; ``rate`` is one of the film's own instead.
    ``layers`` are the only ones that are drawn; none: all of them.

    ``odd`` tells what happens to odd sizes where a format needs even ones. ``transparent`` leaves
    the ground colour out where a file can hold that, and ``leave_out_backdrops`` the backdrop
    layers too; ``ground`` lies below what is transparent where a file cannot. ``loops`` is how
    often an animation for a page plays (0: for ever), ``colours`` and ``dither`` are a GIF's.

    ``sound`` is whether a video has the scene's sound; where nothing is heard it has none anyway.
    ``loudness`` (LUFS) is what the sound is brought to, its true peaks held below ``true_peak``
    (dBTP); None leaves it as it is mixed. ``gaps`` tells what happens where something cannot be
    drawn or heard: the render stops and says what, or goes on with a mark in its place. ``name`` is
    what the files are called: a text in which {scene}, {project}, {size}, {rate}, {quality} and
    {date} stand for what they say.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: FormatId = "mp4"
    also: tuple[FormatId, ...] = ()
    quality: Literal["draft", "good", "best"] = "good"
    scale: Annotated[float, Field(gt=0, le=4, allow_inf_nan=False)] = 1.0
    from_s: Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)] | None = None
    to_s: Annotated[float, Field(gt=0, le=3600, allow_inf_nan=False)] | None = None
    at_s: Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)] = 0.0
    odd: Literal["pad", "crop"] = "pad"
    transparent: bool = False
    leave_out_backdrops: bool = False
    gaps: Literal["stop", "mark"] = "stop"
    ground: Colour = "#000000"
    sound: bool = True
    every: Annotated[int, Field(ge=1, le=100)] = 1
    rate: RateModel | None = None
    layers: Annotated[tuple[Id, ...], Field(max_length=2000)] = ()
    loops: Annotated[int, Field(ge=0, le=1000)] = 0
    colours: Annotated[int, Field(ge=2, le=256)] = 256
    dither: Literal["ordered", "diffused", "none"] = "ordered"
    loudness: Annotated[float, Field(ge=-40, le=-8, allow_inf_nan=False)] | None = None
    true_peak: Annotated[float, Field(ge=-20, le=0, allow_inf_nan=False)] = -1.0
    name: Annotated[str, Field(min_length=1, max_length=200)] = "{scene}"

    @property
    def formats(self) -> tuple[str, ...]:
        """All formats that are wanted, each once."""
        return tuple(dict.fromkeys((self.format, *self.also)))
