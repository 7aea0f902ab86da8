"""What style sheets, style attributes and presentation attributes say of each element.

Sheets are read by tinycss2, selectors matched by cssselect2 (CSS Cascade 5, without layers).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Any
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2

from .colours import css_colour
from .syntax import tag_of

# Colours among the properties: what is none of them counts for nothing.
COLOURS = ("fill", "stroke", "color", "stop-color", "flood-color", "lighting-color")
_PAINT_WORDS = (
    "none", "currentcolor", "context-fill", "context-stroke", "inherit", "initial", "unset",
    "revert",
)  # fmt: skip
GEOMETRY = ("x", "y", "width", "height", "cx", "cy", "r", "rx", "ry")
# Attributes that are properties (SVG 2, 6.6), apart from geometry.
PRESENTATION = frozenset((
    *COLOURS, "alignment-baseline", "baseline-shift", "clip-path", "clip-rule",
    "color-interpolation", "color-interpolation-filters", "direction", "display",
    "dominant-baseline", "fill-opacity", "fill-rule", "filter", "flood-opacity", "font",
    "font-family", "font-size", "font-size-adjust", "font-stretch", "font-style", "font-variant",
    "font-weight", "image-rendering", "isolation", "letter-spacing", "marker", "marker-end",
    "marker-mid", "marker-start", "mask", "mask-type", "mix-blend-mode", "opacity", "overflow",
    "paint-order", "shape-rendering", "stop-opacity", "stroke-dasharray", "stroke-dashoffset",
    "stroke-linecap", "stroke-linejoin", "stroke-miterlimit", "stroke-opacity", "stroke-width",
    "text-anchor", "text-decoration", "text-rendering", "transform-origin", "transform-box",
    "unicode-bidi", "vector-effect", "visibility", "word-spacing", "writing-mode",
))  # fmt: skip
# What values of var() may come to, characters: they can multiply.
_LONGEST = 20_000
_MOST_STEPS = 2000
MAX_EFFORT = 3e6


@dataclass(frozen=True)
class Rule:
    """A declaration with its rank: what counts more sorts later."""

    rank: tuple[Any, ...]
    name: str
    value: str


class Cascade:
    """The declarations of all elements of a document. ``note`` is told what is not followed."""

    def __init__(self, root: Element, note: Callable[[str], None]) -> None:
        self._note = note
        self._matcher = cssselect2.Matcher()
        self._count = 0
        self._effort = _Effort(root)
        for element in root.iter():
            if tag_of(element) == "style" and element.get("type", "text/css") == "text/css":
                sheet = tinycss2.parse_stylesheet(
                    element.text or "", skip_comments=True, skip_whitespace=True
                )
                self._read(sheet, 0)
        self._declared: dict[Element, dict[str, str]] = {}
        wrapped = cssselect2.ElementWrapper.from_xml_root(root)
        for each in wrapped.iter_subtree():
            self._declared[each.etree_element] = self._of(each)

    def declared(self, element: Element) -> dict[str, str]:
        """What is declared for an element, var() as it is written."""
        return self._declared.get(element, {})

    def _read(self, rules: list[Any], depth: int) -> None:
        for rule in rules:
            if rule.type == "at-rule":
                self._at_rule(rule, depth)
            elif rule.type == "qualified-rule":
                try:
                    selectors = cssselect2.compile_selector_list(rule.prelude)
                except cssselect2.SelectorError:
                    self._note("a style rule whose selector is not known was left out")
                    continue
                found = _declarations(rule.content)
                combined = tinycss2.serialize(rule.prelude)
                for selector in selectors:
                    if not self._effort.allows(selector, combined):
                        self._note("a style rule that would take too long to match was left out")
                    elif selector.pseudo_element is None:
                        self._count += 1
                        self._matcher.add_selector(selector, (self._count, found))

    def _at_rule(self, rule: Any, depth: int) -> None:
        name = rule.lower_at_keyword
        if name == "media" and rule.content is not None and depth < 8:
            if _screen(tinycss2.serialize(rule.prelude)):
                inner = tinycss2.parse_blocks_contents(
                    rule.content, skip_comments=True, skip_whitespace=True
                )
                self._read(inner, depth + 1)
        elif name == "font-face":
            self._note("typefaces within the file are not used")
        elif name == "import":
            self._note("style sheets outside the file are not read")
        elif name.endswith("keyframes"):
            self._note("animations stand still")
        elif name not in ("charset", "namespace"):
            self._note(f"@{name[:30]} rules were left out")

    def _of(self, wrapped: Any) -> dict[str, str]:
        element: Element = wrapped.etree_element
        rules = [
            Rule((0, (0, 0, 0), 0), name, value.strip())
            for name, value in element.attrib.items()
            if name in PRESENTATION
        ]
        for specificity, _, _, (order, declarations) in self._matcher.match(wrapped):
            for place, (name, value, important) in enumerate(declarations):
                rank = (2 if important else 0, specificity, order, place)
                rules.append(Rule(rank, name, value))
        own = tinycss2.parse_blocks_contents(
            element.get("style", ""), skip_comments=True, skip_whitespace=True
        )
        for place, (name, value, important) in enumerate(_declared_in(own)):
            rules.append(Rule((3 if important else 1, (0, 0, 0), 0, place), name, value))
        rules.sort(key=lambda rule: rule.rank)
        return {rule.name: rule.value for rule in rules if self._valid(rule)}

    def _valid(self, rule: Rule) -> bool:
        """Whether a declaration is one: others do not hide those that count less."""
        if "var(" in rule.value or rule.name not in COLOURS:
            return True
        text = rule.value.lower()
        if rule.name in ("fill", "stroke") and text.startswith("url("):
            return True
        if text in _PAINT_WORDS or css_colour(rule.value) is not None:
            return True
        self._note(f"the colour {rule.value[:40]!r} is not known")
        return False


def _declarations(content: list[Any]) -> list[tuple[str, str, bool]]:
    return _declared_in(
        tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True)
    )


def _declared_in(nodes: list[Any]) -> list[tuple[str, str, bool]]:
    found = []
    for node in nodes:
        if node.type != "declaration":
            continue
        name = node.name if node.name.startswith("--") else node.lower_name
        with suppress(RecursionError):  # brackets within brackets without end
            found.append((name, tinycss2.serialize(node.value).strip(), node.important))
    return found


class _Effort:
    """How many steps matching the selectors of a document may take."""

    def __init__(self, root: Element) -> None:
        self._tags: Counter[str] = Counter()
        self._classes: Counter[str] = Counter()
        self._ids: Counter[str] = Counter()
        self._siblings = 1
        for element in root.iter():
            self._tags[tag_of(element).lower()] += 1
            self._classes.update(element.get("class", "").split())
            self._ids[element.get("id", "")] += 1
            self._siblings = max(self._siblings, len(element))
        self._left = MAX_EFFORT

    def allows(self, selector: Any, text: str) -> bool:
        if selector.id is not None:
            met = self._ids[selector.id]
        elif selector.class_name is not None:
            met = self._classes[selector.class_name]
        elif selector.local_name is not None:
            met = self._tags[str(selector.local_name[1]).lower()]
        else:
            met = self._tags.total()
        # Each combinator may look at all that comes before, or lies about, an element.
        steps = float(max(1, met)) * self._siblings ** min(6, text.count("~"))
        steps *= self._siblings ** min(6, text.count(":nth") + text.count(":has"))
        steps *= 10.0 ** min(8, len(text.split()) - 1)
        if steps > self._left:
            return False
        self._left -= steps
        return True


def _screen(condition: str) -> bool:
    """Whether a media query holds for a picture on a screen in light colours."""
    for query in condition.lower().split(","):
        words = query.replace("(", " ( ").replace(")", " ) ").split()
        if words[:1] == ["not"]:
            continue
        kind = next((w for w in words if w in ("all", "screen", "print", "speech")), "all")
        light = "prefers-color-scheme" not in query or "light" in query
        still = "prefers-reduced-motion" not in query or "no-preference" in query
        if kind in ("all", "screen") and light and still:
            return True
    return False


def with_variables(value: str, variables: dict[str, str]) -> str | None:
    """A value with every var() replaced (CSS Variables 1, 3); None where that cannot be, or
    would come to too much."""
    return _Filling(variables).filled(value, 0)


class _Filling:
    def __init__(self, variables: dict[str, str]) -> None:
        self._variables, self._steps = variables, 0

    def filled(self, value: str, depth: int) -> str | None:
        if "var(" not in value.lower():
            return value
        result = ""
        for node in tinycss2.parse_component_value_list(value):
            self._steps += 1
            text = self._replaced(node, depth) if self._steps < _MOST_STEPS else None
            if text is None or len(result) + len(text) > _LONGEST:
                return None
            result += text
        return result

    def _replaced(self, node: Any, depth: int) -> str | None:
        if node.type != "function" or depth > 12:
            return tinycss2.serialize([node]) if node.type != "function" else None
        if node.lower_name != "var":
            inner = self.filled(tinycss2.serialize(node.arguments), depth + 1)
            return None if inner is None else f"{node.name}({inner})"
        name, fallback, comma = "", [], False
        for each in node.arguments:
            if not comma and each.type == "literal" and each.value == ",":
                comma = True
            elif comma:
                fallback.append(each)
            elif each.type == "ident":
                name = each.value
        if name in self._variables:
            found = self.filled(self._variables[name], depth + 1)
            if found is not None:
                return found
        return self.filled(tinycss2.serialize(fallback).strip(), depth + 1) if comma else None
