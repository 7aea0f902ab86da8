"""What a voice looks like on its layer's bar."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..audio import SAMPLE_RATE, Peaks, peaks_in
from .scene import SceneMix, Voice
from .sources import Recorded

# A voice is drawn in no more columns than this.
MAX_COLUMNS = 4000


@dataclass(frozen=True)
class Wave:
    """Columns over a stretch of the scene: the least and the largest sample of what is played
    (n, 2), and the gain (n,) that it is heard with, keys, fades and ducking together, as a factor.
    """

    peaks: np.ndarray
    gain: np.ndarray


def wave_of(
    mix: SceneMix, voice: Voice, peaks: Peaks, from_s: float, to_s: float, columns: int
) -> Wave:
    """A voice from one second of the scene to another, which lie within its span or beyond.
    It plays a recording, whose ``peaks`` these are: a placed scene is not drawn."""
    columns = max(1, min(MAX_COLUMNS, columns))
    # Edges that are a sample's but for rounding are that sample's.
    edges = np.round(np.linspace(from_s, to_s, columns + 1) * SAMPLE_RATE - voice.start, 6)
    inside = np.clip(edges, 0, voice.end - voice.start)
    where = voice.places.where(inside)
    starts, ends = where[:-1], where[1:]
    # Across a seam (a loop begins again) the column shows what comes before it.
    wide = (inside[1:] - inside[:-1]) * 64 + 2
    ends = np.where(np.abs(ends - starts) > wide, starts + (inside[1:] - inside[:-1]), ends)
    silent = inside[1:] <= inside[:-1]
    starts = np.where(silent, np.nan, starts)
    assert isinstance(voice.source, Recorded)
    found = peaks_in(voice.source.samples, peaks, starts, ends)
    middles = (inside[:-1] + inside[1:]) / 2
    return Wave(found, mix.gain_at(voice, middles))
