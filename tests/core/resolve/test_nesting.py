"""Scenes in scenes: placed, seen through, wrapped and unwrapped, with slots."""

from __future__ import annotations

import random

import numpy as np
import pytest
from tests.build import CONTEXT, draw, key, layer, project, scene

from young_comet.core.catalog import check_project
from young_comet.core.model import (
    Effect,
    Ink,
    Mask,
    Property,
    RateModel,
    Slot,
)
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit, revert
from young_comet.edits.patch import plain
from young_comet.errors import DocumentError, InUseError

S = {"scene": "reveal"}


def inner(*layers, id="tag", width=160, height=90, **more):
    made = scene(*layers, width=width, height=height, **more)
    return made.model_copy(update={"id": id, "name": id.title(), "ground": more.get("ground")})


def with_inner(outer, *scenes, **more):
    base = project(*outer)
    return check_project(base.model_copy(update={"scenes": (*base.scenes, *scenes), **more}))


def done(document, *edits):
    for edit in edits:
        document = apply_edit(document, parse_edit({**S, **edit}), CONTEXT).project
    return document


def differs(a, b):
    return int(np.abs(a.astype(int) - b.astype(int)).max())


SQUARE = layer("square", "shape", shape__size=[60, 40], fill__colour="#ff7a45", position=[80, 45])


def test_a_placed_scene_looks_like_its_layers():
    document = with_inner(
        [layer("sky", "backdrop"), layer("tag", "scene", scene__id="tag", position=[200, 100])],
        inner(SQUARE),
    )
    same = project(
        layer("sky", "backdrop"),
        layer("square", "shape", shape__size=[60, 40], fill__colour="#ff7a45", position=[200, 100]),
    )
    assert differs(draw(document), draw(same)) <= 1


def test_what_reaches_beyond_the_inner_frame_is_cut_and_its_ground_can_be_left_out():
    wide = layer("wide", "shape", shape__size=[600, 20], fill__colour="#ffffff", position=[80, 45])
    placed = layer("tag", "scene", scene__id="tag", position=[160, 90])
    pixels = draw(with_inner([placed], inner(wide, ground="#2f9fb3")))
    assert pixels[90, 79, 0] == 0 and pixels[90, 80, 0] == 255 and pixels[90, 240, 0] == 0
    assert tuple(pixels[60, 100, :3]) == (0xB3, 0x9F, 0x2F)
    bare = placed.model_copy(
        update={"properties": {**placed.properties, "scene.ground": Property(value=False)}}
    )
    assert tuple(draw(with_inner([bare], inner(wide, ground="#2f9fb3")))[60, 100, :3]) == (0, 0, 0)


def test_a_placed_scene_has_its_own_time():
    mover = layer("m", "shape", shape__size=[10, 10], position=[key(0, [0, 45]), key(4, [160, 45])])

    def at(moment, **values):
        document = with_inner([layer("tag", "scene", 1.0, scene__id="tag", **values)], inner(mover))
        ev = SceneEvaluator(document, "reveal")
        found = ev.layer(ev.find("tag"), moment)
        return None if found is None else found.content.frame.layers[0].matrix.e

    assert at(1.0) == pytest.approx(0) and at(2.0) == pytest.approx(40)
    assert at(2.0, time__speed=200.0) == pytest.approx(80)
    assert at(2.0, time__offset=1.0) == pytest.approx(80)
    assert at(2.0, time__reversed=True) == pytest.approx(120, abs=0.1)
    assert at(1.5, time__speed=400.0, time__after="loop", time__to=1.0) == pytest.approx(0, abs=0.1)
    assert at(3.5, time__to=1.0, time__after="end") is None
    assert at(3.0, time__frozen=True, time__frozen_at=0.5) == pytest.approx(20)


def test_speed_freezing_and_time_curve_work_on_placed_scenes():
    mover = layer("m", "shape", shape__size=[10, 10], position=[key(0, [0, 45]), key(4, [160, 45])])
    document = with_inner([layer("tag", "scene", 0, 2, scene__id="tag")], inner(mover))

    def at(changed, moment):
        ev = SceneEvaluator(changed, "reveal")
        return ev.layer(ev.find("tag"), moment).content.frame.layers[0].matrix.e

    fast = done(document, {"kind": "fit-speed", "layers": ["tag"]})
    assert at(fast, 1.0) == pytest.approx(80)
    still = done(document, {"kind": "freeze-layers", "layers": ["tag"], "time_s": 1.0})
    assert at(still, 0.2) == at(still, 1.8) == pytest.approx(40)
    curve = done(document, {"kind": "time-curve", "layer": "tag", "on": True})
    assert at(curve, 1.0) == pytest.approx(40)
    with pytest.raises(DocumentError, match="has a speed"):
        done(project(layer("kite", "shape")), {"kind": "fit-speed", "layers": ["kite"]})


def test_keep_sharp_draws_anew_at_the_size_it_has():
    def edge(**values):
        document = with_inner(
            [layer("tag", "scene", scene__id="tag", scale=[400, 400], **values)], inner(SQUARE)
        )
        row = draw(document)[90, :, 2].astype(int)
        return int(np.count_nonzero((row > 10) & (row < 245)))

    assert edge() == 0
    assert edge(scene__sharp=False) >= 4


def test_masks_effects_and_opacity_work_on_the_whole():
    placed = layer(
        "tag", "scene", scene__id="tag", opacity=50.0, **{"mask.m.path": "M-20 -60 H200 V60 H-20 Z"}
    )
    placed = placed.model_copy(update={"masks": (Mask(id="m", name="M"),)})
    two = inner(
        SQUARE,
        layer("over", "shape", shape__size=[60, 40], fill__colour="#ff7a45", position=[80, 45]),
    )
    pixels = draw(with_inner([placed], two))
    assert pixels[90, 150, 2] == pytest.approx(128, abs=1)  # the overlap is no denser
    assert pixels[90, 134, 2] == 0


@pytest.mark.parametrize("kind", ["blend", "treatment"])
def test_what_is_seen_through_takes_part_outside(kind):
    if kind == "blend":
        top = layer(
            "light",
            "shape",
            shape__size=[100, 60],
            fill__colour="#808080",
            position=[160, 90],
            blend="multiply",
        )
    else:
        top = layer("grade", "treatment", **{"effect.e.amount": 100.0}).model_copy(
            update={"effects": (Effect(id="e", kind="invert"),)}
        )
    sky = layer("sky", "backdrop", fill__colour="#ff7a45")
    placed = layer("tag", "scene", scene__id="tag", scene__through=True)
    document = with_inner([sky, placed], inner(top, width=320, height=180))
    assert differs(draw(document), draw(project(sky, top))) == 0
    closed = layer("tag", "scene", scene__id="tag")
    assert (
        differs(draw(with_inner([sky, closed], inner(top, width=320, height=180))), draw(document))
        > 20
    )


def test_seen_through_a_place_layers_are_moved_along():
    placed = layer("tag", "scene", scene__id="tag", scene__through=True, position=[200, 60],
                   rotation=30.0, scale=[50, 50], opacity=50.0)  # fmt: skip
    ev = SceneEvaluator(with_inner([placed], inner(SQUARE)), "reveal")
    (found,) = ev.at(0.0).layers
    assert found.matrix((0, 0)) == pytest.approx((200, 60)) and found.opacity == 0.5
    closed = placed.model_copy(
        update={"properties": {k: v for k, v in placed.properties.items() if k != "scene.through"}}
    )
    assert (
        differs(
            draw(with_inner([placed], inner(SQUARE))), draw(with_inner([closed], inner(SQUARE)))
        )
        <= 3
    )


def test_scenes_within_themselves_are_refused():
    a = inner(layer("b", "scene", scene__id="b"), id="a")
    b = inner(layer("a", "scene", scene__id="a"), id="b")
    with pytest.raises(DocumentError, match="within itself"):
        with_inner([], a, b)
    with pytest.raises(DocumentError, match="within itself"):
        done(with_inner([layer("tag", "scene")], inner(SQUARE)), {
            "kind": "set-values", "targets": [{"layer": "tag", "property": "scene.id", "value": "reveal"}]})  # fmt: skip
    deep = [inner(layer("n", "scene", scene__id=f"s{i + 1}"), id=f"s{i}") for i in range(18)]
    with pytest.raises(DocumentError, match="at most 16"):
        with_inner([layer("tag", "scene", scene__id="s0")], *deep)


def test_a_scene_that_is_placed_cannot_be_deleted():
    document = with_inner([layer("tag", "scene", scene__id="tag")], inner(SQUARE))
    with pytest.raises(InUseError, match="'Reveal'"):
        apply_edit(document, parse_edit({"kind": "remove-scene", "scene": "tag"}), CONTEXT)


# Slots


def slotted():
    tag = inner(
        layer("name", "text", text="Name", text__size=30.0),
        layer("bar", "shape", shape__size=[50, 4], fill__colour="ink:gold", position=[80, 70]),
    ).model_copy(
        update={"slots": (Slot(id="who", name="Name", layer="name", property="text"),
                          Slot(id="gold", name="Accent", ink="gold"))}
    )  # fmt: skip
    places = [
        layer("one", "scene", scene__id="tag", position=[80, 45]),
        layer("two", "scene", scene__id="tag", position=[240, 45]),
    ]
    return with_inner(places, tag, inks=(Ink(id="gold", name="Gold", colour="#ffb44a"),))


def test_each_place_of_use_fills_slots_by_itself():
    document = done(
        slotted(),
        {"kind": "fill-slot", "layers": ["one"], "slot": "who", "value": "Bo"},
        {"kind": "fill-slot", "layers": ["one"], "slot": "gold", "value": "#2f9fb3"},
    )
    ev = SceneEvaluator(document, "reveal")
    one, two = (ev.layer(ev.find(name), 0.0).content.frame.layers for name in ("one", "two"))
    assert (one[0].content.text, two[0].content.text) == ("Bo", "Name")
    assert one[1].content.surface.fill[2] == pytest.approx(0xB3 / 255)
    assert two[1].content.surface.fill[0] == 1
    empty = done(document, {"kind": "fill-slot", "layers": ["one"], "slot": "who", "value": None})
    ev = SceneEvaluator(empty, "reveal")
    assert ev.layer(ev.find("one"), 0.0).content.frame.layers[0].content.text == "Name"


@pytest.mark.parametrize(
    ("edit", "word"),
    [
        ({"kind": "fill-slot", "layers": ["one"], "slot": "who", "value": 3}, "a text"),
        ({"kind": "fill-slot", "layers": ["one"], "slot": "gold", "value": "blue"}, "colour"),
        ({"kind": "fill-slot", "layers": ["one"], "slot": "gone", "value": "x"}, "no slot"),
        ({"kind": "add-slot", "scene": "tag", "name": "N", "layer": "name", "property": "text"}, "already"),
        ({"kind": "add-slot", "scene": "tag", "name": "N", "layer": "name", "property": "wind"}, "a property"),
        ({"kind": "add-slot", "scene": "tag", "name": "N", "ink": "tin"}, "no ink"),
        ({"kind": "remove-slot", "scene": "tag", "slot": "gone"}, "no slot"),
    ],
)  # fmt: skip
def test_impossible_slots_are_refused(edit, word):
    with pytest.raises(DocumentError, match=word):
        done(slotted(), edit)


# Wrapping


def wrap(names, **more):
    return {"kind": "wrap-layers", "layers": list(names), "id": "wrapped", "new_scene": "inside",
            "name": "Inside", **more}  # fmt: skip


def unwrap():
    return {"kind": "unwrap-scene", "layer": "wrapped"}


def random_scene(rng: random.Random):
    """A small stack of layers that move, ride, read, mask, blend and are matted."""
    layers = [layer("sky", "backdrop", fill__kind="linear")]
    count = rng.randint(3, 6)
    for i in range(count):
        values = {
            "position": [key(0, [rng.uniform(30, 290), rng.uniform(20, 160)], "ease-in-out"),
                         key(3, [rng.uniform(30, 290), rng.uniform(20, 160)])]
            if rng.random() < 0.6 else [rng.uniform(30, 290), rng.uniform(20, 160)],
            "rotation": rng.uniform(-60, 60), "opacity": rng.uniform(40, 100),
            "fill__colour": f"#{rng.randrange(0x1000000):06x}",
        }  # fmt: skip
        kind = rng.choice(("shape", "shape", "text"))
        if kind == "text":
            values |= {"text": "Gull", "text__size": rng.uniform(20, 50)}
        else:
            values |= {"shape__size": [rng.uniform(30, 120), rng.uniform(20, 80)]}
        if rng.random() < 0.2:
            values["blend"] = rng.choice(("multiply", "screen", "overlay"))
        if i and rng.random() < 0.2:
            values["matte__layer"] = f"l{rng.randrange(i)}"
        start = rng.choice((0.0, 0.0, 0.4))
        made = layer(f"l{i}", kind, start, start + rng.choice((2.0, 3.6)), **values)
        update = {}
        if i and rng.random() < 0.35:
            update["rides"] = f"l{rng.randrange(i)}"
        if rng.random() < 0.2:
            update |= {"effects": (Effect(id="e", kind="gaussian-blur"),)}
        if i and rng.random() < 0.25:
            props = dict(made.properties)
            props["rotation"] = Property(
                value=5.0, expression=f'keyed + of("L{rng.randrange(i)}", "rotation") / 2 + sway(9)'
            )
            update["properties"] = props
        layers.append(made.model_copy(update=update))
    if rng.random() < 0.25:
        layers.append(
            layer("grade", "treatment").model_copy(
                update={"effects": (Effect(id="g", kind="invert"),)}
            )
        )
    return project(*layers, rate=RateModel(num=25))


@pytest.mark.parametrize("seed", range(40))
def test_wrapping_and_unwrapping_changes_nothing_on_the_stage(seed):
    rng = random.Random(seed)
    document = random_scene(rng)
    names = [la.id for la in document.scenes[0].layers]
    chosen = rng.sample(names, rng.randint(1, len(names)))
    wrapped = apply_edit(document, parse_edit({**S, **wrap(chosen)}), CONTEXT)
    again = apply_edit(wrapped.project, parse_edit({**S, **unwrap()}), CONTEXT)
    for moment in (0.0, 1.0, 2.2):
        before = draw(document, moment)
        assert differs(before, draw(wrapped.project, moment)) <= 1
        assert differs(before, draw(again.project, moment)) <= 1
    assert plain(revert(wrapped.project, wrapped.inverse)) == plain(document)
    assert plain(revert(again.project, again.inverse)) == plain(wrapped.project)


def test_wrapping_takes_what_lies_between_and_keeps_span_groups_and_ties():
    document = done(
        project(layer("sky", "backdrop"), layer("a", "shape", 1, 2), layer("b", "shape"), layer("c", "shape", 1.4, 3)),
        {"kind": "group-layers", "layers": ["a", "b"], "id": "g", "name": "Pair"},
        {"kind": "tie-times", "targets": [{"layer": "c"}], "to": "layer", "id": "a", "moment": "end"},
    )  # fmt: skip
    outer, made = done(document, wrap(["a", "c"])).scenes
    assert [la.id for la in outer.layers] == ["sky", "wrapped"] and not outer.groups
    assert [la.id for la in made.layers] == ["a", "b", "c"] and made.groups[0].name == "Pair"
    assert made.layers[2].start_tie.id == "a" and made.ground is None
    placed = outer.layers[1]
    assert (placed.start_s, placed.end_s) == (0.0, 4.0)
    alone = done(document, wrap(["c"]))
    assert alone.scenes[1].layers[-1].start_tie is None  # what it hung on stayed outside
    assert (alone.scenes[0].layers[-1].start_s, alone.scenes[0].layers[-1].end_s) == (1.4, 3)


def test_a_placed_scene_unwraps_onto_a_carrier():
    placed = layer("wrapped", "scene", 0.4, 2.4, scene__id="tag", position=[200, 60], rotation=25.0,
                   scale=[key(0, [60, 60]), key(2, [90, 90])], pivot=[10, 5], time__offset=0.2)  # fmt: skip
    mover = layer(
        "m", "shape", shape__size=[20, 10], position=[key(0, [20, 45]), key(4, [140, 45])]
    )
    document = with_inner([layer("sky", "backdrop"), placed], inner(SQUARE, mover))
    free = done(document, unwrap())
    kinds = [la.kind for la in free.scenes[0].layers]
    assert kinds == ["backdrop", "carrier", "shape", "shape"]
    for moment in (0.2, 0.4, 1.2, 2.2, 2.6):
        assert differs(draw(document, moment), draw(free, moment)) <= 3


@pytest.mark.parametrize(
    "values",
    [{"opacity": 40.0}, {"blend": "screen"}, {"time__speed": 50.0}, {"time__reversed": True},
     {"slices__kind": "strips"}],
)  # fmt: skip
def test_what_works_on_the_whole_is_not_taken_apart(values):
    document = with_inner([layer("wrapped", "scene", scene__id="tag", **values)], inner(SQUARE))
    with pytest.raises(DocumentError, match="one picture"):
        done(document, unwrap())


def test_unwrapping_brings_names_slots_and_the_ground():
    document = with_inner(
        [layer("square", "shape"), layer("wrapped", "scene", scene__id="tag")],
        inner(SQUARE, ground="#102030").model_copy(
            update={"slots": (Slot(id="w", name="Size", layer="square", property="shape.size"),)}
        ),
    )
    filled = done(
        document, {"kind": "fill-slot", "layers": ["wrapped"], "slot": "w", "value": [10, 10]}
    )
    layers = done(filled, unwrap()).scenes[0].layers
    assert [la.name for la in layers] == ["Square", "Wrapped", "Tag ground", "Square 2"]
    assert layers[3].properties["shape.size"].value == (10.0, 10.0)
    assert len({la.id for la in layers}) == 4
    assert differs(draw(filled), draw(done(filled, unwrap()))) <= 1


@pytest.mark.parametrize("rotation", [0.0, 25.0])
@pytest.mark.parametrize("to", ["frame", "safe"])
@pytest.mark.parametrize("pinned", [False, True])
def test_what_is_aligned_to_the_inner_frame_stays_where_it_is(rotation, to, pinned):
    """Also where it rides on another layer, pinned to the frame or going along; and it stays
    aligned when it grows."""
    placed = layer("wrapped", "scene", 0.4, 2.4, scene__id="tag", position=[200, 60],
                   rotation=rotation, scale=[80, 80], time__offset=0.2)  # fmt: skip
    bar = layer("bar", "shape", shape__size=[60, 10], fill__colour="#33aa55",
                position=[key(0, [30 if pinned else 87, 60]), key(2, [90, 60])])  # fmt: skip
    word = layer("word", "shape", shape__size=[key(0, [20.0, 12.0]), key(2, [50.0, 12.0])],
                 fill__colour="#ffffff", align__x="right", align__y="top", align__to=to,
                 position=[-3, 4])  # fmt: skip
    rider = layer("rider", "shape", shape__size=[16, 16], fill__colour="#ff7a45", align__x="left",
                  align__to=to, position=[5, 0], align__pinned=pinned).model_copy(update={"rides": "bar"})  # fmt: skip
    document = with_inner([layer("sky", "backdrop"), placed], inner(bar, word, rider))
    free = done(document, unwrap())
    for moment in (0.4, 1.2, 2.2, 2.6):
        assert differs(draw(document, moment), draw(free, moment)) <= 4
    frames = [la for la in free.scenes[0].layers if la.name.startswith("Tag ")]
    assert len(frames) == 1 and frames[0].rides == "wrapped"


def test_a_layer_in_the_middle_by_itself_stays_there():
    placed = layer("wrapped", "scene", scene__id="tag", position=[100, 50])
    word = layer("word", "shape", shape__size=[20, 12], fill__colour="#ffffff")
    document = with_inner([placed], inner(word))
    free = done(document, unwrap())
    assert differs(draw(document, 1.0), draw(free, 1.0)) <= 2


@pytest.mark.parametrize("seed", range(8))
def test_wrapping_half_faded_layers_changes_nothing(seed):
    """Layers of all opacities over one another: what is wrapped is drawn as it was, to the level."""
    chance = random.Random(seed)
    ids = [f"l{n}" for n in range(chance.randint(2, 12))]
    layers = [
        layer(
            name, "shape", opacity=chance.choice([1.3, 10.0, 33.0, 50.0, 77.0]),
            position=[chance.uniform(40, 280), chance.uniform(30, 150)],
            fill__colour=f"#{chance.randrange(1 << 24):06x}", rotation=chance.uniform(0, 90),
            shape__size=[chance.uniform(30, 200), chance.uniform(30, 150)],
        )
        for name in ids
    ]  # fmt: skip
    document = project(layer("sky", "backdrop", fill__colour="#3070b0"), *layers)
    wrapped = done(document, {"kind": "wrap-layers", "layers": ids, "id": "w", "new_scene": "in", "name": "In"})  # fmt: skip
    assert differs(draw(document), draw(wrapped)) == 0
    # With something done to it as one picture it is one picture again.
    faded = done(wrapped, {"kind": "set-values", "time_s": 0, "targets": [{"layer": "w", "property": "opacity", "value": 50.0}]})  # fmt: skip
    assert differs(draw(faded), draw(wrapped)) > 3
