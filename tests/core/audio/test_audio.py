"""Gains, fades, other speeds, peaks: against formulas and brute force."""

from __future__ import annotations

import numpy as np
import pytest
from tests.sounds import noise, tone

from young_comet.core.audio import (
    FADES,
    SAMPLE_RATE,
    amplitude,
    balance,
    faded,
    interpolated,
    pack_peaks,
    peaks_between,
    peaks_of,
    unpack_peaks,
)


def test_decibels():
    assert amplitude(0) == 1 and amplitude(20) == pytest.approx(10) and amplitude(-96) == 0
    assert amplitude(-6.0206) == pytest.approx(0.5, abs=1e-5)


def test_a_pan_never_makes_louder():
    for pan in np.linspace(-1, 1, 21):
        left, right = balance(pan)
        assert max(left, right) == 1 and min(left, right) >= -1e-12
    assert balance(0) == (1, 1)


@pytest.mark.parametrize("shape", FADES)
def test_fades_begin_at_nothing_end_at_all_and_never_turn_back(shape):
    at = np.linspace(0, 1, 101)
    values = faded(at, 5.0, (1.0, shape), (0.0, "even"))
    assert values[0] == pytest.approx(0, abs=1e-12) and values[-1] == pytest.approx(1)
    assert (np.diff(values) >= 0).all()


@pytest.mark.parametrize("hertz", [50, 997, 8000, 15000])
def test_between_samples_a_sine_goes_on(hertz):
    places = np.random.default_rng(3).uniform(200, SAMPLE_RATE - 200, 3000)
    found = interpolated(tone(hertz, 1.0), places)[:, 0]
    expected = 0.5 * np.sin(2 * np.pi * hertz * places / SAMPLE_RATE)
    assert 20 * np.log10(np.abs(found - expected).max() / 0.5) < -85


def test_at_a_higher_speed_nothing_folds_back():
    # 20 kHz played three times as fast would be heard at 12 kHz.
    places = np.arange(300.0, SAMPLE_RATE - 300, 3)
    found = interpolated(tone(20_000, 1.0), places, speed=3.0)
    assert np.abs(found).max() < 1e-3


def test_beyond_its_ends_it_is_silent():
    found = interpolated(np.ones((100, 2)), np.array([-1e9, -500.0, 50.0, 600.0, 1e9]))
    assert np.abs(found[[0, 1, 3, 4]]).max() == 0 and found[2] == pytest.approx([1, 1])


# Peaks


@pytest.mark.parametrize("length", [1, 255, 256, 257, 70_000, 300_001])
@pytest.mark.parametrize("view", [(0, 1), (0.1, 0.4), (0.5, 0.5001), (-0.5, 1.5)])
def test_peaks_hold_every_sample_and_little_more(length, view):
    samples = noise(length / SAMPLE_RATE, seed=length)
    first, last, columns = view[0] * length, view[1] * length, 97
    found = peaks_between(samples, peaks_of(samples), first, last, columns)
    edges = np.linspace(first, last, columns + 1)
    slack = max(1.0, (last - first) / columns)  # a level's stretches may reach a column further
    for n in range(columns):
        if edges[n + 1] <= 0 or edges[n] >= length:
            assert not found[n].any()
            continue
        low = int(np.clip(np.floor(edges[n]), 0, length))
        high = int(np.clip(max(np.ceil(edges[n + 1]), low + 1), 0, length))
        inside = samples[low:high]
        wide = samples[max(0, int(low - slack)) : int(high + slack) + 1]
        assert found[n, 0] <= inside.min() and found[n, 1] >= inside.max()
        assert found[n, 0] >= wide.min() and found[n, 1] <= wide.max()


def test_peaks_are_kept_and_read_again():
    peaks = peaks_of(noise(2.0))
    again = unpack_peaks(pack_peaks(peaks))
    assert all(np.array_equal(a, b) for a, b in zip(peaks.levels, again.levels, strict=True))
    with pytest.raises(ValueError):
        unpack_peaks(b"kites")


def test_nothing_has_no_peaks():
    nothing = np.zeros((0, 2), np.float32)
    assert not peaks_between(nothing, peaks_of(nothing), 0, 100, 10).any()
