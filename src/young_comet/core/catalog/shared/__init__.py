"""Property declarations that several layer kinds share, by subject."""

from .blending import BLENDING, MOST_MATTES, matte_name
from .copies import COPIES
from .fitted import FITTED
from .heard import KEEPS_PITCH, SOUND_TIME, heard_specs, pitch_spec
from .lettering import ACROSS, ALONG, BEHIND, EMBER, LETTERS, LINES, NUMBER, RUN, SHADOW, WORDS
from .paints import DRAWN, paint_specs, stroke_specs
from .place import ALIGNED, OPACITY, PLACE
from .slices import SLICES
from .time import TIME

__all__ = [
    "ACROSS",
    "ALIGNED",
    "ALONG",
    "BEHIND",
    "BLENDING",
    "COPIES",
    "DRAWN",
    "EMBER",
    "FITTED",
    "KEEPS_PITCH",
    "LETTERS",
    "LINES",
    "MOST_MATTES",
    "NUMBER",
    "OPACITY",
    "PLACE",
    "RUN",
    "SHADOW",
    "SLICES",
    "SOUND_TIME",
    "TIME",
    "WORDS",
    "heard_specs",
    "matte_name",
    "paint_specs",
    "pitch_spec",
    "stroke_specs",
]
