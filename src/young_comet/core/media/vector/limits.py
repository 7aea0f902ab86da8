"""What an SVG may cost to draw, estimated before anything is drawn.

A few hundred bytes can ask for hours of work: groups nested without end, filters over thousands of
pixels, references that multiply. Whatever passes here is drawn in bounded time on any machine, or
is stopped there.
"""

from __future__ import annotations

import math
import re
from xml.etree.ElementTree import Element

from ....errors import MediaError, MediaTooLargeError

MAX_DEPTH = 100
MAX_ELEMENTS = 50_000
MAX_ATTRIBUTES = 200_000
MAX_ATTRIBUTES_EACH = 500
MAX_POINTS = 300_000
MAX_RULES = 2_000
# What references (use, patterns, masks) unfold to.
MAX_UNFOLDED = 100_000
# Filters: primitives in all, and the largest number each of these may have.
MAX_PRIMITIVES = 200
FILTER_LIMITS = {
    ("feTurbulence", "numOctaves"): 10.0,
    ("feMorphology", "radius"): 100.0,
    ("feGaussianBlur", "stdDeviation"): 1000.0,
    ("feDropShadow", "stdDeviation"): 1000.0,
    ("feConvolveMatrix", "order"): 15.0,
}
# Sides of patterns, filter regions, masks and symbols, in user units.
MAX_REGION = 100_000.0
_REGIONS = ("pattern", "filter", "mask", "symbol", "marker", "svg", "image", "feFlood", "feTile")

_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")
_REFERENCE = re.compile(r"url\(\s*['\"]?#([^'\")\s]+)")


def check_cost(root: Element) -> None:
    """Raises MediaError or MediaTooLargeError where a drawing would cost too much."""
    attributes = points = primitives = rules = 0
    for count, (element, depth) in enumerate(_walk(root)):
        if depth > MAX_DEPTH:
            raise MediaError(f"an SVG may nest at most {MAX_DEPTH} elements")
        if count > MAX_ELEMENTS:
            raise MediaTooLargeError(f"an SVG may have at most {MAX_ELEMENTS:,} elements")
        tag = _tag(element)
        attributes += len(element.attrib)
        if attributes > MAX_ATTRIBUTES or len(element.attrib) > MAX_ATTRIBUTES_EACH:
            raise MediaTooLargeError(
                f"an SVG may have at most {MAX_ATTRIBUTES:,} attributes, an element "
                f"{MAX_ATTRIBUTES_EACH}"
            )
        for name in ("d", "points"):
            if name in element.attrib:
                points += _count(element.attrib[name], 2 * MAX_POINTS + 1) // 2 + 1
        if points > MAX_POINTS:
            raise MediaTooLargeError(f"an SVG may have at most {MAX_POINTS:,} points in its paths")
        if tag == "style":
            rules += (element.text or "").count("{")
        if rules > MAX_RULES:
            raise MediaTooLargeError(f"an SVG may have at most {MAX_RULES:,} rules of style")
        if tag.startswith("fe") and not tag.startswith("feFunc"):
            primitives += 1
        if primitives > MAX_PRIMITIVES:
            raise MediaTooLargeError(f"an SVG may have at most {MAX_PRIMITIVES} filter steps")
        _check_numbers(tag, element.attrib)
    _check_unfolded(root)


def _check_numbers(tag: str, attributes: dict[str, str]) -> None:
    for (kind, name), most in FILTER_LIMITS.items():
        if tag == kind and name in attributes:
            for text in _NUMBER.findall(attributes[name])[:4]:
                if not abs(float(text)) <= most:
                    raise MediaTooLargeError(
                        f"{name} of {kind} may be at most {most:g}, got {text}"
                    )
    if tag not in _REGIONS:
        return
    for name in ("x", "y", "width", "height"):
        for text in _NUMBER.findall(attributes.get(name, ""))[:1]:
            value = float(text)
            if not math.isfinite(value) or abs(value) > MAX_REGION:
                raise MediaTooLargeError(
                    f"{name} of a {tag} may be at most {MAX_REGION:,.0f}, got {text}"
                )


def _walk(root: Element) -> list[tuple[Element, int]]:
    """All elements with their depth, without recursion; no more than are looked at."""
    found: list[tuple[Element, int]] = []
    stack = [(root, 0)]
    while stack and len(found) <= MAX_ELEMENTS + 1:
        element, depth = stack.pop()
        found.append((element, depth))
        if depth <= MAX_DEPTH:
            stack += [(child, depth + 1) for child in reversed(element)]
    return found


def _tag(element: Element) -> str:
    return element.tag.split("}")[-1] if isinstance(element.tag, str) else ""


def _count(text: str, most: int) -> int:
    count = 0
    for _ in _NUMBER.finditer(text):
        count += 1
        if count > most:
            break
    return count


def _check_unfolded(root: Element) -> None:
    """How many elements are drawn once references are followed, however they multiply; a
    reference that leads back to itself is refused."""
    by_id = {name: e for e, _ in _walk(root) if (name := e.get("id"))}
    sizes: dict[int, int] = {}
    open_now: set[int] = set()
    # Depth first with an explicit stack: (element, what it needs, whether that is known).
    stack: list[tuple[Element, bool]] = [(root, False)]
    while stack:
        element, known = stack.pop()
        needed = [*element, *(by_id[n] for n in _references(element) if n in by_id)]
        if known:
            open_now.discard(id(element))
            size = 1 + sum(sizes.get(id(each), 1) for each in needed)
            if size > MAX_UNFOLDED:
                raise MediaTooLargeError(
                    f"an SVG's references may unfold to at most {MAX_UNFOLDED:,} elements"
                )
            sizes[id(element)] = size
            continue
        if id(element) in sizes:
            continue
        if id(element) in open_now:
            continue
        open_now.add(id(element))
        stack.append((element, True))
        for each in needed:
            if id(each) in open_now:
                raise MediaError(f"in this SVG {each.get('id') or _tag(each)!r} refers to itself")
            if id(each) not in sizes:
                stack.append((each, False))


def _references(element: Element) -> list[str]:
    found = []
    for name, value in element.attrib.items():
        if (name == "href" or name.endswith("}href")) and value.strip().startswith("#"):
            found.append(value.strip()[1:])
        elif "url(" in value:
            found += _REFERENCE.findall(value)
    return found
