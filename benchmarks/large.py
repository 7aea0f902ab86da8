"""2,000 layers: edits, undo, the view; 200 projects: listing; formulas and mattes that need one
another. Beside each figure its ratio to reading and checking the whole document from JSON once."""

from __future__ import annotations

import gc
import json
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from tests.build import NoAssets, key, layer, project

from young_comet.config import Config
from young_comet.core.catalog import check_project
from young_comet.core.model import Effect, Layer, Project, Property, load_project
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import scene_view
from young_comet.edits import parse_edit
from young_comet.store import DataFolder

LAYERS = 2_000


def large() -> Project:
    layers = []
    for n in range(LAYERS):
        place = [n % 320, n % 180]
        if n % 3:
            shape = layer(f"l{n}", "shape", shape__size=[20, 20], rotation=1.0 * n, opacity=50.0,
                          position=[key(0, place), key(1, [n % 300, n % 100])])  # fmt: skip
        else:
            shape = layer(f"l{n}", "text", text=f"Kite {n}", text__size=12, position=place)
        layers.append(shape)
    return project(*layers)


def timed(do: Callable[[], object], times: int = 9) -> float:
    """Median milliseconds."""
    took = []
    for _ in range(times):
        began = time.perf_counter()
        do()
        took.append((time.perf_counter() - began) * 1000)
    return statistics.median(took)


def values(turn: int, count: int) -> dict[str, object]:
    targets = [
        {"layer": f"l{n}", "property": "opacity", "value": turn % 90 + 1} for n in range(count)
    ]
    return {"kind": "set-values", "scene": "reveal", "targets": targets}


def documents(folder: DataFolder) -> None:
    document = large()
    text = document.model_dump_json()
    whole = timed(lambda: check_project(load_project(json.loads(text))), 3)
    workspace = folder.workspace
    workspace.create(document)
    turn = iter(range(10_000))

    def edit(count: int) -> Callable[[], object]:
        return lambda: workspace.edit("kites", parse_edit(values(next(turn), count)))

    def stale() -> None:
        base = workspace.state("kites").revision
        edit(1)()
        rename = {"kind": "change-layers", "scene": "reveal", "layers": ["l9"], "name": f"K{base}"}
        workspace.edit("kites", parse_edit(rename), base)

    def report(what: str, took: float, aim: float = 0) -> None:
        goal = f" (aim {aim:.0f})" if aim else ""
        print(f"{what}: {took:.1f} ms{goal}, {took / whole:.3f} of reading it whole")

    print(f"reading and checking {LAYERS} layers whole: {whole:.0f} ms")
    report("one edit of one layer", timed(edit(1)), 20)
    report("undoing it", timed(lambda: workspace.undo("kites"), 3), 60)
    before = workspace.state("kites").project.scenes[0].layers
    edit(1)()
    workspace.undo("kites")
    after = workspace.state("kites").project.scenes[0].layers
    kept = sum(a is b for a, b in zip(before, after, strict=True))
    print(f"    {kept} of {LAYERS} layers are the objects that they were")
    report("one value on all of them", timed(edit(LAYERS), 5), 150)
    report("undoing that", timed(lambda: workspace.undo("kites"), 3))
    report("an edit and one made on the revision before it", timed(stale, 5))
    library = MediaLibrary(NoAssets())
    evaluator = SceneEvaluator(workspace.state("kites").project, "reveal", library=library)
    report("evaluating a frame", timed(lambda: evaluator.frame(10)))
    report("what the editor shows over it", timed(lambda: scene_view(evaluator, library, 0.4)))


def listing(folder: DataFolder) -> None:
    document = large().model_copy(update={"name": "Kite Week"})
    for n in range(200):
        small = document if n < 3 else Project(id="x", name="Kite Week")
        folder.workspace.create(small.model_copy(update={"id": f"p{n}"}))
    print(f"listing 200 projects: {timed(folder.workspace.projects):.1f} ms (aim 20)")


def formulas() -> None:
    for count in (10, 20, 40):
        layers: list[Layer] = [layer("l0", "shape")]
        for n in range(1, count):
            text = f'of("L{n - 1}", "rotation", at=T-0.1) + of("L{n - 1}", "rotation", at=T-0.137)'
            shape = layer(f"l{n}", "shape")
            layers.append(
                shape.model_copy(
                    update={"properties": {"rotation": Property(value=0.0, expression=text)}}
                )
            )
        document = project(*layers)
        took = timed(lambda d=document: SceneEvaluator(d, "reveal").at(1.0), 3)  # type: ignore[misc]
        print(f"{count} layers, each reading the one before at two other times: {took:.0f} ms")
    for count in (10, 20, 40):
        layers = [layer("l0", "shape", shape__size=[60, 60])]
        for n in range(1, count):
            shape = layer(f"l{n}", "shape", shape__size=[60 + n, 60], matte__layer=f"l{n - 1}",
                          effect__e__layer=f"l{n - 1}")  # fmt: skip
            layers.append(
                shape.model_copy(update={"effects": (Effect(id="e", kind="displacement"),)})
            )
        document = project(*layers)

        def drawn(d: Project = document) -> object:
            frame = SceneEvaluator(d, "reveal").at(1.0)
            return Renderer(MediaLibrary(NoAssets())).render(frame, 320, 180)

        print(f"{count} layers, each matte and input of the next: {timed(drawn, 3):.0f} ms drawn")


def main() -> None:
    gc.set_threshold(50_000, 20, 50)  # as the server has it
    for part in (documents, listing):
        with tempfile.TemporaryDirectory() as data:
            folder = DataFolder(Config(data=Path(data)))
            part(folder)
            folder.close()
    formulas()


if __name__ == "__main__":
    main()
