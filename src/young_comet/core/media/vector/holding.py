"""What holds for an element of an SVG: its properties by the cascade, settled, with lengths in px,
colours as plain ones and its transform as a matrix; and what its children take over."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from xml.etree.ElementTree import Element

from ...geometry.affine import Affine
from ...pixels.colour import Rgba
from .cascade import COLOURS, Cascade, with_variables
from .colours import css_colour
from .lengths import Measures, origin, transform
from .outlines import box_of
from .syntax import share

_OPACITIES = ("opacity", "fill-opacity", "stroke-opacity", "stop-opacity", "flood-opacity")
_LENGTHS = ("stroke-width", "stroke-dashoffset", "letter-spacing", "word-spacing")
# What these begin with, as CSS has it.
INITIAL = {
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


@dataclass(frozen=True)
class State:
    """What an element takes over from those around it."""

    measures: Measures
    variables: dict[str, str]
    followed: dict[str, str]
    current: Rgba = (0.0, 0.0, 0.0, 1.0)
    ctm: Affine = field(default_factory=Affine)
    depth: int = 0
    used: frozenset[str] = frozenset()
    clipping: bool = False


class Values:
    """The values that hold for elements of one document."""

    def __init__(self, root: Element, note: Note) -> None:
        self._note = note
        self._cascade = Cascade(root, note)

    def of(self, element: Element, state: State) -> tuple[dict[str, str], State]:
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
            values["color"] = rgba(current)
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
        values["font-size"] = f"{text_of(size)}px"
        return replace(measures, font_px=size)

    def _sizes(self, values: dict[str, str], measures: Measures) -> None:
        for name in _OPACITIES:
            if name in values:
                values[name] = text_of(min(1.0, max(0.0, share(values[name]))))
        for name in _LENGTHS:
            if name in values:
                size = measures.length(values[name], name)
                if size is not None:
                    values[name] = text_of(size)
                elif values[name] != "normal":
                    values.pop(name)
        if values.get("stroke-dasharray", "none") != "none":
            parts = values["stroke-dasharray"].replace(",", " ").split()
            found = [measures.length(part, "stroke-dasharray") for part in parts]
            dashes = [each for each in found if each is not None and each >= 0]
            fine = len(dashes) == len(parts) and sum(dashes) > 0
            values["stroke-dasharray"] = " ".join(map(text_of, dashes)) if fine else "none"

    def transform(self, element: Element, values: dict[str, str], state: State) -> Affine | None:
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

    def own_box(
        self, made: Element, element: Element, values: dict[str, str], state: State
    ) -> Affine:
        """A transform about a point of the element's own box."""
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


def _settled(name: str, value: str) -> str | None:
    """A value without the words that stand for others; None where it is taken over."""
    word = value.lower()
    if word in ("inherit", "unset", "revert", "revert-layer"):
        return None if word != "inherit" or name not in ("opacity", "display") else value
    if word == "initial":
        return INITIAL.get(name)
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
        return f"{word[:end]} {rgba(colour)}" if colour else word[:end]
    colour = css_colour(word, current)
    return None if colour is None else rgba(colour)


def rgba(colour: Rgba) -> str:
    """A colour as SVG writes it."""
    r, g, b = (round(c * 255) for c in colour[:3])
    if colour[3] >= 1:
        return f"#{r:02x}{g:02x}{b:02x}"
    return f"rgba({r},{g},{b},{round(colour[3], 4):g})"


def text_of(value: float) -> str:
    """A number as SVG writes it."""
    return f"{value:.9g}"
