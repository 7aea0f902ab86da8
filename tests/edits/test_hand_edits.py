"""What a hand draws and moves on the stage: held against where it is seen then."""

import math

import numpy as np
import pytest
from tests.build import Context, key, layer, project

from young_comet.core.catalog import check_project, layer_kind
from young_comet.core.geometry.affine import Affine
from young_comet.core.geometry.contours import parse_contours
from young_comet.core.model import Effect, Mask
from young_comet.core.views.view import paths_view
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError, NotFoundError

CONTEXT = Context()
SQUARE = "M-40 -30 L40 -30 L40 30 L-40 30 Z"


def done(document, kind, time_s=1.0, **more):
    data = {"kind": kind, "scene": "reveal", **more}
    if kind != "draw-shape":
        data["time_s"] = time_s
    return apply_edit(document, parse_edit(data), CONTEXT).project


def named(document, layer_id):
    return next(la for la in document.scenes[0].layers if la.id == layer_id)


def evaluator_of(document):
    return CONTEXT.evaluator(document, "reveal")


def path_in_scene(document, layer_id, property_id, time_s=1.0):
    """The points of a path where they are seen, from what the stage is told."""
    evaluator = evaluator_of(document)
    views = paths_view(evaluator, evaluator.find(layer_id), time_s)
    view = next(each for each in views if each["property"] == property_id)
    place = Affine(*view["matrix"])
    return [place(tuple(p[:2])) for contour in view["contours"] for p in contour["points"]]


def box_in_scene(document, layer_id, time_s=1.0):
    evaluator = evaluator_of(document)
    found = evaluator.find(layer_id)
    box = CONTEXT.box(document, "reveal", layer_id, time_s)
    return evaluator.matrix(evaluator.moving(found, time_s)).corners(box)


def near(a, b, within=0.1):
    assert len(a) == len(b)
    return all(math.dist(p, q) < within for p, q in zip(a, b, strict=True))


# Drawing


@pytest.mark.parametrize(
    ("drawn", "box"),
    [
        ({"start": [20, 30], "end": [120, 90]}, (20, 30, 120, 90)),
        ({"start": [120, 90], "end": [20, 30]}, (20, 30, 120, 90)),
        ({"start": [20, 30], "end": [120, 90], "even": True}, (20, 30, 120, 130)),
        ({"start": [120, 90], "end": [20, 30], "even": True}, (20, -10, 120, 90)),
        ({"start": [100, 80], "end": [130, 60], "from_middle": True}, (70, 60, 130, 100)),
        # Clicked for: a third of the frame's shorter side.
        ({"start": [160, 90]}, (131, 61, 189, 119)),
    ],
)
@pytest.mark.parametrize("form", ["rectangle", "ellipse"])
def test_a_form_lies_between_the_places_it_was_drawn_between(form, drawn, box):
    made = done(project(), "draw-shape", id="new", drawn={"form": form, **drawn})
    corners = box_in_scene(made, "new")
    left, top, right, foot = box
    expected = [(left, top), (right, top), (right, foot), (left, foot)]
    assert near(corners, expected, 0.8)


@pytest.mark.parametrize("form", ["polygon", "star"])
def test_what_has_a_radius_reaches_as_far_as_was_drawn(form):
    drawn = {"form": form, "start": [50, 40], "end": [110, 120]}
    made = named(done(project(), "draw-shape", id="new", drawn=drawn), "new")
    assert made.properties["position"].value == (80, 80)
    assert made.properties["shape.radius"].value == 40  # half of its longer side


@pytest.mark.parametrize(
    ("drawn", "ends"),
    [
        ({"start": [20, 30], "end": [90, 50]}, [(20, 30), (90, 50)]),
        ({"start": [50, 50], "end": [90, 60], "from_middle": True}, [(10, 40), (90, 60)]),
        # The nearest step of 15 degrees to about 16 of them, as long as was drawn.
        ({"start": [0, 0], "end": [100, 28], "even": True}, [(0, 0), (100.3, 26.88)]),
        ({"start": [160, 90]}, [(131.2, 90), (188.8, 90)]),
    ],
)
def test_a_line_goes_from_where_it_was_begun_to_where_it_was_ended(drawn, ends):
    made = done(project(), "draw-shape", id="new", drawn={"form": "line", **drawn})
    line = named(made, "new").properties
    x, y = line["position"].value
    seen = [(x + p[0], y + p[1]) for p in (line["shape.start"].value, line["shape.end"].value)]
    assert near(seen, ends, 0.05)


PEN = [{"at": [20, 30], "out": [10, 0]}, {"at": [90, 30], "into": [-10, 5]}, {"at": [60, 100]}]


@pytest.mark.parametrize("closed", [False, True])
def test_what_the_pen_drew_becomes_a_shape_where_it_was_drawn(closed):
    drawn = {"form": "path", "points": PEN, "closed": closed}
    made = done(project(), "draw-shape", id="new", drawn=drawn)
    assert near(path_in_scene(made, "new", "shape.path"), [p["at"] for p in PEN])
    fill = named(made, "new").properties.get("fill.on")
    assert (fill is None) if closed else fill.value is False


def test_new_shapes_have_names_of_their_own_and_last_as_long_as_the_scene():
    document = project()
    for _ in range(2):
        drawn = {"form": "star", "start": [9, 9], "end": [90, 90]}
        document = done(document, "draw-shape", drawn=drawn)
    assert [la.name for la in document.scenes[0].layers] == ["Star", "Star 2"]
    assert {(la.start_s, la.end_s) for la in document.scenes[0].layers} == {(0, 4)}


# A layer wherever a layer can lie


def held(**more):
    mask = Mask(id="m", name="Sail")
    values = {"mask.m.path": SQUARE, "mask.m.position": [5, -5], "mask.m.rotation": 20.0}
    glow = (Effect(id="rays", kind="rays"), Effect(id="spots", kind="point-gradient"))
    return layer(
        "box", "shape", shape__size=[120, 80],
        **{"position": [100, 80], "effect.rays.centre": [10, 5], **values, **more},
    ).model_copy(update={"masks": (mask,), "effects": glow})  # fmt: skip


def riding(**more):
    below = layer("sail", "carrier", position=[150, 60], rotation=30, scale=[150, 80])
    box = held(position=[20, -10], rotation=15, **more)
    return project(below, box.model_copy(update={"rides": "sail"}))


PLACES = {
    "plain": lambda **more: project(held(**more)),
    "turned": lambda **more: project(held(pivot=[25, -15], rotation=40, scale=[120, 70], **more)),
    "mirrored": lambda **more: project(held(scale=[-100, 100], rotation=10, **more)),
    "riding": riding,
    "keyed": lambda **more: project(
        held(**{"position": [key(0, [0, 0]), key(2, [200, 160])], "scale": [key(0, [50, 50]), key(2, [90, 130])], **more})
    ),
}  # fmt: skip
SPACES = ["layer", "scene", "follow"]


def with_space(document, space):
    scene = document.scenes[0]
    layers = []
    for each in scene.layers:
        if each.masks:
            mask = each.masks[0].model_copy(
                update={"space": space, "follows": "other" if space == "follow" else None}
            )
            each = each.model_copy(update={"masks": (mask,)})
        layers.append(each)
    other = layer("other", "shape", position=[30, 40], rotation=-50, scale=[80, 80])
    scene = scene.model_copy(update={"layers": (*layers, other)})
    return document.model_copy(update={"scenes": (scene,)})


@pytest.mark.parametrize("place", PLACES)
@pytest.mark.parametrize("form", ["rectangle", "path", "hand", "svg"])
def test_a_mask_is_cut_where_it_was_drawn(place, form):
    corners = [(40, 50), (90, 50), (90, 110), (40, 110)]
    drawn = {
        "rectangle": {"start": [40, 50], "end": [90, 110]},
        "path": {"points": [{"at": list(p)} for p in corners]},
        "hand": {"points": [list(p) for p in corners], "tolerance": 0.5},
        "svg": {"data": "M40 50 L90 50 L90 110 L40 110 Z"},
    }[form]
    made = done(PLACES[place](), "draw-mask", layer="box", id="new", drawn={"form": form, **drawn})
    assert near(path_in_scene(made, "box", "mask.new.path"), corners)
    path = named(made, "box").properties["mask.new.path"].value
    assert parse_contours(path)[0].closed


def test_a_mask_is_cut_on_what_fills_the_frame_and_on_every_kind():
    for kind in ("backdrop", "treatment", "text", "picture", "clip", "scene", "carrier"):
        document = project(layer("box", kind))
        drawn = {"form": "ellipse", "start": [40, 50], "end": [90, 110]}
        made = done(document, "draw-mask", layer="box", id="new", drawn=drawn)
        top, right, foot, left = path_in_scene(made, "box", "mask.new.path")
        assert near([top, right, foot, left], [(65, 50), (90, 80), (65, 110), (40, 80)]), kind


# Masks


@pytest.mark.parametrize("space", SPACES)
@pytest.mark.parametrize("place", PLACES)
def test_a_mask_is_moved_by_that_much_on_the_stage(place, space):
    document = with_space(PLACES[place](), space)
    before = path_in_scene(document, "box", "mask.m.path")
    moved = done(document, "move-mask", layer="box", mask="m", by=[33, -21])
    after = path_in_scene(moved, "box", "mask.m.path")
    assert near(after, [(x + 33, y - 21) for x, y in before])


@pytest.mark.parametrize("space", ["scene", "follow"])
@pytest.mark.parametrize("by", [30, -100, 725])
def test_a_mask_is_turned_about_its_middle(space, by):
    document = with_space(PLACES["turned"](), space)
    before = path_in_scene(document, "box", "mask.m.path")
    turned = done(document, "turn-mask", layer="box", mask="m", by_deg=by)
    middle = np.mean(before, axis=0)
    angle = math.radians(by)
    turn = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
    expected = (np.array(before) - middle) @ turn.T + middle
    assert near(path_in_scene(turned, "box", "mask.m.path"), [tuple(p) for p in expected])


def test_a_mask_in_a_mirrored_layer_turns_the_way_of_the_hand():
    document = PLACES["mirrored"]()
    before = path_in_scene(document, "box", "mask.m.path")
    after = path_in_scene(
        done(document, "turn-mask", layer="box", mask="m", by_deg=10), "box", "mask.m.path"
    )
    middle = np.mean(before, axis=0)
    was, now = (np.array(p[0]) - middle for p in (before, after))
    assert was[0] * now[1] - was[1] * now[0] > 0  # clockwise, y pointing down


def test_a_mask_comes_to_lie_on_steps():
    turned = done(PLACES["plain"](), "turn-mask", layer="box", mask="m", by_deg=8, steps_deg=15)
    assert named(turned, "box").properties["mask.m.rotation"].value == 30


@pytest.mark.parametrize("space", SPACES)
@pytest.mark.parametrize("place", PLACES)
def test_a_corner_of_a_mask_follows_the_hand(place, space):
    document = with_space(PLACES[place](), space)
    before = path_in_scene(document, "box", "mask.m.path")
    middle = tuple(np.mean(before, axis=0))
    to = (before[2][0] + 14, before[2][1] + 9)
    hand = {"layer": "box", "mask": "m", "start": list(before[2]), "to": list(to)}
    apart = path_in_scene(done(document, "scale-mask", apart=True, **hand), "box", "mask.m.path")
    assert math.dist(apart[2], to) < 0.7  # percents are kept to hundredths
    even = path_in_scene(done(document, "scale-mask", **hand), "box", "mask.m.path")
    assert math.dist(tuple(np.mean(even, axis=0)), middle) < 0.1
    sides = [math.dist(even[i], even[i + 1]) / math.dist(before[i], before[i + 1]) for i in (0, 1)]
    assert sides[0] == pytest.approx(sides[1], abs=0.01) and sides[0] != pytest.approx(1, abs=0.02)


def test_what_has_no_size_says_so():
    flat = PLACES["plain"](**{"mask.m.scale": [0, 0]})
    hand = {"layer": "box", "mask": "m", "start": [140, 110], "to": [150, 120]}
    with pytest.raises(DocumentError, match="mask: the mask is scaled to nothing now"):
        done(flat, "scale-mask", **hand)
    gone = PLACES["plain"](scale=[0, 0])
    for kind, more in (
        ("move-mask", {"mask": "m", "by": [1, 1]}),
        ("move-place", {"property": "effect.rays.centre", "by": [1, 1]}),
        ("move-gradient", {"end": "start", "by": [1, 1]}),
        ("edit-path", {"property": "mask.m.path", "deed": "move", "points": [[0, 0]], "by": [1, 1], "in_scene": True}),
    ):  # fmt: skip
        with pytest.raises(DocumentError, match="scaled to nothing now"):
            done(gone, kind, layer="box", **more)


def test_a_half_plane_is_moved_and_turned_but_has_no_size():
    edge = layer("box", "shape", position=[100, 80], rotation=30).model_copy(
        update={"masks": (Mask(id="m", name="Edge", form="half-plane"),)}
    )
    moved = done(project(edge), "move-mask", layer="box", mask="m", by=[30, 0])
    value = named(moved, "box").properties["mask.m.position"].value
    assert value == pytest.approx(Affine.rotation(-30)((30, 0)), abs=0.01)
    turned = done(moved, "turn-mask", layer="box", mask="m", by_deg=12)
    assert named(turned, "box").properties["mask.m.rotation"].value == 12
    with pytest.raises(DocumentError, match="mask: a half plane has no size"):
        done(moved, "scale-mask", layer="box", mask="m", start=[0, 0], to=[9, 9])


# Gradients and places


def scene_place(document, layer_id, share, time_s=1.0):
    """Where a share of a layer's box in percent lies on the stage."""
    evaluator = evaluator_of(document)
    left, top, right, bottom = CONTEXT.box(document, "reveal", layer_id, time_s)
    place = evaluator.place_of(layer_id, time_s)
    return place((left + (right - left) * share[0] / 100, top + (bottom - top) * share[1] / 100))


@pytest.mark.parametrize("end", ["start", "end"])
@pytest.mark.parametrize("place", PLACES)
def test_an_end_of_a_gradient_is_moved_by_that_much(place, end):
    document = PLACES[place](**{"fill.kind": "linear"})
    name = f"fill.{end}"

    def seen(of):
        return scene_place(
            of, "box", evaluator_of(of).values(evaluator_of(of).find("box"), 1.0)(name)
        )

    before = seen(document)
    after = seen(done(document, "move-gradient", layer="box", end=end, by=[21, -12]))
    assert math.dist(after, (before[0] + 21, before[1] - 12)) < 0.1


@pytest.mark.parametrize("place", PLACES)
@pytest.mark.parametrize("share", [0, 0.31, 1, 1.7, -0.4])
def test_a_stop_goes_where_the_line_is_nearest(place, share):
    document = PLACES[place](**{"fill.kind": "linear"})
    values = evaluator_of(document).values(evaluator_of(document).find("box"), 1.0)
    a, b = (scene_place(document, "box", values(f"fill.{end}")) for end in ("start", "end"))
    beside = (-(b[1] - a[1]) * 0.2, (b[0] - a[0]) * 0.2)
    to = [a[i] + (b[i] - a[i]) * share + beside[i] for i in (0, 1)]
    made = done(document, "move-stop", layer="box", index=0, to=to)
    offset = named(made, "box").properties["fill.stops"].value[0][0]
    assert offset == pytest.approx(min(1, max(0, share)), abs=1e-3)


@pytest.mark.parametrize("place", PLACES)
def test_places_and_colour_points_are_moved_by_that_much(place):
    document = PLACES[place]()
    values = lambda of: evaluator_of(of).values(evaluator_of(of).find("box"), 1.0)  # noqa: E731
    spot = lambda of: scene_place(of, "box", values(of)("effect.spots.points")[1][:2])  # noqa: E731
    centre = lambda of: evaluator_of(of).place_of("box", 1.0)(values(of)("effect.rays.centre"))  # noqa: E731
    moved = done(document, "move-place", layer="box", property="effect.rays.centre", by=[17, 4])
    moved = done(
        moved, "move-place", layer="box", property="effect.spots.points", index=1, by=[-8, 6]
    )
    assert math.dist(centre(moved), np.add(centre(document), (17, 4))) < 0.1
    assert math.dist(spot(moved), np.add(spot(document), (-8, 6))) < 0.1


def test_a_keyed_value_gets_a_key_where_the_hand_moved_it():
    document = PLACES["plain"](**{"effect.rays.centre": [key(0, [0, 0]), key(2, [40, 0])]})
    moved = done(document, "move-place", layer="box", property="effect.rays.centre", by=[0, 9])
    keys = named(moved, "box").properties["effect.rays.centre"].keys
    assert [(k.time_s, k.value) for k in keys] == [(0, (0, 0)), (1, (20, 9)), (2, (40, 0))]


# Ways


WAY = [key(0, [0, 0]), key(2, [90, 40])]


@pytest.mark.parametrize("place", ["plain", "riding"])
def test_keys_and_handles_of_a_way_are_moved_by_that_much(place):
    document = PLACES[place]() if place == "plain" else riding()
    scene = document.scenes[0]
    box = named(document, "box")
    keyed = layer("box", "shape", position=WAY).properties["position"]
    box = box.model_copy(update={"properties": {**box.properties, "position": keyed}})
    layers = tuple(box if la.id == "box" else la for la in scene.layers)
    document = document.model_copy(
        update={"scenes": (scene.model_copy(update={"layers": layers}),)}
    )

    def seen(of, value):
        evaluator = evaluator_of(of)
        carrier = evaluator.places.carrier(evaluator.values(evaluator.find("box"), 1.0))
        return carrier(value)

    def keys(of):
        return named(of, "box").properties["position"].keys

    k0 = {"layer": "box", "property": "position", "key": "k0"}
    moved = done(document, "move-way-keys", keys=[k0], by=[12, 7])
    assert (
        math.dist(seen(moved, keys(moved)[0].value), np.add(seen(document, (0, 0)), (12, 7))) < 0.1
    )
    assert keys(moved)[1].value == (90, 40) and keys(moved)[0].time_s == 0
    bent = done(document, "bend-way", layer="box", key="k0", side="out", by=[30, -10])
    out = keys(bent)[0].handle_out
    assert math.dist(seen(bent, out), np.add(seen(document, (0, 0)), (30, -10))) < 0.1
    again = done(bent, "bend-way", layer="box", key="k0", side="out", by=[5, 0])
    assert (
        math.dist(seen(again, keys(again)[0].handle_out), np.add(seen(document, (0, 0)), (35, -10)))
        < 0.1
    )
    whole = done(document, "move-way", layer="box", by=[-4, 9])
    for index in (0, 1):
        before, after = (seen(of, keys(of)[index].value) for of in (document, whole))
        assert math.dist(after, np.add(before, (-4, 9))) < 0.1


@pytest.mark.parametrize("place", ["plain", "riding", "turned"])
def test_a_hand_holds_a_layer_by_its_pivot(place):
    document = done(PLACES[place](), "hold-layer", layer="box", at=[60, 45])
    evaluator = evaluator_of(document)
    found = evaluator.find("box")
    pivot = evaluator.values(found, 1.0)("pivot")
    assert math.dist(evaluator.place_of("box", 1.0)(pivot), (60, 45)) < 0.1


# Every hand on every kind of layer, as it is, of no size, and far away

HANDS = [
    {"kind": "draw-mask", "drawn": {"form": "ellipse", "start": [40, 50], "end": [90, 110]}},
    {"kind": "move-mask", "mask": "m", "by": [5, 5]},
    {"kind": "turn-mask", "mask": "m", "by_deg": 20},
    {"kind": "scale-mask", "mask": "m", "start": [9, 9], "to": [20, 30]},
    {"kind": "scale-mask", "mask": "m", "start": [9, 9], "to": [20, 30], "apart": True},
    {"kind": "move-gradient", "end": "end", "by": [5, 5]},
    {"kind": "move-stop", "index": 0, "to": [50, 50]},
    {"kind": "move-place", "property": "effect.rays.centre", "by": [5, 5]},
    {"kind": "move-place", "property": "effect.spots.points", "index": 0, "by": [5, 5]},
    {"kind": "move-place", "property": "position", "by": [5, 5]},
    {"kind": "edit-path", "property": "mask.m.path", "deed": "move", "points": [[0, 0]], "by": [5, 5], "in_scene": True},
    {"kind": "edit-path", "property": "shape.path", "deed": "move", "points": [[0, 0]], "by": [5, 5], "in_scene": True},
    {"kind": "draw-path", "property": "mask.m.path", "drawn": {"form": "svg", "data": "M0 0 L9 9 L0 9 Z"}},
    {"kind": "hold-layer", "at": [50, 50]},
    {"kind": "move-pivot", "to": [50, 50]},
    {"kind": "move-pivot", "to": [50, 50], "near_px": 20},
    {"kind": "move-way", "by": [5, 5]},
    {"kind": "bend-way", "key": "k0", "side": "out", "by": [5, 5]},
    {"kind": "move-way-keys", "keys": [{"layer": "box", "property": "position", "key": "k0"}], "by": [5, 5]},
]  # fmt: skip
KINDS = ["shape", "text", "backdrop", "treatment", "picture", "clip", "scene", "carrier"]


@pytest.mark.parametrize("hand", HANDS, ids=lambda hand: hand["kind"])
@pytest.mark.parametrize("kind", KINDS)
def test_every_hand_does_what_it_can_on_every_kind_or_says_why_not(kind, hand):
    """A document that loads again comes of it, or a DocumentError; nothing else."""
    known = {spec.id for spec in layer_kind(kind).specs}
    extremes = [
        {},
        {"scale": [0, 0]},
        {"position": [1e5, -1e5]},
        {"scale": [10000, 10000], "tilt": 80.0},
    ]
    done_once = False
    for values in extremes:
        if any(name not in known for name in values):
            continue
        box = layer("box", kind, **values).model_copy(
            update={"masks": (Mask(id="m", name="M"),),
                    "effects": (Effect(id="rays", kind="rays"), Effect(id="spots", kind="point-gradient"))}
        )  # fmt: skip
        if "position" in known and not values:
            keyed = layer("box", kind, position=WAY).properties["position"]
            box = box.model_copy(update={"properties": {**box.properties, "position": keyed}})
        more = {} if "keys" in hand else {"layer": "box"}
        try:
            made = done(project(box), **{**hand, **more})
        except (DocumentError, NotFoundError) as error:
            assert str(error)
            continue
        done_once = True
        assert check_project(made) == made
    fits = {"hold-layer": "position", "move-way": "position", "move-mask": "opacity"}.get(
        hand["kind"]
    )
    assert done_once or fits not in known


# Bad input


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        ({"kind": "draw-shape", "drawn": {"form": "blob"}}, "drawn"),
        ({"kind": "draw-shape", "drawn": {"form": "star", "start": [1e9, 0]}}, "start"),
        ({"kind": "draw-shape", "drawn": {"form": "path", "points": [{"at": [0, 0]}]}}, "points"),
        ({"kind": "draw-shape", "drawn": {"form": "path", "points": [{"at": [5, 5]}] * 2}}, "two points"),
        ({"kind": "draw-shape", "id": "box", "drawn": {"form": "star", "start": [0, 0]}}, "already"),
        ({"kind": "draw-mask", "layer": "box", "time_s": 0, "drawn": {"form": "star", "start": [0, 0], "end": [9, 9]}}, "rectangle"),
        ({"kind": "draw-mask", "layer": "box", "time_s": 0, "drawn": {"form": "rectangle", "start": [0, 0], "end": [0, 9]}}, "no size"),
        ({"kind": "draw-mask", "layer": "box", "time_s": 0, "drawn": {"form": "hand", "points": [[1, 1]] * 9}}, "no length"),
        ({"kind": "draw-mask", "layer": "gone", "time_s": 0, "drawn": {"form": "svg", "data": "M0 0 L9 9"}}, "gone"),
        ({"kind": "move-mask", "layer": "box", "mask": "x", "by": [1, 1], "time_s": 0}, "mask"),
        ({"kind": "move-stop", "layer": "box", "index": 9, "to": [0, 0], "time_s": 0}, "index"),
        ({"kind": "move-place", "layer": "box", "property": "opacity", "by": [1, 1], "time_s": 0}, "no place"),
        ({"kind": "move-place", "layer": "box", "property": "effect.spots.points", "by": [1, 1], "time_s": 0}, "index"),
        ({"kind": "move-way-keys", "keys": [{"layer": "box", "property": "opacity", "key": "k"}], "by": [1, 1], "time_s": 0}, "position"),
        ({"kind": "hold-layer", "layer": "sky", "at": [0, 0], "time_s": 0}, "position"),
    ],
)  # fmt: skip
def test_bad_hands_are_refused_by_name(edit, words):
    document = project(layer("sky", "backdrop"), held())
    with pytest.raises(DocumentError, match=words):
        apply_edit(document, parse_edit({"scene": "reveal", **edit}), CONTEXT)
