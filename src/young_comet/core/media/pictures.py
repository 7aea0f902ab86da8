"""PNG, JPEG and WebP pictures: checked before they are decoded. The only door to Pillow."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass

import cv2
import numpy as np
from PIL import Image, ImageCms, ImageOps

from ...errors import MediaError, MediaTooLargeError
from ..pixels.raster import premultiply

MAX_PIXELS = 100_000_000
MEDIA_TYPES = {
    "PNG": "image/png",
    "JPEG": "image/jpeg",
    "WEBP": "image/webp",
    "GIF": "image/gif",
}


_ORIENTATION = 0x0112  # of Exif
# Without transparency: these need no channel of it while they are unpacked.
_DEEP = ("I;16", "I;16B", "I;16L", "I;16N", "I")  # grey of 16 bits
_OPAQUE = ("1", "L", "RGB", "YCbCr", "CMYK", "P")


@dataclass(frozen=True, slots=True)
class PictureInfo:
    """Type by content, and the size in px as it is shown (after any camera rotation)."""

    media_type: str
    width: int
    height: int


def _open(data: bytes, max_pixels: int) -> Image.Image:
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data), formats=list(MEDIA_TYPES))
    except Image.DecompressionBombError as error:
        raise MediaTooLargeError(f"the picture has more than {max_pixels:,} pixels") from error
    except Exception as error:  # Pillow raises errors of many kinds for broken files
        raise MediaError("this is no readable PNG, JPEG, WebP, GIF, SVG or video file") from error
    if image.width * image.height > max_pixels:
        raise MediaTooLargeError(
            f"the picture has {image.width} x {image.height} pixels; "
            f"at most {max_pixels:,} are allowed"
        )
    return image


def check_picture(data: bytes, max_pixels: int = MAX_PIXELS) -> PictureInfo:
    """Decodes it once to be sure, in the form that the file has it; MediaError says what is
    wrong."""
    image = _loaded(data, max_pixels)
    width, height = image.size
    if image.getexif().get(_ORIENTATION, 1) in (5, 6, 7, 8):
        width, height = height, width
    return PictureInfo(MEDIA_TYPES[image.format or "PNG"], width, height)


def picture_thumbnail(data: bytes, max_pixels: int, longest: int) -> bytes:
    """A small WebP of a file, without its pixels ever being unpacked to four channels whole."""
    image = _loaded(data, max_pixels)
    try:
        block = max(1, min(image.size) // longest // 2, max(image.size) // (4 * longest))
        if block > 1 and max(image.size) > 2 * longest:
            image = _reducible(image).reduce(block)
        small = np.asarray(_to_srgb(ImageOps.exif_transpose(image)).convert("RGBA"))
    except Exception as error:
        raise MediaError(f"the picture is damaged ({error})") from error
    return thumbnail(premultiply(cv2.cvtColor(small, cv2.COLOR_RGBA2BGRA)), longest)


def _reducible(image: Image.Image) -> Image.Image:
    """In a mode whose pixels can be averaged."""
    if image.mode == "1":
        return image.convert("L")
    if image.mode in ("P", "PA"):
        return image.convert("RGBA" if "transparency" in image.info else "RGB")
    return image


def _loaded(data: bytes, max_pixels: int) -> Image.Image:
    image = _open(data, max_pixels)
    try:
        image.load()
        return _in_bytes(image) if image.mode in _DEEP else image
    except Exception as error:
        raise MediaError(f"the picture is damaged ({error})") from error


def _in_bytes(image: Image.Image) -> Image.Image:
    """A grey picture of 16 bits as one of 8, each level the nearest; the level that counts as
    transparent keeps its meaning."""
    levels = np.asarray(image).astype(np.int64)
    grey = ((levels * 255 + 32767) // 65535).clip(0, 255).astype(np.uint8)
    clear = image.info.get("transparency")
    small = Image.fromarray(grey)
    if isinstance(clear, int):
        small.putalpha(Image.fromarray(np.where(levels == clear, 0, 255).astype(np.uint8)))
    small.format = image.format
    small.info.update({k: v for k, v in image.info.items() if k == "exif"})
    return small


def decode_picture(data: bytes, max_pixels: int = MAX_PIXELS) -> np.ndarray:
    """Premultiplied BGRA pixels, upright, converted to sRGB where the file has a profile."""
    image = _loaded(data, max_pixels)
    try:
        turned = ImageOps.exif_transpose(image)
        image = _to_srgb(turned)
        if image.mode in _OPAQUE and "transparency" not in image.info:
            rgb = np.asarray(image if image.mode in ("L", "RGB") else image.convert("RGB"))
            code = cv2.COLOR_GRAY2BGRA if rgb.ndim == 2 else cv2.COLOR_RGB2BGRA
            return np.ascontiguousarray(cv2.cvtColor(rgb, code))
        rgba = np.asarray(image.convert("RGBA"))
    except Exception as error:
        raise MediaError(f"the picture is damaged ({error})") from error
    return premultiply(cv2.cvtColor(rgba, cv2.COLOR_RGBA2BGRA))


def _to_srgb(image: Image.Image) -> Image.Image:
    profile = image.info.get("icc_profile")
    if not profile or image.mode not in ("RGB", "RGBA", "CMYK"):
        return image
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        target = ImageCms.createProfile("sRGB")
        mode = "RGBA" if image.mode == "RGBA" else "RGB"
        return ImageCms.profileToProfile(image, source, target, outputMode=mode) or image
    except ImageCms.PyCMSError:  # a broken profile is ignored, as browsers do
        return image


def thumbnail(pixels: np.ndarray, longest: int) -> bytes:
    """A WebP of a premultiplied picture, at most ``longest`` px on its longer side."""
    height, width = pixels.shape[:2]
    factor = min(1.0, longest / max(width, height))
    size = (max(1, round(width * factor)), max(1, round(height * factor)))
    small = cv2.resize(pixels, size, interpolation=cv2.INTER_AREA)
    alpha = small[:, :, 3:4].astype(np.float32)
    scale = np.divide(255.0, alpha, out=np.zeros_like(alpha), where=alpha > 0)
    small[:, :, :3] = np.clip(small[:, :, :3] * scale + 0.5, 0, 255).astype(np.uint8)
    done, encoded = cv2.imencode(".webp", small, [cv2.IMWRITE_WEBP_QUALITY, 85])
    if not done:
        raise MediaError("the thumbnail could not be written")
    return encoded.tobytes()
