"""What the help page tells: gathered from the declarations that the editor itself goes by."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from ..core.catalog import LAYER_KINDS
from ..core.catalog.members import FAMILIES
from ..core.effects import EFFECTS
from ..core.effects import FAMILIES as EFFECT_FAMILIES
from ..core.expressions import FUNCTION_HELP, NAME_HELP
from ..core.model.specs import PropertySpec
from ..core.moves import MOVES
from ..core.transitions import TRANSITIONS
from .terms import TERMS

_LOOKS = ("Blending", "Matte", "Motion blur")
PARTS = (
    ("start", "First five minutes"),
    ("terms", "The words"),
    ("selection", "Selection"),
    ("looks", "Looks"),
    ("moves", "Moves"),
    ("effects", "Effects"),
    ("expressions", "Expressions"),
    ("keys", "Keys"),
)


def _sections() -> dict[str, list[PropertySpec]]:
    """What layers of all kinds declare, by sections, each field once."""
    found: dict[str, dict[str, PropertySpec]] = {}
    for kind in LAYER_KINDS.values():
        for spec in kind.specs:
            found.setdefault(spec.section, {}).setdefault(spec.id, spec)
    return {section: list(specs.values()) for section, specs in found.items()}


@lru_cache(maxsize=1)
def help_values() -> dict[str, Any]:
    """The values of the page's template."""
    sections = _sections()
    masks = ("Masks", list(FAMILIES["mask"].declared("path") or ()))
    own = [(name, specs) for name, specs in sections.items() if name not in _LOOKS]
    looks = [(name, specs) for name, specs in sections.items() if name in _LOOKS]
    panels = (
        {
            "id": "selection",
            "label": "Selection",
            "text": "The fields of what is selected. Numbers take arithmetic and units, are "
            "dragged in their field, and have a menu of their own.",
            "sections": own,
        },
        {
            "id": "looks",
            "label": "Looks",
            "text": "How a layer mixes with what lies below, where it is seen, and what is done to "
            "its picture.",
            "sections": [*looks, masks],
        },
    )
    effects = [
        (label, [kind for kind in EFFECTS.values() if kind.family == id])
        for id, label in EFFECT_FAMILIES
    ]
    return {
        "parts": PARTS,
        "terms": TERMS,
        "panels": panels,
        "moves": list(MOVES.values()),
        "transitions": list(TRANSITIONS.values()),
        "effects": effects,
        "names": list(NAME_HELP.items()),
        "functions": [(name, *told) for name, told in FUNCTION_HELP.items()],
    }
