"""Speed and memory of the demo scenes: evaluate, compose, encode, and the whole render.

Of all of them, or of those whose ids are given.
"""

from __future__ import annotations

import multiprocessing as mp
import statistics
import sys
import tempfile
import time
from pathlib import Path

import cv2
import numpy as np

from young_comet.config import Config
from young_comet.core.export import QUALITIES, Mp4Writer, RenderSettings
from young_comet.core.paint import MediaLibrary, Renderer, shared_out
from young_comet.core.resolve import SceneEvaluator
from young_comet.demo import DEMO_ID, ensure_demo
from young_comet.jobs import LocalProcesses, render_scene
from young_comet.store import DataFolder


def compose(folder: DataFolder, scene_id: str, scale: float) -> tuple[list[np.ndarray], dict]:
    """All frames of a scene, and the medians (ms) of evaluating and composing one."""
    project = folder.workspace.state(DEMO_ID).project
    evaluator = SceneEvaluator(project, scene_id)
    scene = evaluator.scene
    size = (round(scene.width * scale), round(scene.height * scale))
    renderer = Renderer(MediaLibrary(folder.assets, drawings=folder.assets))
    frames, evaluated, composed = [], [], []
    for number in range(scene.frame_count):
        start = time.perf_counter()
        frame = evaluator.frame(number)
        middle = time.perf_counter()
        frames.append(renderer.render(frame, *size))
        evaluated.append((middle - start) * 1e3)
        composed.append((time.perf_counter() - middle) * 1e3)
    return frames, {
        "evaluate": statistics.median(evaluated),
        "compose": statistics.median(composed),
        "mean": statistics.fmean(composed),
        "slowest": max(composed),
    }


def encode(frames: list[np.ndarray], path: Path) -> float:
    """Seconds of encoding frames that are there already, in this process, with one thread."""
    from young_comet.core.timing import Rate

    height, width = frames[0].shape[:2]
    start = time.perf_counter()
    with Mp4Writer(path, width, height, Rate(25), QUALITIES["good"]) as writer:
        for frame in frames:
            writer.write(frame)
    return time.perf_counter() - start


def as_rendered(folder: DataFolder, scene_id: str, path: Path) -> tuple[float, float, float]:
    """Milliseconds of processor time a frame for evaluating, composing and encoding at full size,
    one frame after the other with one thread, as a render process does it."""
    evaluator = SceneEvaluator(folder.workspace.state(DEMO_ID).project, scene_id)
    scene = evaluator.scene
    renderer = Renderer(MediaLibrary(folder.assets, drawings=folder.assets))
    threads = cv2.getNumThreads()
    cv2.setNumThreads(1)
    evaluated = composed = encoded = 0.0
    writer = Mp4Writer(path, scene.width, scene.height, evaluator.rate, QUALITIES["good"])
    for number in range(scene.frame_count):
        start = time.process_time()
        frame = evaluator.frame(number)
        drawing = time.process_time()
        pixels = renderer.render(frame, scene.width, scene.height)
        encoding = time.process_time()
        writer.write(pixels)
        evaluated += drawing - start
        composed += encoding - drawing
        encoded += time.process_time() - encoding
    start = time.process_time()
    writer.close()  # x264 looks ahead: the last frames are encoded now
    encoded += time.process_time() - start
    cv2.setNumThreads(threads)
    per_frame = 1e3 / scene.frame_count
    return evaluated * per_frame, composed * per_frame, encoded * per_frame


def _encode_half(stack: str, first: int, last: int, path: str, seconds: object) -> None:
    """Encodes a part of saved frames; counts only the encoding."""
    cv2.setNumThreads(1)
    frames = np.load(stack, mmap_mode="r")
    part = [np.ascontiguousarray(frames[n]) for n in range(first, last)]
    encode(part[:2], Path(path))  # loads and compiles whatever the first call needs
    seconds.put(encode(part, Path(path)))  # type: ignore[attr-defined]


def encode_in_two(frames: list[np.ndarray], tmp: Path) -> float:
    """Seconds of two processes side by side encoding half of the frames each."""
    stack = tmp / "frames.npy"
    np.save(stack, np.stack(frames))
    context = mp.get_context("spawn")
    results = context.Queue()
    half = len(frames) // 2
    spans = ((0, half), (half, len(frames)))
    workers = [
        context.Process(
            target=_encode_half, args=(str(stack), a, b, str(tmp / f"h{a}.mp4"), results)
        )
        for a, b in spans
    ]
    for worker in workers:
        worker.start()
    slowest = max(results.get(timeout=600) for _ in workers)
    for worker in workers:
        worker.join()
    stack.unlink()
    return slowest


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        tmp = Path(name)
        folder = DataFolder(Config(data=tmp / "data"))
        ensure_demo(folder)
        project = folder.workspace.state(DEMO_ID).project
        encode([np.zeros((32, 32, 4), np.uint8)] * 2, tmp / "warm.mp4")
        print("scene         size       evaluate compose   mean slowest | encode (ms, 1 thread)")
        wanted = sys.argv[1:] or [scene.id for scene in project.scenes]
        for scene in (each for each in project.scenes if each.id in wanted):
            for scale in (0.5, 1.0):
                frames, ms = compose(folder, scene.id, scale)
                seconds = encode(frames, tmp / "a.mp4")
                print(
                    f"{scene.name:13} {frames[0].shape[1]:4}x{frames[0].shape[0]:<5}"
                    f"{ms['evaluate']:9.2f} {ms['compose']:7.1f} {ms['mean']:6.1f}"
                    f" {ms['slowest']:7.1f} | {seconds / len(frames) * 1e3:6.1f}"
                )
                if scale == 1.0:
                    each = [as_rendered(folder, scene.id, tmp / "b.mp4") for _ in range(2)]
                    for evaluating, composing, encoding in each:
                        print(
                            f"{'':13} one process, one thread: evaluate {evaluating:.1f}, compose"
                            f" {composing:.1f}, encode {encoding:.1f} ms: compose / encode ="
                            f" {composing / encoding:.2f}"
                        )
                    alone = encode_in_two(frames, tmp)
                    count = len(frames)
                    del frames
                    long = [_render(folder, project, scene.id, tmp) for _ in range(2)][-1]
                    print(
                        f"{'':13} two processes: encoding alone {count / alone:.0f} fps,"
                        f" whole render {count / long:.0f} fps: ratio {long / alone:.2f}"
                    )
        print("peak memory of one render process:", f"{_worker_memory(folder, project):.0f} MB")
        folder.close()


def _render(folder: DataFolder, project, scene_id: str, tmp: Path) -> float:  # type: ignore[no-untyped-def]
    """Seconds from the first frame's report to the end: the processes' start is left out."""
    times: list[tuple[float, int]] = []
    settings = RenderSettings(quality="good")
    render_scene(
        project, scene_id, settings, tmp / "whole.mp4", folder.assets_dir, engine=LocalProcesses(2),
        progress=lambda done, total: times.append((time.perf_counter(), done)),
    )  # fmt: skip
    (first, before), (last, total) = times[0], times[-1]
    return (last - first) / max(1, total - before) * total


def _peak(data: str, queue) -> None:  # type: ignore[no-untyped-def]
    folder = DataFolder(Config(data=Path(data)), writing=False)
    project = folder.workspace.state(DEMO_ID).project
    evaluator = SceneEvaluator(project, project.scenes[-1].id)
    limits = shared_out(2048, Config().processes)  # as in a server with its other processes
    library = MediaLibrary(folder.assets, drawings=folder.assets, limit_bytes=limits.media)
    renderer = Renderer(library, limit_bytes=limits.frames)
    with Mp4Writer(Path(data) / "m.mp4", 1920, 1080, evaluator.rate, QUALITIES["good"]) as writer:
        for number in range(75):
            writer.write(renderer.render(evaluator.frame(number), 1920, 1080))
    # Not getrusage: its peak is inherited from the process that started this one.
    status = Path("/proc/self/status").read_text()
    queue.put(
        int(next(li for li in status.splitlines() if li.startswith("VmHWM")).split()[1]) / 1024
    )


def _worker_memory(folder: DataFolder, project) -> float:  # type: ignore[no-untyped-def]
    context = mp.get_context("spawn")
    queue = context.Queue()
    worker = context.Process(target=_peak, args=(str(folder.path), queue))
    worker.start()
    peak = queue.get(timeout=300)
    worker.join()
    return peak


if __name__ == "__main__":
    main()
