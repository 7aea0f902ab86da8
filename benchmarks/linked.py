"""Speed of expressions and rides: evaluations alone, and a scene of 200 layers that ride ten
deep with an expression each."""

from __future__ import annotations

import statistics
import time

from young_comet.core.catalog import check_project
from young_comet.core.expressions import compile_expression
from young_comet.core.model import Layer, Project, Property, RateModel, Scene
from young_comet.core.resolve import SceneEvaluator


class Moment:
    """The least that an expression needs."""

    t = T = 0.0
    fps, length, nth, count, keyed, frame = 25.0, 4.0, 0.0, 1.0, 100.0, 0.0

    def mark(self, name: str) -> float:
        return 0.0

    def of(self, layer: str, property_id: str, at: float | None) -> float:
        return 0.0

    def late(self, seconds: float) -> float:
        return 0.0


def evaluations() -> None:
    expression = compile_expression("keyed + sway(10, every=0.5)")
    moment, spent = Moment(), []
    for _ in range(5):
        start = time.perf_counter()
        for i in range(10_000):
            moment.t = i * 0.04
            expression(moment)
        spent.append((time.perf_counter() - start) * 1e3)
    print(f"10,000 evaluations of keyed + sway(10, every=0.5): {statistics.median(spent):.0f} ms")


def scene() -> Project:
    layers = []
    for i in range(200):
        layers.append(
            Layer(
                id=f"l{i}", name=f"Bow {i}", kind="shape", start_s=0, end_s=10,
                rides=f"l{i - 1}" if i % 11 else None,
                properties={
                    "position": Property(value=(30.0, 4.0)),
                    "rotation": Property(value=0.0, expression=f"keyed + sway(10, seed={i})"),
                },
            )
        )  # fmt: skip
    whole = Scene(
        id="s", name="Bows", width=1920, height=1080, rate=RateModel(num=25), length_s=10,
        layers=tuple(layers),
    )  # fmt: skip
    return check_project(Project(id="p", name="P", scenes=(whole,)))


def frames() -> None:
    evaluator, spent = SceneEvaluator(scene(), "s"), []
    for number in range(100):
        start = time.perf_counter()
        evaluator.frame(number)
        spent.append((time.perf_counter() - start) * 1e3)
    print(
        "200 layers, rides ten deep, an expression each: "
        f"{statistics.median(spent):.1f} ms a frame (slowest {max(spent[1:]):.1f}, aim 20)"
    )


if __name__ == "__main__":
    evaluations()
    frames()
