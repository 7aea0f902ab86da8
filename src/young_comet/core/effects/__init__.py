"""Effects: the registry of everything that can stand in a layer's effect stack."""

from ..registry import Registry
from .base import EVERYWHERE, EffectKind, Params, Work, cut, grown, laid_in
from .blur import BLURS
from .colour import COLOURS
from .counters import COUNTERS
from .distort import BENDS
from .flare import FLARES
from .generate import FIELDS
from .key import KEYS
from .light import LIGHTS
from .particles import PARTICLES
from .patterns import PATTERNS
from .rays import RAYS
from .reshape import RESHAPES
from .reveal import REVEALS
from .rough import ROUGH
from .style import STYLES

FAMILIES = (
    ("blur", "Blur"), ("colour", "Colour"), ("style", "Style"), ("distort", "Distort"),
    ("generate", "Generate"), ("reveal", "Reveal"), ("key", "Key"),
)  # fmt: skip

EFFECTS: Registry[EffectKind] = Registry("an effect")
EFFECTS.add(*BLURS, *COLOURS, *LIGHTS, *STYLES, *BENDS, *RESHAPES, *ROUGH)
EFFECTS.add(*FIELDS, *RAYS, *PATTERNS, *COUNTERS, *FLARES, *PARTICLES, *REVEALS, *KEYS)

__all__ = [
    "EFFECTS",
    "EVERYWHERE",
    "FAMILIES",
    "EffectKind",
    "Params",
    "Work",
    "cut",
    "grown",
    "laid_in",
]
