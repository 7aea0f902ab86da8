"""SVG made plain: what style sheets, variables, references and relative units mean is written out.

The result says the same with attributes and plain style attributes alone, lengths in px, every
``use`` in full, so that the renderer and the reader of shapes need to know little. What is not
followed is named.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from xml.etree.ElementTree import Element, SubElement, register_namespace, tostring

from ....errors import MediaTooLargeError
from ...geometry.affine import Affine
from ...geometry.contours import contours_of, write_contours
from ...pixels.colour import Rgba
from .cascade import COLOURS, GEOMETRY, Cascade, with_variables
from .colours import css_colour
from .lengths import Measures, origin, transform
from .limits import MAX_UNFOLDED
from .markers import marked
from .outlines import SHAPES, box_of, outline_of
from .syntax import declarations, length, numbers, share, tag_of, transform_of, view_matrix

SVG, XLINK = "http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink"
register_namespace("", SVG)
register_namespace("xlink", XLINK)

MAX_NESTED = 200
# A length that is drawn as a dot where caps are round or square.
_DOT = 0.002
_OPACITIES = ("opacity", "fill-opacity", "stroke-opacity", "stop-opacity", "flood-opacity")
_LENGTHS = ("stroke-width", "stroke-dashoffset", "letter-spacing", "word-spacing")
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
# What these begin with, as CSS has it.
_INITIAL = {
    "fill": "#000000", "stroke": "none", "color": "#000000", "opacity": "1", "fill-opacity": "1",
    "stroke-opacity": "1", "stroke-width": "1", "stroke-dasharray": "none",
    "stroke-dashoffset": "0", "stroke-linecap": "butt", "stroke-linejoin": "miter",
    "fill-rule": "nonzero", "clip-rule": "nonzero", "visibility": "visible", "font-size": "16px",
}  # fmt: skip
# Properties that elements take over and that are needed here.
_FOLLOWED = (
    "stroke", "stroke-width", "stroke-dasharray", "stroke-dashoffset", "stroke-linecap",
    "marker-start", "marker-mid", "marker-end",
)  # fmt: skip

Note = Callable[[str], None]


@dataclass(frozen=True)
class _State:
    """What an element takes over from those around it."""

    measures: Measures
    variables: dict[str, str]
    followed: dict[str, str]
    current: Rgba = (0.0, 0.0, 0.0, 1.0)
    ctm: Affine = field(default_factory=Affine)
    depth: int = 0
    used: frozenset[str] = frozenset()
    clipping: bool = False


class Notes:
    """Sentences, each with how often it was said."""

    def __init__(self) -> None:
        self._counts: dict[str, int] = {}

    def __call__(self, text: str) -> None:
        self._counts[text] = self._counts.get(text, 0) + 1

    def said(self) -> tuple[str, ...]:
        """What is to be told, each once."""
        return tuple(
            text if count == 1 else f"{text} ({count} times)"
            for text, count in self._counts.items()
        )


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
        self._cascade = Cascade(root, note)
        self._made = 0

    def whole(self, size: tuple[float, float]) -> Element:
        root = self._root
        view = numbers(root.get("viewBox", ""))
        fits = len(view) == 4 and view[2] > 0 and view[3] > 0
        viewport = (view[2], view[3]) if fits else size
        through = view_matrix(root, *size)
        start = _State(Measures(size, root=size), {}, {}, ctm=through)
        made = Element(_named("svg"), {"width": _text(size[0]), "height": _text(size[1])})
        for name in ("viewBox", "preserveAspectRatio"):
            if name in root.attrib and fits:
                made.set(name, root.get(name, ""))
        values, state = self._values(root, start)
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
                "x": _text(left), "y": _text(top), "width": _text(right - left),
                "height": _text(bottom - top), "style": f"fill:{_rgba(colour)}",
            })  # fmt: skip

    def _fill(self, made: Element, element: Element, state: _State) -> None:
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

    def _element(self, element: Element, state: _State) -> list[Element]:
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
        values, inner = self._values(element, state)
        inner = replace(inner, depth=state.depth + 1)
        if tag == "use":
            return self._use(element, values, inner)
        if tag == "symbol":
            return []  # shown where it is used
        made = Element(_named("g" if tag in ("a", "switch") else tag))
        self._attributes(made, element, tag, values, inner.measures)
        if tag == "svg":
            return self._nested(made, element, values, inner)
        matrix = self._transform(element, values, inner)
        if tag == "clipPath":
            inner = replace(inner, clipping=True)
        if tag in SHAPES:
            return self._shape(made, element, values, matrix, inner)
        if matrix is not None:
            inner = replace(inner, ctm=inner.ctm @ matrix)
        self._fill(made, element, inner)
        if matrix is None:  # it turns about a point of its own box
            matrix = self._own_box(made, element, values, inner)
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
                made.set(name, _text(found))
        if tag == "path" and values.get("d", "").startswith("path("):
            made.set("d", values.pop("d")[5:-1].strip().strip("\"'"))
        for name in (*GEOMETRY, "d"):
            values.pop(name, None)

    # What holds for an element

    def _values(self, element: Element, state: _State) -> tuple[dict[str, str], _State]:
        """The values of an element's properties, and what its children take over."""
        declared = self._cascade.declared(element)
        own = {k: v for k, v in declared.items() if k.startswith("--")}
        variables = state.variables
        if own:
            variables = dict(variables)
            for name, text in own.items():
                known = with_variables(text, {**state.variables, **own})
                if known is not None and len(known) < 2000:
                    variables[name] = known
                else:
                    variables.pop(name, None)
        values = {}
        for name, text in declared.items():
            if name.startswith("--"):
                continue
            found = with_variables(text, variables)
            settled = None if found is None else _settled(name, found)
            if settled is not None:
                values[name] = settled
        current = state.current
        if "color" in values and values["color"].lower() != "currentcolor":
            current = css_colour(values["color"], state.current) or current
            values["color"] = _rgba(current)
        for name in COLOURS:
            if name in values and name != "color":
                colour = _paint(values[name], current)
                if colour is None:
                    self._note(f"the colour {values.pop(name)[:40]!r} is not known")
                else:
                    values[name] = colour
        measures = self._font(values, state.measures)
        self._sizes(values, measures)
        followed = {**state.followed, **{k: v for k, v in values.items() if k in _FOLLOWED}}
        if "marker" in values:
            text = values["marker"]
            followed |= {f"marker-{end}": text for end in ("start", "mid", "end")}
        inner = replace(
            state, variables=variables, current=current, measures=measures, followed=followed
        )
        return values, inner

    def _font(self, values: dict[str, str], measures: Measures) -> Measures:
        if "font-size" not in values:
            return measures
        text = values["font-size"]
        size = measures.length(text, "font") if "%" not in text else None
        if text.strip().endswith("%"):
            size = share(text) * measures.font_px
        if size is None or not 0 <= size < 1e5:
            return measures  # "large" and the like are the renderer's
        values["font-size"] = f"{_text(size)}px"
        return replace(measures, font_px=size)

    def _sizes(self, values: dict[str, str], measures: Measures) -> None:
        for name in _OPACITIES:
            if name in values:
                values[name] = _text(min(1.0, max(0.0, share(values[name]))))
        for name in _LENGTHS:
            if name in values:
                size = measures.length(values[name], name)
                if size is not None:
                    values[name] = _text(size)
                elif values[name] != "normal":
                    values.pop(name)
        if values.get("stroke-dasharray", "none") != "none":
            parts = values["stroke-dasharray"].replace(",", " ").split()
            found = [measures.length(part, "stroke-dasharray") for part in parts]
            dashes = [each for each in found if each is not None and each >= 0]
            fine = len(dashes) == len(parts) and sum(dashes) > 0
            values["stroke-dasharray"] = " ".join(map(_text, dashes)) if fine else "none"

    def _transform(self, element: Element, values: dict[str, str], state: _State) -> Affine | None:
        """An element's transform about its origin; None where that lies in its own box."""
        texts = [values.pop(name) for name in ("translate", "rotate", "scale") if name in values]
        text = values.pop("transform", element.get("transform", ""))
        about, box = values.get("transform-origin"), values.get("transform-box", "view-box")
        if not text and not texts:
            values.pop("transform-origin", None), values.pop("transform-box", None)
            return Affine()
        if texts:
            self._note("translate, rotate and scale by themselves were left out: use transform")
        if box in ("fill-box", "content-box", "stroke-box", "border-box") and (
            about is not None or "%" in text
        ):
            values["transform"] = text
            return None
        return self._about(text, values, state.measures, (0.0, 0.0, *state.measures.viewport))

    def _own_box(
        self, made: Element, element: Element, values: dict[str, str], state: _State
    ) -> Affine:
        box = box_of(made)
        if box is None:
            self._note("a transform about a box that cannot be told was made about (0, 0)")
            box = (0.0, 0.0, 0.0, 0.0)
        return self._about(values.pop("transform"), values, state.measures, box)

    def _about(
        self, text: str, values: dict[str, str], measures: Measures,
        box: tuple[float, float, float, float],
    ) -> Affine:  # fmt: skip
        found = transform(text, measures, box, self._note)
        where = values.pop("transform-origin", "")
        values.pop("transform-box", None)
        if found is None:
            self._note(f"the transform {text[:40]!r} cannot be read")
            return Affine()
        if where:
            x, y = origin(where, measures, box)
            found = Affine.shift(x, y) @ found @ Affine.shift(-x, -y)
        return found if all(map(math.isfinite, found.as_tuple())) else Affine()

    def _finish(self, made: Element, values: dict[str, str], matrix: Affine) -> None:
        self._write(made, values)
        if matrix != Affine():
            made.set("transform", f"matrix({' '.join(map(_text, matrix.as_tuple()))})")

    def _write(self, made: Element, values: dict[str, str]) -> None:
        kept = {k: v for k, v in values.items() if not k.startswith(("background", "animation"))}
        if any(k.startswith("animation") for k in values):
            self._note("animations stand still")
        if kept:
            made.set("style", ";".join(f"{k}:{v.replace(';', ' ')}" for k, v in kept.items()))

    # Viewports and references

    def _nested(
        self, made: Element, element: Element, values: dict[str, str], state: _State,
        sized: dict[str, str] | None = None,
    ) -> list[Element]:  # fmt: skip
        """An inner viewport; one without size, or whose viewBox has none, shows nothing."""
        width, height = state.measures.viewport
        for name, value in (sized or {}).items():
            made.set(name, value)
        size = (length(made.get("width"), width), length(made.get("height"), height))
        made.set("width", _text(size[0]))
        made.set("height", _text(size[1]))
        view = numbers(made.get("viewBox", ""))
        if min(size) <= 0 or ("viewBox" in made.attrib and len(view) == 4 and min(view[2:]) <= 0):
            return []
        shift = Affine.shift(length(made.get("x")), length(made.get("y")))
        fitted = view_matrix(made, *size)
        viewport = (view[2], view[3]) if len(view) == 4 else size
        matrix = self._transform(element, values, state) or Affine()
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

    def _use(self, element: Element, values: dict[str, str], state: _State) -> list[Element]:
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
                sizes[name] = _text(number)
        matrix = self._transform(element, values, state) or Affine()
        matrix = matrix @ Affine.shift(*at)
        inner = replace(
            state, ctm=state.ctm @ matrix, used=state.used | {target}, depth=state.depth + 1
        )
        kind = tag_of(found)
        if kind in ("symbol", "svg"):
            own, within = self._values(found, inner)
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
        state: _State,
    ) -> list[Element]:
        if matrix is None:
            matrix = self._own_box(made, made, values, state)
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
                dots = "".join(f" M{_text(x)} {_text(y)}h{_DOT}" for x, y in outline.dots())
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
        values["stroke-dasharray"] = " ".join(map(_text, dashes))
        values["stroke-dashoffset"] = _text(offset)

    def _of_fixed_width(
        self, made: Element, values: dict[str, str], matrix: Affine, state: _State
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

    def _marker(self, state: _State) -> Callable[[Element, Affine], list[Element]]:
        def draw(marker: Element, place: Affine) -> list[Element]:
            """A marker's content at a place, cut by its own viewport."""
            values, own = self._values(marker, replace(state, depth=state.depth + 1))
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
            sizes = {"width": _text(width), "height": _text(height)}
            group = Element(_named("g"))
            # Markers take over nothing from what they mark.
            initial = {name: _INITIAL[name] for name in ("fill", "stroke", "fill-opacity")}
            children = self._nested(made, marker, {**initial, **values}, own, sizes)
            group.extend(children)
            self._finish(group, {}, place)
            return [group]

        return draw


def _settled(name: str, value: str) -> str | None:
    """A value without the words that stand for others; None where it is taken over."""
    word = value.lower()
    if word in ("inherit", "unset", "revert", "revert-layer"):
        return None if word != "inherit" or name not in ("opacity", "display") else value
    if word == "initial":
        return _INITIAL.get(name)
    return value


def _paint(text: str, current: Rgba) -> str | None:
    """A paint with its colours as plain ones; None where it is none."""
    word = text.strip()
    if word.lower() in ("none", "currentcolor", "context-fill", "context-stroke"):
        return word
    if word.lower().startswith("url("):
        end = word.find(")") + 1
        rest = word[end:].strip()
        if not rest or rest.lower() in ("none", "currentcolor"):
            return word
        colour = css_colour(rest, current)
        return f"{word[:end]} {_rgba(colour)}" if colour else word[:end]
    colour = css_colour(word, current)
    return None if colour is None else _rgba(colour)


def _rgba(colour: Rgba) -> str:
    r, g, b = (round(c * 255) for c in colour[:3])
    if colour[3] >= 1:
        return f"#{r:02x}{g:02x}{b:02x}"
    return f"rgba({r},{g},{b},{round(colour[3], 4):g})"


def _named(tag: str) -> str:
    return f"{{{SVG}}}{tag}"


def _is_svg(element: Element) -> bool:
    return not element.tag.startswith("{") or element.tag.startswith(f"{{{SVG}}}")


def _text(value: float) -> str:
    return f"{value:.9g}"
