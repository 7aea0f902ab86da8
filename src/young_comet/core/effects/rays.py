"""Rays: light that streams from a centre in shafts."""

from __future__ import annotations

import math
from functools import lru_cache

import cv2
import numpy as np

from ..pixels.kernel import Few, kernel, sample
from .base import (
    SEED,
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    colour,
    flow,
    meet,
    number,
    percent,
    place,
)
from .laid import generator, laid_on

_TURNS = 8192  # steps of a whole turn in which the strength of rays is kept
_FAR = 1024  # steps from the centre to where the light ends
# Shafts are so wide, degrees; for each strong one there are so many faint ones, this strong.
_NARROW, _WIDE = 2.0, 9.0
_FAINT_MANY, _FAINT = 3, 0.35
# Light falls to 1 / e over this share of the length; its middle is hot over this one.
_FALLS, _HOT = 0.33, 0.022
# What is nearer to the centre than this share is not parted into shafts yet.
_JOINED = 0.029


@lru_cache(maxsize=32)
def _shafts(count: int, seed: int) -> tuple[np.ndarray, ...]:
    """Direction (turns), width (turns), strength, pace and phase of every shaft."""
    chance = np.random.default_rng(seed)
    many = count * (1 + _FAINT_MANY)
    where = chance.random(many)
    # The strong ones are spread evenly enough that no side is dark.
    where[:count] = (np.arange(count) + 0.7 * chance.random(count)) / count
    wide = (_NARROW + (_WIDE - _NARROW) * chance.random(many)) / 360
    strong = chance.random(many) ** 1.5
    strong[:count] = 0.35 + 0.65 * strong[:count]
    strong[count:] *= _FAINT
    return where, wide, strong, 0.6 + chance.random(many), chance.random(many)


def _around(p: Params, work: Work) -> np.ndarray:
    """The strength of light in every direction, 0..1: a sum of gaussian shafts, which become
    stronger and fainter as time flows."""
    count = max(1, round(p["count"]))
    where, wide, strong, pace, phase = _shafts(count, round(p["seed"]))
    time = work.time_s * p["flow"]
    live = strong * (0.75 + 0.25 * np.sin(2 * np.pi * (phase + pace * time)))
    turns = where + 0.006 * np.sin(2 * np.pi * (phase * 3 + 0.5 * pace * time))
    # Many rays are finer, sharper ones narrower.
    wide = wide * min(1.0, math.sqrt(14 / count)) * (1.45 - p["sharpness"] / 100)
    steps = 2048
    found = np.zeros(steps)
    for turn, sigma, power in zip(turns, np.maximum(wide, 1 / steps), live, strict=True):
        reach = math.ceil(3.2 * sigma * steps)
        middle = math.floor(turn * steps)
        at = np.arange(middle - reach, middle + reach + 1)
        found[at % steps] += power * np.exp(-0.5 * ((at / steps - turn) / sigma) ** 2)
    fine = np.interp(np.arange(_TURNS) * steps / _TURNS, np.arange(steps + 1), [*found, found[0]])
    return np.asarray(1 - np.exp(-1.5 * fine), np.float32)


def _along(p: Params) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """By the distance from the centre: how much of a shaft is left, how much light there is in
    every direction, and the colours (BGR), from white-hot to the chosen one."""
    far = np.linspace(0, 1, _FAR, dtype=np.float32)
    falls = _FALLS * 0.45 / max(0.04, p["falloff"] / 100)
    end = np.clip((1 - far) / 0.35, 0, 1)
    end = end * end * (3 - 2 * end)
    left = np.exp(-far / falls) * (1 - np.exp(-((far / _JOINED) ** 2))) * end
    hot = np.exp(-((far / _HOT) ** 2)) + 0.55 * np.exp(-far / (2.2 * _HOT)) * end
    warm = np.clip(far / 0.16, 0, 1)[:, None] ** 0.7
    r, g, b, _ = p["colour"]
    colours = 1 + (np.array([b, g, r], np.float32) - 1) * warm
    return left.astype(np.float32), hot.astype(np.float32), colours.astype(np.float32)


def _rays(p: Params, work: Work, region: Region) -> np.ndarray:
    """Shafts of light from a hot centre."""
    cx, cy = work.at(p["centre"])
    far = max(
        math.hypot(x - cx, y - cy) for x in (region[0], region[2]) for y in (region[1], region[3])
    )
    length = max(2.0, work.px(p["length"]))
    size = (region[2] - region[0], region[3] - region[1])
    whole = np.zeros((size[1], size[0], 4), np.uint8)
    reach = min(far, length)
    box = (math.floor(cx - reach), math.floor(cy - reach), math.ceil(cx + reach),
           math.ceil(cy + reach))  # fmt: skip
    lit = meet(region, box)
    if lit[2] <= lit[0] or lit[3] <= lit[1]:
        return whole
    # Light is soft: it is read at every second pixel, on a grid that the frame's corner fixes.
    gx, gy = lit[0] // 2 - 1, lit[1] // 2 - 1
    columns, rows = lit[2] // 2 + 2 - gx, lit[3] // 2 + 2 - gy

    def maps() -> np.ndarray:
        """Turn and distance in steps, of every second pixel."""
        x = (np.arange(gx, gx + columns, dtype=np.float32) * 2 + 1 - np.float32(cx))[None, :]
        y = (np.arange(gy, gy + rows, dtype=np.float32) * 2 + 1 - np.float32(cy))[:, None]
        shape = (rows, columns)
        radius, turned = cv2.cartToPolar(
            np.ascontiguousarray(np.broadcast_to(x, shape)),
            np.ascontiguousarray(np.broadcast_to(y, shape)),
        )
        spun = turned * np.float32(_TURNS / (2 * math.pi))
        away = np.minimum(radius * np.float32((_FAR - 1) / length), _FAR - 1)
        return np.stack([spun.astype(np.uint16), away.astype(np.uint16)])

    spun, away = work.keep(("rays", lit, cx, cy, length), maps)
    around = np.roll(_around(p, work), round(p["angle"] / 360 * _TURNS))
    light = radiated(spun, away, around, *_along(p))
    light = cv2.resize(light, None, fx=2, fy=2, interpolation=cv2.INTER_LINEAR)
    x0, y0 = lit[0] - 2 * gx, lit[1] - 2 * gy
    part = light[y0 : y0 + lit[3] - lit[1], x0 : x0 + lit[2] - lit[0]]
    whole[lit[1] - region[1] : lit[3] - region[1], lit[0] - region[0] : lit[2] - region[0]] = part
    return whole


@kernel()
def radiated(
    turns: np.ndarray, away: np.ndarray, around: np.ndarray, left: np.ndarray, hot: np.ndarray,
    colours: np.ndarray,
) -> np.ndarray:  # fmt: skip
    """Premultiplied light (h, w, 4) uint8 by the direction and the distance of each pixel."""
    out = np.empty((turns.shape[0], turns.shape[1], 4), np.uint8)
    last = np.uint64(len(around) - 1)
    for y in range(turns.shape[0]):
        turn, far, into = turns[y], away[y], out[y]
        for x in range(turns.shape[1]):
            r = np.uint64(far[x])
            light = around[np.uint64(turn[x]) & last] * left[r] + hot[r]
            k = np.float32(255) * min(np.float32(1), light)
            into[x, 0] = np.uint8(colours[r, 0] * k + np.float32(0.5))
            into[x, 1] = np.uint8(colours[r, 1] * k + np.float32(0.5))
            into[x, 2] = np.uint8(colours[r, 2] * k + np.float32(0.5))
            into[x, 3] = np.uint8(k + np.float32(0.5))
    return out


RAYS = (
    EffectKind(
        "rays", "Rays", "generate", "Light that streams from a centre.",
        (
            place("centre", "Centre"), number("count", "Ray count", 14, "", 1, 200,
                help="How many strong rays go round; three times as many faint ones are between"),
            number("length", "Length", 900, "px", 1, 20000), percent("falloff", "Falloff", 45,
                help="How much they fade on their way out"),
            percent("sharpness", "Sharpness", 45,
                help="How hard the rays' sides are"), angle("angle", "Angle", 0),
            colour("colour", "Colour", "#ffdf9e"), flow(0.25), SEED, *laid_on("frame", "screen"),
        ),
        generator(_rays), timed=True, fills=True, light="more",
    ),
)  # fmt: skip


@sample
def _sample(_few: Few) -> None:
    few, table = np.zeros((2, 2), np.uint16), np.zeros(4, np.float32)
    radiated(few, few.copy(), table, table.copy(), table.copy(), np.zeros((4, 3), np.float32))
