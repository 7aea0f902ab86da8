"""Reading files that come from outside."""

from .cube import read_cube
from .footage import (
    Footage,
    FootageInfo,
    check_footage,
    footage_kind,
    index_at,
    is_animated,
    open_footage,
)
from .pictures import (
    PictureInfo,
    check_picture,
    decode_picture,
    picture_thumbnail,
    thumbnail,
)
from .sound import SoundInfo, decode_sound, has_pictures, sound_kind
from .vector import (
    Drawing,
    Notes,
    check_svg,
    draw_svg,
    layer_parts,
    pack_drawing,
    shapes_of,
    unpack_drawing,
)

__all__ = [
    "Drawing",
    "Footage",
    "FootageInfo",
    "Notes",
    "PictureInfo",
    "SoundInfo",
    "check_footage",
    "check_picture",
    "check_svg",
    "decode_picture",
    "decode_sound",
    "draw_svg",
    "footage_kind",
    "has_pictures",
    "index_at",
    "is_animated",
    "layer_parts",
    "open_footage",
    "pack_drawing",
    "picture_thumbnail",
    "read_cube",
    "shapes_of",
    "sound_kind",
    "thumbnail",
    "unpack_drawing",
]
