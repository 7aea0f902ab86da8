"""The outlines of SVG's basic shapes, in px of their own space."""

from __future__ import annotations

import math
from xml.etree.ElementTree import Element

from ...geometry import outline as outlines
from ...geometry.affine import Affine, Box
from ...geometry.outline import Outline, from_svg_path
from .syntax import length, numbers, tag_of, transform_of

SHAPES = ("path", "rect", "circle", "ellipse", "line", "polyline", "polygon")
# How a quarter of an ellipse is drawn as a cubic.
_K = 0.5522847498


def outline_of(element: Element) -> Outline | None:
    """The outline of a plain shape; None where it shows nothing. ValueError for a path that
    cannot be read from its start."""
    kind, get = tag_of(element), element.get
    if kind == "path":
        return readable(get("d", ""))
    if kind == "rect":
        return _rectangle(element)
    if kind in ("circle", "ellipse"):
        rx = length(get("r") if kind == "circle" else get("rx", get("ry")))
        ry = length(get("r") if kind == "circle" else get("ry", get("rx")))
        at = Affine.shift(length(get("cx")), length(get("cy")))
        return outlines.ellipse(2 * rx, 2 * ry).mapped(at) if rx > 0 and ry > 0 else None
    if kind == "line":
        ends = [(length(get("x1")), length(get("y1"))), (length(get("x2")), length(get("y2")))]
        return outlines.polygon(ends, closed=False)
    if kind in ("polyline", "polygon"):
        values = numbers(get("points", ""))
        points = list(zip(values[::2], values[1::2], strict=False))
        return outlines.polygon(points, closed=kind == "polygon") if len(points) > 1 else None
    return None


def readable(data: str) -> Outline:
    """A path as far as it can be read (SVG 2, 9.5.4: what comes before an error is drawn)."""
    try:
        return from_svg_path(data)
    except Exception:  # noqa: BLE001
        good, bad = 0, len(data)
        # The longest beginning that can be read; cut before a letter.
        cuts = [i for i, c in enumerate(data) if c.isalpha() and c not in "eE"] + [bad]
        low, high = 0, len(cuts) - 1
        while low < high:
            middle = (low + high + 1) // 2
            try:
                from_svg_path(data[: cuts[middle]])
                good, low = cuts[middle], middle
            except Exception:  # noqa: BLE001
                high = middle - 1
        return from_svg_path(data[:good]) if good else Outline.empty()


def _rectangle(element: Element) -> Outline | None:
    get = element.get
    x, y, w, h = (length(get(name)) for name in ("x", "y", "width", "height"))
    if not (w > 0 and h > 0):
        return None
    rx, ry = length(get("rx", get("ry"))), length(get("ry", get("rx")))
    rx, ry = min(max(0.0, rx), w / 2), min(max(0.0, ry), h / 2)
    if not (rx and ry):
        return outlines.polygon([(x, y), (x + w, y), (x + w, y + h), (x, y + h)])
    kx, ky = rx * (1 - _K), ry * (1 - _K)
    r, b = x + w, y + h
    return from_svg_path(
        f"M{x + rx} {y}H{r - rx}C{r - kx} {y} {r} {y + ky} {r} {y + ry}V{b - ry}"
        f"C{r} {b - ky} {r - kx} {b} {r - rx} {b}H{x + rx}C{x + kx} {b} {x} {b - ky} {x} {b - ry}"
        f"V{y + ry}C{x} {y + ky} {x + kx} {y} {x + rx} {y}Z"
    )


def box_of(element: Element, through: Affine | None = None) -> Box | None:
    """The box around a plain element's fills (SVG 2, 8.10), in its own space; None for what has
    none or where it cannot be told."""
    through = through or Affine()
    kind = tag_of(element)
    if kind in SHAPES:
        outline = outline_of(element)
        if outline is None or outline.is_empty:
            return None
        return outline.mapped(through).bounds
    if kind == "image":
        x, y, w, h = (length(element.get(n)) for n in ("x", "y", "width", "height"))
        return through.box((x, y, x + w, y + h))
    if kind not in ("g", "a", "svg", "switch"):
        return None
    found: Box | None = None
    for child in element:
        inner = through @ transform_of(child.get("transform", ""))
        box = box_of(child, inner)
        if box is not None and all(map(math.isfinite, box)):
            found = box if found is None else (
                min(found[0], box[0]), min(found[1], box[1]), max(found[2], box[2]),
                max(found[3], box[3]),
            )  # fmt: skip
    return found
