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
    """Decodes it once to be sure; MediaError says what is wrong."""
    image = _open(data, max_pixels)
    pixels = decode_picture(data, max_pixels)
    height, width = pixels.shape[:2]
    return PictureInfo(MEDIA_TYPES[image.format or "PNG"], width, height)


def decode_picture(data: bytes, max_pixels: int = MAX_PIXELS) -> np.ndarray:
    """Premultiplied BGRA pixels, upright, converted to sRGB where the file has a profile."""
    image = _open(data, max_pixels)
    try:
        image.load()
        turned = ImageOps.exif_transpose(image)
        image = _to_srgb(turned)
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
