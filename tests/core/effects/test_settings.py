"""Settings by name: every one is what its effect takes, and is seen."""

import numpy as np
import pytest
from tests.build import CONTEXT, LIBRARY, layer, project

from young_comet.core.catalog import EFFECTS as WORN
from young_comet.core.catalog import check_project, normalise
from young_comet.core.effects import EFFECTS
from young_comet.core.effects.settings import KEPT, SETTINGS
from young_comet.core.model import Effect, Keyframe, Property
from young_comet.core.paint import Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import seen_sample
from young_comet.core.views.samples import sample_project
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import revert
from young_comet.errors import DocumentError

ALL = [(kind, setting) for kind, settings in SETTINGS.items() for setting in settings]
# They need something of the artist first: a table, another layer.
NEEDY = {"look-up-table", "displacement"}


def named(each):
    return each.id if hasattr(each, "id") else each


def test_every_effect_has_three_to_six_or_needs_something_first():
    assert set(SETTINGS) | NEEDY == set(EFFECTS) and not set(SETTINGS) & NEEDY
    for kind, settings in SETTINGS.items():
        assert (2 if kind == "radial-wipe" else 3) <= len(settings) <= 6, kind
        assert len({each.id for each in settings}) == len(settings)
        assert len({each.label for each in settings}) == len(settings)


@pytest.mark.parametrize(("kind", "setting"), ALL, ids=named)
def test_what_a_setting_says_is_what_its_effect_takes(kind, setting):
    for name, value in setting.values.items():
        spec = WORN.spec_of_kind(kind, name)
        assert spec is not None, name
        assert name not in KEPT
        normalise(spec, value, name)


def worn(kind, setting, **values):
    whole = sample_project(kind)
    scene = whole.scenes[0]
    word = scene.layers[-1]
    bare = {k: v for k, v in word.properties.items() if not k.startswith("effect.")}
    given = {
        f"effect.e.{k}": Property(value=v) for k, v in (values or dict(setting.values)).items()
    }
    word = word.model_copy(update={"properties": {**bare, **given}})
    if kind == "particles":  # which fill a whole frame, of the size that settings are made for
        scene = scene.model_copy(update={"width": 1920, "height": 1080})
        middle = {"position": Property(value=(960.0, 540.0))}
        word = word.model_copy(update={"properties": {**word.properties, **middle}})
    layers = (*scene.layers[:-1], word)
    return check_project(
        whole.model_copy(update={"scenes": (scene.model_copy(update={"layers": layers}),)})
    )


def picture(document, time_s=0.7):
    frame = SceneEvaluator(document, "sample").at(time_s)
    return Renderer(LIBRARY).render(frame, 160, 90).astype(int)[..., :3]


# What is taken out of a picture has to be in it.
KEYED = ("colour-key", "chroma-key", "luminance-key")


@pytest.mark.parametrize("kind", [kind for kind in SETTINGS if kind not in KEYED])
def test_settings_of_an_effect_look_different_from_each_other(kind):
    pictures = [picture(worn(kind, each)) for each in SETTINGS[kind]]
    for n, one in enumerate(pictures):
        for other in pictures[n + 1 :]:
            assert np.abs(one - other).max() > 3


# Used


def kite(**more):
    made = layer("kite", "shape", shape__size=[120, 60], position=[160, 90], **more)
    return made.model_copy(update={"effects": (Effect(id="e", kind="glow"),)})


def used(document, setting, effect="e"):
    edit = {
        "kind": "use-setting",
        "scene": "reveal",
        "layer": "kite",
        "effect": effect,
        "setting": setting,
    }
    return apply_edit(document, parse_edit(edit), CONTEXT)


def test_a_setting_is_used_and_another_takes_its_place():
    document = project(kite())
    neon = used(document, "neon")
    values = neon.project.scenes[0].layers[0].properties
    assert values["effect.e.strength"].value == 240 and values["effect.e.size"].value == 18
    assert neon.label == "Glow: Neon"
    lamp = used(neon.project, "lamp").project.scenes[0].layers[0].properties
    assert lamp["effect.e.strength"].value == 100 and lamp["effect.e.where"].value == "added"
    halo = used(used(neon.project, "lamp").project, "halo").project.scenes[0].layers[0].properties
    assert "effect.e.where" not in halo
    assert revert(neon.project, neon.inverse) == document


def test_keys_expressions_and_progress_stay():
    keys = (Keyframe(id="a", time_s=0, value=0.0), Keyframe(id="b", time_s=1, value=90.0))
    base = kite()
    base = base.model_copy(update={"properties": {
        **base.properties, "effect.e.strength": Property(keys=keys),
        "effect.e.size": Property(value=5.0, expression="keyed * 2"),
    }})  # fmt: skip
    after = used(project(base), "neon").project.scenes[0].layers[0].properties
    assert after["effect.e.strength"].keys == keys
    assert after["effect.e.size"].expression == "keyed * 2"
    wipe = kite().model_copy(update={"effects": (Effect(id="e", kind="linear-wipe"),)})
    wipe = wipe.model_copy(
        update={"properties": {**wipe.properties, "effect.e.shown": Property(value=77.0)}}
    )
    assert (
        used(project(wipe), "soft").project.scenes[0].layers[0].properties["effect.e.shown"].value
        == 77
    )


def test_settings_that_are_not_there_are_refused_with_those_that_are():
    with pytest.raises(DocumentError, match="setting: expected one of halo, neon"):
        used(project(kite()), "moonlight")
    keyed = kite().model_copy(update={"effects": (Effect(id="e", kind="look-up-table"),)})
    with pytest.raises(DocumentError, match="one of none"):
        used(project(keyed), "halo")


def test_samples_show_the_layer_and_nothing_where_it_is_not():
    document = project(kite(fill__colour="#ffb44a"))
    neon = SceneEvaluator(used(document, "neon").project, "reveal")
    off = (
        document.scenes[0]
        .layers[0]
        .model_copy(update={"effects": (Effect(id="e", kind="glow", on=False),)})
    )
    plain = SceneEvaluator(project(off), "reveal")
    found = seen_sample(neon, plain, "kite", 1.0, Renderer(LIBRARY))
    assert found.shape == (99, 176, 4) and found[49, 88, 2] > 200
    # The light around it is in the picture.
    assert found[49, 20:60, 2].max() > 20
    late = seen_sample(neon, plain, "kite", 3.99999, Renderer(LIBRARY))
    away = kite()
    far = {**away.properties, "position": Property(value=(5000.0, 90.0))}
    hidden = project(away.model_copy(update={"properties": far}))
    gone = SceneEvaluator(hidden, "reveal")
    assert late is not None and seen_sample(gone, gone, "kite", 1.0, Renderer(LIBRARY)) is None


@pytest.mark.parametrize("kind", KEYED)
def test_settings_of_keys_take_out_what_they_say(kind):
    """Fields of white, black, two screens and a shirt, on one layer's picture."""
    colours = ["#ffffff", "#101010", "#00b140", "#0047bb", "#d0602f", "#0c9a3c"]
    fields = [
        layer(f"f{n}", "shape", shape__size=[40, 60], position=[40 + 48 * n, 90], fill__colour=c)
        for n, c in enumerate(colours)
    ]
    group = layer("all", "scene", scene__id="fields", position=[160, 90])
    inner = (
        project(*fields, ground=None)
        .scenes[0]
        .model_copy(update={"id": "fields", "name": "Fields"})
    )
    left = {}
    for setting in SETTINGS[kind]:
        values = {f"effect.e.{k}": Property(value=v) for k, v in setting.values.items()}
        one = group.model_copy(update={
            "effects": (Effect(id="e", kind=kind),), "properties": {**group.properties, **values},
        })  # fmt: skip
        whole = project(ground=None)
        outer = whole.scenes[0].model_copy(update={"layers": (one,)})
        whole = check_project(whole.model_copy(update={"scenes": (outer, inner)}))
        pixels = Renderer(LIBRARY).render(SceneEvaluator(whole, "reveal").at(0.0), 320, 180)
        left[setting.id] = [int(pixels[90, 40 + 48 * n, 3]) > 128 for n in range(len(colours))]
    white, black, green, blue, shirt, uneven = range(6)
    if kind == "colour-key":
        assert not left["white-ground"][white] and left["white-ground"][black]
        assert not left["black-ground"][black] and left["black-ground"][white]
        assert not left["every-white"][white] and left["every-white"][shirt]
    elif kind == "chroma-key":
        assert not left["green-screen"][green] and left["green-screen"][blue]
        assert not left["blue-screen"][blue] and left["blue-screen"][green]
        assert not left["uneven-screen"][uneven] and left["uneven-screen"][shirt]
    else:
        assert not left["no-shadows"][black] and left["no-shadows"][white]
        assert left["no-lights"][black] and not left["no-lights"][white]
        assert left["only-lights"][white] and not left["only-lights"][shirt]
