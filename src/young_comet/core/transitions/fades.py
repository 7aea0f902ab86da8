"""Transitions without an edge: a cut, fades, blurs, light."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..model.specs import Kind, where
from ..pixels import noise
from ..pixels.blur import gaussian
from ..pixels.whole import mixed
from .base import COLOUR, Joint, TransitionKind, common, share_of, smooth, spec


def _cut(joint: Joint) -> np.ndarray:
    return joint.second if joint.share >= 0.5 else joint.first


def crossed(joint: Joint) -> np.ndarray:
    """One becomes the other."""
    return mixed(joint.first, joint.second, joint.share)


def _fade(joint: Joint) -> np.ndarray:
    if joint.params["through"] == "nothing":
        return crossed(joint)
    r, g, b, a = joint.params["colour"]
    flat = np.empty_like(joint.first)
    flat[:] = np.rint(np.array([b * a, g * a, r * a, a]) * 255).astype(np.uint8)
    if joint.share < 0.5:
        return mixed(joint.first, flat, 2 * joint.share)
    return mixed(flat, joint.second, 2 * joint.share - 1)


def _blur(joint: Joint) -> np.ndarray:
    """Both ever softer to the middle, where one becomes the other."""
    sigma = joint.params["size"] * joint.scale * math.sin(math.pi * joint.share)
    shown = smooth(joint.share, 0.25, 0.75)
    both = mixed(joint.first, joint.second, shown)
    return gaussian(both, sigma, edges="repeat")


def _leak(joint: Joint) -> np.ndarray:
    """Light that comes in from a side, brightest when the pictures cross, and goes on."""
    share = joint.share
    both = mixed(joint.first, joint.second, smooth(share, 0.3, 0.7))
    width, height = joint.size
    strength = joint.params["strength"] / 100 * math.sin(math.pi * share) ** 1.4
    # Large soft patches that drift with the transition.
    cell = 0.55 * max(width, height)
    small = (0, 0, max(2, width // 4), max(2, height // 4))
    drift = (share * 1.1 - 0.55) * width / 4
    patches = noise.fractal(
        small, (drift, 0.0), cell / 4, octaves=3, seed=round(joint.params["seed"]), z=share * 1.5
    )
    along = cv2.resize(joint.along(joint.params["angle"]), (small[2], small[3]))
    front = np.exp(-(((along - np.float32(1.5 * share - 0.25)) / np.float32(0.3)) ** 2))
    light = np.clip((np.float32(0.55) + np.float32(0.9) * patches) * front * 1.7, 0, 1.6)
    light = light * np.float32(strength)
    r, g, b, _ = joint.params["colour"]
    # The brighter, the whiter.
    hot = np.clip(light - np.float32(0.75), 0, 1)[:, :, None] * np.float32(0.9)
    tint = np.array([b, g, r], np.float32)
    added = np.clip(light, 0, 1)[:, :, None] * (tint + (1 - tint) * hot)
    added = np.concatenate([added, added.max(axis=2, keepdims=True)], axis=2)
    # Light is soft: it is worked out at a quarter of the size.
    shine = cv2.resize(np.rint(added * 255).astype(np.uint8), (width, height))
    # Screened: light on light never passes white.
    result: np.ndarray = cv2.add(
        both, cv2.subtract(shine, cv2.multiply(both, shine, scale=1 / 255))
    )
    return result


_THROUGH = spec(
    "through", "Fade through", Kind.CHOICE, "nothing",
    options=(("nothing", "Each other"), ("colour", "A colour")),
    help="Whether one becomes the other, or both a colour between",
)  # fmt: skip

FADES = (
    TransitionKind(
        "cut", "Cut", "From one to the next between two frames.", common("linear"), _cut, "linear"
    ),
    TransitionKind(
        "cross-fade", "Cross-fade", "One becomes the other, or both dip to a colour.",
        (
            _THROUGH,
            spec("colour", COLOUR.label, Kind.COLOUR, "#0f1013", help=COLOUR.help,
                 shown_when=where("through", "colour")),
            *common("linear"),
        ),
        _fade, "linear",
    ),
    TransitionKind(
        "blur-across", "Blur across", "Both lose their focus where they cross.",
        (
            spec("size", "Blur size", Kind.NUMBER, 40.0, unit="px", minimum=0, maximum=500,
                 help="How soft they are in the middle"),
            *common("ease-in-out"),
        ),
        _blur,
    ),
    TransitionKind(
        "light-leak", "Light leak", "Warm light passes over while they cross.",
        (
            share_of("strength", "Light strength", 100, "How bright it is", 200),
            spec("colour", "Light colour", Kind.COLOUR, "#ff8a4c", help="The colour of the light"),
            spec("angle", "Transition direction", Kind.NUMBER, 20.0, unit="°", minimum=-36000,
                 maximum=36000, widget="dial", help="Where the light goes"),
            spec("seed", "Seed", Kind.NUMBER, 1.0, minimum=0, maximum=99999, decimals=0, whole=True,
                 help="Another number, another light"),
            *common("linear"),
        ),
        _leak, "linear",
    ),
)  # fmt: skip
