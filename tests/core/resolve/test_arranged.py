"""Arrangements as they are resolved: courses of properties, presence, ways, what goes on top."""

import cmath
import itertools
import math
import random

import numpy as np
import pytest
from tests.build import draw, key, layer, project
from tests.edits.arrangements_desk import arranged, row

from young_comet.core.model import Arrangement, Property, Stand, Step
from young_comet.core.model.arrangements import holds_of, index_at
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.resolve.arranged import courses_of
from young_comet.core.resolve.arrangement_way import arc_handles
from young_comet.core.resolve.tracks import names_of


def at(document, layer_id, name, time_s):
    evaluator = SceneEvaluator(document, "reveal")
    return evaluator.values(evaluator.find(layer_id), time_s)(name)


def shown(document, time_s):
    return {each.id: each for each in SceneEvaluator(document, "reveal").at(time_s).layers}


def two(a, b, step=None, own=None, hold_s=1.0, **more):
    """A box of which two arrangements say something each."""
    box = layer("box", "shape", shape__size=[20, 20], **(own or {}))
    stands = [Stand(layer="box", values=values) for values in (a, b)]
    arrangements = (
        Arrangement(id="a", name="A", hold_s=hold_s, step=step or Step(length_s=1.0, easing="linear"),
                    stands=(stands[0],)),
        Arrangement(id="b", name="B", stands=(stands[1],)),
    )  # fmt: skip
    return project(box, arrangements=arrangements, **more)


def test_holds_follow_one_another_and_the_last_stays_until_the_end():
    scene = arranged().scenes[0]
    assert holds_of(scene) == [(0, 1.0), (1.4, 2.0), (pytest.approx(2.6), 4.0)]
    assert [index_at(scene, t) for t in (0, 1.1, 1.3, 2.0, 2.5, 9)] == [0, 0, 1, 1, 2, 2]


def test_what_an_arrangement_says_is_there_while_it_holds_and_mixes_between():
    document = two({"position": (10, 20), "fill.colour": "#000000"},
                   {"position": (110, 60), "fill.colour": "#ffffff"})  # fmt: skip
    assert [at(document, "box", "position", t) for t in (0, 1.0)] == [(10, 20), (10, 20)]
    assert at(document, "box", "position", 1.25) == pytest.approx((35, 30))
    assert at(document, "box", "position", 2.0) == at(document, "box", "position", 3.9) == (110, 60)
    assert at(document, "box", "fill.colour", 1.5)[0] == pytest.approx(0.5, abs=0.01)


def test_what_it_does_not_say_is_the_layers_own():
    document = two({}, {"rotation": 90.0}, own={"position": [33, 44], "rotation": 10.0})
    assert at(document, "box", "position", 3.0) == (33, 44)
    assert at(document, "box", "rotation", 0.5) == 10
    assert at(document, "box", "rotation", 1.5) == pytest.approx(50)


def test_the_way_is_eased_as_the_step_says():
    from young_comet.core.timing import parse_easing

    document = two({"rotation": 0.0}, {"rotation": 100.0}, Step(length_s=0.8, easing="back-out"))
    easing = parse_easing("back-out")
    for share in (0.1, 0.3, 0.5, 0.9):
        expected = 100 * easing.at(share, 0.8)
        assert at(document, "box", "rotation", 1.0 + 0.8 * share) == pytest.approx(expected)


@pytest.mark.parametrize("bend", [0.2, 0.5, 1.0, -0.7])
def test_an_arc_is_one_of_a_circle_as_high_as_it_says(bend):
    a, b = (40.0, 120.0), (240.0, 60.0)
    step = Step(length_s=1.0, easing="linear", path="arc", bend=bend)
    document = two({"position": a}, {"position": b}, step)
    points = [complex(*at(document, "box", "position", 1.0 + t)) for t in np.linspace(0, 1, 21)]
    # The circle through the ends and the point above the middle of the way.
    way = complex(*b) - complex(*a)
    top = (complex(*a) + complex(*b)) / 2 + way / abs(way) * complex(0, -1) * bend * abs(way) / 2
    assert abs(points[10] - top) < 0.03 * abs(way)
    height = abs(bend) * abs(way) / 2
    radius = (height**2 + (abs(way) / 2) ** 2) / (2 * height)
    centre = (
        top
        + (complex(*a) + complex(*b) - 2 * top) / abs(complex(*a) + complex(*b) - 2 * top) * radius
    )
    assert all(abs(abs(point - centre) / radius - 1) < 0.02 for point in points)
    steps = [abs(q - p) for p, q in itertools.pairwise(points)]
    assert max(steps) / min(steps) < 1.01  # at one speed


def test_no_way_has_no_arc():
    assert arc_handles((5.0, 5.0), (5.0, 5.0), 1.0) is None


def test_a_drawn_path_is_turned_and_scaled_onto_the_way():
    # A quarter of a circle of radius 10, then the way is twice as long as its chord, turned by 90.
    path = "M10 0 C10 5.5228 5.5228 10 0 10"
    step = Step(length_s=1.0, easing="linear", path="drawn", along="rail")
    rail = layer("rail", "shape", shape__kind="path", shape__path=path)
    box = layer("box", "shape", shape__size=[20, 20])
    ends = (100.0, 50.0), (120.0, 70.0)
    arrangements = (
        Arrangement(id="a", name="A", step=step, stands=(Stand(layer="box", values={"position": ends[0]}),)),
        Arrangement(id="b", name="B", stands=(Stand(layer="box", values={"position": ends[1]}),)),
    )  # fmt: skip
    document = project(rail, box, arrangements=arrangements)
    turn = complex(20, 20) / complex(-10, 10)
    for share in (0.0, 0.3, 0.5, 0.8, 1.0):
        expected = complex(100, 50) + (cmath.rect(10, share * math.pi / 2) - 10) * turn
        x, y = at(document, "box", "position", 1.0 + share)
        assert abs(complex(x, y) - expected) < 0.05


@pytest.mark.parametrize("path", ["", "M0 0 L10 0 L10 10 Z", "M5 5 L5 5"])
def test_a_path_that_leads_nowhere_is_a_straight_way(path):
    rail = layer("rail", "shape", shape__kind="path", shape__path=path or "M0 0")
    step = Step(length_s=1.0, easing="linear", path="drawn", along="rail")
    box = layer("box", "shape", shape__size=[20, 20])
    arrangements = (
        Arrangement(id="a", name="A", step=step, stands=(Stand(layer="box", values={"position": (0, 0)}),)),
        Arrangement(id="b", name="B", stands=(Stand(layer="box", values={"position": (100, 0)}),)),
    )  # fmt: skip
    document = project(rail, box, arrangements=arrangements)
    assert at(document, "box", "position", 1.5) == pytest.approx((50, 0))


@pytest.mark.parametrize(("order", "expected"), [
    ("lowest", "abc"), ("highest", "cba"), ("rightwards", "bca"), ("leftwards", "acb"),
    ("downwards", "cab"), ("upwards", "bac"), ("outwards", "acb"), ("inwards", "bca"),
])  # fmt: skip
def test_layers_begin_one_after_another_in_the_order(order, expected):
    places = {"a": (200, 90), "b": (10, 160), "c": (130, 10)}
    layers = [layer(i, "shape", position=list(p)) for i, p in places.items()]
    step = Step(length_s=1.0, easing="linear", stagger_pct=50, order=order)
    turned = tuple(Stand(layer=i, values={"rotation": 90.0}) for i in places)
    arrangements = (
        Arrangement(id="one", name="One", step=step),
        Arrangement(id="two", name="Two", stands=turned),
    )
    scene = project(*layers, layer("still", "shape"), arrangements=arrangements).scenes[0]
    courses = courses_of(scene, names_of(project()))
    starts = {i: courses[i].properties["rotation"].keys[0].time_s for i in places}
    assert "".join(sorted(places, key=starts.get)) == expected
    assert sorted(starts.values()) == [1.0, 1.25, 1.5]
    ends = {courses[i].properties["rotation"].keys[1].time_s for i in places}
    assert sorted(ends) == [1.5, 1.75, 2.0]


def test_shuffled_is_the_same_every_time_and_not_the_order_of_the_stack():
    layers = [layer(f"l{i}", "shape") for i in range(12)]
    step = Step(length_s=1.0, stagger_pct=50, order="shuffled")
    turned = tuple(Stand(layer=la.id, values={"rotation": 90.0}) for la in layers)
    arrangements = (
        Arrangement(id="one", name="One", step=step),
        Arrangement(id="two", name="Two", stands=turned),
    )
    orders = []
    for _ in range(2):
        scene = project(*layers, arrangements=arrangements).scenes[0]
        courses = courses_of(scene, names_of(project()))
        orders.append([courses[la.id].properties["rotation"].keys[0].time_s for la in layers])
    assert orders[0] == orders[1] and sorted(orders[0]) != orders[0]


def test_what_is_not_there_is_off_and_comes_and_goes_by_the_moves_of_the_steps():
    document = arranged()
    assert "name" in shown(document, 2.1) and "name" not in shown(document, 2.7)
    assert {"bow", "left"} <= set(shown(document, 0.5))
    assert "bow" not in shown(document, 1.7) and "bow" in shown(document, 3)
    # In the middle of a fade by its own easing, half of it.
    halves = [shown(document, t)["bow"].opacity for t in (1.1, 1.2, 1.3)]
    assert halves[0] > halves[1] > halves[2] > 0
    assert shown(document, 2.3)["bow"].opacity == pytest.approx(halves[1], abs=0.02)
    assert "bow" not in shown(document, 0.1)  # its own span counts still


def test_it_goes_where_it_was_and_comes_where_it_will_be():
    box = layer("box", "shape", shape__size=[20, 20], position=[10, 10])
    stands = (
        [Stand(layer="box", values={"position": (50, 50)})],
        [Stand(layer="box", there=False)],
        [Stand(layer="box", values={"position": (200, 100)})],
    )
    document = project(box, arrangements=row(*stands))
    places = [next(shown(document, t)["box"].matrix(p) for p in [(0, 0)]) for t in (0.5, 1.3)]
    assert places == [(50, 50), (50, 50)]
    assert {shown(document, t)["box"].matrix((0, 0)) for t in (2.1, 2.55, 3.5)} == {(200, 100)}


def test_keys_of_the_layer_take_over_or_are_added():
    keys = [key(0, [100, 50]), key(2, [140, 50])]
    document = two({"position": (10, 20)}, {"position": (110, 20)}, own={"position": keys})
    assert at(document, "box", "position", 1.0) == (120, 50)
    scene = document.scenes[0]
    box = scene.layers[0]
    own = box.properties["position"].model_copy(update={"adds": True})
    box = box.model_copy(update={"properties": {**box.properties, "position": own}})
    document = document.model_copy(
        update={"scenes": (scene.model_copy(update={"layers": (box,)}),)}
    )
    # What they have changed since the first of them comes on top.
    assert at(document, "box", "position", 0.5) == pytest.approx((20, 20))
    assert at(document, "box", "position", 1.5) == pytest.approx((60 + 30, 20))
    assert at(document, "box", "position", 3.5) == pytest.approx((150, 20))


def test_expressions_and_moves_go_on_from_it():
    document = two({"rotation": 10.0}, {"rotation": 50.0})
    scene = document.scenes[0]
    box = scene.layers[0]
    own = {"rotation": Property(value=0.0, expression="keyed + 5"),
           "opacity": Property(value=100.0, expression='begins("B") * 10 + ends("A")')}  # fmt: skip
    box = box.model_copy(update={"properties": {**box.properties, **own}})
    document = document.model_copy(
        update={"scenes": (scene.model_copy(update={"layers": (box,)}),)}
    )
    assert [at(document, "box", "rotation", t) for t in (0.5, 1.5, 3)] == pytest.approx(
        [15, 35, 55]
    )
    assert at(document, "box", "opacity", 0) == 21


def test_an_unknown_arrangement_in_an_expression_is_a_fault_and_no_more():
    document = two({}, {}, own={"opacity": 40.0})
    scene = document.scenes[0]
    box = scene.layers[0]
    own = {"opacity": Property(value=40.0, expression='begins("Nowhere")')}
    box = box.model_copy(update={"properties": own})
    document = document.model_copy(
        update={"scenes": (scene.model_copy(update={"layers": (box,)}),)}
    )
    evaluator = SceneEvaluator(document, "reveal")
    assert evaluator.values(evaluator.find("box"), 0.0)("opacity") == 40
    assert "Nowhere" in evaluator.faults["box", "opacity"]


def test_a_text_changes_letter_by_letter_and_what_hangs_on_it_goes_along():
    name = layer("name", "text", text="Gust", text__size=40.0, position=[160, 90])
    plate = layer("plate", "shape", fit__layer="name", fit__margin=[8, 4], position=[160, 90])
    stands = ([], [Stand(layer="name", values={"text": "Gusts of wind"})], [])
    document = project(plate, name, arrangements=row(*stands))
    evaluator = SceneEvaluator(document, "reveal")

    def width(time_s):
        frame = evaluator.at(time_s)
        found = next(each for each in frame.layers if each.id == "plate")
        box = found.matrix.box(found.content.box(evaluator.texts))
        return box[2] - box[0]

    widths = [width(1.0 + 0.4 * s) for s in np.linspace(0, 1, 21)]
    assert widths[0] < widths[-1] and widths == sorted(widths)
    # The plate grows as the text does, without a jump.
    assert max(np.diff(widths)) < 0.16 * (widths[-1] - widths[0])
    one, other = (each for each in evaluator.at(1.2).layers if each.id == "name")
    assert (one.content.text, other.content.text) == ("Gust", "Gusts of wind")
    kept = [unit.place.opacity for unit in one.content.units]
    assert kept == [1, 1, 1, 1]  # all four letters travel


@pytest.mark.parametrize("across", ["block", "line", "word"])
def test_the_box_behind_a_text_grows_to_that_of_the_next(across):
    name = layer("name", "text", text="Gust", text__size=30.0, behind__across=across,
                 behind__colour="#00ff00", fill__on=False, position=[160, 90])  # fmt: skip
    stands = ([], [Stand(layer="name", values={"text": "Gusts of wind"})], [])
    document = project(name, arrangements=row(*stands))

    def wide(time_s):
        return float(draw(document, time_s)[..., 1].sum()) / 255

    areas = [wide(1.0 + 0.4 * share) for share in np.linspace(0, 1, 17)]
    assert areas[0] < 0.6 * areas[-1]
    assert min(np.diff(areas)) > -0.01 * areas[-1]
    assert max(np.diff(areas)) < 0.2 * (areas[-1] - areas[0])


def test_arrangements_with_no_layer_in_common():
    layers = [
        layer(f"l{n}", "shape", shape__size=[20, 20], position=[80 * n + 80, 90]) for n in range(3)
    ]
    stands = [
        [Stand(layer=la.id, there=False) for la in layers if la.id != f"l{n}"] for n in range(3)
    ]
    document = project(*layers, arrangements=row(*stands))
    assert [set(shown(document, t)) for t in (0.5, 1.7, 3.0)] == [{"l0"}, {"l1"}, {"l2"}]
    assert set(shown(document, 1.2)) == {"l0", "l1"} and set(shown(document, 2.3)) == {"l1", "l2"}


def test_numbers_count():
    name = layer("name", "text", text="Day 1", text__size=40.0)
    stands = ([], [Stand(layer="name", values={"text": "Day 5"})], [])
    document = project(
        name, arrangements=row(*stands, steps=[Step(length_s=0.4, easing="linear")] * 3)
    )
    (found,) = SceneEvaluator(document, "reveal").at(1.2).layers
    assert found.content.text == "Day 3"


def test_a_slot_wins_over_what_arrangements_say():
    from young_comet.core.resolve.bindings import Bindings

    document = two({"rotation": 10.0}, {"rotation": 50.0})
    evaluator = SceneEvaluator(document, "reveal")
    evaluator.bind(Bindings({("box", "rotation"): 77.0}))
    assert [evaluator.values(evaluator.find("box"), t)("rotation") for t in (0, 1.5, 3)] == [77] * 3


@pytest.mark.parametrize(
    "lengths", [(0.0, 0.0), (0.04, 0.0), (0.0, 0.04), (0.0, 0.6), (3600.0, 60.0)]
)
def test_holds_and_steps_of_no_length_or_beyond_the_scene(lengths):
    hold, step = lengths
    document = two({"rotation": 10.0}, {"rotation": 50.0}, Step(length_s=step), hold_s=hold)
    values = [at(document, "box", "rotation", t) for t in np.arange(0, 4, 0.04)]
    assert all(10 <= value <= 50 for value in values)
    assert values[-1] == (50 if hold < 4 else 10)
    assert np.isfinite(draw(document, 0.0)).all()


def test_arrangements_of_one_frame_each():
    frame = 0.04
    stands = tuple([Stand(layer="left", values={"rotation": 10.0 * n})] for n in range(3))
    row_ = row(*stands, holds=(frame, frame, frame), steps=[Step(length_s=0.0)] * 3)
    document = project(layer("left", "shape"), arrangements=row_)
    turned = [at(document, "left", "rotation", n * frame) for n in range(5)]
    assert turned == [0, 10, 20, 20, 20]


# No jumps

KINDS = ("shape", "text", "backdrop", "treatment", "carrier", "scene")


def random_pair(seed):
    """Two arrangements of layers of several kinds, every property that may differ at random."""
    rng = random.Random(seed)

    def place():
        return (rng.uniform(-40, 360), rng.uniform(-40, 220))

    def values(kind):
        found = {}
        if kind in ("shape", "text"):
            found = {
                "position": place(), "rotation": rng.uniform(-200, 200),
                "scale": (rng.uniform(20, 160), rng.uniform(20, 160)),
                "opacity": rng.uniform(20, 100),
                "fill.colour": f"#{rng.randrange(0x1000000):06x}",
            }  # fmt: skip
        if kind == "shape":
            found["shape.kind"] = rng.choice(["rectangle", "ellipse", "star"])
            found["shape.size"] = (rng.uniform(10, 90), rng.uniform(10, 90))
        if kind == "text":
            found["text"] = rng.choice(["Gust", "Hold on", "Let go", "Day 12", "Day 40", "wind"])
        if kind == "backdrop":
            found = {"fill.colour": f"#{rng.randrange(0x1000000):06x}"}
        return {k: v for k, v in found.items() if rng.random() < 0.7}

    layers = [layer("sky", "backdrop", fill__colour="#203040")]
    for n in range(rng.randint(1, 4)):
        kind = rng.choice(["shape", "text"])
        own = {"text": "Kite", "text__size": 30.0} if kind == "text" else {"shape__size": [40, 30]}
        layers.append(layer(f"l{n}", kind, position=list(place()), **own))
    step = Step(
        length_s=1.0, easing=rng.choice(["linear", "ease-in-out", "ease-out"]),
        stagger_pct=rng.choice([0, 30, 60]),
        order=rng.choice(["lowest", "rightwards", "outwards", "shuffled"]),
        path=rng.choice(["straight", "arc"]), bend=rng.uniform(-1, 1),
        appears=rng.choice(["fade", "grow", "lift"]), vanishes=rng.choice(["fade", "sink"]),
    )  # fmt: skip
    stands = [
        [
            Stand(layer=la.id, there=rng.random() < 0.8 or la.kind == "backdrop", values=values(la.kind))
            for la in layers
        ]
        for _ in range(2)
    ]  # fmt: skip
    arrangements = (
        Arrangement(id="a", name="A", hold_s=0.5, step=step, stands=tuple(stands[0])),
        Arrangement(id="b", name="B", stands=tuple(stands[1])),
    )
    return project(*layers, arrangements=arrangements)


@pytest.mark.parametrize("seed", range(100))
def test_a_hundred_random_pairs_have_no_jump(seed):
    """A jump shows as a change that does not become smaller with the time between two pictures."""
    document = random_pair(seed)
    evaluator = SceneEvaluator(document, "reveal")
    from tests.build import LIBRARY

    from young_comet.core.paint import Renderer

    renderer = Renderer(LIBRARY)

    def picture(time_s):
        return renderer.render(evaluator.at(time_s), 80, 45).astype(np.float32)

    def worst(times):
        pictures = [picture(t) for t in times]
        return [float(np.abs(b - a).mean()) for a, b in itertools.pairwise(pictures)]

    times = np.linspace(0.46, 1.54, 28)
    coarse = worst(times)
    at_worst = int(np.argmax(coarse))
    fine = worst(np.linspace(times[at_worst], times[at_worst + 1], 9))
    # An eighth of the time: a way at one speed makes an eighth of the change, a jump all of it.
    assert max(fine) <= max(0.45 * coarse[at_worst], 0.6), (coarse[at_worst], fine)
