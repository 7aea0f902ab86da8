"""SVG read as shapes one can edit: paths with fills, strokes and gradients.

Groups are laid flat: their transforms, styles and opacities go into their paths. What a path
cannot say (filters, patterns, raster pictures, texts, soft masks) is named in ``notes``, never
dropped silently.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any
from xml.etree.ElementTree import Element

from ....errors import MediaError
from ...geometry import outline as outlines
from ...geometry.affine import Affine
from ...geometry.contours import contours_of, write_contours
from ...geometry.outline import Outline
from ...pixels.colour import Rgba, format_colour, parse_colour
from .colours import css_colour
from .holding import Notes
from .outlines import SHAPES, box_of, outline_of
from .parts import Drawing, DrawnPart, GradientFill, refitted
from .plain import plain
from .source import natural_size, parse
from .syntax import (
    coordinate,
    declarations,
    length,
    numbers,
    share,
    tag_of,
    transform_of,
    view_matrix,
)

MAX_PARTS = 400
# Parts into which a change of colour and alpha is cut.
_BETWEEN = 8

MAX_DEPTH = 250

_URL = re.compile(r"url\(\s*['\"]?#([^'\")\s]+)['\"]?\s*\)")

_INHERITED = (
    "fill", "stroke", "fill-opacity", "stroke-opacity", "stroke-width", "stroke-linecap",
    "stroke-linejoin", "stroke-dasharray", "stroke-dashoffset", "fill-rule", "clip-rule", "color",
    "visibility", "paint-order",
)  # fmt: skip

_OWN = (
    "opacity",
    "clip-path",
    "mask",
    "filter",
    "display",
    "mix-blend-mode",
    "stop-color",
    "stop-opacity",
    "vector-effect",
)

_CONTAINERS = ("svg", "g")


@dataclass(frozen=True)
class _State:
    """What an element takes over from those around it."""

    matrix: Affine
    style: dict[str, str]
    opacity: float = 1.0
    clip: Outline | None = None
    name: str = ""
    depth: int = 0
    viewport: tuple[float, float] = (0.0, 0.0)


def shapes_of(data: bytes) -> Drawing:
    """The drawing in an SVG file. MediaError where the file is not acceptable."""
    root = parse(data)
    notes = Notes()
    size = natural_size(root)
    try:
        return _Reader(plain(root, size, notes, picture=False), size, notes).read()
    except (ArithmeticError, LookupError, RecursionError, TypeError, ValueError) as error:
        raise MediaError(f"this SVG cannot be read as shapes ({type(error).__name__})") from error


class _Reader:
    def __init__(self, root: Element, size: tuple[float, float], note: Notes) -> None:
        self._root, self._size = root, size
        self._by_id = {e.get("id", ""): e for e in root.iter() if e.get("id")}
        self._parts: list[DrawnPart] = []
        self._note = note

    def read(self) -> Drawing:
        view = view_matrix(self._root, *self._size)
        middle = Affine.shift(-self._size[0] / 2, -self._size[1] / 2)
        start = _State(middle @ view, {"fill": "#000000", "stroke": "none"})
        box = numbers(self._root.get("viewBox", ""))
        viewport = (box[2], box[3]) if len(box) == 4 else self._size
        state = replace(self._inherit(self._root, start, transform=False), viewport=viewport)
        for child in self._root:
            self._element(child, state)
        if not self._parts:
            self._note("there is no path in it that could become a shape")
        return Drawing(*self._size, tuple(self._parts), self._note.said())

    # Walking

    def _element(self, element: Element, state: _State) -> None:
        kind = tag_of(element)
        if state.depth > MAX_DEPTH:
            self._note("elements nested too deeply were left out")
            return
        if kind in ("text", "image"):
            what = {"text": "texts", "image": "pixel pictures"}[kind]
            self._note(f"{what} cannot become shapes and were left out")
            return
        if kind not in (*SHAPES, *_CONTAINERS):
            return  # definitions
        inner = self._inherit(element, state)
        style = self._style(element)
        if style.get("display") == "none":
            return
        self._check(style)
        if kind in SHAPES:
            self._shape(element, kind, inner)
            return
        if kind == "svg":
            inner = self._nested(element, inner, style)
        before = len(self._parts)
        for child in element:
            self._element(child, inner)
        if share(style.get("opacity", "1")) < 1 and len(self._parts) - before > 1:
            self._note("a group's opacity now counts for each of its paths by itself")

    def _check(self, style: dict[str, str]) -> None:
        if style.get("filter", "none") != "none":
            self._note("filters were left out: put an effect on the layer instead")
        if style.get("mask", "none") != "none":
            self._note("soft masks were left out: give the layer a mask instead")
        if style.get("mix-blend-mode", "normal") != "normal":
            self._note("blend modes within the drawing were left out")

    def _nested(self, element: Element, state: _State, style: dict[str, str]) -> _State:
        """An inner viewport: its viewBox fitted into its size, what lies beyond it cut off."""
        x, y, width, height = (length(element.get(n)) for n in ("x", "y", "width", "height"))
        view = numbers(element.get("viewBox", ""))
        shifted = state.matrix @ Affine.shift(x, y)
        clip = state.clip
        overflow = style.get("overflow", element.get("overflow", "hidden"))
        if overflow not in ("visible", "auto"):
            frame = outlines.rectangle(width, height).mapped(
                shifted @ Affine.shift(width / 2, height / 2)
            )
            clip = frame if clip is None else clip.joined(frame, "intersect")
        return replace(
            state,
            matrix=shifted @ view_matrix(element, width, height),
            clip=clip,
            viewport=(view[2], view[3]) if len(view) == 4 else (width, height),
        )

    def _inherit(self, element: Element, state: _State, *, transform: bool = True) -> _State:
        style = self._style(element)
        inherited = {k: v for k, v in style.items() if k in _INHERITED and v != "inherit"}
        matrix = state.matrix
        if transform:
            matrix = matrix @ transform_of(element.get("transform", ""))
        name = element.get("id") or element.get("data-name") or state.name
        result = replace(
            state,
            matrix=matrix,
            style={**state.style, **inherited},
            opacity=state.opacity * share(style.get("opacity", "1")),
            name=name,
            depth=state.depth + 1,
        )
        clip = _URL.match(style.get("clip-path", ""))
        if clip:
            result = replace(result, clip=self._clipped(clip[1], result, element))
        return result

    def _clipped(self, clip_id: str, state: _State, of: Element) -> Outline | None:
        """The clip in the drawing's space, within the one that holds already."""
        element = self._by_id.get(clip_id)
        if element is None or tag_of(element) != "clipPath":
            self._note("a clip that is not there was left out")
            return state.clip
        matrix = state.matrix
        if element.get("clipPathUnits") == "objectBoundingBox":
            box = box_of(of)
            if box is None:
                self._note("a clip measured by a box that cannot be told was left out")
                return state.clip
            size = (box[2] - box[0], box[3] - box[1])
            matrix = matrix @ Affine.shift(box[0], box[1]) @ Affine.scaling(*size)
        base = replace(state, matrix=matrix @ transform_of(element.get("transform", "")), clip=None)
        whole = Outline.empty()
        for child in element:
            inner = self._inherit(child, base)
            outline = self._outline(child, inner, "clip-rule")
            if outline is not None and self._style(child).get("display") != "none":
                if inner.clip is not None:
                    outline = outline.joined(inner.clip, "intersect")
                whole = whole.joined(outline, "union")
        own = self._style(element).get("clip-path", "")
        if _URL.match(own):
            self._note("a clip within a clip was left out")
        return whole if state.clip is None else state.clip.joined(whole, "intersect")

    # Styles

    def _style(self, element: Element) -> dict[str, str]:
        return declarations(element.get("style", ""))

    # Shapes

    def _outline(self, element: Element, state: _State, rule: str) -> Outline | None:
        """A shape's outline in the drawing's space, for the non-zero rule."""
        raw = outline_of(element)
        if raw is None or raw.is_empty:
            return None
        even_odd = state.style.get(rule) == "evenodd"
        return raw.with_holes(even_odd=even_odd).mapped(state.matrix)

    def _shape(self, element: Element, kind: str, state: _State) -> None:
        if state.style.get("visibility") in ("hidden", "collapse") or state.opacity <= 0:
            return
        raw = outline_of(element)
        if raw is None or raw.is_empty:
            return
        filled = self._outline(element, state, "fill-rule") or raw.mapped(state.matrix)
        fill = None if kind == "line" else self._paint(state, "fill", filled)
        stroke = self._paint(state, "stroke", filled)
        pen = _Pen.of(state.style)
        if pen.width <= 0:
            stroke = None
        if isinstance(stroke, GradientFill) and state.clip is None:
            self._note("a stroke's gradient became an area")
        if fill is None and stroke is None:
            return
        keeps = self._style(element).get("vector-effect") == "non-scaling-stroke"
        scale = 1.0 if keeps else state.matrix.mean_scale
        line = raw.mapped(state.matrix)
        even = keeps or abs(state.matrix.max_scale - scale) < 0.01 * scale
        # What a path's stroke cannot say: an uneven pen, a gradient, a clip, being below the fill.
        apart = isinstance(stroke, GradientFill) or (stroke is not None and not even)
        below = state.style.get("paint-order", "normal").split()[0] == "stroke"
        seen = line.stroked(pen.width * scale) if stroke is not None else line
        clip = state.clip
        if clip is not None and seen.joined(clip, "minus").is_empty:
            clip = None
        if clip is None and not apart and not (below and fill is not None and stroke is not None):
            same = not (state.style.get("fill-rule") == "evenodd" and fill is not None)
            self._add(element, state, line if same else filled, fill, stroke, pen.scaled(scale))
            return
        steps: list[tuple[Outline, str | GradientFill | None]] = []
        if fill is not None:
            steps.append((filled, fill))
        if stroke is not None:
            area = pen.scaled(scale).area(line) if keeps else pen.area(raw).mapped(state.matrix)
            steps.insert(0 if below else len(steps), (area, self._paint(state, "stroke", filled)))
        for area, paint in steps:
            cut = area if clip is None else area.joined(clip, "intersect")
            if cut.is_empty or paint is None:
                continue
            if isinstance(paint, GradientFill):
                paint = refitted(paint, filled.bounds, cut.bounds)
            self._add(element, state, cut, paint, None, pen)

    def _add(
        self, element: Element, state: _State, outline: Outline, fill: Any, stroke: Any, pen: _Pen
    ) -> None:
        if len(self._parts) >= MAX_PARTS:
            self._note(f"more than {MAX_PARTS} paths: the rest was left out")
            return
        name = element.get("id") or state.name or tag_of(element)
        path = write_contours(contours_of(outline))
        left, top, right, bottom = outline.bounds
        area = (right - left + pen.width) * (bottom - top + pen.width)
        self._parts.append(
            DrawnPart(
                f"{name}"[:180], path, fill, stroke, pen.width if stroke else 0.0, pen.cap,
                pen.join, " ".join(f"{v:g}" for v in pen.dash), pen.dash_offset, state.opacity,
                area,
            )
        )  # fmt: skip

    # Paints

    def _paint(self, state: _State, which: str, outline: Outline) -> str | GradientFill | None:
        text = state.style.get(which, "none").strip()
        opacity = share(state.style.get(f"{which}-opacity", "1"))
        reference = _URL.match(text)
        if reference is None:
            colour = self._colour(text, state)
            return None if colour is None else format_colour((*colour[:3], colour[3] * opacity))
        element = self._by_id.get(reference[1])
        kind = tag_of(element) if element is not None else ""
        if kind in ("linearGradient", "radialGradient") and element is not None:
            return self._gradient(element, state, outline, opacity)
        if kind == "pattern":
            self._note("patterns were left out: their shapes are grey")
            return "#808080"
        colour = self._colour(text[reference.end() :].strip() or "none", state)
        return format_colour((*colour[:3], colour[3] * opacity)) if colour else None

    def _colour(self, text: str, state: _State) -> Rgba | None:
        if text in ("none", "transparent", ""):
            return None
        current = css_colour(state.style.get("color", "#000000")) or (0.0, 0.0, 0.0, 1.0)
        return css_colour("currentcolor" if text.startswith("context-") else text, current)

    def _gradient(
        self, element: Element, state: _State, outline: Outline, opacity: float
    ) -> str | GradientFill | None:
        chain = self._gradient_chain(element)
        stops = self._stops(chain, state, opacity)
        if not stops:
            return None
        if len(stops) == 1:
            return stops[0][1]
        kind = "linear" if tag_of(element) == "linearGradient" else "radial"

        def get(name: str, default: str) -> str:
            return next((e.get(name, "") for e in chain if e.get(name)), default)

        in_box = get("gradientUnits", "objectBoundingBox") == "objectBoundingBox"
        inner = transform_of(get("gradientTransform", ""))
        box = outline.bounds
        size = (max(box[2] - box[0], 1e-6), max(box[3] - box[1], 1e-6))
        if in_box:
            raw = outline.mapped(state.matrix.inverse()).bounds if state.matrix.determinant else box
            fit = Affine.shift(raw[0], raw[1]) @ Affine.scaling(raw[2] - raw[0], raw[3] - raw[1])
            place = state.matrix @ fit @ inner
        else:
            place = state.matrix @ inner
        view = (1.0, 1.0) if in_box else state.viewport
        if kind == "linear":
            start = (coordinate(get("x1", "0%"), view[0]), coordinate(get("y1", "0%"), view[1]))
            end = (coordinate(get("x2", "100%"), view[0]), coordinate(get("y2", "0%"), view[1]))
            a, b = place(start), _square_end(place, start, end)
        else:
            centre = (
                coordinate(get("cx", "50%"), view[0]),
                coordinate(get("cy", "50%"), view[1]),
            )
            radius = coordinate(get("r", "50%"), math.hypot(*view) / math.sqrt(2))
            a = place(centre)
            far = radius * place.mean_scale
            b = (a[0] + far, a[1])
            stretched = abs(place.max_scale - place.mean_scale) > 0.02 * place.mean_scale
            if stretched or get("fx", "") or get("fy", ""):
                self._note("an elliptic or shifted radial gradient became a round one")

        def percent(p: tuple[float, float]) -> tuple[float, float]:
            return ((p[0] - box[0]) / size[0] * 100, (p[1] - box[1]) / size[1] * 100)

        if get("spreadMethod", "pad") != "pad":
            self._note("repeating gradients run once")
        return GradientFill(kind, percent(a), percent(b), tuple(_straight(stops)[:64]))

    def _gradient_chain(self, element: Element) -> list[Element]:
        chain, seen = [element], {element.get("id")}
        while True:
            link = next((v for k, v in chain[-1].attrib.items() if k.split("}")[-1] == "href"), "")
            found = self._by_id.get(link.lstrip("#")) if link else None
            if found is None or found.get("id") in seen or len(chain) > 8:
                return chain
            seen.add(found.get("id"))
            chain.append(found)

    def _stops(
        self, chain: list[Element], state: _State, opacity: float
    ) -> list[tuple[float, str]]:
        owner = next((e for e in chain if any(tag_of(c) == "stop" for c in e)), None)
        stops: list[tuple[float, str]] = []
        last = 0.0
        for child in owner if owner is not None else []:
            if tag_of(child) != "stop":
                continue
            style = self._style(child)
            offset = max(last, min(1.0, max(0.0, share(child.get("offset", "0")))))
            last = offset
            colour = self._colour(style.get("stop-color", "#000000"), state) or (0.0, 0.0, 0.0, 0.0)
            alpha = colour[3] * share(style.get("stop-opacity", "1")) * opacity
            stops.append((offset, format_colour((*colour[:3], alpha))))
        return stops


def _square_end(
    place: Affine, start: tuple[float, float], end: tuple[float, float]
) -> tuple[float, float]:
    """Where a linear gradient ends once its plane is skewed: its lines of one colour stay lines,
    and the end is the foot of the perpendicular on the last of them."""
    dx, dy = end[0] - start[0], end[1] - start[1]
    a, b = place(start), place(end)
    # The direction of the lines of one colour, as the map sees it.
    lx, ly = place.a * -dy + place.c * dx, place.b * -dy + place.d * dx
    size = math.hypot(lx, ly)
    if size < 1e-12:
        return b
    nx, ny = -ly / size, lx / size
    far = (b[0] - a[0]) * nx + (b[1] - a[1]) * ny
    return (a[0] + nx * far, a[1] + ny * far)


def _straight(stops: list[tuple[float, str]]) -> list[tuple[float, str]]:
    """Stops between which documents' premultiplied mixing goes as SVG's straight one does."""
    found: list[tuple[float, str]] = stops[:1]
    for (low, first), (high, last) in pairwise(stops):
        a, b = parse_colour(first), parse_colour(last)
        if a[:3] != b[:3] and a[3] != b[3]:
            for k in range(1, _BETWEEN):
                share = k / _BETWEEN
                colour = tuple(p + (q - p) * share for p, q in zip(a, b, strict=True))
                found.append((low + (high - low) * share, format_colour(colour)))  # type: ignore[arg-type]
        found.append((high, last))
    return found


@dataclass(frozen=True)
class _Pen:
    """How a stroke is drawn, px."""

    width: float
    cap: str
    join: str
    dash: tuple[float, ...]
    dash_offset: float

    @classmethod
    def of(cls, style: dict[str, str]) -> _Pen:
        dash = tuple(numbers(style.get("stroke-dasharray", "none")))
        fine = dash and all(v >= 0 for v in dash) and sum(dash) > 0.1 and len(dash) <= 32
        cap, join = style.get("stroke-linecap", "butt"), style.get("stroke-linejoin", "miter")
        return cls(
            length(style.get("stroke-width", "1")),
            cap if cap in ("butt", "round", "square") else "butt",
            join if join in ("miter", "round", "bevel") else "miter",
            dash if fine else (),
            length(style.get("stroke-dashoffset", "0")),
        )

    def scaled(self, by: float) -> _Pen:
        dash = tuple(v * by for v in self.dash)
        return replace(self, width=self.width * by, dash=dash, dash_offset=self.dash_offset * by)

    def area(self, outline: Outline) -> Outline:
        """What the pen covers along an outline."""
        if self.dash:
            outline = outline.dashed(self.dash, self.dash_offset)
        return outline.stroked(self.width, cap=self.cap, join=self.join).merged()
