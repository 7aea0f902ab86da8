"""SVG drawn as a picture, by resvg. Nothing outside the file is ever read."""

from __future__ import annotations

import re
from pathlib import Path

import cv2
import numpy as np
import resvg_py
from defusedxml import ElementTree
from defusedxml.common import DefusedXmlException

from ...errors import MediaError, MediaTooLargeError
from ..pixels.raster import premultiply
from .svg_limits import check_cost

MAX_SVG_BYTES = 8 * 1024 * 1024
MAX_SIDE = 16_384

_LENGTH = re.compile(r"\s*([0-9.eE+-]+)\s*(px|pt|pc|mm|cm|in|)\s*")
# CSS Values 4: absolute lengths in px.
_UNITS = {"": 1, "px": 1, "pt": 96 / 72, "pc": 16, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96}


def check_svg(data: bytes) -> tuple[float, float]:
    """The natural size in px of an acceptable SVG; MediaError says what is wrong.

    Refused: entities and document types with them, references to other files, sizes beyond
    16384 px, what would cost too much to draw (``svg_limits``).
    """
    if len(data) > MAX_SVG_BYTES:
        raise MediaTooLargeError(f"an SVG may have at most {MAX_SVG_BYTES // 2**20} MB")
    try:
        root = ElementTree.fromstring(data, forbid_dtd=False, forbid_entities=True)
    except (DefusedXmlException, ElementTree.ParseError, ValueError, RecursionError) as error:
        raise MediaError(f"this SVG cannot be read ({error or type(error).__name__})") from error
    if not root.tag.endswith("svg"):
        raise MediaError("this XML file is no SVG")
    check_cost(root)
    for element in root.iter():
        for name, value in element.attrib.items():
            link = name == "href" or name.endswith("}href")
            if link and not value.strip().startswith(("#", "data:image/")):
                raise MediaError(f"this SVG refers to another file ({value[:60]!r})")
    size = _natural_size(root.attrib)
    if not all(0 < side <= MAX_SIDE for side in size):
        raise MediaTooLargeError(f"an SVG's sides must lie within 1 and {MAX_SIDE} px, got {size}")
    draw_svg(data, min(64.0 / max(size), 1.0))
    return size


def _natural_size(attributes: dict[str, str]) -> tuple[float, float]:
    sides: list[float | None] = []
    for name in ("width", "height"):
        match = _LENGTH.fullmatch(attributes.get(name, ""))
        sides.append(float(match[1]) * _UNITS[match[2]] if match else None)
    try:
        view = [float(v) for v in re.split(r"[\s,]+", attributes.get("viewBox", "").strip()) if v]
    except ValueError:
        view = []
    width, height = sides
    if len(view) == 4 and view[2] > 0 and view[3] > 0:
        if width is None and height is None:
            return (view[2], view[3])
        if width is None:
            width = (height or 0) * view[2] / view[3]
        if height is None:
            height = width * view[3] / view[2]
    if width is None or height is None:
        raise MediaError("this SVG has no size: give it a viewBox, or a width and a height")
    return (width, height)


def pack_drawing(pixels: np.ndarray) -> bytes:
    """A drawn picture as bytes to be kept; lossless, the pixels premultiplied as they are."""
    done, data = cv2.imencode(".png", pixels, [cv2.IMWRITE_PNG_COMPRESSION, 1])
    if not done:
        raise MediaError("the drawing could not be kept")
    return data.tobytes()


def unpack_drawing(data: bytes) -> np.ndarray | None:
    """The pixels of a kept drawing; None if it is damaged."""
    pixels = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    fine = pixels is not None and pixels.ndim == 3 and pixels.shape[2] == 4
    return np.ascontiguousarray(pixels) if fine else None


def draw_svg(data: bytes, scale: float, fonts_dir: Path | None = None) -> np.ndarray:
    """Premultiplied BGRA pixels at a multiple of the natural size.

    Texts are set in the fonts found below ``fonts_dir``; never in those of the machine.
    """
    try:
        png = resvg_py.svg_to_bytes(
            svg_string=data.decode("utf-8-sig"),
            zoom=scale,
            dpi=96.0,
            skip_system_fonts=True,
            font_dirs=[str(fonts_dir)] if fonts_dir and b"<text" in data else None,
        )
    except Exception as error:
        raise MediaError(f"this SVG cannot be drawn ({error})") from error
    pixels = cv2.imdecode(np.frombuffer(bytes(png), np.uint8), cv2.IMREAD_UNCHANGED)
    if pixels is None:
        raise MediaError("this SVG cannot be drawn")
    return premultiply(pixels)
