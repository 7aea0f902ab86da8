"""Rendering a scene to a file in processes of their own.

A video is cut into as many parts as there are processes. Each renders and encodes its part
with one thread; the parts are joined without encoding again. A crash of one process loses the
render, never the program.
"""

from __future__ import annotations

import errno
import json
import multiprocessing as mp
import os
import shutil
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from ..children import end_with
from ..core.catalog import check_project
from ..core.export import (
    QUALITIES,
    Mp4Writer,
    RenderSettings,
    encode_png,
    frame_range,
    join_parts,
    video_size,
)
from ..core.model import Project, load_project
from ..core.render import (
    CacheLimits,
    MediaLibrary,
    Renderer,
    SceneEvaluator,
    fault_words,
    output_size,
    shared_out,
)
from ..edits.patch import plain
from ..errors import RenderCancelled, RenderError, StorageFullError, YoungCometError
from ..store.assets import AssetStore

# So many different things that could not be drawn are told of one render.
MAX_GAPS = 20

Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class RenderResult:
    """The file that was written; ``notice`` tells of odd sizes that had to change, and of what
    could not be drawn."""

    path: Path
    width: int
    height: int
    frames: int
    notice: str
    seconds: float


@dataclass(frozen=True)
class _Part:
    """What one process gets: everything is plain data."""

    document: str
    scene_id: str
    settings: dict[str, Any]
    first: int
    last: int
    path: str
    assets: str
    limits: CacheLimits
    program: int
    frames_per_report: int = 5


def render_scene(
    project: Project,
    scene_id: str,
    settings: RenderSettings,
    target: Path,
    assets_dir: Path,
    *,
    processes: int = 2,
    limits: CacheLimits | None = None,
    progress: Progress = lambda done, total: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> RenderResult:
    """Renders to ``target``, which appears only when it is whole.

    Raises RenderCancelled when ``cancelled`` turns true, StorageFullError when the disk is
    full, DocumentError for settings that do not fit the scene, RenderError for the rest.
    """
    started = time.monotonic()
    evaluator = SceneEvaluator(project, scene_id)
    scene = evaluator.scene
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        folder = Path(tempfile.mkdtemp(prefix=".render-", dir=target.parent))
    except OSError as error:
        raise _storage_error(error) from error
    try:
        if settings.format == "png":
            number = min(scene.rate.rate.frame_at(settings.at_s), scene.frame_count - 1)
            frames = range(number, number + 1)
            width, height = output_size(scene.width, scene.height, settings.scale)
            notice = ""
        else:
            frames = frame_range(scene, settings)
            width, height, notice = video_size(scene, settings)
        limits = limits or shared_out(2048, processes + 1)
        parts = _parts(project, scene_id, settings, frames, folder, assets_dir, processes, limits)
        gaps = _run(parts, len(frames), progress, cancelled)
        notice = " ".join(each for each in (notice, _told(gaps)) if each)
        whole = Path(parts[0].path)
        if settings.format == "mp4":
            whole = folder / "whole.mp4"
            counts = [part.last - part.first for part in parts]
            join_parts([Path(p.path) for p in parts], counts, scene.rate.rate, whole)
        os.replace(whole, target)
    except OSError as error:
        raise _storage_error(error) from error
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    seconds = time.monotonic() - started
    return RenderResult(target, width, height, len(frames), notice, seconds)


def part_path(folder: Path, index: int, format: str) -> Path:
    """Where a part is written."""
    return folder / f"part-{index}.{format}"


def _parts(
    project: Project,
    scene_id: str,
    settings: RenderSettings,
    frames: range,
    folder: Path,
    assets_dir: Path,
    processes: int,
    limits: CacheLimits,
) -> list[_Part]:
    document = json.dumps(plain(project))
    count = min(processes, max(1, len(frames) // 12))  # a process costs a second to start
    edges = [frames.start + round(len(frames) * i / count) for i in range(count + 1)]
    return [
        _Part(
            document, scene_id, settings.model_dump(), edges[i], edges[i + 1],
            str(part_path(folder, i, settings.format)), str(assets_dir), limits,
            os.getpid(),
        )
        for i in range(count)
    ]  # fmt: skip


def _told(gaps: list[str]) -> str:
    """What is missing in a video that went on, in words."""
    if not gaps:
        return ""
    more = f" and {len(gaps) - 3} more" if len(gaps) > 3 else ""
    return "Marked as missing: " + "; ".join(gaps[:3]) + more + "."


def _run(
    parts: list[_Part], total: int, progress: Progress, cancelled: Callable[[], bool]
) -> list[str]:
    """Runs the parts side by side and listens to them until all are done; tells what they could
    not draw."""
    context = mp.get_context("forkserver")
    # Loaded once, in a process without threads from which the workers are forked.
    context.set_forkserver_preload(["__main__", __name__, "young_comet.core.pixels.yuv"])
    reports: Any = context.Queue()
    workers = [
        context.Process(target=_work, args=(part, index, reports), daemon=True)
        for index, part in enumerate(parts)
    ]
    done = [0] * len(parts)
    finished: set[int] = set()
    gaps: dict[str, None] = {}
    try:
        for worker in workers:
            worker.start()
        while len(finished) < len(parts):
            if cancelled():
                raise RenderCancelled("the render was cancelled")
            for index, worker in enumerate(workers):
                if index not in finished and worker.exitcode not in (None, 0) and reports.empty():
                    raise RenderError(
                        f"a render process ended unexpectedly (code {worker.exitcode})"
                    )
            try:
                index, kind, value = reports.get(timeout=0.1)
            except Exception:  # queue.Empty of the context's own queue
                continue
            if kind == "frames":
                done[index] = value
                progress(sum(done), total)
            elif kind == "done":
                finished.add(index)
            elif kind == "gap":
                gaps[value] = None
            elif kind == "full":
                raise StorageFullError(value)
            else:
                raise RenderError(value)
    finally:
        for worker in workers:
            if worker.is_alive():
                worker.terminate()
            if worker.pid is not None:
                worker.join(timeout=1)
            if worker.is_alive():  # it is in the middle of something long
                worker.kill()
        reports.close()
    return list(gaps)


def _work(part: _Part, index: int, reports: Any) -> None:
    """The body of a render process."""
    end_with(part.program)
    cv2.setNumThreads(1)
    try:
        _render_part(
            part,
            lambda count: reports.put((index, "frames", count)),
            lambda gap: reports.put((index, "gap", gap)),
        )
        reports.put((index, "done", 0))
    except StorageFullError as error:
        reports.put((index, "full", str(error)))
    except OSError as error:
        translated = _storage_error(error)
        kind = "full" if isinstance(translated, StorageFullError) else "failed"
        reports.put((index, kind, str(translated)))
    except YoungCometError as error:
        reports.put((index, "failed", str(error)))
    except Exception as error:
        reports.put((index, "failed", f"{type(error).__name__}: {error}"))


def _render_part(
    part: _Part, report: Callable[[int], None], missing: Callable[[str], None]
) -> None:
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
                missing(words)
        return pixels

    size = output_size(scene.width, scene.height, settings.scale)
    if settings.format == "png":
        pixels = drawn(part.first, transparent=settings.transparent)
        Path(part.path).write_bytes(encode_png(pixels))
        report(1)
        return
    width, height, _ = video_size(scene, settings)
    quality = QUALITIES[settings.quality]
    with Mp4Writer(Path(part.path), width, height, scene.rate.rate, quality) as writer:
        for number in range(part.first, part.last):
            writer.write(_sized(drawn(number), width, height))
            done = number - part.first + 1
            if done % part.frames_per_report == 0 or number == part.last - 1:
                report(done)


def _sized(pixels: np.ndarray, width: int, height: int) -> np.ndarray:
    """Cropped, or padded by repeating the last row and column, to an even size."""
    if pixels.shape[:2] == (height, width):
        return pixels
    pixels = pixels[:height, :width]
    grow = ((0, height - pixels.shape[0]), (0, width - pixels.shape[1]), (0, 0))
    return np.ascontiguousarray(np.pad(pixels, grow, mode="edge"))


def _storage_error(error: OSError) -> RenderError | StorageFullError:
    if error.errno == errno.ENOSPC:
        return StorageFullError("the disk is full: make room and render again")
    return RenderError(f"the result could not be written ({error})")
