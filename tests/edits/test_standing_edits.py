"""What layers are in arrangements: worked in, turned into keys and back."""

import pytest
from tests.build import key, layer, project
from tests.edits.arrangements_desk import (
    FRAMES,
    S,
    apart,
    arranged,
    do,
    holds,
    stand,
    value,
    within,
)

from young_comet.core.catalog import check_project
from young_comet.core.model import Stand, Step
from young_comet.core.resolve import SceneEvaluator

# Working in one


def test_what_is_moved_in_one_is_moved_there_alone():
    before = arranged()
    move = {"kind": "move-layers", "layers": ["left", "right"], "by": [5, 6], "time_s": 1.5}
    document = within(before, "hold", move)
    assert stand(document, "hold", "left").values["position"] == (135, 96)
    assert stand(document, "hold", "right").values["position"] == (195, 96)
    assert value(document, "left", "position") == (100, 90)
    assert document.scenes[0].arrangements[0] == before.scenes[0].arrangements[0]
    times = [t for t in FRAMES if t <= 1.0 or t >= 2.6]
    assert apart(before, document, times) == 0


@pytest.mark.parametrize("edit", [
    {"kind": "set-values", "targets": [{"layer": "left", "property": "opacity", "value": 40.0}]},
    {"kind": "set-values", "targets": [{"layer": "name", "property": "text", "value": "Gulls"}]},
    {"kind": "scale-layers", "layers": ["left"], "factor": [2, 2], "about": [0, 0], "time_s": 0},
    {"kind": "turn-layers", "layers": ["right"], "by_deg": 30, "about": [160, 90], "time_s": 0},
    {"kind": "together", "title": "Both", "edits": [
        {"kind": "move-layers", **S, "layers": ["left"], "by": [1, 2], "time_s": 0},
        {"kind": "set-values", **S, "targets": [
            {"layer": "left", "property": "rotation", "value": 12.0}]}]},
], ids=["value", "text", "scale", "turn", "together"])  # fmt: skip
@pytest.mark.parametrize("where", ["gust", "hold", "go"])
def test_whatever_is_done_to_values_is_seen_in_it_and_in_no_other(edit, where):
    before = arranged()
    document = within(before, where, edit)
    begins = dict(zip(("gust", "hold", "go"), holds(before), strict=True))
    own = {layer.id: layer.properties for layer in before.scenes[0].layers}
    assert {layer.id: layer.properties for layer in document.scenes[0].layers} == own
    for name, (begin, _) in begins.items():
        difference = apart(before, document, [begin])
        away = name == "go" and edit["kind"] == "set-values" and "text" in str(edit["targets"])
        if name == where and not away:
            assert difference > 0
        elif name != where:
            assert difference == 0, name


def test_in_all_numbers_go_as_far_and_other_values_become_the_same():
    before = arranged()
    move = {"kind": "move-layers", "layers": ["left"], "by": [5, 6], "time_s": 1.5}
    document = within(before, None, move, time_s=1.5)
    assert value(document, "left", "position") == (105, 96)
    assert stand(document, "hold", "left").values["position"] == (135, 96)
    assert stand(document, "go", "left").values["position"] == (45, 46)
    text = {
        "kind": "set-values",
        "targets": [{"layer": "name", "property": "text", "value": "Gulls"}],
    }
    document = within(before, None, text, time_s=0.0)
    assert value(document, "name", "text") == "Gulls"
    assert stand(document, "hold", "name").values["text"] == "Gulls"


def test_what_is_added_in_one_is_there_in_it_alone_and_keys_take_over():
    before = arranged()
    flag = layer("flag", "shape", shape__size=[10, 10]).model_dump(mode="json")
    document = within(before, "hold", {"kind": "add-layers", "layers": [flag]})
    assert [stand(document, a, "flag").there for a in ("gust", "hold", "go")] == [
        False,
        True,
        False,
    ]
    keyed = within(before, "hold", {
        "kind": "set-keys", "time_s": 1.5, "targets": [{"layer": "left", "property": "position"}],
    })  # fmt: skip
    left = next(each for each in keyed.scenes[0].layers if each.id == "left")
    assert [k.value for k in left.properties["position"].keys] == [(130, 90)]
    evaluator = SceneEvaluator(keyed, "reveal")
    assert evaluator.values(evaluator.find("left"), 3.0)("position") == (130, 90)


def test_reset_in_one_is_what_it_is_in_all_and_then_the_default():
    before = arranged()
    reset = {"kind": "reset-properties", "targets": [{"layer": "left", "property": "position"}]}
    document = within(before, "hold", reset)
    assert "position" not in stand(document, "hold", "left").values
    assert value(document, "left", "position") == (100, 90)
    document = within(before, "gust", reset)
    assert stand(document, "gust", "left").values["position"] == (160, 90)


def test_effects_added_in_one_are_the_layers_and_their_values_differ():
    document = within(arranged(), "hold", {
        "kind": "add-members", "family": "effect", "layers": ["left"],
        "members": [{"member": {"kind": "gaussian-blur", "id": "e"}}],
    })  # fmt: skip
    blur = {"kind": "set-values", "targets": [
        {"layer": "left", "property": "effect.e.size", "value": [9, 9]}]}  # fmt: skip
    document = within(document, "hold", blur)
    assert stand(document, "hold", "left").values["effect.e.size"] == (9, 9)
    gone = do(document, kind="remove-members", family="effect", layer="left", members=["e"])
    assert "effect.e.size" not in stand(gone, "hold", "left").values


def test_of_a_point_taken_apart_they_say_its_two_numbers():
    document = do(arranged(), kind="split-property",
                  targets=[{"layer": "left", "property": "position"}])  # fmt: skip
    values = stand(document, "hold", "left").values
    assert (values["position.x"], values["position.y"]) == (130, 90)
    assert apart(arranged(), document, FRAMES[::5]) == 0
    move = {"kind": "move-layers", "layers": ["left"], "by": [5, 0], "time_s": 1.5}
    document = within(document, "hold", move)
    assert stand(document, "hold", "left").values["position.x"] == 135


def test_the_same_in_all():
    document = do(arranged(), kind="same-in-all", arrangement="hold", layer="left",
                  properties=["position", "fill.colour"])  # fmt: skip
    assert value(document, "left", "position") == (130, 90)
    assert value(document, "left", "fill.colour") == "#0000ff"
    assert list(stand(document, "go", "left").values) == ["scale"]


# Keys


def full():
    """Everything at once: arcs, a drawn path, staggers, a text that changes, counts, comings and
    goings with moves, keys that add, an easing that overshoots."""
    document = arranged()
    scene = document.scenes[0]
    rail = layer("rail", "shape", shape__kind="path", shape__path="M0 0 C30 -80 60 -80 90 0")
    layers = []
    for each in scene.layers:
        if each.id == "star":
            prop = each.properties["position"].model_copy(update={"adds": True})
            each = each.model_copy(update={"properties": {**each.properties, "position": prop}})
        layers.append(each)
    gust, hold, go = scene.arrangements
    steps = (
        Step(length_s=0.4, easing="back-out", stagger_pct=40, path="arc", bend=0.8, vanishes="sink"),
        Step(length_s=0.6, path="drawn", along="rail", order="rightwards", stagger_pct=20,
             appears="grow", vanishes="slide"),
    )  # fmt: skip
    more = Stand(layer="star", values={"position": (60, 60), "rotation": 90.0})
    arrangements = (
        gust.model_copy(update={"step": steps[0]}),
        hold.model_copy(update={"step": steps[1], "stands": (*hold.stands, more)}),
        go,
    )
    scene = scene.model_copy(update={"layers": (*layers, rail), "arrangements": arrangements})
    return check_project(document.model_copy(update={"scenes": (scene,)}))


@pytest.mark.parametrize("make", [arranged, full])
def test_turned_into_keys_every_frame_is_the_same(make):
    before = make()
    document = do(before, kind="arrangements-to-keys")
    assert not document.scenes[0].arrangements
    assert apart(before, document, FRAMES) <= 1
    names = [each.name for each in document.scenes[0].layers]
    assert "Bow 2" in names  # it was away for a while


def test_one_layer_alone_turned_into_keys():
    before = arranged()
    document = do(before, kind="arrangements-to-keys", layers=["left"])
    assert len(document.scenes[0].arrangements) == 3
    assert not any(each.stand("left").values for each in document.scenes[0].arrangements)
    assert apart(before, document, FRAMES) <= 1


def test_keys_at_moments_become_arrangements_with_the_same_frames():
    easing = "cubic-bezier(0.2, 0, 0, 1)"
    box = layer("box", "shape", shape__size=[60, 40], position=[
        key(0.4, [40, 90], easing), key(1.6, [200, 60], "linear"), key(3.0, [260, 150])])  # fmt: skip
    name = layer("name", "text", text="Kite", text__size=30.0, rotation=[
        key(0.4, 0.0, easing), key(1.6, 90.0, "linear"), key(3.0, 45.0)])  # fmt: skip
    before = project(box, name, ground=None)
    document = before
    for moment in (0.4, 1.6, 3.0):
        document = do(document, kind="add-arrangement", take_keys=True, time_s=moment)
    assert holds(document) == [(0, 0.4), (1.6, 1.6), (3, 4)]
    assert not any(p.keys for la in document.scenes[0].layers for p in la.properties.values())
    assert apart(before, document, FRAMES) <= 1
    back = do(document, kind="arrangements-to-keys")
    assert apart(before, back, FRAMES) <= 1
