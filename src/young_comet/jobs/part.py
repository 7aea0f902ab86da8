"""One part of a render: what every engine runs."""

from __future__ import annotations

import errno
import json
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np

from ..core.catalog import check_project
from ..core.export import (
    QUALITIES,
    VIDEOS,
    FrameZip,
    RenderSettings,
    encode_png,
    over_ground,
    video_size,
)
from ..core.export.writers import VideoWriter
from ..core.frame import fault_words
from ..core.model import Scene, load_project
from ..core.paint import MediaLibrary, Renderer, output_size
from ..core.resolve import SceneEvaluator
from ..errors import RenderError, StorageFullError, YoungCometError
from ..store.assets import AssetStore
from .engine import FramesDone, GapFound, PartDone, PartFailed, RenderPart, Report

# So many different things that could not be drawn are told of one render.
MAX_GAPS = 20
# Formats in which what is transparent stays so.
SEE_THROUGH = {"frames", *(each.id for each in VIDEOS.values() if each.alpha)}


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
    without = ("backdrop",) if settings.leave_out_backdrops else ()
    told: set[str] = set()

    def drawn(number: int, **more: bool) -> np.ndarray:
        pixels = renderer.render(evaluator.frame(number, leave_out=without), *size, **more)
        for fault in renderer.faults:
            words = fault_words(project, scene, fault)
            if settings.gaps == "stop":
                raise RenderError(f"frame {number}: {words}")
            if words not in told and len(told) < MAX_GAPS:
                told.add(words)
                report(GapFound(index, words))
        return pixels

    size = output_size(scene.width, scene.height, settings.scale)
    if settings.format == "png":
        pixels = drawn(part.first, transparent=settings.transparent)
        Path(part.path).write_bytes(encode_png(pixels))
        report(FramesDone(index, 1))
        return
    width, height, _ = video_size(scene, settings)
    clear = settings.transparent and settings.format in SEE_THROUGH
    with _writer(part, settings, scene, (width, height)) as writer:
        for number in range(part.first, part.last):
            pixels = drawn(number, transparent=clear)
            if settings.format not in SEE_THROUGH:
                pixels = over_ground(pixels, settings.ground)
            writer.write(_sized(pixels, width, height))
            done = number - part.first + 1
            if done % part.frames_per_report == 0 or number == part.last - 1:
                report(FramesDone(index, done))


def _writer(
    part: RenderPart, settings: RenderSettings, scene: Scene, size: tuple[int, int]
) -> VideoWriter | FrameZip:
    """What takes the frames of a part."""
    path = Path(part.path)
    if settings.format == "frames":
        name = re.sub(r"[^A-Za-z0-9]+", "-", scene.name).strip("-").lower() or "frame"
        return FrameZip(path, name, part.first)
    writer = VIDEOS[settings.format].writer
    return writer(path, *size, scene.rate.rate, QUALITIES[settings.quality])


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
