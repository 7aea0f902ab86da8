"""Markers put where they stand on a path (SVG 2, 13.7)."""

from __future__ import annotations

import math
from collections.abc import Callable
from xml.etree.ElementTree import Element

from ...geometry.affine import Affine, Point
from ...geometry.outline import Cubic
from .outlines import outline_of
from .syntax import length, numbers, tag_of, view_matrix

_MARKABLE = ("path", "line", "polyline", "polygon")
MAX_MARKERS = 500

Draw = Callable[[Element, Affine], list[Element]]


def marked(
    shape: Element, style: dict[str, str], by_id: dict[str, Element], draw: Draw
) -> list[Element]:
    """What markers show on a shape, in the shape's space."""
    chosen = {
        end: by_id.get(_id(style.get(f"marker-{end}", "none"))) for end in ("start", "mid", "end")
    }
    if tag_of(shape) not in _MARKABLE or not any(e is not None for e in chosen.values()):
        return []
    outline = outline_of(shape)
    if outline is None or outline.is_empty:
        return []
    width = length(style.get("stroke-width", "1"), 1.0)
    found: list[Element] = []
    corners = _corners(outline.closed_cubics())
    for index, (point, before, after) in enumerate(corners):
        which = "start" if index == 0 else "end" if index == len(corners) - 1 else "mid"
        marker = chosen[which]
        if marker is None or tag_of(marker) != "marker" or len(found) >= MAX_MARKERS:
            continue
        place = _place(marker, point, _direction(before, after), which == "start", width)
        if place is not None:
            found += draw(marker, place)
    return found


def _id(text: str) -> str:
    text = text.strip()
    return text[4:-1].strip("\"' ").lstrip("#") if text.startswith("url(") else ""


def _corners(
    contours: list[tuple[list[Cubic], bool]],
) -> list[tuple[Point, float | None, float | None]]:
    """Every vertex with the directions in which the path comes in and goes out, degrees."""
    found: list[tuple[Point, float | None, float | None]] = []
    for cubics, closed in contours:
        ways = [
            (_way(c[0], c[1], c[2], c[3]), _way(c[3], c[2], c[1], c[0], back=True)) for c in cubics
        ]
        for index, cubic in enumerate(cubics):
            before = ways[index - 1][1] if index or closed else None
            found.append((cubic[0], before, ways[index][0]))
        found.append((cubics[-1][3], ways[-1][1], ways[0][0] if closed else None))
    return found


def _way(*points: Point, back: bool = False) -> float | None:
    """The direction from the first point to the next that lies elsewhere."""
    x, y = points[0]
    for px, py in points[1:]:
        if math.hypot(px - x, py - y) > 1e-9:
            dx, dy = (x - px, y - py) if back else (px - x, py - y)
            return math.degrees(math.atan2(dy, dx))
    return None


def _direction(before: float | None, after: float | None) -> float:
    """Half way between two directions, the shorter way round."""
    if before is None or after is None:
        return before if before is not None else after if after is not None else 0.0
    return before + ((after - before + 180) % 360 - 180) / 2


def _place(
    marker: Element, point: Point, direction: float, start: bool, width: float
) -> Affine | None:
    orient = marker.get("orient", "0").strip()
    if orient.startswith("auto"):
        angle = direction + (180.0 if start and orient == "auto-start-reverse" else 0.0)
    else:
        angle = (numbers(orient) or [0.0])[0]
    unit = 1.0 if marker.get("markerUnits") == "userSpaceOnUse" else width
    size = (length(marker.get("markerWidth"), 3.0), length(marker.get("markerHeight"), 3.0))
    view = numbers(marker.get("viewBox", ""))
    if min(size) <= 0 or unit <= 0 or (len(view) == 4 and min(view[2:]) <= 0):
        return None
    fitted = view_matrix(marker, *size)
    box = (view[2], view[3]) if len(view) == 4 else size
    ref = fitted((_ref(marker.get("refX", "0"), box[0]), _ref(marker.get("refY", "0"), box[1])))
    return (
        Affine.shift(*point)
        @ Affine.rotation(angle)
        @ Affine.scaling(unit, unit)
        @ Affine.shift(-ref[0], -ref[1])
    )


def _ref(text: str, size: float) -> float:
    word = text.strip().lower()
    if word in ("left", "top"):
        return 0.0
    if word == "center":
        return size / 2
    if word in ("right", "bottom"):
        return size
    if word.endswith("%"):
        return (numbers(word) or [0.0])[0] / 100 * size
    return length(text)
