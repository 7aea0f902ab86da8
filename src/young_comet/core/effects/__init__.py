"""Effects: the registry of everything that can stand in a layer's effect stack."""

from .base import EVERYWHERE, EffectKind, Params, Registry, Work, cut, grown, laid_in
from .blur import BLURS
from .colour import COLOURS
from .distort import DISTORTIONS
from .generate import GENERATORS
from .key import KEYS
from .reveal import REVEALS
from .style import STYLES

FAMILIES = (
    ("blur", "Blur"), ("colour", "Colour"), ("style", "Style"), ("distort", "Distort"),
    ("generate", "Generate"), ("reveal", "Reveal"), ("key", "Key"),
)  # fmt: skip

EFFECTS = Registry()
EFFECTS.add(*BLURS, *COLOURS, *STYLES, *DISTORTIONS, *GENERATORS, *REVEALS, *KEYS)

__all__ = [
    "EFFECTS",
    "EVERYWHERE",
    "FAMILIES",
    "EffectKind",
    "Params",
    "Registry",
    "Work",
    "cut",
    "grown",
    "laid_in",
]
