"""Outlines: closed or open paths of lines and curves. The only door to Skia's paths."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise

import skia
from fontTools.pens.basePen import BasePen
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path import parse_path

from ...errors import DocumentError
from .affine import Affine, Box, Point
from .projective import Projective

# A cubic's handle for a quarter circle of radius 1 (error 0.03 %).
_QUARTER = 0.5522847498


_JOINED = {
    "union": skia.PathOp.kUnion_PathOp,
    "minus": skia.PathOp.kDifference_PathOp,
    "intersect": skia.PathOp.kIntersect_PathOp,
    "exclude": skia.PathOp.kXOR_PathOp,
}

Cubic = tuple[Point, Point, Point, Point]


class Outline:
    """An immutable path. Every method returns a new one; the non-zero winding rule fills it."""

    __slots__ = ("_bounds", "skia_path")

    def __init__(self, path: skia.Path) -> None:
        self.skia_path = path
        self._bounds: Box | None = None

    @classmethod
    def empty(cls) -> Outline:
        """An outline of nothing."""
        return cls(skia.Path())

    @property
    def bounds(self) -> Box:
        """The tight box around the curve itself; zeros if it is empty."""
        if self._bounds is None:
            r = self.skia_path.computeTightBounds()
            self._bounds = (r.left(), r.top(), r.right(), r.bottom())
        return self._bounds

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing of it."""
        result: bool = self.skia_path.isEmpty()
        return result

    def contains(self, point: Point) -> bool:
        """Whether a point lies inside."""
        result: bool = self.skia_path.contains(*point)
        return result

    def mapped(self, matrix: Affine) -> Outline:
        """The outline mapped."""
        path = skia.Path()
        self.skia_path.transform(skia_matrix(matrix), path)
        return Outline(path)

    def length(self) -> float:
        """Length of all contours together."""
        return sum(_contour_lengths(self.skia_path))

    def part(self, start: float, end: float) -> Outline:
        """The stretch between two fractions of the whole length, 0 <= start <= end <= 1."""
        if start <= 0 and end >= 1:
            return self
        if end - start < 1e-9:
            return Outline(skia.Path())
        effect = skia.TrimPathEffect.Make(start, end)
        return self._through(effect)

    def drawn(self, start: float, end: float, offset: float) -> Outline:
        """As ``part``, shifted along a path that is taken as a loop: the stretch may wrap."""
        start, end = min(start, end), max(start, end)
        start, end = max(0.0, start), min(1.0, end)
        if end - start >= 1 - 1e-9:
            return self
        start, end = start + offset, end + offset
        whole = math.floor(start)
        start, end = start - whole, end - whole
        if end <= 1 + 1e-9:
            return self.part(start, min(1.0, end))
        # TrimPathEffect's inverted mode gives end..1 then 0..start: the wrapped stretch.
        effect = skia.TrimPathEffect.Make(end - 1, start, skia.TrimPathEffect.Mode.kInverted)
        return self._through(effect)

    def cubics(self) -> list[list[Cubic]]:
        """Every contour as cubic Beziers one after another; points without length are left out."""
        return [cubics for cubics, _ in self.closed_cubics()]

    def closed_cubics(self) -> list[tuple[list[Cubic], bool]]:
        """As ``cubics``, each with whether the contour is closed."""
        contours: list[list[Cubic]] = []
        closed: list[bool] = []
        start = (0.0, 0.0)
        for verb, points in self.skia_path:
            p = [(point.x(), point.y()) for point in points]
            if verb == skia.Path.kMove_Verb:
                contours.append([])
                closed.append(False)
                start = p[0]
            elif verb == skia.Path.kLine_Verb:
                _add_line(contours[-1], p[0], p[1])
            elif verb == skia.Path.kCubic_Verb:
                contours[-1].append((p[0], p[1], p[2], p[3]))
            elif verb in (skia.Path.kQuad_Verb, skia.Path.kConic_Verb):
                # A conic's weight is near 1 in what fonts and trims give; as a quadratic then.
                a, b = _third(p[0], p[1]), _third(p[2], p[1])
                contours[-1].append((p[0], a, b, p[2]))
            elif verb == skia.Path.kClose_Verb and contours and contours[-1]:
                _add_line(contours[-1], contours[-1][-1][3], start)
                closed[-1] = True
        return [(c, shut) for c, shut in zip(contours, closed, strict=True) if c]

    def dots(self) -> list[Point]:
        """Where contours lie that go somewhere without any length: caps make them dots."""
        found: list[Point] = []
        start: Point | None = None
        goes = still = False
        for verb, points in [*self.skia_path, (skia.Path.kMove_Verb, [])]:
            p = [(point.x(), point.y()) for point in points]
            if verb == skia.Path.kMove_Verb:
                if start is not None and goes and still:
                    found.append(start)
                start, goes, still = (p[0] if p else None), False, True
            elif verb == skia.Path.kClose_Verb:
                goes = True
            elif verb != skia.Path.kDone_Verb:
                goes = True
                still = still and all(each == p[0] for each in p)
        return found

    def _through(self, effect: skia.PathEffect | None) -> Outline:
        if effect is None:
            return self
        paint = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=0)
        paint.setPathEffect(effect)
        path = skia.Path()
        paint.getFillPath(self.skia_path, path)
        return Outline(path)

    def rounded(self, radius: float) -> Outline:
        """Corners between straight sides rounded off."""
        if radius <= 0:
            return self
        paint = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=0)
        paint.setPathEffect(skia.CornerPathEffect.Make(radius))
        path = skia.Path()
        paint.getFillPath(self.skia_path, path)
        return Outline(path)

    def stroked(self, width: float, *, cap: str = "round", join: str = "round") -> Outline:
        """The area that a pen of that width covers along the path."""
        paint = skia.Paint(
            Style=skia.Paint.kStroke_Style,
            StrokeWidth=width,
            StrokeCap=getattr(skia.Paint, f"k{cap.title()}_Cap"),
            StrokeJoin=getattr(skia.Paint, f"k{join.title()}_Join"),
        )
        path = skia.Path()
        paint.getFillPath(self.skia_path, path)
        return Outline(path)

    def dashed(self, lengths: Sequence[float], offset: float) -> Outline:
        """Dashes and gaps of those lengths, px, in turn."""
        even = [float(v) for v in lengths] * (2 if len(lengths) % 2 else 1)
        return self._through(skia.DashPathEffect.Make(even, float(offset)))

    def joined(self, other: Outline, how: str) -> Outline:
        """Two areas as one: ``how`` is union, minus, intersect or exclude."""
        result = skia.Op(self.skia_path, other.skia_path, _JOINED[how])
        return _nonzero(result) if result is not None else Outline(skia.Path())

    def grown(self, by: float) -> Outline:
        """The area with its edge moved outwards (inwards where negative), corners rounded."""
        if abs(by) < 1e-6 or self.is_empty:
            return self
        return self.joined(self.stroked(2 * abs(by)), "union" if by > 0 else "minus")

    def with_holes(self, *, even_odd: bool) -> Outline:
        """The same area for the non-zero rule, where the path was meant for the even-odd one."""
        if not even_odd:
            return self
        path = skia.Path(self.skia_path)
        path.setFillType(skia.PathFillType.kEvenOdd)
        result = skia.Simplify(path)
        return _nonzero(result) if result is not None else self

    def merged(self) -> Outline:
        """Overlapping contours united, so that a stroke follows the outer edge only."""
        if self.skia_path.countVerbs() > _MOST_KEPT:
            return _simplified(self)
        # Letters on their way are the same ones in every frame.
        return _kept(_Named(self))


class _Named:
    """An outline named by its data."""

    __slots__ = ("data", "outline")

    def __init__(self, outline: Outline) -> None:
        self.outline, self.data = outline, bytes(outline.skia_path.serialize())

    def __hash__(self) -> int:
        return hash(self.data)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Named) and self.data == other.data


# Merged outlines are kept where they had so many verbs at most.
_MOST_KEPT = 500


@lru_cache(maxsize=512)
def _kept(named: _Named) -> Outline:
    return _simplified(named.outline)


def _simplified(outline: Outline) -> Outline:
    result = skia.Simplify(outline.skia_path)
    return _nonzero(result) if result is not None else outline


# Beyond so many contours those of one path are turned by Skia, which mistakes touching ones.
_MOST_TURNED = 400


def _nonzero(path: skia.Path) -> Outline:
    """What the path operations give is meant for the even-odd rule: contours are turned so that
    the non-zero rule fills the same, which SVG path data then says without a rule."""
    if path.getFillType() != skia.PathFillType.kEvenOdd:
        return Outline(path)
    contours = _contours(path)
    if len(contours) <= _MOST_TURNED:
        return Outline(_turned(contours))
    try:
        return Outline(skia.AsWinding(path) or path)
    except RuntimeError:  # too intricate: drawn by the other rule, it looks the same
        return Outline(path)


def _contours(path: skia.Path) -> list[skia.Path]:
    found: list[skia.Path] = []
    for verb, p in path:
        if verb == skia.Path.kMove_Verb:
            found.append(skia.Path())
            found[-1].setFillType(skia.PathFillType.kEvenOdd)
            found[-1].moveTo(p[0])
        elif verb == skia.Path.kLine_Verb:
            found[-1].lineTo(p[1])
        elif verb == skia.Path.kQuad_Verb or verb == skia.Path.kConic_Verb:
            found[-1].quadTo(p[1], p[2])
        elif verb == skia.Path.kCubic_Verb:
            found[-1].cubicTo(p[1], p[2], p[3])
        elif verb == skia.Path.kClose_Verb and found:
            found[-1].close()
    return [each for each in found if each.countVerbs() > 1]


def _turned(contours: list[skia.Path]) -> skia.Path:
    """Contours that do not cross, each clockwise or not by how many others it lies within."""
    result = skia.Path()
    for index, contour in enumerate(contours):
        inner = _within(contour)
        others = (c for k, c in enumerate(contours) if k != index)
        depth = 0 if inner is None else sum(c.contains(*inner) for c in others)
        if (_signed_area(contour) > 0) == (depth % 2 == 0):
            result.addPath(contour)
        else:
            result.reverseAddPath(contour)
    return result


def _flat(contour: skia.Path) -> list[Point]:
    """Points along a contour, four to a curve."""
    found: list[Point] = []
    for verb, points in contour:
        p = [(q.x(), q.y()) for q in points]
        if verb in (skia.Path.kMove_Verb, skia.Path.kLine_Verb):
            found.append(p[-1])
        elif verb in (skia.Path.kQuad_Verb, skia.Path.kCubic_Verb):
            for t in (0.25, 0.5, 0.75, 1.0):
                row = p
                while len(row) > 1:
                    row = [
                        (a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t)
                        for a, b in pairwise(row)
                    ]
                found.append(row[0])
    return found


def _signed_area(contour: skia.Path) -> float:
    points = _flat(contour)
    ends = zip(points, points[1:] + points[:1], strict=True)
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in ends)


def _within(contour: skia.Path) -> Point | None:
    """A point within a contour, beside the middle of one of its longest sides."""
    points = _flat(contour)
    sides = sorted(pairwise(points), key=lambda s: -math.dist(*s))
    for a, b in sides[:8]:
        length = math.dist(a, b)
        if length < 1e-9:
            break
        x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
        for share in (1e-3, -1e-3, 0.05, -0.05):
            point = (x - (b[1] - a[1]) * share, y + (b[0] - a[0]) * share)
            if contour.contains(*point):
                return point
    return None


def _third(end: Point, control: Point) -> Point:
    """The cubic's control point beside an end of a quadratic."""
    return (end[0] + (control[0] - end[0]) * 2 / 3, end[1] + (control[1] - end[1]) * 2 / 3)


def _add_line(contour: list[tuple[Point, Point, Point, Point]], a: Point, b: Point) -> None:
    if math.hypot(b[0] - a[0], b[1] - a[1]) > 1e-6:
        dx, dy = (b[0] - a[0]) / 3, (b[1] - a[1]) / 3
        contour.append((a, (a[0] + dx, a[1] + dy), (b[0] - dx, b[1] - dy), b))


class OutlinePen(BasePen):  # type: ignore[misc]
    """Collects what a font or an SVG path draws; y may be flipped (fonts point up)."""

    def __init__(self, *, flip: bool = False) -> None:
        super().__init__(None)
        self.path = skia.Path()
        self._sign = -1.0 if flip else 1.0

    def _moveTo(self, p: Point) -> None:
        self.path.moveTo(p[0], self._sign * p[1])

    def _lineTo(self, p: Point) -> None:
        self.path.lineTo(p[0], self._sign * p[1])

    def _curveToOne(self, p: Point, q: Point, r: Point) -> None:
        s = self._sign
        self.path.cubicTo(p[0], s * p[1], q[0], s * q[1], r[0], s * r[1])

    def _qCurveToOne(self, p: Point, q: Point) -> None:
        s = self._sign
        self.path.quadTo(p[0], s * p[1], q[0], s * q[1])

    def _closePath(self) -> None:
        self.path.close()

    def _endPath(self) -> None:
        pass


def skia_matrix(matrix: Affine | Projective) -> skia.Matrix:
    """A map as Skia takes it."""
    if isinstance(matrix, Projective):
        return skia.Matrix.MakeAll(*matrix.m)
    m = matrix
    return skia.Matrix.MakeAll(m.a, m.c, m.e, m.b, m.d, m.f, 0, 0, 1)


def rectangle(width: float, height: float, radius: float = 0.0) -> Outline:
    """Centred on (0, 0), starting at the top left, clockwise; the radius is limited to fit."""
    w, h = abs(width) / 2, abs(height) / 2
    r = max(0.0, min(radius, w, h))
    path = skia.Path()
    if r == 0:
        path.addPoly([skia.Point(*p) for p in ((-w, -h), (w, -h), (w, h), (-w, h))], True)
        return Outline(path)
    k = r * (1 - _QUARTER)
    path.moveTo(-w + r, -h)
    path.lineTo(w - r, -h)
    path.cubicTo(w - k, -h, w, -h + k, w, -h + r)
    path.lineTo(w, h - r)
    path.cubicTo(w, h - k, w - k, h, w - r, h)
    path.lineTo(-w + r, h)
    path.cubicTo(-w + k, h, -w, h - k, -w, h - r)
    path.lineTo(-w, -h + r)
    path.cubicTo(-w, -h + k, -w + k, -h, -w + r, -h)
    path.close()
    return Outline(path)


def ellipse(width: float, height: float) -> Outline:
    """Centred on (0, 0), starting at the top, clockwise."""
    w, h = abs(width) / 2, abs(height) / 2
    kx, ky = w * _QUARTER, h * _QUARTER
    path = skia.Path()
    path.moveTo(0, -h)
    path.cubicTo(kx, -h, w, -ky, w, 0)
    path.cubicTo(w, ky, kx, h, 0, h)
    path.cubicTo(-kx, h, -w, ky, -w, 0)
    path.cubicTo(-w, -ky, -kx, -h, 0, -h)
    path.close()
    return Outline(path)


def polygon(points: Sequence[Point], *, closed: bool = True) -> Outline:
    """Straight lines through points."""
    path = skia.Path()
    path.addPoly([skia.Point(*p) for p in points], closed)
    return Outline(path)


def polygons(many: Sequence[Sequence[Point]]) -> Outline:
    """Closed polygons as one path."""
    path = skia.Path()
    for points in many:
        path.addPoly([skia.Point(*p) for p in points], True)
    return Outline(path)


def circles(many: Sequence[tuple[float, float, float]]) -> Outline:
    """Discs (x, y, radius) as one path."""
    path = skia.Path()
    for x, y, radius in many:
        path.addCircle(x, y, radius)
    return Outline(path)


def regular_polygon(radius: float, corners: int) -> Outline:
    """Corners on a circle about (0, 0), the first at the top, clockwise."""
    return polygon([_on_circle(radius, 360 * i / corners) for i in range(corners)])


def star(radius: float, inner: float, corners: int) -> Outline:
    """``corners`` tips on a circle; the notches between them at ``inner`` times its radius."""
    tips = []
    for i in range(2 * corners):
        tips.append(_on_circle(radius * (inner if i % 2 else 1.0), 180 * i / corners))
    return polygon(tips)


def _on_circle(radius: float, clockwise_deg: float) -> Point:
    angle = math.radians(clockwise_deg)
    return (radius * math.sin(angle), -radius * math.cos(angle))


@lru_cache(maxsize=512)
def from_svg_path(data: str) -> Outline:
    """SVG path data (SVG 2, section 9.3). DocumentError if it cannot be read."""
    pen = OutlinePen()
    try:
        parse_path(data, pen)
    except Exception as error:  # the parser raises plain errors of many kinds
        raise DocumentError.expected("path", "SVG path data such as M0 0 L40 20", data) from error
    if not pen.path.isFinite():
        raise DocumentError.expected("path", "finite coordinates", data)
    return Outline(pen.path)


def centred(data: str) -> str:
    """SVG path data moved so that the middle of its box is at (0, 0)."""
    pen = SVGPathPen(None, lambda value: f"{value:.3f}".rstrip("0").rstrip("."))
    left, top, right, bottom = from_svg_path(data).bounds
    try:
        shift = (1, 0, 0, 1, -(left + right) / 2, -(top + bottom) / 2)
        parse_path(data, TransformPen(pen, shift))
    except Exception as error:  # the parser raises plain errors of many kinds
        raise DocumentError.expected("path", "SVG path data such as M0 0 L40 20", data) from error
    return str(pen.getCommands())


def _contour_lengths(path: skia.Path) -> list[float]:
    measure = skia.PathMeasure(path, False)
    lengths = [measure.getLength()]
    while measure.nextContour():
        lengths.append(measure.getLength())
    return lengths
