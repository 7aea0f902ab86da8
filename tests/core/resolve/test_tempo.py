"""When the units of a move set out, how long each takes, and phases that follow from it."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from tests.build import CONTEXT, LIBRARY, draw, layer, project

from young_comet.core.model import (
    SCHEMA_VERSION,
    Effect,
    EffectSet,
    Move,
    Property,
    SetEffect,
    TypeStyle,
)
from young_comet.core.model.schema import load_project
from young_comet.core.moves import MOVES, PASSAGES
from young_comet.core.resolve import SceneEvaluator
from young_comet.core.timing import parse_easing
from young_comet.core.timing.spread import Tempo
from young_comet.edits import apply_edit, parse_edit
from young_comet.edits.apply import revert
from young_comet.errors import DocumentError

S = {"scene": "reveal"}
ARRIVING = [kind for kind in MOVES.values() if not kind.dwells]


def text(words="Kites over Gull Bay", length=6.0, **more):
    made = layer("kite", "text", text=words, text__size=40.0, position=[160, 90], **more)
    return made.model_copy(update={"end_s": length})


def scene(made):
    whole = project(made)
    long = whole.scenes[0].model_copy(update={"length_s": max(6.0, made.end_s)})
    return whole.model_copy(update={"scenes": (long,)})


def done(document, *edits):
    for edit in edits:
        document = apply_edit(document, parse_edit({**S, **edit}), CONTEXT).project
    return document


def wear(move, phase="arrive", over="letters", id="m", **values):
    given = {key.replace("__", ".").replace("_", "-"): value for key, value in values.items()}
    return {"kind": "wear-move", "layers": ["kite"], "id": id, "move": move, "phase": phase,
            "values": {"spread.over": over, **given}}  # fmt: skip


def kite(document):
    return document.scenes[0].layers[0]


# The arithmetic


@pytest.mark.parametrize("count", [1, 2, 7, 400])
@pytest.mark.parametrize("length", [0.1, 0.5, 2.0, 60.0])
def test_units_set_out_a_step_apart_and_are_all_there_in_time(count, length):
    tempo = Tempo(0.6, 0.035, count).within(length)
    assert tempo.whole_s <= length + 1e-9 and tempo.each_s == min(0.6, length)
    for rank in {0, count // 2, count - 1}:
        begin = rank * tempo.step_s
        assert tempo.share(begin, rank) == 0
        assert tempo.share(begin + tempo.each_s / 2, rank) == pytest.approx(0.5)
        assert tempo.share(begin + tempo.each_s + 1e-9, rank) == pytest.approx(1)
    assert tempo.share(length, count - 1) == pytest.approx(1)


def test_what_takes_no_time_is_there_at_its_turn():
    tempo = Tempo(0.0, 0.1, 3)
    assert [tempo.share(0.15, rank) for rank in range(3)] == [1, 1, 0]


def test_a_bounce_keeps_its_share_of_the_speed():
    """By the mechanics of free flight: with restitution r, flights take 2 r^n falls and rise to
    r^(2n) of the height."""
    for r in (0.2, 0.3, 0.5, 0.8):
        easing = parse_easing(f"bounce-out({r})")
        whole = 1 + 2 * (r + r**2 + r**3)
        times = np.linspace(0, 1, 20001)
        heights = np.array([1 - easing.at(t, 1.0) for t in times])
        begin = 1.0
        for n in (1, 2, 3):
            end = begin + 2 * r**n
            within = (times * whole > begin) & (times * whole < end)
            assert heights[within].max() == pytest.approx(r ** (2 * n), abs=2e-3)
            begin = end


# Letters of a text


def on_their_way(document, time_s):
    ev = SceneEvaluator(document, "reveal")
    return ev.layer(ev.find("kite"), time_s).content.units


def test_every_letter_takes_its_own_time_however_many_there_are():
    for words in ("Gull", "Kites over the whole of Gullwing Bay"):
        document = done(scene(text(words)), wear("fade", easing="linear"))
        letters = len(words.replace(" ", ""))
        assert kite(document).arrive_s == pytest.approx(0.6 + 0.035 * (letters - 1), abs=1e-5)
        for n, time_s in itertools.product((0, 2), (0.2, 0.4)):
            units = {unit.first: unit for unit in on_their_way(document, n * 0.035 + time_s)}
            assert units[n].place.opacity == pytest.approx(time_s / 0.6, abs=1e-6)


def test_what_leaves_goes_in_reading_order_and_is_gone_at_the_end():
    document = done(scene(text("Gull wing")), wear("fade", "leave", easing="linear"))
    leave_s = kite(document).leave_s
    assert leave_s == pytest.approx(0.36 + 0.021 * 7, abs=1e-5)
    units = on_their_way(document, 6.0 - leave_s + 0.1)
    opacities = [unit.place.opacity for unit in units]
    assert [unit.first for unit in units] == [0, 1, 2, 3, 5]
    assert opacities == sorted(opacities) and opacities[0] == pytest.approx(1 - 0.1 / 0.36)


def test_typing_is_taken_back_from_its_end():
    document = done(scene(text("Gull wing")), wear("type-on", "leave"))
    units = on_their_way(document, 6.0 - 0.08)
    gone = {unit.first for unit in units if unit.place.opacity == 0}
    assert 8 in gone and 0 not in gone


def test_a_wave_goes_through_the_letters_and_beats_strike_word_by_word():
    wave = done(scene(text()), wear("float", "dwell", spread__lag=0.2, every=2.0))
    ys = [unit.place.dy for unit in on_their_way(wave, 2.0)]
    late = [unit.place.dy for unit in on_their_way(wave, 2.2)]
    assert len(set(np.round(ys, 6))) > 4
    assert late[1:] == pytest.approx(ys[:-1], abs=1e-6)  # each does what the one before did
    beats = done(
        scene(text("Kites over Bay")),
        wear("pulse", "dwell", "words", turns=True, every=1.0, by=50.0, fall=0.1),
    )
    for n, first in enumerate((0, 6, 11)):
        units = on_their_way(beats, n + 0.08) if n else on_their_way(beats, 3.08)
        assert [unit.first for unit in units if unit.place.sx > 1.2] == [first]


def test_beats_go_by_turns_in_the_sequence_that_is_chosen():
    beats = done(
        scene(text("Kites over Bay")),
        wear("pulse", "dwell", "words", turns=True, every=1.0, by=50.0, fall=0.1,
             spread__order="back"),
    )  # fmt: skip
    for n, first in ((1, 6), (2, 0), (3, 11)):
        units = on_their_way(beats, n + 0.08)
        assert [unit.first for unit in units if unit.place.sx > 1.2] == [first]


# Phases that follow


def test_a_phase_follows_its_moves_until_somebody_says_how_long_it_is():
    document = done(scene(text("Gull")), wear("lift"))
    assert kite(document).arrive_follows
    longer = done(document, {"kind": "set-values", "targets": [
        {"layer": "kite", "property": "text", "value": "Gull wing bay"}]})  # fmt: skip
    assert kite(longer).arrive_s == pytest.approx(0.6 + 0.035 * 10, abs=1e-5)
    by_words = done(longer, {"kind": "set-values", "targets": [
        {"layer": "kite", "property": "move.m.spread.over", "value": "words"}]})  # fmt: skip
    assert kite(by_words).arrive_s == pytest.approx(0.6 + 0.09 * 2, abs=1e-5)
    held = done(by_words, {"kind": "set-phases", "layers": ["kite"], "arrive_s": 2.0})
    assert kite(held).arrive_s == 2.0 and not kite(held).arrive_follows
    stays = done(held, {"kind": "set-values", "targets": [
        {"layer": "kite", "property": "text", "value": "G"}]})  # fmt: skip
    assert kite(stays).arrive_s == 2.0
    again = done(stays, {"kind": "set-phases", "layers": ["kite"], "arrive_follows": True})
    assert kite(again).arrive_s == pytest.approx(0.6)


def test_both_phases_are_as_long_as_their_own_moves_take():
    document = done(
        scene(text("Gull wing")),
        wear("lift", spread__each=0.7),
        wear("fade", "leave", "words", id="n", spread__each=0.3, spread__step_words=0.1),
    )
    assert kite(document).arrive_s == pytest.approx(0.7 + 0.035 * 7, abs=1e-5)
    assert kite(document).leave_s == pytest.approx(0.3 + 0.1, abs=1e-5)


def test_a_phase_that_follows_has_room_and_none_without_moves():
    document = done(
        scene(text("Kites " * 40, length=3.0)), wear("lift"), wear("sink", "leave", id="n")
    )
    assert kite(document).arrive_s + kite(document).leave_s <= 3.0 + 1e-9
    assert kite(document).arrive_s > 1.4 and kite(document).leave_s > 1.4
    bare = done(document, {"kind": "remove-members", "family": "move", "layer": "kite",
                           "members": ["m", "n"]})  # fmt: skip
    assert (kite(bare).arrive_s, kite(bare).leave_s) == (0.0, 0.0)


def test_layers_of_a_group_follow_the_number_of_the_others():
    def named(id):
        made = layer(id, "shape", position=[160, 90]).model_copy(update={"end_s": 6.0, "name": id})
        return made

    whole = project(*(named(id) for id in ("kite", "bow", "tail")))
    longer = whole.scenes[0].model_copy(update={"length_s": 6.0})
    document = done(
        whole.model_copy(update={"scenes": (longer,)}),
        {"kind": "group-layers", "layers": ["kite", "bow", "tail"], "id": "g", "name": "Kite"},
        wear("lift", over="group"),
    )
    assert kite(document).arrive_s == pytest.approx(0.6 + 2 * 0.12)
    fewer = done(document, {"kind": "remove-layers", "layers": ["tail"]})
    assert kite(fewer).arrive_s == pytest.approx(0.6 + 0.12)


def test_following_is_undone_with_what_it_followed():
    before = done(scene(text("Gull")), wear("lift"))
    edit = {**S, "kind": "set-values", "targets": [
        {"layer": "kite", "property": "text", "value": "Gull wing bay"}]}  # fmt: skip
    applied = apply_edit(before, parse_edit(edit), CONTEXT)
    assert revert(applied.project, applied.inverse) == before
    assert revert(before, applied.forward) == applied.project


def test_cutting_a_layer_gives_neither_half_a_phase_back():
    document = done(scene(text()), wear("lift"), wear("sink", "leave", id="n"))
    halves = done(document, {"kind": "split-layers", "ids": {"kite": "tail"}, "time_s": 3.0})
    first, second = halves.scenes[0].layers
    assert first.leave_s == 0 and second.arrive_s == 0
    nudged = done(halves, {"kind": "set-values", "targets": [
        {"layer": "tail", "property": "opacity", "value": 50}]})  # fmt: skip
    assert nudged.scenes[0].layers[1].arrive_s == 0


@pytest.mark.parametrize(
    "over", [option for option, _ in MOVES["lift"].by_id["spread.over"].options]
)
@pytest.mark.parametrize("kind", ["text", "shape", "picture", "carrier"])
def test_every_spread_of_every_kind_gives_a_phase_a_length(kind, over):
    made = layer("kite", kind, position=[160, 90]).model_copy(update={"end_s": 4.0})
    document = done(scene(made), wear("lift", over=over), wear("lift", "leave", over, id="n"))
    assert 0.3 <= kite(document).leave_s <= kite(document).arrive_s <= 2.0


# Documents of before


@pytest.mark.parametrize("phase", ["arrive", "leave"])
@pytest.mark.parametrize("kind", ARRIVING, ids=lambda k: k.id)
def test_documents_from_before_keep_the_tempo_and_the_defaults_that_they_had(kind, phase):
    made = text().model_copy(
        update={"moves": (Move(id="m", kind=kind.id, phase=phase),), "arrive_s": 1.0, "leave_s": 1.0,
                "properties": {**text().properties, "move.m.spread.over": Property(value="letters")}}
    )  # fmt: skip
    data = {**scene(made).model_dump(mode="json"), "schema_version": 6}
    old = load_project(data)
    assert old.schema_version == SCHEMA_VERSION
    values = {name: prop.value for name, prop in kite(old).properties.items()}
    assert values["move.m.spread.tempo"] == "shared"
    assert values["move.m.spread.over"] == "letters"
    assert not kite(old).arrive_follows
    if kind.id == "lift":
        # 17 letters, three on their way at once: as it was worked out before.
        units = on_their_way(old, 0.5 if phase == "arrive" else 5.5)
        front = 0.5 * (16 - 1 + 3) - np.arange(16)
        share = np.clip(front / 3, 0, 1)
        letters = [n for n, each in enumerate("Kites over Gull Bay") if each != " "]
        far = {
            n: 90 * (1 - parse_easing("expo-out").at(s, 1.0))
            for n, s in zip(letters, share, strict=True)
        }
        for unit in units:
            assert unit.place.dy == pytest.approx(far[unit.first], abs=1e-6)


def test_letters_that_are_others_keep_the_room_of_the_right_ones():
    """Nothing shivers: whatever letter is shown, its middle is that of the one that belongs there,
    and what has settled stands where it will."""
    document = done(scene(text("Illuminating MW")), wear("scramble", spread__each=0.4))
    ev = SceneEvaluator(document, "reveal", library=LIBRARY)
    rest = ev.layer(ev.find("kite"), 5.0).content.layout(LIBRARY)
    middles = {g.cluster: g.middle for g in rest.glyphs}
    settled = {g.cluster: (g.id, g.x) for g in rest.glyphs}
    for time_s in (0.05, 0.2, 0.4, 0.6):
        content = ev.layer(ev.find("kite"), time_s).content
        assert content.text == "Illuminating MW" and content.others != content.text
        layout = content.layout(LIBRARY)
        assert layout.width == rest.width
        for g in layout.glyphs:
            assert g.middle == pytest.approx(middles[g.cluster])
            if content.others[g.cluster] == content.text[g.cluster]:
                assert (g.id, g.x) == settled[g.cluster]


# What is offered does something


def _wearer(kind, over):
    more = {"text": "Go up", "text__size": 40.0} if kind == "text" else {"shape__size": [70, 40]}
    if over == "slices":
        more |= {"slices__kind": "strips", "slices__count": 4.0}
    if over == "copies":
        more |= {"copies__count": 3.0, "copies__position": [40, 0]}
    stroke = {"stroke__width": 4.0, "stroke__colour": "#ffffff"} if kind == "shape" else {}
    return layer("kite", kind, position=[130, 90], fill__colour="#ffb44a", **more, **stroke)


@pytest.mark.parametrize("kind", ["text", "shape"])
@pytest.mark.parametrize("move", ARRIVING, ids=lambda k: k.id)
def test_no_move_that_is_offered_leaves_the_picture_at_rest_all_through_its_phase(move, kind):
    """Whatever it goes over, in both phases: something is seen of it by the middle."""
    if kind not in move.fits:
        pytest.skip("it is not offered")
    overs = (
        ["whole", "letters", "words", "lines", "group"] if kind == "text" else ["whole", "group"]
    )
    offered = {option for option, _ in move.by_id["spread.over"].options}
    overs = [over for over in (*overs, "slices", "copies") if over in offered]
    for over, phase in itertools.product(overs, ("arrive", "leave")):
        base = _wearer(kind, over)
        document = done(scene(base.model_copy(update={"end_s": 4.0})), wear(move.id, phase, over))
        resting = scene(base.model_copy(update={"end_s": 4.0}))
        length = kite(document).arrive_s if phase == "arrive" else kite(document).leave_s
        assert length > 0
        begin = 0.0 if phase == "arrive" else 4.0 - length
        moments = [begin + share * length for share in (0.12, 0.2, 0.35, 0.5, 0.6, 0.8)]
        differ = [
            np.abs(draw(document, t).astype(int) - draw(resting, t)).max() > 16 for t in moments
        ]
        assert any(differ), (over, phase)


# Passages


@pytest.mark.parametrize("kind", ["text", "shape"])
@pytest.mark.parametrize("passage", PASSAGES.values(), ids=lambda p: p.id)
def test_a_passage_comes_and_goes_on_everything_it_is_offered_for(passage, kind):
    base = _wearer(kind, "whole").model_copy(update={"end_s": 5.0})
    worn = {"kind": "wear-passage", "layers": ["kite"], "passage": passage.id}
    if not passage.fits(kind, MOVES):
        with pytest.raises(DocumentError, match="does nothing for a"):
            done(scene(base), worn)
        return
    document = done(scene(base), wear("fade"), worn)
    made, resting = kite(document), scene(base)
    assert [(m.phase, m.kind) for m in made.moves] == [(w.phase, w.kind) for w in passage.moves]
    assert 0 < made.arrive_s < 2.5 and 0 < made.leave_s <= made.arrive_s
    for begin, length in ((0.0, made.arrive_s), (5.0 - made.leave_s, made.leave_s)):
        moments = [begin + share * length for share in (0.12, 0.3, 0.5, 0.8)]
        assert any(
            np.abs(draw(document, t).astype(int) - draw(resting, t)).max() > 16 for t in moments
        )
    again = done(document, {"kind": "wear-passage", "layers": ["kite"], "passage": passage.id})
    assert kite(again).arrive_s == made.arrive_s  # worn twice it is worn once
    assert len(kite(again).moves) == len(made.moves)


# Effects of before


def test_effects_of_before_keep_their_defaults_also_in_saved_sets():
    kinds = ("glow", "drop-shadow", "texture", "grain", "wave")
    effects = tuple(Effect(id=f"e{n}", kind=each) for n, each in enumerate(kinds))
    made = text().model_copy(update={
        "effects": effects,
        "properties": {**text().properties, "effect.e1.distance": Property(value=77.0)},
    })  # fmt: skip
    saved = EffectSet(
        id="set", name="Set", effects=(SetEffect(kind="glow"), SetEffect(kind="wave"))
    )
    whole = scene(made).model_copy(update={"effect_sets": (saved,)})
    old = load_project({**whole.model_dump(mode="json"), "schema_version": 6})
    values = {name: prop.value for name, prop in kite(old).properties.items()}
    assert values["effect.e0.where"] == "screened" and values["effect.e1.contact"] == 0
    assert values["effect.e1.distance"] == 77 and values["effect.e1.softness"] == 10
    assert values["effect.e2.mode"] == "multiply" and values["effect.e3.amount"] == 12
    assert not any(name.startswith("effect.e4.") for name in values)
    glow, wave = old.effect_sets[0].effects
    assert glow.properties["where"].value == "screened" and not wave.properties
    new = load_project(whole.model_dump(mode="json"))
    assert "effect.e0.where" not in kite(new).properties


def test_gradients_of_before_are_mixed_as_they_were():
    graded = {"fill.kind": Property(value="linear"), "behind.kind": Property(value="linear")}
    made = text().model_copy(update={"properties": {**text().properties, **graded}})
    styles = (TypeStyle(id="s", name="S", properties={"fill.kind": "linear"}),
              TypeStyle(id="f", name="F", properties={"text.size": 40.0}))  # fmt: skip
    whole = scene(made).model_copy(update={"type_styles": styles})
    old = load_project({**whole.model_dump(mode="json"), "schema_version": 6})
    values = {name: prop.value for name, prop in kite(old).properties.items()}
    assert values["fill.mixing"] == values["behind.mixing"] == "plain"
    assert old.type_styles[0].properties["fill.mixing"] == "plain"
    assert "fill.mixing" not in old.type_styles[1].properties
    new = load_project(whole.model_dump(mode="json"))
    assert "fill.mixing" not in kite(new).properties
    flat = load_project({**scene(text()).model_dump(mode="json"), "schema_version": 6})
    assert "fill.mixing" not in kite(flat).properties
