"""An SVG file read as XML: what is refused, and how large the drawing is."""

from __future__ import annotations

import re
from xml.etree.ElementTree import Element

from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from ....errors import MediaError, MediaTooLargeError
from .limits import check_cost
from .syntax import UNITS, numbers, tag_of

MAX_SVG_BYTES = 8 * 1024 * 1024
MAX_SIDE = 16_384
# What a replaced element without a size of its own has (CSS 2.2, 10.3.2).
_UNSIZED = (300.0, 150.0)

_LENGTH = re.compile(r"\s*([0-9.eE+-]+)\s*(px|pt|pc|mm|cm|in|)\s*")


def parse(data: bytes) -> Element:
    """The root of an acceptable file; MediaError says what is wrong with another."""
    if len(data) > MAX_SVG_BYTES:
        raise MediaTooLargeError(f"an SVG may have at most {MAX_SVG_BYTES // 2**20} MB")
    try:
        root: Element = ElementTree.fromstring(data, forbid_dtd=False, forbid_entities=True)
    except (DefusedXmlException, ElementTree.ParseError, ValueError, RecursionError) as error:
        raise MediaError(f"this SVG cannot be read ({error or type(error).__name__})") from error
    if tag_of(root) != "svg":
        raise MediaError("this XML file is no SVG")
    check_cost(root)
    for element in root.iter():
        for name, value in element.attrib.items():
            link = name == "href" or name.endswith("}href")
            followed = tag_of(element) not in ("a", "script")
            if link and followed and not value.strip().startswith(("#", "data:image/")):
                raise MediaError(f"this SVG refers to another file ({value[:60]!r})")
    return root


def natural_size(root: Element) -> tuple[float, float]:
    """Width and height in px; those of the viewBox where they are not said."""
    sides: list[float | None] = []
    for name in ("width", "height"):
        match = _LENGTH.fullmatch(root.get(name, ""))
        try:
            sides.append(float(match[1]) * UNITS[match[2]] if match else None)
        except ValueError:
            sides.append(None)
    view = numbers(root.get("viewBox", ""))
    width, height = sides
    if len(view) == 4 and view[2] > 0 and view[3] > 0:
        if width is None and height is None:
            width, height = view[2], view[3]
        elif width is None:
            width = (height or 0) * view[2] / view[3]
        elif height is None:
            height = width * view[3] / view[2]
    size = (
        _UNSIZED[0] if width is None else width,
        _UNSIZED[1] if height is None else height,
    )
    if not all(0 < side <= MAX_SIDE for side in size):
        raise MediaTooLargeError(f"an SVG's sides must lie within 1 and {MAX_SIDE} px, got {size}")
    return size
