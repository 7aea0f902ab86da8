"""What layers, properties, easings, frames and fonts there are."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from fastapi import APIRouter

from ...core.catalog import FAMILIES, INK_SLOT, LAYER_KINDS, READY_FRONTS, MemberFamily
from ...core.catalog.type_styles import STYLED
from ...core.effects import EFFECTS
from ...core.effects import FAMILIES as EFFECT_FAMILIES
from ...core.effects.settings import SETTINGS
from ...core.export import FORMATS, QUALITIES
from ...core.expressions import FUNCTION_HELP, NAME_HELP
from ...core.model.specs import Needed, PropertySpec
from ...core.moves import MOVES, PASSAGES
from ...core.timing import COMMON_RATES, easing_names
from ...core.transitions import TRANSITIONS
from ...core.typography.shipped import SHIPPED
from ..terms import TERMS
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


def needed_json(needed: Needed) -> dict[str, Any]:
    """Only what a condition asks for."""
    asked = {f.name: getattr(needed, f.name) for f in fields(needed)}
    return {name: value for name, value in asked.items() if value not in ((), None, False, "")}


def spec_json(spec: PropertySpec) -> dict[str, Any]:
    """A declaration as pages read it."""
    return {
        "id": spec.id,
        "label": spec.label,
        "name": spec.name,
        "kind": spec.kind.id,
        "default": spec.default,
        "section": spec.section,
        "unit": spec.unit,
        "minimum": spec.minimum,
        "maximum": spec.maximum,
        "step": spec.step,
        "decimals": spec.decimals,
        "options": spec.options,
        "shown_when": [needed_json(needed) for needed in spec.shown_when],
        "percent_of": spec.percent_of,
        "widget": spec.widget,
        "assets": spec.assets,
        "axis": spec.axis,
        "follows": spec.follows,
        "help": spec.explained,
        "animatable": spec.animatable,
        "expressive": spec.expressive,
        "parts": [spec_json(part) for part in spec.parts()] if spec.split else None,
    }


def family_json(family: MemberFamily[Any]) -> dict[str, Any]:
    """A family of members: where a layer has them, which field tells their kind, what each kind
    declares by plain names. A kind that ends in a colon stands for all that begin so; what a kind
    declares for some value of the variants' field has its id with an ending."""
    kinds = [*family.kinds()]
    kinds += [kind + ending for kind in family.kinds() for ending in family.variants.values()]
    declared = {kind: family.declared(kind) for kind in kinds}
    return {
        "id": family.id,
        "field": family.field,
        "label": family.label,
        "kind_field": family.kind_field,
        "variant_field": family.variant_field,
        "variants": dict(family.variants),
        "kinds": {
            kind: [spec_json(spec) for spec in specs]
            for kind, specs in declared.items()
            if specs is not None
        },
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
                "help": kind.told,
                "settings": [{"id": s.id, "label": s.label} for s in SETTINGS.get(kind.id, ())],
            }
            for kind in EFFECTS.values()
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
            }
            for kind in MOVES.values()
        ],
        "transitions": [
            {"id": kind.id, "label": kind.label, "help": kind.help} for kind in TRANSITIONS.values()
        ],
        "passages": [
            {
                "id": each.id,
                "label": each.label,
                "help": each.help,
                "fits": [kind for kind in LAYER_KINDS if each.fits(kind, MOVES)],
            }
            for each in PASSAGES.values()
        ],
        "families": [family_json(family) for family in FAMILIES.values()],
        "ink_slot": spec_json(INK_SLOT),
        "effect_families": [{"id": i, "label": label} for i, label in EFFECT_FAMILIES],
        "expressions": {
            "names": [{"name": n, "help": h} for n, h in NAME_HELP.items()],
            "functions": [
                {"name": n, "example": e, "help": h} for n, (e, h) in FUNCTION_HELP.items()
            ],
        },
        "terms": [{"id": each.id, "name": each.name, "text": each.text} for each in TERMS],
        "easings": easing_names(),
        "gallery": gallery_json(),
        "rates": [{"num": r.num, "den": r.den, "label": r.label} for r in COMMON_RATES],
        "frames": [{"width": w, "height": h, "label": label} for w, h, label in FRAME_PRESETS],
        "fronts": [{"id": f.id, "label": f.label, "help": f.help} for f in READY_FRONTS.values()],
        "styled": list(STYLED),
        "fonts": [family._asdict() for family in SHIPPED],
        "formats": [each.facts() for each in FORMATS.values()],
        "qualities": [{"id": q.id, "label": q.label} for q in QUALITIES.values()],
    }
