"""One part of a render: what every engine runs."""

from __future__ import annotations

import errno
import json
from collections.abc import Callable, Iterator
from contextlib import ExitStack
from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np

from ..core.catalog import check_project
from ..core.export import (
    FileFormat,
    Film,
    FrameSink,
    Moment,
    Part,
    RenderSettings,
    checked,
    encode_poster,
    is_opaque,
    moments_of,
    over_ground,
    picture_size,
)
from ..core.frame import fault_words
from ..core.frame.resolved import ResolvedFrame
from ..core.model import Scene, load_project
from ..core.paint import MediaLibrary, Renderer, output_size
from ..core.resolve import SceneEvaluator
from ..errors import RenderError, StorageFullError, YoungCometError
from ..store.assets import AssetStore
from .engine import FramesDone, GapFound, PartDone, PartFailed, RenderPart, Report

# So many different things that could not be drawn are told of one render.
MAX_GAPS = 20
# What a small picture of a render ends in.
POSTER = "poster.jpg"


def render_part(part: RenderPart, index: int, report: Callable[[Report], object]) -> None:
    """Renders a part and reports how far it is, how it ended. Never raises."""
    try:
        _render(part, index, report)
        report(PartDone(index))
    except OSError as error:
        translated = storage_error(error)
        report(PartFailed(index, str(translated), isinstance(translated, StorageFullError)))
    except YoungCometError as error:
        report(PartFailed(index, str(error), isinstance(error, StorageFullError)))
    except Exception as error:  # noqa: BLE001
        report(PartFailed(index, f"{type(error).__name__}: {error}"))


def _render(part: RenderPart, index: int, report: Callable[[Report], object]) -> None:
    project = check_project(load_project(json.loads(part.document)))
    settings = RenderSettings.model_validate(part.settings)
    assets = AssetStore(Path(part.assets))
    library = MediaLibrary(assets, drawings=assets, limit_bytes=part.limits.media)
    evaluator = SceneEvaluator(project, part.scene_id, library=library)
    scene = evaluator.scene
    renderer = Renderer(library, limit_bytes=part.limits.frames)
    kinds = ("backdrop",) if settings.leave_out_backdrops else ()
    alone = set(settings.layers)
    hidden = {la.id for la in scene.layers if la.id not in alone} if alone else set()
    size = output_size(scene.width, scene.height, settings.scale)
    told: set[str] = set()

    def frame_at(time_s: float) -> ResolvedFrame:
        return evaluator.at(time_s, leave_out=kinds, without=hidden)

    def pixels_of(frame: ResolvedFrame, time_s: float, clear: bool = False) -> np.ndarray:
        pixels = renderer.render(frame, *size, transparent=clear)
        for fault in renderer.faults:
            words = fault_words(project, scene, fault)
            if settings.gaps == "stop":
                raise RenderError(f"frame {evaluator.rate.frame_at(time_s)}: {words}")
            if words not in told and len(told) < MAX_GAPS:
                told.add(words)
                report(GapFound(index, words))
        return pixels

    def drawn(time_s: float, clear: bool) -> np.ndarray:
        return pixels_of(frame_at(time_s), time_s, clear)

    formats = [each for each in checked(scene, settings) if each.film or each.still]
    if formats[0].still:
        time_s = scene.rate.rate.time_of(part.first)
        frame = frame_at(time_s)
        if settings.transparent:
            frame = replace(frame, ground=None)
        for each, pixels in _for_formats(formats, settings, partial(drawn, time_s)):
            assert each.still is not None
            moment = Moment(pixels, frame, settings, library, partial(pixels_of, time_s=time_s))
            part_file(part.path, each.id).write_bytes(each.still(moment))
        report(FramesDone(index, 1))
        return
    moments = moments_of(scene, settings)
    with ExitStack() as open_files:
        sinks: dict[str, FrameSink] = {}
        sizes: dict[str, tuple[int, int]] = {}
        for each in formats:
            assert each.film is not None
            film = film_of(scene, settings, each)
            own = Part(part_file(part.path, each.id), part.first, part.last)
            sinks[each.id] = open_files.enter_context(each.film.begin(film, own))
            sizes[each.id] = film.size
        for number in range(part.first, part.last):
            time_s = moments.time(number)
            for each, pixels in _for_formats(formats, settings, partial(drawn, time_s)):
                sinks[each.id].write(_sized(pixels, *sizes[each.id]))
                if number == part.poster and each is formats[0]:
                    part_file(part.path, POSTER).write_bytes(encode_poster(pixels))
            done = number - part.first + 1
            if done % part.frames_per_report == 0 or number == part.last - 1:
                report(FramesDone(index, done))


def part_file(stem: str, format: str) -> Path:
    """The file of a part for a format."""
    return Path(f"{stem}.{format}")


def film_of(scene: Scene, settings: RenderSettings, format: FileFormat) -> Film:
    """What all parts of a format's film have in common."""
    width, height, _ = picture_size(scene, settings, format)
    clear = settings.transparent or not is_opaque(scene)
    return Film((width, height), moments_of(scene, settings), settings, scene.name, clear, scene.id)


def _for_formats(
    formats: list[FileFormat], settings: RenderSettings, drawn: Callable[[bool], np.ndarray]
) -> Iterator[tuple[FileFormat, np.ndarray]]:
    """The pixels of a moment for each format, composed once for all, or once for those that can be
    seen through and once for the others: blending on a ground is not laying it below."""
    made: dict[bool, np.ndarray] = {}
    for each in formats:
        clear = settings.transparent and each.alpha
        if clear not in made:
            made[clear] = drawn(clear)
        pixels = made[clear]
        yield each, pixels if each.alpha else over_ground(pixels, settings.ground)


def _sized(pixels: np.ndarray, width: int, height: int) -> np.ndarray:
    """Cropped, or padded by repeating the last row and column, to an even size."""
    if pixels.shape[:2] == (height, width):
        return pixels
    pixels = pixels[:height, :width]
    grow = ((0, height - pixels.shape[0]), (0, width - pixels.shape[1]), (0, 0))
    return np.ascontiguousarray(np.pad(pixels, grow, mode="edge"))


def storage_error(error: OSError) -> RenderError | StorageFullError:
    """What the disk says, in words."""
    if error.errno == errno.ENOSPC:
        return StorageFullError("the disk is full: make room and render again")
    return RenderError(f"the result could not be written ({error})")
