"""Writing results: video files and stills."""

from .frames import FrameZip, join_zips
from .loudness import Loudness, levelled, measured
from .mp4 import QUALITIES, Mp4Writer
from .settings import RenderSettings, ending_of, frame_range, video_size
from .sound import SOUND_FORMATS, Soundtrack, encode_sound, write_sound
from .still import encode_png, encode_preview, over_ground, raw_preview
from .videos import VIDEOS, VideoFormat, join_parts

__all__ = [
    "QUALITIES",
    "SOUND_FORMATS",
    "VIDEOS",
    "FrameZip",
    "Loudness",
    "Mp4Writer",
    "RenderSettings",
    "Soundtrack",
    "VideoFormat",
    "encode_png",
    "encode_preview",
    "encode_sound",
    "ending_of",
    "frame_range",
    "join_parts",
    "join_zips",
    "levelled",
    "measured",
    "over_ground",
    "raw_preview",
    "video_size",
    "write_sound",
]
