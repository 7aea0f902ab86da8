"""What effects lack, and what they could be given."""

import pytest
from tests.build import LIBRARY, layer, project

from young_comet.core.catalog import EFFECTS as FAMILY
from young_comet.core.effects import EFFECTS
from young_comet.core.model import Asset, Effect, Kind, Property
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import scene_view
from young_comet.core.views.wanted import wanted_by


def worn(kind, **values):
    made = layer("kite", "shape", shape__size=[80, 80], position=[160, 90])
    given = {f"effect.e.{k}": Property(value=v) for k, v in values.items()}
    return made.model_copy(update={
        "effects": (Effect(id="e", kind=kind),), "properties": {**made.properties, **given},
    })  # fmt: skip


def cloudy():
    sky = layer("sky", "backdrop").model_copy(update={"name": "Sky"})
    return sky.model_copy(update={"effects": (Effect(id="c", kind="noise-clouds"),)})


@pytest.mark.parametrize("kind", list(EFFECTS))
def test_only_effects_that_look_elsewhere_want_something(kind):
    document = project(cloudy(), worn(kind))
    one = document.scenes[0]
    found = wanted_by(document, one, one.layers[-1], one.layers[-1].effects[0])
    needs = any(spec.kind in (Kind.LAYER, Kind.ASSET) for spec in EFFECTS[kind].specs)
    assert (found is not None) == needs
    if found:
        assert found.parameter in {spec.id for spec in EFFECTS[kind].specs}
        assert FAMILY.spec_of_kind(kind, found.parameter) is not None


def test_layers_with_fields_are_offered_first_and_itself_or_what_looks_at_it_never():
    word = layer("word", "text", text="Bay").model_copy(update={"name": "Word"})
    watcher = worn("displacement", layer="kite").model_copy(update={"id": "w", "name": "Watcher"})
    hum = layer("ground", "backdrop").model_copy(update={"name": "Ground"})
    document = project(hum, word, cloudy(), watcher, worn("displacement"))
    one = document.scenes[0]
    found = wanted_by(document, one, one.layers[-1], one.layers[-1].effects[0])
    assert [label for _, label in found.offers] == ["Sky", "Word", "Ground"]
    given = project(cloudy(), worn("displacement", layer="sky")).scenes[0]
    assert wanted_by(document, given, given.layers[-1], given.layers[-1].effects[0]) is None
    alone = project(worn("displacement"), ground=None)
    found = wanted_by(alone, alone.scenes[0], alone.scenes[0].layers[-1], Effect(id="e", kind="displacement"))  # fmt: skip
    assert found.offers == () and "none yet" in found.says


def test_tables_of_the_project_are_offered_and_the_view_tells_it():
    table = Asset(id="warm", name="Warm evening", kind="table", media_type="text/plain",
                  hash="0" * 64, size_bytes=4)  # fmt: skip
    bare = project(worn("look-up-table"))
    evaluator = SceneEvaluator(bare, "reveal")
    view = scene_view(evaluator, LIBRARY, 0.0)
    assert view["kite"]["wants"]["e"]["says"].endswith("bring in a .cube file.")
    whole = bare.model_copy(update={"assets": (table,)})
    wants = scene_view(SceneEvaluator(whole, "reveal"), LIBRARY, 0.0)["kite"]["wants"]["e"]
    assert wants["offers"] == (("warm", "Warm evening"),) and wants["parameter"] == "table"
    assert "wants" not in scene_view(SceneEvaluator(project(worn("glow")), "reveal"), LIBRARY, 0.0)["kite"]  # fmt: skip
