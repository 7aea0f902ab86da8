"""Beats of songs that are made by formulas: their moments are known."""

from __future__ import annotations

import numpy as np
import pytest
from tests.sounds import noise, tone

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.audio.beats import beats_of


def song(bpm, swing=0.5, bars=12, start_s=0.37, seed=1):
    """Drums, chords and a tune: kick on one and three, snare on two and four, hats on eighths that
    swing. The samples, and the moments of its beats."""
    chance, beat = np.random.default_rng(seed), 60 / bpm
    mono = np.zeros(int((bars * 4 * beat + start_s + 1) * SAMPLE_RATE))
    at = np.arange(int(0.3 * SAMPLE_RATE)) / SAMPLE_RATE
    kick = np.sin(2 * np.pi * (50 * at + 1.8 * (1 - np.exp(-at / 0.03)))) * np.exp(-at / 0.09)
    snare = chance.normal(0, 0.6, len(at)) + 0.5 * np.sin(2 * np.pi * 190 * at)
    hat = np.diff(chance.normal(0, 1, len(at) + 1)) * np.exp(-at / 0.02)

    def put(time_s, sound, gain):
        first = round(time_s * SAMPLE_RATE)
        room = min(len(sound), len(mono) - first)
        mono[first : first + room] += gain * sound[:room]

    def note(hertz, lasts, falls):
        when = np.arange(int(lasts * SAMPLE_RATE)) / SAMPLE_RATE
        return np.sin(2 * np.pi * hertz * when) * np.minimum(1, when / 0.02) * np.exp(-when / falls)

    roots = (110.0, 87.3, 130.8, 98.0)
    for number in range(bars * 4):
        now, root = start_s + number * beat, roots[number // 4 % 4]
        put(
            now,
            kick if number % 2 == 0 else snare * np.exp(-at / 0.07),
            0.9 if number % 2 == 0 else 0.6,
        )
        put(now, hat, 0.25)
        put(now + beat * swing, hat, 0.18)
        if number % 4 == 0:
            for part in (1, 1.5, 2.5):
                put(now, note(root * part, 4 * beat, 2 * beat), 0.12)
        if chance.random() < 0.6:
            late = beat * swing if chance.random() < 0.4 else 0
            put(now + late, note(root * 2 * chance.choice([1, 1.25, 1.5, 2]), beat, 0.2), 0.15)
    mono *= 0.8 / np.abs(mono).max()
    return np.stack([mono, mono], axis=1).astype(np.float32), start_s + beat * np.arange(bars * 4)


@pytest.mark.parametrize("swing", [0.5, 0.6, 0.66])
@pytest.mark.parametrize("bpm", [90, 120, 174])
def test_beats_are_found_where_they_are(bpm, swing):
    samples, beats = song(bpm, swing)
    found = beats_of(samples)
    times = np.array(found.times)
    assert found.tempo == pytest.approx(bpm, rel=2e-3)
    assert (np.abs(beats[:, None] - times[None]).min(axis=1) < 0.02).mean() >= 0.95
    # None between them; before and after the song it may go on counting.
    inside = times[(times > beats[0] - 0.05) & (times < beats[-1] + 0.05)]
    assert len(inside) == len(beats)
    # What is strong is the one, with the chords.
    assert abs(times[found.strong] - beats[0]) % (4 * 60 / bpm) == pytest.approx(0, abs=0.03)


@pytest.mark.parametrize(("bpm", "seed"), [(70, 2), (100, 3), (128, 4), (140, 5)])
def test_other_songs_at_other_tempos(bpm, seed):
    samples, beats = song(bpm, 0.55, seed=seed, start_s=0.11)
    samples = samples + noise(len(samples) / SAMPLE_RATE, level=0.02)[: len(samples)]
    times = np.array(beats_of(samples).times)
    assert (np.abs(beats[:, None] - times[None]).min(axis=1) < 0.02).mean() >= 0.95


def test_parts_begin_where_the_music_changes():
    calm, _ = song(120, bars=8, seed=6)
    loud, _ = song(120, bars=8, seed=7, start_s=0.37)
    wash = noise(len(loud) / SAMPLE_RATE, level=0.4)[: len(loud)]
    length = round(8 * 2.0 * SAMPLE_RATE)
    both = np.concatenate([calm[:length] * 0.3, (loud + wash)[:length]])
    found = beats_of(both)
    starts = [found.times[n] for n in found.sections]
    assert any(abs(start - (16 + 0.37)) < 2.1 for start in starts[1:]), starts
    assert len(starts) <= 4 and found.sections[0] == found.strong


@pytest.mark.parametrize(
    "samples",
    [np.zeros((0, 2)), np.zeros((SAMPLE_RATE * 5, 2)), tone(440, 0.5), np.full((9600, 2), 0.5)],
)
def test_what_has_no_beats_has_none(samples):
    assert beats_of(np.asarray(samples, np.float32)) is None


def test_a_steady_tone_is_taken_without_harm():
    found = beats_of(tone(440, 6.0))
    assert found is None or all(b > a for a, b in zip(found.times, found.times[1:], strict=False))
