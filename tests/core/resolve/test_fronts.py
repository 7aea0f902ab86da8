"""Fronts: what they have passed is exactly the text at rest, what they have not is displaced."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import draw, key, layer, project
from tests.edits.test_edits import applied

from young_comet.core.catalog import FRONTS, READY_FRONTS, check_project
from young_comet.core.frame.units import UnitPlace
from young_comet.core.model import Front, Property, Shutter
from young_comet.core.moves import MOVES
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.timing import parse_easing
from young_comet.core.timing.spread import settled
from young_comet.errors import DocumentError

DISPLACED = {
    "offset": (14.0, -30.0), "scale": (60.0, -40.0), "rotation": 30.0, "skew": (20.0, 5.0),
    "tilt": 50.0, "turn": 60.0, "opacity": -70.0, "blur": 5.0, "fill": -80.0, "tint": 90.0,
    "outline": 3.0, "size": 40.0, "weight": -500.0, "width-axis": -35.0, "slant": 20.0,
    "tracking": 300.0, "raised": 40.0, "others": 100.0,
    "wiped": 80.0, "undrawn": 60.0, "apart": (14.0, 3.0), "way": "M-40 -30 C-20 30 -10 20 0 0",
}  # fmt: skip


def titled(*fronts, words="Kite Wind", **more):
    """A scene with a text that wears fronts, given as their properties."""
    values = {
        "text": words, "text__font": "archivo", "text__size": 44.0, "position": [160.0, 90.0],
        "fill__colour": "#ffffff", "stroke__width": 1.0, **more,
    }  # fmt: skip
    made = layer("title", "text", **values)
    properties = dict(made.properties)
    for number, front in enumerate(fronts):
        for name, value in front.items():
            prop = value if isinstance(value, Property) else Property(value=value)
            properties[f"front.f{number}.{name}"] = prop
    worn = tuple(Front(id=f"f{n}") for n in range(len(fronts)))
    return check_project(
        project(made.model_copy(update={"fronts": worn, "properties": properties}))
    )


def content(document, time_s=0.5):
    evaluator = SceneEvaluator(document, "reveal")
    return evaluator.layer(evaluator.find("title"), time_s).content


@pytest.mark.parametrize("name", DISPLACED)
@pytest.mark.parametrize("by", ["letters", "words", "lines", "runs"])
def test_at_progress_1_a_text_is_exactly_as_at_rest_and_displaced_before(name, by):
    front = {"by": by, name: DISPLACED[name], "width": 2.0}
    rest = draw(titled())
    assert np.array_equal(draw(titled({**front, "progress": 100.0})), rest)
    assert not np.array_equal(draw(titled({**front, "progress": 0.0})), rest)
    assert not np.array_equal(draw(titled({**front, "progress": 40.0})), rest)
    one = content(titled({**front, "progress": 100.0}))
    assert one == content(titled())


SIDED = ("offset", "rotation", "skew", "tilt", "turn", "apart", "way")


@pytest.mark.parametrize("name", DISPLACED)
@pytest.mark.parametrize("pivot", ["middle", "left", "bottom", "block"])
def test_opposite_sides_turn_what_has_a_side_and_nothing_else(name, pivot):
    front = {name: DISPLACED[name], "pivot": pivot, "width": 2.0, "progress": 30.0}
    one, other = (draw(titled({**front, "opposite": which})) for which in (False, True))
    assert np.array_equal(one, other) == (name not in SIDED)
    there = draw(titled({**front, "opposite": True, "progress": 100.0}))
    assert np.array_equal(there, draw(titled()))


@pytest.mark.parametrize("name", DISPLACED)
def test_chance_is_for_what_has_a_side_and_nothing_else(name):
    front = {name: DISPLACED[name], "width": 2.0, "progress": 30.0}
    one, other = (draw(titled({**front, "chance": by})) for by in (0.0, 100.0))
    assert np.array_equal(one, other) == (name not in SIDED)
    there = draw(titled({**front, "chance": 100.0, "progress": 100.0}))
    assert np.array_equal(there, draw(titled()))


def test_by_chance_each_letter_goes_its_own_way_as_far_as_said():
    words = "Gullwing Bay Kite Week " * 12
    front = {"offset": (100.0, -60.0), "rotation": 40.0, "progress": 0.0}

    def places(**more):
        return [unit.place for unit in content(titled({**front, **more}, words=words)).units]

    whole = places(chance=100.0)
    for name, most in (("dx", 100), ("dy", 60), ("rotation_deg", 40)):
        ways = np.array([getattr(place, name) for place in whole]) / most
        assert np.abs(ways).max() <= 1 and np.abs(ways).max() > 0.9
        # As even as chance is: mean and deviation of an even distribution over -1..1.
        assert ways.mean() == pytest.approx(0, abs=3 * 0.577 / len(ways) ** 0.5)
        assert ways.std() == pytest.approx(3**-0.5, abs=0.06)
    across, down = (np.array([getattr(place, name) for place in whole]) for name in ("dx", "dy"))
    assert abs(np.corrcoef(across, down)[0, 1]) < 0.2, "x tells nothing of y"
    assert places(chance=100.0) == whole and places(chance=100.0, seed=2.0) != whole
    for half, full in zip(places(chance=50.0), whole, strict=True):
        assert half.dx == pytest.approx((100 + full.dx) / 2)


@pytest.mark.parametrize("progress", [0.0, 20.0, 50.0, 80.0])
def test_what_flickers_is_displaced_or_at_rest_by_chance(progress):
    words = "Gullwing Bay Kite Week " * 8
    front = {"offset": (0.0, -50.0), "width": 1000.0, "profile": "linear", "flicker": 10.0,
             "progress": progress}  # fmt: skip
    still = {
        u.first: u.place for u in content(titled({**front, "flicker": 0.0}, words=words)).units
    }
    document, there, seen, near = titled(front, words=words), 0, [], 0.0
    for step in range(12):
        found = {u.first: u.place for u in content(document, 0.1 * step + 0.02).units}
        assert all(still[first] == place for first, place in found.items())
        later = content(document, 0.1 * step + 0.09).units
        assert {u.first for u in later} == set(found), "ten times a second, not oftener"
        seen.append(set(found))
        there += len(still) - len(found)
        near += sum((1 + place.dy / 50) ** 0.8 for place in still.values())
    assert there == pytest.approx(near, abs=3 * (12 * len(still) / 4) ** 0.5)
    assert len({frozenset(each) for each in seen}) == (1 if progress == 0 else 12)


def test_every_displaced_property_is_tried():
    specs = {spec.id for spec in FRONTS.declared("front")}
    spread = {
        "progress",
        "box",  # by itself, below
        "by",
        "width",
        "order",
        "seed",
        "profile",
        "pivot",
        "colour",
        "seen",
        "path",
    }
    spread |= {"wipe", "wipe-angle", "wipe-soft"}
    spread |= {"opposite", "cursor"}  # with what opens into them, below
    spread |= {"chance", "flicker"}  # above
    assert specs == {*DISPLACED, "box"} | spread


@pytest.mark.parametrize("order", ["forward", "back", "outwards", "inwards", "shuffled"])
def test_how_far_each_letter_is_follows_the_spread(order):
    """Against the spread's own formula, letter by letter."""
    from young_comet.core.timing.spread import ranks

    words = "Gullwing"
    front = {"offset": (0.0, -100.0), "progress": 45.0, "width": 3.0, "order": order, "seed": 4.0,
             "profile": "ease-in-out"}  # fmt: skip
    units = {unit.first: unit for unit in content(titled(front, words=words)).units}
    at = ranks(len(words), order, 4)
    profile = parse_easing("ease-in-out")
    for index in range(len(words)):
        away = 1 - settled(0.45, at[index], len(words), 3.0, profile)
        dy = units[index].place.dy if index in units else 0.0
        assert dy == pytest.approx(-100 * away), index


def test_fronts_add_up_and_one_may_run_back():
    one = {"offset": (10.0, 0.0), "rotation": 8.0, "progress": 0.0}
    other = {"offset": (5.0, 7.0), "opacity": -50.0, "progress": 0.0, "order": "back"}
    (first, *_) = content(titled(one, other)).units
    assert (first.place.dx, first.place.dy, first.place.rotation_deg) == (15.0, 7.0, 8.0)
    assert first.place.opacity == pytest.approx(0.5)


def test_letters_go_along_with_their_words():
    """A letter in its word in its line: maps of maps, against one front by words alone."""
    whole = {"by": "words", "rotation": 90.0, "progress": 0.0}
    letters = {"offset": (0.0, -1e-6), "progress": 0.0}
    apart = draw(titled(whole, letters))
    together = draw(titled(whole))
    near = np.abs(apart.astype(int) - together.astype(int))
    assert (near > 48).mean() < 0.004, "letters drawn one by one meet as one word does"
    units = content(titled(whole, letters)).units
    assert {(u.within[0].first, u.within[0].last) for u in units} == {(0, 4), (5, 9)}


@pytest.mark.parametrize(
    ("pivot", "about"), [("word", 2), ("line", 2), ("block", 2), ("baseline", 8)]
)
def test_a_pivot_is_shared_by_what_it_is_the_middle_of(pivot, about):
    units = content(titled({"rotation": 45.0, "progress": 0.0, "pivot": pivot})).units
    points = {tuple(round(v, 3) for v in unit.about) for unit in units}
    assert len(points) == {"word": 2, "line": 1, "block": 1, "baseline": 8}[pivot]


def test_letters_that_change_their_weight_make_room_and_keep_their_kerning():
    """Set with all letters lighter, a text is as wide as in that weight, but for its kerning, which
    stays that of the text at rest."""
    evaluator = SceneEvaluator(titled(words="AVATAR"), "reveal")
    width = {}
    for name, front, weight in (
        ("varied", ({"weight": -300.0, "progress": 0.0},), 600.0),
        ("light", (), 300.0),
        ("rest", (), 600.0),
    ):
        document = titled(*front, words="AVATAR", text__weight=weight)
        evaluator = SceneEvaluator(document, "reveal")
        made = evaluator.layer(evaluator.find("title"), 0.0).content
        width[name] = evaluator.set_text(made).width
    assert width["varied"] < width["rest"] - 3
    assert width["varied"] == pytest.approx(width["light"], rel=0.02)


def test_a_front_moves_without_a_jump_from_frame_to_frame():
    """The place of each letter is continuous in its progress, kerning and all."""
    before = None
    for step in range(0, 201):
        document = titled({"weight": -400.0, "width": 3.0, "progress": step / 2}, words="AVATAR To")
        evaluator = SceneEvaluator(document, "reveal")
        made = evaluator.layer(evaluator.find("title"), 0.0).content
        places = [g.x for g in evaluator.set_text(made).glyphs]
        if before is not None:
            assert max(abs(a - b) for a, b in zip(before, places, strict=True)) < 1.2, step
        before = places


@pytest.mark.parametrize("ready", READY_FRONTS)
@pytest.mark.parametrize(
    "more",
    [
        {}, {"text": ""}, {"text": " \n "}, {"text": "x"}, {"text__size": 1.0},
        {"text": "Kite\nשלום e\u0301\nWind"}, {"scale": [0.0, 0.0]}, {"position": [-400.0, 90.0]},
        {"text__path": "M20 90 C90 20 200 160 300 90"}, {"tilt": 60.0},
        {"text__box": "box", "text__box-size": [120.0, 60.0]}, {"slices__kind": "strips"},
    ],
)  # fmt: skip
def test_every_ready_front_on_every_text_comes_to_rest(ready, more):
    """Empty, tiny, mixed, without size, beside the frame, on a path, in a box, sliced: it is drawn at
    every moment, and when the front has passed all is at rest. Undone, there is no trace of it."""
    document = titled(**more)
    data = {
        "kind": "wear-front",
        "scene": "reveal",
        "layers": ["title"],
        "ready": ready,
        "id": "new",
    }
    result = applied(document, data)
    worn = check_project(result.project)
    for time_s in (0.0, 0.1, 0.4):
        assert draw(worn, time_s=time_s).shape == (180, 320, 4)
    own = {name.replace(".", "__"): value for name, value in READY_FRONTS[ready].text.items()}
    at_rest = titled(**{**own, **more})
    assert np.array_equal(draw(worn, time_s=3.5), draw(at_rest, time_s=3.5))


def test_motion_blur_goes_along_with_letters():
    offset = {"offset": (0.0, -120.0), "progress": Property(keys=(key(0, 0.0), key(1, 100.0)))}
    document = titled(offset)
    scene = document.scenes[0].model_copy(update={"shutter": Shutter(on=True, angle_deg=360.0)})
    blurred = document.model_copy(update={"scenes": (scene,)})
    sharp, soft = (draw(d, time_s=0.4)[..., 1].astype(int) for d in (document, blurred))
    assert (np.abs(soft - sharp) > 20).sum() > 100


def test_a_front_that_is_off_does_nothing_and_only_texts_wear_them():
    document = titled({"offset": (0.0, -50.0), "progress": 0.0})
    (made,) = document.scenes[0].layers
    off = made.model_copy(update={"fronts": (Front(id="f0", on=False),)})
    scene = document.scenes[0].model_copy(update={"layers": (off,)})
    assert content(document.model_copy(update={"scenes": (scene,)})) == content(titled())
    with pytest.raises(Exception, match="text"):
        applied(project(layer("kite", "shape")), {
            "kind": "wear-front", "scene": "reveal", "layers": ["kite"], "ready": "rise"})  # fmt: skip
    with pytest.raises(Exception, match="one of"):
        applied(
            titled(), {"kind": "wear-front", "scene": "reveal", "layers": ["title"], "ready": "x"}
        )


OPENED = [kind.id for kind in MOVES.values() if not kind.dwells and "text" in kind.fits]


@pytest.mark.parametrize("phase", ["arrive", "leave"])
@pytest.mark.parametrize("over", ["letters", "words"])
@pytest.mark.parametrize("move", OPENED)
def test_a_move_opened_into_its_fronts_looks_as_it_did(move, over, phase):
    """Every move of a text: refused with words, or the same picture at every moment."""
    document = titled(words="Kite Wind Bay")
    worn = applied(document, {"kind": "wear-move", "scene": "reveal", "layers": ["title"], "id": "m",
                              "move": move, "phase": phase, "values": {"spread.over": over}}).project  # fmt: skip
    (made,) = worn.scenes[0].layers
    try:
        opened = applied(
            worn, {"kind": "open-move", "scene": "reveal", "layer": "title", "move": "m"}
        )
    except DocumentError as error:
        assert "fronts" in str(error) or "its own way" in str(error) or "does nothing" in str(error)
        return
    (after,) = check_project(opened.project).scenes[0].layers
    assert after.fronts and not after.moves
    begin = 0.0 if phase == "arrive" else made.end_s - made.leave_s
    length = made.arrive_s if phase == "arrive" else made.leave_s
    for share in (0.12, 0.37, 0.5, 0.81):
        at = begin + share * length
        assert content(worn, at).cursor == content(opened.project, at).cursor
        before, now = (content(d, at).units for d in (worn, opened.project))
        for one in before:
            other = next((u for u in now if u.first == one.first), None)
            place = other.place if other else UnitPlace()
            shown, drawn = (
                ([w.wipe.shown for w in u.wipes] if u else [] for u in (one, other)),
                (one.look.drawn, other.look.drawn if other else 1.0),
            )
            assert [*next(shown)] == pytest.approx([*next(shown)], abs=0.02)
            assert drawn[0] == pytest.approx(drawn[1], abs=0.02)
            assert other is None or one.window == other.window
            for name, ours, theirs in zip(place._fields, place, one.place, strict=True):
                close = 0.03 if name in ("sx", "sy", "opacity") else 0.6
                assert ours == pytest.approx(theirs, abs=close), (name, share, one.first)
    for time_s in (begin + length if phase == "arrive" else begin - 0.04,):
        assert np.array_equal(draw(opened.project, time_s=time_s), draw(worn, time_s=time_s))


def test_most_moves_of_letters_are_made_of_fronts():
    opened = 0
    for move in OPENED:
        worn = applied(titled(), {"kind": "wear-move", "scene": "reveal", "layers": ["title"], "id": "m",
                                  "move": move, "phase": "arrive", "values": {"spread.over": "letters"}}).project  # fmt: skip
        try:
            applied(worn, {"kind": "open-move", "scene": "reveal", "layer": "title", "move": "m"})
        except DocumentError:
            continue
        opened += 1
    assert opened == len(OPENED), "all of them"


@pytest.mark.parametrize("values", [{"how": "turn"}, {"how": "slide", "side": "left"}])
@pytest.mark.parametrize("phase", ["arrive", "leave"])
def test_by_turns_opens_into_a_front_by_turns(values, phase):
    document = titled(words="Kite Wind Bay")
    worn = applied(document, {"kind": "wear-move", "scene": "reveal", "layers": ["title"], "id": "m",
                              "move": "alternate", "phase": phase, "values": {"spread.over": "letters", **values}}).project  # fmt: skip
    opened = applied(
        worn, {"kind": "open-move", "scene": "reveal", "layer": "title", "move": "m"}
    ).project
    (after,) = opened.scenes[0].layers
    turned = [f for f in after.fronts if after.properties.get(f"front.{f.id}.opposite")]
    assert len(turned) == 1
    (made,) = worn.scenes[0].layers
    at = 0.4 * made.arrive_s if phase == "arrive" else made.end_s - 0.6 * made.leave_s
    signs = []
    for one, other in zip(content(worn, at).units, content(opened, at).units, strict=True):
        for name, ours, theirs in zip(one.place._fields, other.place, one.place, strict=True):
            assert ours == pytest.approx(
                theirs, abs=0.03 if name in ("sx", "sy", "opacity") else 0.6
            ), name
        signs.append([v > 0 for v in other.place])
    assert signs[0] != signs[1] and signs[0] == signs[2]


@pytest.mark.parametrize("move", ["turn-in", "spin"])
@pytest.mark.parametrize("hinge", ["left", "right", "top", "bottom"])
def test_hinges_open_into_fronts_that_turn_about_an_edge(move, hinge):
    document = titled(words="Kite Wind")
    values = {"spread.over": "words", "hinge": hinge}
    if move == "turn-in":  # an edge matters to turns about an axis along it
        values["axis"] = "x" if hinge in ("top", "bottom") else "y"
    worn = applied(document, {"kind": "wear-move", "scene": "reveal", "layers": ["title"], "id": "m",
                              "move": move, "phase": "arrive", "values": values}).project  # fmt: skip
    opened = applied(
        worn, {"kind": "open-move", "scene": "reveal", "layer": "title", "move": "m"}
    ).project
    (made,) = worn.scenes[0].layers
    about_middle = {
        k: v for k, v in opened.scenes[0].layers[0].properties.items() if not k.endswith("pivot")
    }
    (front,) = opened.scenes[0].layers
    other = front.model_copy(update={"properties": about_middle})
    scene = opened.scenes[0].model_copy(update={"layers": (other,)})
    middle = opened.model_copy(update={"scenes": (scene,)})
    told = []
    for share in (0.2, 0.4, 0.6):
        at = share * made.arrive_s
        as_worn, as_front, otherwise = (
            draw(d, time_s=at).astype(int) for d in (worn, opened, middle)
        )
        apart = np.abs(as_worn - as_front).mean()
        assert apart < 0.15, share
        told.append(np.abs(as_worn - otherwise).mean() > max(2 * apart, 0.03))
    assert any(told), "about its middle it looks otherwise"


def test_a_front_types_with_a_cursor():
    typed = {
        "opacity": -100.0,
        "width": 1.0,
        "profile": "step-end",
        "cursor": True,
        "progress": 50.0,
    }
    assert content(titled(typed)).cursor
    assert not content(titled({**typed, "progress": 100.0})).cursor, "it is gone when all is typed"
    shown = draw(titled(typed)).astype(int) - draw(titled({**typed, "cursor": False}))
    assert (np.abs(shown).max(axis=2) > 60).sum() > 20


def test_long_words_come_last_letter_by_letter_too():
    words = "sail a string of it"
    front = {"offset": (0.0, -50.0), "progress": 50.0, "width": 0.5, "order": "long"}
    for by in ("letters", "words"):
        away = {u.first for u in content(titled({**front, "by": by}, words=words)).units}
        assert 7 in away and 5 not in away, "string is not yet reached, a has been"


def bar(document):
    """The columns of a picture in which a bar of pure green is seen."""
    pixels = draw(document).astype(int)
    green = (pixels[..., 1] > 200) & (pixels[..., 0] < 80) & (pixels[..., 2] < 80)
    return np.flatnonzero(green.any(axis=0))


BEHIND = {"behind__colour": "#00ff00", "behind__padding": [0.0, 0.0], "behind__radius": 0.0}


@pytest.mark.parametrize("across", ["line", "block"])
def test_a_box_grows_as_far_as_the_words_that_are_reached(across):
    values = {**BEHIND, "behind__across": across, "fill__colour": "#00ff00"}
    front = {"by": "words", "box": -100.0, "width": 1.0, "profile": "linear"}
    whole = bar(titled({**front, "progress": 100.0}, **values))
    assert len(bar(titled({**front, "progress": 0.0, "opacity": -100.0}, **values))) == 0
    half = bar(titled({**front, "progress": 50.0}, **values, fill__on=False, stroke__width=0.0))
    # One of two words: up to where the second begins.
    document = titled(**values)
    evaluator = SceneEvaluator(document, "reveal")
    found = evaluator.layer(evaluator.find("title"), 0.5)
    cells = found.content.layout(evaluator.texts).lines[0].cells
    begin = found.matrix((cells[5].left, 0.0))[0]
    assert half[0] == pytest.approx(whole[0], abs=1) and half[-1] == pytest.approx(begin, abs=2)


def test_the_box_of_each_word_grows_with_its_word():
    values = {**BEHIND, "behind__across": "word", "fill__on": False, "stroke__width": 0.0}
    front = {"by": "words", "box": -100.0, "width": 1.0, "profile": "linear"}
    quarter = bar(titled({**front, "progress": 75.0}, **values))
    whole = bar(titled({**front, "progress": 100.0}, **values))
    gap = np.flatnonzero(np.diff(whole) > 1)[0]
    first, second = whole[: gap + 1], whole[gap + 1 :]
    assert set(first) <= set(quarter)
    seen = [x for x in quarter if x > first[-1]]
    assert len(seen) == pytest.approx(len(second) / 2, abs=2)


def test_letters_come_along_their_way():
    """Along a straight path it is as an offset; along a curve its points lie on that."""
    straight = titled({"progress": 40.0, "width": 2.0, "way": "M-60 -20 L0 0"})
    shifted = titled({"progress": 40.0, "width": 2.0, "offset": (-60.0, -20.0)})
    places = [[u.place for u in content(each).units] for each in (straight, shifted)]
    for one, other in zip(*places, strict=True):
        assert (one.dx, one.dy) == pytest.approx((other.dx, other.dy), abs=0.05)
    circle = "M-40 0 C-40 -22.09 -22.09 -40 0 -40"  # a quarter about (0, 0), of radius 40
    curved = titled({"progress": 40.0, "width": 9.0, "way": circle})
    for unit in content(curved).units:
        x, y = unit.place.dx, unit.place.dy - 40  # its end is where the letter rests
        assert np.hypot(x, y) == pytest.approx(40, abs=0.1)


def test_ready_fronts_set_what_they_need_of_a_text_that_has_not_said():
    document = titled()
    wear = {"kind": "wear-front", "scene": "reveal", "layers": ["title"], "id": "h",
            "ready": "highlighter"}  # fmt: skip
    made = applied(document, wear).project.scenes[0].layers[0]
    assert made.properties["behind.across"].value == "line"
    said = applied(titled(behind__across="word"), wear).project.scenes[0].layers[0]
    assert said.properties["behind.across"].value == "word"
