"""Keying: parts of a picture made transparent by their colour, brightness or place."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..pixels import blur as blurs
from ..pixels.blend import luminance, scale_by
from ..pixels.distance import nearest
from ..pixels.kernel import Few, kernel, sample
from ..pixels.raster import Raster
from ..pixels.warp import places
from .alphas import spread
from .base import (
    EVERYWHERE,
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


@kernel(error_model="numpy")
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
    result: np.ndarray = np.rint(t * 255).astype(np.uint8)
    return result


# How far about a removed colour pixels may be mixed with it, and how far off a colour is looked for
# that surely is none of it, px.
_MIXED_PX, _LOOKED_PX = 2.0, 12.0


def _with_matte(raster: Raster, matte: np.ndarray, p: Params) -> Raster:
    if p.get("inverted"):
        matte = 255 - matte
    pixels = raster.pixels.copy()
    scale_by(pixels, np.ascontiguousarray(matte))
    return Raster(pixels, raster.left, raster.top)


def _unmixed(
    pixels: np.ndarray, key: tuple[float, float, float], matte: np.ndarray, soft_to: float
) -> tuple[np.ndarray, np.ndarray]:
    """The colours (premultiplied as they were) without what a key's colour has in them, and the
    matte of that: about what is gone, a pixel is taken as a mixture of the key and of the nearest
    colour that is surely kept (C = a F + (1 - a) K, T. Porter, T. Duff: Compositing digital images,
    1984, solved for a along the line from K to F). A colour that is little farther from the key
    than ``soft_to`` goes over into it by itself: there the matte stays."""
    gone = matte == 0
    if not gone.any() or gone.all():
        return pixels, matte
    reach = 2 * math.ceil(_MIXED_PX) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
    near_gone = cv2.dilate(gone.astype(np.uint8), disc) > 0
    near_kept = cv2.dilate((~gone).astype(np.uint8), disc) > 0
    sure = ((matte == 255) & ~near_gone).astype(np.uint8)
    unsure = ((near_gone & near_kept) | ((matte > 0) & (matte < 255))).astype(np.uint8)
    closest = nearest(1 - sure, _LOOKED_PX)
    out, cover = pixels.copy(), matte.copy()
    unmix(out, cover, unsure, closest, np.array(key, np.float32), max(0.05, soft_to))
    return out, cover


@kernel(error_model="numpy")
def unmix(
    pixels: np.ndarray, matte: np.ndarray, unsure: np.ndarray, closest: np.ndarray,
    key: np.ndarray, soft_to: float,
) -> None:  # fmt: skip
    """Writes colours and matte (h, w) of what is ``unsure``; ``closest`` are indices of the colours
    that are taken for what is kept, -1 where there is none near by."""
    height, width = matte.shape
    source = pixels.copy()
    for y in range(height):
        for x in range(width):
            place = closest[y, x]
            if unsure[y, x] == 0 or place < 0:
                continue
            a = np.float32(source[y, x, 3])
            sy, sx = place // width, place % width
            b = np.float32(source[sy, sx, 3])
            if a == 0 or b == 0:
                continue
            along = size = np.float32(0)
            for c in range(3):
                way = source[sy, sx, c] / b - key[c]
                along += (source[y, x, c] / a - key[c]) * way
                size += way * way
            # What is kept looks like the key: only the matte can tell.
            sure = min(1.0, max(0.0, math.sqrt(size / 3) / soft_to - 1) * 2.5)
            if sure == 0:
                continue
            share = min(1.0, max(0.0, float(along / size)))
            was = matte[y, x] / 255.0
            matte[y, x] = np.uint8((was + (share - was) * sure) * 255 + 0.5)
            for c in range(3):
                own = float(source[y, x, c] / a)
                if share > 0.02:
                    level = float((own - (1 - share) * key[c]) / share)
                else:
                    level = float(source[sy, sx, c] / b)
                level = own + (min(1.0, max(0.0, level)) - own) * sure
                pixels[y, x, c] = np.uint8(level * a + 0.5)


def _from_the_border(raster: Raster, matte: np.ndarray) -> np.ndarray:
    """A matte that takes out only what hangs together with the picture's border, or with what is
    transparent: light parts within a logo are no holes."""
    gone = ((matte < 255) | (raster.pixels[:, :, 3] == 0)).astype(np.uint8)
    wide = cv2.copyMakeBorder(gone, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=1)
    _, labels = cv2.connectedComponents(wide, connectivity=4)
    outside = (labels == labels[0, 0])[1:-1, 1:-1]
    return np.where(outside, matte, np.uint8(255))


def _colour_key(raster: Raster, p: Params, work: Work) -> Raster:
    r, g, b, _ = p["colour"]
    far = colour_distances(raster.pixels, b, g, r, False)
    matte = _ramp(far, p["tolerance"] / 100, p["softness"] / 100)
    if p["border"]:
        matte = _from_the_border(raster, matte)
    return _keyed(raster, matte, (b, g, r), p, work)


def _keyed(
    raster: Raster, matte: np.ndarray, key: tuple[float, float, float], p: Params, work: Work
) -> Raster:
    """What a key leaves: unmixed, the matte cleaned up, shrunk, softened; or the matte itself."""
    pixels = raster.pixels
    if p["clean"]:
        soft_to = (p["tolerance"] + p["softness"]) / 100
        pixels, matte = _unmixed(pixels, key, matte, soft_to)
    low, high = p["black"] * 2.55, p["white"] * 2.55
    if low > 0 or high < 255:
        table = np.clip((np.arange(256) - low) / max(1.0, high - low), 0, 1) * 255
        matte = cv2.LUT(matte, np.rint(table).astype(np.uint8))
    shrink = work.px(p["shrink"])
    if abs(shrink) > 0.1:
        matte = spread(matte, -shrink)
    soft = work.px(p["feather"])
    if soft > 0.1:
        matte = blurs.gaussian(matte, soft, edges="repeat")
    if p["show"] == "matte":
        shown = np.repeat(matte[:, :, None], 4, axis=2)
        shown[:, :, 3] = 255
        scale_by(shown, np.ascontiguousarray(raster.pixels[:, :, 3]))
        return Raster(shown, raster.left, raster.top)
    if p["inverted"]:
        pixels = raster.pixels
    spill = p.get("spill", 0) / 100
    if spill > 0:
        pixels = _despilled(pixels, key, spill, p["limit"])
    return _with_matte(Raster(np.ascontiguousarray(pixels), raster.left, raster.top), matte, p)


def _chroma_key(raster: Raster, p: Params, work: Work) -> Raster:
    """Distance in chroma, what is left of the colour taken out."""
    r, g, b, _ = p["colour"]
    far = colour_distances(raster.pixels, b, g, r, True)
    matte = _ramp(far, p["tolerance"] / 100, p["softness"] / 100)
    return _keyed(raster, matte, (b, g, r), p, work)


def _despilled(
    pixels: np.ndarray, key: tuple[float, float, float], amount: float, limit_by: str
) -> np.ndarray:
    """The key's main channel held down to the larger of the other two, or to their mean; the less,
    the greyer the key is, as a grey one has no colour to spill."""
    main = int(np.argmax(key))
    colourful = (max(key) - min(key)) / max(1e-6, max(key))
    amount *= min(1.0, max(0.0, (colourful - 0.2) / 0.4))
    if amount <= 0:
        return pixels
    others = [c for c in (0, 1, 2) if c != main]
    result = pixels.copy()
    one, other = (pixels[:, :, c].astype(np.float32) for c in others)
    limit = np.maximum(one, other) if limit_by == "larger" else (one + other) / 2
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


SOFTNESS = percent("softness", "Softness", 8, help="How gradually it goes from kept to gone")
INVERTED = flag("inverted", "Inverted key", help="Keeps what would go")

CLEAN = flag(
    "clean",
    "Edge cleaning",
    True,
    help="Takes the colour out of pixels at the edge that are mixed with it",
)
# What is done to the matte of a key.
MATTE = (
    percent("black", "Matte black point", 0, help="What is kept less than this is gone"),
    percent("white", "Matte white point", 100, help="What is kept more than this stays whole"),
    number(
        "shrink",
        "Matte shrink",
        0,
        "px",
        -100,
        100,
        step=0.5,
        help="How far the edge is drawn inwards",
    ),
    number(
        "feather", "Matte feather", 0, "px", 0, 100, step=0.5, help="How wide the edge is softened"
    ),
)
SHOW = choice(
    "show",
    "Key view",
    (("result", "The result"), ("matte", "The matte")),
    help="The finished picture, or its matte",
)


def _matte_reach(p: Params, work: Work) -> float:
    if p.get("border"):
        return EVERYWHERE
    return work.px(abs(p["shrink"]) + 3 * p["feather"]) + _LOOKED_PX + _MIXED_PX + 2


KEYS = (
    EffectKind(
        "colour-key", "Colour key", "key", "Takes one colour out: a logo's white ground, say.",
        (
            colour("colour", "Key colour", "#ffffff", widget="given",
                help="The colour that is taken out"),
            percent("tolerance", "Tolerance", 8,
                help="How unlike the key colour may be and still go"), SOFTNESS,
            flag(
                "border", "Border only", True,
                help="Keeps what does not hang together with the picture's border: no holes",
            ),
            CLEAN, *MATTE, SHOW, INVERTED,
        ),
        _colour_key, _matte_reach, light="less",
    ),
    EffectKind(
        "chroma-key", "Chroma key", "key", "Takes a coloured screen out of footage.",
        (
            colour("colour", "Screen colour", "#00b140", widget="given",
                help="The colour of the screen that is taken out"),
            percent("tolerance", "Tolerance", 12,
                help="How unlike the key colour may be and still go"), SOFTNESS,
            CLEAN, *MATTE, percent("spill", "Spill removal", 100,
                help="How much of the screen's light on the subject is taken out"),
            choice("limit", "Spill limit",
                (("larger", "The larger other channel"), ("mean", "Mean of the others")),
                help="To what the screen's channel is held; the larger one keeps turquoise"),
            SHOW, INVERTED,
        ),
        _chroma_key, _matte_reach, light="less",
    ),
    EffectKind(
        "luminance-key", "Luminance key", "key", "Takes dark or light parts out.",
        (
            percent("level", "Threshold", 30, help="Where light and dark are parted"), SOFTNESS,
            choice("removes", "Removed tones", (("dark", "Dark"), ("light", "Light")),
                help="Whether the dark or the light is taken out"),
        ),
        _luma_key, light="less",
    ),
    EffectKind(
        "crop", "Crop", "key", "Cuts the sides off, with soft edges.",
        (
            pair("left-top", "Left and top crop", (10.0, 10.0), "%", -100, 100,
                help="How much is cut off there"),
            pair("right-bottom", "Right and bottom crop", (10.0, 10.0), "%", -100, 100,
                help="How much is cut off there"),
            number("softness", "Softness", 0, "px", 0, 2000,
                help="How gradually it goes from kept to gone"),
        ),
        _crop, light="less",
    ),
)  # fmt: skip


@sample
def _sample(few: Few) -> None:
    colour_distances(few.pixels, 0.5, 0.5, 0.5, True)
    near = np.zeros((4, 4), np.int32)
    unmix(few.pixels, few.coverage, few.coverage, near, np.zeros(3, np.float32), 0.1)
