"""Every operation, done in the only arrangement of a scene, shows what it would without one; and it
is taken back to an equal document."""

import numpy as np
import pytest
from tests.build import CONTEXT, LIBRARY
from tests.edits.test_edits import CASES

from young_comet.core.catalog import check_project
from young_comet.core.model import Arrangement
from young_comet.core.paint import Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import revert

RENDERER = Renderer(LIBRARY)
OWN = [
    (make, data)
    for make, data in CASES
    if (isinstance(data.get("scene"), str) or data["kind"] == "together")
    and not make().scenes[0].arrangements
    and data["kind"] != "remove-scene"
]


def pictures(document, scene_id):
    evaluator = SceneEvaluator(document, scene_id, library=LIBRARY)
    length = evaluator.scene.length_s
    moments = [0.0, 0.31 * length, 0.62 * length, length - 0.04]
    return [RENDERER.render(evaluator.at(t), 64, 36).astype(np.int16) for t in moments]


@pytest.mark.parametrize(("make", "data"), OWN, ids=[data["kind"] for _, data in OWN])
def test_an_edit_in_the_only_arrangement_shows_what_it_does_without(make, data):
    before = make()
    scene_id = data.get("scene") or before.scenes[0].id
    plain = apply_edit(before, parse_edit(data), CONTEXT).project
    only = Arrangement(id="only", name="Only")
    arranged = check_project(
        before.model_copy(
            update={
                "scenes": tuple(
                    s.model_copy(update={"arrangements": (only,)}) if s.id == scene_id else s
                    for s in before.scenes
                )
            }
        )
    )
    edit = {"kind": "in-arrangement", "scene": scene_id, "arrangement": "only", "edits": [data]}
    applied = apply_edit(arranged, parse_edit(edit), CONTEXT)
    assert revert(applied.project, applied.inverse) == arranged
    expected, found = (pictures(each, scene_id) for each in (plain, applied.project))
    worst = max(int(np.abs(a - b).max()) for a, b in zip(expected, found, strict=True))
    assert worst <= 1
