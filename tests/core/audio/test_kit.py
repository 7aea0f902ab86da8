"""The kit of sounds: every one of them, in every version, is a sound and what it says it is."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.audio.kit import FAMILIES, KIT, LONGEST_S, SHORTEST_S, Wish
from young_comet.errors import DocumentError, NotFoundError

ALL = [each.id for each in KIT.values()]
QUICK = [each.id for each in KIT.values() if each.family != "bed"]


def level(sound):
    """How loud it is about each sample (over 10 ms)."""
    return np.sqrt(np.convolve((sound.astype(float) ** 2).mean(axis=1), np.ones(480) / 480, "same"))


def centre(sound):
    """The middle of its spectrum in Hz."""
    power = np.abs(np.fft.rfft(sound.mean(axis=1))) ** 2
    return float((power * np.fft.rfftfreq(len(sound), 1 / SAMPLE_RATE)).sum() / power.sum())


def test_there_are_enough_of_each_family():
    counts = Counter(each.family for each in KIT.values())
    assert set(counts) == {family for family, _ in FAMILIES}
    assert all(counts[family] >= 6 for family in counts if family != "bed")
    beds = [each for each in KIT.values() if each.family == "bed"]
    assert len(beds) >= 3 and len({bed.tempo for bed in beds}) >= 2
    assert all(20 <= bed.length_s <= 40 for bed in beds)
    assert len({each.label for each in KIT.values()}) == len(KIT)


@pytest.mark.parametrize("id", ALL)
def test_every_sound_is_one(id):
    sound = KIT[id]
    made = sound.make(Wish(sound.length_s))
    assert made.shape == (round(sound.length_s * SAMPLE_RATE), 2) and made.dtype == np.float32
    assert np.isfinite(made).all() and 0.4 <= np.abs(made).max() <= 0.85
    assert abs(made.mean()) < 0.01
    assert np.abs(made[:, 0] - made[:, 1]).max() > 0.01 or sound.family == "tick"  # two sides
    if not sound.loops:
        assert np.abs(made[0]).max() < 0.02 and np.abs(made[-1]).max() < 0.02


@pytest.mark.parametrize("id", QUICK)
def test_it_is_the_same_each_time_and_another_with_another_seed(id):
    sound = KIT[id]
    length_s = min(sound.length_s, 1.0)
    first, again, other = (sound.make(Wish(length_s, seed=seed)) for seed in (3, 3, 4))
    assert np.array_equal(first, again) and not np.array_equal(first, other)


@pytest.mark.parametrize("id", [i for i in QUICK if KIT[i].family in ("whoosh", "riser", "hit")])
@pytest.mark.parametrize("length_s", [0.4, 1.0, 3.0])
def test_its_moment_is_where_it_strikes_or_is_loudest(id, length_s):
    sound = KIT[id]
    found = level(sound.make(Wish(length_s)))
    if sound.family == "hit":  # it strikes at once, whatever rings on
        assert int((found > 0.4 * found.max()).argmax()) < 0.06 * SAMPLE_RATE
        return
    loudest = int(found.argmax()) / SAMPLE_RATE
    assert abs(loudest - sound.moment_s(length_s)) < max(0.12, 0.1 * length_s)


@pytest.mark.parametrize("id", [i for i in QUICK if KIT[i].family in ("whoosh", "chime", "drone")])
def test_pitch_and_brightness_go_up(id):
    sound = KIT[id]
    length_s = min(2.0, sound.length_s)
    plain = centre(sound.make(Wish(length_s)))
    assert centre(sound.make(Wish(length_s, pitch=1.5))) > 1.15 * plain
    assert centre(sound.make(Wish(length_s, bright=2.0))) > plain


@pytest.mark.parametrize("id", [i for i in QUICK if KIT[i].loops])
def test_what_loops_goes_on_smoothly(id):
    made = KIT[id].make(Wish(4.0))
    seam = np.concatenate([made[-2:], made[:2]])
    steps = np.abs(np.diff(made, axis=0)).max()
    assert np.abs(np.diff(seam, axis=0)).max() <= steps


@pytest.mark.parametrize("id", QUICK)
@pytest.mark.parametrize(
    "wish", [Wish(SHORTEST_S), Wish(0.3, 4.0, 2.0), Wish(0.3, 0.25, 0.5), Wish(0.5, 1, 1, 999_999)]
)
def test_extremes_are_sounds_too(id, wish):
    made = KIT[id].make(wish)
    assert np.isfinite(made).all() and np.abs(made).max() <= 0.85
    assert len(made) == round(wish.length_s * SAMPLE_RATE)


def test_what_is_not_there_is_said():
    with pytest.raises((DocumentError, NotFoundError), match="sound of the kit"):
        KIT.known("hit-nobody")
    assert LONGEST_S >= 40
