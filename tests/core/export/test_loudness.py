"""Loudness by the reference signals of EBU Tech 3341 and 3342, and sound brought to a loudness."""

from __future__ import annotations

import math

import numpy as np
import pytest
from tests.sounds import noise, tone

from young_comet.core.audio import SAMPLE_RATE, limited, true_peaks
from young_comet.core.audio.kit import Wish
from young_comet.core.audio.kit.beds import BEDS
from young_comet.core.export import Soundtrack, levelled, measured

# EBU Tech 3341, table 1, signals 1 to 5: levels (dBFS) and lengths (s) of a tone of 1 kHz.
INTEGRATED = {
    "1": ([(-23, 20)], -23),
    "2": ([(-33, 20)], -33),
    "3": ([(-36, 10), (-23, 60), (-36, 10)], -23),
    "4": ([(-72, 10), (-36, 10), (-23, 60), (-36, 10), (-72, 10)], -23),
    "5": ([(-26, 20), (-20, 20.1), (-26, 20)], -23),
}
# EBU Tech 3342, table 1, signals 1 to 4.
RANGES = {
    "1": ([(-20, 20), (-30, 20)], 10),
    "2": ([(-20, 20), (-15, 20)], 5),
    "3": ([(-40, 20), (-20, 20)], 20),
    "4": ([(-50, 20), (-35, 20), (-20, 20), (-35, 20), (-50, 20)], 15),
}


def steps(parts):
    """A tone of 1 kHz, the same on both sides, at levels for so long each."""
    pieces = []
    for level, lasts in parts:
        at = np.arange(round(lasts * SAMPLE_RATE)) / SAMPLE_RATE
        pieces.append(10 ** (level / 20) * np.sin(2 * np.pi * 1000 * at))
    one = np.concatenate(pieces).astype(np.float32)
    return np.stack([one, one], axis=1)


def loudness_of(samples):
    return measured(lambda at, count: samples[at : at + count], len(samples))


@pytest.mark.parametrize("signal", INTEGRATED)
def test_integrated_loudness_of_the_reference_signals(signal):
    parts, expected = INTEGRATED[signal]
    assert loudness_of(steps(parts)).integrated == pytest.approx(expected, abs=0.1)


@pytest.mark.parametrize("signal", RANGES)
def test_loudness_range_of_the_reference_signals(signal):
    parts, expected = RANGES[signal]
    assert loudness_of(steps(parts)).range_lu == pytest.approx(expected, abs=1)


# EBU Tech 3341, table 1, signals 15 to 19: a sine at a part of the rate, with a phase.
@pytest.mark.parametrize(
    ("part", "phase", "level", "expected"),
    [(4, 0, 0.5, -6), (4, 45, 0.5, -6), (6, 60, 0.5, -6), (8, 67.5, 0.5, -6), (4, 45, 1.41, 3)],
)
def test_true_peaks_of_the_reference_signals(part, phase, level, expected):
    at = np.arange(SAMPLE_RATE)
    # Slowly in and out: an edge would have a peak of its own.
    shape = np.clip(np.minimum(at, at[::-1]) / 4800, 0, 1)
    wave = shape * level * np.sin(2 * np.pi * at / part + math.radians(phase))
    samples = np.stack([wave, wave], axis=1).astype(np.float32)
    assert -0.4 <= loudness_of(samples).true_peak - expected <= 0.2
    found = 20 * np.log10(true_peaks(samples.astype(np.float64)).max())
    assert found == pytest.approx(20 * math.log10(level), abs=0.05)


def test_what_is_silent_or_too_short_has_no_loudness():
    for samples in (np.zeros((SAMPLE_RATE * 2, 2), np.float32), tone(500, 0.1), tone(500, 0.0)):
        found = loudness_of(samples)
        assert found.integrated is None and "too soft or too short" in found.told()


def by_the_formulas(samples):
    """Integrated loudness by the formulas of BS.1770-4 and its filters, sample by sample."""
    energy = 0.0
    for channel in samples.T.astype(np.float64):
        for b, a in (
            ((1.53512485958697, -2.69169618940638, 1.19839281085285),
             (-1.69065929318241, 0.73248077421585)),
            ((1.0, -2.0, 1.0), (-1.99004745483398, 0.99007225036621)),
        ):  # fmt: skip
            out, x1, x2, y1, y2 = [], 0.0, 0.0, 0.0, 0.0
            for x in channel.tolist():
                y = b[0] * x + b[1] * x1 + b[2] * x2 - a[0] * y1 - a[1] * y2
                out.append(y)
                x1, x2, y1, y2 = x, x1, y, y1
            channel = np.array(out)
        energy = energy + np.square(channel)
    size, hop = round(0.4 * SAMPLE_RATE), round(0.1 * SAMPLE_RATE)
    starts = range(0, len(samples) - size + 1, hop)
    blocks = np.array([energy[at : at + size].mean() for at in starts])
    loud = -0.691 + 10 * np.log10(np.maximum(blocks, 1e-20))
    gate = -0.691 + 10 * math.log10(blocks[loud > -70].mean()) - 10
    return -0.691 + 10 * math.log10(blocks[(loud > -70) & (loud > gate)].mean())


@pytest.mark.parametrize("target", [-14, -16, -23])
def test_sound_is_brought_to_a_loudness_below_its_limit(target, tmp_path):
    bed = BEDS[0].make(Wish(8.0))
    samples = np.asarray(bed[: SAMPLE_RATE * 8], np.float32) * 0.2
    samples[SAMPLE_RATE * 3 : SAMPLE_RATE * 3 + 40] += 0.7  # a peak that must be held
    track = Soundtrack(len(samples), lambda at, count: samples[at : at + count])
    made, loudness = levelled(track, target, -1.0, tmp_path)
    result = made.read(0, made.count)
    assert made.count == len(samples) and loudness.integrated == pytest.approx(target, abs=0.1)
    assert by_the_formulas(result) == pytest.approx(target, abs=0.15)
    assert loudness.true_peak <= -0.97
    assert true_peaks(np.pad(result.astype(np.float64), ((23, 24), (0, 0)))).max() <= 10 ** (
        -0.95 / 20
    )
    # Only louder or softer, but for what is near the peak.
    quiet = slice(SAMPLE_RATE, SAMPLE_RATE * 2)
    factor = np.linalg.norm(result[quiet]) / np.linalg.norm(samples[quiet])
    assert np.abs(result[quiet] - samples[quiet] * factor).max() < 1e-3 * max(1, factor)


def test_what_is_silent_stays_silent_and_the_limit_wins(tmp_path):
    silence = np.zeros((SAMPLE_RATE, 2), np.float32)
    made, found = levelled(
        Soundtrack(len(silence), lambda a, n: silence[a : a + n]), -14, -1, tmp_path
    )
    assert found.integrated is None and not made.read(0, made.count).any()
    loud = tone(1000, 3.0, level=0.9)  # a tone cannot be louder than its peaks
    made, found = levelled(Soundtrack(len(loud), lambda a, n: loud[a : a + n]), -8, -12, tmp_path)
    assert found.true_peak <= -11.9 and found.integrated < -11


def test_a_limiter_leaves_alone_what_is_soft_and_does_not_depend_on_pieces(monkeypatch):
    from young_comet.core.audio import limiting

    samples = noise(1.0, level=0.4).astype(np.float64)
    samples[20_000:20_010] *= 6

    def through(piece, factor=1.0, ceiling=0.9):
        monkeypatch.setattr(limiting, "_PIECE", piece)
        return np.concatenate(
            list(limited(lambda at, n: samples[at : at + n], len(samples), factor, ceiling))
        )

    whole = through(1 << 16)
    assert np.abs(whole - through(997)).max() < 1e-9
    assert np.abs(whole).max() <= 0.9 + 1e-9
    # Long before and long after the peak nothing has happened.
    assert np.array_equal(whole[:19_000], samples[:19_000])
    assert np.abs(whole[40_000:] - samples[40_000:]).max() < 1e-9
    assert np.array_equal(through(1 << 16, 0.2, 2.0), samples * 0.2)


@pytest.mark.parametrize("count", [0, 1, 5, 239, 240, 241])
def test_the_shortest_sounds_can_be_limited(count):
    samples = np.ones((count, 2))
    pieces = list(limited(lambda at, n: samples[at : at + n], count, 3.0, 0.5))
    found = np.concatenate(pieces) if pieces else np.zeros((0, 2))
    assert found.shape == (count, 2) and np.abs(found).max(initial=0.0) <= 0.5 + 1e-9
