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
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from ..core.audio import sample_at
from ..core.export import (
    FileFormat,
    Loudness,
    Part,
    RenderSettings,
    Soundtrack,
    Telling,
    checked,
    fitted,
    levelled,
    moments_of,
    picture_size,
    write_sound,
)
from ..core.frame.resolved import ResolvedFrame
from ..core.mix import SceneMix, is_heard
from ..core.model import Project
from ..core.paint import CacheLimits, MediaLibrary, shared_out
from ..core.resolve import SceneEvaluator
from ..edits.patch import plain
from ..errors import DocumentError, RenderCancelled, RenderError, StorageFullError
from ..store.assets import AssetStore
from .engine import FramesDone, GapFound, PartDone, PartFailed, RenderEngine, RenderPart
from .part import POSTER, film_of, part_file, storage_error

Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class RenderResult:
    """The first file that was written; ``notice`` tells of odd sizes that had to change, of what
    could not be drawn, and how loud it is where it was brought to a loudness."""

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
    target: Path | Mapping[str, Path],
    assets_dir: Path,
    *,
    engine: RenderEngine,
    limits: CacheLimits | None = None,
    progress: Progress = lambda done, total: None,
    cancelled: Callable[[], bool] = lambda: False,
    poster: Path | None = None,
) -> RenderResult:
    """Renders to ``target``, which appears only when it is whole; a render of several formats to
    one path for each of them. A small picture of a film's middle goes to ``poster``.

    Raises RenderCancelled when ``cancelled`` turns true, StorageFullError when the disk is
    full, DocumentError for settings that do not fit the scene, RenderError for the rest.
    """
    started = time.monotonic()
    scene = SceneEvaluator(project, scene_id).scene
    formats = checked(scene, settings)
    settings = fitted(scene, settings)
    targets: dict[str, Path] = (
        {settings.format: target} if isinstance(target, Path) else dict(target)
    )
    first = next(iter(targets.values()))
    try:
        for path in targets.values():
            path.parent.mkdir(parents=True, exist_ok=True)
        folder = Path(tempfile.mkdtemp(prefix=".render-", dir=first.parent))
    except OSError as error:
        raise storage_error(error) from error
    job = _Job(project, scene_id, settings, formats, folder, assets_dir, progress, cancelled)
    try:
        width, height, count, notice = job.run(engine, limits or shared_out(2048, engine.wide + 1))
        for each in formats:
            os.replace(job.whole(each), targets[each.id])
        if poster is not None:
            for found in folder.glob(f"*.{POSTER}"):
                os.replace(found, poster)
    except OSError as error:
        raise storage_error(error) from error
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return RenderResult(first, width, height, count, notice, time.monotonic() - started)


class _Job:
    """One render on its way, in a folder of its own."""

    def __init__(
        self, project: Project, scene_id: str, settings: RenderSettings, formats: list[FileFormat],
        folder: Path, assets_dir: Path, progress: Progress, cancelled: Callable[[], bool],
    ) -> None:  # fmt: skip
        self._project, self._scene_id, self._settings = project, scene_id, settings
        self._formats, self._folder, self._assets_dir = formats, folder, assets_dir
        self._progress, self._cancelled = progress, cancelled
        ears = MediaLibrary(AssetStore(assets_dir))  # gains may go by what is heard
        self._evaluator = SceneEvaluator(project, scene_id, library=ears)
        self._scene = self._evaluator.scene
        self._total = self._composed = self._gone_through = 0

    def whole(self, format: FileFormat) -> Path:
        """Where the file of a format is made."""
        return self._folder / f"whole.{format.ending}"

    def run(self, engine: RenderEngine, limits: CacheLimits) -> tuple[int, int, int, str]:
        """Makes all files: width and height (0 where there are no pictures), how many frames, and
        what a person should know."""
        pictured = [each for each in self._formats if each.film or each.still]
        if self._formats[0].still:
            number = self._scene.rate.rate.frame_at(self._settings.at_s)
            first, count = min(number, self._scene.frame_count - 1), 1
        else:
            first, count = 0, moments_of(self._scene, self._settings).count
        films = [each for each in pictured if each.film]
        passes = sum(each.film.passes - 1 for each in films if each.film)
        self._total = count * (passes + (1 if pictured else 0)) or count
        notices = [self._told_before(each) for each in pictured]
        heard = self._heard()
        if heard is None and any(each.sound for each in self._formats):
            raise DocumentError("nothing is heard in this scene", field="format")
        width = height = 0
        stems: list[Part] = []
        if pictured:
            width, height, _ = picture_size(self._scene, self._settings, pictured[0])
            parts = self._parts(first, count, engine.wide, limits)
            notices.append(_told(self._rendered(engine, parts)))
            stems = [Part(Path(part.path), part.first, part.last) for part in parts]
        for each in self._formats:
            self._finish(each, stems, heard.track if heard else None)
        if heard is not None:  # how loud it was is known once it has been read
            notices.append(heard.notice())
        self._progress(self._total, self._total)
        return width, height, count, " ".join(dict.fromkeys(each for each in notices if each))

    def _told_before(self, format: FileFormat) -> str:
        return picture_size(self._scene, self._settings, format)[2]

    def _finish(self, format: FileFormat, stems: list[Part], sound: Soundtrack | None) -> None:
        """The whole file of a format."""
        target = self.whole(format)
        if format.still:
            os.replace(part_file(str(stems[0].path), format.id), target)
        elif format.film:
            parts = [
                Part(part_file(str(each.path), format.id), each.first, each.last) for each in stems
            ]
            film = film_of(self._scene, self._settings, format)
            track = sound if sound is not None and format.heard else None
            format.film.finish(film, parts, target, track, self._tick)
            self._gone_through += film.moments.count * (format.film.passes - 1)
        elif format.told:
            target.write_text(format.told(self._telling()), encoding="utf-8")
        else:
            assert sound is not None
            write_sound(target, sound, format.sound)

    def _telling(self) -> Telling:
        moments = moments_of(self._scene, self._settings)
        alone = set(self._settings.layers)
        hidden = {la.id for la in self._scene.layers if alone and la.id not in alone}

        def frames() -> Iterator[tuple[float, ResolvedFrame]]:
            for index in range(moments.count):
                self._heed()
                time_s = moments.time(index)
                yield time_s - moments.span[0], self._evaluator.at(time_s, without=hidden)

        return Telling(self._project, self._evaluator, self._settings, moments, frames)

    def _tick(self, done: int) -> None:
        """A pass over all frames, beside composing them, is so far."""
        self._heed()
        self._progress(min(self._total, self._composed + self._gone_through + done), self._total)

    def _heed(self) -> None:
        if self._cancelled():
            raise RenderCancelled("the render was cancelled")

    def _parts(self, first: int, count: int, wide: int, limits: CacheLimits) -> list[RenderPart]:
        document = json.dumps(plain(self._project))
        number = min(wide, max(1, count // 12))  # a process costs a second to start
        edges = [first + round(count * i / number) for i in range(number + 1)]
        return [
            RenderPart(
                document, self._scene_id, self._settings.model_dump(), edges[i], edges[i + 1],
                str(part_path(self._folder, i)), str(self._assets_dir), limits,
                poster=first + count // 2,
            )
            for i in range(number)
        ]  # fmt: skip

    def _rendered(self, engine: RenderEngine, parts: list[RenderPart]) -> list[str]:
        """Has the parts rendered and listens until all are done; tells what they could not draw."""
        done = [0] * len(parts)
        finished: set[int] = set()
        gaps: dict[str, None] = {}
        run = engine.submit(parts)
        try:
            while len(finished) < len(parts):
                self._heed()
                report = run.next_report(0.1)
                match report:
                    case FramesDone(part, frames):
                        done[part] = frames
                        self._composed = sum(done)
                        self._progress(self._composed, self._total)
                    case PartDone(part):
                        finished.add(part)
                    case GapFound(_, words):
                        gaps[words] = None
                    case PartFailed(_, words, full):
                        raise StorageFullError(words) if full else RenderError(words)
        finally:
            run.close()
        return list(gaps)

    def _heard(self) -> _Heard | None:
        """What is heard over the range; None where nothing is, or is not wanted."""
        wanted = any(each.sound or (each.heard and self._settings.sound) for each in self._formats)
        if not wanted or not is_heard(self._evaluator):
            return None
        mix = SceneMix(self._evaluator, AssetStore(self._assets_dir))
        if not mix.voices and not mix.faults:
            return None
        names = {layer.id: layer.name for layer in self._scene.layers}
        gaps = [f"{names.get(layer_id, layer_id)!r}: {why}" for layer_id, why in mix.faults.items()]
        if gaps and self._settings.gaps == "stop":
            raise RenderError(f"the sound of layer {gaps[0]}")
        first, last = map(sample_at, moments_of(self._scene, self._settings).span)

        def read(at: int, count: int) -> np.ndarray:
            self._heed()
            return mix.samples(first + at, count)

        track = Soundtrack(last - first, read)
        if self._settings.loudness is None:
            return _Heard(track, gaps)
        loudness, limit = self._settings.loudness, self._settings.true_peak
        track, found = levelled(track, loudness, limit, self._folder)
        return _Heard(track, gaps, found)


@dataclass(frozen=True)
class _Heard:
    """The sound of a render, and the layers that are silent as they cannot be read."""

    track: Soundtrack
    gaps: list[str]
    loudness: Loudness | None = None

    def notice(self) -> str:
        loud = "" if self.loudness is None else self.loudness.told()
        return " ".join(each for each in (_told(self.gaps), self.track.notice(), loud) if each)


def part_path(folder: Path, index: int) -> Path:
    """What the files of a part begin with."""
    return folder / f"part-{index}"


def _told(gaps: list[str]) -> str:
    """What is missing in a video that went on, in words."""
    if not gaps:
        return ""
    more = f" and {len(gaps) - 3} more" if len(gaps) > 3 else ""
    return "Marked as missing: " + "; ".join(gaps[:3]) + more + "."
