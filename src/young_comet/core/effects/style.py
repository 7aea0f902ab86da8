"""Shadows, glows, outlines, light: what is made from a layer's own form."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..pixels import blur as blurs
from ..pixels.blend import blend, scale_by, tinted, under
from ..pixels.colour import Rgba
from ..pixels.raster import Raster, empty
from .alphas import alpha_in, cut_alpha, rings, shifted, spread
from .base import (
    EVERYWHERE,
    EffectKind,
    Params,
    Work,
    angle,
    choice,
    colour,
    flag,
    grown,
    join,
    laid_in,
    meet,
    moved,
    number,
    percent,
    region_of,
    room_for,
)
from .joins import MITER_LIMIT
from .laid import within


def offset_of(p: Params, work: Work) -> tuple[float, float]:
    """Where a shadow lies beside what throws it, working pixels."""
    distance = work.px(p["distance"])
    turned = math.radians(p["angle"])
    return (distance * math.cos(turned), distance * math.sin(turned))


def _shadow_reach(p: Params, work: Work) -> float:
    return (
        blurs.reach_of(work.px(p["softness"])) + work.px(p["distance"]) + work.px(p["spread"]) + 2
    )


# What lies close to its ground throws a second shadow at its foot: so much sharper and nearer.
_CONTACT_SOFT, _CONTACT_NEAR = 0.22, 0.3


def _drop_shadow(raster: Raster, p: Params, work: Work) -> Raster:
    """Filter Effects 1, feDropShadow, grown by the spread first; and a sharp one of where
    things touch."""
    sigma, (dx, dy) = work.px(p["softness"]), offset_of(p, work)
    wide = blurs.reach_of(sigma) + work.px(p["spread"]) + 1
    region = meet(join(region_of(raster), moved(grown(region_of(raster), wide), dx, dy)), work.area)
    around = grown(region, math.ceil(wide) + math.ceil(max(abs(dx), abs(dy))))
    around = meet(around, grown(region_of(raster), wide + max(abs(dx), abs(dy)) + 1))
    alpha = spread(alpha_in(raster, around), work.px(p["spread"]))
    shadow = shifted(blurs.gaussian(alpha, sigma), dx, dy)
    share = p["contact"] / 100
    if share > 0:
        touching = shifted(
            blurs.gaussian(alpha, sigma * _CONTACT_SOFT), dx * _CONTACT_NEAR, dy * _CONTACT_NEAR
        )
        # Where both lie it is darker than either.
        let = cv2.multiply(
            255 - shadow, 255 - cv2.convertScaleAbs(touching, alpha=share), scale=1 / 255
        )
        shadow = 255 - let
    pixels = cut_alpha(shadow, around, region)
    result = tinted(pixels, p["colour"], p["opacity"] / 100)
    if not p["only"]:
        own = laid_in(raster, region)
        blend(result, own)
    return Raster(result, region[0], region[1])


def _inner_shadow(raster: Raster, p: Params, work: Work) -> Raster:
    sigma, (dx, dy) = work.px(p["softness"]), offset_of(p, work)
    wide = math.ceil(blurs.reach_of(sigma) + abs(dx) + abs(dy) + work.px(p["spread"]) + 1)
    around = grown(region_of(raster), wide)
    hollow = 255 - alpha_in(raster, around)
    hollow = spread(hollow, work.px(p["spread"]))
    # Beyond the margin there is nothing of the layer: the hollow goes on for ever.
    hollow = np.pad(hollow, wide, constant_values=255)
    shade = shifted(blurs.gaussian(hollow, sigma, edges="repeat"), dx, dy)[wide:-wide, wide:-wide]
    return within(
        raster, cut_alpha(np.ascontiguousarray(shade), around, region_of(raster)), p, "normal"
    )


def _longest(join: str) -> float:
    """How far a line may reach at a corner, of how far it does at a side."""
    return MITER_LIMIT if join == "miter" else 1.0


def _outline(raster: Raster, p: Params, work: Work) -> Raster:
    """Rings of the alpha. Several lie around one another, each as wide and as far on."""
    width, gap = work.px(p["width"]), work.px(p["gap"])
    count = round(p["count"])
    total = count * width + (count - 1) * gap
    where = p["where"]
    out = {"outside": total, "inside": 0.0, "centred": total / 2}[where]
    softness = work.px(p["softness"])
    region = room_for(raster, out * _longest(p["join"]) + 2 + blurs.reach_of(softness), work)
    around = grown(region, 2)
    alpha = alpha_in(raster, around)
    # The layer's own soft edge shows no gap: a ring outside goes on beneath it.
    beneath = where == "outside" and not p["only"]
    ring = rings(alpha, out, width, gap, count, filled=beneath, join=p["join"])
    if softness > 0.2:
        ring = blurs.gaussian(ring, softness)
    lines = tinted(cut_alpha(ring, around, region), p["colour"], p["opacity"] / 100)
    if p["only"]:
        return Raster(lines, region[0], region[1])
    own = laid_in(raster, region)
    if beneath:
        under(own, lines)
    else:
        blend(own, lines)
    return Raster(own, region[0], region[1])


# How much of a long shadow its drawing out leaves at the end, before it is straightened.
_AT_THE_END = 0.12


def _straightened(drawn: np.ndarray, fade: float) -> np.ndarray:
    """What fell to ``_AT_THE_END`` falls evenly to what a fade (0..1) leaves: (h, w) uint8."""
    share = drawn / np.float32(255)
    way = np.log(np.maximum(share, 1e-4)) / np.float32(math.log(_AT_THE_END))
    left = np.where(way <= 1, 1 - fade * way, (1 - fade) * share / np.float32(_AT_THE_END))
    return np.asarray(np.rint(np.clip(left, 0, 1) * 255), np.uint8)


def _long_shadow(raster: Raster, p: Params, work: Work) -> Raster:
    """The form drawn out along a line: the largest alpha met on the way back, weaker the farther
    back it is (e^-cs, of which shares multiply), by doubling; then straightened to its fade."""
    length, turned = work.px(p["length"]), math.radians(p["angle"])
    dx, dy = length * math.cos(turned), length * math.sin(turned)
    region = meet(join(region_of(raster), moved(region_of(raster), dx, dy)), work.area)
    around = join(region_of(raster), moved(region_of(raster), dx, dy))
    around = meet(around, grown(work.area, length + 2))
    alpha = alpha_in(raster, around)
    fade = min(1.0, p["fade"] / 100)
    drawn, far = alpha if fade <= 0 else alpha.astype(np.float32), 0.0
    step = 0.5
    while far < length:
        step = min(max(0.5, far), length - far)
        further = shifted(drawn, step * math.cos(turned), step * math.sin(turned))
        if fade > 0:
            further *= np.float32(_AT_THE_END ** (step / length))
        drawn = np.maximum(drawn, further)
        far += step
    shade = cut_alpha(drawn if fade <= 0 else _straightened(drawn, fade), around, region)
    result = tinted(shade, p["colour"], p["opacity"] / 100)
    blend(result, laid_in(raster, region))
    return Raster(result, region[0], region[1])


def _foot(raster: Raster, painted: float) -> float:
    """The lower edge of what is seen, working px, to a part of a pixel; that of what may be painted
    where the raster does not reach so far down."""
    bottom = raster.top + raster.height
    if raster.is_empty or bottom < painted - 1:
        return painted
    rows = raster.pixels[:, :, 3].max(axis=1).astype(np.float32)
    most = float(rows.max())
    seen = np.flatnonzero(rows > 0.04 * most)
    if most < 2 or not len(seen):
        return painted
    last = int(seen[-1])
    return float(raster.top + last) + min(1.0, float(rows[last]) / most)


def _reflection(raster: Raster, p: Params, work: Work) -> Raster:
    """The layer mirrored below the lower edge of what is seen of it."""
    gap, falloff = work.px(p["gap"]), max(1.0, work.px(p["height"]))
    edge = _foot(raster, work.at((0, work.painted[3]))[1])
    axis = edge + gap / 2
    left, top, right, bottom = region_of(raster)
    below = (left, math.floor(2 * axis - bottom), right, math.ceil(2 * axis - top))
    region = meet(join(region_of(raster), below), work.area)
    result = laid_in(raster, region)
    part = meet(below, region)
    if part[2] <= part[0] or part[3] <= part[1] or raster.is_empty:
        return Raster(result, region[0], region[1])
    source = cv2.copyMakeBorder(raster.pixels, 1, 1, 1, 1, cv2.BORDER_CONSTANT)
    # Row j of the part shows the place 2 axis - (part top + j + 0.5) of the raster.
    matrix = np.array(
        [[1, 0, part[0] - left + 1], [0, -1, 2 * axis - part[1] - 0.5 - top + 0.5]], np.float64
    )
    size = (part[2] - part[0], part[3] - part[1])
    mirrored = cv2.warpAffine(source, matrix, size, flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP)
    blur = work.px(p["softness"])
    if blur > 0.1:
        mirrored = blurs.gaussian(mirrored, blur)
    y = np.arange(part[1], part[3], dtype=np.float32) + np.float32(0.5)
    keep = np.clip(1 - (y - (edge + gap)) / falloff, 0, 1) * (p["opacity"] / 100)
    keep[y < edge + gap] = 0
    coverage = np.repeat(np.rint(keep * 255).astype(np.uint8)[:, None], size[0], axis=1)
    scale_by(mirrored, coverage)
    whole = empty(region[2] - region[0], region[3] - region[1])
    whole[part[1] - region[1] : part[3] - region[1], part[0] - region[0] : part[2] - region[0]] = (
        mirrored
    )
    under(result, whole)
    return Raster(result, region[0], region[1])


def _fringe(raster: Raster, p: Params, work: Work) -> Raster:
    """Red and blue moved apart, along a line or away from the middle."""
    amount, turned = work.px(p["amount"]), math.radians(p["angle"])
    if abs(amount) < 0.02:
        return raster
    region = room_for(raster, abs(amount) + 1, work)
    own = laid_in(raster, region)
    if p["how"] == "line":
        dx, dy = amount * math.cos(turned), amount * math.sin(turned)
        red = _moved_pixels(own, np.array([[1, 0, dx], [0, 1, dy]], np.float64))
        blue = _moved_pixels(own, np.array([[1, 0, -dx], [0, 1, -dy]], np.float64))
    else:
        left, top, right, bottom = work.content
        far = max(1.0, math.hypot(right - left, bottom - top) / 2)
        cx = (left + right) / 2 - region[0] - 0.5
        cy = (top + bottom) / 2 - region[1] - 0.5
        matrices = []
        for k in (1 + amount / far, 1 - amount / far):
            matrices.append(np.array([[k, 0, cx - k * cx], [0, k, cy - k * cy]], np.float64))
        red, blue = (_moved_pixels(own, m) for m in matrices)
    result = own.copy()
    result[:, :, 2] = red[:, :, 2]
    result[:, :, 0] = blue[:, :, 0]
    result[:, :, 3] = np.maximum(np.maximum(own[:, :, 3], red[:, :, 3]), blue[:, :, 3])
    return Raster(result, region[0], region[1])


def _moved_pixels(pixels: np.ndarray, matrix: np.ndarray) -> np.ndarray:
    size = (pixels.shape[1], pixels.shape[0])
    if not pixels.size:
        return pixels
    return cv2.warpAffine(pixels, matrix, size, flags=cv2.INTER_LINEAR)


WHITE: Rgba = (1.0, 1.0, 1.0, 1.0)

OPACITY = percent("opacity", "Opacity", 60)

ANGLE = angle("angle", "Direction", 60)

SOFTNESS = number("softness", "Softness", 10, "px", 0, 400)

STYLES = (
    EffectKind(
        "drop-shadow", "Drop shadow", "style", "A soft shadow beneath the layer.",
        (
            colour("colour", "Colour", "#0c0a14"), percent("opacity", "Opacity", 42), ANGLE,
            number("distance", "Distance", 18, "px", 0, 2000, help="How far it is moved away"),
            number("softness", "Softness", 22, "px", 0, 400),
            percent("contact", "Contact", 45,
                help="How strong the sharp shadow is of where things touch"),
            number("spread", "Spread", 0, "px", 0, 400,
                help="How much it grows before it is softened"), flag("only", "Shadow only",
                help="The layer itself is not drawn"),
        ),
        _drop_shadow, _shadow_reach, light="less",
    ),
    EffectKind(
        "inner-shadow", "Inner shadow", "style",
        "A shadow that falls into the layer from its edge.",
        (
            colour("colour", "Colour", "#000000"), OPACITY, ANGLE,
            number("distance", "Distance", 4, "px", 0, 2000, help="How far it is moved away"),
            number("softness", "Softness", 6, "px", 0, 400),
            number("spread", "Spread", 0, "px", 0, 400,
                help="How much it grows before it is softened"),
        ),
        _inner_shadow, _shadow_reach, light="less",
    ),
    EffectKind(
        "outline", "Outline", "style", "One or more lines along the layer's edge.",
        (
            colour("colour", "Colour", "#ff7a45"), number("width", "Width", 6, "px", 0, 400,
                help="How wide it is"),
            choice(
                "where", "Outline position",
                (("outside", "Outside"), ("inside", "Inside"), ("centred", "On the edge")),
                help="Outside the layer's edge, inside it, or half on each side",
            ),
            choice("join", "Line join",
                (("round", "Round"), ("miter", "Miter"), ("bevel", "Bevel")),
                help="How the line turns round a corner"),
            number("count", "Line count", 1, "", 1, 12, whole=True,
                help="How many lines lie round each other"),
            number("gap", "Line gap", 6, "px", 0, 400, help="Room between the lines"),
            number("softness", "Softness", 0, "px", 0, 200), percent("opacity", "Opacity", 100),
            flag("only", "Outline only", help="The layer itself is not drawn"),
        ),
        _outline, lambda p,
        work: p["count"] * work.px(p["width"] + p["gap"]) * _longest(p["join"])
        + 3 * work.px(p["softness"]) + 4,
    ),
    EffectKind(
        "long-shadow", "Long shadow", "style", "The form drawn out to one side.",
        (
            colour("colour", "Colour", "#0d1330"), percent("opacity", "Opacity", 55),
            angle("angle", "Direction", 45),
            number("length", "Shadow length", 160, "px", 0, 4000,
                help="How far the shadow reaches"), percent("fade", "Fade", 100,
                help="How much it has faded at its end"),
        ),
        _long_shadow, lambda p, work: work.px(p["length"]) + 2, light="less",
    ),
    EffectKind(
        "reflection", "Reflection", "style", "The layer mirrored beneath itself.",
        (
            percent("opacity", "Opacity", 40),
            number("height", "Reflection height", 160, "px", 1, 4000,
                help="Over how far below the layer it fades"),
            number("gap", "Gap", 4, "px", -400, 1000,
                help="Room between the layer and its reflection"),
            number("softness", "Softness", 1, "px", 0, 100),
        ),
        _reflection, lambda p, work: EVERYWHERE,
    ),
    EffectKind(
        "colour-fringe", "Colour fringe", "style", "Red and blue drift apart.",
        (
            number("amount", "Fringe width", 3, "px", -400, 400,
                help="How far red and blue lie apart"),
            choice("how", "Fringe type", (("line", "Along a line"), ("out", "Outwards")),
                help="Along a direction, or out from the middle"),
            angle("angle", "Angle", 0),
        ),
        _fringe, lambda p, work: abs(work.px(p["amount"])) + 2, light="same",
    ),
)  # fmt: skip
