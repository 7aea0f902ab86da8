"""The formats of files that a scene can be handed over in: one registry that jobs, the command
line, the API and the page go by.

A format with moving pictures has a ``Filming``, a still a function of pixels or of what a frame
consists of, sound alone the name of its container, and what only tells of a scene a function of
what is known of it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from ...errors import DocumentError
from ..frame.resolved import ResolvedFrame
from ..model import Scene
from ..paint import output_size
from ..pixels.colour import parse_colour
from ..registry import Registry
from .contact import MOST_TILES, PDF_SHEET, PNG_SHEET
from .films import Filming
from .frames import Zipped
from .gathered import GIF, GIF_MOST_FPS
from .moments import moments_of
from .patches import APNG, WEBP
from .review import REVIEW
from .settings import RenderSettings
from .still import Still, encode_jpeg, encode_png, encode_webp
from .telling import Telling
from .timeline import timeline_of
from .vector import pictured, write_svg
from .videos import MOV, MP4, WEBM
from .words import words_of

MAX_SIDE = 8192


@dataclass(frozen=True)
class FileFormat:
    """``purpose`` is what it is for, ``label`` what it is. ``alpha`` tells whether what is
    transparent stays so, ``even`` whether sides must be, ``heard`` whether there is sound beside
    its pictures, ``drawn`` whether it holds paths where that can be. ``shown`` is how a page shows
    it, "" where it cannot."""

    id: str
    purpose: str
    label: str
    ending: str
    media_type: str
    shown: Literal["video", "picture", "sound", "page", ""]
    film: Filming | None = None
    still: Still | None = None
    sound: str = ""
    told: Callable[[Telling], str] | None = None
    alpha: bool = False
    even: bool = False
    heard: bool = False
    qualities: bool = False
    drawn: bool = False
    most_fps: float | None = None

    def facts(self) -> dict[str, object]:
        """What a page asks of it."""
        holds = (
            "film" if self.film else "still" if self.still else "words" if self.told else "sound"
        )
        return {
            "id": self.id, "purpose": self.purpose, "label": self.label, "ending": self.ending,
            "holds": holds, "shown": self.shown, "alpha": self.alpha, "heard": self.heard,
            "qualities": self.qualities, "animation": self.film in (GIF, APNG, WEBP),
        }  # fmt: skip


_WEBPS = {"draft": 60, "good": 85, "best": 100}
_JPEGS = {"draft": 75, "good": 92, "best": 98}

FORMATS: Registry[FileFormat] = Registry(
    "format",
    (
        FileFormat(
            "mp4", "Web and players", "MP4, H.264", "mp4", "video/mp4", "video", MP4, even=True,
            heard=True, qualities=True,
        ),
        FileFormat(
            "mov", "To lay over footage", "MOV, ProRes 4444", "mov", "video/quicktime", "", MOV,
            alpha=True, heard=True,
        ),
        FileFormat(
            "webm", "Over a web page", "WebM, VP9", "webm", "video/webm", "video", WEBM, alpha=True,
            even=True, heard=True, qualities=True,
        ),
        FileFormat(
            "review", "For a client's notes", "Page for review", "html", "text/html", "page",
            REVIEW, even=True, heard=True, qualities=True,
        ),
        FileFormat(
            "gif", "In a message", "GIF", "gif", "image/gif", "picture", GIF,
            alpha=True, most_fps=GIF_MOST_FPS,
        ),
        FileFormat(
            "webp", "On a page", "WebP, animated", "webp", "image/webp", "picture", WEBP,
            alpha=True, qualities=True,
        ),
        FileFormat(
            "apng", "Page, without loss", "APNG", "apng", "image/apng", "picture", APNG,
            alpha=True,
        ),
        FileFormat(
            "frames", "Frames", "PNG, numbered, zipped", "zip", "application/zip", "", Zipped(),
            alpha=True,
        ),
        FileFormat(
            "png", "This frame", "PNG", "png", "image/png", "picture",
            still=lambda moment: encode_png(moment.pixels), alpha=True,
        ),
        FileFormat(
            "jpeg", "This frame, small", "JPEG", "jpg", "image/jpeg", "picture",
            still=lambda moment: encode_jpeg(moment.pixels, _JPEGS[moment.settings.quality]),
            qualities=True,
        ),
        FileFormat(
            "webp-still", "This frame, for a page", "WebP", "webp", "image/webp", "picture",
            still=lambda moment: encode_webp(moment.pixels, _WEBPS[moment.settings.quality]),
            alpha=True, qualities=True,
        ),
        FileFormat(
            "svg", "This frame, as paths", "SVG", "svg", "image/svg+xml", "picture",
            still=lambda moment: write_svg(moment.frame, moment.size, moment.texts, moment.draw),
            alpha=True, drawn=True,
        ),
        FileFormat(
            "sheet", "For approval", "Contact sheet, PNG", "sheet.png", "image/png", "picture",
            PNG_SHEET,
        ),
        FileFormat(
            "sheet-pdf", "For approval, printed", "Contact sheet, PDF", "pdf", "application/pdf",
            "", PDF_SHEET,
        ),
        FileFormat("vtt", "The words", "WebVTT", "vtt", "text/vtt", "", told=words_of),
        FileFormat(
            "otio", "For cutting programs", "OpenTimelineIO", "otio",
            "application/vnd.opentimelineio+json", "", told=timeline_of,
        ),
        FileFormat("wav", "Sound alone", "WAV, 24 bits", "wav", "audio/wav", "sound", sound="wav"),
        FileFormat(
            "flac", "Sound, smaller", "FLAC, 24 bits", "flac", "audio/flac", "sound",
            sound="flac",
        ),
    ),
)  # fmt: skip


def wanted(settings: RenderSettings) -> list[FileFormat]:
    """The formats of a render; DocumentError where a still is to be made beside something else
    (it is of one moment) or two files would be called alike."""
    found = [FORMATS.known(each, "format") for each in settings.formats]
    if any(each.still for each in found) and not all(each.still for each in found):
        raise DocumentError(
            "a single frame and something that lasts cannot be rendered at once", field="also"
        )
    endings = [each.ending for each in found]
    if len(set(endings)) < len(endings):
        raise DocumentError("two of the formats would have the same file name", field="also")
    return found


def fitted(scene: Scene, settings: RenderSettings) -> RenderSettings:
    """The settings as they are carried out: where contact sheets are all that is made, only about
    as many frames are composed as these show."""
    films = [each for each in wanted(settings) if each.film]
    if not films or settings.rate or settings.every > 1 or not all(_is_sheet(f) for f in films):
        return settings
    count = moments_of(scene, settings).count
    return settings.model_copy(update={"every": min(100, max(1, (count - 1) // (MOST_TILES - 1)))})


def _is_sheet(format: FileFormat) -> bool:
    return format.film in (PNG_SHEET, PDF_SHEET)


def is_opaque(scene: Scene) -> bool:
    """Whether a scene has a ground through which nothing shows."""
    return bool(scene.ground) and parse_colour(scene.ground or "")[3] >= 1


def ending_of(format: str) -> str:
    """How the names of files of a format end, without the dot."""
    return FORMATS.known(format, "format").ending


def by_ending(ending: str, *, still: bool = False) -> FileFormat | None:
    """The format of files whose names end so, of stills or of all that lasts."""
    for each in FORMATS.values():
        if each.ending == ending and bool(each.still) == still:
            return each
    return None


def picture_size(
    scene: Scene, settings: RenderSettings, format: FileFormat
) -> tuple[int, int, str]:
    """Width and height of a format's pictures, and a notice if odd sizes had to change ("" if
    not)."""
    width, height = output_size(scene.width, scene.height, settings.scale)
    if max(width, height) > MAX_SIDE:
        raise DocumentError.expected("scale", f"at most {MAX_SIDE} px a side", (width, height))
    if not format.even:
        return width, height, ""
    step = 1 if settings.odd == "pad" else -1
    even = (max(2, width + width % 2 * step), max(2, height + height % 2 * step))
    if even == (width, height):
        return (*even, "")
    done = "padded by a pixel" if settings.odd == "pad" else "cropped by a pixel"
    return (
        *even,
        f"{width} x {height} was {done} to {even[0]} x {even[1]}: {format.label} needs even sizes",
    )


def checked(scene: Scene, settings: RenderSettings) -> list[FileFormat]:
    """The formats of a render that fits its scene; DocumentError names what does not."""
    found = wanted(settings)
    known = {layer.id for layer in scene.layers}
    for layer_id in settings.layers:
        if layer_id not in known:
            raise DocumentError(f"there is no layer {layer_id!r} in this scene", field="layers")
    if found[0].still:
        if settings.at_s >= scene.length_s:
            words = f"a time before the scene's end at {scene.length_s:g} s"
            raise DocumentError.expected("at_s", words, settings.at_s)
        return found
    fps = moments_of(scene, settings).rate.fps
    for each in found:
        if each.most_fps is not None and fps > each.most_fps:
            raise DocumentError.expected(
                "every",
                f"at most {each.most_fps:g} frames a second in a {each.ending.upper()}: take every "
                "second frame, or a rate of its own",
                f"{fps:g}",
            )
    return found


def notes_of(
    scene: Scene, settings: RenderSettings, formats: list[FileFormat], heard: bool,
    frame: ResolvedFrame | None = None,
) -> Iterator[str]:  # fmt: skip
    """What of a scene its files cannot hold, in sentences, before they are made; ``frame`` is what
    a single one consists of."""
    for each in formats:
        if each.film or each.still:
            notice = picture_size(scene, settings, each)[2]
            if notice:
                yield f"{notice[0].upper()}{notice[1:]}."
            if not each.alpha and (settings.transparent or not is_opaque(scene)):
                below = (
                    "the scene's ground stays"
                    if is_opaque(scene)
                    else "the chosen ground lies below"
                )
                yield f"{each.label} cannot be seen through: {below}."
        if each.id == "gif":
            yield "A GIF has 255 colours, and pixels are either opaque or not there."
            hundredths = 100 / moments_of(scene, settings).rate.fps
            if abs(hundredths - round(hundredths)) > 1e-6:
                yield "Its frames last whole hundredths of a second, some longer than others."
        if each.film and not each.heard and heard and not _is_sheet(each):
            yield f"{each.label} has no sound."
        if each.drawn and frame is not None:
            yield from _pixels_in(scene, frame, each)


def _pixels_in(scene: Scene, frame: ResolvedFrame, format: FileFormat) -> Iterator[str]:
    """Which layers of a frame only pixels can show."""
    gone = set(pictured(frame))
    names = [layer.name for layer in scene.layers if layer.id in gone]
    if not names:
        return
    if len(names) == len(frame.layers):
        yield f"Nothing of this frame can be paths: the {format.label} holds it as a picture."
        return
    more = f" and {len(names) - 4} more" if len(names) > 4 else ""
    yield f"As pictures in the {format.label}: {', '.join(names[:4])}{more}."
