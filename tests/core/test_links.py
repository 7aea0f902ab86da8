"""Riding, keeping aligned, fitting, copies, and expressions within a scene."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from tests.build import CONTEXT, LIBRARY, draw, key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.geometry.affine import Affine
from young_comet.core.geometry.projective import Projective
from young_comet.core.geometry.spatial import Space
from young_comet.core.model import Mark, Project, Property
from young_comet.core.motion import PlaceValues, taken_over
from young_comet.core.motion.carried import taken_apart
from young_comet.core.render import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError


def riding(name, on, kind="shape", **values):
    return layer(name, kind, **values).model_copy(update={"rides": on})


def expressed(name, kind="shape", **values):
    """Properties by name; texts that begin with = are expressions."""
    made = layer(name, kind, **{k: v for k, v in values.items() if not str(v).startswith("=")})
    props = dict(made.properties)
    for each, text in values.items():
        if str(text).startswith("="):
            props[each.replace("__", ".")] = props.get(each, Property()).model_copy(
                update={"expression": text[1:], "value": default(made, each)}
            )
    return made.model_copy(update={"properties": props})


def default(made, name):
    from young_comet.core.catalog import find_spec

    spec = find_spec(made, name.replace("__", "."))
    return (160.0, 90.0) if spec.default is None else spec.default


def evaluator(*layers, **more):
    return SceneEvaluator(project(*layers, **more), "reveal", library=LIBRARY)


def at(ev, name, time_s=0.0):
    found = ev.find(name)
    return ev.matrix(ev.values(found, time_s))


def seen(ev, name, point, time_s=0.0):
    values = ev.values(ev.find(name), time_s)
    return (ev.places.lens(values) or ev.matrix(values))(point)


# Riding


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


# Keeping aligned, fitting


def test_a_retyped_name_stays_at_the_right_edge():
    def right(text):
        ev = evaluator(
            layer("name", "text", text=text, text__size=20.0, align__x="right", align__y="bottom",
                  position=[-12, -8]),
        )  # fmt: skip
        values = ev.values(ev.find("name"), 0)
        return ev.matrix(values).box(ev.content_box(values))

    short, long = right("Bo"), right("Gullwing Bay")
    assert short[2] == pytest.approx(308) and long[2] == pytest.approx(308)
    assert short[3] == pytest.approx(172) and long[3] == pytest.approx(172)
    assert long[0] < short[0] - 50


def test_alignment_follows_frame_safe_area_and_layers():
    ev = evaluator(
        layer("panel", "shape", shape__size=[100, 40], position=[160, 100], scale=[200, 200]),
        layer("dot", "shape", shape__size=[10, 10], align__x="after", align__y="centre",
              align__to="layer", align__layer="panel", position=[6, 0]),
        layer("corner", "shape", shape__size=[20, 20], align__x="left", align__y="top",
              align__to="safe", position=[0, 0]),
        riding("inner", "panel", shape__size=[10, 10], align__x="left", align__to="layer",
               align__layer="panel", position=[0, 0]),
    )  # fmt: skip
    assert at(ev, "dot")((0, 0)) == pytest.approx((160 + 100 + 5 + 6, 100))
    assert at(ev, "corner")((0, 0)) == pytest.approx((16 + 10, 9 + 10))
    assert at(ev, "inner")((0, 0))[0] == pytest.approx(60 + 10)


@pytest.mark.parametrize("keyed", [False, True])
def test_alignment_is_set_without_a_jump_and_keeps_the_distance(keyed):
    place = [key(0, [100, 60]), key(2, [180, 120])] if keyed else [100, 60]
    document = project(layer("name", "text", text="Gull", text__size=20.0, position=place))
    edit = {"kind": "keep-aligned", "scene": "reveal", "layers": ["name"], "x": "right", "y": "bottom",
            "to": "safe", "time_s": 1.0}  # fmt: skip
    kept = apply_edit(document, parse_edit(edit), CONTEXT).project
    for moment in (0.0, 1.0, 2.0):
        assert np.array_equal(draw(document, moment), draw(kept, moment))
    free = apply_edit(kept, parse_edit({**edit, "x": "none", "y": "none"}), CONTEXT).project
    assert np.array_equal(draw(free, 1.0), draw(document, 1.0))
    with pytest.raises(DocumentError, match="circle"):
        wrong = {**edit, "to": "layer", "layer": "name"}
        apply_edit(document, parse_edit(wrong), CONTEXT)


def test_a_bar_grows_with_its_text():
    def size(text):
        ev = evaluator(
            layer("name", "text", text=text, text__size=20.0, scale=[150, 150]),
            layer("bar", "shape", fit__layer="name", fit__margin=[10, 4]),
        )
        values = ev.values(ev.find("name"), 0)
        box = ev.content_box(values)
        bar = ev.content_box(ev.values(ev.find("bar"), 0))
        assert bar[2] - bar[0] == pytest.approx(1.5 * (box[2] - box[0]) + 20)
        assert bar[3] - bar[1] == pytest.approx(1.5 * (box[3] - box[1]) + 8)
        return bar[2] - bar[0]

    assert size("Gullwing Bay") > size("Bo") + 40


# Copies


def test_copies_step_in_place_time_opacity_and_ink():
    ev = evaluator(
        layer("dot", "shape", shape__size=[10, 10], fill__colour="#000000", opacity=80.0,
              position=[key(0, [20, 50]), key(1, [20, 100])], copies__count=3.0,
              copies__position=[30, 0], copies__delay=0.5, copies__opacity=50.0,
              copies__rotation=10.0, copies__scale=[50, 50], copies__inked=True,
              copies__ink="#ffffff"),
    )  # fmt: skip
    found = ev.at(1.0).layers[::-1]
    assert [round(la.opacity, 3) for la in found] == [0.8, 0.4, 0.2]
    assert [la.matrix((0, 0)) for la in found] == [
        pytest.approx(p) for p in ((20, 100), (50, 75), (80, 50))
    ]
    assert [round(la.matrix.mean_scale, 3) for la in found] == [1, 0.5, 0.25]
    assert [round(la.content.surface.fill[0], 2) for la in found] == [0, 0.5, 1]
    lowest = ev.at(1.0).layers[0]
    assert lowest.opacity == pytest.approx(0.2)


def test_expressions_know_the_number_of_a_copy():
    ev = evaluator(
        expressed("dot", copies__count=4.0, copies__position=[0, 0],
                  rotation="=360 * nth / count", shape__size=[20, 10]),
    )  # fmt: skip
    turns = [
        math.degrees(math.atan2(la.matrix.b, la.matrix.a)) % 360 for la in ev.at(0).layers[::-1]
    ]
    assert turns == pytest.approx([0, 90, 180, 270])


# Expressions within a scene


def test_expressions_read_other_layers_marks_and_sizes():
    ev = evaluator(
        layer("kite", "shape", position=[key(0, [0, 0]), key(2, [200, 100])], start_s=1.0),
        expressed("bow", position='=of("Kite", "position", at=T - 0.5) + [0, 10]',
                  opacity='=100 * (T > mark("hit"))', rotation='=rate("Kite", "position").x'),
        layer("name", "text", text="Gull", text__size=20.0),
        expressed("bar", shape__size='=[of("Name", "width") + 8, 4]'),
        marks=(Mark(id="m", name="hit", time_s=1.76),),
    )  # fmt: skip
    values = ev.values(ev.find("bow"), 2.0)
    assert values("position") == pytest.approx((50, 35))
    assert values("opacity") == 100 and ev.values(ev.find("bow"), 1.0)("opacity") == 0
    assert values("rotation") == pytest.approx(100)
    name = ev.content_box(ev.values(ev.find("name"), 0))
    bar = ev.content_box(ev.values(ev.find("bar"), 0))
    assert bar[2] - bar[0] == pytest.approx(name[2] - name[0] + 8)


def test_an_expression_without_a_result_leaves_the_keys_and_says_why():
    ev = evaluator(expressed("bow", rotation='=of("Kite", "rotation") + 1', opacity="=1 / (t - 1)"))
    bow = ev.find("bow")
    assert ev.values(bow, 1.0)("rotation") == 0
    assert ev.values(bow, 1.0)("opacity") == 100
    assert "no layer 'Kite'" in ev.faults["bow", "rotation"]
    assert "division" in ev.faults["bow", "opacity"]
    assert ev.values(bow, 2.0)("opacity") == 1
    assert ("bow", "opacity") not in ev.faults


def test_results_do_not_depend_on_what_was_asked_before():
    layers = [
        layer("l0", "shape", rotation=[key(0, 0.0), key(4, 90.0)]),
        *(expressed(f"l{i}", rotation=f'=of("L{i - 1}", "rotation", at=T - 0.1) + sway(5, seed={i})')
          for i in range(1, 20)),
    ]  # fmt: skip
    forth, back = evaluator(*layers), evaluator(*layers)
    moments = [i / 5 for i in range(20)]
    a = [[forth.values(la, t)("rotation") for la in forth.scene.layers] for t in moments]
    b = [
        [back.values(la, t)("rotation") for la in reversed(back.scene.layers)]
        for t in reversed(moments)
    ]
    assert a == [row[::-1] for row in b[::-1]]


@pytest.mark.parametrize(
    ("layers", "words"),
    [
        ((expressed("a", rotation='=of("B", "rotation")'), expressed("b", rotation='=of("A", "rotation")')),
         ("circle", "'A' rotation", "'B' rotation")),
        ((expressed("a", position='=of("A", "position")'),), ("circle",)),
        ((expressed("a", "text", text='="" + of("A", "width")'),), ("circle",)),
        ((expressed("a", shape__size='=[of("B", "width"), 9]'), layer("b", "shape", fit__layer="a")),
         ("circle",)),
        (tuple([layer("l0", "shape")] + [expressed(f"l{i}", rotation=f'=of("L{i - 1}", "rotation")')
                                         for i in range(1, 70)]), ("more than 60",)),
        ((expressed("a", rotation="=keyed +"),), ("expression", "missing")),
    ],
)  # fmt: skip
def test_circles_between_properties_are_named(layers, words):
    with pytest.raises(DocumentError) as caught:
        project(*layers)
    for word in words:
        assert word in str(caught.value)


def test_a_rename_keeps_links_whole_and_refuses_to_mix_them_up():
    document = project(
        layer("kite", "shape", rotation=30.0),
        expressed("bow", rotation='=of("Kite", "rotation") * 2'),
        layer("tail", "shape"),
    )
    rename = {"kind": "change-layers", "scene": "reveal", "layers": ["kite"], "name": 'The "Gull"'}
    done = apply_edit(document, parse_edit(rename), CONTEXT).project
    ev = SceneEvaluator(done, "reveal")
    assert ev.values(ev.find("bow"), 0)("rotation") == 60
    for wrong in ({**rename, "name": "Tail"}, {**rename, "layers": ["tail"], "name": "Kite"}):
        with pytest.raises(DocumentError, match="already"):
            apply_edit(document, parse_edit(wrong), CONTEXT)


def test_links_copied_together_read_the_copies():
    document = project(
        layer("kite", "shape", rotation=30.0), expressed("bow", rotation='=of("Kite", "rotation")')
    )
    edit = {"kind": "duplicate-layers", "scene": "reveal", "copies": {"kite": "k2", "bow": "b2"}}
    done = apply_edit(document, parse_edit(edit), CONTEXT).project
    texts = {
        la.id: la.properties["rotation"].expression
        for la in done.scenes[0].layers
        if la.id in ("bow", "b2")
    }
    assert texts == {"bow": 'of("Kite", "rotation")', "b2": 'of("Kite 2", "rotation")'}


@pytest.mark.parametrize(
    ("name", "text", "tolerance"),
    [
        ("rotation", "keyed + 30 * sin(180 * t)", 0.5),
        ("position", "[160 + 80 * cos(90 * t), 90 + 40 * sin(90 * t)]", 1.0),
        ("opacity", "50 + sway(40, every=0.7)", 0.5),
        ("fill__colour", "[t / 4, 0.5, 1 - t / 4]", 1.0),
        ("rotation", "12", 0.5),
    ],
)
def test_baking_gives_few_keys_that_follow_the_expression(name, text, tolerance):
    document = project(expressed("kite", **{name: f"={text}"}))
    name = name.replace("__", ".")
    edit = {"kind": "bake-expressions", "scene": "reveal", "tolerance": tolerance,
            "targets": [{"layer": "kite", "property": name}]}  # fmt: skip
    done = apply_edit(document, parse_edit(edit), CONTEXT).project
    old, new = SceneEvaluator(document, "reveal"), SceneEvaluator(done, "reveal")
    prop = new.find("kite").properties[name]
    assert not prop.expression and len(prop.keys) < 40
    for frame in range(100):
        a, b = (np.array(ev.values(ev.find("kite"), frame / 25)(name)) for ev in (old, new))
        limit = tolerance * (0.015 if name == "fill.colour" else 1.6)
        assert np.abs(a - b).max() <= limit


def test_links_are_written_as_expressions():
    document = project(
        layer("kite", "shape", position=[key(0, [0, 0]), key(2, [100, 50])]), layer("bow", "shape")
    )
    edit = {"kind": "link-properties", "scene": "reveal", "layer": "kite", "property": "position",
            "targets": [{"layer": "bow", "property": "position"}], "delay_s": 0.5, "factor": 2,
            "offset": [5, 0]}  # fmt: skip
    done = apply_edit(document, parse_edit(edit), CONTEXT).project
    ev = SceneEvaluator(done, "reveal")
    assert ev.find("bow").properties["position"].expression == (
        'of("Kite", "position", at=T - 0.5) * 2 + [5, 0]'
    )
    assert ev.values(ev.find("bow"), 1.5)("position") == pytest.approx((105, 50))


def test_documents_of_version_three_are_read():
    from young_comet.core.model import load_project
    from young_comet.edits.patch import plain

    data = plain(project(layer("kite", "shape")))
    old = {**data, "schema_version": 3}
    assert check_project(load_project(old)).scenes[0].layers[0].rides is None


# Linked copies


def copies_of_kite():
    document = project(
        layer(
            "kite",
            "shape",
            shape__size=[40, 30],
            rotation=[key(0, 0.0), key(2, 90.0)],
            position=[60, 60],
        ),
    )
    edit = {
        "kind": "duplicate-layers",
        "scene": "reveal",
        "copies": {"kite": "twin"},
        "linked": True,
    }
    return apply_edit(document, parse_edit(edit), CONTEXT).project


def change(document, *edits):
    for edit in edits:
        document = apply_edit(document, parse_edit({"scene": "reveal", **edit}), CONTEXT).project
    return document


def put(name, property_id, value, **more):
    targets = [{"layer": name, "property": property_id, "value": value}]
    return {"kind": "set-values", "targets": targets, **more}


def props(document, name):
    return next(la for la in document.scenes[0].layers if la.id == name).properties


def test_linked_copies_share_content_and_keys_until_told_otherwise():
    document = change(
        copies_of_kite(),
        put("kite", "fill.colour", "#2f9fb3"),
        put("kite", "rotation", 45, time_s=1.0),
    )
    assert props(document, "twin") == props(document, "kite")
    own = change(document, put("twin", "fill.colour", "#ffffff"), put("kite", "fill.colour", "#000000"),
                 put("kite", "shape.size", [90, 90]))  # fmt: skip
    twin = own.scenes[0].layers[1]
    assert twin.own == ("fill.colour",) and props(own, "twin")["fill.colour"].value == "#ffffff"
    assert props(own, "twin")["shape.size"].value == (90.0, 90.0)
    again = change(own, {"kind": "share-again", "layers": ["twin"]})
    assert props(again, "twin") == props(again, "kite") and again.scenes[0].layers[1].own == ()


def test_effects_and_masks_are_shared_too():
    document = change(copies_of_kite(), {"kind": "add-effect", "layers": ["kite"],
                      "effect": {"id": "e", "kind": "glow"}, "properties": {"size": {"value": 9}}})  # fmt: skip
    twin = document.scenes[0].layers[1]
    assert twin.effects[0].id == "e" and twin.properties["effect.e.size"].value == 9
    apart = change(
        document,
        {"kind": "remove-effects", "layer": "twin", "effects": ["e"]},
        put("kite", "effect.e.size", 4),
    )
    assert not apart.scenes[0].layers[1].effects and "effects" in apart.scenes[0].layers[1].own


def test_copies_of_copies_hang_on_the_first_and_outlive_it():
    edit = {"kind": "duplicate-layers", "copies": {"twin": "third"}, "linked": True}
    document = change(copies_of_kite(), edit, put("kite", "scale", [50, 50]))
    assert [la.copy_of for la in document.scenes[0].layers] == [None, "kite", "kite"]
    assert props(document, "third")["scale"].value == (50.0, 50.0)
    alone = change(document, {"kind": "remove-layers", "layers": ["kite"]})
    assert [la.copy_of for la in alone.scenes[0].layers] == [None, None]
    assert props(alone, "third") == props(document, "third")
    cut = change(
        document,
        {"kind": "share-again", "layers": ["twin"], "apart": True},
        put("kite", "opacity", 5),
    )
    assert "opacity" not in props(cut, "twin") and "opacity" in props(cut, "third")
    with pytest.raises(DocumentError, match="no linked copy"):
        change(document, {"kind": "share-again", "layers": ["kite"]})


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
    from tests.core.test_nesting import inner, with_inner

    mover = layer("m", "shape", shape__size=[20, 20], position=[key(0, [0, 45]), key(4, [160, 45])])
    document = with_inner([layer("tag", "scene", scene__id="tag")], inner(mover))
    split = {"kind": "split-layers", "scene": "reveal", "time_s": 2.0, "ids": {"tag": "rest"}}
    halves = apply_edit(document, parse_edit(split), CONTEXT).project
    for moment in (1.0, 2.0, 3.0):
        assert np.array_equal(draw(document, moment), draw(halves, moment))
