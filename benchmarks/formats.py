"""Renders of one scene to each format beside composing its frames alone, and to several at once
beside each by itself; encoders alone; loudness, bands and beats of a minute of music."""

from __future__ import annotations

import argparse
import tempfile
import time
from pathlib import Path

import numpy as np

from young_comet.config import Config
from young_comet.core.audio import SAMPLE_RATE, bands_of
from young_comet.core.audio.beats import beats_of
from young_comet.core.audio.kit import Wish
from young_comet.core.audio.kit.beds import BEDS
from young_comet.core.export import (
    FORMATS,
    Part,
    RenderSettings,
    Soundtrack,
    levelled,
    measured,
)
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.demo import DEMO_ID, ensure_demo
from young_comet.jobs import LocalProcesses, render_scene
from young_comet.jobs.part import film_of
from young_comet.store import DataFolder

SCENE, FRAMES_S, SCALE = "lower-third", 2.0, 0.5
TOGETHER = ("mp4", "gif", "webp")


def composing_s(project, folder):
    """Seconds to compose the frames one after the other in this process."""
    library = MediaLibrary(folder.assets, drawings=folder.assets)
    evaluator = SceneEvaluator(project, SCENE, library=library)
    scene, renderer = evaluator.scene, Renderer(library)
    size = round(scene.width * SCALE), round(scene.height * SCALE)
    renderer.render(evaluator.frame(0), *size)
    began = time.perf_counter()
    for number in range(round(FRAMES_S * scene.rate.rate.fps)):
        renderer.render(evaluator.frame(number), *size)
    return time.perf_counter() - began


def rendering_s(project, folder, tmp, *formats):
    """Seconds of a render by two processes, and the bytes of its files."""
    settings = RenderSettings(format=formats[0], also=formats[1:], to_s=FRAMES_S, scale=SCALE)
    targets = {each: tmp / f"out.{FORMATS[each].ending}" for each in formats}
    result = render_scene(
        project, SCENE, settings, targets, folder.assets_dir, engine=LocalProcesses(2)
    )
    return result.seconds, sum(path.stat().st_size for path in targets.values())


def encoding_s(project, folder, tmp, format):
    """Seconds of what one process does to encode frames that are composed already: the least that
    a render to that format can take by itself."""
    library = MediaLibrary(folder.assets, drawings=folder.assets)
    evaluator = SceneEvaluator(project, SCENE, library=library)
    settings = RenderSettings(format=format.id, to_s=FRAMES_S, scale=SCALE)
    film, renderer = film_of(evaluator.scene, settings, format), Renderer(library)
    frames = [
        renderer.render(evaluator.at(film.moments.time(n)), *film.size).copy()
        for n in range(film.moments.count)
    ]
    part = Part(tmp / f"frames.{format.id}", 0, len(frames))
    began = time.perf_counter()
    with format.film.begin(film, part) as sink:
        for pixels in frames:
            sink.write(pixels)
    target = tmp / f"alone.{format.ending}"
    format.film.finish(film, [part], target, None, lambda done: None)
    return time.perf_counter() - began


def listening(tmp):
    """How long a minute of music is listened to."""
    made = BEDS[0].make(Wish(BEDS[0].length_s))
    music = np.tile(made, (3, 1))[: 60 * SAMPLE_RATE]

    def read(first, count):
        return music[first : first + count]

    beats_of(music[: 5 * SAMPLE_RATE])  # compiled before it is measured
    for name, deed in (
        ("loudness measured", lambda: measured(read, len(music))),
        ("brought to -16 LUFS", lambda: levelled(Soundtrack(len(music), read), -16, -1, tmp)),
        ("bands", lambda: bands_of(music)),
        ("beats", lambda: beats_of(music)),
    ):
        began = time.perf_counter()
        deed()
        print(f"  a minute of music: {name} in {time.perf_counter() - began:.2f} s")


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--data", help="a data folder with the demo")
    with tempfile.TemporaryDirectory() as made:
        tmp = Path(made)
        folder = DataFolder(Config(data=Path(parser.parse_args().data or tmp / "data")))
        ensure_demo(folder)
        project = folder.workspace.state(DEMO_ID).project
        alone = composing_s(project, folder)
        print(f"{SCENE}, {FRAMES_S:g} s at half size: composed by one process in {alone:.2f} s")
        taken = {}
        for each in (f for f in FORMATS.values() if f.film):
            taken[each.id], size = rendering_s(project, folder, tmp, each.id)
            encoder = encoding_s(project, folder, tmp, each)
            facts = (
                f"{taken[each.id] / alone:4.1f} times that, {size / 1e6:.2f} MB; encoder alone, "
                f"one process: {encoder:.2f} s"
            )
            print(f"  {each.id:7} {taken[each.id]:6.2f} s, {facts}")
        together, _ = rendering_s(project, folder, tmp, *TOGETHER)
        apart = sum(taken[each] for each in TOGETHER)
        print(f"  {' + '.join(TOGETHER)} at once {together:.2f} s, one by one {apart:.2f} s")
        listening(tmp)
        folder.close()


if __name__ == "__main__":
    main()
