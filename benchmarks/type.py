"""Type: letters that all move, and texts of two thousand letters: a frame, an edit, a set text.

Beside each the same text shaped by HarfBuzz alone, in the same run.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from typing import Any

import uharfbuzz as hb

from young_comet.core.catalog import check_project
from young_comet.core.model import Front, Keyframe, Layer, Project, Property, RateModel, Scene
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.typography import FontLibrary
from young_comet.core.typography.lines import lay_out
from young_comet.core.typography.shipped import shipped_files
from young_comet.core.typography.style import Letters, TextBox, TextStyle
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.context import PictureContext

TITLE = "Letting go of the wind takes sixty\nletters that all move at once ok"
LONG = ("The wind off Gullwing Bay lifts every kite that asks. " * 40)[:2000]
FRAMES = 30


class NoFiles:
    def read_asset(self, hash: str) -> bytes:
        raise FileNotFoundError(hash)


def scene(text: str, front: dict[str, Any] | None, **more: Any) -> Project:
    values = {"text": text, "text.font": "unbounded", "text.size": 90.0, **more}
    values["position"] = (960.0, 540.0)
    properties = {name: Property(value=value) for name, value in values.items()}
    fronts: tuple[Front, ...] = ()
    if front is not None:
        keys = (
            Keyframe(id="a", time_s=0, value=0.0, easing="linear"),
            Keyframe(id="b", time_s=1.6, value=100.0, easing="linear"),
        )
        properties["front.f.progress"] = Property(keys=keys)
        properties |= {f"front.f.{n}": Property(value=v) for n, v in front.items()}
        fronts = (Front(id="f"),)
    layer = Layer(
        id="t", name="T", kind="text", start_s=0, end_s=4, properties=properties, fronts=fronts
    )
    rate = RateModel(num=25)
    whole = Scene(id="s", name="S", width=1920, height=1080, rate=rate, length_s=4, layers=(layer,))
    return check_project(Project(id="p", name="P", scenes=(whole,)))


def frames(project: Project, width: int, height: int) -> float:
    """Median ms of a frame that no other has drawn."""
    media = MediaLibrary(NoFiles())
    evaluator, renderer = SceneEvaluator(project, "s", library=media), Renderer(media)
    spent = []
    for number in range(FRAMES + 3):
        began = time.perf_counter()
        renderer.render(evaluator.at(0.04 * number + 0.1), width, height)
        spent.append(1000 * (time.perf_counter() - began))
    return statistics.median(spent[3:])


def took(work: Callable[[], object], rounds: int = 12) -> float:
    spent = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        spent.append(1000 * (time.perf_counter() - began))
    return statistics.median(spent)


def harfbuzz_alone() -> float:
    font = hb.Font(hb.Face(hb.Blob(shipped_files("inter")[0].read_bytes())))

    def shape() -> None:
        buffer = hb.Buffer()
        buffer.add_str(LONG)
        buffer.guess_segment_properties()
        hb.shape(font, buffer)

    return took(shape)


def main() -> None:
    moving = {"turn": 80.0, "offset": (0.0, -40.0), "blur": 6.0, "opacity": -50.0, "width": 60.0}
    title = scene(TITLE, moving)
    small, large = frames(title, 960, 540), frames(title, 1920, 1080)
    print(f"64 letters that move, turn and blur: {small:.1f} ms a frame at 960x540 (aim 15), "
          f"{large:.1f} ms at 1080p (aim 40)")  # fmt: skip
    wave = frames(scene(TITLE, {"weight": -400.0, "width": 60.0}), 960, 540)
    print(f"64 letters that change their weight: {wave:.1f} ms at 960x540")
    library = FontLibrary()
    style = TextStyle(Letters("inter", 500, 24), align="left", box=TextBox(1600, 1000))
    lay_out(library, LONG, style)
    alone, ours = harfbuzz_alone(), took(lambda: lay_out(library, LONG, style))
    print(f"2,000 letters set in a box: {ours:.1f} ms, {ours / alone:.1f} times HarfBuzz alone "
          f"({alone:.2f} ms)")  # fmt: skip
    box = {"text.size": 24.0, "text.box": "box", "text.box-size": (1600.0, 1000.0)}
    long = scene(LONG, None, **box)
    context = PictureContext(MediaLibrary(NoFiles()))
    data = {"kind": "edit-text", "scene": "s", "layer": "t", "first": 900, "last": 900, "text": "x",
            "time_s": 0.0}  # fmt: skip
    edit = took(lambda: apply_edit(long, parse_edit(data), context))
    # Evaluator and renderer share a library, as those of an open page do.
    shared = MediaLibrary(NoFiles())
    renderer = Renderer(shared)

    def typed() -> None:
        changed = apply_edit(long, parse_edit({**data, "text": str(time.perf_counter())}), context)
        evaluator = SceneEvaluator(changed.project, "s", library=shared)
        renderer.render(evaluator.at(0.0), 960, 540)

    frame = took(typed) - edit
    print(f"a letter typed into 2,000: {edit:.1f} ms for the edit (aim 50), {frame:.1f} ms for the "
          "frame after it at 960x540 (aim 60)")  # fmt: skip
    all_moving = frames(scene(LONG, {"offset": (0.0, -40.0), "width": 200.0}, **box), 960, 540)
    print(f"2,000 letters of which 200 are on their way at once: {all_moving:.0f} ms a frame")


if __name__ == "__main__":
    main()
