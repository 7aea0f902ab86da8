"""Single pictures: PNG files and preview JPEGs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np

from ...errors import RenderError
from ..frame.contents import Texts
from ..frame.resolved import ResolvedFrame
from ..pixels.blend import blend
from ..pixels.colour import parse_colour
from ..pixels.raster import unpremultiply
from .settings import RenderSettings


@dataclass(frozen=True)
class Moment:
    """What a picture of one moment is made of: its ``pixels`` (h, w, 4), premultiplied BGRA, and
    the ``frame`` that they show; ``draw`` gives those of another frame at the same size."""

    pixels: np.ndarray
    frame: ResolvedFrame
    settings: RenderSettings
    texts: Texts
    draw: Callable[[ResolvedFrame], np.ndarray]

    @property
    def size(self) -> tuple[int, int]:
        """Width and height, px."""
        return self.pixels.shape[1], self.pixels.shape[0]


# The file that a picture becomes.
Still = Callable[[Moment], bytes]

# What OpenCV calls colours that are not halved either way.
_FULL_COLOUR = cv2.IMWRITE_JPEG_SAMPLING_FACTOR_444


def encode_png(pixels: np.ndarray) -> bytes:
    """A PNG of premultiplied BGRA; without alpha channel where everything is opaque."""
    return png_of(pixels, alpha=int(pixels[:, :, 3].min()) < 255)


def png_of(pixels: np.ndarray, *, alpha: bool) -> bytes:
    """A PNG of premultiplied BGRA, with straight colours and an alpha channel or without."""
    picture = unpremultiply(pixels) if alpha else np.ascontiguousarray(pixels[:, :, :3])
    return _encode(".png", picture, [cv2.IMWRITE_PNG_COMPRESSION, 6])


def encode_jpeg(pixels: np.ndarray, quality: int = 95) -> bytes:
    """A JPEG of opaque BGRA, every pixel with a colour of its own (4:4:4)."""
    options = [cv2.IMWRITE_JPEG_QUALITY, quality, cv2.IMWRITE_JPEG_SAMPLING_FACTOR, _FULL_COLOUR]
    return _encode(".jpg", pixels, options)


def encode_webp(pixels: np.ndarray, quality: int) -> bytes:
    """A WebP of premultiplied BGRA, with straight colours; without loss at a quality of 100."""
    opaque = int(pixels[:, :, 3].min()) == 255
    picture = np.ascontiguousarray(pixels[:, :, :3]) if opaque else unpremultiply(pixels)
    return _encode(".webp", picture, [cv2.IMWRITE_WEBP_QUALITY, quality if quality < 100 else 101])


def encode_preview(pixels: np.ndarray, quality: int = 88) -> bytes:
    """A JPEG for the screen; what is transparent shows a dark checkerboard."""
    return _encode(".jpg", _opaque(pixels), [cv2.IMWRITE_JPEG_QUALITY, quality])


def encode_poster(pixels: np.ndarray, longest: int = 640) -> bytes:
    """A JPEG for the screen, its longer side at most so many pixels."""
    height, width = pixels.shape[:2]
    scale = min(1.0, longest / max(width, height))
    size = (max(1, round(width * scale)), max(1, round(height * scale)))
    return encode_preview(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA))


def raw_preview(pixels: np.ndarray) -> bytes:
    """Opaque RGBA bytes for the screen: four bytes a pixel, but nothing to encode or decode."""
    return cv2.cvtColor(_opaque(pixels), cv2.COLOR_BGRA2RGBA).tobytes()


def over_ground(pixels: np.ndarray, colour: str) -> np.ndarray:
    """Premultiplied BGRA over a ground (#rrggbb); the same pixels where nothing shows through."""
    if int(pixels[0, 0, 3]) == 255 and int(pixels[:, :, 3].min(initial=255)) == 255:
        return pixels
    red, green, blue = (round(255 * c) for c in parse_colour(colour)[:3])
    ground = np.empty_like(pixels)
    ground[:] = (blue, green, red, 255)
    blend(ground, pixels, "normal", 1.0)
    return ground


def _opaque(pixels: np.ndarray) -> np.ndarray:
    if int(pixels[0, 0, 3]) != 255 or int(pixels[:, :, 3].min()) != 255:
        return over_checkerboard(pixels)
    return pixels


def over_checkerboard(pixels: np.ndarray, square: int = 12) -> np.ndarray:
    """The picture over a grey checkerboard, the usual sign for nothing there."""
    result = _board(pixels.shape[0], pixels.shape[1], square).copy()
    blend(result, np.ascontiguousarray(pixels))
    return result


@lru_cache(maxsize=4)
def _board(height: int, width: int, square: int) -> np.ndarray:
    rows = (np.arange(height) // square)[:, None]
    columns = (np.arange(width) // square)[None, :]
    board = np.full((height, width, 4), 255, np.uint8)
    board[:, :, :3] = np.where((rows + columns) % 2, 44, 30)[:, :, None]
    return board


def _encode(extension: str, picture: np.ndarray, options: list[int]) -> bytes:
    source = cv2.cvtColor(picture, cv2.COLOR_BGRA2BGR) if extension == ".jpg" else picture
    done, data = cv2.imencode(extension, source, options)
    if not done:
        raise RenderError(f"the picture could not be encoded as {extension}")
    return data.tobytes()
