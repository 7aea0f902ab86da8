"""Patterns: grid, stripes, dots, checker."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from ..geometry import outline as outlines
from ..geometry.affine import Affine
from ..geometry.outline import Outline, skia_matrix
from ..pixels.canvas import Canvas
from ..pixels.raster import empty
from .base import (
    EffectKind,
    Params,
    Region,
    Work,
    angle,
    colour,
    flag,
    flow,
    number,
    pair,
    percent,
)
from .laid import GROUND, OFFSET, generator, laid_on


def _on_canvas(
    region: Region, work: Work, turn: float, centre: tuple[float, float]
) -> tuple[np.ndarray, Canvas, Affine]:
    """A canvas over a region, and the matrix from a pattern's own space (px of the layer, turned
    about a centre) to its pixels."""
    pixels = empty(region[2] - region[0], region[3] - region[1])
    x, y = work.at(centre)
    matrix = (
        Affine.shift(x - region[0], y - region[1])
        @ Affine.rotation(turn)
        @ Affine.scaling(work.scale, work.scale)
    )
    return pixels, Canvas(pixels), matrix


def _seen(matrix: Affine, region: Region) -> tuple[float, float, float, float]:
    """The box of a pattern's space that a region shows."""
    return matrix.inverse().box((0, 0, region[2] - region[0], region[3] - region[1]))


MAX_PIECES = 20_000


def _pattern(
    p: Params,
    work: Work,
    region: Region,
    centre: tuple[float, float],
    pieces: Callable[[tuple[float, float, float, float]], Outline],
) -> np.ndarray:
    pixels, canvas, matrix = _on_canvas(region, work, p["angle"], centre)
    if p["ground"][3] > 0:
        canvas.clear(p["ground"])
    canvas.fill(pieces(_seen(matrix, region)).skia_path, p["colour"], skia_matrix(matrix), 1.0)
    return pixels


def _steps(low: float, high: float, step: float) -> range:
    first, last = math.floor(low / step) - 1, math.ceil(high / step) + 1
    return range(first, min(last, first + MAX_PIECES) + 1)


def _grid(p: Params, work: Work, region: Region) -> np.ndarray:
    (sx, sy), w = p["spacing"], p["width"]

    def lines(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        found = [
            (
                (i * sx - w / 2, top),
                (i * sx + w / 2, top),
                (i * sx + w / 2, bottom),
                (i * sx - w / 2, bottom),
            )
            for i in _steps(left, right, sx)
        ]
        found += [
            (
                (left, j * sy - w / 2),
                (right, j * sy - w / 2),
                (right, j * sy + w / 2),
                (left, j * sy + w / 2),
            )
            for j in _steps(top, bottom, sy)
        ]
        return outlines.polygons(found)

    return _pattern(p, work, region, p["offset"], lines)


def _stripes(p: Params, work: Work, region: Region) -> np.ndarray:
    step, w = p["spacing"], p["spacing"] * p["share"] / 100
    move = work.time_s * p["flow"] % 1 * step

    def lines(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        return outlines.polygons(
            [
                (
                    (i * step + move, top),
                    (i * step + move + w, top),
                    (i * step + move + w, bottom),
                    (i * step + move, bottom),
                )
                for i in _steps(left - step, right, step)
            ]
        )

    return _pattern(p, work, region, p["offset"], lines)


def _dots(p: Params, work: Work, region: Region) -> np.ndarray:
    step, radius = p["spacing"], p["radius"]

    def discs(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        found = []
        for j in _steps(top, bottom, step):
            shift = step / 2 if p["staggered"] and j % 2 else 0
            found += [(i * step + shift, j * step, radius) for i in _steps(left, right, step)]
            if len(found) > MAX_PIECES:
                break
        return outlines.circles(found)

    return _pattern(p, work, region, p["offset"], discs)


def _checker(p: Params, work: Work, region: Region) -> np.ndarray:
    sx, sy = p["size"]

    def squares(box: tuple[float, float, float, float]) -> Outline:
        left, top, right, bottom = box
        found = []
        for j in _steps(top, bottom, sy):
            for i in _steps(left, right, sx):
                if (i + j) % 2 == 0:
                    found.append(
                        (
                            (i * sx, j * sy),
                            (i * sx + sx, j * sy),
                            (i * sx + sx, j * sy + sy),
                            (i * sx, j * sy + sy),
                        )
                    )
            if len(found) > MAX_PIECES:
                break
        return outlines.polygons(found)

    return _pattern(p, work, region, p["offset"], squares)


PATTERNS = (
    EffectKind(
        "grid", "Grid", "generate", "Lines both ways.",
        (
            pair("spacing", "Spacing", (80.0, 80.0), "px", 2, 4000, linked=True,
                help="From one figure to the next"),
            number("width", "Line width", 2, "px", 0.1, 1000,
                help="How wide the lines are"), angle("angle", "Angle", 0), OFFSET,
            colour("colour", "Colour", "#f8f1e4"), GROUND, *laid_on(),
        ),
        generator(_grid), fills=True,
    ),
    EffectKind(
        "stripes", "Stripes", "generate", "Bars that may travel.",
        (
            number("spacing", "Spacing", 60, "px", 2, 4000,
                help="From one figure to the next"), percent("share", "Bar share", 50,
                help="How much of the spacing a bar takes"),
            angle("angle", "Angle", 30), OFFSET,
            colour("colour", "Colour", "#ffb44a"), GROUND, flow(), *laid_on(),
        ),
        generator(_stripes), timed=True, fills=True,
    ),
    EffectKind(
        "dots", "Dots", "generate", "Rows of discs.",
        (
            number("spacing", "Spacing", 48, "px", 3, 4000, help="From one figure to the next"),
            number("radius", "Dot radius", 12, "px", 0.2, 2000,
                help="From a dot's middle to its edge"), flag("staggered", "Staggered rows", True,
                help="Every other row is moved by half a spacing"),
            angle("angle", "Angle", 0), OFFSET,
            colour("colour", "Colour", "#f8f1e4"), GROUND, *laid_on(),
        ),
        generator(_dots), fills=True,
    ),
    EffectKind(
        "checker", "Checker", "generate", "Squares by turns.",
        (
            pair("size", "Cell size", (80.0, 80.0), "px", 4, 4000, linked=True,
                help="Width and height of a square"),
            angle("angle", "Angle", 0), OFFSET, colour("colour", "Colour", "#f8f1e4"), GROUND,
            *laid_on(),
        ),
        generator(_checker), fills=True,
    ),
)  # fmt: skip
