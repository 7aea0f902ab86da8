"""SVG drawn as a picture, by resvg. Nothing outside the file is ever read."""

from __future__ import annotations

from pathlib import Path
from xml.etree.ElementTree import Element

import cv2
import numpy as np
import resvg_py

from ....errors import MediaError
from ...pixels.raster import premultiply
from .holding import Note, Notes
from .plain import as_bytes, plain
from .source import natural_size, parse


def check_svg(data: bytes, note: Note | None = None) -> tuple[float, float]:
    """The natural size in px of an acceptable SVG; MediaError says what is wrong. ``note`` is told
    what of it is not drawn, in sentences.

    Refused: entities and document types with them, references to other files, sizes beyond
    16384 px, what would cost too much to draw (``limits``).
    """
    root = parse(data)
    size = natural_size(root)
    _drawn(_made_plain(root, data, note or Notes()), min(64.0 / max(size), 1.0), None)
    return size


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
    return _drawn(
        _made_plain(parse(data), data, Notes()), scale, fonts_dir if b"<text" in data else None
    )


def _made_plain(root: Element, data: bytes, note: Note) -> bytes:
    """What is drawn: the file made plain, or as it stands where that cannot be done."""
    try:
        return as_bytes(plain(root, natural_size(root), note, picture=True))
    except (ArithmeticError, LookupError, RecursionError, TypeError, ValueError):
        note("its styles could not be worked out: it is drawn without them")
        return data.removeprefix(b"\xef\xbb\xbf")


def _drawn(data: bytes, scale: float, fonts_dir: Path | None) -> np.ndarray:
    try:
        png = resvg_py.svg_to_bytes(
            svg_string=data.decode("utf-8"),
            zoom=scale,
            dpi=96.0,
            skip_system_fonts=True,
            font_dirs=[str(fonts_dir)] if fonts_dir else None,
        )
    except Exception as error:
        raise MediaError(f"this SVG cannot be drawn ({error})") from error
    pixels = cv2.imdecode(np.frombuffer(bytes(png), np.uint8), cv2.IMREAD_UNCHANGED)
    if pixels is None:
        raise MediaError("this SVG cannot be drawn")
    return premultiply(pixels)
