"""Layers moved, scaled and turned as a hand does it: held against where their corners are then."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import Context, key, layer, project
from tests.hostile import drawing_sweep as kites

from young_comet.core.catalog import layer_kind
from young_comet.core.geometry.affine import Affine
from young_comet.core.model import Property
from young_comet.core.resolve import SceneEvaluator
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError

CONTEXT = Context()
BOX = (-30.0, -20.0, 30.0, 20.0)


def corners(document, layer_id, time_s=1.0):
    evaluator = SceneEvaluator(document, "reveal")
    found = evaluator.find(layer_id)
    return evaluator.matrix(evaluator.moving(found, time_s)).corners(BOX)


def done(document, kind, layers=("box",), time_s=1.0, **more):
    data = {"kind": kind, "scene": "reveal", "layers": list(layers), "time_s": time_s, **more}
    return apply_edit(document, parse_edit(data), CONTEXT).project


def boxed(**more):
    return layer("box", "shape", shape__size=[60, 40], **{"position": [100, 80], **more})


def carried(**more):
    """A box that rides on something turned, scaled and skewed."""
    below = layer("sail", "carrier", position=[150, 60], rotation=30, scale=[150, 80], skew=[10, 0])
    box = boxed(position=[20, -10], rotation=15, **more)
    return project(below, box.model_copy(update={"rides": "sail"}))


PLACES = {
    "plain": lambda: project(boxed()),
    "pivoted": lambda: project(boxed(pivot=[25, -15], rotation=40, scale=[120, 70])),
    "mirrored": lambda: project(boxed(scale=[-100, 100], rotation=10)),
    "riding": carried,
    "keyed": lambda: project(
        boxed(position=[key(0, [0, 0]), key(2, [200, 160])], scale=[key(0, [50, 50]), key(2, [90, 130])])
    ),
    "split": lambda: project(
        layer("box", "shape", shape__size=[60, 40], position__x=90, position__y=[key(0, 10), key(2, 90)])
    ),
    "moving": lambda: project(boxed()),
}  # fmt: skip


def near(a, b, within=0.6):
    return all(math.dist(p, q) < within for p, q in zip(a, b, strict=True))


@pytest.mark.parametrize("place", PLACES)
def test_a_move_moves_the_picture_by_that_much(place):
    document = PLACES[place]()
    before = corners(document, "box")
    after = corners(done(document, "move-layers", by=[33, -21]), "box")
    assert near(after, [(x + 33, y - 21) for x, y in before], 0.05)


@pytest.mark.parametrize("place", [p for p in PLACES if p != "riding"])
@pytest.mark.parametrize("about", [None, [40, 60]])
def test_a_turn_turns_every_corner_about_its_point(place, about):
    document = PLACES[place]()
    evaluator = SceneEvaluator(document, "reveal")
    values = evaluator.values(evaluator.find("box"), 1.0)
    centre = about or evaluator.matrix(values)(values("pivot"))
    turn = Affine.shift(*centre) @ Affine.rotation(35) @ Affine.shift(-centre[0], -centre[1])
    before = corners(document, "box")
    after = corners(done(document, "turn-layers", by_deg=35, about=about), "box")
    assert near(after, [turn(p) for p in before], 0.1)


def test_turns_go_by_steps():
    document = project(boxed(rotation=7))
    turned = done(document, "turn-layers", by_deg=20, steps_deg=15)
    assert turned.scenes[0].layers[0].properties["rotation"].value == 30
    two = project(boxed(), boxed().model_copy(update={"id": "bow", "name": "Bow"}))
    both = done(two, "turn-layers", layers=("box", "bow"), by_deg=20, steps_deg=15)
    assert [la.properties["rotation"].value for la in both.scenes[0].layers] == [15, 15]


@pytest.mark.parametrize("place", PLACES)
def test_a_scaled_layer_keeps_the_point_it_is_scaled_about(place):
    document = PLACES[place]()
    before = corners(document, "box")
    after = corners(done(document, "scale-layers", factor=[1.5, 0.5], about=before[0]), "box")
    assert math.dist(after[0], before[0]) < 0.1
    wide, high = math.dist(after[0], after[1]), math.dist(after[0], after[3])
    assert wide == pytest.approx(1.5 * math.dist(before[0], before[1]), abs=0.3)
    assert high == pytest.approx(0.5 * math.dist(before[0], before[3]), abs=0.3)


# Handles as shares of the box, and the corner that has to be where it was.
HELD = {(1.0, 1.0): 0, (0.0, 1.0): 1, (0.0, 0.0): 2, (1.0, 0.0): 3}


@pytest.mark.parametrize("place", PLACES)
@pytest.mark.parametrize("handle", HELD)
def test_a_corner_goes_where_it_is_dragged_and_the_opposite_one_stays(place, handle):
    document = PLACES[place]()
    before = corners(document, "box")
    opposite = HELD[handle]
    dragged = before[(opposite + 2) % 4]
    to = (dragged[0] + 17, dragged[1] + 11)
    after = corners(done(document, "drag-box", handle=list(handle), to=list(to)), "box")
    assert math.dist(after[opposite], before[opposite]) < 0.1
    assert math.dist(after[(opposite + 2) % 4], to) < 0.5


@given(
    st.floats(-80, 80), st.floats(-80, 80), st.floats(-170, 170), st.sampled_from(sorted(HELD)),
)  # fmt: skip
def test_an_even_drag_keeps_the_ratio(dx, dy, angle, handle):
    document = project(boxed(rotation=angle))
    before = corners(document, "box")
    dragged = before[(HELD[handle] + 2) % 4]
    to = [dragged[0] + dx, dragged[1] + dy]
    after = done(document, "drag-box", handle=list(handle), to=to, even=True)
    x, y = after.scenes[0].layers[0].properties["scale"].value
    assert x == pytest.approx(y, abs=0.02)


def test_several_are_scaled_as_one_picture_and_riders_are_carried_along():
    rider = boxed(position=[10, 5]).model_copy(
        update={"id": "tail", "name": "Tail", "rides": "box"}
    )
    bow = boxed(position=[220, 120]).model_copy(update={"id": "bow", "name": "Bow"})
    document = project(boxed(), rider, bow)
    names = ("box", "tail", "bow")
    scaled = done(document, "scale-layers", layers=names, factor=[2, 2], about=[50, 50])
    for name in names:
        wanted = [(50 + 2 * (x - 50), 50 + 2 * (y - 50)) for x, y in corners(document, name)]
        assert near(corners(scaled, name), wanted, 0.05), name
    assert scaled.scenes[0].layers[1].properties == document.scenes[0].layers[1].properties
    dragged = done(document, "drag-box", layers=names, handle=[1, 1], to=[500, 400])
    assert math.dist(corners(dragged, "box")[0], corners(document, "box")[0]) < 0.1


def test_carriers_are_dragged_by_their_crosses():
    sail = layer("sail", "carrier", position=[100, 100])
    bow = sail.model_copy(update={"id": "bow", "name": "Bow", "properties": {
        "position": Property(value=(200.0, 100.0))}})  # fmt: skip
    one = done(project(sail), "drag-box", layers=("sail",), handle=[1, 1], to=[196, 148])
    assert one.scenes[0].layers[0].properties["scale"].value == (150, 100)
    both = done(project(sail, bow), "turn-layers", layers=("sail", "bow"), by_deg=180)
    places = [la.properties["position"].value for la in both.scenes[0].layers]
    assert places == [(200, 100), (100, 100)]


def test_whole_pixels_are_for_positions_in_the_scene_itself():
    moved = done(project(boxed(position=[10.4, 5.2])), "move-layers", by=[1.3, 0.9], whole=True)
    assert moved.scenes[0].layers[0].properties["position"].value == (12, 6)
    x, _ = done(carried(), "move-layers", by=[1, 0], whole=True).scenes[0].layers[1].properties[
        "position"
    ].value  # fmt: skip
    assert x != round(x)


@pytest.mark.parametrize("kind", list(kites.layers()))
@pytest.mark.parametrize("size", [(0.0, 100.0), (0.0, 0.0), (1e5, 1e5), (1e-3, 1e-3)])
def test_every_kind_at_every_size_is_changed_or_refused_in_words(kind, size):
    tested = kites.layers()[kind]
    if layer_kind(tested.kind).placed:
        properties = {**tested.properties, "scale": Property(value=size)}
        tested = tested.model_copy(update={"properties": properties})
    document = kites.document(tested)
    for data in (
        {"kind": "move-layers", "by": [1e6, -1e6]},
        {"kind": "scale-layers", "factor": [0, 0], "about": [1, 1]},
        {"kind": "scale-layers", "factor": [-1e6, 1e6]},
        {"kind": "turn-layers", "by_deg": 1e9, "about": [-1e6, 0]},
        {"kind": "drag-box", "handle": [0.5, 1], "to": [0, 0], "from_middle": True},
        {"kind": "drag-box", "handle": [0, 0], "to": [1e6, 1e6], "even": True},
    ):
        try:
            done(document, layers=("x",), **data)
        except DocumentError as error:
            assert str(error)


def test_two_factors_for_several_and_unknown_layers_are_refused():
    two = project(boxed(), boxed().model_copy(update={"id": "bow", "name": "Bow"}))
    with pytest.raises(DocumentError, match="one factor"):
        done(two, "scale-layers", layers=("box", "bow"), factor=[1, 2], about=[0, 0])
    with pytest.raises(DocumentError, match="no place of its own"):
        done(project(layer("box", "backdrop")), "move-layers", by=[1, 1])
    with pytest.raises(DocumentError, match="there is no layer"):
        done(two, "move-layers", layers=("gull",), by=[1, 1])


BOXED = {"text": "Hold on to the wind and let go of it", "text__box": "box", "text__size": 20.0,
         "text__box-size": [160.0, 80.0], "position": [150.0, 90.0]}  # fmt: skip


def in_a_box(**more):
    return project(layer("title", "text", **(BOXED | more)))


@pytest.mark.parametrize("more", [
    {}, {"text__align": "left"}, {"text__align": "right", "text__grows": "middle"},
    {"rotation": 30.0}, {"scale": [200.0, 50.0]}, {"pivot": [30.0, 10.0], "rotation": -70.0},
])  # fmt: skip
@pytest.mark.parametrize(("handle", "size"), [
    ((1, 0.5), (200.0, 80.0)), ((0, 0.5), (100.0, 80.0)), ((0.5, 1), (160.0, 30.0)),
    ((0.5, 0), (160.0, 111.0)),
])  # fmt: skip
def test_the_edges_of_a_text_in_a_box_size_the_box(handle, size, more):
    document = in_a_box(**more)
    evaluator = SceneEvaluator(document, "reveal")
    placed = evaluator.values(evaluator.find("title"), 0)
    matrix = evaluator.matrix(placed)
    left, top, right, foot = CONTEXT.box(document, "reveal", "title", 0)
    u, v = handle
    opposite = (left + (1 - u) * (right - left), top + (1 - v) * (foot - top))
    grown = (opposite[0] + (2 * u - 1) * size[0], opposite[1] + (2 * v - 1) * size[1])
    after = done(
        document, "drag-box", layers=("title",), handle=list(handle), to=list(matrix(grown))
    )
    (made,) = after.scenes[0].layers
    assert made.properties["text.box-size"].value == pytest.approx(size, abs=0.05)
    scale = made.properties.get("scale")
    assert (scale.value if scale else None) == (tuple(more["scale"]) if "scale" in more else None)
    evaluator = SceneEvaluator(after, "reveal")
    matrix_now = evaluator.matrix(evaluator.values(evaluator.find("title"), 0))
    left, top, right, foot = CONTEXT.box(after, "reveal", "title", 0)
    stayed = matrix_now((left + (1 - u) * (right - left), top + (1 - v) * (foot - top)))
    assert stayed == pytest.approx(matrix(opposite), abs=0.05)


def test_a_corner_scales_a_text_in_a_box_and_no_box_is_less_than_a_pixel():
    scaled = done(in_a_box(), "drag-box", layers=("title",), handle=[1, 1], to=[300, 140])
    assert "scale" in scaled.scenes[0].layers[0].properties
    thin = done(in_a_box(), "drag-box", layers=("title",), handle=[1, 0.5], to=[-500, 90])
    assert thin.scenes[0].layers[0].properties["text.box-size"].value == (1.0, 80.0)
