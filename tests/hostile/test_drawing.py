"""Nothing that a document can say makes a frame fail."""

import pytest
from tests.build import NoAssets, draw, key, layer, project, scene
from tests.hostile.drawing_sweep import layers, sweep_effects, sweep_motion, sweep_moves

from young_comet.core.effects import EFFECTS
from young_comet.core.frame import fault_words
from young_comet.core.model import Effect, Move, Project, Property
from young_comet.core.moves import MOVES
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.resolve.budget import MAX_FORMULAS
from young_comet.core.views import layers_at, scene_view
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError


def rendered(document, time_s=0.0, library=None):
    library = library or MediaLibrary(NoAssets())
    renderer = Renderer(library)
    evaluator = SceneEvaluator(document, document.scenes[0].id, library=library)
    frame = evaluator.at(time_s)
    return renderer.render(frame, frame.width, frame.height), renderer.faults


@pytest.mark.parametrize("kind", layers())
def test_every_effect_is_drawn_in_on_and_outside_the_frame(kind):
    sweep = sweep_effects(7, 4, (kind,))
    assert sweep.drawn > 100 and sweep.troubles == []


def test_every_move_is_drawn_on_every_kind_of_layer():
    sweep = sweep_moves()
    assert sweep.drawn > 2000 and sweep.troubles == []


@pytest.mark.parametrize("kind", layers())
def test_what_does_several_things_while_the_shutter_is_open_is_drawn(kind):
    sweep = sweep_motion(3, 12, (kind,))
    assert sweep.drawn == 12 and sweep.troubles == []


@pytest.mark.parametrize(
    ("effect", "place"),
    [("glow", [2210, 540]), ("glow", [2196, 540]), ("glow", [2268, 540]), ("glow", [960, 1256]),
     ("gaussian-blur", [960, 1220]), ("colour-fringe", [960, 1190]), ("directional-blur", [2130, 540])],
)  # fmt: skip
def test_effects_just_outside_a_full_frame(effect, place):
    shape = layer("bar", "shape", shape__size=[400, 200], position=place)
    shape = shape.model_copy(update={"effects": (Effect(id="e", kind=effect),)})
    pixels, faults = rendered(project(shape, width=1920, height=1080))
    assert faults == () and pixels.shape == (1080, 1920, 4)


def test_a_glowing_bar_slides_in_through_every_frame():
    bar = layer(
        "bar", "shape", shape__size=[40, 20], position=[key(0, [260, 45]), key(1, [80, 45])]
    )
    bar = bar.model_copy(update={"effects": (Effect(id="e", kind="glow"),)})
    document = project(bar, width=160, height=90)
    assert all(rendered(document, n / 25)[1] == () for n in range(30))


# What fails leaves the rest


def broken(registry, monkeypatch, kind, **change):
    from dataclasses import replace

    def fails(*_):
        raise ValueError("torn sail")

    change = change or {"draw": fails}
    monkeypatch.setitem(registry._members, kind, replace(registry[kind], **change))


def with_effects(*kinds, **more):
    kite = layer("kite", "shape", shape__size=[60, 60], position=[80, 90], **more)
    effects = tuple(Effect(id=f"e{n}", kind=kind) for n, kind in enumerate(kinds))
    return kite.model_copy(update={"effects": effects})


def test_an_effect_that_fails_leaves_its_layer_without_it(monkeypatch):
    other = layer("sun", "shape", shape__kind="ellipse", shape__size=[40, 40], position=[250, 90])
    plain = draw(project(with_effects("tint"), other))
    broken(EFFECTS, monkeypatch, "swirl")
    document = project(with_effects("swirl", "tint"), other)
    pixels, faults = rendered(document)
    assert (pixels == plain).all()
    (fault,) = faults
    assert (fault.layer, fault.part, fault.why) == ("kite", "Swirl", "ValueError: torn sail")
    assert fault_words(document, document.scenes[0], fault).startswith(
        "Swirl of 'Kite' cannot be drawn"
    )


def test_a_reach_that_fails_costs_nothing_but_time(monkeypatch):
    def overflows(*_):
        raise OverflowError

    plain = draw(project(with_effects("glow")))
    broken(EFFECTS, monkeypatch, "glow", reach=overflows)
    pixels, faults = rendered(project(with_effects("glow")))
    assert faults == () and int(abs(pixels.astype(int) - plain).max()) <= 3


def test_a_treatment_goes_on_without_the_effect_that_fails(monkeypatch):
    treatment = layer("grade", "treatment").model_copy(
        update={"effects": (Effect(id="a", kind="swirl"), Effect(id="b", kind="invert"))}
    )
    only = treatment.model_copy(update={"effects": (Effect(id="b", kind="invert"),)})
    plain = draw(project(with_effects(), only))
    broken(EFFECTS, monkeypatch, "swirl")
    pixels, faults = rendered(project(with_effects(), treatment))
    assert (pixels == plain).all() and [fault.part for fault in faults] == ["Swirl"]


def test_a_layer_that_fails_is_marked_and_the_others_are_drawn(monkeypatch):
    broken(MOVES, monkeypatch, "lift")
    lifted = with_effects().model_copy(
        update={"moves": (Move(id="m", kind="lift", phase="arrive"),), "arrive_s": 1.0}
    )
    sun = layer("sun", "shape", shape__size=[30, 30], position=[300, 165], fill__colour="#00ff00")
    document = project(lifted, sun)
    pixels, faults = rendered(document, 0.2)
    assert [(fault.layer, fault.why) for fault in faults] == [("kite", "ValueError: torn sail")]
    assert pixels[165, 300].tolist() == [0, 255, 0, 255]
    # The mark is in the middle of the frame, as its place is not known.
    assert pixels[90, 160, 2] > 0
    library = MediaLibrary(NoAssets())
    view = scene_view(SceneEvaluator(document, "reveal", library=library), library, 0.2)
    assert set(view) == {"kite", "sun"} and "box" in view["sun"]
    assert (
        layers_at(SceneEvaluator(document, "reveal", library=library), library, 0.2, (300, 165))[0]
        == "sun"
    )


def test_a_fault_is_told_at_every_frame_and_never_kept(monkeypatch):
    broken(EFFECTS, monkeypatch, "swirl")
    library = MediaLibrary(NoAssets())
    renderer = Renderer(library)
    evaluator = SceneEvaluator(project(with_effects("swirl")), "reveal", library=library)
    counts = []
    for _ in range(4):
        renderer.render(evaluator.at(0.0), 320, 180)
        counts.append(len(renderer.faults))
    assert counts == [1, 1, 1, 1]
    monkeypatch.undo()
    renderer.render(evaluator.at(0.0), 320, 180)
    assert renderer.faults == ()


def test_a_fault_within_a_placed_scene_names_both_layers(monkeypatch):
    broken(EFFECTS, monkeypatch, "swirl")
    inner = scene(with_effects("swirl")).model_copy(update={"id": "inner", "name": "Inner"})
    outer = scene(layer("placed", "scene", scene__id="inner"))
    document = Project(id="k", name="K", scenes=(outer, inner))
    _, faults = rendered(document)
    assert [(f.layer, f.inner, f.part) for f in faults] == [("placed", "kite", "Swirl")]
    assert "'Kite' (within 'Placed')" in fault_words(document, outer, faults[0])


def test_a_missing_picture_and_typeface_leave_marks(monkeypatch):
    from young_comet.core.model import Asset

    def asset(id, kind, **more):
        return Asset(
            id=id,
            name=f"{id}.bin",
            kind=kind,
            media_type="image/png",
            hash=id[0] * 64,
            size_bytes=1,
            **more,
        )

    picture = layer("emblem", "picture", picture__asset="a1", position=[80, 60])
    clip = layer("wind", "clip", clip__asset="b1", position=[240, 60])
    text = layer(
        "name", "text", text="Bay", text__font="asset:c1", text__size=30, position=[160, 140]
    )
    document = project(picture, clip, text).model_copy(update={"assets": (
        asset("a1", "picture", width=80, height=60), asset("c1", "font", family="Gull"),
        asset("b1", "clip", width=80, height=60, duration_s=1.0, frame_count=25),
    )})  # fmt: skip
    pixels, faults = rendered(document)
    assert [(f.layer, f.part) for f in faults] == [
        ("emblem", "a1.bin"),
        ("wind", "b1.bin"),
        ("name", "typeface"),
    ]
    assert faults[0].why == "its file is missing"
    # The picture's box is marked, the text is set in another typeface.
    assert pixels[60, 80].any() and pixels[120:160].any()


# Moves and the kinds that they fit


@pytest.mark.parametrize("kind", layers())
def test_moves_that_do_not_fit_are_refused_with_words(kind):
    from tests.build import CONTEXT

    base = layers()[kind]
    document = (
        project(base)
        if kind != "scene"
        else Project(
            id="k", name="K", scenes=(scene(base), scene().model_copy(update={"id": "inner"}))
        )
    )
    for move, registered in MOVES.items():
        edit = parse_edit(
            {
                "kind": "wear-move",
                "scene": "reveal",
                "layers": ["x"],
                "move": move,
                "phase": registered.phases[0],
            }
        )
        if base.kind in registered.fits:
            assert apply_edit(document, edit, CONTEXT).project.scenes[0].layers[0].moves
        else:
            with pytest.raises(DocumentError, match="does nothing for"):
                apply_edit(document, edit, CONTEXT)


def test_moves_are_not_copied_onto_kinds_that_they_do_not_fit():
    from tests.build import CONTEXT

    worn = with_effects().model_copy(update={"moves": (Move(id="m", kind="lift", phase="arrive"),)})
    document = project(worn, layer("sky", "backdrop"))
    with pytest.raises(DocumentError, match="Lift does nothing for a backdrop"):
        apply_edit(
            document,
            parse_edit(
                {"kind": "copy-moves", "scene": "reveal", "layer": "kite", "targets": ["sky"]}
            ),
            CONTEXT,
        )


# What grows as 2^n


def expressed(id, text):
    shape = layer(id, "shape", shape__size=[20, 20])
    return shape.model_copy(
        update={
            "properties": {**shape.properties, "rotation": Property(value=0.0, expression=text)}
        }
    )


def test_formulas_that_read_each_other_at_other_times_are_bounded():
    # Offsets without a common measure: every reading is at another moment.
    steps = (0.1, 0.1414213, 0.1732051)
    chain = [layer("l0", "shape")]
    for n in range(1, 30):
        reads = "+".join(f'of("L{n - 1}", "rotation", at=T-{s * (1 + n / 977)})' for s in steps)
        chain.append(expressed(f"l{n}", reads))
    document = project(*chain)
    evaluator = SceneEvaluator(document, "reveal")
    evaluator.at(1.0)
    assert evaluator.budget.formulas <= MAX_FORMULAS * 1.1
    assert any("formulas" in why for why in evaluator.faults.values())
    again = SceneEvaluator(document, "reveal")
    assert again.at(1.0).signature == evaluator.at(1.0).signature


def test_formulas_that_read_the_same_moments_cost_no_more_than_those():
    chain = [layer("l0", "shape", rotation=[key(0, 0.0), key(4, 40.0)])]
    for n in range(1, 40):
        chain.append(
            expressed(
                f"l{n}",
                f'of("L{n - 1}", "rotation", at=T-0.1)+of("L{n - 1}", "rotation", at=T-0.2)',
            )
        )
    evaluator = SceneEvaluator(project(*chain), "reveal")
    evaluator.at(1.0)
    assert not evaluator.faults and evaluator.budget.formulas < 4000


def test_mattes_and_inputs_of_one_another_are_worked_out_once():
    chain = [layer("l0", "shape", shape__size=[60, 60])]
    for n in range(1, 40):
        shape = layer(
            f"l{n}",
            "shape",
            shape__size=[60 + n, 60],
            matte__layer=f"l{n - 1}",
            effect__e__layer=f"l{n - 1}",
        )
        chain.append(shape.model_copy(update={"effects": (Effect(id="e", kind="displacement"),)}))
    evaluator = SceneEvaluator(project(*chain), "reveal")
    frame = evaluator.at(1.0)
    assert evaluator.budget.layers < 200
    assert len(repr(frame.layers[-1])) < 20_000


@pytest.mark.parametrize("apart", [0.0, 0.04])
def test_scenes_that_place_the_next_one_again_and_again_are_bounded(apart):
    scenes = []
    for n in range(15):
        placed = [
            layer(
                f"p{k}",
                "scene",
                scene__id=f"s{n + 1}",
                position=[80 + 40 * k, 60],
                time__offset=apart * k,
            )
            for k in range(3)
        ]
        scenes.append(
            scene(*placed, width=160, height=90).model_copy(update={"id": f"s{n}", "name": f"S{n}"})
        )
    last = scene(layer("a", "shape", rotation=[key(0, 0.0), key(4, 90.0)]), width=160, height=90)
    scenes.append(last.model_copy(update={"id": "s15", "name": "S15"}))
    _, faults = rendered(Project(id="k", name="K", scenes=tuple(scenes)), 0.5)
    if apart:  # every placing shows another moment: that cannot be done, and is said
        assert any("more than" in fault.why or "too many" in fault.why for fault in faults)
    else:
        assert faults == ()


def test_a_glow_that_fails_leaves_its_layer_as_it_is(monkeypatch):
    """Once, not once more as its light."""
    plain = draw(project(with_effects(), ground="#806040"))
    broken(EFFECTS, monkeypatch, "glow")
    pixels, faults = rendered(project(with_effects("glow"), ground="#806040"))
    assert (pixels == plain).all() and [fault.part for fault in faults] == ["Glow"]


def test_letters_that_a_typeface_does_not_have_are_named():
    words = layer("words", "text", text="Gull \u6f22 bay\n\u5b57\u6f22 \t", text__size=30.0)
    _, faults = rendered(project(words))
    (fault,) = faults
    assert (fault.layer, fault.part) == ("words", "typeface")
    assert fault.why == "it has no letters for \u6f22\u5b57"
    assert rendered(project(layer("words", "text", text="Gull Bay", text__size=30.0)))[1] == ()
