"""Moves: every member of the registry, spreads, phases, and what becomes of them as keys."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import CONTEXT, LIBRARY, draw, key, layer, project

from young_comet.core.catalog import find_spec, lane_label, layer_kind
from young_comet.core.model import Mark, Mask, Move, Property
from young_comet.core.moves import MOVES, REST, Moment
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.timing import parse_easing
from young_comet.core.typography.units import units_of
from young_comet.core.views import move_sample, paths_view
from young_comet.edits import apply_edit, parse_edit
from young_comet.errors import DocumentError

S = {"scene": "reveal"}
ARRIVING = [kind for kind in MOVES.values() if not kind.dwells]
DWELLING = [kind for kind in MOVES.values() if kind.dwells]
MOMENT = Moment((120.0, 60.0), (320.0, 180.0), 0, 1, 0.3, 1.0, 1, (0.1,))


def defaults(kind):
    return {spec.id: spec.default for spec in kind.specs}


def shape(**values):
    more = {"shape__size": [120, 60], "fill__colour": "#ffb44a", "position": [160, 90]}
    return layer("kite", "shape", **{**more, **values})


def text(**values):
    more = {"text": "Gull wing", "text__size": 50.0, "fill__colour": "#ffb44a"}
    return layer("kite", "text", **{**more, "position": [160, 90], **values})


def wearing(base, kind, phase, *, length=1.0, **values):
    """A document whose only layer wears a move in a phase of a length."""
    props = {
        f"move.m.{k.replace('__', '.').replace('_', '-')}": Property(value=v)
        for k, v in values.items()
    }
    made = base.model_copy(update={
        "moves": (Move(id="m", kind=kind, phase=phase),),
        "arrive_s": length if phase == "arrive" else 0.0,
        "leave_s": length if phase == "leave" else 0.0,
        "properties": {**base.properties, **props},
    })  # fmt: skip
    return project(made)


def base_for(kind):
    if kind.id == "draw-on":
        return shape(fill__on=False, stroke__width=6.0)
    if kind.id in ("type-on", "scramble", "tracking"):
        return text()
    if kind.id == "alternate":
        return shape(slices__kind="strips", slices__count=6.0)
    return shape()


def plain(base):
    return draw(project(base), 2.0)


# The registry


def test_there_are_moves_for_every_phase():
    assert len(ARRIVING) >= 20 and len(DWELLING) >= 9
    assert all(kind.phases == ("arrive", "leave") for kind in ARRIVING)


@pytest.mark.parametrize("kind", ARRIVING, ids=lambda k: k.id)
def test_what_arrives_starts_away_and_comes_to_rest(kind):
    base = base_for(kind)
    document = wearing(base, kind.id, "arrive")
    rest = plain(base)
    assert np.array_equal(draw(document, 1.0), rest)
    assert np.array_equal(draw(document, 3.9), rest)
    middle = draw(document, 0.25)
    assert not np.array_equal(middle, rest)
    assert np.array_equal(middle, draw(document, 0.25))


@pytest.mark.parametrize("kind", ARRIVING, ids=lambda k: k.id)
def test_what_leaves_rests_before_and_is_on_its_way_at_once(kind):
    base = base_for(kind)
    leaving, rest = wearing(base, kind.id, "leave"), plain(base)
    assert np.array_equal(draw(leaving, 2.96), rest)
    # No invisible first half second: a sixth of the time is seen.
    # (By its parts it takes less than the phase, which ends with the last of them.)
    over = next(spec.default for spec in kind.specs if spec.id == "spread.over")
    soon = 3.17 if over == "whole" else 3.85
    assert not np.array_equal(draw(leaving, soon), rest) or kind.id == "flicker"
    if kind.id in ("scramble", "flicker"):  # their chance depends on the time
        return
    shown = [_seen(draw(leaving, t)) for t in (2.9, 3.999)]
    # What grows is not small yet; of what is typed the last letter goes at the very end.
    assert shown[1] <= 0.06 * shown[0] or kind.id in ("grow", "type-on")


def _seen(picture):
    return float(picture[..., :3].sum())


@pytest.mark.parametrize("kind", DWELLING, ids=lambda k: k.id)
def test_what_dwells_goes_on_and_begins_and_ends_at_rest(kind):
    base = shape()
    document = wearing(base, kind.id, "dwell")
    if kind.id != "push-in":
        assert np.array_equal(draw(document, 0.0), plain(base)) or kind.id == "glint"
    pictures = [draw(document, t) for t in (0.62, 1.15, 1.67, 2.4, 3.1)]
    assert any(not np.array_equal(each, plain(base)) for each in pictures)


@pytest.mark.parametrize("kind", list(MOVES.values()), ids=lambda k: k.id)
def test_every_parameter_is_declared_and_extremes_do_no_harm(kind):
    assert kind.label and kind.help and kind.length_s > 0
    params = defaults(kind)
    if "easing" in params:
        parse_easing(params["easing"])
    for spec in kind.specs:
        for value in (spec.minimum, spec.maximum, *(option for option, _ in spec.options)):
            if value is None:
                continue
            for p in (-0.2, 0.0, 0.5, 1.0, 1.3):
                pose = kind.draw(p, {**params, spec.id: value}, MOMENT)
                numbers = (*pose.offset, *pose.scale, pose.rotation_deg, pose.opacity, pose.blur_px)
                assert all(np.isfinite(numbers))
    if not kind.dwells and kind.id != "type-on":
        settled = kind.draw(1.0, params, MOMENT)
        assert settled.offset == (0, 0) and settled.opacity == 1 and settled.blur_px == 0
        assert abs(settled.rotation_deg) < 1e-9 and settled.scale == pytest.approx((1, 1))


@pytest.mark.parametrize("kind", list(MOVES), ids=str)
def test_every_move_has_a_moving_thumbnail(kind):
    pixels = move_sample(kind, LIBRARY)
    assert pixels.shape == (63, 17 * 112, 4)
    *frames, trail = [pixels[:, i * 112 : (i + 1) * 112] for i in range(17)]
    assert len({frame.tobytes() for frame in frames}) > 2
    # At rest it shows more than where the move ends.
    differs = np.abs(trail.astype(int) - frames[-1]).sum(2) > 12
    assert differs.sum() > 60


# What moves do


def test_places_add_and_scales_and_opacities_multiply():
    base = shape(position=[key(0, [100, 90]), key(2, [200, 90])], opacity=50.0, scale=[200, 100])
    ev = SceneEvaluator(wearing(base, "spring-in", "arrive", easing="linear"), "reveal")
    found = ev.layer(ev.find("kite"), 0.5)
    assert found.matrix((0, 0)) == pytest.approx((125, 90))
    assert found.matrix.a == pytest.approx(2 * 0.5 * np.cos(np.radians(-6)), rel=1e-3)
    assert found.opacity == pytest.approx(0.5)
    assert ev.values(ev.find("kite"), 0.5)("scale") == (200, 100)  # what is edited stays


def test_riders_go_along_with_a_move():
    kite = wearing(shape(), "lift", "arrive", easing="linear", measure="px").scenes[0].layers[0]
    bow = layer("bow", "shape", shape__size=[10, 10], position=[0, 40]).model_copy(
        update={"rides": "kite"}
    )
    ev = SceneEvaluator(project(kite, bow), "reveal")
    assert ev.layer(ev.find("bow"), 0.5).matrix((0, 0)) == pytest.approx((160, 90 + 45 + 40))
    assert ev.layer(ev.find("bow"), 2.0).matrix((0, 0)) == pytest.approx((160, 130))


def test_a_slide_from_behind_its_edge_is_seen_only_within_its_box():
    document = wearing(shape(), "slide", "arrive", side="bottom", easing="linear")
    alpha = draw(document, 0.5)[:, 160, 2]
    assert alpha[60:89].max() == 0 and alpha[95:118].min() > 200 and alpha[123:].max() == 0
    outside = wearing(shape(), "slide", "arrive", side="left", start="frame", easing="linear")
    assert draw(outside, 0.0)[:, :, 2].max() == 0


def test_a_move_has_motion_blur():
    from young_comet.core.model import Shutter

    document = wearing(shape(), "lift", "arrive", easing="linear", measure="px",
                       distance=400.0)  # fmt: skip
    scene = document.scenes[0].model_copy(update={"shutter": Shutter(on=True, angle_deg=180)})
    blurred = project().model_copy(update={"scenes": (scene,)})
    ev = SceneEvaluator(blurred, "reveal")
    assert len(ev.layer(ev.find("kite"), 0.5).shutter) >= 2
    assert not ev.layer(ev.find("kite"), 3.0).shutter


def test_pulse_beats_on_marks():
    base = wearing(shape(), "pulse", "dwell", on="marks", by=50.0).scenes[0].layers[0]
    document = project(base, marks=(Mark(id="m", name="hit", time_s=2.0),))
    ev = SceneEvaluator(document, "reveal")
    size = lambda t: ev.layer(ev.find("kite"), t).matrix.a  # noqa: E731
    assert size(1.9) == pytest.approx(1) and size(2.08) > 1.4 and size(3.0) < 1.01


# Spreads


@pytest.mark.parametrize(
    ("by", "expected"),
    [
        ("letters", ((0, 1), (1, 2), (3, 4), (5, 6))),
        ("words", ((0, 2), (3, 4), (5, 6))),
        ("lines", ((0, 4), (5, 6))),
    ],
)
def test_units_of_a_text(by, expected):
    assert units_of("Go a\nb", by) == expected


def test_a_letter_has_its_marks_with_it():
    assert units_of("e\u0301x", "letters") == ((0, 2), (2, 3))
    assert units_of("", "letters") == () and units_of(" \n ", "words") == ()


def units(over, t=0.5, **values):
    ev = SceneEvaluator(
        wearing(text(), "fade", "arrive", spread__over=over, easing="linear", **values), "reveal"
    )
    return ev.layer(ev.find("kite"), t).content.units


def test_a_front_travels_over_letters_words_and_lines():
    letters = units("letters", spread__tempo="shared", spread__width=2.0)
    assert [(u.first, round(u.place.opacity, 2)) for u in letters] == [
        (3, 0.75), (5, 0.25), (6, 0.0), (7, 0.0), (8, 0.0)
    ]  # fmt: skip
    back = units("letters", spread__tempo="shared", spread__width=2.0, spread__order="back")
    assert [u.first for u in back] == [0, 1, 2, 3, 5]
    assert [u.first for u in units("words", spread__tempo="shared", spread__width=1.0)] == [5]
    assert units("letters", t=1.0) == ()


def test_letters_on_their_way_are_drawn_where_they_are():
    document = wearing(text(), "lift", "arrive", spread__over="letters", measure="px", distance=60.0,
                       easing="linear",
                       spread__tempo="shared", spread__width=1.0)  # fmt: skip
    rest = draw(project(text()), 1.0)
    late = draw(document, 0.98)
    columns = np.abs(rest.astype(int) - late).max(axis=(0, 2))
    # Only the last letter moves; the others are but smoothed in another path.
    assert columns[:200].max() <= 16 and columns[200:].max() > 100
    assert np.array_equal(draw(document, 1.0), rest)


def test_copies_and_groups_come_one_after_another():
    dots = shape(
        copies__count=3.0, copies__position=[0, 50], shape__size=[20, 20], position=[60, 40]
    )
    ev = SceneEvaluator(
        wearing(
            dots,
            "fade",
            "arrive",
            spread__over="copies",
            spread__tempo="shared",
            spread__width=1.0,
            easing="linear",
        ),
        "reveal",
    )
    assert [round(la.opacity, 2) for la in ev.at(0.5).layers] == [
        0.5,
        1.0,
    ]  # the third is not there
    grouped = []
    for name in ("a", "b", "c"):
        made = wearing(
            shape(),
            "fade",
            "arrive",
            spread__over="group",
            spread__tempo="shared",
            spread__width=1.0,
            easing="linear",
        )
        one = made.scenes[0].layers[0]
        grouped.append(one.model_copy(update={"id": name, "name": name, "group": "g"}))
    from young_comet.core.model import Group

    ev = SceneEvaluator(project(*grouped, groups=(Group(id="g", name="G"),)), "reveal")
    assert {la.id: round(la.opacity, 2) for la in ev.at(0.5).layers} == {"a": 1.0, "b": 0.5}


# Operations


def done(document, *edits):
    for edit in edits:
        document = apply_edit(document, parse_edit({**S, **edit}), CONTEXT).project
    return document


def wear(move, phase="arrive", **more):
    return {
        "kind": "wear-move",
        "layers": ["kite"],
        "id": f"{move}-{phase}",
        "move": move,
        "phase": phase,
        **more,
    }


def kite(document):
    return document.scenes[0].layers[0]


def test_wearing_gives_a_phase_its_length_and_replaces_what_was_worn():
    document = done(project(shape()), wear("lift", values={"distance": 30}))
    assert kite(document).arrive_s == pytest.approx(0.9)
    again = done(document, wear("fade"))
    assert [m.kind for m in kite(again).moves] == ["fade"]
    assert not any(name.startswith("move.lift") for name in kite(again).properties)
    both = done(document, wear("fade", besides=True), wear("sway", "dwell"), wear("sink", "leave"))
    assert [m.kind for m in kite(both).moves] == ["lift", "fade", "sway", "sink"]
    assert kite(both).leave_s == pytest.approx(0.54)


@pytest.mark.parametrize(
    ("edit", "word"),
    [
        (wear("gust"), "a move of the catalog"),
        (wear("lift", "dwell"), "arrive or leave"),
        (wear("sway", "leave"), "dwell"),
        (wear("lift", values={"wind": 3}), "parameters of Lift"),
        (wear("lift", values={"distance": -3}), "from 0"),
        (
            {"kind": "remove-members", "family": "move", "layer": "kite", "members": ["gone"]},
            "no move",
        ),
        ({"kind": "copy-moves", "layer": "kite", "targets": ["kite"]}, "wears no moves"),
    ],
)
def test_impossible_moves_are_refused(edit, word):
    with pytest.raises(DocumentError, match=word):
        done(project(shape()), edit)


def test_copied_moves_come_with_their_values_and_lengths():
    document = project(shape(), layer("bow", "text", 0, 2))
    document = done(document, wear("lift", values={"distance": 30}), wear("fade", "leave"),
                    {"kind": "copy-moves", "layer": "kite", "targets": ["bow"]})  # fmt: skip
    bow = document.scenes[0].layers[1]
    assert [m.kind for m in bow.moves] == ["lift", "fade"] and bow.arrive_s == 0.9
    assert bow.properties["move.lift-arrive.distance"].value == 30


@pytest.mark.parametrize(
    "move", ["fade", "lift", "sink", "grow", "widen", "spring-in", "drop", "unroll", "open", "iris",
             "focus", "turn-in", "spin", "draw-on", "tracking"],
)  # fmt: skip
def test_moves_become_keys_that_look_the_same(move):
    base = base_for(MOVES[move])
    document = done(project(base), wear(move))
    keyed = done(document, {"kind": "moves-to-keys", "layers": ["kite"]})
    assert not kite(keyed).moves and any(p.keys for p in kite(keyed).properties.values())
    assert sum(len(p.keys) for p in kite(keyed).properties.values()) < 90
    length = kite(document).arrive_s
    for t in (0.2, 0.44, 0.72, 1.0, 2.0):
        a, b = (draw(d, t * length).astype(int) for d in (document, keyed))
        assert np.abs(a - b).mean() < 1.2
        assert np.percentile(np.abs(a - b), 97) <= 24


def test_a_spread_over_letters_cannot_become_keys():
    document = done(project(text()), wear("lift", values={"spread.over": "letters"}))
    with pytest.raises(DocumentError, match="letters"):
        done(document, {"kind": "moves-to-keys", "layers": ["kite"]})


@pytest.mark.parametrize("move", ["turn-in", "spin"])
def test_a_turn_about_a_hinge_cannot_become_keys(move):
    document = done(project(shape()), wear(move, values={"hinge": "left"}))
    with pytest.raises(DocumentError, match="hinge has no keys"):
        done(document, {"kind": "moves-to-keys", "layers": ["kite"]})
    assert kite(document).moves


def test_moves_are_properties_of_the_layer():
    document = done(project(shape()), wear("lift"), {"kind": "set-values", "targets": [
        {"layer": "kite", "property": "move.lift-arrive.distance", "value": 12}]})  # fmt: skip
    assert kite(document).properties["move.lift-arrive.distance"].value == 12
    assert layer_kind("shape").spec("move.lift-arrive.distance") is None
    assert REST.then(REST) == REST


def test_a_backdrop_that_fades_shows_its_masks_over_the_stage():
    sky = layer("sky", "backdrop").model_copy(update={"masks": (Mask(id="a", name="A"),)})
    evaluator = SceneEvaluator(wearing(sky, "fade", "arrive"), "reveal")
    (view,) = paths_view(evaluator, evaluator.scene.layers[0], 0.2)
    assert view["property"] == "mask.a.path" and view["matrix"] == (1, 0, 0, 1, 160, 90)


@pytest.mark.parametrize("kind", ARRIVING, ids=lambda k: k.id)
def test_what_leaves_is_named_by_what_is_seen(kind):
    """A thing that sinks goes down, one that lifts goes up, whichever phase it is in."""
    assert kind.leaving is not None and kind.said("leave") == kind.leaving[0]
    assert kind.said("arrive") == kind.label
    named = {"lift": -1, "sink": 1}
    for phase in ("arrive", "leave"):
        way = named.get(kind.said(phase).lower())
        if way is None:
            continue
        # One that arrives is shown to its end, one that leaves from its start.
        document = wearing(shape(), kind.id, phase, length=1.0, measure="px",
                           distance=60.0, easing="linear")  # fmt: skip
        starts = 0.0 if phase == "arrive" else 3.0
        ys = []
        for time_s in (starts + 0.3, starts + 0.6):
            rows = np.nonzero(draw(document, time_s)[..., 2].max(axis=1) > 90)[0]
            ys.append(float(rows.mean()))
        assert (ys[1] - ys[0]) * way > 5, (phase, ys)


def test_labels_tell_the_phase_in_lanes_and_the_history():
    worn = done(project(shape()), wear("lift", phase="leave"))
    edit = parse_edit({**S, **wear("lift", phase="leave")})
    assert edit.label(worn).startswith("Sink")
    assert (
        lane_label(kite(worn), find_spec(kite(worn), "move.lift-leave.distance-em"))
        == "Sink: distance"
    )
