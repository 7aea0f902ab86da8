"""What a hand draws on the stage, in pixels of the scene: between two corners, point by point, or
as one line."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ..core.geometry import outline as outlines
from ..core.geometry.affine import Affine, Point
from ..core.geometry.contours import Contour, PathPoint, freehand_path, write_contours
from ..core.geometry.outline import Outline, from_svg_path
from ..errors import DocumentError
from .base import Place

# A form that was clicked for, not drawn, by the shorter side of the frame.
_CLICKED = 0.32
# A line that is drawn evenly lies on multiples of this.
_STEP_DEG = 15.0
# Values are kept to so many decimals.
_DECIMALS = 2


class _Drawn(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")

    def outline(self) -> Outline:
        """Where it lies in the scene; DocumentError where it is nothing."""
        raise NotImplementedError

    def properties(self, frame: tuple[int, int]) -> dict[str, Any]:
        """The values of a shape layer that looks like it."""
        raise NotImplementedError


class DrawnForm(_Drawn):
    """A form between two places; without an end it was clicked for and has a size that suits the
    frame. ``even`` makes its sides equal (a line lies on steps of 15 degrees), ``from_middle``
    lets it grow about where it was begun."""

    form: Literal["rectangle", "ellipse", "polygon", "star", "line"]
    start: Place
    end: Place | None = None
    even: bool = False
    from_middle: bool = False

    def reach(self, frame: tuple[int, int]) -> tuple[Point, Point]:
        """Its middle, and the way from there to where it ends; made even."""
        if self.end is None:
            side = min(frame) * _CLICKED / 2
            return self.start, (side, 0.0 if self.form == "line" else side)
        x, y = self.end[0] - self.start[0], self.end[1] - self.start[1]
        if self.even and self.form == "line":
            length = math.hypot(x, y)
            step = math.radians(_STEP_DEG)
            angle = round(math.atan2(y, x) / step) * step
            x, y = math.cos(angle) * length, math.sin(angle) * length
        elif self.even:
            side = max(abs(x), abs(y))
            x, y = math.copysign(side, x), math.copysign(side, y)
        if self.from_middle:
            return self.start, (x, y)
        return (self.start[0] + x / 2, self.start[1] + y / 2), (x / 2, y / 2)

    def outline(self) -> Outline:
        if self.form not in ("rectangle", "ellipse"):
            raise DocumentError.expected("drawn", "a rectangle, an ellipse or a path", self.form)
        (x, y), (w, h) = self.reach((0, 0))
        if not w or not h:
            raise DocumentError("it has no size", field="drawn")
        make = outlines.rectangle if self.form == "rectangle" else outlines.ellipse
        return make(abs(w) * 2, abs(h) * 2).mapped(Affine.shift(x, y))

    def properties(self, frame: tuple[int, int]) -> dict[str, Any]:
        middle, (w, h) = self.reach(frame)
        placed = {"shape.kind": self.form, "position": _rounded(middle)}
        if self.form == "line":
            ends = {"shape.start": _rounded((-w, -h)), "shape.end": _rounded((w, h))}
            return {**placed, **ends, **_STROKE}
        if self.form in ("rectangle", "ellipse"):
            return {**placed, "shape.size": (round(abs(w) * 2), round(abs(h) * 2))}
        radius = max(round(abs(w) * 2), round(abs(h) * 2)) / 2
        more = {"shape.corners": 6} if self.form == "polygon" else {}
        return {**placed, "shape.radius": radius, **more}


_STROKE = {"fill.on": False, "stroke.width": 8.0, "stroke.cap": "round"}


class DrawnPoint(BaseModel):
    """A point with its handles, as offsets from it."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    at: Place
    into: Place = (0.0, 0.0)
    out: Place = (0.0, 0.0)


class DrawnPath(_Drawn):
    """A path drawn point by point."""

    form: Literal["path"]
    points: Annotated[list[DrawnPoint], Field(min_length=2, max_length=5000)]
    closed: bool = False

    def _contour(self) -> Contour:
        points = tuple(PathPoint(p.at, p.into, p.out) for p in self.points)
        return Contour(points, self.closed)

    def outline(self) -> Outline:
        return _long(from_svg_path(write_contours([self._contour()])))

    def properties(self, frame: tuple[int, int]) -> dict[str, Any]:
        xs, ys = [p.at[0] for p in self.points], [p.at[1] for p in self.points]
        x, y = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
        x, y = round(x, _DECIMALS), round(y, _DECIMALS)
        self.outline()
        path = write_contours([self._contour().mapped(Affine.shift(-x, -y))])
        look = {} if self.closed else {**_STROKE, "stroke.join": "round"}
        return {"shape.kind": "path", "shape.path": path, "position": (x, y), **look}


class DrawnLine(_Drawn):
    """A line drawn in one go, smoothed within the tolerance (px)."""

    form: Literal["hand"]
    points: Annotated[list[Place], Field(min_length=3, max_length=20_000)]
    tolerance: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] = 4.0
    closed: bool = False

    def _path(self) -> str:
        points = np.array(self.points, np.float64)
        return freehand_path(points, self.tolerance, closed=self.closed)

    def outline(self) -> Outline:
        return _long(from_svg_path(self._path()))

    def properties(self, frame: tuple[int, int]) -> dict[str, Any]:
        outline = self.outline()
        left, top, right, bottom = outline.bounds
        x, y = round((left + right) / 2, _DECIMALS), round((top + bottom) / 2, _DECIMALS)
        path = outlines.centred(self._path())
        look = {} if self.closed else {**_STROKE, "stroke.join": "round"}
        return {"shape.kind": "path", "shape.path": path, "position": (x, y), **look}


class DrawnData(_Drawn):
    """SVG path data."""

    form: Literal["svg"]
    data: Annotated[str, Field(max_length=400_000)]

    def outline(self) -> Outline:
        return _long(from_svg_path(self.data))

    def properties(self, frame: tuple[int, int]) -> dict[str, Any]:
        left, top, right, bottom = self.outline().bounds
        middle = ((left + right) / 2, (top + bottom) / 2)
        path = outlines.centred(self.data)
        return {"shape.kind": "path", "shape.path": path, "position": middle}


Drawn = Annotated[DrawnForm | DrawnPath | DrawnLine | DrawnData, Field(discriminator="form")]


def _rounded(point: Point) -> Point:
    return (round(point[0], _DECIMALS), round(point[1], _DECIMALS))


def _long(outline: Outline) -> Outline:
    if outline.length() < 1e-6:
        raise DocumentError("a path needs two points at least", field="drawn")
    return outline
