"""Letters on their way: what is seen of them, in which order they are reached and lie, when they
land, and that their box holds them."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from tests.build import NoAssets, draw
from tests.core.resolve.test_fronts import DISPLACED, content, titled
from tests.edits.sound_desk import sounding
from tests.edits.test_edits import applied

from young_comet.core.catalog import READY_FRONTS, check_project
from young_comet.core.frame.lettered import on_their_way
from young_comet.core.geometry.affine import Affine
from young_comet.core.geometry.outline import Outline, from_svg_path, skia_matrix
from young_comet.core.geometry.path_data import write_svg_path
from young_comet.core.mix.beats import beats_heard
from young_comet.core.model import Mark, Property, Run
from young_comet.core.moves import Wipe
from young_comet.core.paint import MediaLibrary
from young_comet.core.paint.unit_wipes import wipe_paint
from young_comet.core.pixels.canvas import Canvas
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.views import front_sample
from young_comet.errors import DocumentError


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


@pytest.mark.parametrize("name", ["rotation", "skew", "scale", "offset", "outline", "turn"])
def test_the_painted_box_is_hardly_larger_than_what_is_painted(name):
    """Blurs, shadows and rough edges are worked out over it: 60 px of nothing about a text cost as
    much as the text."""
    document = titled({"by": "letters", "progress": 10.0, "width": 3.0, name: DISPLACED[name]})
    box = content(document).painted_box(MediaLibrary(NoAssets()), 1.0)
    seen = np.argwhere(draw(document)[..., 1] > 0) - (90, 160)
    (top, left), (foot, right) = seen.min(axis=0), seen.max(axis=0) + 1
    room = (left - box[0], top - box[1], box[2] - right, box[3] - foot)
    assert min(room) >= -1 and max(room) < 24


def test_lines_of_a_box_land_on_marks_as_they_are_broken():
    words = "Hold on to the wind and let go of it"
    document = titled(words=words, text__size=24.0, text__box="box", text__box_size=[120.0, 150.0])
    marks = tuple(Mark(id=f"m{n}", name="M", time_s=0.5 + n / 2) for n in range(6))
    scene = document.scenes[0].model_copy(update={"marks": marks})
    document = document.model_copy(update={"scenes": (scene,)})
    worn = applied(document, {"kind": "wear-front", "scene": "reveal", "layers": ["title"], "id": "f",
                              "ready": "lines-behind", "on": "marks"}).project  # fmt: skip
    lines = [
        line.first for line in SceneEvaluator(document, "reveal").set_text(content(document)).lines
    ]
    assert len(lines) >= 4
    for nth, _ in enumerate(lines):
        landed = {unit.first for unit in content(worn, 0.5 + nth / 2 + 1e-6).units}
        assert landed == set(lines[nth + 1 :])


def test_words_land_on_the_beats_of_what_is_heard():
    document = sounding()
    title = titled(words="Hold on to").scenes[0].layers[0]
    scene = document.scenes[0]
    scene = scene.model_copy(update={"layers": (*scene.layers, title)})
    document = check_project(document.model_copy(update={"scenes": (scene,)}))
    evaluator = SceneEvaluator(document, scene.id)
    beats = sorted({t for each in scene.layers for t, _ in beats_heard(evaluator, each)})
    beats = [t for t in beats if title.start_s < t <= title.end_s]
    assert len(beats) >= 2
    worn = applied(document, {"kind": "wear-front", "scene": scene.id, "layers": ["title"], "id": "f",
                              "ready": "slam", "on": "beats"}).project  # fmt: skip
    made = next(each for each in worn.scenes[0].layers if each.id == "title")
    keys = made.properties["front.f.progress"].keys
    landed = [key.time_s for key in keys[1::2]] if len(keys) == 6 else [key.time_s for key in keys]
    assert set(np.round(np.array(beats[:3]) - title.start_s, 3)) <= set(np.round(landed, 3))


LED = {
    "window of the line": {"offset": (0.0, 30.0), "seen": "line", "progress": 45.0, "width": 5.0},
    "window of the word": {"offset": (0.0, -30.0), "seen": "word", "progress": 45.0, "width": 5.0},
    "window of its own": {"offset": (12.0, 20.0), "seen": "own", "progress": 45.0, "width": 5.0},
    "halves of letters": {"apart": (9.0, 2.0), "progress": 30.0, "width": 4.0},
    "halves of words": {"by": "words", "apart": (14.0, 0.0), "progress": 20.0, "width": 2.0},
    "edges": {"rotation": 40.0, "pivot": "left", "progress": 30.0, "width": 4.0},
}


BEHIND = {"behind__across": "word", "behind__colour": "#ffb44a", "behind__padding": [8.0, 5.0],
          "behind__radius": 7.0, "behind__skew": 12.0}  # fmt: skip


@pytest.mark.parametrize("turned", [0.0, 25.0])
@pytest.mark.parametrize("case", [*LED, "rolled", "boxes", "box", "highlighter"])
def test_on_a_straight_path_letters_are_as_on_a_turned_line(case, turned):
    """Windows, halves and wheels along a straight path are those of the same line without one,
    turned as the path is about where it stands."""
    values = {"text__size": 34.0, "stroke__width": 0.0}
    if case == "rolled":
        values |= {"number__shows": "number", "number__value": 47.6, "number__rolls": True}
    if case in ("boxes", "box", "highlighter"):
        values |= {**BEHIND, "behind__across": "block" if case == "box" else "word"}
    fronts = [LED[case]] if case in LED else []
    if case == "highlighter":
        fronts = [{"by": "words", "box": -100.0, "width": 1.0, "progress": 40.0}]
    words = "# kites" if case == "rolled" else "Kite Wind"
    flat = titled(*fronts, words=words, **values)
    evaluator = SceneEvaluator(flat, "reveal")
    stands = evaluator.set_text(content(flat)).lines[0].baseline
    way = np.array([math.cos(math.radians(turned)), math.sin(math.radians(turned))])
    (x0, y0), (x1, y1) = -200 * way, 200 * way
    led = titled(*fronts, words=words, text__path=f"M{x0} {y0} L{x1} {y1}", **values)
    # What stands on the path stands at the layer's place: the line is moved there, then turned.
    x, y = np.array([160.0, 90.0]) + stands * np.array([way[1], -way[0]])
    (made,) = flat.scenes[0].layers
    place = {"position": Property(value=(float(x), float(y))), "rotation": Property(value=turned)}
    there = made.model_copy(update={"properties": {**made.properties, **place}})
    scene = flat.scenes[0].model_copy(update={"layers": (there,)})
    one, other = (draw(d, time_s=0.5).astype(int) for d in (
        flat.model_copy(update={"scenes": (scene,)}), led))  # fmt: skip
    rest = draw(titled(words=words, **values), time_s=0.5).astype(int)
    assert (rest[..., 2] > 128).sum() > 300, "there is something to see"
    apart = np.abs(one - other).max(axis=2)
    assert (apart > 60).sum() <= (12 if turned else 4), (apart > 60).sum()
    assert apart.mean() < (0.25 if turned else 0.1)


@pytest.mark.parametrize("way", ["M-110 40 C-70 -60 70 -60 110 40", "M-100 0 Q0 90 100 0"])
def test_halves_on_a_bend_are_the_letters_again_when_they_are_together(way):
    """Both halves of every letter are there once: laid where they belong they give the letters,
    and nothing of a letter is in neither half."""
    resting = draw(titled(words="Kite", text__path=way, stroke__width=0.0), time_s=0.5).astype(int)
    for by in ("letters", "words"):
        near = {"by": by, "apart": (0.02, 0.0), "progress": 0.0}
        found = draw(titled(near, words="Kite", text__path=way, stroke__width=0.0), time_s=0.5)
        # Along the cut both halves cover a pixel in part.
        apart = np.abs(found.astype(int) - resting).max(axis=2)
        assert (apart > 90).sum() == 0 and (apart > 20).sum() < 150, ((apart > 20).sum(), by)


@pytest.mark.parametrize("across", ["block", "line", "word"])
@pytest.mark.parametrize(
    "way", ["M-110 40 C-70 -60 70 -60 110 40", "M-90 0 A90 60 0 1 1 90 0", "M40 0 L80 0"]
)
def test_boxes_behind_a_text_go_along_its_path(across, way):
    """Around every letter there is the box's colour; it is within what the layer says it paints."""
    values = {**BEHIND, "behind__across": across, "text__path": way, "stroke__width": 0.0,
              "text__size": 26.0, "behind__skew": 0.0, "behind__padding": [10.0, 9.0]}  # fmt: skip
    document = titled(words="Kite Wind", **values)
    found, plain = (draw(d, time_s=0.5).astype(int) for d in (
        document, titled(words="Kite Wind", **{**values, "behind__across": "none"})))  # fmt: skip
    letters = plain[..., 0] > 200
    assert letters.sum() > 200
    about = np.zeros_like(letters)
    for dx, dy in ((0, 0), (3, 0), (-3, 0), (0, 3), (0, -3)):
        about |= np.roll(letters, (dy, dx), (0, 1))
    rim = about & (plain[..., :3].max(axis=2) < 10)
    orange = (found[..., 2] > 200) & (found[..., 0] < 120)
    assert rim.sum() > 100 and orange[rim].mean() > 0.97
    evaluator = SceneEvaluator(document, "reveal")
    left, top, right, foot = content(document).painted_box(MediaLibrary(NoAssets()), 1.0)
    rows, columns = np.nonzero(found[..., :3].max(axis=2) > 10)
    place = evaluator.layer(evaluator.find("title"), 0.5).matrix
    assert place.e + left - 1 <= columns.min() and columns.max() <= place.e + right + 1
    assert place.f + top - 1 <= rows.min() and rows.max() <= place.f + foot + 1
