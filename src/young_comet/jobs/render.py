"""Rendering a scene to a file by an engine.

A video is cut into as many parts as the engine is wide. Each is rendered and encoded by itself; the
parts are joined without encoding again.
"""

from __future__ import annotations

import json
import os
import shutil
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ..core.audio import sample_at
from ..core.export import (
    SOUND_FORMATS,
    VIDEOS,
    Loudness,
    RenderSettings,
    Soundtrack,
    frame_range,
    join_parts,
    join_zips,
    levelled,
    video_size,
    write_sound,
)
from ..core.mix import SceneMix, is_heard
from ..core.model import Project
from ..core.paint import CacheLimits, output_size, shared_out
from ..core.resolve import SceneEvaluator
from ..edits.patch import plain
from ..errors import DocumentError, RenderCancelled, RenderError, StorageFullError
from ..store.assets import AssetStore
from .engine import FramesDone, GapFound, PartDone, PartFailed, RenderEngine, RenderPart
from .part import storage_error

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


def render_scene(
    project: Project,
    scene_id: str,
    settings: RenderSettings,
    target: Path,
    assets_dir: Path,
    *,
    engine: RenderEngine,
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
        raise storage_error(error) from error
    try:
        if settings.format == "png":
            number = min(scene.rate.rate.frame_at(settings.at_s), scene.frame_count - 1)
            frames = range(number, number + 1)
            width, height = output_size(scene.width, scene.height, settings.scale)
            notice = ""
        else:
            frames = frame_range(scene, settings)
            width, height, notice = video_size(scene, settings)
        if settings.format in SOUND_FORMATS:
            heard = _heard(evaluator, frames, settings, assets_dir, folder, cancelled)
            if heard is None:
                raise DocumentError("nothing is heard in this scene", field="format")
            whole = folder / f"whole.{settings.format}"
            write_sound(whole, heard.track, settings.format)
            os.replace(whole, target)
            progress(len(frames), len(frames))
            notice, seconds = heard.notice(), time.monotonic() - started
            return RenderResult(target, 0, 0, len(frames), notice, seconds)
        limits = limits or shared_out(2048, engine.wide + 1)
        parts = _parts(project, scene_id, settings, frames, folder, assets_dir, engine.wide, limits)
        gaps = _run(engine, parts, len(frames), progress, cancelled)
        notices = [notice, _told(gaps)]
        whole = Path(parts[0].path)
        if settings.format == "frames":
            whole = folder / "whole.zip"
            join_zips([Path(p.path) for p in parts], whole)
        elif settings.format in VIDEOS:
            whole = folder / f"whole.{settings.format}"
            counts = [part.last - part.first for part in parts]
            heard = _heard(evaluator, frames, settings, assets_dir, folder, cancelled)
            join_parts(
                VIDEOS[settings.format], [Path(p.path) for p in parts], counts, scene.rate.rate,
                whole, heard.track if heard else None, settings.quality,
            )  # fmt: skip
            notices.append(heard.notice() if heard else "")
        notice = " ".join(each for each in notices if each)
        os.replace(whole, target)
    except OSError as error:
        raise storage_error(error) from error
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    seconds = time.monotonic() - started
    return RenderResult(target, width, height, len(frames), notice, seconds)


@dataclass(frozen=True)
class _Heard:
    """The sound of a render, and the layers that are silent as they cannot be read."""

    track: Soundtrack
    gaps: list[str]
    loudness: Loudness | None = None

    def notice(self) -> str:
        loud = "" if self.loudness is None else self.loudness.told()
        return " ".join(each for each in (_told(self.gaps), self.track.notice(), loud) if each)


def _heard(
    evaluator: SceneEvaluator,
    frames: range,
    settings: RenderSettings,
    assets_dir: Path,
    folder: Path,
    cancelled: Callable[[], bool],
) -> _Heard | None:
    """What is heard over a range of frames; None where nothing is, or is not wanted."""
    if not settings.sound or not is_heard(evaluator):
        return None
    mix = SceneMix(evaluator, AssetStore(assets_dir))
    if not mix.voices and not mix.faults:
        return None
    names = {layer.id: layer.name for layer in evaluator.scene.layers}
    gaps = [f"{names.get(layer_id, layer_id)!r}: {why}" for layer_id, why in mix.faults.items()]
    if gaps and settings.gaps == "stop":
        raise RenderError(f"the sound of layer {gaps[0]}")
    first, last = (
        sample_at(evaluator.rate.time_of(number)) for number in (frames.start, frames.stop)
    )

    def read(at: int, count: int) -> np.ndarray:
        if cancelled():
            raise RenderCancelled("the render was cancelled")
        return mix.samples(first + at, count)

    track = Soundtrack(last - first, read)
    if settings.loudness is None:
        return _Heard(track, gaps)
    track, loudness = levelled(track, settings.loudness, settings.true_peak, folder)
    return _Heard(track, gaps, loudness)


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
    wide: int,
    limits: CacheLimits,
) -> list[RenderPart]:
    document = json.dumps(plain(project))
    count = min(wide, max(1, len(frames) // 12))  # a process costs a second to start
    edges = [frames.start + round(len(frames) * i / count) for i in range(count + 1)]
    return [
        RenderPart(
            document, scene_id, settings.model_dump(), edges[i], edges[i + 1],
            str(part_path(folder, i, settings.format)), str(assets_dir), limits,
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
    engine: RenderEngine,
    parts: list[RenderPart],
    total: int,
    progress: Progress,
    cancelled: Callable[[], bool],
) -> list[str]:
    """Has the parts rendered and listens until all are done; tells what they could not draw."""
    done = [0] * len(parts)
    finished: set[int] = set()
    gaps: dict[str, None] = {}
    run = engine.submit(parts)
    try:
        while len(finished) < len(parts):
            if cancelled():
                raise RenderCancelled("the render was cancelled")
            report = run.next_report(0.1)
            match report:
                case FramesDone(part, frames):
                    done[part] = frames
                    progress(sum(done), total)
                case PartDone(part):
                    finished.add(part)
                case GapFound(_, words):
                    gaps[words] = None
                case PartFailed(_, words, full):
                    raise StorageFullError(words) if full else RenderError(words)
    finally:
        run.close()
    return list(gaps)
