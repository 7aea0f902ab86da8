"""Arrangements beside keys: 300 layers in three arrangements, and the same turned into keys.
Frames, an edit, and an edit with the first frame after it."""

from __future__ import annotations

import time
from collections.abc import Callable

from young_comet.core.catalog import check_project
from young_comet.core.model import (
    Arrangement,
    Layer,
    Project,
    Property,
    RateModel,
    Scene,
    Stand,
    Step,
)
from young_comet.core.paint import MediaLibrary
from young_comet.core.resolve import SceneEvaluator, TrackCache
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import draft
from young_comet.edits.context import PictureContext

LAYERS = 300


class NoAssets:
    """A store without files."""

    def read_asset(self, hash: str) -> bytes:
        raise FileNotFoundError(hash)


def project() -> Project:
    layers = tuple(
        Layer(
            id=f"l{n}", name=f"Bow {n}", kind="shape", start_s=0, end_s=8,
            properties={"shape.size": Property(value=(8, 8))},
        )
        for n in range(LAYERS)
    )  # fmt: skip
    arrangements = tuple(
        Arrangement(
            id=f"a{k}", name=f"A{k}", hold_s=1, step=Step(stagger_pct=40, path="arc"),
            stands=tuple(
                Stand(layer=la.id, values={"position": (n * 6.0, 90.0 * k), "rotation": 30.0 * k})
                for n, la in enumerate(layers)
            ),
        )
        for k in range(3)
    )  # fmt: skip
    whole = Scene(
        id="s", name="Bows", width=1920, height=1080, rate=RateModel(num=25), length_s=8,
        layers=layers, arrangements=arrangements,
    )  # fmt: skip
    return check_project(Project(id="p", name="P", scenes=(whole,)))


def best(run: Callable[[], object], times: int = 9) -> float:
    """The quickest of several runs, ms."""
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        spent.append((time.perf_counter() - start) * 1e3)
    return min(spent)


def main() -> None:
    context = PictureContext(MediaLibrary(NoAssets()))
    arranged = project()
    to_keys = parse_edit({"kind": "arrangements-to-keys", "scene": "s"})
    keyed = apply_edit(arranged, to_keys, context).project
    move = {"kind": "move-layers", "scene": "s", "layers": ["l3"], "by": [1, 1], "time_s": 1.8}
    within = {"kind": "in-arrangement", "scene": "s", "arrangement": "a1", "edits": [move]}
    frames, firsts, drafts = [], [], []
    for document, edit in ((arranged, within), (keyed, move)):
        cache = TrackCache()
        evaluator = SceneEvaluator(document, "s", cache)
        frames.append(best(lambda each=evaluator: each.at(1.3)))
        edits = [parse_edit(edit)]
        drafts.append(best(lambda d=document, e=edits: draft(d, e, context)))

        def first(d: Project = document, e: list = edits, c: TrackCache = cache) -> None:
            SceneEvaluator(draft(d, e, context), "s", c).at(1.3)

        firsts.append(best(first))
    for what, (one, other) in (
        ("a frame", frames), ("an edit", drafts), ("an edit and its first frame", firsts),
    ):  # fmt: skip
        print(
            f"{LAYERS} layers, {what}: {one:.1f} ms in arrangements, {other:.1f} ms with keys "
            f"({one / other:.2f})"
        )


if __name__ == "__main__":
    main()
