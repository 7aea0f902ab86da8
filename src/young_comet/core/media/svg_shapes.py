"""SVG read as shapes one can edit: paths with fills, strokes and gradients.

Groups are laid flat: their transforms, styles and opacities go into their paths. What a path
cannot say (filters, patterns, raster pictures, texts, soft masks) is named in ``notes``, never
dropped silently. SVG 1.1 and 2, CSS selectors of classes, ids and elements.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field, replace
from typing import Any
from xml.etree.ElementTree import Element

from defusedxml import ElementTree
from PIL import ImageColor

from ..geometry import outline as outlines
from ..geometry.affine import Affine
from ..geometry.contours import contours_of, write_contours
from ..geometry.outline import Outline, from_svg_path
from ..pixels.colour import Rgba, format_colour
from .svg import check_svg
from .svg_parts import Drawing, DrawnPart, GradientFill, refitted
from .svg_syntax import (
    coordinate,
    declarations,
    length,
    matches,
    numbers,
    share,
    style_rules,
    tag_of,
    transform_of,
    view_matrix,
)

MAX_PARTS = 400

MAX_DEPTH = 40

_URL = re.compile(r"url\(\s*['\"]?#([^'\")\s]+)['\"]?\s*\)")

_INHERITED = (
    "fill", "stroke", "fill-opacity", "stroke-opacity", "stroke-width", "stroke-linecap",
    "stroke-linejoin", "stroke-dasharray", "stroke-dashoffset", "fill-rule", "clip-rule", "color",
    "visibility", "vector-effect",
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
)

_SHAPES = ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon")

_CONTAINERS = ("svg", "g", "a", "switch", "symbol")


@dataclass(frozen=True)
class _State:
    """What an element takes over from those around it."""

    matrix: Affine
    style: dict[str, str]
    opacity: float = 1.0
    clip: Outline | None = None
    name: str = ""
    depth: int = 0
    used: frozenset[str] = field(default_factory=frozenset)


def shapes_of(data: bytes) -> Drawing:
    """The drawing in an SVG file. MediaError where the file is not acceptable."""
    width, height = check_svg(data)
    root = ElementTree.fromstring(data, forbid_dtd=False, forbid_entities=True)
    return _Reader(root, width, height).read()


class _Reader:
    def __init__(self, root: Element, width: float, height: float) -> None:
        self._root, self._size = root, (width, height)
        self._by_id = {e.get("id", ""): e for e in root.iter() if e.get("id")}
        self._rules = style_rules(root)
        self._parts: list[DrawnPart] = []
        self._notes: dict[str, int] = {}

    def read(self) -> Drawing:
        view = view_matrix(self._root, *self._size)
        middle = Affine.shift(-self._size[0] / 2, -self._size[1] / 2)
        start = _State(middle @ view, {"fill": "#000000", "stroke": "none"})
        state = self._inherit(self._root, start, transform=False)
        for child in self._root:
            self._element(child, state)
        if not self._parts:
            self._note("there is no path in it that could become a shape")
        notes = tuple(
            text if count == 1 else f"{text} ({count} times)" for text, count in self._notes.items()
        )
        return Drawing(*self._size, tuple(self._parts), notes)

    def _note(self, text: str) -> None:
        self._notes[text] = self._notes.get(text, 0) + 1

    # Walking

    def _element(self, element: Element, state: _State) -> None:
        kind = tag_of(element)
        if state.depth > MAX_DEPTH:
            self._note("elements nested too deeply were left out")
            return
        if kind in ("text", "image", "foreignObject"):
            what = {"text": "texts", "image": "pixel pictures"}.get(kind, "foreign content")
            self._note(f"{what} cannot become shapes and were left out")
            return
        if kind not in (*_SHAPES, *_CONTAINERS, "use") or kind == "symbol":
            return  # definitions, titles, metadata
        inner = self._inherit(element, state)
        style = self._style(element)
        if style.get("display") == "none":
            return
        self._check(style)
        if kind == "use":
            self._use(element, inner)
        elif kind in _SHAPES:
            self._shape(element, kind, inner)
        else:
            if kind == "svg":
                inner = self._nested(element, inner)
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

    def _use(self, element: Element, state: _State) -> None:
        target = next((v for k, v in element.attrib.items() if k.split("}")[-1] == "href"), "")
        found = self._by_id.get(target.strip().lstrip("#"))
        if found is None or target in state.used:
            self._note("a use of something that is not there was left out")
            return
        shift = Affine.shift(length(element.get("x")), length(element.get("y")))
        state = replace(
            state, matrix=state.matrix @ shift, used=state.used | {target}, depth=state.depth + 1
        )
        if tag_of(found) == "symbol":
            inner = self._nested(found, self._inherit(found, state), element)
            for child in found:
                self._element(child, inner)
        else:
            self._element(found, state)

    def _nested(self, element: Element, state: _State, sized: Element | None = None) -> _State:
        """An inner viewport: its viewBox fitted into its width and height."""
        sized = sized if sized is not None else element
        shift = Affine()
        if sized is element:
            shift = Affine.shift(length(element.get("x")), length(element.get("y")))
        view = numbers(element.get("viewBox", ""))
        if len(view) != 4 or view[2] <= 0 or view[3] <= 0:
            return replace(state, matrix=state.matrix @ shift)
        width = length(sized.get("width"), view[2])
        height = length(sized.get("height"), view[3])
        return replace(state, matrix=state.matrix @ shift @ view_matrix(element, width, height))

    def _inherit(self, element: Element, state: _State, *, transform: bool = True) -> _State:
        style = self._style(element)
        inherited = {k: v for k, v in style.items() if k in _INHERITED and v != "inherit"}
        matrix = state.matrix
        if transform:
            matrix = matrix @ transform_of(style.get("transform", element.get("transform", "")))
        name = element.get("id") or state.name
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
            result = replace(result, clip=self._clipped(clip[1], result))
        return result

    def _clipped(self, clip_id: str, state: _State) -> Outline | None:
        """The clip in the drawing's space, within the one that holds already."""
        element = self._by_id.get(clip_id)
        if element is None or tag_of(element) != "clipPath":
            self._note("a clip that is not there was left out")
            return state.clip
        if element.get("clipPathUnits") == "objectBoundingBox":
            self._note("clips measured by a shape's box were left out")
            return state.clip
        whole = Outline.empty()
        base = replace(state, matrix=state.matrix @ transform_of(element.get("transform", "")))
        for child in element:
            target = child
            inner = self._inherit(child, base)
            if tag_of(child) == "use":
                link = next((v for k, v in child.attrib.items() if k.split("}")[-1] == "href"), "")
                found = self._by_id.get(link.lstrip("#"))
                if found is None:
                    continue
                shift = Affine.shift(length(child.get("x")), length(child.get("y")))
                inner = self._inherit(found, replace(inner, matrix=inner.matrix @ shift))
                target = found
            outline = self._outline(target, tag_of(target), inner, "clip-rule")
            if outline is not None:
                whole = whole.joined(outline, "union")
        return whole if state.clip is None else state.clip.joined(whole, "intersect")

    # Styles

    def _style(self, element: Element) -> dict[str, str]:
        """Presentation attributes, then style sheets, then the style attribute."""
        style = {k: v.strip() for k, v in element.attrib.items() if k in (*_INHERITED, *_OWN)}
        classes = set(element.get("class", "").split())
        for selector, rules in self._rules:
            if matches(selector, tag_of(element), element.get("id", ""), classes):
                style.update(rules)
        style.update(declarations(element.get("style", "")))
        return style

    # Shapes

    def _outline(self, element: Element, kind: str, state: _State, rule: str) -> Outline | None:
        """A shape's outline in the drawing's space, for the non-zero rule."""
        raw = self._raw(element, kind)
        if raw is None or raw.is_empty:
            return None
        even_odd = state.style.get(rule) == "evenodd"
        return raw.with_holes(even_odd=even_odd).mapped(state.matrix)

    def _raw(self, element: Element, kind: str) -> Outline | None:
        get = element.get
        if kind == "path":
            try:
                return from_svg_path(get("d", ""))
            except Exception:
                self._note("a path that cannot be read was left out")
                return None
        if kind == "rect":
            w, h = length(get("width")), length(get("height"))
            rx = length(get("rx", get("ry")))
            at = Affine.shift(length(get("x")) + w / 2, length(get("y")) + h / 2)
            return outlines.rectangle(w, h, rx).mapped(at) if w > 0 and h > 0 else None
        if kind in ("circle", "ellipse"):
            rx = length(get("r", get("rx")))
            ry = length(get("r", get("ry")))
            at = Affine.shift(length(get("cx")), length(get("cy")))
            return outlines.ellipse(2 * rx, 2 * ry).mapped(at) if rx > 0 and ry > 0 else None
        if kind == "line":
            ends = [
                (length(get("x1")), length(get("y1"))),
                (length(get("x2")), length(get("y2"))),
            ]
            return outlines.polygon(ends, closed=False)
        if kind in ("polyline", "polygon"):
            values = numbers(get("points", ""))
            points = list(zip(values[::2], values[1::2], strict=False))
            return outlines.polygon(points, closed=kind == "polygon") if len(points) > 1 else None
        return None

    def _shape(self, element: Element, kind: str, state: _State) -> None:
        if state.style.get("visibility") in ("hidden", "collapse") or state.opacity <= 0:
            return
        outline = self._outline(element, kind, state, "fill-rule")
        if outline is None:
            return
        fill = None if kind == "line" else self._paint(state, "fill", outline)
        stroke = self._paint(state, "stroke", outline)
        width = length(state.style.get("stroke-width", "1"))
        if state.style.get("vector-effect") != "non-scaling-stroke":
            width *= state.matrix.mean_scale
        if isinstance(stroke, GradientFill):
            self._note("a stroke's gradient became one colour")
            stroke = stroke.stops[len(stroke.stops) // 2][1]
        if width <= 0:
            stroke = None
        if fill is None and stroke is None:
            return
        if state.clip is not None:
            outline, fill, stroke = self._within(outline, fill, stroke, width, state)
            if outline.is_empty:
                return
        if len(self._parts) >= MAX_PARTS:
            self._note(f"more than {MAX_PARTS} paths: the rest was left out")
            return
        self._parts.append(self._part(element, state, outline, fill, stroke, width))

    def _within(
        self, outline: Outline, fill: Any, stroke: Any, width: float, state: _State
    ) -> tuple[Outline, Any, Any]:
        """A clipped shape: its fill is cut; a stroke that the clip touches becomes an area."""
        assert state.clip is not None
        if fill is None:
            return outline.stroked(width).joined(state.clip, "intersect"), stroke, None
        if stroke is not None:
            self._note("a stroke on a clipped shape was left out")
        box = outline.bounds
        cut = outline.joined(state.clip, "intersect")
        if isinstance(fill, GradientFill) and not cut.is_empty:
            fill = refitted(fill, box, cut.bounds)
        return cut, fill, None

    def _part(
        self, element: Element, state: _State, outline: Outline, fill: Any, stroke: Any,
        width: float,
    ) -> DrawnPart:  # fmt: skip
        style = state.style
        dash = [v * state.matrix.mean_scale for v in numbers(style.get("stroke-dasharray", ""))]
        fine = dash and all(v >= 0 for v in dash) and sum(dash) > 0.1 and len(dash) <= 32
        cap, join = style.get("stroke-linecap", "butt"), style.get("stroke-linejoin", "miter")
        name = element.get("id") or state.name or tag_of(element)
        return DrawnPart(
            f"{name}"[:180],
            write_contours(contours_of(outline)),
            fill,
            stroke,
            width if stroke else 0.0,
            cap if cap in ("butt", "round", "square") else "butt",
            join if join in ("miter", "round", "bevel") else "miter",
            " ".join(f"{v:g}" for v in dash) if fine else "",
            length(style.get("stroke-dashoffset", "0")) * state.matrix.mean_scale,
            state.opacity,
        )

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
        rest = text[reference.end() :].strip()
        colour = self._colour(rest or "none", state)
        return format_colour(colour) if colour else None

    def _colour(self, text: str, state: _State) -> Rgba | None:
        if text in ("none", "transparent", ""):
            return None
        if text.lower() in ("currentcolor", "inherit", "context-fill", "context-stroke"):
            text = state.style.get("color", "#000000")
        try:
            numbers = ImageColor.getrgb(text)
        except ValueError:
            self._note(f"the colour {text[:40]!r} is not known and became black")
            return (0.0, 0.0, 0.0, 1.0)
        r, g, b = (v / 255 for v in numbers[:3])
        return (r, g, b, numbers[3] / 255 if len(numbers) == 4 else 1.0)

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
        view = (1.0, 1.0) if in_box else self._size
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
        return GradientFill(kind, percent(a), percent(b), tuple(stops[:64]))

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
