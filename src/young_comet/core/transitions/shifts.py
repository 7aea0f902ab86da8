"""Transitions in which the pictures move: push, slide, slices, zoom, spin."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..model.specs import Kind
from ..pixels.blur import directional, gaussian
from ..pixels.whole import mixed
from .base import (
    SMEAR,
    Joint,
    TransitionKind,
    common,
    direction,
    share_of,
    shifted,
    smooth,
    spec,
    turned,
)

# A state of what turns or grows for every so many px that its rim goes while the shutter is open.
_STATE_PX, _MOST_STATES = 6.0, 12


def _way(joint: Joint) -> tuple[float, float]:
    """How far a picture goes to leave the frame in the direction of a transition, px."""
    width, height = joint.size
    turn = math.radians(joint.params["angle"])
    x, y = math.cos(turn), math.sin(turn)
    # The nearer of the two sides it leaves by.
    far = min(
        width / abs(x) if abs(x) > 1e-9 else math.inf,
        height / abs(y) if abs(y) > 1e-9 else math.inf,
    )
    return (x * far, y * far)


def _smeared(joint: Joint, pixels: np.ndarray, length: float, degrees: float) -> np.ndarray:
    """A picture smeared along a line; what lies at the frame's edge goes on beyond it."""
    length = abs(length) * joint.params["smear"] / 100
    if length < 1:
        return pixels
    by = math.ceil(length / 2) + 1
    wide = cv2.copyMakeBorder(pixels, by, by, by, by, cv2.BORDER_REPLICATE)
    return directional(wide, length, degrees)[by:-by, by:-by]


def _push(joint: Joint) -> np.ndarray:
    """Both move on together, the second behind the first."""
    x, y = _way(joint)
    share = joint.share
    # What the edge of the one leaves of a pixel is the other's.
    both = cv2.add(
        shifted(joint.second, x * (share - 1), y * (share - 1)),
        shifted(joint.first, x * share, y * share),
    )
    return _smeared(joint, both, math.hypot(x, y) * joint.speed, joint.params["angle"])


def _slide(joint: Joint) -> np.ndarray:
    """The second comes over the first, which goes along a little, in its shadow."""
    x, y = _way(joint)
    share, left = joint.share, 1 - joint.share
    follow = joint.params["follow"] / 100
    length = math.hypot(x, y) * joint.speed

    def coming(pixels: np.ndarray) -> np.ndarray:
        moved = shifted(pixels, -x * left, -y * left)
        return _smeared(joint, moved, length, joint.params["angle"])

    # What the first leaves bare lies within the frame of the second, which clears all beneath it.
    top, frame = coming(joint.second), coming(np.full_like(joint.second, 255))
    below = shifted(joint.first, x * share * follow, y * share * follow)
    dark = joint.params["shadow"] / 100 * smooth(left, 0, 0.3)
    if dark > 0:
        width, _ = joint.size
        alpha = gaussian(np.ascontiguousarray(top[:, :, 3]), max(3.0, 0.03 * width), edges="repeat")
        shade = np.float32(1) - alpha.astype(np.float32) * np.float32(dark / 255)
        below[:, :, :3] = np.rint(below[:, :, :3] * shade[:, :, None]).astype(np.uint8)
    result: np.ndarray = cv2.add(top, cv2.multiply(below, 255 - frame, scale=1 / 255))
    return result


def _slices(joint: Joint) -> np.ndarray:
    """Strips push each other out by turns, up and down or to and fro, one after the other."""
    count = max(1, round(joint.params["count"]))
    level = joint.params["cut"] == "level"
    first, second = joint.first, joint.second
    if level:
        first, second = first.transpose(1, 0, 2), second.transpose(1, 0, 2)
    first, second = np.ascontiguousarray(first), np.ascontiguousarray(second)
    height, width = first.shape[:2]
    result = np.zeros_like(first)
    lag = joint.params["lag"] / 100
    for n in range(count):
        left, right = round(n * width / count), round((n + 1) * width / count)
        rank = n / max(1, count - 1)
        t = min(1.0, max(0.0, joint.share * (1 + lag) - lag * rank))
        t = smooth(t, 0, 1)
        by = round(t * height)
        strip = np.s_[:, left:right]
        a, b, into = first[strip], second[strip], result[strip]
        if n % 2:
            into[by:] = a[: height - by]
            into[:by] = b[height - by :]
        else:
            into[: height - by] = a[by:]
            into[height - by :] = b[:by]
    return np.ascontiguousarray(result.transpose(1, 0, 2)) if level else result


def _states(joint: Joint, rim: float) -> list[float]:
    """Shares while the shutter is open, about the frame's own; ``rim`` is how far it goes, px."""
    open_ = joint.speed * joint.params["smear"] / 100
    count = min(_MOST_STATES, max(1, math.ceil(abs(rim) * open_ / _STATE_PX)))
    return [
        min(1.0, max(0.0, joint.share + open_ * ((n + 0.5) / count - 0.5))) for n in range(count)
    ]


def _mean(pictures: list[np.ndarray]) -> np.ndarray:
    if len(pictures) == 1:
        return pictures[0]
    total = np.zeros(pictures[0].shape, np.float32)
    for each in pictures:
        cv2.accumulate(each, total)
    return np.rint(total / len(pictures)).astype(np.uint8)


def _zoom(joint: Joint) -> np.ndarray:
    """Into the first until it is the second: one grows past the eye, the other comes up in it."""
    depth = 1 + joint.params["depth"] / 100
    width, height = joint.size
    rim = math.hypot(width, height) / 2 * (depth - 1)
    found = []
    for share in _states(joint, rim):
        near = turned(joint, joint.first, depth**share, 0)
        # Smaller than the frame it is mirrored at its edges.
        far = turned(joint, joint.second, depth ** (share - 1), 0, cv2.BORDER_REFLECT)
        found.append(mixed(near, far, smooth(share, 0.3, 0.7)))
    return _mean(found)


def _spin(joint: Joint) -> np.ndarray:
    """One turns away and the other out of the same turn."""
    angle = joint.params["turn"]
    width, height = joint.size
    diagonal = math.hypot(width, height)
    found = []
    for share in _states(joint, diagonal / 2 * math.radians(angle)):
        # Large enough that no corner of the frame is bare while it is turned.
        grown = 1 + (diagonal / min(width, height) - 1) * math.sin(math.pi * share)
        one = turned(joint, joint.first, grown, angle * share)
        other = turned(joint, joint.second, grown, angle * (share - 1))
        found.append(mixed(one, other, smooth(share, 0.38, 0.62)))
    return _mean(found)


SHIFTS = (
    TransitionKind(
        "push", "Push", "The next pushes what is there out of the frame.",
        (direction(180), SMEAR, *common("cubic-bezier(0.65, 0, 0.35, 1)")),
        _push, "cubic-bezier(0.65, 0, 0.35, 1)",
    ),
    TransitionKind(
        "slide-over", "Slide over", "The next comes over what is there, with a shadow.",
        (
            direction(180),
            share_of("follow", "Following", 20, "How far what is there goes along"),
            share_of("shadow", "Transition shadow", 45, "How dark the shadow is"), SMEAR,
            *common("cubic-bezier(0.16, 1, 0.3, 1)"),
        ),
        _slide, "cubic-bezier(0.16, 1, 0.3, 1)",
    ),
    TransitionKind(
        "slices-by-turns", "Slices by turns", "Strips go opposite ways, one after the other.",
        (
            spec("count", "Slice count", Kind.NUMBER, 7.0, minimum=1, maximum=60, decimals=0,
                 whole=True, help="How many strips there are"),
            spec("cut", "Slices lie", Kind.CHOICE, "upright",
                 options=(("upright", "Upright"), ("level", "Level")), help="How the strips lie"),
            share_of("lag", "Slice lag", 60, "How much later each sets out", 400),
            *common("linear"),
        ),
        _slices, "linear",
    ),
    TransitionKind(
        "zoom-through", "Zoom through", "Through what is there, into the next.",
        (share_of("depth", "Zoom depth", 120, "How much larger it becomes", 900), SMEAR,
         *common("ease-in-out")),
        _zoom,
    ),
    TransitionKind(
        "spin", "Spin", "One turns away, the other out of the same turn.",
        (
            spec("turn", "Spin angle", Kind.NUMBER, 90.0, unit="°", minimum=-1080, maximum=1080,
                 help="How far both turn"),
            SMEAR, *common("cubic-bezier(0.65, 0, 0.35, 1)"),
        ),
        _spin, "cubic-bezier(0.65, 0, 0.35, 1)",
    ),
)  # fmt: skip
