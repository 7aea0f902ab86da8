"""Resolved frames mixed: held against evaluation, and against jumps."""

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import NoAssets, key, layer, project

from young_comet.core.catalog import layer_kind
from young_comet.core.geometry.affine import Affine
from young_comet.core.model import Effect, Mask, Move, Property
from young_comet.core.paint import MediaLibrary, Renderer
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.resolve.mixing import mix_frames

LIBRARY = MediaLibrary(NoAssets())


def frame(*layers, time_s=1.0, **more):
    return SceneEvaluator(project(*layers, **more), "reveal", library=LIBRARY).at(time_s)


def picture(of):
    return Renderer(LIBRARY).render(of, of.width, of.height).astype(int)


def mixed(a, b, amount, **more):
    return mix_frames(a, b, amount, LIBRARY, **more)


def kite(id="kite", **values):
    return layer(id, "shape", **{"shape__size": [60, 40], "position": [80, 70], **values})


# Maps

MAPS = st.builds(
    Affine.place,
    st.tuples(st.floats(-500, 500), st.floats(-500, 500)),
    st.floats(-720, 720),
    st.tuples(st.floats(0.05, 4), st.floats(0.05, 4)),
    st.tuples(st.floats(-50, 50), st.just(0.0)),
    st.tuples(st.floats(-50, 50), st.floats(-50, 50)),
)


@given(MAPS, MAPS)
def test_maps_are_exact_at_their_ends_and_continuous(a, b):
    assert a.towards(b, 0.0) == a and a.towards(b, 1.0) == b
    steps = [np.array(a.towards(b, k / 200).as_tuple()) for k in range(201)]
    near = np.array(a.towards(b, 1e-9).as_tuple())
    assert np.allclose(near, steps[0], atol=1e-4)
    size = np.abs(steps[0]).max() + np.abs(steps[-1]).max()
    jumps = np.abs(np.diff(steps, axis=0)).max()
    assert jumps < 0.06 * size + 1e-9


@pytest.mark.parametrize("turn", [30, 90, 179, -120, 350])
def test_what_is_only_turned_keeps_its_size_and_goes_the_shorter_way(turn):
    a = Affine.place((10, 20), 40, (1, 1), (0, 0), (0, 0))
    b = Affine.place((110, 20), 40 + turn, (1, 1), (0, 0), (0, 0))
    half = a.towards(b, 0.5)
    assert half.determinant == pytest.approx(1) and (half.e, half.f) == pytest.approx((60, 20))
    shorter = (turn + 180) % 360 - 180
    angle = math.degrees(math.atan2(half.b, half.a))
    assert (angle - 40 - shorter / 2 + 180) % 360 - 180 == pytest.approx(0, abs=1e-6)


def test_the_point_asked_for_goes_straight():
    a, b = (
        Affine.place((0, 0), 0, (1, 1), (0, 0), (0, 0)),
        Affine.place((50, 9), 120, (3, 2), (0, 0), (7, 7)),
    )
    about = (25.0, -8.0)
    for amount in (0.2, 0.5, 0.9):
        expected = np.array(a(about)) * (1 - amount) + np.array(b(about)) * amount
        assert a.towards(b, amount, about)(about) == pytest.approx(tuple(expected))


def test_what_is_mirrored_is_folded_flat_on_its_way():
    a, b = Affine(), Affine.scaling(1, -1)
    assert a.towards(b, 0.5).determinant == pytest.approx(0)
    assert a.towards(Affine(0, 0, 0, 0, 9, 9), 0.5).determinant == pytest.approx(0.25)


# Frames against evaluation: halfway between two moments of linear keys is the moment between


@pytest.mark.parametrize(
    "values",
    [
        {"position": [key(0, [40, 40]), key(2, [240, 120])]},
        {"rotation": [key(0, 0.0), key(2, 120.0)]},
        {"scale": [key(0, [50, 80]), key(2, [150, 100])]},
        {"opacity": [key(0, 20.0), key(2, 90.0)]},
        {"fill.colour": [key(0, "#ff0000"), key(2, "#0000ff")]},
        {"shape.size": [key(0, [10, 10]), key(2, [120, 60])]},
        {"shape.corner-radius": [key(0, 0.0), key(2, 18.0)]},
        {"stroke.colour": "#ffffff", "stroke.width": [key(0, 2.0), key(2, 20.0)]},
        {"effect.e.size": [key(0, [0, 0]), key(2, [12, 12])]},
        {"mask.m.path": "M-20 -20 L20 -20 L20 20 L-20 20 Z", "mask.m.position": [key(0, [0, 0]), key(2, [20, 8])]},
        {"slices.kind": "strips", "slices.progress": [key(0, 20.0), key(2, 60.0)], "slices.offset": [0, 40]},
        {"tilt": [key(0, 0.0), key(2, 3.0)]},
    ],
    ids=lambda v: list(v)[-1],
)  # fmt: skip
@pytest.mark.parametrize("amount", [0.25, 0.5, 0.8])
def test_between_two_moments_lies_what_evaluation_gives_there(values, amount):
    made = layer("kite", "shape", **{"shape.size": [60, 40], "position": [120, 80], **values})
    made = made.model_copy(
        update={"effects": (Effect(id="e", kind="gaussian-blur"),) if "effect.e.size" in values else (),
                "masks": (Mask(id="m", name="M"),) if "mask.m.path" in values else ()}
    )  # fmt: skip
    # Slices settle by a curve of their own: their places are what is mixed.
    within = 40 if "slices.kind" in values else 3
    a, b, there = (frame(made, time_s=s) for s in (0.0, 2.0, 2.0 * amount))
    found = mixed(a, b, amount)
    assert [la.id for la in found.layers] == ["kite"]
    difference = np.abs(picture(found) - picture(there))
    assert difference.mean() < within / 10 and np.percentile(difference, 99.5) <= within * 3


def test_texts_of_the_same_words_are_mixed_and_others_change_letter_by_letter():
    small = layer("name", "text", text="Gull", text__size=20.0, position=[60, 60])
    large = layer("name", "text", text="Gull", text__size=60.0, position=[160, 100])
    (one,) = mixed(frame(small), frame(large), 0.5).layers
    assert one.content.style.size_px == 40 and (one.matrix.e, one.matrix.f) == (110, 80)
    other = layer("name", "text", text="Kite", text__size=60.0, position=[160, 100])
    leaving, arriving = mixed(frame(small), frame(other), 0.25).layers
    assert (leaving.content.text, arriving.content.text) == ("Gull", "Kite")
    # Both are in the style and at the place that lie between; no letter of the one is in the other.
    assert {each.content.style.size_px for each in (leaving, arriving)} == {30}
    assert leaving.matrix == arriving.matrix
    assert [unit.place.opacity for unit in arriving.content.units] == [0, 0, 0, 0]
    shown = [unit.place.opacity for unit in leaving.content.units]
    assert shown[0] < shown[-1] and shown == sorted(shown)


def test_texts_in_other_faces_cross_over_on_their_way():
    small = layer("name", "text", text="Gull", text__size=20.0, position=[60, 60])
    other = layer(
        "name", "text", text="Kite", text__size=60.0, position=[160, 100], text__font="inter"
    )
    leaving, arriving = mixed(frame(small), frame(other), 0.25).layers
    assert leaving.opacity == 1 and arriving.opacity == 0.5
    # Both lie one over the other.
    boxes = [each.matrix.box(each.content.box(LIBRARY)) for each in (leaving, arriving)]
    assert boxes[0] == pytest.approx(boxes[1], abs=0.5)


def test_shapes_of_other_kinds_become_each_other():
    star = layer("kite", "shape", shape__kind="star", shape__radius=40.0, position=[80, 70])
    (one,) = mixed(frame(kite()), frame(star), 0.5).layers
    assert one.content.form.kind == "path"
    area = (picture(replace(frame(), layers=(one,)))[..., :3].max(axis=2) > 100).sum()
    ends = [(picture(f)[..., :3].max(axis=2) > 100).sum() for f in (frame(kite()), frame(star))]
    assert min(ends) * 0.8 < area < max(ends) * 1.2


# Who is who


def test_layers_are_matched_by_id_by_pairs_and_as_copies():
    a, b = frame(kite("a"), kite("b")), frame(kite("b", position=[200, 70]), kite("c"))
    found = mixed(a, b, 0.25)
    assert [(la.id, round(la.opacity, 3)) for la in found.layers] == [
        ("a", 0.75),
        ("b", 1),
        ("c", 0.25),
    ]
    assert found.layers[1].matrix.e == pytest.approx(110)
    paired = mixed(a, b, 0.25, pairs={"a": "c"})
    assert [la.id for la in paired.layers] == ["a", "b"] and paired.layers[0].opacity == 1
    copies = kite("a", copies__count=3.0, copies__delay=0.1)
    assert len(mixed(frame(copies), frame(kite("a")), 0.5).layers) == 3


def test_the_order_is_that_of_the_nearer_frame():
    a, b = frame(kite("a"), kite("b"), kite("x")), frame(kite("b"), kite("a"), kite("y"))
    assert [la.id for la in mixed(a, b, 0.4).layers] == ["a", "y", "b", "x"]
    assert [la.id for la in mixed(a, b, 0.6).layers] == ["b", "x", "a", "y"]


def test_ends_are_the_frames_themselves():
    a, b = frame(kite()), frame(kite(position=[9, 9]))
    assert mixed(a, b, 0) is a and mixed(a, b, 1) is b and mixed(a, b, -3) is a
    assert mixed(a, a, 0.5).signature == a.signature


def test_grounds_and_nested_scenes_are_mixed():
    a, b = frame(kite(), ground="#000000"), frame(kite(), ground="#ffffff")
    assert mixed(a, b, 0.5).ground == pytest.approx((0.5, 0.5, 0.5, 1))
    assert mixed(a, frame(kite(), ground=None), 0.5).ground[3] == pytest.approx(0.5)


# No jumps, whatever becomes of what


KINDS = ["shape", "text", "backdrop", "carrier", "picture", "clip", "treatment"]
LOOKS = {
    "plain": {},
    "far": {"position": [900, -400]},
    "small": {"scale": [0, 0]},
    "huge": {"scale": [4000, 3000]},
    "mirrored": {"scale": [-100, 100], "rotation": 200.0},
    "in-space": {"tilt": 60.0, "turn": -30.0},
    "masked": {"mask.m.path": "M-20 -20 L20 -20 L0 20 Z"},
    "blurred": {"effect.e.size": [9.0, 9.0]},
    "sliced": {"slices.kind": "tiles", "slices.progress": 40.0, "slices.rotation": 50.0},
    "blended": {"blend": "screen", "opacity": 40.0},
}


def looked(kind, look):
    known = {spec.id for spec in layer_kind(kind).specs}
    values = {
        k: v for k, v in LOOKS[look].items() if k in known or k.startswith(("mask.", "effect."))
    }
    made = layer("it", kind)
    base = {"text": {"text": "Gull", "text.size": 40.0}, "shape": {"shape.size": [90, 60]}}.get(
        kind, {}
    )
    properties = {name: Property(value=value) for name, value in {**base, **values}.items()}
    update = {"properties": properties}
    if any(name.startswith("mask.") for name in values):
        update["masks"] = (Mask(id="m", name="M"),)
    if any(name.startswith("effect.") for name in values):
        update["effects"] = (Effect(id="e", kind="gaussian-blur"),)
    return made.model_copy(update=update)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("look", LOOKS)
def test_every_kind_becomes_every_look_without_a_jump(kind, look):
    """The picture changes by little from one hundredth to the next, begins at the one end and
    ends at the other."""
    plain = kite("it") if kind != "shape" else layer("it", "text", text="Sea", text__size=30.0)
    sky = layer("sky", "backdrop", fill__colour="#204060")
    for start in (looked(kind, "plain"), plain):
        a, b = frame(sky, start), frame(sky, looked(kind, look))
        amounts = [0.0, 1e-4, 0.3, 0.301, 0.4999, 0.5, 0.5001, 0.8, 0.801, 0.9999, 1.0]
        pictures = {amount: picture(mixed(a, b, amount)) for amount in amounts}
        for p, q in pairwise(amounts):
            if q - p <= 0.0011:
                assert np.abs(pictures[p] - pictures[q]).mean() < 2.5, (p, q)


def test_moves_and_motion_blur_are_mixed_too():
    moving = kite(position=[key(0, [20, 20]), key(1, [300, 160])]).model_copy(
        update={"moves": (Move(id="m", kind="lift", phase="arrive"),), "arrive_s": 0.6}
    )
    a = frame(moving, time_s=0.3, shutter={"on": True, "angle_deg": 180})
    b = frame(moving, time_s=0.8, shutter={"on": True, "angle_deg": 180})
    assert a.layers[0].shutter
    (one,) = mixed(a, b, 0.5).layers
    assert len(one.shutter) in (0, len(a.layers[0].shutter))
    picture(mixed(a, b, 0.5))
