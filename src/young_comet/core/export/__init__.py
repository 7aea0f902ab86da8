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
from .names import PATTERN_WORDS, Named, file_stem, slug
from .settings import RenderSettings
from .sound import SOUND_FORMATS, Soundtrack, encode_sound, write_sound
from .still import Moment, encode_png, encode_poster, encode_preview, over_ground, raw_preview
from .telling import Telling
from .vector import pictured
from .words import Cue, cues_of, write_vtt

__all__ = [
    "FORMATS",
    "PATTERN_WORDS",
    "QUALITIES",
    "SOUND_FORMATS",
    "Cue",
    "FileFormat",
    "Film",
    "FrameSink",
    "Loudness",
    "Moment",
    "Moments",
    "Mp4Writer",
    "Named",
    "Part",
    "RenderSettings",
    "Soundtrack",
    "Telling",
    "by_ending",
    "checked",
    "cues_of",
    "encode_png",
    "encode_poster",
    "encode_preview",
    "encode_sound",
    "ending_of",
    "file_stem",
    "fitted",
    "frame_range",
    "is_opaque",
    "levelled",
    "measured",
    "moments_of",
    "notes_of",
    "over_ground",
    "picture_size",
    "pictured",
    "raw_preview",
    "slug",
    "write_sound",
    "write_vtt",
]
