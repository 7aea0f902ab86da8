"""What a sound looks like: its least and largest samples, at several resolutions."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

# Samples of an entry of the finest level, and entries of a level that are one of the next.
_FINEST, _COARSER = 256, 16
_LEVELS = 3
_AT_ONCE = 1 << 20
_FAR = 1e15


@dataclass(frozen=True)
class Peaks:
    """``levels`` (n, 2) float32: the least and the largest sample of both channels in stretches of
    256, 4,096 and 65,536 samples."""

    levels: tuple[np.ndarray, ...]


def peaks_of(samples: np.ndarray) -> Peaks:
    """The peaks of a sound (n, 2), which may be mapped from a file: it is read in pieces."""
    finest = np.zeros((-(-len(samples) // _FINEST), 2), np.float32)
    for start in range(0, len(samples), _AT_ONCE):
        piece = np.asarray(samples[start : start + _AT_ONCE])
        first = start // _FINEST
        found = _least_and_largest(piece, np.arange(0, len(piece), _FINEST))
        finest[first : first + len(found)] = found
    return _with_levels(finest)


def _with_levels(finest: np.ndarray) -> Peaks:
    levels = [finest]
    while len(levels) < _LEVELS:
        fine = levels[-1]
        at = np.arange(0, len(fine), _COARSER)
        if not len(at):
            levels.append(fine)
            continue
        low = np.minimum.reduceat(fine[:, 0], at)
        levels.append(np.stack([low, np.maximum.reduceat(fine[:, 1], at)], axis=1))
    return Peaks(tuple(levels))


def pack_peaks(peaks: Peaks) -> bytes:
    """As they are kept in a file: the finest level, from which the others are made."""
    return peaks.levels[0].astype("<f4").tobytes()


def unpack_peaks(data: bytes) -> Peaks:
    """What ``pack_peaks`` gave; ValueError where it is something else."""
    return _with_levels(np.frombuffer(data, "<f4").reshape(-1, 2))


def peaks_between(
    samples: np.ndarray, peaks: Peaks, first: float, last: float, columns: int
) -> np.ndarray:
    """The least and largest sample (columns, 2) in each of so many equal stretches of the samples
    ``first`` to ``last``; 0 where there are none."""
    edges = np.linspace(first, last, columns + 1)
    return peaks_in(samples, peaks, edges[:-1], edges[1:])


def peaks_in(samples: np.ndarray, peaks: Peaks, starts: np.ndarray, ends: np.ndarray) -> np.ndarray:
    """The least and largest sample (n, 2) in stretches from ``starts`` to ``ends`` (n,), which may
    be backwards; 0 where there are none, or a number is missing. Each is read from the coarsest
    level that is fine enough, or from the samples themselves."""
    out = np.zeros((len(starts), 2), np.float32)
    for n, (a, b) in enumerate(zip(starts.tolist(), ends.tolist(), strict=True)):
        if not (abs(a) < _FAR and abs(b) < _FAR):
            continue
        low, high = min(a, b), max(a, b)
        level = -1
        while level + 1 < _LEVELS and _FINEST * _COARSER ** (level + 1) <= (high - low) / 2:
            level += 1
        size = 1 if level < 0 else _FINEST * _COARSER**level
        count = len(samples) if level < 0 else len(peaks.levels[level])
        begin = math.floor(low / size)
        end = max(math.ceil(high / size), begin + 1)
        begin, end = min(max(0, begin), count), min(max(0, end), count)
        if end > begin and level < 0:
            piece = samples[begin:end]
            out[n] = piece.min(), piece.max()
        elif end > begin:
            piece = peaks.levels[level][begin:end]
            out[n] = piece[:, 0].min(), piece[:, 1].max()
    return out


def _least_and_largest(samples: np.ndarray, starts: np.ndarray) -> np.ndarray:
    """Of both channels in the stretches that begin at ``starts``, (n, 2)."""
    if not len(starts):
        return np.zeros((0, 2), np.float32)
    low = np.minimum.reduceat(samples, starts, axis=0).min(axis=1)
    return np.stack([low, np.maximum.reduceat(samples, starts, axis=0).max(axis=1)], axis=1)
