"""Fronts: what they have passed is exactly the text at rest, what they have not is displaced."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from tests.build import NoAssets, draw, key, layer, project
from tests.edits.test_edits import applied

from young_comet.core.catalog import FRONTS, READY_FRONTS, check_project
from young_comet.core.frame.lettered import on_their_way
from young_comet.core.frame.units import UnitPlace
from young_comet.core.geometry.affine import Affine
from young_comet.core.geometry.outline import Outline, from_svg_path, skia_matrix
from young_comet.core.geometry.path_data import write_svg_path
from young_comet.core.model import Front, Mark, Property, Run, Shutter
from young_comet.core.moves import MOVES, Wipe
from young_comet.core.paint import MediaLibrary
from young_comet.core.paint.unit_wipes import wipe_paint
from young_comet.core.pixels.canvas import Canvas
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.timing import parse_easing
from young_comet.core.timing.spread import settled
from young_comet.core.views import front_sample
from young_comet.errors import DocumentError

DISPLACED = {
    "offset": (14.0, -30.0), "scale": (60.0, -40.0), "rotation": 30.0, "skew": (20.0, 5.0),
    "tilt": 50.0, "turn": 60.0, "opacity": -70.0, "blur": 5.0, "fill": -80.0, "tint": 90.0,
    "outline": 3.0, "size": 40.0, "weight": -500.0, "width-axis": -35.0, "slant": 20.0,
    "tracking": 300.0, "raised": 40.0, "others": 100.0,
    "wiped": 80.0, "undrawn": 60.0, "apart": (14.0, 3.0),
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


def test_every_displaced_property_is_tried():
    specs = {spec.id for spec in FRONTS.declared("front")}
    spread = {
        "progress",
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
    assert specs == set(DISPLACED) | spread


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
    assert np.array_equal(draw(worn, time_s=3.5), draw(document, time_s=3.5))


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
    assert opened >= 16, opened


def test_long_words_come_last_letter_by_letter_too():
    words = "sail a string of it"
    front = {"offset": (0.0, -50.0), "progress": 50.0, "width": 0.5, "order": "long"}
    for by in ("letters", "words"):
        away = {u.first for u in content(titled({**front, "by": by}, words=words)).units}
        assert 7 in away and 5 not in away, "string is not yet reached, a has been"


@pytest.mark.parametrize("seen", ["line", "word", "own"])
@pytest.mark.parametrize("by", ["letters", "words"])
def test_what_comes_from_behind_an_edge_is_seen_nowhere_else(seen, by):
    """Below and above the lines, and beside words, nothing is ever painted that is not at rest."""
    rest = draw(titled(words="Kite\nygW"))[..., 1] > 0
    rows, columns = rest.any(axis=1), rest.any(axis=0)
    for offset in ((0.0, 55.0), (0.0, -70.0), (90.0, 0.0), (-30.0, 30.0)):
        for progress in (5.0, 40.0, 70.0, 95.0):
            front = {"by": by, "seen": seen, "offset": offset, "progress": progress}
            front["width"], front["profile"] = 3.0, "linear"
            now = draw(titled(front, words="Kite\nygW"))[..., 1] > 0
            # The room of a line is a little higher than its ink.
            high, wide = np.flatnonzero(rows), np.flatnonzero(columns)
            painted = np.argwhere(now)
            assert len(painted) == 0 or painted[:, 0].min() >= high[0] - 16
            assert len(painted) == 0 or painted[:, 0].max() <= high[-1] + 12
            if seen != "line" or offset[0] == 0:
                assert len(painted) == 0 or painted[:, 1].min() >= wide[0] - 8
                assert len(painted) == 0 or painted[:, 1].max() <= wide[-1] + 8
    away = {"by": by, "seen": seen, "offset": (0.0, 90.0), "progress": 0.0}
    assert not draw(titled(away, words="Kite"))[..., 1].any(), "far away nothing is seen of it"


@pytest.mark.parametrize("kind", ["linear", "centre", "iris"])
@pytest.mark.parametrize(("shown", "soft"), [(0.02, 20.0), (0.3, 0.0), (0.5, 40.0), (0.97, 100.0)])
def test_a_wipe_over_letters_goes_as_one_over_layers(kind, shown, soft):
    """The paint that letters are kept by against the formula of the wipes of whole layers."""
    box, angle = (10.0, 20.0, 110.0, 60.0), 30.0
    pixels = np.zeros((80, 120, 4), np.uint8)
    paint = wipe_paint(box, Wipe(kind, shown, angle, soft))
    Canvas(pixels).fill_all(paint, skia_matrix(Affine()))
    y, x = np.mgrid[0:80, 0:120] + 0.5
    if kind == "iris":
        field = np.hypot(x - 60, y - 40) / np.hypot(50, 20)
    else:
        cos, sin = np.cos(np.radians(angle)), np.sin(np.radians(angle))
        along = [a * cos + b * sin for a in (10, 110) for b in (20, 60)]
        field = (x * cos + y * sin - min(along)) / (max(along) - min(along))
        if kind == "centre":
            field = np.abs(2 * field - 1)
    softness = max(0.002, soft / 100)
    t = np.clip((shown * (1 + softness) - field) / softness, 0, 1)
    expected = t * t * (3 - 2 * t)
    far = np.abs(pixels[..., 3] / 255 - expected)[20:60, 10:110]
    edge = 0.02 if soft else 1.0
    assert np.percentile(far, 98) < 0.03 and (far.max() < edge + 0.03)


def test_a_word_is_wiped_over_its_whole_and_letters_in_it_go_along():
    wipe = {"by": "words", "wiped": 100.0, "progress": 50.0, "width": 1000.0, "wipe-soft": 0.0,
            "profile": "linear"}  # fmt: skip
    shown = draw(titled(wipe, words="WWWWWW"))[..., 1] > 60
    rest = draw(titled(words="WWWWWW"))[..., 1] > 60
    columns = np.flatnonzero(rest.any(axis=0))
    seen = np.flatnonzero(shown.any(axis=0))
    assert seen[0] == pytest.approx(columns[0], abs=2)
    assert seen[-1] == pytest.approx((columns[0] + columns[-1]) / 2, abs=4)
    turned = {"by": "letters", "rotation": 20.0, "progress": 0.0}
    both = draw(titled(wipe, turned, words="WWWWWW"))[..., 1] > 60
    assert np.flatnonzero(both.any(axis=0))[-1] < columns[-1] - 60


def test_letters_are_drawn_and_then_filled():
    def painted(undrawn, **more):
        front = {"undrawn": undrawn, "progress": 0.0, "profile": "linear"}
        return draw(titled(front, words="OO", text__size=120.0, text__weight=900.0, **more))[
            ..., 1
        ].astype(int)

    rest = painted(0.0, stroke__width=0.0)
    assert painted(100.0, stroke__width=0.0).max() == 0
    lines = painted(30.0, stroke__width=0.0)
    inner = rest > 250
    inner &= (
        np.roll(inner, 4, 1) & np.roll(inner, -4, 1) & np.roll(inner, 4, 0) & np.roll(inner, -4, 0)
    )
    assert lines.max() > 150 and lines[inner].mean() < 40 < rest[inner].mean()
    filled = painted(10.0, stroke__width=0.0)
    assert lines[inner].mean() < filled[inner].mean() < rest[inner].mean()


@pytest.mark.parametrize("over", ["whole", "letters", "words", "lines"])
@pytest.mark.parametrize("move", ["draw-on", "unroll", "open", "iris", "slide"])
def test_moves_over_letters_have_their_whole_pose(move, over):
    """What is drawn, wiped or seen behind its own edge is so by letters, words and lines."""
    worn = applied(titled(words="Kite Wind", stroke__width=0.0), {
        "kind": "wear-move", "scene": "reveal", "layers": ["title"], "id": "m", "move": move,
        "phase": "arrive", "values": {"spread.over": over}}).project  # fmt: skip
    (made,) = worn.scenes[0].layers
    rest = draw(worn, time_s=made.arrive_s + 0.1)[..., 1].astype(int)
    seen = [draw(worn, time_s=made.arrive_s * share)[..., 1].astype(int) for share in (0, 0.3, 0.6)]
    assert seen[0].max() <= 5, "nothing is seen at first"
    sums = [each.sum() for each in seen]
    assert sums[0] == 0 or sums[0] < 0.01 * rest.sum()
    assert 0 < sums[1] < sums[2] < rest.sum() * 1.2


def test_halves_of_a_word_are_the_word_and_slide_their_own_way():
    def rows(apart):
        front = {"by": "words", "apart": apart, "progress": 0.0}
        return draw(titled(front, words="HHH", stroke__width=0.0))[..., 1] > 128

    rest = draw(titled(words="HHH", stroke__width=0.0))[..., 1] > 128
    slid = rows((40.0, 0.0))
    used = np.flatnonzero(rest.any(axis=1))
    upper, lower = used[2], used[-3]
    assert np.array_equal(slid[upper], np.roll(rest[upper], 40))
    assert np.array_equal(slid[lower], np.roll(rest[lower], -40))
    assert (rows((0.001, 0.0)) != rest).sum() < 12, "together they are the whole"


@pytest.mark.parametrize("way", ["M0 90 H320", "M320 90 H0", "M160 0 V180 Z", ""])
def test_a_front_goes_in_the_order_of_a_drawn_path(way):
    """Brute force: which letter lies nearest to the path's places one after another. The path is in
    the layer's own space."""
    shifted = from_svg_path(way).mapped(Affine.shift(-160, -90)) if way else Outline.empty()
    front = {"order": "path", "path": write_svg_path(shifted), "offset": (0.0, -40.0),
             "width": 0.5, "progress": 50.0}  # fmt: skip
    away = [u.first for u in content(titled(front, words="KITE")).units]
    expected = {"M0 90 H320": [2, 3], "M320 90 H0": [0, 1], "": [2, 3]}
    assert away == expected.get(way, away) and len(away) == 2


@pytest.mark.parametrize("stacking", ["forward", "back", "middle"])
def test_letters_lie_over_one_another_in_a_chosen_order(stacking):
    front = {"offset": (-28.0, 0.0), "tint": 0.0, "progress": 0.0, "by": "letters"}
    colours = {"r0": "#ff0000", "r1": "#00ff00", "r2": "#0000ff"}
    document = titled(front, words="HHH", text__tracking=-600.0, text__stacking=stacking,
                      stroke__width=0.0)  # fmt: skip
    (made,) = document.scenes[0].layers
    properties = dict(made.properties)
    for name, colour in colours.items():
        properties[f"run.{name}.fill.colour"] = Property(value=colour)
    runs = tuple(Run(id=f"r{n}", first=n, last=n + 1) for n in range(3))
    dressed = made.model_copy(update={"properties": properties, "runs": runs})
    scene = document.scenes[0].model_copy(update={"layers": (dressed,)})
    pixels = draw(check_project(document.model_copy(update={"scenes": (scene,)})))
    counts = [int((pixels[..., channel] > 200).sum()) for channel in (2, 1, 0)]
    most = {"forward": 2, "back": 0, "middle": 1}[stacking]
    assert max(counts) == counts[most]


@pytest.mark.parametrize("ready", list(READY_FRONTS))
def test_the_sample_of_a_front_moves_and_ends_at_rest(ready):
    strip = front_sample(ready, MediaLibrary(NoAssets()))
    assert strip.shape == (63, 17 * 112, 4)
    frames = [strip[:, n * 112 : (n + 1) * 112].astype(int) for n in range(16)]
    assert np.abs(frames[1] - frames[-1]).max() > 40
    assert np.array_equal(frames[-2], frames[-1])


def landing(on, marks=(), words="Hold on to the wind", **more):
    """Progress keys (s, %) of a front whose words land on moments."""
    document = titled(words=words)
    made = [Mark(id=f"m{n}", name=f"M{n}", time_s=t) for n, t in enumerate(marks)]
    (text,) = document.scenes[0].layers
    text = text.model_copy(update=more)
    scene = document.scenes[0].model_copy(update={"marks": tuple(made), "layers": (text,)})
    document = document.model_copy(update={"scenes": (scene,)})
    worn = applied(document, {"kind": "wear-front", "scene": "reveal", "layers": ["title"], "id": "f",
                              "ready": "slam", "on": on}).project  # fmt: skip
    return worn, worn.scenes[0].layers[0].properties["front.f.progress"].keys


def test_words_land_on_marks_one_after_the_other():
    marks = (0.5, 1.0, 1.4, 2.5, 3.0)
    worn, keys = landing("marks", marks)
    for nth, moment in enumerate(marks):
        landed = content(worn, moment + 1e-6).units
        before = content(worn, moment - 0.04).units
        starts = sorted({unit.first for unit in before})
        words = [0, 5, 8, 11, 15]
        assert starts == words[nth:], "the word is on its way until its mark"
        assert sorted({unit.first for unit in landed}) == words[nth + 1 :]
    assert [key.value for key in keys][-1] == 100.0
    assert all(b.time_s > a.time_s for a, b in itertools.pairwise(keys))


@pytest.mark.parametrize("marks", [(1.0,), (0.5, 0.9), (0.5, 0.52, 0.53, 0.54, 0.55, 0.56, 0.57)])
def test_words_without_a_mark_follow_as_quickly_as_the_last_ones(marks):
    worn, keys = landing("marks", marks)
    assert keys[-1].value == 100.0 and keys[0].value == 0.0
    values = [key.value for key in keys]
    assert values == sorted(values)
    assert not content(worn, keys[-1].time_s + 0.01).units


def test_moments_count_from_the_layer_and_there_must_be_some():
    _, keys = landing("marks", (0.2, 2.5, 9.0), start_s=1.0)
    assert keys[1].time_s == pytest.approx(1.5), "2.5 s of the scene"
    with pytest.raises(DocumentError, match="no marks"):
        landing("marks", (0.2,), start_s=1.0)
    with pytest.raises(DocumentError, match="no beats"):
        landing("beats")
    with pytest.raises(DocumentError, match="on"):
        landing("claps")


def test_the_cursor_stands_behind_the_last_letter_that_is_seen():
    """Held against where the caret of the letters view would stand: never at a later blank."""
    words = "Kite in\nthe Bay"

    def typed(cursor):
        return applied(titled(words=words, stroke__width=0.0), {
            "kind": "wear-move", "scene": "reveal", "layers": ["title"], "id": "m", "move": "type-on",
            "phase": "arrive", "values": {"cursor": cursor}}).project  # fmt: skip

    with_, without = typed(True), typed(False)
    (made,) = with_.scenes[0].layers
    cells = {}
    for line in SceneEvaluator(without, "reveal").set_text(content(titled(words=words))).lines:
        cells |= {cell.first: (cell.left, cell.right, line.baseline) for cell in line.cells}
    seen_at = set()
    for share in np.linspace(0.05, 0.95, 19):
        time_s = made.arrive_s * share
        hidden = {u.first for u in content(without, time_s).units if u.place.opacity <= 0}
        shown = [n for n in range(len(words)) if words[n].strip() and n not in hidden]
        if not shown:
            continue
        bar = np.argwhere(
            np.abs(draw(with_, time_s=time_s).astype(int) - draw(without, time_s=time_s))[..., 1]
            > 60
        )
        left, right, baseline = cells[max(shown)]
        assert 160 + left < bar[:, 1].min() <= 160 + right + 8, words[: max(shown) + 1]
        assert 90 + baseline - 44 < bar[:, 0].min() and bar[:, 0].max() < 90 + baseline + 20
        seen_at.add(max(shown))
    assert len(seen_at) > 8


@pytest.mark.parametrize("name", [*DISPLACED, "rolled"])
@pytest.mark.parametrize("by", ["letters", "words"])
def test_the_painted_box_holds_all_that_is_painted_of_units(name, by):
    more = {}
    if name == "rolled":
        more = {"words": "# kites", "number__shows": "number", "number__value": 7.5,
                "number__rolls": True}  # fmt: skip
    value = DISPLACED.get(name, 0.0)
    far = tuple(4 * each for each in value) if name in ("offset", "apart") else value
    front = {"by": by, "progress": 10.0} | ({name: far} if name != "rolled" else {})
    document = titled(front, **more)
    evaluator = SceneEvaluator(document, "reveal")
    shown = content(document)
    layout, library = evaluator.set_text(shown), MediaLibrary(NoAssets())
    left, top, right, foot = shown.painted_box(library, 1.0)
    pieces = list(on_their_way(shown, layout, library))
    assert pieces or name in ("size", "weight", "width-axis", "slant", "tracking", "raised")
    for piece in pieces:
        for each in piece.painted:
            room = each.area if piece.half is None else each.area.joined(piece.half, "intersect")
            if room.is_empty:
                continue
            for x, y in piece.place.corners(room.bounds):
                assert left - 1 <= x <= right + 1 and top - 1 <= y <= foot + 1
