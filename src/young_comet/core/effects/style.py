"""Shadows, glows, outlines, light: what is made from a layer's own form."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..model.specs import where
from ..pixels import blur as blurs
from ..pixels import tone
from ..pixels.blend import blend, keep_alpha, scale_by, tinted, under
from ..pixels.colour import Rgba
from ..pixels.raster import Raster, empty
from ..pixels.warp import places
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
    pixels_in,
    region_of,
    room_for,
)


def offset_of(p: Params, work: Work) -> tuple[float, float]:
    """Where a shadow lies beside what throws it, working pixels."""
    distance = work.px(p["distance"])
    turned = math.radians(p["angle"])
    return (distance * math.cos(turned), distance * math.sin(turned))


def _shadow_reach(p: Params, work: Work) -> float:
    return (
        blurs.reach_of(work.px(p["softness"])) + work.px(p["distance"]) + work.px(p["spread"]) + 2
    )


def _drop_shadow(raster: Raster, p: Params, work: Work) -> Raster:
    """Filter Effects 1, feDropShadow; grown by the spread first."""
    sigma, (dx, dy) = work.px(p["softness"]), offset_of(p, work)
    wide = blurs.reach_of(sigma) + work.px(p["spread"]) + 1
    region = meet(join(region_of(raster), moved(grown(region_of(raster), wide), dx, dy)), work.area)
    around = grown(region, math.ceil(wide) + math.ceil(max(abs(dx), abs(dy))))
    around = meet(around, grown(region_of(raster), wide + max(abs(dx), abs(dy)) + 1))
    alpha = spread(alpha_in(raster, around), work.px(p["spread"]))
    shadow = shifted(blurs.gaussian(alpha, sigma), dx, dy)
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
    return _within(
        raster, cut_alpha(np.ascontiguousarray(shade), around, region_of(raster)), p, "normal"
    )


def _within(raster: Raster, strength: np.ndarray, p: Params, mode: str) -> Raster:
    """A colour laid onto the layer where it is, keeping its alpha."""
    pixels = raster.pixels.copy()
    light = tinted(strength, p["colour"], p["opacity"] / 100)
    scale_by(light, np.ascontiguousarray(raster.pixels[:, :, 3]))
    if mode == "normal":
        blend(pixels, light)
    else:
        blend(pixels, light, mode)
    keep_alpha(pixels, raster.pixels)
    return Raster(pixels, raster.left, raster.top)


def _bright(raster: Raster, threshold: float) -> np.ndarray:
    """The parts of a picture above a brightness, fading in over a tenth of the range."""
    if threshold <= 0:
        return raster.pixels
    ramp = np.clip((np.linspace(0, 1, 256) - threshold) / 0.1 + 0.5, 0, 1)
    table = np.zeros((256, 4), np.uint8)
    table[:, :3] = 255
    table[:, 3] = np.rint(ramp * 255)
    keep = tone.by_luma(raster.pixels, table)
    pixels = raster.pixels.copy()
    own = np.maximum(raster.pixels[:, :, 3], 1).astype(np.float32)
    scale_by(pixels, np.rint(np.clip(keep[:, :, 3] / own, 0, 1) * 255).astype(np.uint8))
    return pixels


def _glow_reach(p: Params, work: Work) -> float:
    return blurs.reach_of(work.px(p["size"])) if p["strength"] > 0 else 0.0


# Effects whose light is laid by itself: the part that is wanted of them, "light" or "within", is a
# parameter of that name; without it they give both as one picture.
LIGHT_PARTS = ("glow",)


def light_mode(p: Params) -> str:
    """How a glow's light is laid onto what lies below; it never takes any away."""
    return "plus-lighter" if p["where"] == "added" else "screen"


def _glow(raster: Raster, p: Params, work: Work) -> Raster:
    """Light around the layer: a tight and a wide blur together, added or screened. None of the
    steps takes a colour beyond its alpha: all of them rise with what they are given."""
    part = p.get("part", "whole")
    if p["strength"] <= 0:
        return raster
    sigma = work.px(p["size"])
    region = room_for(raster, blurs.reach_of(sigma), work)
    ink = p["coloured"] == "ink"

    def field() -> np.ndarray:
        bright = Raster(_bright(raster, p["threshold"] / 100), raster.left, raster.top)
        source = alpha_in(bright, region) if ink else pixels_in(bright, region)
        return blurs.glow_field(source, sigma, sigma / 3, 0.65)

    if part == "within" and p["where"] == "behind":
        return raster
    soft = work.kept(("glow", region, sigma, p["threshold"], ink), field)
    size = (region[2] - region[0], region[3] - region[1])
    light = blurs.glow_light(soft, sigma / 3, p["strength"] / 100, *size)
    if ink:
        light = tinted(light, p["colour"])
    # The light may be what is kept.
    if part == "light" or p["only"]:
        return Raster(light.copy() if light is soft else light, region[0], region[1])
    if part == "within":
        own = raster.pixels if work.owned else raster.pixels.copy()
        light = laid_in(Raster(light, region[0], region[1]), region_of(raster))
        before = own.copy()
        scale_by(light, np.ascontiguousarray(own[:, :, 3]))
        blend(own, light, light_mode(p))
        keep_alpha(own, before)
        return Raster(own, raster.left, raster.top)
    own = pixels_in(raster, region) if work.owned else laid_in(raster, region)
    if p["where"] == "behind":
        light = light.copy() if light is soft else light
        blend(light, own)
        return Raster(light, region[0], region[1])
    blend(own, light, light_mode(p))
    return Raster(own, region[0], region[1])


def _times(values: np.ndarray, factor: float) -> np.ndarray:
    if factor == 1:
        return values
    return cv2.convertScaleAbs(values, alpha=factor)


def _inner_glow(raster: Raster, p: Params, work: Work) -> Raster:
    sigma = work.px(p["size"])
    wide = blurs.reach_of(sigma)
    hollow = np.pad(255 - raster.pixels[:, :, 3], wide, constant_values=255)
    soft = blurs.gaussian(hollow, sigma, edges="repeat")[
        wide : wide + raster.height, wide : wide + raster.width
    ]
    if p["from"] == "centre":
        soft = 255 - soft
    strength = _times(np.ascontiguousarray(soft), p["strength"] / 100)
    return _within(raster, strength, {**p, "opacity": 100}, "screen")


def _outline(raster: Raster, p: Params, work: Work) -> Raster:
    """Rings of the alpha. Several lie around one another, each as wide and as far on."""
    width, gap = work.px(p["width"]), work.px(p["gap"])
    count = round(p["count"])
    total = count * width + (count - 1) * gap
    where = p["where"]
    out = {"outside": total, "inside": 0.0, "centred": total / 2}[where]
    softness = work.px(p["softness"])
    region = room_for(raster, out + 2 + blurs.reach_of(softness), work)
    around = grown(region, 2)
    alpha = alpha_in(raster, around)
    # The layer's own soft edge shows no gap: a ring outside goes on beneath it.
    beneath = where == "outside" and not p["only"]
    ring = rings(alpha, out, width, gap, count, filled=beneath)
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


def _edge_light(raster: Raster, p: Params, work: Work) -> Raster:
    """Light from a side on the rim: where the alpha falls off towards the light."""
    size = max(0.3, work.px(p["size"]))
    turned = math.radians(p["angle"])
    pad = math.ceil(3 * size) + 2
    alpha = np.pad(raster.pixels[:, :, 3], pad)
    soft = blurs.gaussian(alpha, size)
    # The direction points from where the light comes: that rim falls off towards it.
    away = shifted(soft, -size * math.cos(turned), -size * math.sin(turned))
    rim = cv2.subtract(soft, away)
    other = cv2.subtract(away, soft)
    cut_ = slice(pad, -pad)
    light = _times(np.ascontiguousarray(rim[cut_, cut_]), 2.2 * p["strength"] / 100)
    result = _within(raster, light, {**p, "opacity": 100}, "screen")
    if p["shade"] > 0:
        dark = _times(np.ascontiguousarray(other[cut_, cut_]), 2.2 * p["shade"] / 100)
        result = _within(result, dark, {"colour": p["shade-colour"], "opacity": 100}, "normal")
    return result


def _long_shadow(raster: Raster, p: Params, work: Work) -> Raster:
    """The form drawn out along a line: the largest alpha met on the way back, by doubling."""
    length, turned = work.px(p["length"]), math.radians(p["angle"])
    dx, dy = length * math.cos(turned), length * math.sin(turned)
    region = meet(join(region_of(raster), moved(region_of(raster), dx, dy)), work.area)
    around = join(region_of(raster), moved(region_of(raster), dx, dy))
    around = meet(around, grown(work.area, length + 2))
    alpha = alpha_in(raster, around)
    drawn, far = alpha, 0.0
    step = 0.5
    while far < length:
        step = min(max(0.5, far), length - far)
        drawn = np.maximum(drawn, shifted(drawn, step * math.cos(turned), step * math.sin(turned)))
        far += step
    shade = cut_alpha(drawn, around, region)
    if p["fade"] > 0 and length > 0:
        x, y = places(region)
        left, top, right, bottom = work.content
        corners = [
            (cx * math.cos(turned) + cy * math.sin(turned))
            for cx in (left, right)
            for cy in (top, bottom)
        ]
        start, end = min(corners), max(corners) + length
        along = x * np.float32(math.cos(turned)) + y * np.float32(math.sin(turned))
        left_over = 1 - p["fade"] / 100 * np.clip((along - start) / (end - start), 0, 1)
        shade = np.rint(shade * left_over).astype(np.uint8)
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


def _glint(raster: Raster, p: Params, work: Work) -> Raster:
    """A soft band of light across the layer's box, from before it (0) to behind it (100)."""
    region = region_of(raster)
    x, y = places(region)
    turned = math.radians(p["angle"])
    cos, sin = np.float32(math.cos(turned)), np.float32(math.sin(turned))
    left, top, right, bottom = work.box
    ends = [work.at(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))]
    along = [cx * float(cos) + cy * float(sin) for cx, cy in ends]
    half = max(0.5, work.px(p["width"]) / 2)
    soft = max(0.5, half * p["softness"] / 100 * 2)
    reach = half + soft
    middle = min(along) - reach + (max(along) - min(along) + 2 * reach) * p["progress"] / 100
    corners = [cx * float(cos) + cy * float(sin) for cx in region[::2] for cy in region[1::2]]
    if min(corners) > middle + reach or max(corners) < middle - reach or p["strength"] <= 0:
        return raster  # the band is not here now
    far = np.abs(x * cos + y * sin - np.float32(middle))
    band = np.clip((half + soft / 2 - far) / soft, 0, 1)
    strength = (band * band * (3 - 2 * band) * 255).astype(np.uint8)
    return _within(raster, strength, {"colour": p["colour"], "opacity": p["strength"]}, p["mode"])


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

_BLENDS = (
    ("screen", "Screened"),
    ("plus-lighter", "Added"),
    ("overlay", "Overlay"),
    ("normal", "Plain"),
)

STYLES = (
    EffectKind(
        "drop-shadow", "Drop shadow", "style", "A soft shadow beneath the layer.",
        (
            colour("colour", "Colour", "#000000"), OPACITY, ANGLE,
            number("distance", "Distance", 14, "px", 0, 2000, help="How far it is moved away"),
            SOFTNESS, number("spread", "Spread", 0, "px", 0, 400,
                help="How much it grows before it is softened"), flag("only", "Shadow only",
                help="The layer itself is not drawn"),
        ),
        _drop_shadow, _shadow_reach,
    ),
    EffectKind(
        "inner-shadow", "Inner shadow", "style",
        "A shadow that falls into the layer from its edge.",
        (
            colour("colour", "Colour", "#000000"), OPACITY, ANGLE,
            number("distance", "Distance", 8, "px", 0, 2000, help="How far it is moved away"),
            SOFTNESS, number("spread", "Spread", 0, "px", 0, 400,
                help="How much it grows before it is softened"),
        ),
        _inner_shadow, _shadow_reach,
    ),
    EffectKind(
        "glow", "Glow", "style", "Light around what is bright.",
        (
            number("size", "Size", 24, "px", 0, 600,
                help="How far it reaches"), percent("strength", "Strength", 100, 0, 400),
            percent("threshold", "Threshold", 0, help="Only what is brighter than this glows"),
            choice("coloured", "Colour source", (("own", "Its own"), ("ink", "An ink")),
                help="Whether it glows in the layer's colours or in one of its own"),
            colour("colour", "Glow colour", "#ffb44a", when=where("coloured", "ink"),
                help="The colour that it glows in"),
            choice(
                "where", "Light mixing",
                (("screened", "Screened"), ("added", "Added"), ("behind", "Behind the layer")),
                help="Added or screened onto what lies below: it never takes light away",
            ),
            flag("only", "Glow only", help="The layer itself is not drawn"),
        ),
        _glow, _glow_reach, roomy=True,
    ),
    EffectKind(
        "inner-glow", "Inner glow", "style", "Light within, from the edge or the middle.",
        (
            number("size", "Size", 18, "px", 0, 600,
                help="How far it reaches"), percent("strength", "Strength", 100, 0, 400),
            colour("colour", "Colour", "#ffd9a0"),
            choice("from", "Glow source", (("edge", "The edge"), ("centre", "The middle")),
                help="From the layer's edge inwards, or from its middle outwards"),
        ),
        _inner_glow, lambda p, work: blurs.reach_of(work.px(p["size"])),
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
            number("count", "Line count", 1, "", 1, 12, whole=True,
                help="How many lines lie round each other"),
            number("gap", "Line gap", 6, "px", 0, 400, help="Room between the lines"),
            number("softness", "Softness", 0, "px", 0, 200), percent("opacity", "Opacity", 100),
            flag("only", "Outline only", help="The layer itself is not drawn"),
        ),
        _outline, lambda p,
        work: p["count"] * work.px(p["width"] + p["gap"]) + 3 * work.px(p["softness"]) + 4,
    ),
    EffectKind(
        "edge-light", "Edge light", "style", "Light on one rim and shade on the other.",
        (
            angle("angle", "Light angle", 225,
                help="Where the light comes from, clockwise from the right"),
            number("size", "Size", 5, "px", 0.2, 200, help="How far it reaches"),
            percent("strength", "Light strength", 100, 0, 300, help="How strong the lit edge is"),
            colour("colour", "Colour", "#fff3dd"), percent("shade", "Shade strength", 40, 0, 300,
                help="How strong the edge is that lies away from the light"),
            colour("shade-colour", "Shade colour", "#000000", help="The colour of that edge"),
        ),
        _edge_light, lambda p, work: 4 * work.px(p["size"]) + 4,
    ),
    EffectKind(
        "long-shadow", "Long shadow", "style", "The form drawn out to one side.",
        (
            colour("colour", "Colour", "#0d1330"), percent("opacity", "Opacity", 55),
            angle("angle", "Direction", 45),
            number("length", "Shadow length", 160, "px", 0, 4000,
                help="How far the shadow reaches"), percent("fade", "Fade", 60,
                help="How much it has faded at its end"),
        ),
        _long_shadow, lambda p, work: work.px(p["length"]) + 2,
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
        "glint", "Glint", "style", "A band of light passes over: key its progress.",
        (
            percent("progress", "Progress", 50, help="0 before the layer, 100 behind it"),
            number("width", "Width", 60, "px", 1, 4000, help="How wide it is"),
            percent("softness", "Softness", 70),
            angle("angle", "Direction", 20), colour("colour", "Colour", "#ffffff"),
            percent("strength", "Strength", 85),
            choice("mode", "Light mixing", _BLENDS,
                help="How the light mixes with the layer's colours"),
        ),
        _glint,
    ),
    EffectKind(
        "colour-fringe", "Colour fringe", "style", "Red and blue drift apart.",
        (
            number("amount", "Fringe width", 6, "px", -400, 400,
                help="How far red and blue lie apart"),
            choice("how", "Fringe type", (("line", "Along a line"), ("out", "Outwards")),
                help="Along a direction, or out from the middle"),
            angle("angle", "Angle", 0),
        ),
        _fringe, lambda p, work: abs(work.px(p["amount"])) + 2,
    ),
)  # fmt: skip
