"""Mattes of several layers, before and after effects, tilted, blurred, nested."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from tests.build import CONTEXT, draw, layer
from tests.looked import alpha, box, clear

from young_comet.core.model import Effect, Property
from young_comet.edits import apply_edit, parse_edit

LEFT = {"size": (100.0, 120.0), "at": (130.0, 90.0)}
RIGHT = {"size": (100.0, 120.0), "at": (190.0, 90.0)}


def hidden(base):
    return base.model_copy(update={"hidden": True})


def through(mode="union", *, inverted=False, more=(), **values):
    """A panel through two overlapping ones: 100 px wide each, 40 px in common."""
    panel = box(size=(300.0, 160.0), matte__layer="a", **values)
    joined = {"matte.2.layer": "b", "matte.2.mode": mode, "matte.2.inverted": inverted}
    props = {name: Property(value=value) for name, value in joined.items()}
    panel = panel.model_copy(update={"properties": {**panel.properties, **props}})
    return clear(hidden(box("a", **LEFT)), hidden(box("b", **RIGHT)), panel, *more)


@pytest.mark.parametrize(
    ("mode", "width"), [("union", 160), ("minus", 60), ("intersect", 40), ("exclude", 120)]
)
def test_mattes_join_as_masks_do(mode, width):
    assert round(alpha(through(mode)).sum() / 255) == width * 120


def test_a_further_matte_may_be_inverted_and_off():
    assert round(alpha(through("intersect", inverted=True)).sum() / 255) == 60 * 120
    document = through("union")
    scene = document.scenes[0]
    late = tuple(
        la.model_copy(update={"start_s": 2.0}) if la.id == "b" else la for la in scene.layers
    )
    gone = document.model_copy(update={"scenes": (scene.model_copy(update={"layers": late}),)})
    assert round(alpha(gone).sum() / 255) == 100 * 120


SHADOW = (Effect(id="s", kind="drop-shadow"),)


def shadowed(before, **values):
    panel = box(
        size=(300.0, 160.0), colour="#ffffff", matte__layer="a", matte__before=before, **values
    )
    props = {
        "effect.s.softness": 0.0,
        "effect.s.distance": 30.0,
        "effect.s.angle": 90.0,
        "effect.s.opacity": 100.0,
        "effect.s.contact": 0.0,
    }
    panel = panel.model_copy(update={
        "effects": SHADOW, "properties": {**panel.properties, **{k: Property(value=v) for k, v in props.items()}},
    })  # fmt: skip
    return panel


@pytest.mark.parametrize("place", [{}, {"rotation": 90.0}, {"turn": 35.0}, {"scale": [50.0, 50.0]}])
def test_a_matte_before_effects_leaves_the_shadow_whole(place):
    """A panel shown through a small box and then shadowed is that box with its shadow, wherever the
    panel is; after the effects the shadow is cut off with the rest."""
    matte = hidden(box("a", size=(60.0, 60.0), at=(160.0, 80.0)))
    found = {}
    for before in (True, False):
        found[before] = draw(clear(matte, shadowed(before, **place)))
    inside = alpha(clear(box("a", size=(60.0, 60.0), at=(160.0, 80.0)))) > 128
    assert (
        found[False][..., 3][
            ~cv2.dilate(inside.astype(np.uint8), np.ones((5, 5))).astype(bool)
        ].max()
        == 0
    )
    outside = found[True][..., 3][~inside]
    assert (outside > 200).sum() > 300
    assert np.abs(found[True][inside].astype(int) - found[False][inside]).mean() < 6


def test_a_matte_before_effects_follows_what_moves():
    from tests.build import key

    matte = hidden(box("a", size=(60.0, 60.0), at=(160.0, 80.0)))
    moving = shadowed(True, position=[key(0, [100.0, 90.0]), key(1, [220.0, 90.0])])
    for time_s in (0.0, 0.5, 0.96):
        shown = alpha(clear(matte, moving), time_s=time_s)
        assert shown[80, 160] == 255 and shown[80, 100] == 0


@pytest.mark.parametrize(
    "kind", ["shape", "text", "picture", "clip", "scene", "backdrop", "carrier", "treatment"]
)
@pytest.mark.parametrize("before", [False, True])
def test_every_kind_through_mattes_anywhere(kind, before):
    for values in ({}, {"scale": [0.0, 0.0]}, {"position": [4000.0, -900.0]}, {"turn": 90.0}):
        placed = values if kind not in ("backdrop", "treatment") else {}
        if kind in ("carrier",):
            continue
        made = layer("one", kind, matte__layer="a", matte__before=before, **placed)
        props = {"matte.2.layer": Property(value="one"), "matte.3.layer": Property(value="b")}
        made = made.model_copy(
            update={
                "effects": (Effect(id="g", kind="glow"),),
                "properties": {**made.properties, **props},
            }
        )
        document = clear(hidden(box("a", **LEFT)), box("b", turn=30.0, **RIGHT), made)
        assert draw(document).shape == (180, 320, 4)


def edited(document, **edit):
    return apply_edit(document, parse_edit({"scene": "reveal", **edit}), CONTEXT).project


def test_choosing_a_matte_hides_it_and_taking_it_off_shows_it_again():
    document = clear(box("a", **LEFT), box("b", **RIGHT), box("panel"), box("other"))
    one = edited(document, kind="set-matte", layers=["panel", "other"], matte="a")
    two = edited(one, kind="set-matte", layers=["panel"], number=2, matte="b", hide=False)
    layers = {la.id: la for la in two.scenes[0].layers}
    assert layers["a"].hidden and not layers["b"].hidden
    assert layers["panel"].properties["matte.2.layer"].value == "b"
    # The second moves up; the first is still needed by another layer.
    less = edited(two, kind="set-matte", layers=["panel"], number=1, matte="")
    layers = {la.id: la for la in less.scenes[0].layers}
    assert layers["panel"].properties["matte.layer"].value == "b"
    assert "matte.2.layer" not in layers["panel"].properties and layers["a"].hidden
    free = edited(less, kind="set-matte", layers=["other"], number=1, matte="")
    assert not {la.id: la for la in free.scenes[0].layers}["a"].hidden


def test_mattes_are_taken_over_by_copies_and_wraps():
    document = through("exclude", more=(box("top", size=(20.0, 20.0)),))
    before = draw(document)
    wrapped = edited(
        document, kind="wrap-layers", layers=["panel"], id="w", new_scene="inner", name="Inner"
    )
    assert np.array_equal(draw(wrapped), before)
    inner = wrapped.scenes[1]
    assert {la.id for la in inner.layers} == {"a", "b", "panel"}
    back = edited(wrapped, kind="unwrap-scene", layer="w")
    assert np.array_equal(draw(back), before)
    copied = edited(document, kind="duplicate-layers", copies={"a": "a2", "b": "b2", "panel": "p2"})
    made = next(la for la in copied.scenes[0].layers if la.id == "p2")
    assert (
        made.properties["matte.layer"].value == "a2"
        and made.properties["matte.2.layer"].value == "b2"
    )


def test_what_is_within_the_layer_below_and_has_mattes_besides_can_be_wrapped():
    panel = box("panel", size=(300.0, 160.0), matte__layer="a", matte__below=True)
    document = clear(hidden(box("a", **LEFT)), box("ground", size=(80.0, 80.0)), panel)
    before = draw(document)
    wrapped = edited(
        document, kind="wrap-layers", layers=["panel"], id="w", new_scene="inner", name="Inner"
    )
    assert np.abs(draw(wrapped).astype(int) - before).max() <= 1
