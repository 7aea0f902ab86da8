"""Rough edge: a form gnawed by noise of two sizes, as torn paper, chalk or dry ink have it."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..pixels import noise
from ..pixels.blend import scale_by
from ..pixels.distance import edge_distance, nearest
from ..pixels.ink import Ink, ink_of
from ..pixels.kernel import Few, kernel, sample
from ..pixels.raster import Raster
from .alphas import alpha_in
from .base import SEED, EffectKind, Params, Work, flow, grown, laid_in, number, percent, room_for

# The finer of a rough edge's two noises is so many times as fine.
_FINER = 5
# Counts of pixels by piece and by form are kept in a table of so many places at most.
_TABLE = 1 << 22
_OPAQUE = 250  # alphas from here on have a form's own colour
_SEEN = 8  # alphas below it hold nothing together


def _rough_edge(raster: Raster, p: Params, work: Work) -> Raster:
    """The edge gnawed by noise of two sizes: only the alpha within a band about it changes, and
    crumbs that come off are swept away."""
    amount = work.px(p["amount"])
    if amount < 0.1:
        return raster
    region = room_for(raster, amount + 2, work)
    pad = math.ceil(amount) + 2
    around = grown(region, pad)
    given = alpha_in(raster, around)
    alpha = work.kept(("whole", around), lambda: _wholly_there(given))
    soft = max(0.7, work.px(p["softness"]))
    reach = amount * 2 + soft
    away = work.kept(("edge", around, reach), lambda: edge_distance(alpha, reach))
    scale, seed, z = work.px(p["scale"]), round(p["seed"]), work.time_s * p["flow"]
    field = noise.fractal(
        around, work.origin, scale, octaves=round(p["octaves"]), seed=seed, z=z
    )  # fmt: skip
    fine = p["fine"] / 100
    small = field
    if fine > 0:
        small = noise.fractal(around, work.origin, scale / _FINER, octaves=2, seed=seed + 7, z=z)
    keep = _gnawed(away, field, small, fine, amount, amount * p["bias"] / 100, soft)
    forms = work.kept(("forms", around), lambda: _forms(alpha))
    keep = np.ascontiguousarray(_swept(keep, forms, max(scale, amount))[pad:-pad, pad:-pad])
    ink = ink_of(raster)
    if ink is not None and np.array_equal(alpha, given):  # no form of it is faint
        return Raster(Ink(keep, ink.colour), region[0], region[1])
    # Where the edge moved outwards its own colour is carried out with it.
    whole = laid_in(raster, region)
    inner = np.ascontiguousarray(alpha[pad:-pad, pad:-pad])
    _take(
        whole, inner, keep, work.kept(("near", region, reach), lambda: _opaque_near(inner, reach))
    )
    scale_by(whole, keep)
    return Raster(whole, region[0], region[1])


def _wholly_there(alpha: np.ndarray) -> np.ndarray:
    """An alpha in which each form is as opaque as if it were by itself, the same one where all are:
    letters that fade in are gnawed as they will be."""
    count, labels = cv2.connectedComponents((alpha >= _SEEN).astype(np.uint8))
    most = _most(labels, alpha, count)
    return alpha if int(most[1:].min(initial=255)) >= _OPAQUE else _filled_up(labels, alpha, most)


@kernel()
def _most(labels: np.ndarray, alpha: np.ndarray, count: int) -> np.ndarray:
    """How opaque each form is at most; of what is nothing, as if it were whole."""
    most = np.zeros(count, np.int64)
    for y in range(alpha.shape[0]):
        for x in range(alpha.shape[1]):
            label = labels[y, x]
            if alpha[y, x] > most[label]:
                most[label] = alpha[y, x]
    most[0] = 255
    return most


@kernel()
def _filled_up(labels: np.ndarray, alpha: np.ndarray, most: np.ndarray) -> np.ndarray:
    out = np.empty(alpha.shape, np.uint8)
    for y in range(alpha.shape[0]):
        for x in range(alpha.shape[1]):
            out[y, x] = min(255, np.int64(alpha[y, x]) * 255 // most[labels[y, x]])
    return out


@kernel(fastmath=True)
def _gnawed(
    away: np.ndarray, field: np.ndarray, small: np.ndarray, fine: float, amount: float, bias: float,
    soft: float,
) -> np.ndarray:  # fmt: skip
    """What is left of a form, (h, w) uint8: by how far its edge is away (negative inside) and two
    noises, of which the finer has a share."""
    out = np.empty(away.shape, np.uint8)
    share, size, least = np.float32(fine), np.float32(amount), np.float32(bias)
    steep, zero, full = np.float32(255 / soft), np.float32(0), np.float32(255)
    half = np.float32(255 / 2 + 0.5)
    for y in range(away.shape[0]):
        far, broad, close, into = away[y], field[y], small[y], out[y]
        for x in range(away.shape[1]):
            moved = (broad[x] + (close[x] - broad[x]) * share) * size
            value = (moved - far[x] - least) * steep + half
            into[x] = np.uint8(np.int32(min(full, max(zero, value))))
    return out


def _forms(alpha: np.ndarray) -> np.ndarray:
    """The number of the form that each pixel of an alpha belongs to, (h, w) int32; 0 is none."""
    labels: np.ndarray = cv2.connectedComponents((alpha > 127).astype(np.uint8))[1]
    return labels


def _swept(keep: np.ndarray, form_of: np.ndarray, notch: float) -> np.ndarray:
    """A gnawed picture of forms without what came off them: pieces smaller than a notch, and than a
    quarter of what is left of the form they came from. What reaches the array's border stays."""
    count, pieces, facts, _ = cv2.connectedComponentsWithStats((keep > 40).astype(np.uint8))
    if count < 3:
        return keep
    forms = int(form_of.max(initial=0)) + 1
    areas = facts[:, cv2.CC_STAT_AREA].astype(np.float64)
    areas[0] = 0
    form = _form_under(pieces, form_of, count, forms)
    largest = np.zeros(forms)
    np.maximum.at(largest, form, areas)
    height, width = keep.shape
    left, top = facts[:, cv2.CC_STAT_LEFT], facts[:, cv2.CC_STAT_TOP]
    right, bottom = left + facts[:, cv2.CC_STAT_WIDTH], top + facts[:, cv2.CC_STAT_HEIGHT]
    within = (left > 0) & (top > 0) & (right < width) & (bottom < height)
    most = np.where(form == 0, notch**2, np.minimum(notch**2, largest[form] / 4))
    crumbs = within & (areas < most)
    crumbs[0] = False
    if crumbs.any():
        _sweep(keep, pieces, crumbs)
    return keep


def _form_under(pieces: np.ndarray, forms: np.ndarray, count: int, of: int) -> np.ndarray:
    """The number of the form under most of each piece, (count,) int64; 0 where there is none."""
    if count * of <= _TABLE:
        table = _counted(pieces, forms, count, of)
        table[:, 0] = 0
        return np.asarray(table.argmax(axis=1))
    inside = pieces.ravel() > 0
    both = pieces.ravel()[inside].astype(np.int64) * of + forms.ravel()[inside]
    pairs, pixels = np.unique(both, return_counts=True)
    order = np.argsort(pixels * (pairs % of > 0), kind="stable")
    found = np.zeros(count, np.int64)
    found[pairs[order] // of] = pairs[order] % of
    return found


@kernel()
def _counted(pieces: np.ndarray, forms: np.ndarray, count: int, of: int) -> np.ndarray:
    """How many pixels each piece has over each form, (count, of) int32."""
    table = np.zeros((count, of), np.int32)
    for y in range(pieces.shape[0]):
        for x in range(pieces.shape[1]):
            if pieces[y, x] > 0:
                table[pieces[y, x], forms[y, x]] += 1
    return table


@kernel()
def _sweep(keep: np.ndarray, pieces: np.ndarray, crumbs: np.ndarray) -> None:
    for y in range(keep.shape[0]):
        for x in range(keep.shape[1]):
            if crumbs[pieces[y, x]]:
                keep[y, x] = 0


def _opaque_near(alpha: np.ndarray, reach: float) -> np.ndarray:
    """The nearest opaque pixel to each of an alpha within a reach, as ``nearest`` tells it."""
    return nearest((alpha < _OPAQUE).astype(np.uint8), reach + 2)


@kernel()
def _take(pixels: np.ndarray, alpha: np.ndarray, keep: np.ndarray, near: np.ndarray) -> None:
    """Gives what is kept beyond a form, in place, the opaque colours of its ``near`` pixels. What
    is not kept may have any colour."""
    width = pixels.shape[1]
    for y in range(pixels.shape[0]):
        for x in range(width):
            if alpha[y, x] < _OPAQUE and keep[y, x] > 0 and near[y, x] >= 0:
                place = near[y, x]
                pixels[y, x] = pixels[place // width, place % width]


ROUGH = (
    EffectKind(
        "rough-edge", "Rough edge", "distort", "Gnaws the edge: torn paper, chalk, dry ink.",
        (
            number("amount", "Roughness", 10, "px", 0, 400,
                help="How far the edge is eaten at most"),
            number("scale", "Scale", 18, "px", 2, 1000, help="How large the notches are"),
            percent("fine", "Fine roughness", 35,
                help="How much of it is fine, like fibres, beside the notches"),
            number("octaves", "Octaves", 3, "", 1, 8, whole=True),
            number("softness", "Softness", 1, "px", 0, 200),
            percent("bias", "Erosion", 30, -100, 100,
                help="How much is taken away, in place of moved to and fro"), flow(), SEED,
        ),
        _rough_edge, lambda p, work: work.px(p["amount"]) + 3, timed=True,
    ),
)  # fmt: skip


@sample
def _sample(few: Few) -> None:
    field = np.zeros((4, 4), np.float32)
    _gnawed(field, field, field, 0.5, 1.0, 0.3, 1.0)
    labels = np.zeros((4, 4), np.int32)
    _counted(labels, labels, 1, 1)
    _filled_up(labels, few.coverage, _most(labels, few.coverage, 1))
    _sweep(few.coverage.copy(), labels, np.zeros(1, np.bool_))
    _take(few.pixels, few.coverage, few.coverage, labels)
