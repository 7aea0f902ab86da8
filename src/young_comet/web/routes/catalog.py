"""What layers, properties, easings, frames and fonts there are."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter

from ...core.catalog import LAYER_KINDS, MASK, PART_SPECS
from ...core.effects import EFFECTS, FAMILIES
from ...core.export import QUALITIES
from ...core.expressions import FUNCTION_HELP, NAME_HELP
from ...core.model import PropertySpec
from ...core.moves import MOVES
from ...core.moves.base import OWN
from ...core.timing import COMMON_RATES, easing_names
from ...core.typography.shipped import SHIPPED
from .easings import gallery_json

router = APIRouter(prefix="/api", tags=["catalog"])

FRAME_PRESETS = (
    (1920, 1080, "Full HD"),
    (1280, 720, "HD"),
    (1080, 1080, "Square"),
    (1080, 1920, "Upright"),
    (2000, 2000, "Large square"),
    (3840, 2160, "UHD"),
)


def spec_json(spec: PropertySpec) -> dict[str, Any]:
    return {
        "id": spec.id,
        "label": spec.label,
        "kind": spec.kind.value,
        "default": spec.default,
        "section": spec.section,
        "unit": spec.unit,
        "minimum": spec.minimum,
        "maximum": spec.maximum,
        "step": spec.step,
        "decimals": spec.decimals,
        "options": spec.options,
        "shown_when": spec.shown_when,
        "percent_of": spec.percent_of,
        "hint": spec.hint,
        "help": spec.help,
        "animatable": spec.animatable,
        "expressive": spec.expressive,
        "parts": [spec_json(part) for part in spec.parts()] if spec.split else None,
    }


@router.get("/catalog")
def catalog() -> dict[str, Any]:
    """Everything the editor's menus and fields are made from."""
    return {
        "layer_kinds": [
            {
                "id": kind.id,
                "label": kind.label,
                "icon": kind.icon,
                "placed": kind.placed,
                "specs": [spec_json(spec) for spec in kind.specs],
            }
            for kind in LAYER_KINDS.values()
        ],
        "effects": [
            {
                "id": kind.id,
                "label": kind.label,
                "family": kind.family,
                "help": kind.help,
                "specs": [spec_json(spec) for spec in kind.specs],
            }
            for kind in EFFECTS.members.values()
        ],
        "moves": [
            {
                "id": kind.id,
                "label": kind.label,
                "leaving": kind.leaving,
                "phases": kind.phases,
                "help": kind.help,
                "length_s": kind.length_s,
                "fits": kind.fits,
                "specs": [spec_json(spec) for spec in kind.specs],
            }
            for kind in MOVES.members.values()
        ],
        "own_move_specs": [spec_json(spec) for spec in OWN.specs],
        "effect_families": [{"id": i, "label": label} for i, label in FAMILIES],
        "mask_specs": [spec_json(spec) for spec in MASK],
        "part_specs": [spec_json(spec) for spec in PART_SPECS],
        "expressions": {
            "names": [{"name": n, "help": h} for n, h in NAME_HELP.items()],
            "functions": [
                {"name": n, "example": e, "help": h} for n, (e, h) in FUNCTION_HELP.items()
            ],
        },
        "easings": easing_names(),
        "gallery": gallery_json(),
        "rates": [{"num": r.num, "den": r.den, "label": r.label} for r in COMMON_RATES],
        "frames": [{"width": w, "height": h, "label": label} for w, h, label in FRAME_PRESETS],
        "fonts": [{"id": i, "name": name, "character": c} for i, name, c in SHIPPED],
        "qualities": [{"id": q.id, "label": q.label} for q in QUALITIES.values()],
    }
