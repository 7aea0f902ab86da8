"""Keying: parts of a picture made transparent by their colour, brightness or place."""

from __future__ import annotations

import math

import cv2
import numba
import numpy as np

from ..pixels import blur as blurs
from ..pixels.blend import luminance, scale_by
from ..pixels.raster import Raster
from ..pixels.warp import places
from .alphas import spread
from .base import (
    EffectKind,
    Params,
    Work,
    choice,
    colour,
    flag,
    number,
    pair,
    percent,
    region_of,
)


@numba.njit(nogil=True, cache=True, error_model="numpy")
def colour_distances(pixels: np.ndarray, b: float, g: float, r: float, chroma: bool) -> np.ndarray:
    """How far each pixel's straight colour is from one: in the plane of chroma (Rec. 709 Cb,
    Cr), or in all three channels; 0..1."""
    out = np.zeros(pixels.shape[:2], np.float32)
    y1 = 0.2126 * r + 0.7152 * g + 0.0722 * b
    cb1, cr1 = (b - y1) / 1.8556, (r - y1) / 1.5748
    for j in range(pixels.shape[0]):
        for i in range(pixels.shape[1]):
            a = np.float32(pixels[j, i, 3])
            if a == 0:
                continue
            pb, pg, pr = pixels[j, i, 0] / a, pixels[j, i, 1] / a, pixels[j, i, 2] / a
            if chroma:
                y2 = 0.2126 * pr + 0.7152 * pg + 0.0722 * pb
                u, v = (pb - y2) / 1.8556 - cb1, (pr - y2) / 1.5748 - cr1
                out[j, i] = math.sqrt(u * u + v * v)
            else:
                u, v, w = pb - b, pg - g, pr - r
                out[j, i] = math.sqrt((u * u + v * v + w * w) / 3)
    return out


def _ramp(values: np.ndarray, start: float, soft: float) -> np.ndarray:
    """0 below a start, 1 above it and the softness, (h, w) uint8."""
    t = np.clip((values - np.float32(start)) / np.float32(max(1e-3, soft)), 0, 1)
    return np.rint(t * 255).astype(np.uint8)


def _with_matte(raster: Raster, matte: np.ndarray, p: Params) -> Raster:
    if p.get("inverted"):
        matte = 255 - matte
    pixels = raster.pixels.copy()
    scale_by(pixels, np.ascontiguousarray(matte))
    return Raster(pixels, raster.left, raster.top)


def _colour_key(raster: Raster, p: Params, work: Work) -> Raster:
    r, g, b, _ = p["colour"]
    far = colour_distances(raster.pixels, b, g, r, False)
    return _with_matte(raster, _ramp(far, p["tolerance"] / 100, p["softness"] / 100), p)


def _chroma_key(raster: Raster, p: Params, work: Work) -> Raster:
    """Distance in chroma, the matte cleaned up, what is left of the colour taken out."""
    r, g, b, _ = p["colour"]
    far = colour_distances(raster.pixels, b, g, r, True)
    matte = _ramp(far, p["tolerance"] / 100, p["softness"] / 100)
    low, high = p["black"] * 2.55, p["white"] * 2.55
    if low > 0 or high < 255:
        table = np.clip((np.arange(256) - low) / max(1.0, high - low), 0, 1) * 255
        matte = cv2.LUT(matte, np.rint(table).astype(np.uint8))
    shrink = work.px(p["shrink"])
    if shrink > 0.1:
        matte = spread(matte, -shrink)
    soft = work.px(p["feather"])
    if soft > 0.1:
        matte = blurs.gaussian(matte, soft, edges="repeat")
    if p["show"] == "matte":
        pixels = np.repeat(matte[:, :, None], 4, axis=2)
        pixels[:, :, 3] = 255
        scale_by(pixels, np.ascontiguousarray(raster.pixels[:, :, 3]))
        return Raster(pixels, raster.left, raster.top)
    source = raster
    if p["spill"] > 0:
        source = Raster(
            _despilled(raster.pixels, (b, g, r), p["spill"] / 100), raster.left, raster.top
        )
    return _with_matte(source, matte, p)


def _despilled(pixels: np.ndarray, key: tuple[float, float, float], amount: float) -> np.ndarray:
    """The key's main channel held down to the mean of the other two."""
    main = int(np.argmax(key))
    others = [c for c in (0, 1, 2) if c != main]
    result = pixels.copy()
    limit = (pixels[:, :, others[0]].astype(np.float32) + pixels[:, :, others[1]]) / 2
    over = np.maximum(0, pixels[:, :, main] - limit) * np.float32(amount)
    result[:, :, main] = np.rint(pixels[:, :, main] - over).astype(np.uint8)
    return result


def _luma_key(raster: Raster, p: Params, work: Work) -> Raster:
    alpha = np.maximum(raster.pixels[:, :, 3], 1).astype(np.float32)
    luma = luminance(raster.pixels) / alpha
    matte = _ramp(luma, p["level"] / 100 - p["softness"] / 200, p["softness"] / 100)
    if p["removes"] == "light":
        matte = 255 - matte
    return _with_matte(raster, matte, p)


def _crop(raster: Raster, p: Params, work: Work) -> Raster:
    """The content's box cut from each side, edges soft inwards."""
    left, top, right, bottom = work.box
    width, height = right - left, bottom - top
    (lx, ty) = work.at(
        (left + width * p["left-top"][0] / 100, top + height * p["left-top"][1] / 100)
    )
    (rx, by) = work.at(
        (right - width * p["right-bottom"][0] / 100, bottom - height * p["right-bottom"][1] / 100)
    )
    soft = max(1.0, work.px(p["softness"]))
    x, y = places(region_of(raster))
    half = np.float32(0.5)
    inside_x = np.minimum(
        (x - np.float32(lx)) / np.float32(soft), (np.float32(rx) - x) / np.float32(soft)
    )
    inside_y = np.minimum(
        (y - np.float32(ty)) / np.float32(soft), (np.float32(by) - y) / np.float32(soft)
    )
    extra = half if p["softness"] <= 0 else np.float32(0)
    keep = np.clip(inside_x + extra, 0, 1) * np.clip(inside_y + extra, 0, 1)
    pixels = raster.pixels.copy()
    scale_by(pixels, np.rint(keep * 255).astype(np.uint8))
    return Raster(pixels, raster.left, raster.top)


SOFTNESS = percent("softness", "Softness", 8)
INVERTED = flag("inverted", "Inverted", help="Keeps what would go")

KEYS = (
    EffectKind(
        "colour-key", "Colour key", "key", "Takes one colour out: a logo's white ground, say.",
        (
            colour("colour", "Colour", "#ffffff"), percent("tolerance", "Tolerance", 8), SOFTNESS,
            INVERTED,
        ),
        _colour_key,
    ),
    EffectKind(
        "chroma-key", "Chroma key", "key", "Takes a coloured screen out of footage.",
        (
            colour("colour", "Screen", "#00b140"), percent("tolerance", "Tolerance", 12), SOFTNESS,
            percent("black", "Matte: black below", 0), percent("white", "Matte: white above", 100),
            number("shrink", "Shrink", 0, "px", 0, 100, step=0.5),
            number("feather", "Feather", 0, "px", 0, 100, step=0.5),
            percent("spill", "Spill taken out", 100),
            choice("show", "Show", (("result", "The result"), ("matte", "The matte"))), INVERTED,
        ),
        _chroma_key, lambda p, work: work.px(p["shrink"] + 3 * p["feather"]) + 2,
    ),
    EffectKind(
        "luminance-key", "Luminance key", "key", "Takes dark or light parts out.",
        (
            percent("level", "Level", 30), SOFTNESS,
            choice("removes", "Takes out", (("dark", "Dark"), ("light", "Light"))),
        ),
        _luma_key,
    ),
    EffectKind(
        "crop", "Crop", "key", "Cuts the sides off, with soft edges.",
        (
            pair("left-top", "Left, top", (10.0, 10.0), "%", -100, 100),
            pair("right-bottom", "Right, bottom", (10.0, 10.0), "%", -100, 100),
            number("softness", "Softness", 0, "px", 0, 2000),
        ),
        _crop,
    ),
)  # fmt: skip
