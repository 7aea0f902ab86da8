"""Slots of a placed scene with keys and expressions, like any property."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import CONTEXT, draw, key, layer, project

from young_comet.core.catalog import check_project, find_spec, specs_of
from young_comet.core.model import Effect, Ink, Project, Property, Slot
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import LaneCache, lanes_of
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError


def tag(*slots):
    """A bar with a glow and a word, in a scene of its own whose slots are filled from outside."""
    bar = layer(
        "bar", "shape", shape__size=[100.0, 40.0], fill__colour="ink:ember", position=[160, 90]
    )
    bar = bar.model_copy(update={"effects": (Effect(id="g", kind="gaussian-blur"),),
                                 "properties": {**bar.properties, "effect.g.size": Property(value=[0.0, 0.0])}})  # fmt: skip
    word = layer("word", "text", text="Gull", text__size=30.0, position=[160, 140])
    base = project(bar, word, ground=None)
    inner = base.scenes[0].model_copy(update={"id": "tag", "name": "Tag", "slots": tuple(slots)})
    placed = layer("placed", "scene", scene__id="tag", position=[160, 90])
    outer = base.scenes[0].model_copy(update={"layers": (placed,), "ground": "#000000"})
    inks = (Ink(id="ember", name="Ember", colour="#ff0000"),)
    return check_project(base.model_copy(update={"scenes": (outer, inner), "inks": inks}))


SIZE = Slot(id="size", name="Size", layer="bar", property="shape.size")
BLUR = Slot(id="blur", name="Blur", layer="bar", property="effect.g.size")
WORD = Slot(id="word", name="Word", layer="word", property="text")
INK = Slot(id="ink", name="Ink", ink="ember")


def done(document, *edits):
    for edit in edits:
        document = apply_edit(document, parse_edit({"scene": "reveal", **edit}), CONTEXT).project
    return document


def animate(slot, **more):
    return {"kind": "animate-slot", "layers": ["placed"], "slot": slot, **more}


def keyed(document, slot, *keys):
    placed = document.scenes[0].layers[0]
    properties = {**placed.properties, f"slot.{slot}": Property(keys=keys)}
    placed = placed.model_copy(update={"properties": properties})
    outer = document.scenes[0].model_copy(update={"layers": (placed,)})
    return check_project(document.model_copy(update={"scenes": (outer, *document.scenes[1:])}))


def width(document, time_s):
    return float((draw(document, time_s)[90, :, :3].max(axis=1) > 128).sum())


def test_a_slot_becomes_a_property_with_keys_lanes_and_expressions():
    document = done(tag(SIZE), animate("size"))
    placed = document.scenes[0].layers[0]
    assert placed.slot_specs == {"size": "layer/shape/shape.size"}
    assert placed.properties["slot.size"].value == (100.0, 40.0)
    assert find_spec(placed, "slot.size").unit == "px"
    assert "slot.size" in {spec.id for spec in specs_of(placed)}
    moved = keyed(document, "size", key(0, [40.0, 40.0]), key(2, [240.0, 40.0]))
    for time_s, wide in ((0.0, 40), (1.0, 140), (2.0, 240)):
        assert width(moved, time_s) == pytest.approx(wide, abs=2)
    ev = SceneEvaluator(moved, "reveal")
    assert "slot.size" in {
        lane["property"] for lane in lanes_of(ev, ev.find("placed"), LaneCache(), frozenset())
    }
    (lane,) = lanes_of(ev, ev.find("placed"), LaneCache(), frozenset())
    assert lane["label"] == "Size"
    text = "[60 + 40 * t, 40]"
    target = [{"layer": "placed", "property": "slot.size"}]
    said = done(document, {"kind": "set-expression", "targets": target, "text": text})
    assert width(said, 2.0) == pytest.approx(140, abs=2)
    assert Project.model_validate_json(moved.model_dump_json()) == moved


def test_texts_inks_and_effects_of_the_inner_scene_are_animated_too():
    document = done(tag(WORD, INK, BLUR), animate("word"), animate("ink"), animate("blur"))
    document = keyed(document, "word", key(0, "Gull", "hold"), key(1, "Bay", "hold"))
    document = keyed(document, "ink", key(0, "#ff0000"), key(1, "#0000ff"))
    document = keyed(document, "blur", key(1, [0.0, 0.0]), key(2, [12.0, 12.0]))
    early, late = draw(document, 0.0), draw(document, 1.0)
    assert tuple(early[90, 160, :3]) == (0, 0, 255) and tuple(late[90, 160, :3]) == (255, 0, 0)
    assert not np.array_equal(early[120:160], late[120:160])
    assert draw(document, 2.0)[90, 105].max() > 5  # it is soft by then


def test_it_is_one_value_again_at_a_moment():
    document = done(tag(SIZE), animate("size"))
    moved = keyed(document, "size", key(0, [40.0, 40.0]), key(2, [240.0, 40.0]))
    still = done(moved, animate("size", on=False, time_s=1.0))
    placed = still.scenes[0].layers[0]
    assert placed.slot_specs == {} and "slot.size" not in placed.properties
    assert placed.slots["size"] == pytest.approx((140.0, 40.0))
    assert width(still, 0.0) == width(still, 2.0) == pytest.approx(140, abs=2)
    assert done(still, animate("size"), animate("size")).scenes[0].layers[0].properties[
        "slot.size"
    ].value == pytest.approx((140.0, 40.0))


def test_what_cannot_be_is_refused():
    document = done(
        tag(SIZE, Slot(id="kind", name="Kind", layer="bar", property="shape.kind")), animate("size")
    )
    with pytest.raises(DocumentError, match="cannot have keys"):
        done(document, animate("kind"))
    with pytest.raises(DocumentError, match="animated"):
        done(document, {"kind": "fill-slot", "layers": ["placed"], "slot": "size", "value": [1, 1]})
    with pytest.raises(DocumentError, match="animated"):
        done(document, {"kind": "unwrap-scene", "layer": "placed"})
    placed = document.scenes[0].layers[0]
    for wrong in (
        {"size": "layer/kite/shape.size"},
        {"size": "//"},
        {"size": "effect/nothing/size"},
        {},
    ):
        broken = placed.model_copy(update={"slot_specs": wrong})
        outer = document.scenes[0].model_copy(update={"layers": (broken,)})
        with pytest.raises(DocumentError, match="no property"):
            check_project(document.model_copy(update={"scenes": (outer, *document.scenes[1:])}))


def test_a_slot_that_is_taken_away_inside_does_no_harm():
    moved = keyed(
        done(tag(SIZE), animate("size")), "size", key(0, [40.0, 40.0]), key(2, [240.0, 40.0])
    )
    gone = apply_edit(
        moved, parse_edit({"kind": "remove-slot", "scene": "tag", "slot": "size"}), CONTEXT
    ).project
    assert width(gone, 1.0) == pytest.approx(100, abs=2)
    copied = done(moved, {"kind": "duplicate-layers", "copies": {"placed": "again"}})
    assert {la.id: la.slot_specs for la in copied.scenes[0].layers}["again"] == {
        "size": "layer/shape/shape.size"
    }
    assert check_project(copied)
