"""Arrangements made, retimed, ordered; scenes with them as a whole; what is refused."""

import numpy as np
import pytest
from tests.build import CONTEXT, LIBRARY, layer, project
from tests.edits.arrangements_desk import (
    FRAMES,
    S,
    apart,
    arranged,
    do,
    frames,
    holds,
    row,
    stand,
    value,
    within,
)

from young_comet.core.catalog import check_project
from young_comet.core.catalog.mending import mend_project
from young_comet.core.model import Asset, Ink, Property, SavedEasing, Stand, Step
from young_comet.core.model.schema import load_project
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError, NotFoundError

# The row


def test_the_first_is_what_stands_and_another_begins_where_the_playhead_is():
    document = project(layer("left", "shape"), layer("name", "text"))
    document = do(document, kind="add-arrangement", id="one")
    assert holds(document) == [(0, 4)]
    document = do(document, kind="add-arrangement", id="two", time_s=2.0)
    assert holds(document) == [(0, 1.4), (2, 4)]
    assert [each.name for each in document.scenes[0].arrangements] == [
        "Arrangement 1", "Arrangement 2",
    ]  # fmt: skip
    # One that begins at the same moment comes after it.
    document = do(document, kind="add-arrangement", id="three", time_s=2.0)
    assert [hold[0] for hold in holds(document)] == [0, 2, pytest.approx(3.6)]
    assert all(begin < 4 for begin, _ in holds(document))


def test_one_within_a_hold_takes_its_rest_and_what_follows_stays():
    before = arranged()
    document = do(before, kind="add-arrangement", id="new", time_s=1.8)
    assert holds(document) == [(0, 1), (1.4, 1.4), (1.8, 2), (2.6, 4)]
    assert stand(document, "new", "left").values == stand(before, "hold", "left").values
    times = [t for t in FRAMES if t < 1.36 or t >= 2]
    assert apart(before, document, times) <= 1


def test_one_within_a_step_is_what_stands_there():
    before = arranged()
    document = do(before, kind="add-arrangement", id="new", time_s=1.2)
    assert holds(document)[:3] == [(0, 1), (1.2, 1.2), (1.4, 2)]
    held = stand(document, "new", "left").values
    evaluator = SceneEvaluator(before, "reveal")
    there = evaluator.values(evaluator.find("left"), 1.2)("position")
    assert held["position"] == pytest.approx(there)


def test_retiming_moves_exactly_what_follows():
    before = arranged()
    later = do(before, kind="retime-arrangement", arrangement="gust", edge="end", time_s=1.52)
    assert holds(later) == [(0, 1.52), (1.92, 2.52), (3.12, 4)]
    assert apart(before, later, [t for t in FRAMES if t <= 1.0]) == 0
    # What follows is the same, so much later; the star with keys of its own goes its own way.
    kept = [each.id for each in before.scenes[0].layers if each.id != "star"]
    one, other = (
        SceneEvaluator(each, "reveal", library=LIBRARY) for each in (before, later)
    )  # fmt: skip
    for t in FRAMES:
        if t >= 1.0 and t + 0.52 < 3.78:
            a, b = one.at(t), other.at(t + 0.52)
            assert [x.id for x in a.layers if x.id in kept] == [
                x.id for x in b.layers if x.id in kept
            ]
            for x, y in zip(a.layers, b.layers, strict=True):
                if x.id in kept:
                    assert x.matrix.as_tuple() == pytest.approx(y.matrix.as_tuple(), abs=1e-6)
                    assert x.opacity == pytest.approx(y.opacity, abs=1e-6)
    begun = do(before, kind="retime-arrangement", arrangement="hold", edge="begin", time_s=1.2)
    assert holds(begun) == [(0, 1), (1.2, 1.8), (2.4, 4)]
    assert holds(do(before, kind="change-arrangement", arrangement="hold", hold_s=0.1)) == [
        (0, 1), (1.4, pytest.approx(1.52)), (pytest.approx(2.12), 4),
    ]  # fmt: skip


def test_ties_go_along_with_what_they_hang_on():
    before = do(arranged(), kind="tie-times", targets=[{"layer": "bow", "side": "start"}],
                to="arrangement", id="hold", moment="end", offset_s=0.2)  # fmt: skip
    bow = next(each for each in before.scenes[0].layers if each.id == "bow")
    assert (bow.start_s, bow.end_s) == (pytest.approx(2.2), pytest.approx(5.8))
    document = do(before, kind="retime-arrangement", arrangement="gust", time_s=1.4)
    bow = next(each for each in document.scenes[0].layers if each.id == "bow")
    assert bow.start_s == pytest.approx(2.6)
    gone = do(document, kind="remove-arrangements", arrangements=["hold"])
    bow = next(each for each in gone.scenes[0].layers if each.id == "bow")
    assert bow.start_tie is None and bow.start_s == pytest.approx(2.6)


def test_ordered_and_removed_they_take_their_hold_and_step_along():
    before = arranged()
    document = do(before, kind="remove-arrangements", arrangements=["hold"])
    assert holds(document) == [(0, 1), (1.4, 4)]
    turned = do(before, kind="order-arrangement", arrangement="go", index=0)
    assert [each.id for each in turned.scenes[0].arrangements] == ["go", "gust", "hold"]
    assert holds(turned)[:2] == [(0, 1.4), (2, 3)]


def test_what_the_last_one_says_becomes_the_layers_own():
    document = do(arranged(), kind="remove-arrangements", arrangements=["gust", "go"])
    still = frames(document, [2.5])[0]
    document = do(document, kind="remove-arrangements", arrangements=["hold"])
    assert not document.scenes[0].arrangements
    assert value(document, "left", "position") == (130, 90)
    assert value(document, "name", "text") == "Hold on"
    shown = frames(document, [2.5])[0]
    assert np.abs(still - shown).max() == 0  # the bow that was away in it is hidden


# Scenes as a whole


def test_a_scene_scaled_wrapped_copied_and_unwrapped_keeps_its_arrangements():
    before = arranged()
    larger = do(before, kind="change-frame", width=640, height=360,
                rate={"num": 25, "den": 1}, length_s=4.0, arrange="scale-to-fit")  # fmt: skip
    evaluators = [SceneEvaluator(each, "reveal") for each in (before, larger)]
    for moment in FRAMES[::7]:
        a, b = (
            {x.id: x.matrix((0, 0)) for x in e.at(moment).layers if x.id != "star"}
            for e in evaluators
        )
        assert a.keys() == b.keys()
        for layer_id, (x, y) in a.items():
            assert b[layer_id] == pytest.approx((2 * x, 2 * y), abs=1e-3)
    wrapped = do(before, kind="wrap-layers", layers=["left", "right", "name"], id="w",
                 new_scene="inner", name="Badge")  # fmt: skip
    assert apart(before, wrapped, FRAMES[::3]) <= 1
    unwrapped = do(wrapped, kind="unwrap-scene", layer="w")
    assert apart(before, unwrapped, FRAMES[::3]) <= 1
    copied = apply_edit(before, parse_edit({"kind": "duplicate-scene", **S, "id": "copy"}), CONTEXT)
    assert copied.project.scenes[1].arrangements == before.scenes[0].arrangements


def test_removing_a_layer_takes_it_out_of_all_and_undo_brings_it_back():
    before = arranged()
    document = do(before, kind="remove-layers", layers=["left"])
    assert not any(each.stand("left").values for each in document.scenes[0].arrangements)


@pytest.mark.parametrize(("edit", "says"), [
    ({"kind": "add-arrangement", "id": "hold"}, "already"),
    ({"kind": "add-arrangement", "take_keys": True, "time_s": 1.0}, "no key at that moment"),
    ({"kind": "add-arrangement", "like": "nowhere"}, "nowhere"),
    ({"kind": "retime-arrangement", "arrangement": "go", "edge": "end", "time_s": 3}, "until the scene ends"),
    ({"kind": "retime-arrangement", "arrangement": "gust", "edge": "begin", "time_s": 1}, "begins with the scene"),
    ({"kind": "change-arrangement", "arrangement": "gust", "step": {"easing": "swoosh"}}, "easing"),
    ({"kind": "change-arrangement", "arrangement": "gust", "step": {"order": "sideways"}}, "order"),
    ({"kind": "change-arrangement", "arrangement": "gust", "step": {"appears": "sway"}}, "arrive"),
    ({"kind": "change-arrangement", "arrangement": "gust", "step": {"vanishes": "nothing"}}, "move"),
    ({"kind": "change-arrangement", "arrangement": "gust", "step": {"path": "drawn"}}, "along"),
    ({"kind": "change-arrangement", "arrangement": "gust", "step": {"path": "drawn", "along": "no"}}, "layer"),
    ({"kind": "change-arrangement", "arrangement": "gust", "step": {"length_s": 61}}, "length_s"),
    ({"kind": "change-arrangement", "arrangement": "gust", "hold_s": -1}, "hold_s"),
    ({"kind": "stand-layers", "arrangement": "gust", "layers": ["bed"], "there": False}, "not seen"),
    ({"kind": "stand-layers", "arrangement": "gust", "layers": ["ghost"], "there": False}, "ghost"),
    ({"kind": "in-arrangement", "arrangement": "nowhere", "edits": [
        {"kind": "move-layers", **S, "layers": ["left"], "by": [1, 1], "time_s": 0}]}, "nowhere"),
    ({"kind": "in-arrangement", "edits": [{"kind": "make-tea"}]}, "edit kind"),
    ({"kind": "tie-times", "targets": [{"layer": "bow"}], "to": "arrangement", "id": "no"}, "no"),
    ({"kind": "tie-times", "targets": [{"layer": "bow"}], "to": "arrangement", "id": "hold",
      "moment": "leaves"}, "start or end"),
])  # fmt: skip
def test_what_cannot_be_is_refused_with_words(edit, says):
    with pytest.raises((DocumentError, NotFoundError)) as caught:
        apply_edit(arranged(), parse_edit({**S, **edit}), CONTEXT)
    assert says in f"{caught.value} {caught.value.field}"


def test_a_scene_without_arrangements_has_nothing_to_turn_into_keys():
    with pytest.raises(DocumentError, match="no arrangements"):
        apply_edit(project(layer("left", "shape")),
                   parse_edit({**S, "kind": "arrangements-to-keys"}), CONTEXT)  # fmt: skip


BAD = [
    ({"stands": [{"layer": "ghost", "values": {}}]}, "layers of this scene"),
    ({"stands": [{"layer": "left", "values": {"wind": 1}}]}, "wind"),
    ({"stands": [{"layer": "left", "values": {"opacity": 400}}]}, "Opacity"),
    ({"stands": [{"layer": "left", "values": {"position": [1]}}]}, "two numbers"),
    ({"stands": [{"layer": "left", "values": {"matte.layer": "right"}}]}, "matte.layer"),
    ({"stands": [{"layer": "left"}, {"layer": "left"}]}, "twice"),
    ({"stands": [{"layer": "bed", "there": False}]}, "not seen"),
    ({"step": {"easing": "swoosh"}}, "easing"),
    ({"step": {"appears": "sway"}}, "arrive"),
    ({"step": {"along": "ghost"}}, "along"),
    ({"hold_s": 1e9}, "hold_s"),
    ({"id": "gust"}, "two arrangements"),
]


@pytest.mark.parametrize(("wrong", "says"), BAD, ids=[says for _, says in BAD])
def test_documents_with_wrong_arrangements_are_refused_and_can_be_mended(wrong, says):
    data = arranged().model_dump(mode="json")
    data["scenes"][0]["arrangements"][1] |= wrong
    with pytest.raises(DocumentError) as caught:
        check_project(load_project(data))
    assert says in f"{caught.value} {caught.value.field}"
    mended, changes = mend_project(data)
    assert changes
    assert len(mended.scenes[0].arrangements) >= 2
    assert [each.id for each in mended.scenes[0].layers] == [
        each["id"] for each in data["scenes"][0]["layers"]
    ]


def test_many_layers_and_arrangements_are_worked_out_once():
    layers = [layer(f"l{n}", "shape", shape__size=[4, 4]) for n in range(300)]
    stands = [
        [Stand(layer=la.id, values={"position": (n, 10.0 * k), "rotation": 10.0 * k})
         for n, la in enumerate(layers)]
        for k in range(3)
    ]  # fmt: skip
    document = project(*layers, arrangements=row(*stands))
    evaluator = SceneEvaluator(document, "reveal")
    assert evaluator.scene is SceneEvaluator(document, "reveal").scene
    assert len(evaluator.at(1.2).layers) == 300


def test_linked_copies_keep_their_own_when_their_original_is_turned_into_keys():
    left = layer("left", "shape", shape__size=[60, 40], position=[100, 90], rotation=5.0)
    copy = left.model_copy(update={
        "id": "copy", "name": "Copy", "copy_of": "left", "own": ("position",),
        "properties": {**left.properties, "position": Property(value=(220, 90))},
    })  # fmt: skip
    stands = ([], [Stand(layer="left", values={"rotation": 90.0})], [])
    before = project(left, copy, ground=None, arrangements=row(*stands))
    document = do(before, kind="arrangements-to-keys")
    assert apart(before, document, FRAMES[::5]) <= 1


# How layers hang together, and what comes of others


def test_a_layer_that_begins_to_ride_stays_where_it_is_in_every_arrangement():
    before = arranged()
    ride = {"kind": "ride", "layers": ["name"], "on": "right", "time_s": 1.5}
    document = within(before, "hold", ride)
    name = next(each for each in document.scenes[0].layers if each.id == "name")
    assert name.rides == "right"
    # Where each holds: on the way it goes along with what it rides on.
    for moment in (0.5, 1.7):
        assert apart(before, document, [moment]) <= 3
    left = next(each for each in document.scenes[0].layers if each.id == "left")
    assert left is before.scenes[0].layers[0]
    carried = within(before, "gust", {
        "kind": "carry-together", "layers": ["left", "right"], "id": "both", "time_s": 0.5,
    })  # fmt: skip
    for moment in (0.5, 1.7, 3.0):
        assert apart(before, carried, [moment]) <= 3


def test_halves_stand_as_their_whole_did():
    before = arranged()
    split = {"kind": "split-layers", "time_s": 1.7, "ids": {"left": "left-2", "bow": "bow-2"}}
    document = within(before, "hold", split)
    assert apart(before, document, FRAMES) <= 1
    assert stand(document, "go", "left-2").values == stand(before, "go", "left").values


def test_what_takes_the_place_of_others_is_there_wherever_they_were():
    joined = within(arranged(), "hold", {
        "kind": "join-shapes", "layers": ["left", "right"], "how": "union", "time_s": 1.5,
    })  # fmt: skip
    assert value(joined, "left", "shape.kind") == "path"
    assert all("shape.kind" not in stand(joined, a, "left").values for a in ("gust", "hold", "go"))


def test_expressions_and_moves_are_baked_as_arrangements_have_them():
    before = arranged()
    scene = before.scenes[0]
    left = scene.layers[0]
    own = {"rotation": Property(value=0.0, expression="keyed + t * 10")}
    left = left.model_copy(update={"properties": {**left.properties, **own}})
    turned = Stand(layer="left", values={"rotation": 90.0, "position": (130, 90)})
    gust, hold, go = scene.arrangements
    hold = hold.model_copy(
        update={"stands": (turned, *(s for s in hold.stands if s.layer != "left"))}
    )
    scene = scene.model_copy(
        update={"layers": (left, *scene.layers[1:]), "arrangements": (gust, hold, go)}
    )
    before = check_project(before.model_copy(update={"scenes": (scene,)}))
    document = within(before, "hold", {
        "kind": "bake-expressions", "tolerance": 0.05,
        "targets": [{"layer": "left", "property": "rotation"}],
    })  # fmt: skip
    for moment in (0.5, 1.2, 1.7, 3.0):
        values = [
            SceneEvaluator(each, "reveal").values(
                SceneEvaluator(each, "reveal").find("left"), moment
            )("rotation")
            for each in (before, document)
        ]
        assert values[0] == pytest.approx(values[1], abs=0.2)


def test_the_standing_part_lies_where_an_arrangement_holds():
    document = do(arranged(), kind="change-scene", gives_way=True)
    start, end = document.scenes[0].standing_s
    assert not any(start < t < end for hold in holds(document) for t in hold)


def test_what_only_arrangements_use_of_a_project_is_used():
    """A picture cannot be removed, a removed ink leaves its colour and a removed easing its curve."""
    before = arranged()
    scene = before.scenes[0]
    picture = layer("emblem", "picture", picture__asset="one")
    said = Stand(layer="emblem", values={"picture.asset": "two"})
    coloured = Stand(layer="left", values={"fill.colour": "ink:dusk"})
    row_ = tuple(
        each.model_copy(
            update={
                "stands": (said, coloured) if n == 1 else (),
                "step": Step(easing="easing:mine"),
            }
        )
        for n, each in enumerate(scene.arrangements)
    )
    scene = scene.model_copy(update={"layers": (*scene.layers, picture), "arrangements": row_})
    assets = tuple(
        Asset(id=i, name=i, kind="picture", media_type="image/png", hash=h * 64, size_bytes=1)
        for i, h in (("one", "a"), ("two", "b"))
    )
    before = check_project(before.model_copy(update={
        "scenes": (scene,), "assets": assets, "inks": (Ink(id="dusk", name="Dusk", colour="#17224d"),),
        "easings": (SavedEasing(id="mine", name="Mine", easing="back-out"),),
    }))  # fmt: skip
    with pytest.raises(DocumentError, match="Emblem in Reveal"):
        apply_edit(before, parse_edit({"kind": "remove-asset", "asset": "two"}), CONTEXT)
    plain = apply_edit(before, parse_edit({"kind": "remove-ink", "ink": "dusk"}), CONTEXT).project
    assert stand(plain, "hold", "left").values["fill.colour"] == "#17224d"
    curve = apply_edit(before, parse_edit({"kind": "remove-easing", "id": "mine"}), CONTEXT).project
    assert {each.step.easing for each in curve.scenes[0].arrangements} == {"back-out"}
