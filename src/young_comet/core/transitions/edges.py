"""Transitions with an edge: in what order the second picture takes the place of the first."""

from __future__ import annotations

import math
from collections.abc import Callable

import cv2
import numpy as np

from ..model.specs import Kind
from ..pixels import noise
from .base import (
    SOFTNESS,
    Joint,
    TransitionKind,
    common,
    direction,
    laid_by,
    laid_over,
    share_of,
    spec,
)

_EASED = "cubic-bezier(0.65, 0, 0.35, 1)"


def _by(joint: Joint, order: np.ndarray) -> np.ndarray:
    softness = joint.params["softness"] / 100
    return laid_by(joint.first, joint.second, order, joint.share, softness)


def _kept(joint: Joint, make: Callable[[], np.ndarray], *by: object) -> np.ndarray:
    """An order that is the same at every moment, by what it comes of besides the frame's size."""
    return joint.keep(("order", make.__name__, *joint.size, *by), make)


def _wipe(joint: Joint) -> np.ndarray:
    angle = joint.params["angle"]

    def across() -> np.ndarray:
        return joint.along(angle)

    return _by(joint, _kept(joint, across, angle))


def _opening(joint: Joint) -> np.ndarray:
    angle = joint.params["angle"]

    def outwards() -> np.ndarray:
        return np.asarray(np.abs(joint.along(angle) * 2 - 1), np.float32)

    return _by(joint, _kept(joint, outwards, angle))


def _iris(joint: Joint) -> np.ndarray:
    form, centre = joint.params["form"], joint.params["centre"]

    def about() -> np.ndarray:
        x, y = joint.places
        width, height = joint.size
        half = max(width, height) / 2
        dx = x - np.float32((centre[0] / 100 - 0.5) * width / half)
        dy = y - np.float32((centre[1] / 100 - 0.5) * height / half)
        if form == "circle":
            far = np.hypot(dx, dy)
        elif form == "diamond":
            far = np.abs(dx) + np.abs(dy)
        elif form == "box":
            far = np.maximum(np.abs(dx) * np.float32(height / width), np.abs(dy))
        else:  # a kite: long below
            far = np.abs(dx) * np.float32(1.35) + np.where(dy < 0, -dy * np.float32(1.5), dy)
        return np.asarray(far / np.float32(max(1e-6, float(far.max()))), np.float32)

    return _by(joint, _kept(joint, about, form, *centre))


def _ranked(field: np.ndarray) -> np.ndarray:
    """A field as shares of what is below each value, so that as much is reached in every moment:
    (h, w) float32 0..1, by 512 classes."""
    low, high = float(field.min()), float(field.max())
    if high - low < 1e-6:
        return np.full(field.shape, 0.5, np.float32)
    counts, _ = np.histogram(field, bins=512, range=(low, high))
    below = np.concatenate([[0.0], np.cumsum(counts) / field.size])
    place = (field - np.float32(low)) * np.float32(512 / (high - low))
    at = np.clip(place.astype(np.int32), 0, 511)
    into = place - at
    table = below.astype(np.float32)
    return np.asarray(table[at] + (table[at + 1] - table[at]) * into, np.float32)


def _ink(joint: Joint) -> np.ndarray:
    """As ink soaks into paper: by noise, from a side as far as is asked."""
    width, height = joint.size
    p = joint.params
    cell, seed = max(4.0, p["scale"] * joint.scale), round(p["seed"])

    def soaked() -> np.ndarray:
        field = noise.fractal(
            (0, 0, width, height), (width / 2, height / 2), cell, octaves=5, seed=seed,
            roughness=0.55,
        )  # fmt: skip
        lead = np.float32(p["lead"] / 100 * 2.2)
        return _ranked(field * np.float32(0.5) + joint.along(p["angle"]) * lead)

    return _by(joint, _kept(joint, soaked, cell, seed, p["lead"], p["angle"]))


def _picture(joint: Joint) -> np.ndarray:
    """In the order of a grey picture: where it is dark first."""
    other = joint.other("order")
    if other is None:
        return _wipe_across(joint)
    alpha = other[:, :, 3].astype(np.float32)
    grey = other[:, :, 0] * 0.0722 + other[:, :, 1] * 0.7152 + other[:, :, 2] * 0.2126
    order = np.where(alpha > 0, grey / np.maximum(alpha, 1), 1).astype(np.float32)
    return _by(joint, order if joint.params["first"] == "dark" else 1 - order)


def _wipe_across(joint: Joint) -> np.ndarray:
    return _by(joint, joint.along(0))


def _shape(joint: Joint) -> np.ndarray:
    """Through the form of a layer, which grows from nothing until it holds the frame."""
    other = joint.other("shape")
    width, height = joint.size
    alpha = None if other is None else np.ascontiguousarray(other[:, :, 3])
    if alpha is None or int(alpha.max(initial=0)) < 8:
        x, y = joint.places
        far = np.hypot(x, y).astype(np.float32)
        return _by(joint, far / np.float32(max(1e-6, float(far.max()))))
    rows, columns = np.flatnonzero(alpha.max(1) > 8), np.flatnonzero(alpha.max(0) > 8)
    # About the middle of the largest disc within the form: there it holds the frame soonest.
    inside = cv2.distanceTransform((alpha > 127).astype(np.uint8), cv2.DIST_L2, 5)
    row, column = divmod(int(inside.argmax()), width)
    mx, my, radius = float(column), float(row), float(inside[row, column])
    if radius < 1:
        mx, my = float(columns.mean()), float(rows.mean())
        radius = 0.25 * max(1, min(len(rows), len(columns)))
    far = max(math.hypot(mx - cx, my - cy) for cx in (0, width) for cy in (0, height))
    whole = 1.05 * far / radius
    # It grows evenly to the eye: by the same factor in the same time, from a spot.
    least = 0.01
    scale = least * (whole / least) ** joint.share
    matrix = np.array([[scale, 0, mx - scale * mx], [0, scale, my - scale * my]], np.float64)
    flags = cv2.INTER_AREA if scale < 1 else cv2.INTER_LINEAR
    form = cv2.warpAffine(alpha, matrix, (width, height), flags=flags).astype(np.float32) / 255
    shown = form * np.float32(min(1.0, joint.share / 0.06))
    return laid_over(joint.first, joint.second, shown)


EDGES = (
    TransitionKind(
        "wipe", "Wipe", "An edge passes over the frame at any angle.",
        (direction(0), SOFTNESS, *common(_EASED)), _wipe, _EASED,
    ),
    TransitionKind(
        "opening", "Opening", "From the centre line to both sides.",
        (direction(0, "Across which line it opens"), SOFTNESS, *common(_EASED)), _opening, _EASED,
    ),
    TransitionKind(
        "iris", "Iris", "A form opens about a place.",
        (
            spec("form", "Iris shape", Kind.CHOICE, "circle",
                 options=(("circle", "Circle"), ("diamond", "Diamond"), ("box", "Frame"),
                          ("kite", "Kite")), help="What opens"),
            spec("centre", "Iris centre", Kind.POINT, (50.0, 50.0), unit="%", minimum=-100,
                 maximum=200, help="Where it opens, of the frame's width and height"),
            SOFTNESS, *common(_EASED),
        ),
        _iris, _EASED,
    ),
    TransitionKind(
        "ink", "Ink", "The next soaks through in patches.",
        (
            spec("scale", "Ink scale", Kind.NUMBER, 320.0, unit="px", minimum=8, maximum=4000,
                 help="How large the patches are"),
            share_of("lead", "Ink lead", 30, "How much one side comes before the other"),
            direction(0, "Which way the ink runs"),
            share_of("softness", "Transition softness", 12, "How wide the edge is"),
            spec("seed", "Seed", Kind.NUMBER, 1.0, minimum=0, maximum=99999, decimals=0, whole=True,
                 help="Another number, other patches"),
            *common("linear"),
        ),
        _ink, "linear",
    ),
    TransitionKind(
        "by-picture", "By a picture", "In the order of the greys of a layer.",
        (
            spec("order", "Order layer", Kind.LAYER, "", help="Whose greys give the order"),
            spec("first", "Shown first", Kind.CHOICE, "dark",
                 options=(("dark", "Where it is dark"), ("light", "Where it is light")),
                 help="Where the next is seen first"),
            SOFTNESS, *common("linear"),
        ),
        _picture, "linear",
    ),
    TransitionKind(
        "through-shape", "Through a shape", "Through a layer that grows over the frame.",
        (
            spec("shape", "Shape layer", Kind.LAYER, "", help="Through whose form one sees"),
            SOFTNESS, *common("ease-in-out"),
        ),
        _shape,
    ),
)  # fmt: skip
