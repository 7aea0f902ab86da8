"""The main colours of a picture."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from ..pixels.colour import Rgba, format_colour, parse_colour
from ..pixels.raster import unpremultiply
from .vector import Drawing
from .vector.parts import GradientFill

# Nearer than this in CIE L*a*b* the eye hardly tells two colours apart.
ALIKE = 8.0
# Pixels are compared at this size at most; a pixel counts where its neighbours differ by less.
_LONGEST, _EVEN = 512, 10
# Of pictures with less even ground than this all pixels count: photographs, gradients.
_LEAST_EVEN = 0.05


def palette(pixels: np.ndarray, count: int = 6) -> list[str]:
    """Up to ``count`` colours of a premultiplied picture as hex texts, most frequent first.

    k-means in CIE L*a*b*, where distances are closer to what the eye sees; colours nearer to
    each other than 8 units become one. Transparent parts and the mixtures along edges do not count;
    where a colour stands for itself it is given exactly. The same picture gives the same colours.
    """
    height, width = pixels.shape[:2]
    factor = min(1.0, _LONGEST / max(height, width))
    size = (max(1, round(width * factor)), max(1, round(height * factor)))
    small = unpremultiply(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA))
    opaque = small[:, :, 3] == 255
    if not opaque.any():
        opaque = small[:, :, 3] > 128
    even = opaque & _even(small)
    counted = even if even.sum() > _LEAST_EVEN * opaque.sum() else opaque
    colours = small[counted][:, :3]
    if len(colours) == 0:
        return []
    if len(colours) > 20_000:
        colours = colours[:: len(colours) // 20_000 + 1]
    lab = _lab(colours)
    groups = min(count + 4, len(lab))
    cv2.setRNGSeed(1)
    stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 30, 0.5)
    best = np.empty((0,), np.int32)
    _, labels, centres = cv2.kmeans(lab, groups, best, stop, 3, cv2.KMEANS_PP_CENTERS)
    counts = np.bincount(labels.ravel(), minlength=groups)
    chosen: list[np.ndarray] = []
    found: list[str] = []
    for index in np.argsort(-counts, kind="stable"):
        centre = centres[index]
        if counts[index] and all(np.linalg.norm(centre - other) > ALIKE for other in chosen):
            chosen.append(centre)
            found.append(_named(colours[labels.ravel() == index], centre))
    return found[:count]


def _even(pixels: np.ndarray) -> np.ndarray:
    """Where a pixel and its eight neighbours are nearly one colour, (h, w) of truth."""
    ring = np.ones((3, 3), np.uint8)
    far = cv2.absdiff(cv2.dilate(pixels, ring), cv2.erode(pixels, ring))
    even: np.ndarray = far.max(axis=2) <= _EVEN
    return even


def _lab(bgr: np.ndarray) -> np.ndarray:
    """CIE L*a*b* of BGR colours (n, 3) uint8."""
    found: np.ndarray = cv2.cvtColor(bgr[None].astype(np.float32) / 255, cv2.COLOR_BGR2LAB)[0]
    return found


def _named(members: np.ndarray, centre: np.ndarray) -> str:
    """The colour that stands for a group: its most frequent one, where that is a good part of it;
    else its middle."""
    values, counts = np.unique(members, axis=0, return_counts=True)
    best = int(counts.argmax())
    if counts[best] > 0.2 * len(members):
        b, g, r = (int(c) / 255 for c in values[best])
    else:
        row = cv2.cvtColor(centre[None, None].astype(np.float32), cv2.COLOR_LAB2BGR)[0, 0]
        b, g, r = (float(c) for c in np.clip(row, 0, 1))
    return format_colour((r, g, b, 1.0))


def declared(drawing: Drawing, count: int = 12) -> list[str]:
    """The colours that the paths of a drawing name, those of the largest first, nearly equal ones
    once; their transparency does not count."""
    sizes: dict[str, float] = {}
    for part in drawing.parts:
        paints = [part.stroke, part.fill]
        for paint in paints:
            if paint is None:
                continue
            gradient = isinstance(paint, GradientFill)
            named = [c for _, c in paint.stops] if isinstance(paint, GradientFill) else [paint]
            for text in named:
                colour = parse_colour(text)
                if colour[3] > 0:
                    name = format_colour((*colour[:3], 1.0))
                    share = part.area / len(named) if gradient else part.area
                    sizes[name] = sizes.get(name, 0.0) + share
    found: list[str] = []
    for name in sorted(sizes, key=lambda each: -sizes[each]):
        if nearest(name, found) is None:
            found.append(name)
    return found[:count]


def nearest(colour: str, others: Sequence[str], within: float = ALIKE) -> int | None:
    """The number of the colour among others that is hardly told apart from one; None if none is."""
    if not others:
        return None
    lab = _lab(np.array([_bgr(parse_colour(c)) for c in (colour, *others)], np.uint8))
    far = np.linalg.norm(lab[1:] - lab[0], axis=1)
    best = int(far.argmin())
    return best if far[best] <= within else None


def _bgr(colour: Rgba) -> tuple[int, int, int]:
    r, g, b = (round(c * 255) for c in colour[:3])
    return (b, g, r)
