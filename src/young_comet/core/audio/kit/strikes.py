"""Sounds of movement and of what it meets: whooshes, hits, risers, chimes, ticks, drones."""

from __future__ import annotations

import numpy as np

from . import tools
from .base import KitSound, Wish, made_by

# Whooshes: air that comes, passes and goes; the moment is when it passes.


def _whoosh(wish: Wish, at: float, low: float, high: float, grit: float, turns: int) -> np.ndarray:
    random = tools.generator(wish.seed)
    x = tools.seconds(wish.length_s) / wish.length_s
    rise, fall = np.clip(x / at, 0, 1), np.clip((1 - x) / (1 - at), 0, 1)
    loud = np.where(x < at, rise**2.6, fall**2.2)
    if turns > 1:
        loud = loud * (0.55 + 0.45 * np.cos(2 * np.pi * turns * (x - at)))
    centre = low * (high / low) ** (np.where(x < at, rise**1.4, 0.35 + 0.65 * fall**1.5))
    air = tools.banded(tools.noise(len(x), random), centre * wish.pitch * wish.bright, 0.85)
    body = tools.banded(tools.noise(len(x), random), centre * wish.pitch * 0.4, 0.6)
    sound = air + 0.5 * body
    if grit:
        torn = 1 - grit * (np.repeat(random.random(len(x) // 180 + 1), 180)[: len(x)])
        sound = sound * torn[:, None]
    side = random.choice([-1.0, 1.0])
    pan = side * np.clip((x - at) * 1.7, -0.8, 0.8)
    left, right = np.cos((pan + 1) * np.pi / 4), np.sin((pan + 1) * np.pi / 4)
    return tools.finished(sound * np.stack([left, right], axis=1) * loud[:, None], 0.6, 0.02)


def _whooshes() -> list[KitSound]:
    rows = (
        ("soft-pass", "Soft pass", 1.0, 0.55, 260, 1800, 0.0, 1),
        ("quick-gust", "Quick gust", 0.5, 0.6, 400, 4200, 0.0, 1),
        ("deep-sail", "Deep sail", 1.4, 0.6, 90, 700, 0.0, 1),
        ("high-line", "High line", 0.7, 0.5, 1200, 7800, 0.0, 1),
        ("turning-kite", "Turning kite", 1.2, 0.6, 240, 2600, 0.0, 4),
        ("torn-cloth", "Torn cloth", 0.8, 0.65, 300, 3000, 0.8, 1),
    )
    return [
        KitSound(f"whoosh-{id}", label, "whoosh", length, made_by(_whoosh, *row), row[0])
        for id, label, length, *row in rows
    ]


# Hits: the moment is their beginning.


def _hit(
    wish: Wish, top: float, low: float, dies: float, click: float, hall: float, ring: float
) -> np.ndarray:
    random = tools.generator(wish.seed)
    at = tools.seconds(wish.length_s)
    dies *= wish.length_s
    hertz = wish.pitch * (low + (top - low) * np.exp(-at / 0.028))
    thump = np.tanh(1.6 * tools.gliding(hertz)) * np.exp(-at * 4.5 / dies)
    sound = tools.both(thump)
    snap = tools.noise(len(at), random) * np.exp(-at / 0.012)[:, None]
    sound += click * tools.softened(snap, 2600 * wish.bright)
    if ring:
        for k, ratio in enumerate((1.0, 1.52, 2.31, 3.17)):
            tone = np.sin(2 * np.pi * ring * wish.pitch * ratio * at) * np.exp(
                -at * (9 + 5 * k) / dies
            )
            sound += tools.both(tone, 0.5 * (-1) ** k) * 0.35 / (k + 1)
    wet = tools.room(sound, max(0.2, wish.length_s * 0.8), hall, random, 3000 * wish.bright)
    return tools.finished(_first(wet, wish.length_s), 0.8, 0.06)


def _hits() -> list[KitSound]:
    rows = (
        ("landing", "Landing", 1.4, 150, 46, 0.7, 0.35, 0.35, 0),
        ("drum", "Drum", 0.7, 220, 62, 0.6, 0.6, 0.15, 0),
        ("mast", "Mast", 0.6, 400, 160, 0.3, 0.8, 0.12, 520),
        ("sail-slap", "Sail slap", 0.5, 180, 90, 0.25, 2.2, 0.2, 0),
        ("far-thunder", "Far thunder", 2.6, 80, 34, 1.0, 0.3, 0.55, 0),
        ("bright-mark", "Bright mark", 1.2, 240, 70, 0.5, 0.7, 0.3, 880),
    )
    return [
        KitSound(f"hit-{id}", label, "hit", length, made_by(_hit, *row), 0.0)
        for id, label, length, *row in rows
    ]


def _first(sound: np.ndarray, length_s: float) -> np.ndarray:
    """A sound cut to a length, its end faded."""
    count = len(tools.seconds(length_s))
    out = sound[:count].copy()
    tail = min(count, max(1, count // 3))
    out[-tail:] *= np.linspace(1, 0, tail)[:, None] ** 1.5
    return out


# Risers: the moment is where they are loudest, near their end.


def _riser(wish: Wish, low: float, high: float, tones: float, beats: float) -> np.ndarray:
    random = tools.generator(wish.seed)
    at = tools.seconds(wish.length_s)
    x = at / wish.length_s
    up = np.clip(x / RISEN, 0, 1)
    loud = np.where(x < RISEN, (np.exp(3 * up) - 1) / (np.e**3 - 1), np.exp(-(x - RISEN) * 60))
    centre = low * (high / low) ** up
    sound = tools.banded(tools.noise(len(at), random), centre * wish.pitch * wish.bright, 0.7)
    if tones:
        for k, apart in enumerate((1.0, 1.007, 1.498)):
            hertz = 110 * wish.pitch * apart * 2 ** (2 * up)
            tone = tools.rich(hertz, 8, 1.2, k)
            sound += tones * tools.both(tone, (k - 1) * 0.6)
    if beats:
        turn = np.cumsum(beats * (1 + 3 * up)) / 48_000
        sound = sound * (0.6 + 0.4 * np.cos(2 * np.pi * turn))[:, None]
    return tools.finished(sound * loud[:, None], 0.65, 0.01)


RISEN = 0.94


def _risers() -> list[KitSound]:
    rows = (
        ("wind-up", "Wind up", 2.5, 200, 6000, 0.0, 0.0),
        ("climb", "Climb", 3.0, 150, 3000, 0.25, 0.0),
        ("short-lift", "Short lift", 1.0, 400, 7000, 0.1, 0.0),
        ("long-line", "Long line", 5.0, 90, 4000, 0.2, 0.0),
        ("fluttering", "Fluttering", 2.0, 300, 5000, 0.0, 7.0),
        ("chorus", "Chorus", 4.0, 120, 2000, 0.6, 2.0),
    )
    return [
        KitSound(f"riser-{id}", label, "riser", length, made_by(_riser, *row), RISEN)
        for id, label, length, *row in rows
    ]


# Chimes: struck at their beginning.

_BELL = ((0.56, 1.0), (0.92, 0.7), (1.19, 0.6), (1.71, 0.45), (2.0, 0.8), (2.74, 0.35), (3.76, 0.2))
_BAR = ((1.0, 1.0), (2.756, 0.5), (5.404, 0.25), (8.933, 0.1))  # a free bar (Rayleigh, 1877)
_GLASS = ((1.0, 1.0), (2.32, 0.4), (4.25, 0.2), (6.63, 0.12))


def _chime(
    wish: Wish, partials: tuple[tuple[float, float], ...], notes: tuple[float, ...], gap: float
) -> np.ndarray:
    random = tools.generator(wish.seed)
    at = tools.seconds(wish.length_s)
    sound = np.zeros((len(at), 2))
    for n, hertz in enumerate(notes):
        begins = n * gap * wish.length_s
        since = np.clip(at - begins, 0, None)
        struck = at >= begins
        for k, (ratio, level) in enumerate(partials):
            pitch = hertz * wish.pitch * ratio * (1 + 0.001 * random.standard_normal())
            if pitch > 18_000:
                continue
            level *= wish.bright ** (0.6 * k)
            fades = np.exp(-since * (3.2 + 1.6 * k) / (wish.length_s * (1 - gap * n * 0.5)))
            tone = np.sin(2 * np.pi * pitch * since) * fades * struck * np.clip(since / 0.002, 0, 1)
            sound += tools.both(tone * level, 0.7 * np.sin(2.4 * n + k)) / len(notes) ** 0.5
    wet = tools.room(sound, max(0.3, wish.length_s), 0.25, random, 7000)
    return tools.finished(_first(wet, wish.length_s), 0.5, 0.05)


def _chimes() -> list[KitSound]:
    rows = (
        ("pier-bell", "Pier bell", 2.4, _BELL, (660.0,), 0.0),
        ("small-bell", "Small bell", 1.4, _BELL, (1320.0,), 0.0),
        ("three-up", "Three up", 2.0, _BAR, (523.25, 659.26, 783.99), 0.09),
        ("glass", "Glass", 1.8, _GLASS, (1046.5,), 0.0),
        ("falling", "Falling", 2.2, _GLASS, (1567.98, 1174.66, 880.0, 587.33), 0.08),
        ("far-bars", "Far bars", 3.0, _BAR, (392.0, 587.33), 0.18),
    )
    return [
        KitSound(f"chime-{id}", label, "chime", length, made_by(_chime, *row), 0.0)
        for id, label, length, *row in rows
    ]


# Ticks: small and dry.


def _tick(wish: Wish, hertz: float, dies_s: float, airy: float, twice_s: float) -> np.ndarray:
    random = tools.generator(wish.seed)
    at = tools.seconds(wish.length_s)
    sound = np.zeros((len(at), 2))
    for begins in (0.0, twice_s) if twice_s else (0.0,):
        since = np.clip(at - begins, 0, None)
        on = (at >= begins) * np.exp(-since / dies_s)
        sound += tools.both(np.sin(2 * np.pi * hertz * wish.pitch * since) * on)
        dust = tools.softened(tools.noise(len(at), random), 8000 * wish.bright)
        sound += airy * dust * (on**2)[:, None]
    return tools.finished(sound, 0.5, 0.01)


def _ticks() -> list[KitSound]:
    rows = (
        ("reel", "Reel", 0.08, 2400, 0.006, 0.5, 0.0),
        ("knot", "Knot", 0.1, 900, 0.009, 0.3, 0.0),
        ("pebble", "Pebble", 0.12, 1600, 0.012, 0.15, 0.0),
        ("ratchet", "Ratchet", 0.16, 2000, 0.006, 0.6, 0.045),
        ("shutter", "Shutter", 0.14, 500, 0.008, 1.6, 0.06),
        ("needle", "Needle", 0.06, 5200, 0.004, 0.2, 0.0),
    )
    return [
        KitSound(f"tick-{id}", label, "tick", length, made_by(_tick, *row), 0.0)
        for id, label, length, *row in rows
    ]


# Drones: they stand, and can be looped.


def _drone(
    wish: Wish, root: float, voices: tuple[float, ...], dull: float, windy: float, slow: float
) -> np.ndarray:
    random = tools.generator(wish.seed)
    at = tools.seconds(wish.length_s)
    rounds = max(1, round(slow * wish.length_s))  # whole waves, so that a loop is smooth
    sway = 2 * np.pi * rounds * at / wish.length_s
    sound = np.zeros((len(at), 2))
    for k, ratio in enumerate(voices):
        for apart in (-0.0015, 0.0015):
            cycles = round(root * wish.pitch * ratio * (1 + apart) * wish.length_s)
            hertz = np.full(len(at), max(1, cycles) / wish.length_s)
            tone = tools.rich(hertz, 10, dull / wish.bright**0.5, 2 * np.pi * random.random())
            swell = 0.75 + 0.25 * np.sin(sway + 1.7 * k)
            sound += tools.both(tone * swell, np.sign(apart) * 0.7) / len(voices)
    if windy:
        # Longer than it is: what would follow its end is mixed into its beginning.
        meet = min(len(at) // 4, 24_000)
        whole = 2 * np.pi * rounds * np.arange(len(at) + meet) / len(at)
        centre = 700 * wish.bright * wish.pitch * (1 + 0.4 * np.sin(whole))
        air = tools.banded(tools.noise(len(whole), random), centre, 0.8)
        share = np.linspace(0, 1, meet, endpoint=False)[:, None]
        air[:meet] = air[:meet] * share**0.5 + air[len(at) :] * (1 - share) ** 0.5
        air = air[: len(at)]
        sound += windy * air
    return tools.finished(sound, 0.45, 0.0, begin_s=0.0)


def _drones() -> list[KitSound]:
    rows = (
        ("low-tide", "Low tide", 8.0, 55.0, (1.0, 1.5), 1.6, 0.0, 0.25),
        ("open-sky", "Open sky", 8.0, 110.0, (1.0, 1.5, 2.0), 1.8, 0.6, 0.25),
        ("dusk", "Dusk", 8.0, 73.42, (1.0, 1.2, 1.5), 1.5, 0.2, 0.125),
        ("line-hum", "Line hum", 6.0, 146.83, (1.0, 2.0), 2.2, 0.1, 0.5),
        ("fog", "Fog", 10.0, 49.0, (1.0, 1.335), 2.0, 0.9, 0.2),
        ("lifted", "Lifted", 8.0, 98.0, (1.0, 1.25, 1.5, 2.0), 1.7, 0.3, 0.25),
    )
    return [
        KitSound(f"drone-{id}", label, "drone", length, made_by(_drone, *row), 0.0, True)
        for id, label, length, *row in rows
    ]


STRIKES = (*_whooshes(), *_hits(), *_risers(), *_chimes(), *_ticks(), *_drones())
