"""Operations on several projects at once: what they share holds."""

import sys
import threading

import pytest
from tests.build import layer, project

from young_comet.core.pixels.cache import SizedCache
from young_comet.core.resolve import SceneEvaluator, plain
from young_comet.core.typography.setting import SetTexts, shipped_only
from young_comet.edits.base import find_layer


@pytest.fixture
def eager():
    """Threads take turns as often as they can."""
    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    yield
    sys.setswitchinterval(before)


def together(work, threads=4):
    """What went wrong in threads that do the same at once."""
    wrong = []

    def run(nth):
        try:
            work(nth)
        except Exception as error:
            wrong.append(repr(error))

    each = [threading.Thread(target=run, args=(nth,)) for nth in range(threads)]
    for thread in each:
        thread.start()
    for thread in each:
        thread.join()
    return wrong


def test_layers_are_found_in_many_scenes_at_once(eager):
    scenes = [
        [project(layer("kite", "shape")).scenes[0] for _ in range(9)] for _ in range(4)
    ]  # fmt: skip

    def find(nth):
        for turn in range(10_000):
            scene = scenes[nth][turn % 9]
            assert find_layer(scene, "kite") is scene.layers[0]

    assert together(find) == []


def test_boxes_of_texts_are_measured_by_many_at_once(eager, monkeypatch):
    texts = SetTexts(shipped_only)
    texts._kept = SizedCache(2)  # whoever comes next pushes another one's text out
    monkeypatch.setattr(plain, "_PLAIN", [texts])
    words = ["Gullwing", "Bay", "Kite", "Week"]
    found = {}

    def measure(nth):
        for turn in range(150):
            word = words[(turn + nth) % 4]
            evaluator = SceneEvaluator(project(layer("name", "text", text=word)), "reveal")
            box = evaluator.content_box(evaluator.values(evaluator.find("name"), 0.0))
            assert found.setdefault(word, box) == box

    assert together(measure) == []
    assert len(set(found.values())) == 4
