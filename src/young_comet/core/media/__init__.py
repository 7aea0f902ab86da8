"""Reading files that come from outside."""

from .pictures import PictureInfo, check_picture, decode_picture, thumbnail
from .svg import check_svg, draw_svg

__all__ = [
    "PictureInfo",
    "check_picture",
    "check_svg",
    "decode_picture",
    "draw_svg",
    "thumbnail",
]
