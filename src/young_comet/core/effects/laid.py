"""What every generator has: where it draws, how it is laid on the layer."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..model.specs import PropertySpec
from ..pixels.blend import BLEND_MODES, blend, keep_alpha, scale_by, tinted
from ..pixels.ink import Ink
from ..pixels.raster import Raster
from .base import (
    Params,
    Region,
    Work,
    choice,
    colour,
    join,
    laid_in,
    meet,
    own_pixels,
    percent,
    place,
    region_of,
)

# What is one colour may be told by its alpha, as far as there is any.
Make = Callable[[Params, Work, Region], np.ndarray | Ink]

_COVERS = (("layer", "The layer's form"), ("box", "The layer's box"), ("frame", "The whole frame"))

_MODES = tuple((m, m.replace("-", " ").capitalize()) for m in BLEND_MODES)


def laid_on(cover: str = "layer", mode: str = "normal") -> tuple[PropertySpec, ...]:
    """The parameters that every generator has: where it draws and how."""
    return (
        choice("cover", "Coverage", _COVERS, cover,
            help="Whether it lies on the layer's own pixels or covers the frame"),
        choice("mode", "Blend mode", _MODES, mode,
            help="How its colours mix with the layer's (W3C compositing)"),
        percent("opacity", "Opacity", 100),
    )  # fmt: skip


def generator(make: Make) -> Callable[[Raster, Params, Work], Raster]:
    """An effect from a function that makes a picture over a region."""

    def draw(raster: Raster, p: Params, work: Work) -> Raster:
        cover = p["cover"]
        if cover == "layer":
            region = region_of(raster)
        else:
            region = meet(work.content if cover == "box" else work.region(work.frame), work.area)
        if region[2] <= region[0] or region[3] <= region[1] or p["opacity"] <= 0:
            return raster
        found = make(p, work, region)
        # Over nothing every way of blending gives what is laid on.
        alone = raster.is_empty and p["opacity"] >= 100
        if isinstance(found, Ink):
            ink = Raster(found, region[0], region[1])
            if alone:
                return ink
            found = laid_in(ink, region)
        made = np.ascontiguousarray(found)
        if alone:
            return Raster(made, region[0], region[1])
        if cover == "layer":
            scale_by(made, np.ascontiguousarray(raster.pixels[:, :, 3]))
            kept = raster.pixels.copy() if p["mode"] == "plus-lighter" else raster.pixels
            pixels = own_pixels(raster, work)
            blend(pixels, made, p["mode"], p["opacity"] / 100)
            if p["mode"] == "plus-lighter":
                keep_alpha(pixels, kept)
            return Raster(pixels, raster.left, raster.top)
        both = join(region_of(raster), region)
        same = region_of(raster) == both and region == both
        result = own_pixels(raster, work) if same else laid_in(raster, both)
        top = made if same else laid_in(Raster(made, region[0], region[1]), both)
        blend(result, top, p["mode"], p["opacity"] / 100)
        return Raster(result, both[0], both[1])

    return draw


OFFSET = place("offset", "Origin", help="Where the pattern begins")

GROUND = colour(
    "ground", "Ground colour", "#00000000", help="The colour between the pattern's figures"
)


def within(raster: Raster, strength: np.ndarray, p: Params, mode: str) -> Raster:
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
