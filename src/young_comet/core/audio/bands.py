"""How loud the bands of a sound are over time: what pictures may go by."""

from __future__ import annotations

import math
from typing import Protocol, runtime_checkable

import numpy as np

from .samples import CHANNELS, SAMPLE_RATE

# So often a second loudness is told, from windows of so many samples.
RATE = 100
_HOP, _WINDOW = SAMPLE_RATE // RATE, 2048
# Edges of the bands in Hz: thirds of an octave from 20 Hz to about 20 kHz.
_COUNT = 30
EDGES = 20.0 * 2.0 ** (np.arange(_COUNT + 1) / 3)
# Levels are kept in half decibels above this.
_FLOOR_DB = -120.0
# What has been loud falls by so much a second: a pulse, not a flicker.
RELEASE_DB_PER_S = 60.0
_AT_ONCE = 2048
_KEPT = 8


class Bands:
    """``levels`` (n, 30) uint8: the energy of each band in half decibels above -120 dB (of a full
    sine: 240), a hundred times a second, each about its own moment."""

    def __init__(self, levels: np.ndarray) -> None:
        self.levels = levels
        self._curves: dict[tuple[float, float], np.ndarray] = {}

    def level(self, second: float, low_hz: float, high_hz: float) -> float:
        """How loud what lies from a frequency to another is at a second of the sound: 0 to 1 of the
        loudest that it is there. It rises at once and falls slowly. 0 beyond both ends."""
        curve = self._curve(low_hz, high_hz)
        at = second * RATE
        if not len(curve) or not 0 <= at <= len(curve):
            return 0.0
        low = min(int(at), len(curve) - 1)
        high = min(low + 1, len(curve) - 1)
        return float(curve[low] + (curve[high] - curve[low]) * (at - low))

    def _curve(self, low_hz: float, high_hz: float) -> np.ndarray:
        """The levels (n,) of what lies between two frequencies, 0 to 1."""
        key = (low_hz, high_hz)
        found = self._curves.get(key)
        if found is None:
            while len(self._curves) >= _KEPT:
                self._curves.pop(next(iter(self._curves)))
            found = self._curves[key] = _levels(self.levels, _shares(low_hz, high_hz))
        return found


@runtime_checkable
class Ears(Protocol):
    """Who has listened to sounds."""

    def bands(self, hash: str) -> Bands:
        """Must. How loud the bands of a sound are; NotFoundError, MediaError."""
        ...


def bands_of(samples: np.ndarray) -> Bands:
    """The bands of a sound (n, 2), which may be mapped from a file: it is read in pieces. Energies
    of short-time spectra (Hann's window), both sides together."""
    frames = len(samples) // _HOP + 1 if len(samples) else 0
    levels = np.zeros((frames, _COUNT), np.uint8)
    window = np.hanning(_WINDOW + 1)[:-1].astype(np.float32)
    matrix = _bins()
    full = float(window.sum() / 2) ** 2 * CHANNELS  # a full sine on both sides
    for first in range(0, frames, _AT_ONCE):
        count = min(_AT_ONCE, frames - first)
        begin = first * _HOP - _WINDOW // 2
        end = begin + (count - 1) * _HOP + _WINDOW
        piece = np.zeros((end - begin, CHANNELS), np.float32)
        low, high = max(0, begin), min(len(samples), end)
        piece[low - begin : high - begin] = samples[low:high]
        energy = np.zeros((count, _COUNT))
        for channel in range(CHANNELS):
            views = np.lib.stride_tricks.sliding_window_view(piece[:, channel], _WINDOW)[::_HOP]
            spectrum = np.fft.rfft(views * window, axis=1)
            energy += (spectrum.real**2 + spectrum.imag**2) @ matrix
        db = 10 * np.log10(np.maximum(energy / full, 1e-30))
        levels[first : first + count] = np.clip(np.rint((db - _FLOOR_DB) * 2), 0, 255)
    return Bands(levels)


def pack_bands(bands: Bands) -> bytes:
    """As they are kept in a file."""
    return bands.levels.tobytes()


def unpack_bands(data: bytes) -> Bands:
    """What ``pack_bands`` gave; ValueError where it is something else."""
    return Bands(np.frombuffer(data, np.uint8).reshape(-1, _COUNT))


def _bins() -> np.ndarray:
    """The share (bins, 30) of each bin of a spectrum in each band: as much of it as lies there."""
    width = SAMPLE_RATE / _WINDOW
    middles = np.arange(_WINDOW // 2 + 1) * width
    low, high = (middles - width / 2)[:, None], (middles + width / 2)[:, None]
    inside = np.minimum(high, EDGES[None, 1:]) - np.maximum(low, EDGES[None, :-1])
    shares: np.ndarray = np.clip(inside / width, 0, 1)
    return shares


def _shares(low_hz: float, high_hz: float) -> np.ndarray:
    """How much (30,) of each band lies between two frequencies, by octaves."""
    low, high = (math.log2(min(max(hz, EDGES[0]), EDGES[-1])) for hz in (low_hz, high_hz))
    edges = np.log2(EDGES)
    inside = np.minimum(high, edges[1:]) - np.maximum(low, edges[:-1])
    shares: np.ndarray = np.clip(inside / np.diff(edges), 0, 1)
    return shares


def _levels(levels: np.ndarray, shares: np.ndarray) -> np.ndarray:
    if not len(levels):
        return np.zeros(0)
    energy = 10 ** ((levels.astype(np.float32) / 2 + _FLOOR_DB) / 10) @ shares
    db = 10 * np.log10(np.maximum(energy, 1e-12))
    # The highest of what is and what has been, less what it has fallen since.
    fall = RELEASE_DB_PER_S / RATE * np.arange(len(db))
    held = np.maximum.accumulate(db + fall) - fall
    most = float(db.max())
    if most <= -90:
        return np.zeros(len(db))
    result: np.ndarray = np.clip(10 ** ((held - most) / 20), 0, 1)
    return np.where(held <= -90, 0.0, result)
