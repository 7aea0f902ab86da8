"""How loud: decibels, fades, left and right."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

# So soft, or softer, is silence.
SILENT_DB = -96.0
# From where a fade in decibels comes.
_FAINT_DB = 60.0


def amplitude(db: float) -> float:
    """The factor of a gain: 10^(dB / 20), 0 from -96 dB down."""
    return 0.0 if db <= SILENT_DB else 10.0 ** (db / 20.0)


# Shapes of fades: from 0 to 1 over 0 to 1.
FADES: dict[str, Callable[[np.ndarray], np.ndarray]] = {
    "even": lambda x: x,
    "power": lambda x: np.sin(x * (math.pi / 2)),
    "smooth": lambda x: x * x * (3 - 2 * x),
    "decibels": lambda x: np.where(x > 0, 10 ** ((x - 1) * _FAINT_DB / 20), 0.0),
}


def faded(at_s: np.ndarray, length_s: float, fade_in: tuple[float, str],
          fade_out: tuple[float, str]) -> np.ndarray:  # fmt: skip
    """The factors (n,) of fades at both ends of something that lasts ``length_s``, at times (n,)
    from its start. A fade is its length (s) and its shape; two that meet are multiplied."""
    factors = np.ones(len(at_s))
    for (lasts, shape), inside in ((fade_in, at_s), (fade_out, length_s - at_s)):
        if lasts > 0:
            factors = factors * FADES[shape](np.clip(inside / lasts, 0.0, 1.0))
    return factors


def balance(pan: float) -> tuple[float, float]:
    """The factors of left and right for a pan of -1 (left) to 1: what is panned away becomes
    softer by the cosine, the other side stays."""
    away = math.cos(min(1.0, abs(pan)) * math.pi / 2)
    return (1.0, away) if pan < 0 else (away, 1.0)
