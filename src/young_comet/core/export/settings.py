"""What a person chooses for a render."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from ...errors import DocumentError
from ..model import Scene
from ..model.document import Colour
from ..paint import output_size
from .videos import VIDEOS

MAX_SIDE = 8192


class RenderSettings(BaseModel):
    """A video of a range, its sound alone, or a still of one moment.

    ``from_s`` and ``to_s`` bound the range (the end is not included; None: those of the scene's
    working range, which is the whole scene where none is set);
    ``at_s`` is the still's moment. ``odd`` tells what happens to odd sizes in a video, whose
    format needs even ones. ``frames`` are numbered PNG files in a zip. ``transparent`` leaves the
    ground colour out where a file can hold that, and ``leave_out_backdrops`` the backdrop layers
    too. ``gaps`` tells what happens where something cannot be drawn or heard: the render stops and
    says what, or goes on with a mark in its place. ``ground`` lies below what is transparent where
    a file cannot hold that. ``sound`` is whether a video has the scene's sound; where nothing is
    heard it has none anyway. ``loudness`` (LUFS) is what the sound is brought to, its true peaks held
    below ``true_peak`` (dBTP); None leaves it as it is mixed.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: Literal["mp4", "mov", "webm", "frames", "png", "wav", "flac"] = "mp4"
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
    loudness: Annotated[float, Field(ge=-40, le=-8, allow_inf_nan=False)] | None = None
    true_peak: Annotated[float, Field(ge=-20, le=0, allow_inf_nan=False)] = -1.0


def ending_of(format: str) -> str:
    """How the names of files of a format end, without the dot."""
    return {"frames": "zip"}.get(format, format)


def frame_range(scene: Scene, settings: RenderSettings) -> range:
    """Numbers of the frames whose start lies in the range; DocumentError if there are none."""
    rate = scene.rate.rate
    start_s, end_s = scene.working_range
    start_s = start_s if settings.from_s is None else settings.from_s
    end_s = end_s if settings.to_s is None else min(settings.to_s, scene.length_s)
    first = rate.nearest_frame(start_s)
    last = min(rate.nearest_frame(end_s), scene.frame_count)
    if settings.to_s is None and scene.range_s is None:
        last = scene.frame_count
    if last <= first:
        raise DocumentError(
            f"from {start_s:g} s to {end_s:g} s there is no frame "
            f"(the scene is {scene.length_s:g} s long)",
            field="range",
        )
    return range(first, last)


def needs_even(settings: RenderSettings) -> bool:
    """Whether the sides of the file's pictures must be even."""
    return settings.format in VIDEOS and VIDEOS[settings.format].even


def video_size(scene: Scene, settings: RenderSettings) -> tuple[int, int, str]:
    """Even width and height of the video, and a notice if odd sizes had to change ("" if not)."""
    width, height = output_size(scene.width, scene.height, settings.scale)
    if max(width, height) <= MAX_SIDE and not needs_even(settings):
        return width, height, ""
    if max(width, height) > MAX_SIDE:
        raise DocumentError.expected("scale", f"at most {MAX_SIDE} px a side", (width, height))
    step = 1 if settings.odd == "pad" else -1
    even = (max(2, width + width % 2 * step), max(2, height + height % 2 * step))
    if even == (width, height):
        return (*even, "")
    done = "padded by a pixel" if settings.odd == "pad" else "cropped by a pixel"
    return (
        *even,
        f"{width} x {height} was {done} to {even[0]} x {even[1]}: "
        f"{'H.264' if settings.format == 'mp4' else 'VP9 with alpha'} needs even sizes",
    )
