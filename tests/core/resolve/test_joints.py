"""Where layers meet: when they cross, what they show then, what becomes what."""

import itertools

import numpy as np
import pytest
from tests.build import draw, key, layer, project

from young_comet.core.catalog import check_project
from young_comet.core.model import Effect, Move, Property, Transition
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.resolve.joints import meetings_of
from young_comet.core.resolve.pairs import pairs_of


def crossing(second, before="a", kind="cross-fade", length=1.0, **values):
    made = {f"transition.t.{k}": Property(value=v) for k, v in values.items()}
    held = (Transition(id="t", kind=kind, before=before, length_s=length),)
    properties = {**second.properties, **made}
    return second.model_copy(update={"transitions": held, "properties": properties})


def sails(**more):
    a = layer("a", "backdrop", 0, 2, fill__colour="#ff0000")
    b = layer("b", "backdrop", 2, 4, fill__colour="#0000ff")
    return a, crossing(b, **more)


def spans(document):
    return [(m.begin_s, m.end_s) for m in meetings_of(document.scenes[0])]


@pytest.mark.parametrize(("lies", "expected"), [
    ("centred", (1.5, 2.5)), ("before", (1.0, 2.0)), ("after", (2.0, 3.0)),
])  # fmt: skip
def test_it_lies_about_before_or_after_the_joint(lies, expected):
    document = project(*sails(lies=lies))
    assert spans(document) == [expected]
    red = [
        int(draw(document, t)[90, 160, 2]) for t in (expected[0], sum(expected) / 2, expected[1])
    ]
    assert red[0] == 255 and 100 < red[1] < 160 and red[2] == 0


def test_it_is_no_longer_than_its_layers_have_room_for():
    a, b = sails(length=60.0)
    assert spans(project(a, b)) == [(0.0, 4.0)]
    c = crossing(layer("c", "backdrop", 2.4, 4, fill__colour="#00ff00"), before="b", length=9.0)
    short = b.model_copy(update={"end_s": 2.4})
    (one, two) = spans(project(a, short, c))
    assert one == (0.0, pytest.approx(2.2)) and two == (pytest.approx(2.2), 4.0)  # half of b each
    both = project(a, short, c)
    for time_s in np.arange(0.0, 4.0, 0.04):
        assert len(SceneEvaluator(both, "reveal").at(float(time_s)).layers) >= 1


@pytest.mark.parametrize("change", [
    {"start_s": 2.5}, {"start_s": 1.5}, {"hidden": True},
])  # fmt: skip
def test_layers_that_do_not_meet_do_not_cross(change):
    a, b = sails()
    assert spans(project(a, b.model_copy(update=change))) == []


def test_switched_off_orphaned_and_frame_long_ones_do_nothing():
    a, b = sails()
    off = b.transitions[0].model_copy(update={"on": False})
    gone = b.transitions[0].model_copy(update={"before": None})
    tiny = b.transitions[0].model_copy(update={"length_s": 0.04})
    for held in (off, gone, tiny):
        document = project(a, b.model_copy(update={"transitions": (held,)}))
        assert spans(document) == []
        assert draw(document, 1.96)[90, 160, 2] == 255 and draw(document, 2.0)[90, 160, 0] == 255
    lonely = b.transitions[0].model_copy(update={"before": "nobody"})
    assert spans(project(a, b.model_copy(update={"transitions": (lonely,)}))) == []


def test_a_layer_gives_way_to_one_only():
    a, b = sails()
    twin = crossing(layer("twin", "backdrop", 2, 4, fill__colour="#00ff00"))
    document = project(a, b, twin)
    assert [(m.first.id, m.second.id) for m in meetings_of(document.scenes[0])] == [("a", "b")]


def test_keys_hold_beyond_the_span_and_what_gives_way_does_not_leave():
    kite = layer("a", "shape", 0, 2, shape__size=[40, 40], fill__colour="#ffffff",
                 position=[key(0, [20.0, 90.0]), key(1.9, [160.0, 90.0])]).model_copy(update={
        "leave_s": 0.8, "moves": (Move(id="m", kind="fade", phase="leave"),),
    })  # fmt: skip
    bow = layer("b", "shape", 2, 4, shape__size=[40, 40], fill__colour="#ffffff",
                position=[key(0, [160.0, 90.0]), key(1, [300.0, 90.0])]).model_copy(update={
        "arrive_s": 0.8, "moves": (Move(id="m", kind="fade", phase="arrive"),),
    })  # fmt: skip
    document = project(kite, crossing(bow), ground="#000000")
    for time_s in (1.92, 1.96, 2.0, 2.08):
        assert draw(document, time_s)[90, 160, 0] > 250  # both whole, at the same place
    (meeting,) = SceneEvaluator(document, "reveal").meetings
    assert not meeting.first.moves and not meeting.second.moves
    assert SceneEvaluator(project(kite, bow), "reveal").scene.layers[0].moves


def inner(id, *layers, length=4.0):
    return (
        project(*layers, ground=None)
        .scenes[0]
        .model_copy(update={"id": id, "name": id.title(), "length_s": length})
    )


def placed(*scenes, kind="cross-fade", length=1.0, cut=(0.0, 0.0), **more):
    """Two placed scenes of two seconds each, which begin at some second of theirs."""
    a = layer("a", "scene", 0, 2, scene__id=scenes[0].id, position=[160, 90], time__from=cut[0])
    b = layer("b", "scene", 2, 4, scene__id=scenes[1].id, position=[160, 90], time__from=cut[1])
    whole = project(a, crossing(b, kind=kind, length=length, **more), ground="#000000")
    return check_project(whole.model_copy(update={"scenes": (*whole.scenes, *scenes)}))


def clock(id, colour):
    """A bar that goes 40 px a second from 40."""
    return inner(id, layer(
        "bar", "shape", shape__size=[4, 180], fill__colour=colour,
        position=[key(0, [40.0, 90.0]), key(4, [200.0, 90.0])],
    ))  # fmt: skip


def test_scenes_play_on_as_far_as_they_go_and_then_hold():
    """Of the first, a second more is there behind its end; of the second, half a second before."""
    document = placed(
        clock("gust", "#ff0000"), clock("calm", "#0000ff"), cut=(0.5, 0.25), length=1.0
    )

    def places(time_s):
        row = draw(document, time_s)[90].astype(int)
        return [int(row[:, c].argmax()) if row[:, c].max() > 20 else None for c in (2, 0)]

    red, _ = places(1.52)
    assert red == pytest.approx(40 + 40 * (0.5 + 1.52), abs=3)
    red, blue = places(2.2)
    assert red == pytest.approx(40 + 40 * (0.5 + 2.2), abs=3)  # it has more and plays on
    assert blue == pytest.approx(40 + 40 * (0.25 + 0.2), abs=3)
    _, blue = places(1.88)
    assert blue == pytest.approx(40 + 40 * (0.25 - 0.12), abs=3)
    _, blue = places(1.6)
    assert blue == pytest.approx(40, abs=3)  # before its own beginning it stands


def test_pairs_are_found_by_link_name_source_and_text_each_once():
    one = inner(
        "one", layer("sky", "backdrop"), layer("k1", "picture", picture__asset="kite"),
        layer("t1", "text", text="Gullwing Bay"), layer("n1", "shape").model_copy(update={"name": "Sail"}),
        layer("c1", "shape").model_copy(update={"copy_of": "c2"}), layer("same", "shape"),
    )  # fmt: skip
    two = inner(
        "two", layer("dusk", "backdrop"), layer("k2", "picture", picture__asset="kite"),
        layer("t2", "text", text="GULLWING  bay"), layer("c2", "shape"),
        layer("n2", "shape").model_copy(update={"name": " sail "}),
        layer("n3", "shape").model_copy(update={"name": "Sail"}),
        layer("same", "text", text="other"),
    )  # fmt: skip
    found = pairs_of(one, two)
    assert found["k1"] == "k2" and found["t1"] == "t2" and found["n1"] == "n2"
    assert found["c1"] == "c2" and found["sky"] == "dusk"
    assert found["same"] == "same"  # a link: they have one id
    assert len(set(found.values())) == len(found)
    corrected = pairs_of(one, two, {"n1": "n3", "k1": "", "t1": "gone"})
    assert corrected["n1"] == "n3" and corrected.get("k1", "") == "" and "t1" not in corrected
    assert pairs_of(inner("x", layer("p", "shape")), inner("y", layer("q", "text", text="b"))) == {}


def test_what_is_matched_travels_and_never_jumps():
    """A kite of both scenes goes from the one place to the other; what has no counterpart has gone
    before the rest comes."""

    def scene_of(id, x, size, *more):
        kite = layer("kite", "shape", shape__size=[size, size], fill__colour="#ffffff",
                     position=[x, 60.0]).model_copy(update={"name": "Kite"})  # fmt: skip
        return inner(id, kite, *more)

    title = layer(
        "title", "shape", shape__size=[60, 20], position=[80, 150], fill__colour="#ff0000"
    )
    tag = layer("tag", "shape", shape__size=[60, 20], position=[80, 150], fill__colour="#00ff00")
    document = placed(scene_of("one", 60.0, 20.0, title), scene_of("two", 240.0, 60.0, tag),
                      kind="matched", length=1.0, easing="linear")  # fmt: skip
    ev = SceneEvaluator(document, "reveal")
    last = None
    for number in range(38, 62):
        pixels = draw(document, number / 25).astype(int)
        white = np.argwhere(pixels.min(2) > 200)
        middle = white.mean(0)
        if last is not None:
            assert np.hypot(*(middle - last)) < 12  # 180 px in 24 frames
        last = middle
    half = draw(document, 2.0)
    assert 140 < np.argwhere(half.min(2) > 200).mean(0)[1] < 160
    assert half[150, 80].tolist()[:3] == [0, 0, 0]  # neither tag nor title
    assert draw(document, 1.56)[150, 80, 2] > 150 and draw(document, 2.44)[150, 80, 1] > 150
    assert len(ev.at(2.0).layers) == 1
    # Corrected, the kite has no counterpart: it goes and comes.
    held = document.scenes[0].layers[1].transitions[0].model_copy(update={"pairs": (("kite", ""),)})
    layers = (document.scenes[0].layers[0],
              document.scenes[0].layers[1].model_copy(update={"transitions": (held,)}))  # fmt: skip
    scenes = (document.scenes[0].model_copy(update={"layers": layers}), *document.scenes[1:])
    apart = document.model_copy(update={"scenes": scenes})
    assert (draw(apart, 2.0).min(2) > 100).sum() == 0


def test_one_that_fails_is_a_mark_and_the_rest_goes_on():
    a, b = sails()
    lost = a.model_copy(update={"kind": "picture", "properties": {}})
    document = project(layer("sky", "backdrop", fill__colour="#204060"), lost, b)
    assert draw(document, 2.2).shape == (180, 320, 4)


def test_scenes_within_scenes_cross_within_and_without():
    found = placed(clock("gust", "#ff0000"), clock("calm", "#0000ff"))
    deep = found.scenes[0].model_copy(update={"id": "deep", "name": "Deep"})
    outer_a = layer("x", "scene", 0, 3.9, scene__id="deep", position=[160, 90])
    whole = project(outer_a, crossing(
        layer("y", "backdrop", 3.9, 4, fill__colour="#00ff00"), before="x", kind="wipe", length=0.2
    ))  # fmt: skip
    scenes = (*whole.scenes, deep, *found.scenes[1:])
    ev = SceneEvaluator(check_project(whole.model_copy(update={"scenes": scenes})), "reveal")
    assert len(ev.meetings) == 1
    for time_s in (1.6, 2.0, 3.8, 3.88, 3.96):
        assert ev.at(time_s).layers


def test_what_is_done_to_a_placed_scene_is_done_while_it_is_matched():
    """Both are blurred by the same effect: so is what lies between."""

    def scene_of(id, x):
        kite = layer("kite", "shape", shape__size=[40.0, 40.0], fill__colour="#ffffff",
                     position=[x, 90.0]).model_copy(update={"name": "Kite"})  # fmt: skip
        return inner(id, kite)

    document = placed(
        scene_of("one", 100.0), scene_of("two", 220.0), kind="matched", easing="linear"
    )
    sharp = draw(document, 2.0)
    blur = {"effect.e.size": Property(value=(8.0, 8.0))}
    layers = tuple(
        each.model_copy(update={
            "effects": (Effect(id="e", kind="gaussian-blur"),),
            "properties": {**each.properties, **blur},
        })
        for each in document.scenes[0].layers
    )  # fmt: skip
    scenes = (document.scenes[0].model_copy(update={"layers": layers}), *document.scenes[1:])
    soft = draw(document.model_copy(update={"scenes": scenes}), 2.0)
    edges = [np.abs(np.diff(each[90, :, 0].astype(int))).max() for each in (sharp, soft)]
    assert edges[0] > 100 and edges[1] < 30


def test_what_has_ended_does_not_come_back_to_cross():
    """A scene of one second in a layer of two, after which nothing is shown."""
    short = inner("gust", layer("bar", "backdrop", fill__colour="#ff0000"), length=1.0)
    document = placed(short, clock("calm", "#0000ff"))
    first = document.scenes[0].layers[0]
    first = first.model_copy(
        update={"properties": {**first.properties, "time.after": Property(value="end")}}
    )
    layers = (first, document.scenes[0].layers[1])
    scenes = (document.scenes[0].model_copy(update={"layers": layers}), *document.scenes[1:])
    document = check_project(document.model_copy(update={"scenes": scenes}))
    for time_s in (1.4, 1.64, 2.0, 2.2):
        assert draw(document, time_s)[..., 2].max() == 0


@pytest.mark.parametrize("kind", ["cross-fade", "wipe", "push"])
def test_layers_that_are_multiplied_are_so_while_they_cross(kind):
    """Two of one colour and place: nothing is to be seen of their crossing."""
    ground = layer("g", "backdrop", 0, 4, fill__colour="#c0a080")
    same = {"fill__colour": "#8090ff", "blend": "multiply"}
    a, b = layer("a", "backdrop", 0, 2, **same), layer("b", "backdrop", 2, 4, **same)
    document = project(ground, a, crossing(b, kind=kind))
    before = draw(document, 1.0).astype(int)
    for time_s in (1.52, 1.8, 2.0, 2.3):
        assert np.abs(draw(document, time_s) - before).max() <= 2


@pytest.mark.parametrize("looked_at", ["a", "b"])
def test_a_transition_may_look_at_its_own_layers_and_does_not_jump_at_the_joint(looked_at):
    graded = {"fill__kind": "linear", "fill__start": [0, 50], "fill__end": [100, 50]}
    a = layer("a", "backdrop", 0, 2, fill__stops=[[0, "#000000"], [1, "#ffffff"]], **graded)
    b = layer("b", "backdrop", 2, 4, fill__stops=[[0, "#ffffff"], [1, "#000000"]], **graded)
    document = project(a, crossing(b, kind="by-picture", order=looked_at, softness=30.0))
    frames = [draw(document, 1.6 + n / 25).astype(int) for n in range(20)]
    steps = [np.abs(q - p).mean() for p, q in itertools.pairwise(frames)]
    assert max(steps) < 3 * (sum(steps) / len(steps))


def test_counterparts_that_are_kept_are_those_of_the_scenes_asked_for():
    one, two = inner("one", layer("p", "shape")), inner("two", layer("q", "shape"))
    named = two.model_copy(update={"layers": (two.layers[0].model_copy(update={"name": "P"}),)})
    assert pairs_of(one, two) == {} and pairs_of(one, named) == {"p": "q"}
    pairs_of(one, named)["p"] = "gone"  # what was given out may be written on
    assert pairs_of(one, named) == {"p": "q"} and pairs_of(one, named, {"p": ""}) == {}
