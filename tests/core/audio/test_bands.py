"""Loudness of bands: against sines whose place and strength are known."""

from __future__ import annotations

import numpy as np
import pytest
from tests.sounds import noise, tone

from young_comet.core.audio import SAMPLE_RATE, bands_of, pack_bands, unpack_bands
from young_comet.core.audio import bands as module


def kicks(at, length_s=3.0, hertz=60.0, over=None):
    """Bursts of a low tone at some times, with something else beside them."""
    samples = np.zeros((round(length_s * SAMPLE_RATE), 2), np.float32)
    if over is not None:
        samples += over[: len(samples)]
    for time_s in at:
        burst = tone(hertz, 0.15, level=0.8) * np.linspace(1, 0, 7200)[:, None].astype(np.float32)
        begin = round(time_s * SAMPLE_RATE)
        samples[begin : begin + len(burst)] += burst
    return samples


@pytest.mark.parametrize("hertz", [100, 440, 1000, 5000, 15_000])
def test_a_full_sine_is_full_in_its_band_and_nothing_elsewhere(hertz):
    found = bands_of(tone(hertz, 1.0, level=1.0))
    middle = found.levels[50].astype(float)
    energy = 10 ** ((middle / 2 - 120) / 10)
    near = (module.EDGES[1:] > hertz * 0.75) & (module.EDGES[:-1] < hertz * 1.33)
    assert 10 * np.log10(energy[near].sum()) == pytest.approx(1.76, abs=1.2)  # Hann's noise width
    few = 2e-2 if hertz < 200 else 1e-3  # low tones leak into their neighbours
    assert energy[~near].sum() < energy[near].sum() * few


def test_a_level_is_told_at_its_moment_and_falls_slowly():
    times = [0.5, 1.1, 2.0]
    found = bands_of(kicks(times, over=tone(3000, 3.0, level=0.2)))
    curve = [found.level(t / 100, 20, 120) for t in range(300)]
    for time_s in times:
        at = round(100 * time_s)
        assert curve[at - 6] < 0.3 and max(curve[at : at + 6]) > 0.9
        # As loud half a second later as 60 dB a second leave.
    assert curve[-1] < 0.02
    falls = np.diff(20 * np.log10(np.maximum(curve, 1e-4)))
    assert falls.min() > -0.75
    # The tone beside them is always there, and no kick is heard in its band.
    steady = [found.level(t / 100, 2000, 4000) for t in range(20, 280)]
    assert min(steady) > 0.85


def test_levels_are_of_the_loudest_there_and_do_not_depend_on_pieces(monkeypatch):
    loud, soft = bands_of(noise(1.0, level=0.8)), bands_of(noise(1.0, level=0.008))
    assert max(loud.level(t / 50, 100, 8000) for t in range(50)) == pytest.approx(1, abs=0.02)
    for t in (0.2, 0.5, 0.8):
        assert loud.level(t, 100, 8000) == pytest.approx(soft.level(t, 100, 8000), abs=0.06)
    monkeypatch.setattr(module, "_AT_ONCE", 7)
    assert np.array_equal(bands_of(noise(1.0, level=0.8)).levels, loud.levels)


@pytest.mark.parametrize("count", [0, 1, 479, 480, 2047, 48_000])
def test_short_and_silent_sounds(count):
    found = bands_of(np.zeros((count, 2), np.float32))
    assert all(found.level(t, 20, 20_000) == 0 for t in (-1.0, 0.0, 0.5, 1.0, 99.0))
    again = unpack_bands(pack_bands(found))
    assert np.array_equal(again.levels, found.levels)


def test_what_is_beyond_the_ends_and_the_bands_is_silent():
    found = bands_of(tone(440, 1.0))
    assert found.level(-0.01, 20, 20_000) == found.level(1.5, 20, 20_000) == 0
    assert found.level(0.5, 1, 5) == 0 and found.level(0.5, 30_000, 40_000) == 0
    with pytest.raises(ValueError, match="reshape"):
        unpack_bands(b"\0" * 31)
