"""Slots as bindings: held against documents in which the values stand themselves."""

import itertools

import pytest
from tests.build import key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Ink, Property, Slot
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.resolve.bindings import NOTHING_BOUND, Bindings, bindings_of

SLOTS = (
    Slot(id="size", name="Size", layer="bar", property="shape.size"),
    Slot(id="word", name="Word", layer="word", property="text"),
    Slot(id="colour", name="Colour", layer="word", property="fill.colour"),
    Slot(id="turn", name="Turn", layer="bar", property="rotation"),
    Slot(id="ink", name="Ink", ink="ember"),
    Slot(id="gone", name="Gone", layer="nobody", property="text"),
)


def inner_layers():
    bar = layer("bar", "shape", shape__size=[100, 40], fill__colour="ink:ember", position=[160, 90],
                rotation=[key(0, 0.0), key(3, 90.0)])  # fmt: skip
    word = layer("word", "text", text="Gull", position=[160, 140], fill__colour="ink:sand")
    rider = layer("rider", "shape", shape__size=[9, 9], position=[10, 0], fill__colour="#224466")
    return bar, word, rider.model_copy(update={"rides": "bar"})


def document(*placed, layers=None):
    """Scenes "reveal" (outer) and "tag" with its slots; "deep" lies within "tag"."""
    deep = layer("dot", "shape", shape__size=[20, 20], fill__colour="ink:ember")
    layers = layers or inner_layers()
    base = project(*layers, layer("deep", "scene", scene__id="deep", position=[20, 20]))
    tag = base.scenes[0].model_copy(update={"id": "tag", "name": "Tag", "slots": SLOTS})
    outer = base.scenes[0].model_copy(update={"layers": placed})
    inmost = base.scenes[0].model_copy(update={"id": "deep", "name": "Deep", "layers": (deep,)})
    inks = (
        Ink(id="ember", name="Ember", colour="#ff0000"),
        Ink(id="sand", name="Sand", colour="#eeddaa"),
    )
    return check_project(base.model_copy(update={"scenes": (outer, tag, inmost), "inks": inks}))


def place(id="placed", slots=None, **values):
    """The scene placed by its middle in the middle, as it is within."""
    placed = layer(id, "scene", scene__id="tag", position=[160, 90], **values)
    return placed.model_copy(update={"slots": slots or {}})


def within(project, time_s, number=0):
    """What is drawn of the inner scene at a time."""
    frame = SceneEvaluator(project, "reveal").at(time_s)
    return frame.layers[number].content.frame


def written(time_s, **values):
    """The inner scene of a document in which values stand themselves, in place of keys."""
    layers = []
    for each in inner_layers():
        own = {
            name.split("/")[1]: value
            for name, value in values.items()
            if name.split("/")[0] == each.id
        }
        properties = {
            **each.properties,
            **{name: Property(value=value) for name, value in own.items()},
        }
        layers.append(each.model_copy(update={"properties": properties}))
    return within(document(place(), layers=layers), time_s)


FILLS = [
    {"size": [60, 60]},
    {"word": "Kite"},
    {"colour": "#102030"},
    {"colour": "ink:ember"},
    {"turn": 45},
    {"size": [1, 500], "word": "", "turn": -720},
]
MEANS = {
    "size": "bar/shape.size",
    "word": "word/text",
    "colour": "word/fill.colour",
    "turn": "bar/rotation",
}


@pytest.mark.parametrize("fill", FILLS, ids=str)
@pytest.mark.parametrize("time_s", [0.0, 1.4, 3.96])
def test_what_is_bound_is_as_if_it_stood_there(fill, time_s):
    bound = within(document(place(slots=fill)), time_s)
    assert bound == written(time_s, **{MEANS[slot]: value for slot, value in fill.items()})


def test_every_pair_of_fills_beside_each_other():
    for first, second in itertools.combinations(FILLS, 2):
        both = document(place("a", first), place("b", second))
        for number, fill in enumerate((first, second)):
            values = {MEANS[slot]: value for slot, value in fill.items()}
            assert within(both, 1.0, number) == written(1.0, **values), (first, second)


@pytest.mark.parametrize(("value", "colour"), [("#00ff00", (0, 1, 0, 1)), ("ink:sand", None)])
def test_an_ink_that_is_bound_is_so_in_all_that_lies_within(value, colour):
    colour = colour or tuple(part / 255 for part in (0xEE, 0xDD, 0xAA, 255))
    frame = within(document(place(slots={"ink": value})), 0.0)
    bar = next(each for each in frame.layers if each.id == "bar")
    dot = next(each for each in frame.layers if each.id == "deep").content.frame.layers[0]
    for each in (bar, dot):
        assert each.content.surface.fill == pytest.approx(colour)
    # The document's own ink stays what it is beside it.
    plain = within(document(place(slots={"ink": value}), place("other")), 0.0, 1)
    bar = next(each for each in plain.layers if each.id == "bar")
    assert bar.content.surface.fill == (1, 0, 0, 1)


def animated(*values):
    placed = place(**{"slot.turn": [key(s, v) for s, v in values]})
    return placed.model_copy(update={"slot_specs": {"turn": "layer/shape/rotation"}})


def test_slots_that_change_are_bound_at_each_moment_and_the_rest_stays_known():
    whole = document(animated((0, 0.0), (3, 300.0)))
    evaluator = SceneEvaluator(whole, "reveal")
    first = evaluator.at(0.5).layers[0].content.frame
    (inner,) = evaluator._inner.values()
    known = inner._known["word"][1]
    for time_s in (1.0, 2.5, 0.5):
        frame = evaluator.at(time_s).layers[0].content.frame
        assert frame == written(time_s, **{"bar/rotation": 100 * time_s})
    assert frame == first
    (still,) = evaluator._inner.values()
    assert still is inner and inner._known["word"][1] is known


def test_moments_between_frames_have_values_of_their_own():
    """Motion blur asks for several moments of one frame: each is bound anew."""
    placed = animated((0, 0.0), (3, 300.0))
    evaluator = SceneEvaluator(document(placed), "reveal")
    found = evaluator.find("placed")
    contents = [evaluator.layer(found, time_s).content.frame for time_s in (1.0, 1.01, 1.0)]
    assert contents[0] == contents[2] != contents[1]


def test_nothing_filled_leaves_the_scene_as_it_is():
    whole = document(place())
    tag = whole.scenes[1]
    assert bindings_of(whole, tag, {}) == NOTHING_BOUND
    assert NOTHING_BOUND.scene(tag) is tag
    assert bindings_of(whole, tag, {"gone": "x", "unknown": 3}) == NOTHING_BOUND


def test_what_does_not_fit_is_left_out():
    whole = document(place())
    found = bindings_of(whole, whole.scenes[1], {"size": "wide", "word": "Kite"})
    assert dict(found.values) == {("word", "text"): "Kite"}


def test_bound_keys_of_the_scene_give_way_to_the_value():
    whole = document(place(slots={"turn": 45}))
    evaluator = SceneEvaluator(whole, "tag")
    evaluator.bind(Bindings({("bar", "rotation"): 45.0}))
    bar = evaluator.find("bar")
    assert evaluator.values(bar, 1.5)("rotation") == 45 and evaluator.track(bar, "rotation") is None
    evaluator.bind(NOTHING_BOUND)
    assert evaluator.values(evaluator.find("bar"), 1.5)("rotation") == pytest.approx(45)
    assert evaluator.values(evaluator.find("bar"), 3.0)("rotation") == pytest.approx(90)
