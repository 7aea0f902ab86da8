"""Beds of music: a few bars that stand under a piece, composed here and played by formulas."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..samples import SAMPLE_RATE
from . import tools
from .base import KitSound, Wish


@dataclass(frozen=True)
class Score:
    """A bed: tempo (beats a minute), bars of four beats, chords (semitones above the root, one
    chord a bar, round and round), the pattern of plucked notes in eighths (places in the chord, -1
    for a rest), and how it swells: a level of each part for every bar of four groups."""

    tempo: float
    bars: int
    root_hz: float
    chords: tuple[tuple[int, ...], ...]
    plucked: tuple[int, ...]
    drums: tuple[float, float, float, float]
    plucks: tuple[float, float, float, float]
    swing: float = 0.0


SCORES = {
    "bed-morning-sail": (
        "Morning sail",
        Score(
            96, 12, 110.0, ((0, 7, 12, 16), (-3, 4, 9, 12), (5, 12, 17, 21), (7, 11, 14, 19)),
            (0, 2, 1, 3, 2, 1, 3, 2), (0.0, 0.5, 1.0, 0.6), (0.5, 0.8, 1.0, 0.7),
        ),
    ),
    "bed-race-day": (
        "Race day",
        Score(
            120, 16, 98.0, ((0, 7, 12, 15), (-4, 3, 8, 12), (3, 10, 15, 19), (-2, 5, 10, 14)),
            (0, -1, 2, 3, -1, 2, 1, 3), (0.4, 0.9, 1.0, 1.0), (0.4, 0.7, 1.0, 1.0),
        ),
    ),
    "bed-evening-pier": (
        "Evening pier",
        Score(
            96, 10, 87.31, ((0, 7, 12, 14), (-5, 2, 7, 11), (-3, 4, 9, 12), (-7, 0, 5, 9)),
            (0, -1, -1, 2, -1, 3, -1, 1), (0.0, 0.0, 0.35, 0.0), (0.6, 0.8, 1.0, 0.5), 0.12,
        ),
    ),
}  # fmt: skip


def _bed(score: Score, wish: Wish) -> np.ndarray:
    """The score at the tempo that makes it as long as is wished."""
    random = tools.generator(wish.seed)
    bar_s = wish.length_s / score.bars
    beat_s = bar_s / 4
    count = len(tools.seconds(wish.length_s))
    out = np.zeros((count + 4 * SAMPLE_RATE, 2))
    root = score.root_hz * wish.pitch

    def add(begin_s: float, sound: np.ndarray) -> None:
        at = round(begin_s * SAMPLE_RATE)
        end = min(len(out), at + len(sound))
        if at < end:
            out[at:end] += sound[: end - at]

    made: dict[object, np.ndarray] = {}

    def once(function: Callable[..., np.ndarray], *values: object) -> np.ndarray:
        key = (function, *values)
        if key not in made:
            made[key] = function(*values)
        return made[key]

    for bar in range(score.bars):
        part = min(3, bar * 4 // score.bars)
        chord = score.chords[bar % len(score.chords)]
        begin = bar * bar_s
        add(begin, once(_pad, root, chord, bar_s, wish.bright))
        for beat in (0, 2) if score.plucks[part] < 0.7 else (0, 1.5, 2, 3):
            add(begin + beat * beat_s, once(_bass, root / 2, chord[0], beat_s))
        for n, place in enumerate(score.plucked):
            if place < 0:
                continue
            late = score.swing * beat_s / 2 if n % 2 else 0.0
            level = (
                score.plucks[part] * (0.8 + 0.2 * random.random()) * (1.0 if n % 4 == 0 else 0.75)
            )
            hertz = root * 4 * 2 ** (chord[place % len(chord)] / 12)
            pluck = once(_pluck, hertz, 0.9 * beat_s + 0.3, wish.bright)
            panned = tools.both(pluck, 0.5 * np.sin(1.3 * n + bar))
            add(begin + n * beat_s / 2 + late, level * panned)
        drums = score.drums[part]
        if drums:
            for beat in range(4):
                if beat % 2 == 0 or drums > 0.8:
                    add(begin + beat * beat_s, drums * once(_kick, wish.pitch))
                if beat % 2 == 1:
                    add(begin + beat * beat_s, drums * 0.5 * _clap(random))
                late = score.swing * beat_s / 2
                add(begin + (beat + 0.5) * beat_s + late, drums * 0.22 * _hat(random, wish.bright))
    wet = tools.room(out, 1.6, 0.18, random, 6000 * wish.bright)[:count]
    ends = np.clip((wish.length_s - tools.seconds(wish.length_s)) / (bar_s * 0.75), 0, 1)
    return tools.finished(
        np.tanh(1.4 * wet / (np.abs(wet).max() + 1e-9)) * ends[:, None], 0.7, 0.02
    )


def _pad(root: float, chord: tuple[int, ...], lasts_s: float, bright: float) -> np.ndarray:
    at = tools.seconds(lasts_s * 1.25)
    shape = np.clip(at / (0.25 * lasts_s), 0, 1) * np.clip(
        (lasts_s * 1.25 - at) / (0.35 * lasts_s), 0, 1
    )
    out = np.zeros((len(at), 2))
    for n, step in enumerate(chord):
        for side, apart in ((-0.8, 0.998), (0.8, 1.002)):
            hertz = np.full(len(at), root * 2 * 2 ** (step / 12) * apart)
            out += tools.both(tools.rich(hertz, 6, 1.9 / bright**0.4, n + side), side)
    return 0.05 * out * shape[:, None]


def _bass(root: float, step: int, lasts_s: float) -> np.ndarray:
    at = tools.seconds(lasts_s * 1.1)
    hertz = np.full(len(at), root * 2 ** (step / 12))
    shape = np.clip(at / 0.006, 0, 1) * np.exp(-at * 1.8 / lasts_s)
    shape *= np.clip((lasts_s * 1.1 - at) / 0.05, 0, 1)
    return 0.42 * tools.both(tools.rich(hertz, 4, 1.8) * shape)


def _pluck(hertz: float, lasts_s: float, bright: float) -> np.ndarray:
    at = tools.seconds(lasts_s)
    out = np.zeros(len(at))
    for k in range(1, 7):
        if hertz * k < 16_000:
            out += (
                np.sin(2 * np.pi * hertz * k * at)
                * np.exp(-at * (3 + 2.5 * k) / lasts_s)
                / k**1.4
                * bright ** (0.3 * k)
            )
    sound: np.ndarray = 0.16 * out * np.clip(at / 0.003, 0, 1)
    return sound


def _kick(pitch: float) -> np.ndarray:
    at = tools.seconds(0.32)
    hertz = pitch * (48 + 120 * np.exp(-at / 0.022))
    return 0.8 * tools.both(np.tanh(1.5 * tools.gliding(hertz)) * np.exp(-at / 0.085))


def _clap(random: np.random.Generator) -> np.ndarray:
    at = tools.seconds(0.25)
    sound = tools.noise(len(at), random) * np.exp(-at / 0.05)[:, None]
    return 0.35 * tools.without_lows(tools.softened(sound, 5200), 900)


def _hat(random: np.random.Generator, bright: float) -> np.ndarray:
    at = tools.seconds(0.09)
    sound = tools.noise(len(at), random) * np.exp(-at / 0.018)[:, None]
    return tools.without_lows(tools.softened(sound, 13_000 * bright), 6000)


def _beds() -> list[KitSound]:
    found = []
    for id, (label, score) in SCORES.items():
        length_s = score.bars * 4 * 60 / score.tempo

        def make(wish: Wish, score: Score = score) -> np.ndarray:
            return _bed(score, wish)

        found.append(KitSound(id, label, "bed", length_s, make, 0.0, False, score.tempo))
    return found


BEDS = tuple(_beds())
