"""Text along a path."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..geometry.affine import Affine
from ..geometry.outline import from_svg_path
from ..geometry.trail import Trail, trail
from .layout import TextLayout


@dataclass(frozen=True, slots=True)
class TextPath:
    """A path that a text follows: SVG path data in the layer's space. The text goes ``offset``
    (1: the path's length) on from where its alignment puts it, ``gap_px`` off the path; on its
    other side, in the other direction, where ``reversed``. ``upright`` letters are not turned."""

    data: str
    offset: float = 0.0
    gap_px: float = 0.0
    reversed: bool = False
    upright: bool = False


@dataclass(frozen=True, slots=True)
class Bend:
    """How a path leads what stands on a straight line: ``start`` is how far along the path x = 0
    lies, ``line`` the y that lies on it."""

    way: Trail
    start: float
    line: float
    reversed: bool

    def __call__(self, places: np.ndarray) -> np.ndarray:
        """Places (n, 2) of a straight line where they are along the path, (n, 2)."""
        far = self.start + places[:, 0]
        points, angles = self.way.at(self.way.length - far if self.reversed else far)
        turned = np.radians(angles + (180.0 if self.reversed else 0.0))
        across = (places[:, 1] - self.line)[:, None]
        found: np.ndarray = points + across * np.stack([-np.sin(turned), np.cos(turned)], axis=1)
        return found


def led_along(layout: TextLayout, path: TextPath, align: str) -> TextLayout:
    """A set text along a path. The middle of each letter stands on the path, square to it, as SVG 2
    (11.8.3) lays text on a path; ``align`` puts a text at the path's start (left), about its middle
    (centre) or at its end (right). Further lines lie beside the first. Beyond its ends an open path
    goes on straight. A path without length leaves the text as it is."""
    way = trail(path.data)
    if way.is_empty:
        return layout
    start = {
        "left": layout.width / 2, "centre": way.length / 2, "right": way.length - layout.width / 2,
    }.get(align, layout.width / 2) + path.offset * way.length  # fmt: skip
    first = layout.baselines[0] if layout.baselines else 0.0

    def at(middles: np.ndarray) -> list[tuple[float, tuple[float, float]]]:
        distances = start + middles
        points, angles = way.at(way.length - distances if path.reversed else distances)
        if path.upright:
            angles = np.zeros_like(angles)
        elif path.reversed:
            angles = angles + 180.0
        return list(zip(angles.tolist(), points.tolist(), strict=True))

    glyphs = []
    found = at(np.array([g.middle for g in layout.glyphs]))
    for g, (angle, (px, py)) in zip(layout.glyphs, found, strict=True):
        turn = Affine.rotation(angle)
        x, y = turn((g.x - g.middle, g.y - first - path.gap_px))
        glyphs.append(replace(g, x=px + x, y=py + y, middle=px, turned_deg=angle))
    left, top, right, bottom = from_svg_path(path.data).bounds
    # As much room as the lines need on either side, wherever on the path the text is.
    reach = layout.height + abs(path.gap_px)
    around = (left - reach, top - reach, right + reach, bottom + reach)
    cells = [cell for line in layout.lines for cell in line.cells]
    middles = np.array([(cell.left + cell.right) / 2 for cell in cells])
    places = {}
    for cell, middle, (angle, (px, py)) in zip(cells, middles.tolist(), at(middles), strict=True):
        flat = Affine.shift(-middle, -first - path.gap_px)
        places[cell.first] = Affine.shift(px, py) @ Affine.rotation(angle) @ flat
    return TextLayout(
        glyphs,
        layout.width,
        layout.height,
        layout.lines,
        around,
        absent=layout.absent,
        cell_places=places,
        bend=Bend(way, start, first + path.gap_px, path.reversed),
    )
