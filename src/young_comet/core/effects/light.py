"""Light of a layer's own: glows, lit edges, a glint that passes."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..model.specs import where
from ..pixels import blur as blurs
from ..pixels import tone
from ..pixels.blend import blend, keep_alpha, scale_by, tinted
from ..pixels.kernel import Few, kernel, sample
from ..pixels.raster import Raster
from ..pixels.warp import places
from .alphas import alpha_in
from .base import (
    EffectKind,
    Params,
    Work,
    angle,
    choice,
    colour,
    flag,
    laid_in,
    number,
    percent,
    pixels_in,
    region_of,
    room_for,
)
from .laid import within


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


# A glow is the sum of three gaussians, sharp, plain and wide: their sizes in parts of its size and
# how much each of them counts.
_HALO = ((0.25, 0.45), (1.0, 0.30), (3.0, 0.25))
# Light that has left its source is more coloured than that.
_VIVID = 1.25


def _halo(sigma: float) -> list[tuple[float, float]]:
    return [(sigma * part, share) for part, share in _HALO]


def _vivid() -> np.ndarray:
    """What makes premultiplied BGRA more coloured: further from its grey."""
    grey = (1 - _VIVID) * np.array([0.0722, 0.7152, 0.2126, 0.0])
    matrix = np.diag([_VIVID, _VIVID, _VIVID, 1.0])
    matrix[:3] += grey
    return matrix.astype(np.float32)


_COLOURS = _vivid()


# What lies farther away, px, gives no light to the layer itself: where it is enlarged so much that
# this matters, one sees a small part of it.
_WITHIN_REACH = 2048


def _glow_reach(p: Params, work: Work) -> float:
    if p["strength"] <= 0:
        return 0.0
    reach = blurs.reach_of(_HALO[-1][0] * work.px(p["size"]))
    if p.get("part") != "within":
        return reach
    return 0.0 if p["where"] == "behind" else min(reach, _WITHIN_REACH)


def light_made_by(p: Params, scale: float) -> int:
    """By how much smaller than the layer's picture of a scale a glow's light is worked out."""
    return blurs.glow_factor(_halo(float(p["size"]) * scale))


# Effects whose light is laid by itself: the part that is wanted of them, "light" or "within", is a
# parameter of that name; without it they give both as one picture.
LIGHT_PARTS = ("glow",)


# Light that is screened is seen on the layer itself at so much of its strength: it lies around.
_OVER_BODY = 0.1


def _over_body(own: np.ndarray, p: Params) -> np.ndarray:
    """How much of a glow's light is seen over each pixel of the layer, 0..255."""
    alpha = own[:, :, 3]
    return alpha if p["where"] == "added" else cv2.convertScaleAbs(alpha, alpha=_OVER_BODY)


def light_mode(p: Params) -> str:
    """How a glow's light is laid onto what lies below; it never takes any away."""
    return "plus-lighter" if p["where"] == "added" else "screen"


def _glow(raster: Raster, p: Params, work: Work) -> Raster:
    """Light around the layer, as a lens gives it: three blurs together, behind it, added or
    screened. None of the steps takes a colour beyond its alpha."""
    part = p.get("part", "whole")
    if p["strength"] <= 0:
        return raster
    sigma = work.px(p["size"])
    region = room_for(raster, _glow_reach(p, work), work)
    ink = p["coloured"] == "ink"

    def field() -> np.ndarray:
        bright = Raster(_bright(raster, p["threshold"] / 100), raster.left, raster.top)
        source = alpha_in(bright, region) if ink else pixels_in(bright, region)
        return blurs.glow_field(source, _halo(sigma), None if ink else _COLOURS)

    if part == "within" and p["where"] == "behind":
        return raster  # the layer covers it
    soft = work.kept(("glow", region, sigma, p["threshold"], ink), field)
    size = (region[2] - region[0], region[3] - region[1])
    light = blurs.glow_light(soft, _halo(sigma)[0][0], p["strength"] / 100, *size)
    if ink:
        light = tinted(light, p["colour"])
    # The light may be what is kept.
    if part == "light" or p["only"]:
        return Raster(light.copy() if light is soft else light, region[0], region[1])
    if part == "within":
        own = raster.pixels if work.owned else raster.pixels.copy()
        light = laid_in(Raster(light, region[0], region[1]), region_of(raster))
        before = own.copy()
        scale_by(light, np.ascontiguousarray(_over_body(own, p)))
        blend(own, light, light_mode(p))
        keep_alpha(own, before)
        return Raster(own, raster.left, raster.top)
    own = pixels_in(raster, region) if work.owned else laid_in(raster, region)
    light = light.copy() if light is soft else light
    if p["where"] == "behind":
        blend(light, own)
        return Raster(light, region[0], region[1])
    if p["where"] == "screened":
        scale_by(light, 255 - cv2.convertScaleAbs(own[:, :, 3], alpha=1 - _OVER_BODY))
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
    return within(raster, strength, {**p, "opacity": 100}, p["mode"])


# The height of an edge rises by a smoothstep over its width: its slope is this at most.
_STEEPEST = 1.5


def _edge_light(raster: Raster, p: Params, work: Work) -> Raster:
    """Light from a side on a bevelled edge: the height rises with the distance from the outline (by
    a smoothstep over the size, which is no more than half a stem), and is lit by its slope."""
    turned = math.radians(p["angle"])
    alpha = np.pad(raster.pixels[:, :, 3], 2)
    inside = (alpha > 127).astype(np.uint8)
    if not inside.any():
        return raster
    far = cv2.distanceTransform(inside, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)
    # Half of the stems: as far in as their middles are.
    ridges = far[(far >= cv2.dilate(far, np.ones((3, 3), np.uint8)) - 1e-3) & (far > 0)]
    stem = float(np.percentile(ridges, 90)) if len(ridges) else 1.0
    size = max(1.0, min(work.px(p["size"]), stem))
    height = np.clip(far / np.float32(size), 0, 1)
    height = height * height * (3 - 2 * height)
    height = cv2.GaussianBlur(height, (0, 0), max(0.6, 0.18 * size))
    slope_x = cv2.Scharr(height, cv2.CV_32F, 1, 0, scale=1 / 32)
    slope_y = cv2.Scharr(height, cv2.CV_32F, 0, 1, scale=1 / 32)
    facing = -(slope_x * np.float32(math.cos(turned)) + slope_y * np.float32(math.sin(turned)))
    facing = facing[2:-2, 2:-2] * np.float32(size / _STEEPEST)
    light = np.clip(facing * np.float32(255 * p["strength"] / 100), 0, 255).astype(np.uint8)
    result = within(raster, light, {**p, "opacity": 100}, "screen")
    if p["shade"] > 0:
        dark = np.clip(facing * np.float32(-255 * p["shade"] / 100), 0, 255).astype(np.uint8)
        shade = {"colour": p["shade-colour"], "opacity": 100}
        result = within(result, dark, shade, "normal")
    return result


# Ahead of the band goes a hairline, so far and so fine in parts of the band's width.
_AHEAD, _HAIRLINE = 0.85, 0.055
# How much darker a light body is while light passes over it, so that the light is seen on white.
_DIMMED = 0.22


def _glint(raster: Raster, p: Params, work: Work) -> Raster:
    """A wide soft band of light and a hairline ahead of it, across the layer's box, from before it
    (0) to behind it (100). Lit, they multiply the layer's own colours."""
    region = region_of(raster)
    x, y = places(region)
    turned = math.radians(p["angle"])
    cos, sin = np.float32(math.cos(turned)), np.float32(math.sin(turned))
    left, top, right, bottom = work.box
    ends = [work.at(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))]
    along = [cx * float(cos) + cy * float(sin) for cx, cy in ends]
    # A gaussian as wide at half its height; softer ones have longer feet.
    sigma = max(0.5, work.px(p["width"]) / 2.355)
    power = 1 + 3 * (1 - p["softness"] / 100)
    ahead = _AHEAD * work.px(p["width"]) + sigma
    reach = 3 * sigma + ahead
    progress = p["progress"] / 100
    middle = min(along) - reach + (max(along) - min(along) + 2 * reach) * progress
    corners = [cx * float(cos) + cy * float(sin) for cx in region[::2] for cy in region[1::2]]
    if p["strength"] <= 0 or not 0 < progress < 1:
        return raster
    near = min(corners) <= middle + reach and max(corners) >= middle - reach
    if not near and p["mode"] != "lit":
        return raster  # the band is not here now
    far = x * cos + y * sin - np.float32(middle)
    fine = np.float32(max(0.6, _HAIRLINE * work.px(p["width"])))
    band = np.exp(-0.5 * np.abs(far / np.float32(sigma)) ** np.float32(2 * power))
    hair = np.exp(-0.5 * ((far - np.float32(ahead)) / fine) ** 2)
    lit = np.maximum(band * np.float32(0.8), hair)
    if p["mode"] != "lit":
        strength = (lit * 255).astype(np.uint8)
        return within(
            raster, strength, {"colour": p["colour"], "opacity": p["strength"]}, p["mode"]
        )
    pixels = raster.pixels.copy()
    r, g, b, _ = p["colour"]
    # It is dimmed while the band is under way, and not at its beginning and end.
    passing = min(1.0, 6 * progress, 6 * (1 - progress)) * min(1.0, p["strength"] / 85)
    shine(pixels, lit, np.array([b, g, r], np.float32), p["strength"] / 100, _DIMMED * passing)
    return Raster(pixels, raster.left, raster.top)


@kernel()
def shine(
    pixels: np.ndarray, lit: np.ndarray, colour: np.ndarray, strength: float, dimmed: float
) -> None:
    """Light (h, w) 0..1 of a colour on premultiplied pixels, in place: their colours times more
    than one and a little of its own; what is bright is ``dimmed`` where there is none."""
    for y in range(pixels.shape[0]):
        row, light = pixels[y], lit[y]
        for x in range(row.shape[0]):
            alpha = np.float32(row[x, 3])
            if alpha == 0:
                continue
            k = light[x] * np.float32(strength)
            luma = (
                np.float32(0.0722) * row[x, 0]
                + np.float32(0.7152) * row[x, 1]
                + np.float32(0.2126) * row[x, 2]
            ) / alpha
            kept = np.float32(1) - np.float32(dimmed) * luma**4 * (np.float32(1) - light[x])
            for c in range(3):
                value = row[x, c] * kept * (np.float32(1) + np.float32(0.9) * k)
                value += k * np.float32(0.38) * colour[c] * (alpha - row[x, c])
                row[x, c] = np.uint8(min(alpha, value + np.float32(0.5)))


_BLENDS = (
    ("lit", "Lit: in its own colours"),
    ("screen", "Screened"),
    ("plus-lighter", "Added"),
    ("overlay", "Overlay"),
    ("normal", "Plain"),
)

LIGHTS = (
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
                (("behind", "Behind the layer"), ("screened", "Screened"), ("added", "Added")),
                help="Behind the layer only, or onto it as well: it never takes light away",
            ),
            flag("only", "Glow only", help="The layer itself is not drawn"),
        ),
        _glow, _glow_reach, roomy=True, light="more",
    ),
    EffectKind(
        "inner-glow", "Inner glow", "style", "Light within, from the edge or the middle.",
        (
            number("size", "Size", 18, "px", 0, 600,
                help="How far it reaches"), percent("strength", "Strength", 100, 0, 400),
            colour("colour", "Colour", "#ffd9a0"),
            choice("mode", "Light mixing", (("normal", "Plain"), ("screen", "Screened")),
                help="Plain it is seen on light layers, too"),
            choice("from", "Glow source", (("edge", "The edge"), ("centre", "The middle")),
                help="From the layer's edge inwards, or from its middle outwards"),
        ),
        _inner_glow, lambda p, work: blurs.reach_of(work.px(p["size"])), light="more",
    ),
    EffectKind(
        "edge-light", "Edge light", "style", "Light on one rim and shade on the other.",
        (
            angle("angle", "Light angle", 225,
                help="Where the light comes from, clockwise from the right"),
            number("size", "Size", 9, "px", 0.2, 200, help="How far it reaches"),
            percent("strength", "Light strength", 100, 0, 300, help="How strong the lit edge is"),
            colour("colour", "Colour", "#fff3dd"), percent("shade", "Shade strength", 40, 0, 300,
                help="How strong the edge is that lies away from the light"),
            colour("shade-colour", "Shade colour", "#000000", help="The colour of that edge"),
        ),
        _edge_light, lambda p, work: 4 * work.px(p["size"]) + 4, light="same",
    ),
    EffectKind(
        "glint", "Glint", "style", "A band of light passes over: key its progress.",
        (
            percent("progress", "Progress", 50, help="0 before the layer, 100 behind it"),
            number("width", "Width", 130, "px", 1, 4000, help="How wide it is"),
            percent("softness", "Softness", 70),
            angle("angle", "Direction", 20), colour("colour", "Colour", "#ffffff"),
            percent("strength", "Strength", 85),
            choice("mode", "Light mixing", _BLENDS,
                help="How the light mixes with the layer's colours"),
        ),
        _glint, light="more",
    ),
)  # fmt: skip


@sample
def _sample(few: Few) -> None:
    for pixels, _ in few.layouts():
        lit = np.zeros(pixels.shape[:2], np.float32)
        shine(pixels, lit, np.ones(3, np.float32), 0.5, 0.2)
