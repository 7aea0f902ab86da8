"""Riding: places taken over, chains, tilts, carriers."""

from __future__ import annotations

import itertools
import math
import random

import numpy as np
import pytest
from tests.build import CONTEXT, draw, key, layer, project
from tests.linked import at, evaluator, riding, seen

from young_comet.core.geometry.affine import Affine
from young_comet.core.geometry.projective import Projective
from young_comet.core.geometry.spatial import Space
from young_comet.core.model import Project
from young_comet.core.motion import PlaceValues, taken_over
from young_comet.core.motion.carried import taken_apart
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError


def test_a_rider_takes_over_the_place_but_not_the_opacity():
    ev = evaluator(
        layer("kite", "shape", position=[100, 80], rotation=90.0, scale=[200, 200], opacity=40.0),
        riding("bow", "kite", position=[30, 0]),
    )
    assert at(ev, "bow")((0, 0)) == pytest.approx((100, 140))
    assert at(ev, "bow")((10, 0)) == pytest.approx((100, 160))
    assert ev.layer(ev.find("bow"), 0.0).opacity == 1.0


def test_riding_goes_through_any_number_of_layers():
    layers = [layer("l0", "carrier", position=[1, 2], rotation=[key(0, 0.0), key(4, 40.0)])]
    for i in range(1, 300):
        layers.append(riding(f"l{i}", f"l{i - 1}", "carrier", position=[1, 0], rotation=1.0))
    ev = evaluator(*layers)
    expected = Affine.place((1, 2), 20.0, (1, 1), (0, 0), (0, 0))
    for _ in range(1, 300):
        expected = expected @ Affine.place((1, 0), 1.0, (1, 1), (0, 0), (0, 0))
    assert at(ev, "l299", 2.0).as_tuple() == pytest.approx(expected.as_tuple(), abs=1e-6)


def test_a_rider_lies_in_the_tilted_plane_of_what_it_rides_on():
    ev = evaluator(
        layer("board", "shape", position=[160, 90], turn=50.0),
        riding("name", "board", position=[60, 20]),
    )
    board = ev.places.lens(ev.values(ev.find("board"), 0))
    assert seen(ev, "name", (0, 0)) == pytest.approx(board((60, 20)))
    assert seen(ev, "name", (7, -5)) == pytest.approx(board((67, 15)))


def test_tilts_add_up_in_space():
    """Two turns about the same axis are one of their sum, and a tilt taken back is none."""
    ev = evaluator(
        layer("board", "carrier", position=[160, 90], turn=30.0),
        riding("half", "board", turn=25.0, position=[0, 0]),
        riding("flat", "board", turn=-30.0, position=[0, 0]),
        layer("whole", "shape", position=[160, 90], turn=55.0),
    )
    for point in ((50, 20), (-40, 33)):
        assert seen(ev, "half", point) == pytest.approx(seen(ev, "whole", point))
        assert seen(ev, "flat", point) == pytest.approx((160 + point[0], 90 + point[1]))


def test_a_space_of_a_scaled_layer_scales_depths_too():
    """A tilted layer on a carrier of twice the size looks like one of twice the size."""
    ev = evaluator(
        layer("board", "carrier", position=[160, 90], scale=[200, 200]),
        riding("name", "board", position=[0, 0], tilt=40.0),
        layer("large", "shape", position=[160, 90], scale=[200, 200], tilt=40.0),
    )
    assert seen(ev, "name", (30, 22)) == pytest.approx(seen(ev, "large", (30, 22)))


@pytest.mark.parametrize("tilt,turn", [(0, 0), (35, 0), (0, -60), (25, 40)])
def test_one_tilted_plane_is_as_css_has_it(tilt, turn):
    """Against the product of 4x4 matrices written out: perspective, rotateY, rotateX."""
    flat = Affine.place((0, 0), 20, (1.5, 0.8), (0, 0), (4, 5))
    lens = Space.tilted((40, 30), tilt, turn, flat).seen((100, 60), 300)
    ct, st = math.cos(math.radians(tilt)), math.sin(math.radians(tilt))
    cy, sy = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    x_axis = np.array([[1, 0, 0, 0], [0, ct, -st, 0], [0, st, ct, 0], [0, 0, 0, 1]])
    y_axis = np.array([[cy, 0, sy, 0], [0, 1, 0, 0], [-sy, 0, cy, 0], [0, 0, 0, 1]])
    view = np.eye(4)
    view[3, 2] = -1 / 300
    move = np.eye(4)
    move[:2, 3] = (40 - 100, 30 - 60)
    for point in ((0, 0), (30, -12)):
        u, v = flat(point)
        x, y, _, w = view @ move @ y_axis @ x_axis @ np.array([u, v, 0, 1])
        assert lens(point) == pytest.approx((100 + x / w, 60 + y / w))


@pytest.mark.parametrize(
    ("layers", "word"),
    [
        ((riding("a", "b"), riding("b", "a")), "circle"),
        ((riding("a", "a"),), "circle"),
        ((riding("a", "sky"), layer("sky", "backdrop")), "no place"),
        ((riding("a", "gone"),), "a layer of this scene"),
        ((riding("sky", "a", "backdrop"), layer("a", "shape")), "cannot ride"),
        ((riding("a", "b"), layer("b", "shape", align__x="left", align__to="layer",
                                  align__layer="a")), "circle"),
        ((layer("a", "shape", fit__layer="b"), layer("b", "shape", fit__layer="a")), "circle"),
    ],
)  # fmt: skip
def test_circles_and_impossible_rides_are_refused(layers, word):
    with pytest.raises(DocumentError, match=word):
        project(*layers)


def picture(document: Project, time_s: float) -> np.ndarray:
    return draw(document, time_s)


def random_place(rng, keyed):
    def some(make):
        return [key(t, make()) for t in (0, 1.5, 3)] if keyed and rng.random() < 0.6 else make()

    size = lambda: rng.uniform(60, 160)  # noqa: E731
    return {
        "position": some(lambda: [rng.uniform(40, 280), rng.uniform(30, 150)]),
        "rotation": some(lambda: rng.uniform(-200, 200)),
        "scale": some(lambda: [size(), size()]),
        "pivot": [rng.uniform(-20, 20), rng.uniform(-10, 10)],
    }


@pytest.mark.parametrize("seed", range(24))
def test_setting_and_removing_a_ride_changes_nothing_on_the_stage(seed):
    rng = random.Random(seed)
    parent = random_place(rng, keyed=True)
    parent["scale"] = [90.0, 130.0] if seed % 3 == 0 else [120.0, 120.0]
    child = random_place(rng, keyed=seed % 2 == 0)
    document = project(
        layer("kite", "shape", shape__size=[60, 40], fill__colour="#2f9fb3", **parent),
        layer("bow", "shape", shape__kind="polygon", shape__radius=24.0, **child),
    )
    when = rng.choice((0.0, 0.6, 1.4, 2.2))
    ride = {"kind": "ride", "scene": "reveal", "layers": ["bow"], "on": "kite", "time_s": when}
    there = apply_edit(document, parse_edit(ride), CONTEXT).project
    assert there.scenes[0].layers[1].rides == "kite"
    before, after = picture(document, when), picture(there, when)
    assert np.abs(before.astype(int) - after).max() <= 1
    back = apply_edit(there, parse_edit({**ride, "on": None}), CONTEXT).project
    assert np.abs(picture(document, when).astype(int) - picture(back, when)).max() <= 1
    assert back.scenes[0].layers[1].rides is None


def test_every_key_can_be_taken_over_at_its_own_time():
    document = project(
        layer("kite", "shape", position=[key(0, [50, 50]), key(2, [250, 90])], rotation=[key(0, 0.0), key(2, 120.0)]),
        layer("bow", "shape", position=[key(0, [60, 60]), key(1, [100, 120]), key(2, [200, 40])]),
    )  # fmt: skip
    ride = {"kind": "ride", "scene": "reveal", "layers": ["bow"], "on": "kite", "time_s": 0.0}
    whole = apply_edit(document, parse_edit({**ride, "every_key": True}), CONTEXT).project
    fixed = apply_edit(document, parse_edit(ride), CONTEXT).project
    old, new, other = (SceneEvaluator(d, "reveal") for d in (document, whole, fixed))
    for moment in (0.0, 1.0, 2.0):
        there = at(old, "bow", moment)((0, 0))
        assert at(new, "bow", moment)((0, 0)) == pytest.approx(there, abs=0.01)
        if moment:
            assert at(other, "bow", moment)((0, 0)) != pytest.approx(there, abs=5)


def test_a_carrier_takes_the_common_middle_and_leaves_the_picture():
    document = project(
        layer("a", "shape", shape__size=[40, 40], position=[60, 60]),
        layer("b", "shape", shape__size=[40, 40], position=[200, 120]),
        riding("c", "b", shape__size=[10, 10], position=[30, 0]),
    )
    edit = {
        "kind": "carry-together",
        "scene": "reveal",
        "layers": ["a", "b", "c"],
        "id": "all",
        "time_s": 0.0,
    }
    made = apply_edit(document, parse_edit(edit), CONTEXT).project
    layers = {la.id: la for la in made.scenes[0].layers}
    assert layers["all"].kind == "carrier" and layers["all"].properties["position"].value == (
        137.5,
        90.0,
    )
    assert (layers["a"].rides, layers["b"].rides, layers["c"].rides) == ("all", "all", "b")
    assert np.array_equal(picture(document, 0), picture(made, 0))


def test_what_rides_on_a_deleted_layer_stays_where_it_is():
    document = project(
        layer("board", "carrier", position=[20, 10]),
        riding("kite", "board", position=[key(0, [50, 50]), key(2, [200, 60])]),
        riding("bow", "kite", position=[12, 30], rotation=10.0),
    )
    gone = apply_edit(
        document,
        parse_edit({"kind": "remove-layers", "scene": "reveal", "layers": ["kite"]}),
        CONTEXT,
    )
    layers = {la.id: la for la in gone.project.scenes[0].layers}
    assert layers["bow"].rides == "board"
    before, after = SceneEvaluator(document, "reveal"), SceneEvaluator(gone.project, "reveal")
    assert at(before, "bow").as_tuple() == pytest.approx(at(after, "bow").as_tuple(), abs=1e-3)


def test_copies_of_riders_ride_on_the_copies():
    document = project(layer("kite", "shape"), riding("bow", "kite"))
    edit = {
        "kind": "duplicate-layers",
        "scene": "reveal",
        "copies": {"kite": "kite2", "bow": "bow2"},
    }
    layers = {
        la.id: la for la in apply_edit(document, parse_edit(edit), CONTEXT).project.scenes[0].layers
    }
    assert (layers["bow"].rides, layers["bow2"].rides) == ("kite", "kite2")


@pytest.mark.parametrize("seed", range(200))
def test_a_place_is_taken_apart_and_put_together_again(seed):
    rng = random.Random(seed)
    r, sx, sy = rng.uniform(-400, 400), rng.uniform(-3, 3), rng.uniform(-3, 3)
    skew = (rng.uniform(-70, 70), rng.uniform(-50, 50))
    m = Affine.rotation(r) @ Affine.skewing(*skew) @ Affine.scaling(sx, sy)
    turn, scale, lean = taken_apart(m, sx < 0)
    again = Affine.rotation(turn) @ Affine.skewing(*lean) @ Affine.scaling(*scale)
    assert again.as_tuple() == pytest.approx(m.as_tuple(), abs=1e-6)
    assert (scale[0] < 0) == (sx < 0)


def test_turns_go_on_the_same_way_round():
    change = Projective.of(Affine.rotation(-100))
    values = [PlaceValues((0, 0), angle, (1, 1), (0, 0)) for angle in (0, 200, 400, 900)]
    assert [round(taken_over(v, change)[0].rotation_deg) for v in values] == [-100, 100, 300, 800]


# With other operations


def test_a_new_frame_size_carries_riders_and_distances_along():
    document = project(
        layer("kite", "shape", position=[100, 60], scale=[100, 100]),
        riding("bow", "kite", position=[30, 10]),
        layer("name", "text", text="Gull", text__size=20.0, align__x="right", position=[-10, 90]),
    )
    frame = {"kind": "change-frame", "scene": "reveal", "width": 640, "height": 360, "rate": {"num": 25},
             "length_s": 4.0, "arrange": "scale-to-fit"}  # fmt: skip
    large = apply_edit(document, parse_edit(frame), CONTEXT).project
    a, b = draw(document), draw(large, scale=0.5)
    assert np.abs(a.astype(int) - b).mean() < 0.5
    ev = SceneEvaluator(large, "reveal")
    assert at(ev, "bow")((0, 0)) == pytest.approx((260, 140))


def test_halves_of_a_split_layer_arrive_and_leave_once():
    from young_comet.core.model import Move

    kite = layer("kite", "shape").model_copy(update={
        "moves": (Move(id="a", kind="lift", phase="arrive"), Move(id="b", kind="sink", phase="leave")),
        "arrive_s": 0.8, "leave_s": 0.8,
    })  # fmt: skip
    document = project(kite)
    split = {"kind": "split-layers", "scene": "reveal", "time_s": 2.0, "ids": {"kite": "rest"}}
    halves = apply_edit(document, parse_edit(split), CONTEXT).project
    for moment in (0.2, 1.9, 2.0, 2.1, 3.7):
        assert np.array_equal(draw(document, moment), draw(halves, moment))


def test_a_split_scene_goes_on_where_it_was():
    from tests.core.resolve.test_nesting import inner, with_inner

    mover = layer("m", "shape", shape__size=[20, 20], position=[key(0, [0, 45]), key(4, [160, 45])])
    document = with_inner([layer("tag", "scene", scene__id="tag")], inner(mover))
    split = {"kind": "split-layers", "scene": "reveal", "time_s": 2.0, "ids": {"tag": "rest"}}
    halves = apply_edit(document, parse_edit(split), CONTEXT).project
    for moment in (1.0, 2.0, 3.0):
        assert np.array_equal(draw(document, moment), draw(halves, moment))


def boxes(document, *names):
    return [CONTEXT.bounds(document, "reveal", name, 0.0) for name in names]


RIDERS = (
    layer("kite", "shape", shape__size=[80, 60], position=[90, 80], rotation=30.0,
          scale=[150, 150]),
    riding("bow", "kite", shape__size=[20, 10], position=[40, 30]),
    riding("tail", "bow", shape__size=[10, 10], position=[15, 5]),
)  # fmt: skip


@pytest.mark.parametrize("order", [("kite", "bow", "tail"), ("tail", "kite", "bow")])
@pytest.mark.parametrize(("edge", "side", "goal"), [("left", 0, 0.0), ("bottom", 3, 180.0)])
def test_what_rides_on_another_aligned_layer_is_moved_once(order, edge, side, goal):
    edit = {"kind": "align-layers", "scene": "reveal", "layers": list(order), "edge": edge,
            "time_s": 0.0}  # fmt: skip
    done = apply_edit(project(*RIDERS), parse_edit(edit), CONTEXT).project
    for box in boxes(done, *order):
        assert box[side] == pytest.approx(goal, abs=1e-6)


def test_riders_distributed_with_what_they_ride_on_have_equal_gaps():
    edit = {"kind": "distribute-layers", "scene": "reveal", "layers": ["kite", "bow", "tail", "sun"],
            "axis": "x", "time_s": 0.0}  # fmt: skip
    sun = layer("sun", "shape", shape__size=[12, 12], position=[300, 40])
    base = project(*RIDERS, sun)
    done = apply_edit(base, parse_edit(edit), CONTEXT).project
    before, after = (sorted(boxes(d, "kite", "bow", "tail", "sun")) for d in (base, done))
    gaps = [b[0] - a[2] for a, b in itertools.pairwise(after)]
    assert gaps == pytest.approx([gaps[0]] * 3, abs=1e-6)
    assert (after[0][0], after[-1][2]) == pytest.approx((before[0][0], before[-1][2]))


def test_a_layer_aligned_to_another_that_is_moved_too_ends_where_it_should():
    base = project(
        layer("kite", "shape", shape__size=[40, 30], position=[200, 80]),
        layer("tag", "shape", shape__size=[20, 10], position=[10, 120], align__x="after",
              align__to="layer", align__layer="kite"),
    )  # fmt: skip
    edit = {"kind": "align-layers", "scene": "reveal", "layers": ["tag", "kite"], "edge": "left",
            "time_s": 0.0}  # fmt: skip
    done = apply_edit(base, parse_edit(edit), CONTEXT).project
    assert [box[0] for box in boxes(done, "kite", "tag")] == pytest.approx([0, 0], abs=1e-6)


def test_layers_that_name_each_other_without_being_aligned_are_still_moved():
    named = {"a": "b", "b": "a"}
    base = project(
        *(layer(name, "shape", shape__size=[40, 30], position=[200, 80], align__layer=other)
          for name, other in named.items())
    )  # fmt: skip
    edit = {"kind": "align-layers", "scene": "reveal", "layers": ["a", "b"], "edge": "left",
            "time_s": 0.0}  # fmt: skip
    done = apply_edit(base, parse_edit(edit), CONTEXT).project
    assert [box[0] for box in boxes(done, "a", "b")] == pytest.approx([0, 0], abs=1e-6)
