"""What a sound looks like: its least and largest samples, at several resolutions."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

# Samples of an entry of the finest level, and entries of a level that are one of the next.
_FINEST, _COARSER = 256, 16
_LEVELS = 3
_AT_ONCE = 1 << 20


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
    ``first`` to ``last``; 0 where there are none. Read from the coarsest level that is fine
    enough, or from the samples themselves."""
    out = np.zeros((columns, 2), np.float32)
    edges = np.linspace(first, last, columns + 1)
    wide = (last - first) / max(1, columns)
    level = -1
    for number in range(_LEVELS):
        if _FINEST * _COARSER**number <= wide / 2:
            level = number
    size = 1 if level < 0 else _FINEST * _COARSER**level
    count = len(samples) if level < 0 else len(peaks.levels[level])
    starts = np.floor(edges[:-1] / size).astype(np.int64)
    ends = np.maximum(np.ceil(edges[1:] / size).astype(np.int64), starts + 1)
    starts, ends = np.clip(starts, 0, count), np.clip(ends, 0, count)
    there = np.flatnonzero(ends > starts)
    if not len(there):
        return out
    low, high = int(starts[there[0]]), int(ends[there[-1]])
    part = np.asarray(samples[low:high] if level < 0 else peaks.levels[level][low:high])
    # Stretches may share an entry at their edges: each is taken by itself.
    for column in there:
        piece = part[starts[column] - low : ends[column] - low]
        if level < 0:
            out[column] = piece.min(), piece.max()
        else:
            out[column] = piece[:, 0].min(), piece[:, 1].max()
    return out


def _least_and_largest(samples: np.ndarray, starts: np.ndarray) -> np.ndarray:
    """Of both channels in the stretches that begin at ``starts``, (n, 2)."""
    if not len(starts):
        return np.zeros((0, 2), np.float32)
    low = np.minimum.reduceat(samples, starts, axis=0).min(axis=1)
    return np.stack([low, np.maximum.reduceat(samples, starts, axis=0).max(axis=1)], axis=1)
