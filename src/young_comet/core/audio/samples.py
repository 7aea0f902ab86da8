"""How sound is kept in memory: float32 of shape (n, 2), full scale 1, at one rate."""

from __future__ import annotations

SAMPLE_RATE = 48_000
CHANNELS = 2


def sample_at(time_s: float) -> int:
    """The sample nearest to a time."""
    return round(time_s * SAMPLE_RATE)
