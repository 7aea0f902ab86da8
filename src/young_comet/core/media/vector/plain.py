"""SVG made plain: what style sheets, variables, references and relative units mean is written out.

The result says the same with attributes and plain style attributes alone, lengths in px, every
``use`` in full, so that the renderer and the reader of shapes need to know little. What is not
followed is named.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from xml.etree.ElementTree import Element, SubElement, register_namespace, tostring

from ....errors import MediaTooLargeError
from ...geometry.affine import Affine
from ...geometry.contours import contours_of, write_contours
from .cascade import GEOMETRY
from .colours import css_colour
from .holding import INITIAL, Note, State, Values, rgba, text_of
from .lengths import Measures
from .limits import MAX_UNFOLDED
from .markers import marked
from .outlines import SHAPES, outline_of
from .syntax import declarations, length, numbers, tag_of, transform_of, view_matrix

SVG, XLINK = "http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink"
register_namespace("", SVG)
register_namespace("xlink", XLINK)

MAX_NESTED = 200
# A length that is drawn as a dot where caps are round or square.
_DOT = 0.002
_PLACED = {
    "rect": ("x", "y", "width", "height", "rx", "ry"),
    "circle": ("cx", "cy", "r"),
    "ellipse": ("cx", "cy", "rx", "ry"),
    "line": ("x1", "y1", "x2", "y2"),
    "image": ("x", "y", "width", "height"),
    "svg": ("x", "y", "width", "height"),
    "use": ("x", "y", "width", "height"),
}
_LEFT_OUT = {
    "foreignObject": "foreign content was left out",
    "script": "scripts do not run",
    "animate": "animations stand still", "animateTransform": "animations stand still",
    "animateMotion": "animations stand still", "animateColor": "animations stand still",
    "set": "animations stand still",
    "style": "", "title": "", "desc": "", "metadata": "",
}  # fmt: skip


def plain(root: Element, size: tuple[float, float], note: Note, *, picture: bool) -> Element:
    """The drawing made plain; ``size`` is its natural one. For a ``picture`` strokes that keep
    their width are brought into the picture's space; else markers become shapes."""
    return _Maker(root, note, picture).whole(size)


def as_bytes(root: Element) -> bytes:
    """The document written out."""
    text: str = tostring(root, encoding="unicode")
    return text.encode()


class _Maker:
    def __init__(self, root: Element, note: Note, picture: bool) -> None:
        self._root, self._note, self._picture = root, note, picture
        self._by_id = {e.get("id", ""): e for e in root.iter() if e.get("id")}
        self._values = Values(root, note)
        self._made = 0

    def whole(self, size: tuple[float, float]) -> Element:
        root = self._root
        view = numbers(root.get("viewBox", ""))
        fits = len(view) == 4 and view[2] > 0 and view[3] > 0
        viewport = (view[2], view[3]) if fits else size
        through = view_matrix(root, *size)
        start = State(Measures(size, root=size), {}, {}, ctm=through)
        made = Element(_named("svg"), {"width": text_of(size[0]), "height": text_of(size[1])})
        for name in ("viewBox", "preserveAspectRatio"):
            if name in root.attrib and fits:
                made.set(name, root.get(name, ""))
        values, state = self._values.of(root, start)
        state = replace(state, measures=state.measures.in_viewport(*viewport))
        if "viewBox" in root.attrib and len(view) == 4 and not fits:
            return made  # a viewBox without a size shows nothing
        self._background(made, values, size, through)
        values.pop("transform", None)
        self._write(made, values)
        self._fill(made, root, state)
        return made

    def _background(
        self, made: Element, values: dict[str, str], size: tuple[float, float], through: Affine
    ) -> None:
        text = values.pop("background-color", values.pop("background", ""))
        colour = css_colour(text) if text else None
        if colour is not None and colour[3] > 0 and through.determinant:
            left, top, right, bottom = through.inverse().box((0.0, 0.0, *size))
            SubElement(made, _named("rect"), {
                "x": text_of(left), "y": text_of(top), "width": text_of(right - left),
                "height": text_of(bottom - top), "style": f"fill:{rgba(colour)}",
            })  # fmt: skip

    def _fill(self, made: Element, element: Element, state: State) -> None:
        """Gives an element what stands for the children of another."""
        made.text = element.text
        for child in self._chosen(element):
            for each in self._element(child, state):
                made.append(each)
            if len(made) and tag_of(made) in ("text", "tspan", "textPath"):
                made[-1].tail = child.tail

    def _chosen(self, element: Element) -> list[Element]:
        if tag_of(element) != "switch":
            return list(element)
        for child in element:
            languages = child.get("systemLanguage")
            speaks = languages is None or any(
                each.strip().lower().startswith("en") for each in languages.split(",")
            )
            if speaks and not child.get("requiredExtensions"):
                return [child]
        return []

    def _element(self, element: Element, state: State) -> list[Element]:
        tag = tag_of(element)
        if not tag or not _is_svg(element):
            return []
        if tag in _LEFT_OUT:
            if _LEFT_OUT[tag]:
                self._note(_LEFT_OUT[tag])
            return []
        if state.depth > MAX_NESTED:
            self._note("elements nested too deeply were left out")
            return []
        self._made += 1
        if self._made > MAX_UNFOLDED:
            raise MediaTooLargeError(
                f"an SVG's references may unfold to at most {MAX_UNFOLDED:,} elements"
            )
        values, inner = self._values.of(element, state)
        inner = replace(inner, depth=state.depth + 1)
        if tag == "use":
            return self._use(element, values, inner)
        if tag == "symbol":
            return []  # shown where it is used
        made = Element(_named("g" if tag in ("a", "switch") else tag))
        self._attributes(made, element, tag, values, inner.measures)
        if tag == "svg":
            return self._nested(made, element, values, inner)
        matrix = self._values.transform(element, values, inner)
        if tag == "clipPath":
            inner = replace(inner, clipping=True)
        if tag in SHAPES:
            return self._shape(made, element, values, matrix, inner)
        if matrix is not None:
            inner = replace(inner, ctm=inner.ctm @ matrix)
        self._fill(made, element, inner)
        if matrix is None:  # it turns about a point of its own box
            matrix = self._values.own_box(made, element, values, inner)
        self._finish(made, values, matrix)
        return [made]

    def _attributes(
        self, made: Element, element: Element, tag: str, values: dict[str, str], measures: Measures
    ) -> None:
        placed = _PLACED.get(tag, ())
        for name, value in element.attrib.items():
            short = name.split("}")[-1]
            if name in ("style", "class", "transform", "id") or short in values:
                continue
            if name == name.split("}")[-1] and name not in placed and not name.startswith("on"):
                made.set(name, value)
            elif short == "href":
                made.set("href" if tag != "image" else f"{{{XLINK}}}href", value.strip())
            elif name.endswith("}space"):
                made.set(name, value)
        if element.get("id"):
            made.set("id", element.get("id", ""))
        for name in placed:
            text = values.pop(name, element.get(name, ""))
            found = measures.length(text, name) if text else None
            if found is not None:
                made.set(name, text_of(found))
        if tag == "path" and values.get("d", "").startswith("path("):
            made.set("d", values.pop("d")[5:-1].strip().strip("\"'"))
        for name in (*GEOMETRY, "d"):
            values.pop(name, None)

    def _finish(self, made: Element, values: dict[str, str], matrix: Affine) -> None:
        self._write(made, values)
        if matrix != Affine():
            made.set("transform", f"matrix({' '.join(map(text_of, matrix.as_tuple()))})")

    def _write(self, made: Element, values: dict[str, str]) -> None:
        kept = {k: v for k, v in values.items() if not k.startswith(("background", "animation"))}
        if any(k.startswith("animation") for k in values):
            self._note("animations stand still")
        if kept:
            made.set("style", ";".join(f"{k}:{v.replace(';', ' ')}" for k, v in kept.items()))

    # Viewports and references

    def _nested(
        self, made: Element, element: Element, values: dict[str, str], state: State,
        sized: dict[str, str] | None = None,
    ) -> list[Element]:  # fmt: skip
        """An inner viewport; one without size, or whose viewBox has none, shows nothing."""
        width, height = state.measures.viewport
        for name, value in (sized or {}).items():
            made.set(name, value)
        size = (length(made.get("width"), width), length(made.get("height"), height))
        made.set("width", text_of(size[0]))
        made.set("height", text_of(size[1]))
        view = numbers(made.get("viewBox", ""))
        if min(size) <= 0 or ("viewBox" in made.attrib and len(view) == 4 and min(view[2:]) <= 0):
            return []
        shift = Affine.shift(length(made.get("x")), length(made.get("y")))
        fitted = view_matrix(made, *size)
        viewport = (view[2], view[3]) if len(view) == 4 else size
        matrix = self._values.transform(element, values, state) or Affine()
        inner = replace(
            state,
            ctm=state.ctm @ matrix @ shift @ fitted,
            measures=state.measures.in_viewport(*viewport),
        )
        self._fill(made, element, inner)
        if matrix == Affine():
            self._write(made, values)
            return [made]
        wrapped = Element(_named("g"))
        self._write(made, values)
        wrapped.append(made)
        self._finish(wrapped, {}, matrix)
        return [wrapped]

    def _use(self, element: Element, values: dict[str, str], state: State) -> list[Element]:
        target = next(
            (v for k, v in element.attrib.items() if k.split("}")[-1] == "href"), ""
        ).strip()
        found = self._by_id.get(target.lstrip("#"))
        if found is None or target in state.used:
            self._note("a use of something that is not there was left out")
            return []
        sizes = {}
        at = [0.0, 0.0]
        for name in ("x", "y", "width", "height"):
            text = values.pop(name, element.get(name, ""))
            number = state.measures.length(text, name) if text else None
            if number is None:
                continue
            if name in "xy":
                at["xy".index(name)] = number
            else:
                sizes[name] = text_of(number)
        matrix = self._values.transform(element, values, state) or Affine()
        matrix = matrix @ Affine.shift(*at)
        inner = replace(
            state, ctm=state.ctm @ matrix, used=state.used | {target}, depth=state.depth + 1
        )
        kind = tag_of(found)
        if kind in ("symbol", "svg"):
            own, within = self._values.of(found, inner)
            made = Element(_named("svg"))
            self._attributes(made, found, "svg", own, within.measures)
            if kind == "symbol":
                for name in ("x", "y", "width", "height"):
                    made.attrib.pop(name, None)
            made.attrib.pop("id", None)
            children = self._nested(made, found, own, within, sizes)
        else:
            children = self._element(found, inner)
        for each in children:
            for one in each.iter():
                one.attrib.pop("id", None)
        if state.clipping:  # a clip holds no groups
            for each in children:
                own_matrix = transform_of(each.get("transform", ""))
                both = {**values, **declarations(each.get("style", ""))}
                self._finish(each, both, matrix @ own_matrix)
            return children
        group = Element(_named("g"))
        # What a shape made of it is called.
        group.set("id", element.get("id") or "")
        if not group.get("id"):
            group.attrib.pop("id")
            group.set("data-name", found.get("id") or "")
        group.extend(children)
        self._finish(group, values, matrix)
        return [group]

    # Shapes

    def _shape(
        self,
        made: Element,
        element: Element,
        values: dict[str, str],
        matrix: Affine | None,
        state: State,
    ) -> list[Element]:
        if matrix is None:
            matrix = self._values.own_box(made, made, values, state)
        for child in element:
            if said := _LEFT_OUT.get(tag_of(child)):
                self._note(said)
        state = replace(state, ctm=state.ctm @ matrix)
        followed = state.followed
        stroked = followed.get("stroke", "none") != "none"
        if stroked:
            self._dashed(made, values, followed)
            round_caps = followed.get("stroke-linecap", "butt") in ("round", "square")
            outline = outline_of(made) if tag_of(made) == "path" and round_caps else None
            if outline is not None:
                dots = "".join(f" M{text_of(x)} {text_of(y)}h{_DOT}" for x, y in outline.dots())
                if dots:
                    made.set("d", write_contours(contours_of(outline)) + dots)
        made.attrib.pop("pathLength", None)
        if not self._picture:
            marks = marked(made, followed, self._by_id, self._marker(state))
            self._finish(made, values, matrix)
            if not marks:
                return [made]
            group = Element(_named("g"))
            made.attrib.pop("transform", None)
            self._finish(group, {}, matrix)
            group.extend([made, *marks])
            return [group]
        if stroked and values.get("vector-effect") == "non-scaling-stroke":
            return self._of_fixed_width(made, values, matrix, state)
        self._finish(made, values, matrix)
        return [made]

    def _dashed(self, made: Element, values: dict[str, str], followed: dict[str, str]) -> None:
        """Dashes measured by pathLength (SVG 2, 9.6.1), and dots where one has no length."""
        text = followed.get("stroke-dasharray", "none")
        if text == "none":
            return
        dashes, offset = numbers(text), length(followed.get("stroke-dashoffset", "0"))
        said = numbers(made.get("pathLength", ""))
        if said and said[0] > 0:
            outline = outline_of(made)
            if outline is None:
                return
            factor = outline.length() / said[0]
            dashes, offset = [d * factor for d in dashes], offset * factor
        if len(dashes) % 2:
            dashes = dashes * 2
        dashes = [max(d, _DOT) if i % 2 == 0 else d for i, d in enumerate(dashes)]
        values["stroke-dasharray"] = " ".join(map(text_of, dashes))
        values["stroke-dashoffset"] = text_of(offset)

    def _of_fixed_width(
        self, made: Element, values: dict[str, str], matrix: Affine, state: State
    ) -> list[Element]:
        """A stroke that keeps its width, drawn in the picture's own space."""
        shape = outline_of(made)
        if shape is None or abs(state.ctm.determinant) < 1e-12:
            self._finish(made, values, matrix)
            return [made]
        values.pop("vector-effect")
        group = Element(_named("g"))
        apart = ("opacity", "filter", "mask", "clip-path", "mix-blend-mode", "display")
        outer = {name: values.pop(name) for name in apart if name in values}
        there = state.ctm.inverse()
        line = Element(_named("path"), {"d": write_contours(contours_of(shape.mapped(state.ctm)))})
        self._finish(line, {**values, "fill": "none", "marker": "none"}, there)
        self._finish(made, {**values, "stroke": "none"}, Affine())
        group.extend([made, line])
        self._finish(group, outer, matrix)
        return [group]

    def _marker(self, state: State) -> Callable[[Element, Affine], list[Element]]:
        def draw(marker: Element, place: Affine) -> list[Element]:
            """A marker's content at a place, cut by its own viewport."""
            values, own = self._values.of(marker, replace(state, depth=state.depth + 1))
            if state.depth > MAX_NESTED or marker.get("id", "") in state.used:
                return []
            own = replace(
                own, followed={}, used=state.used | {marker.get("id", "")}, ctm=own.ctm @ place
            )
            made = Element(_named("svg"), {
                name: marker.get(name, default)
                for name, default in (
                    ("viewBox", ""), ("preserveAspectRatio", ""), ("width", ""), ("height", ""),
                ) if marker.get(name)
            })  # fmt: skip
            width = length(marker.get("markerWidth"), 3.0)
            height = length(marker.get("markerHeight"), 3.0)
            sizes = {"width": text_of(width), "height": text_of(height)}
            group = Element(_named("g"))
            # Markers take over nothing from what they mark.
            initial = {name: INITIAL[name] for name in ("fill", "stroke", "fill-opacity")}
            children = self._nested(made, marker, {**initial, **values}, own, sizes)
            group.extend(children)
            self._finish(group, {}, place)
            return [group]

        return draw


def _named(tag: str) -> str:
    return f"{{{SVG}}}{tag}"


def _is_svg(element: Element) -> bool:
    return not element.tag.startswith("{") or element.tag.startswith(f"{{{SVG}}}")
