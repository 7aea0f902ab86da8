"""Writing results: video files and stills."""

from .mp4 import QUALITIES, Mp4Writer, join_parts
from .settings import RenderSettings, frame_range, video_size
from .sound import SOUND_FORMATS, Soundtrack, encode_sound, write_sound
from .still import encode_png, encode_preview, raw_preview

__all__ = [
    "QUALITIES",
    "SOUND_FORMATS",
    "Mp4Writer",
    "RenderSettings",
    "Soundtrack",
    "encode_png",
    "encode_preview",
    "encode_sound",
    "frame_range",
    "join_parts",
    "raw_preview",
    "video_size",
    "write_sound",
]
