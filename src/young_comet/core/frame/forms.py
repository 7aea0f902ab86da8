"""Outlines and boxes of what layers show, in the layers' own space."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from ..geometry import outline as outlines
from ..geometry.affine import Box
from ..geometry.outline import Outline


@dataclass(frozen=True)
class ShapeForm:
    """The parameters of an outline; which of them count depends on ``kind``."""

    kind: str
    size: tuple[float, float] = (0.0, 0.0)
    radius: float = 0.0
    corners: int = 3
    inner: float = 0.5
    corner_radius: float = 0.0
    start: tuple[float, float] = (0.0, 0.0)
    end: tuple[float, float] = (0.0, 0.0)
    path: str = ""


@lru_cache(maxsize=1024)
def form_outline(form: ShapeForm) -> Outline:
    """The path of a shape; SVG path data lies in the layer's space as it is written."""
    if form.kind == "rectangle":
        return outlines.rectangle(*form.size, form.corner_radius)
    if form.kind == "ellipse":
        return outlines.ellipse(*form.size)
    if form.kind == "polygon":
        return outlines.regular_polygon(form.radius, form.corners).rounded(form.corner_radius)
    if form.kind == "star":
        tips = outlines.star(form.radius, form.inner, form.corners)
        return tips.rounded(form.corner_radius)
    if form.kind == "line":
        return outlines.polygon([form.start, form.end], closed=False)
    return outlines.from_svg_path(form.path)


def form_box(form: ShapeForm) -> Box:
    """The box around the path, without its stroke."""
    if form.kind in ("rectangle", "ellipse"):
        w, h = form.size
        return (-w / 2, -h / 2, w / 2, h / 2)
    if form.kind in ("polygon", "star"):
        r = form.radius
        return (-r, -r, r, r)
    return form_outline(form).bounds
