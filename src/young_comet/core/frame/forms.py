"""Outlines and boxes of what layers show, in the layers' own space."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from ..geometry import outline as outlines
from ..geometry.affine import Box
from ..geometry.contours import contours_of, write_contours
from ..geometry.morph import morph
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


def form_between(a: ShapeForm, b: ShapeForm, amount: float) -> ShapeForm:
    """The form between two: by its parameters where they are of one kind with as many corners, else
    the one path becomes the other."""
    if a == b or amount == 0:
        return a
    if amount == 1:
        return b
    if a.kind != b.kind or a.corners != b.corners or a.path != b.path:
        one, two = (write_contours(contours_of(form_outline(form))) for form in (a, b))
        return ShapeForm("path", path=morph(one, two, amount))

    def at(p: float, q: float) -> float:
        return p + (q - p) * amount

    def place(p: tuple[float, float], q: tuple[float, float]) -> tuple[float, float]:
        return (at(p[0], q[0]), at(p[1], q[1]))

    return ShapeForm(
        a.kind, place(a.size, b.size), at(a.radius, b.radius), a.corners, at(a.inner, b.inner),
        at(a.corner_radius, b.corner_radius), place(a.start, b.start), place(a.end, b.end), a.path,
    )  # fmt: skip
