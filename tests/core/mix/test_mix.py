"""The mix of a scene against plain sums of arrays."""

from __future__ import annotations

import numpy as np
import pytest
from tests.build import key, layer, scene
from tests.sounds import Recordings, asset, noise, tone

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.catalog import LAYER_KINDS, check_project
from young_comet.core.mix import SceneMix, is_heard
from young_comet.core.model import Project, Property, Transition
from young_comet.core.resolve import SceneEvaluator
from young_comet.errors import MediaError, NotFoundError

BED, HIT = noise(3.0, 1), tone(220, 0.5)
SOUNDS = Recordings(bed=BED, hit=HIT)
ASSETS = (asset("bed", BED), asset("hit", HIT))
WHOLE = 4 * SAMPLE_RATE


def document(*layers, scenes=(), **more):
    whole = Project(
        id="kites", name="Kite Week", scenes=(scene(*layers, **more), *scenes), assets=ASSETS
    )
    return check_project(whole)


def heard(*layers, **more):
    return SceneMix.of(document(*layers, **more), "reveal", SOUNDS).read(0, WHOLE)


def bed(id="bed", start_s=0.0, end_s=4.0, **values):
    return layer(id, "sound", start_s, end_s, sound__asset="bed", **values)


def hit(id="hit", start_s=1.0, end_s=4.0, **values):
    return layer(id, "sound", start_s, end_s, sound__asset="hit", **values)


def laid(samples, at=0, count=WHOLE):
    out = np.zeros((count, 2))
    end = min(count, at + len(samples))
    out[at:end] = samples[: end - at]
    return out


def test_a_mix_is_the_sum_of_its_parts():
    mixed = heard(bed(), hit(), hit("again", 2.5))
    expected = laid(BED) + laid(HIT, SAMPLE_RATE) + laid(HIT, round(2.5 * SAMPLE_RATE))
    assert np.abs(mixed - expected).max() < 1e-6


def test_the_same_samples_come_whatever_is_read():
    mix = SceneMix.of(document(bed(time__speed=130.0), hit(sound__gain=-3.0)), "reveal", SOUNDS)
    whole = mix.read(0, WHOLE)
    again = SceneMix.of(document(bed(time__speed=130.0), hit(sound__gain=-3.0)), "reveal", SOUNDS)
    for first, count in ((100_000, 50_000), (3, 7), (WHOLE - 100, 300), (-50, 100), (65_530, 20)):
        piece = again.read(first, count)
        low, high = max(0, first), min(WHOLE, first + count)
        assert np.array_equal(piece[low - first : high - first], whole[low:high])
        assert not piece[: max(0, -first)].any() and not piece[max(0, WHOLE - first) :].any()


def test_gain_pan_and_mute():
    assert np.abs(heard(bed(sound__gain=-6.0)) - laid(BED) * 10 ** (-6 / 20)).max() < 1e-9
    assert not heard(bed(sound__gain=-96.0)).any() and not heard(bed(sound__muted=True)).any()
    hidden = bed().model_copy(update={"hidden": True})
    assert not heard(hidden).any()
    left = heard(bed(sound__pan=-100.0))
    assert np.abs(left[:, 0] - laid(BED)[:, 0]).max() < 1e-9 and np.abs(left[:, 1]).max() < 1e-9
    right = heard(bed(sound__pan=50.0))
    factors = np.array([np.cos(np.pi / 4), 1.0])
    assert np.abs(right - laid(BED) * factors).max() < 1e-9


def test_a_gain_with_keys_is_exact_at_every_sample():
    mixed = heard(bed(sound__gain=[key(0.5, -24.0), key(2.0, 6.0)]))
    at = np.arange(WHOLE) / SAMPLE_RATE
    db = np.interp(at, [0.5, 2.0], [-24.0, 6.0])
    assert np.abs(mixed - laid(BED) * (10 ** (db / 20))[:, None]).max() < 1e-6


def test_a_formula_works_on_the_gain():
    at = np.arange(WHOLE) / SAMPLE_RATE
    swelling = bed()
    prop = Property(value=0.0, expression="-10 * t")
    swelling = swelling.model_copy(
        update={"properties": {**swelling.properties, "sound.gain": prop}}
    )
    assert np.abs(heard(swelling) - laid(BED) * (10 ** (-10 * at / 20))[:, None]).max() < 1e-6


@pytest.mark.parametrize(
    ("shape", "formula"),
    [
        ("even", lambda x: x),
        ("power", lambda x: np.sin(x * np.pi / 2)),
        ("smooth", lambda x: 3 * x**2 - 2 * x**3),
        ("decibels", lambda x: np.where(x > 0, 10 ** (3 * (x - 1)), 0)),
    ],
)
def test_fades_are_their_formulas(shape, formula):
    mixed = heard(
        bed(end_s=2.0, sound__fade_in=0.5, sound__fade_in_shape=shape, sound__fade_out=1.0,
            sound__fade_out_shape=shape)
    )  # fmt: skip
    at = np.arange(2 * SAMPLE_RATE) / SAMPLE_RATE
    factor = formula(np.clip(at / 0.5, 0, 1)) * formula(np.clip((2.0 - at) / 1.0, 0, 1))
    expected = laid(BED[: 2 * SAMPLE_RATE] * factor[:, None])
    assert np.abs(mixed - expected).max() < 1e-6


# Time


def test_trim_and_slip_play_what_they_name():
    mixed = heard(bed(start_s=1.0, time__from=0.5, time__to=1.5, time__offset=0.25))
    part = BED[round(0.75 * SAMPLE_RATE) : round(1.5 * SAMPLE_RATE)]
    assert np.abs(mixed - laid(part, SAMPLE_RATE)).max() < 1e-6


def test_a_slip_before_the_part_begins_with_silence():
    mixed = heard(bed(time__from=0.5, time__offset=-0.25))
    part = BED[round(0.5 * SAMPLE_RATE) :]
    assert np.abs(mixed - laid(part, round(0.25 * SAMPLE_RATE))).max() < 1e-6


@pytest.mark.parametrize(("after", "back"), [("loop", False), ("there-and-back", True)])
def test_a_part_is_played_again(after, back):
    mixed = heard(hit(start_s=0.0, time__after=after, time__times=3.0))
    tones = [HIT, HIT[::-1] if back else HIT, HIT]
    inside = np.concatenate(tones)
    edge = 40  # samples about a seam are read across it
    for turn in range(3):
        low, high = turn * len(HIT) + edge, (turn + 1) * len(HIT) - edge
        # Backwards the samples lie between those of the file: a sine tells where.
        expected = inside[low:high] if not (back and turn == 1) else inside[low - 1 : high - 1]
        assert np.abs(mixed[low:high] - expected).max() < 1e-4
    assert not mixed[3 * len(HIT) + edge :].any()


@pytest.mark.parametrize("speed", [50.0, 83.0, 137.0, 200.0, 400.0])
def test_a_speed_changes_the_pitch_and_nothing_else(speed):
    long = tone(300, 3.0)
    sounds = Recordings(bed=long)
    mix = SceneMix.of(document(bed(time__speed=speed)), "reveal", sounds)
    count = round(2.9 * SAMPLE_RATE / max(1.0, speed / 100))
    found = mix.read(0, count)[400:-400]
    expected = tone(300 * speed / 100, 4.0)[400 : count - 400]
    error = np.sqrt(((found - expected) ** 2).mean() / (expected**2).mean())
    assert 20 * np.log10(error) < -90


def test_backwards_is_backwards():
    mixed = heard(hit(start_s=0.0, time__reversed=True))
    assert np.abs(mixed[50 : len(HIT) - 50] - HIT[::-1][49 : len(HIT) - 51]).max() < 1e-4


# Ducking


def test_a_bed_ducks_under_a_hit_and_comes_back():
    ducking = bed(end_s=4.0, sound__duck_under="hit", sound__duck_by=12.0, sound__duck_attack=0.2,
                  sound__duck_release=0.5)  # fmt: skip
    loud = np.ones_like(BED)
    sounds = Recordings(bed=loud, hit=HIT)
    whole = document(ducking, hit(start_s=1.0))
    mix = SceneMix.of(whole, "reveal", sounds)
    alone = SceneMix.of(document(hit(start_s=1.0)), "reveal", sounds)
    level = (mix.read(0, WHOLE) - alone.read(0, WHOLE))[:, 0]

    def db(at_s):
        return 20 * np.log10(level[round(at_s * SAMPLE_RATE)])

    assert db(0.5) == pytest.approx(0) and db(0.79) == pytest.approx(0)
    assert db(0.9) == pytest.approx(-6, abs=0.1)  # half of the attack
    assert db(1.01) == pytest.approx(-12) and db(1.45) == pytest.approx(-12)
    assert db(1.75) == pytest.approx(-6, abs=0.3) and db(2.1) == pytest.approx(0)


def test_two_that_duck_under_each_other_are_heard():
    first = bed("one", sound__duck_under="two", sound__duck_by=6.0)
    second = hit("two", sound__duck_under="one", sound__duck_by=6.0)
    mixed = heard(first, second)
    middle = slice(round(1.1 * SAMPLE_RATE), round(1.4 * SAMPLE_RATE))
    expected = (laid(BED) + laid(HIT, SAMPLE_RATE)) * 10 ** (-6 / 20)
    assert np.abs(mixed[middle] - expected[middle]).max() < 1e-6


def test_what_ducks_under_itself_or_nothing_does_not():
    for name in ("bed", "nobody", ""):
        assert np.abs(heard(bed(sound__duck_under=name)) - laid(BED)).max() < 1e-9


# Scenes within scenes


def inner(*layers, id="inner", length_s=2.0):
    return scene(*layers).model_copy(update={"id": id, "name": id.title(), "length_s": length_s})


def placed(start_s=1.0, end_s=4.0, **values):
    return layer("placed", "scene", start_s, end_s, scene__id="inner", **values)


def test_a_placed_scene_brings_its_sound_cut_to_its_span():
    whole = document(placed(1.0, 2.5, sound__gain=-6.0), scenes=(inner(bed(end_s=2.0)),))
    mixed = SceneMix.of(whole, "reveal", SOUNDS).read(0, WHOLE)
    part = BED[: round(1.5 * SAMPLE_RATE)] * 10 ** (-6 / 20)
    assert np.abs(mixed - laid(part, SAMPLE_RATE)).max() < 1e-6


def test_a_placed_scene_at_double_speed_sounds_an_octave_higher():
    low = tone(200, 2.0)
    whole = document(placed(0.0, 4.0, time__speed=200.0), scenes=(inner(bed(end_s=2.0)),))
    mixed = SceneMix.of(whole, "reveal", Recordings(bed=low)).read(0, SAMPLE_RATE)
    expected = tone(400, 1.0)
    assert np.abs(mixed[400:-400] - expected[400:-400]).max() < 1e-3


def test_a_frozen_scene_is_silent():
    whole = document(placed(0.0, 4.0, time__frozen=True), scenes=(inner(bed(end_s=2.0)),))
    assert not SceneMix.of(whole, "reveal", SOUNDS).read(0, WHOLE).any()


# What cannot be heard


@pytest.mark.parametrize("kind", LAYER_KINDS)
def test_every_kind_of_layer_without_a_sound_is_silent(kind):
    whole = document(layer("kite", kind))
    assert not is_heard(SceneEvaluator(whole, "reveal"))
    assert not SceneMix.of(whole, "reveal", SOUNDS).read(0, 1000).any()


@pytest.mark.parametrize("on", [False, True])
def test_a_clip_is_heard_where_that_is_switched_on(on):
    clip = asset("bed", BED, "clip", width=64, height=36, frame_count=75)
    whole = Project(id="kites", name="Kite Week", assets=(clip,),
                    scenes=(scene(layer("clip", "clip", clip__asset="bed", sound__on=on)),))  # fmt: skip
    assert is_heard(SceneEvaluator(whole, "reveal")) == on
    mixed = SceneMix.of(whole, "reveal", SOUNDS).read(0, WHOLE)
    assert np.abs(mixed - laid(BED) * on).max() < 1e-9


def test_a_sound_whose_file_is_gone_is_named_and_the_others_are_heard():
    class Some(Recordings):
        def sound(self, hash):
            if hash == ASSETS[0].hash:
                raise NotFoundError("the file is missing")
            return super().sound(hash)

    mix = SceneMix.of(document(bed(), hit()), "reveal", Some(hit=HIT))
    assert mix.faults == {"bed": "the file is missing"}
    assert np.abs(mix.read(0, WHOLE) - laid(HIT, SAMPLE_RATE)).max() < 1e-9


@pytest.mark.parametrize("extreme", [
    {"time__speed": 1.0}, {"time__speed": 10_000.0}, {"time__from": 2.9999}, {"time__to": 0.0001},
    {"time__offset": 36_000.0}, {"time__offset": -36_000.0}, {"sound__fade_in": 600.0},
    {"time__to": 0.0001, "time__after": "loop"}, {"sound__gain": 24.0},
])  # fmt: skip
def test_extremes_give_numbers(extreme):
    mixed = heard(bed(**extreme))
    assert np.isfinite(mixed).all() and np.abs(mixed).max() < 10


def old_clip():
    """A clip as documents had it before sound was read: nothing is known of its sound."""
    clip = asset("bed", BED, "clip", width=64, height=36, frame_count=75, channels=0)
    shown = scene(layer("clip", "clip", clip__asset="bed", sound__on=True))
    return Project(id="kites", name="Kite Week", assets=(clip,), scenes=(shown,))


def test_an_older_clip_is_heard_if_it_has_sound_and_silent_if_not():
    assert np.abs(SceneMix.of(old_clip(), "reveal", SOUNDS).read(0, WHOLE) - laid(BED)).max() < 1e-9

    class Silent:
        def sound(self, hash):
            raise MediaError("there is no sound in it")

    mix = SceneMix.of(old_clip(), "reveal", Silent())
    assert not mix.voices and not mix.faults


def test_a_curve_that_rushes_through_its_source_is_silent_there():
    rush = layer("clip", "clip", clip__asset="bed", sound__on=True, time__curve=True,
                 time__source=[key(0, 0.0), key(1.0, 1.0), key(1.0005, 2.9), key(2.0, 2.0)])  # fmt: skip
    clip = asset("bed", BED, "clip", width=64, height=36, frame_count=75)
    whole = Project(id="kites", name="Kite Week", assets=(clip,), scenes=(scene(rush),))
    mixed = SceneMix.of(whole, "reveal", SOUNDS).read(0, WHOLE)
    assert np.abs(mixed[100:47_000] - BED[100:47_000]).max() < 1e-6
    assert not mixed[48_002:48_020].any() and mixed[50_000:60_000].any()


def test_a_formula_is_not_asked_more_often_than_it_is_drawn():
    asked = []
    swelling = bed()
    prop = Property(value=0.0, expression="-t / 100")
    swelling = swelling.model_copy(
        update={"properties": {**swelling.properties, "sound.gain": prop}}
    )
    mix = SceneMix.of(document(swelling), "reveal", SOUNDS)
    voice = mix.voices["bed"]
    found = type(voice.values).at

    def counted(values, local_s):
        asked.append(local_s)
        return found(values, local_s)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(type(voice.values), "at", counted)
        gain = mix.gain_at(voice, np.linspace(0, 3 * SAMPLE_RATE, 40))
    assert len(asked) < 200
    assert gain == pytest.approx(10 ** (-np.linspace(0, 3, 40) / 100 / 20), abs=1e-6)


# Another speed, the same pitch


def pitch_of(samples):
    """The frequency of a tone, Hz, by its spectrum."""
    window = samples[:, 0] * np.hanning(len(samples))
    return np.abs(np.fft.rfft(window)).argmax() * SAMPLE_RATE / len(samples)


@pytest.mark.parametrize("speed", [50.0, 80.0, 125.0, 200.0])
def test_a_sound_can_keep_its_pitch(speed):
    long = tone(220, 3.0)
    sounds = Recordings(bed=long)
    for keeps, expected in ((True, 220), (False, 220 * speed / 100)):
        whole = document(bed(time__speed=speed, sound__keeps_pitch=keeps))
        mixed = SceneMix.of(whole, "reveal", sounds).read(0, WHOLE)
        lasts = min(4.0, 3.0 / (speed / 100))
        assert np.abs(mixed[round(lasts * SAMPLE_RATE) + 2400 :]).max(initial=0) < 1e-6
        middle = mixed[SAMPLE_RATE // 4 : SAMPLE_RATE // 4 + SAMPLE_RATE]
        assert pitch_of(middle) == pytest.approx(expected, abs=1.5)


@pytest.mark.parametrize("speed", [25.0, 50.0, 90.0, 110.0, 150.0, 300.0])
def test_what_keeps_its_pitch_is_where_its_speed_has_it(speed):
    bursts = np.zeros((3 * SAMPLE_RATE, 2), np.float32)
    starts = [0.3, 0.9, 1.6]
    for number, at in enumerate(starts):
        first = round(at * SAMPLE_RATE)
        bursts[first : first + 1440] = noise(0.03, number)
    whole = document(bed(time__speed=speed, sound__keeps_pitch=True))
    mixed = SceneMix.of(whole, "reveal", Recordings(bed=bursts)).read(0, WHOLE)
    loud = mixed[:, 0] ** 2
    for at in starts:
        middle = (at + 0.015) / (speed / 100)
        low, high = round((middle - 0.15) * SAMPLE_RATE), round((middle + 0.15) * SAMPLE_RATE)
        if low < 0 or high > WHOLE:
            continue
        part = loud[low:high]
        found = (part * np.arange(len(part))).sum() / part.sum() / SAMPLE_RATE - 0.15
        assert abs(found) < (0.04 if speed < 50 else 0.012)


def test_kept_pitch_goes_with_trims_loops_and_reverse():
    def played(**values):
        return heard(bed(time__speed=50.0, sound__keeps_pitch=True, **values))

    slow = played()
    trimmed = played(time__from=1.0, time__to=1.5)
    assert (
        np.abs(trimmed[: SAMPLE_RATE - 10] - slow[2 * SAMPLE_RATE : 3 * SAMPLE_RATE - 10]).max()
        < 1e-6
    )
    assert np.abs(trimmed[SAMPLE_RATE + 10 :]).max() == 0
    looped = played(time__from=1.0, time__to=1.5, time__after="loop")
    assert (
        np.abs(looped[: SAMPLE_RATE - 100] - looped[SAMPLE_RATE : 2 * SAMPLE_RATE - 100]).max()
        < 1e-3
    )
    back = played(time__to=2.0, time__reversed=True)
    turned = slow[::-1]
    apart = [np.abs(np.roll(back, n, axis=0) - turned)[900:-900].max() for n in range(-2, 3)]
    assert min(apart) < 0.02  # as the same, but for a sample


def test_beyond_its_reach_pitch_follows_speed():
    fast = heard(bed(time__speed=1000.0, sound__keeps_pitch=True))
    assert np.abs(fast - heard(bed(time__speed=1000.0))).max() == 0


def test_a_mix_with_kept_pitch_is_the_same_wherever_it_is_read():
    whole = document(bed(time__speed=70.0, sound__keeps_pitch=True))
    mix = SceneMix.of(whole, "reveal", SOUNDS).read(0, WHOLE)
    again = SceneMix.of(whole, "reveal", SOUNDS)
    for first, count in ((100_000, 3000), (3, 7), (65_530, 20)):
        assert np.array_equal(again.read(first, count), mix[first : first + count])


# Scenes that cross


ONE, OTHER = noise(4.0, 1), noise(4.0, 2)
PAIR = Recordings(bed=ONE, hum=OTHER)


def crossing(length_s=1.0, joint=2.0, **values):
    """Two scenes with a tone each, joined by a cross-fade."""
    inner = [
        scene(layer("tone", "sound", 0, 4.0, sound__asset=name)).model_copy(
            update={"id": f"in-{name}", "name": name}
        )
        for name in ("bed", "hum")
    ]
    first = layer("first", "scene", 0, joint, scene__id="in-bed")
    second = layer("second", "scene", joint, 4.0, scene__id="in-hum", time__offset=1.0, **values)
    held = Transition(id="t", kind="cross-fade", before="first", length_s=length_s)
    second = second.model_copy(update={"transitions": (held,)})
    made = document(first, second, scenes=inner)
    assets = (asset("bed", ONE), asset("hum", OTHER))
    return check_project(made.model_copy(update={"assets": assets}))


def test_scenes_that_cross_are_heard_crossing_at_one_power():
    mixed = SceneMix.of(crossing(), "reveal", PAIR).read(0, WHOLE)
    share = np.clip((np.arange(WHOLE) / SAMPLE_RATE - 1.5) / 1.0, 0, 1)[:, None]
    shift = round((2.0 - 1.0) * SAMPLE_RATE)  # the second of it at the joint is its first
    expected = laid(ONE) * np.cos(share * np.pi / 2) + laid(OTHER, shift) * np.sin(
        share * np.pi / 2
    )
    assert np.abs(mixed - expected).max() < 1e-6
    # What is heard of it before its own begin is what comes before that.
    assert np.abs(mixed[round(1.8 * SAMPLE_RATE) : round(1.9 * SAMPLE_RATE)]).max() > 0
    spans = [
        mixed[round(a * SAMPLE_RATE) : round(b * SAMPLE_RATE)]
        for a, b in ((0, 1.4), (1.6, 2.4), (2.6, 3.9))
    ]
    powers = [float((piece**2).mean()) for piece in spans]
    assert max(powers) / min(powers) < 1.1


def test_a_muted_or_slower_scene_crosses_within_its_span():
    mixed = SceneMix.of(crossing(time__speed=50.0), "reveal", PAIR).read(0, WHOLE)
    alone = laid(ONE)
    share = np.clip((np.arange(WHOLE) / SAMPLE_RATE - 1.5) / 1.0, 0, 1)[:, None]
    before = slice(0, 2 * SAMPLE_RATE)
    assert np.abs(mixed[before] - (alone * np.cos(share * np.pi / 2))[before]).max() < 1e-6
    mixed = SceneMix.of(crossing(sound__muted=True), "reveal", PAIR).read(0, WHOLE)
    assert not mixed[round(2.6 * SAMPLE_RATE) :].any()
