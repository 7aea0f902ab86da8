"""Every compiled kernel called once on a few pixels: compiled at set-up, loaded at a start, so
that no frame waits for it."""

from __future__ import annotations

import numpy as np

from .effects.colour import ramp_outwards
from .effects.generate import radiated
from .effects.key import colour_distances, unmix
from .effects.running import run_down
from .pixels import blend, noise, tone
from .pixels.blur import directional, in_levels
from .pixels.coverage import joined, let_through
from .pixels.distance import edge_distance
from .pixels.flow import smeared
from .pixels.hull import filled, reached
from .pixels.mean import mean
from .pixels.modes import LOOPS
from .pixels.raster import Raster
from .pixels.scaling import scaled
from .pixels.warp import displaced
from .pixels.yuv import to_i420


def load_kernels() -> None:
    """Calls all kernels; takes seconds where they have never been compiled, else little."""
    pixels = np.full((4, 4, 4), 128, np.uint8)
    row = pixels.copy()[1:3]  # as contiguous as what is cut out of a picture
    coverage = np.full((4, 4), 128, np.uint8)
    tables = np.stack([np.arange(256, dtype=np.uint8)] * 3)
    for part in (pixels.copy(), row):
        cover = np.ascontiguousarray(coverage[: part.shape[0]])
        blend.scale_by(part, cover)
        blend.fade(part, 0.5)
        blend.lay_faintly(part, part.copy(), 0.01, (0, 0), 1)
        assert tone.TonedRaster(Raster(part), tables=tables, dark=cover, owned=True).pixels is part
        blend.keep_alpha(part, part.copy())
        blend.blend_towards(part, part.copy(), cover)
        blend.cover(cover, part, 0.5)
        blend.lay_through(part, part.copy(), cover, 0.5)
        for mode in LOOPS:
            blend.blend(part, part.copy(), mode, 0.5)
        blend.lay_ink(part, cover, (1.0, 0.5, 0.2, 1.0), 0.5, cover)
        noise.add_grain(part, 0, 0, 0, 1, 3.0, True)
        blend.luminance(part)
        let_through(part, 0.5, True, part.shape[:2])
        let_through(cover, 0.5, True, part.shape[:2])
        joined(cover, cover, "union")
    blend.tinted(coverage, (1.0, 0.5, 0.2, 1.0))
    blend.looked_up(np.zeros((4, 4), np.float32), np.zeros((8, 4), np.uint8))
    mean([Raster(pixels)], (0, 0, 4, 4), 1)
    in_levels(pixels.astype(np.uint16))
    filled(pixels, 2)
    edge_distance(coverage, 2.0)
    smeared(Raster(pixels), np.ones((2, 2, 2)), (0, 0, 4, 4))
    reached(np.zeros((2, 2)), np.zeros(2), 1.0)
    noise.fractal((0, 0, 40, 4), (0.0, 0.0), 20.0, octaves=4)
    noise.fractal((0, 0, 40, 4), (0.0, 0.0), 20.0, octaves=4, kind="cellular")
    noise.grain(0, 0, 4, 4, 0, 1)
    noise.dithered(np.zeros((4, 4, 4), np.float32), 0, 0)
    noise.random_numbers(4, 1, 0)
    for way in ((0.5, 0.7), (1.0, 1.0)):
        scaled(pixels, way, (0.3, 0.4), (0, 0, 4, 4))
    line = np.zeros(2, np.float32)
    ramp_outwards(line, line, np.zeros((2, 2), np.float32), 1.0, 1.0, 1.0)
    fields = np.zeros((2, 2), np.float32), np.zeros((2, 2), np.float32)
    displaced(*fields, 1.0, (1.0, 1.0), (0.0, 0.0))
    radiated(np.zeros((2, 2), np.uint16), np.zeros((2, 2), np.uint16), np.zeros(4, np.uint32))
    tone.with_matrix(pixels, np.eye(4, 5))
    tone.by_luma(pixels, np.zeros((256, 4), np.uint8))
    tone.through_cube(pixels, np.zeros((2, 2, 2, 3), np.float32))
    directional(pixels, 4.0, 30.0)
    run_down(pixels, np.ones(4, np.float32), 0.5)
    colour_distances(pixels, 0.5, 0.5, 0.5, True)
    near = np.zeros((4, 4), np.int32)
    unmix(pixels, coverage, coverage, near, np.zeros(3, np.float32), 0.1)
    to_i420(pixels, np.zeros((6, 4), np.uint8))
