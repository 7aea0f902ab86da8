"""How large and how long in coming the files of a render will be, before it is made.

Renders of the same scene tell best; without any, what the demo's scenes gave on a plain machine
with two processors.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..core.export import FileFormat, RenderSettings
from ..store.renders import RenderRecord

# Bytes for each pixel of each frame at good quality; how many times that others have.
_BYTES = {
    "mp4": 0.013, "mov": 0.75, "webm": 0.012, "gif": 0.08, "webp": 0.024, "apng": 0.75,
    "frames": 0.78, "png": 0.78, "jpeg": 0.16, "webp-still": 0.06,
    "review": 0.0174, "svg": 0.78,
}  # fmt: skip
_TIMES = {"draft": 0.6, "good": 1.0, "best": 2.6}
# Bytes of what is as large however long the scene is.
_PAGES = {"sheet": 900_000, "sheet-pdf": 350_000}
# Bytes for each second of sound, alone or beside pictures.
_HEARD = {
    "wav": 288_000,
    "flac": 150_000,
    "mov": 288_000,
    "mp4": 24_000,
    "webm": 20_000,
    "review": 32_000,
}
# Seconds for each million pixels: composing them once, and encoding each format; and to start.
_COMPOSE, _START = 0.022, 1.5
_ENCODE = {
    "mp4": 0.006, "mov": 0.03, "webm": 0.06, "gif": 0.22, "webp": 0.05, "apng": 0.12,
    "frames": 0.1, "png": 0.1, "jpeg": 0.02, "webp-still": 0.15,
    "review": 0.006, "svg": 0.1,
}  # fmt: skip


@dataclass(frozen=True)
class Estimate:
    """Bytes of all files together, and seconds until they are there."""

    size_bytes: int
    seconds: float


def estimated(
    formats: list[FileFormat], settings: RenderSettings, pixels: int, frames: int,
    lasts_s: float, heard: bool, before: Iterable[RenderRecord] = (),
) -> Estimate:  # fmt: skip
    """The files of a render of ``frames`` frames of so many pixels that last ``lasts_s``;
    ``before`` are renders of the same scene, the newest first."""
    drawn = pixels * frames
    size, seconds = 0.0, _START
    if any(each.film or each.still for each in formats):
        seconds += _COMPOSE * drawn / 1e6
    for each in formats:
        times = _TIMES[settings.quality] if each.qualities else 1.0
        size += _BYTES.get(each.id, 0.0) * times * drawn + _PAGES.get(each.id, 0)
        seconds += _ENCODE.get(each.id, 0.0) * drawn / 1e6
        if heard and (each.sound or (each.heard and settings.sound)):
            size += _HEARD[each.id] * lasts_s
    for record in before:
        told = RenderSettings.model_validate(record.settings)
        alike = (told.formats, told.quality, told.transparent, told.layers)
        if alike != (settings.formats, settings.quality, settings.transparent, settings.layers):
            continue
        done = record.width * record.height * record.total
        if record.status == "done" and done and drawn:
            # Fewer pixels have more to tell each: they cost a little more.
            share = (drawn / done) ** 0.9
            return Estimate(round(record.size_bytes * share), record.seconds * share)
    return Estimate(round(size), seconds)
