"""Writing results: video files, animations, stills, sound, words."""

from .films import Film, FrameSink, Part
from .formats import (
    FORMATS,
    FileFormat,
    by_ending,
    checked,
    ending_of,
    fitted,
    is_opaque,
    notes_of,
    picture_size,
)
from .loudness import Loudness, levelled, measured
from .moments import Moments, frame_range, moments_of
from .mp4 import QUALITIES, Mp4Writer
from .settings import RenderSettings
from .sound import SOUND_FORMATS, Soundtrack, encode_sound, write_sound
from .still import encode_png, encode_preview, over_ground, raw_preview
from .words import Cue, cues_of, write_vtt

__all__ = [
    "FORMATS",
    "QUALITIES",
    "SOUND_FORMATS",
    "Cue",
    "FileFormat",
    "Film",
    "FrameSink",
    "Loudness",
    "Moments",
    "Mp4Writer",
    "Part",
    "RenderSettings",
    "Soundtrack",
    "by_ending",
    "checked",
    "cues_of",
    "encode_png",
    "encode_preview",
    "encode_sound",
    "ending_of",
    "fitted",
    "frame_range",
    "is_opaque",
    "levelled",
    "measured",
    "moments_of",
    "notes_of",
    "over_ground",
    "picture_size",
    "raw_preview",
    "write_sound",
    "write_vtt",
]
