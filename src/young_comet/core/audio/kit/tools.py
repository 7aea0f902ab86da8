"""What the kit's sounds are made of: noise, tones, envelopes, bands, rooms. Everything comes of a
seed and is the same each time."""

from __future__ import annotations

import numpy as np

from ..samples import SAMPLE_RATE

_FRAME, _HOP = 1024, 256


def seconds(length_s: float) -> np.ndarray:
    """The times (n,) of a sound's samples."""
    return np.arange(max(1, round(length_s * SAMPLE_RATE))) / SAMPLE_RATE


def generator(seed: int) -> np.random.Generator:
    """A source of chance."""
    return np.random.default_rng(abs(seed) + 7919)


def noise(count: int, random: np.random.Generator) -> np.ndarray:
    """White noise (n, 2), both sides apart."""
    return random.standard_normal((count, 2))


def banded(sound: np.ndarray, centre_hz: np.ndarray, octaves: np.ndarray | float) -> np.ndarray:
    """A sound (n, 2) through a bell-shaped band that moves: its centre (n,) in Hz and its half
    width in octaves. By overlapping windows (Allen and Rabiner, Proc. IEEE 65, 1977)."""
    count = len(sound)
    widths = np.broadcast_to(np.asarray(octaves, float), (count,))
    padded = np.zeros((count + 2 * _FRAME, 2))
    padded[_FRAME : _FRAME + count] = sound
    out = np.zeros_like(padded)
    window = np.hanning(_FRAME + 1)[:-1]
    bins = np.maximum(np.fft.rfftfreq(_FRAME, 1 / SAMPLE_RATE), 1.0)
    for begin in range(0, count + _FRAME, _HOP):
        at = min(count - 1, max(0, begin - _FRAME // 2))
        away = np.log2(bins / max(20.0, centre_hz[at])) / max(0.05, widths[at])
        piece = np.fft.rfft(padded[begin : begin + _FRAME] * window[:, None], axis=0)
        made = np.fft.irfft(piece * np.exp(-0.5 * away**2)[:, None], _FRAME, axis=0)
        out[begin : begin + _FRAME] += made * window[:, None]
    found: np.ndarray = out[_FRAME : _FRAME + count] * (_HOP / (window**2).sum())
    return found


def softened(sound: np.ndarray, above_hz: float, slope: float = 2.0) -> np.ndarray:
    """A sound without what is high: half as loud at ``above_hz``, steeper with the slope."""
    bins = np.fft.rfftfreq(len(sound), 1 / SAMPLE_RATE)
    shape = 1 / (1 + (bins / above_hz) ** slope)
    return np.fft.irfft(np.fft.rfft(sound, axis=0) * shape[:, None], len(sound), axis=0)


def without_lows(sound: np.ndarray, below_hz: float) -> np.ndarray:
    """A sound without what is low."""
    bins = np.fft.rfftfreq(len(sound), 1 / SAMPLE_RATE)
    shape = (bins / below_hz) ** 2 / (1 + (bins / below_hz) ** 2)
    return np.fft.irfft(np.fft.rfft(sound, axis=0) * shape[:, None], len(sound), axis=0)


def gliding(hertz: np.ndarray, phase: float = 0.0) -> np.ndarray:
    """A sine (n,) of a frequency (n,) that changes."""
    return np.sin(2 * np.pi * np.cumsum(hertz) / SAMPLE_RATE + phase)


def rich(hertz: np.ndarray, partials: int, dull: float = 1.0, phase: float = 0.0) -> np.ndarray:
    """A tone (n,) with overtones, each softer than the one before by the power ``dull``; none of
    them above what can be held."""
    turn = 2 * np.pi * np.cumsum(hertz) / SAMPLE_RATE + phase
    out = np.zeros(len(hertz))
    for k in range(1, partials + 1):
        fits = hertz * k < SAMPLE_RATE * 0.45
        if not fits.any():
            break
        out += np.where(fits, np.sin(k * turn), 0.0) / k**dull
    return out


def both(sound: np.ndarray, pan: np.ndarray | float = 0.0) -> np.ndarray:
    """One channel (n,) on two sides, as loud wherever it is panned (-1 to 1)."""
    angle = (np.clip(pan, -1, 1) + 1) * np.pi / 4
    sides = np.stack([np.cos(angle) * sound, np.sin(angle) * sound], axis=1)
    return np.asarray(sides, float)


def room(
    sound: np.ndarray, lasts_s: float, share: float, random: np.random.Generator,
    bright_hz: float = 5000.0,
) -> np.ndarray:  # fmt: skip
    """A sound in a room that rings for so long (to -60 dB), its tail added to its end."""
    at = seconds(lasts_s)
    tail = random.standard_normal((len(at), 2)) * (10 ** (-3 * at / lasts_s))[:, None]
    tail = softened(tail, bright_hz)
    tail /= np.sqrt((tail**2).sum(axis=0)) + 1e-12
    count = len(sound) + len(tail) - 1
    size = 1 << (count - 1).bit_length()
    wet = np.fft.irfft(
        np.fft.rfft(sound, size, axis=0) * np.fft.rfft(tail, size, axis=0), size, axis=0
    )
    out = wet[:count] * share
    out[: len(sound)] += sound * (1 - share)
    return out


def finished(
    sound: np.ndarray, peak: float = 0.7, edge_s: float = 0.004, *, begin_s: float = 0.0005
) -> np.ndarray:
    """A sound (n, 2) float32 of a peak, without a step at its beginning and its end."""
    out = sound - sound.mean(axis=0)
    for lasts_s, part in ((edge_s, out[::-1]), (begin_s, out)):
        count = min(len(out) // 2, round(lasts_s * SAMPLE_RATE))
        if count:
            part[:count] *= np.sin(np.arange(count) / count * (np.pi / 2))[:, None] ** 2
    most = float(np.abs(out).max(initial=0.0))
    found: np.ndarray = (out * (peak / most if most > 0 else 0.0)).astype(np.float32)
    return found
