"""Easings as the gallery and the easing field draw them: sampled here, never in the browser."""

from __future__ import annotations

from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from ...core.timing import gallery, parse_easing
from ...core.timing.easings import FAMILIES, Easing, Family, SoftSpring, Spring, Steps

router = APIRouter(prefix="/api", tags=["easings"])

SAMPLES = 48


class EasingRequest(BaseModel):
    """An easing's text and the length of the segment it is for (springs keep their seconds)."""

    model_config = ConfigDict(extra="forbid")
    easing: Annotated[str, Field(max_length=4000)]
    duration_s: Annotated[float, Field(gt=0, le=3600, allow_inf_nan=False)] = 1.0


def easing_json(easing: Easing, duration_s: float = 1.0) -> dict[str, Any]:
    """Samples at even progress, handles if it has any, and its numbers with their names."""
    progress = np.linspace(0.0, 1.0, SAMPLES + 1)
    values = easing.at_many(progress, duration_s)
    family, parameters = _parameters(easing)
    return {
        "easing": easing.text,
        "samples": [round(float(value), 4) for value in values],
        "handles": easing.handles,
        "family": family,
        "parameters": parameters,
        "settles_s": round(easing.settles_s, 4) if isinstance(easing, Spring) else None,
    }


def _number(label: str, value: float, minimum: float, maximum: float) -> dict[str, Any]:
    return {"label": label, "value": value, "minimum": minimum, "maximum": maximum}


def _parameters(easing: Easing) -> tuple[str, list[dict[str, Any]]]:
    """What stands before the parentheses, and the numbers in them as fields."""
    if isinstance(easing, Family):
        declared = FAMILIES[easing.family][1]
        numbers = [
            _number(p.label, value, p.minimum, p.maximum)
            for p, value in zip(declared, easing.parameters, strict=True)
        ]
        return f"{easing.family}-{easing.mode}", numbers
    if isinstance(easing, SoftSpring):
        numbers = [_number("Bounciness", easing.bounce, 0, 0.95)]
        if easing.settle_s is not None:
            numbers.append(_number("Settles in (s)", easing.settle_s, 0.01, 600))
        return "spring", numbers
    if isinstance(easing, Spring):
        return "spring", [
            _number("Stiffness", easing.stiffness, 0.1, 1e5),
            _number("Damping", easing.damping, 0.01, 1e4),
            _number("Mass", easing.mass, 0.01, 1000),
        ]
    if isinstance(easing, Steps):
        return "steps", [_number("Steps", easing.count, 1, 1000)]
    return "", []


@router.post("/easing")
def describe_easing(request: EasingRequest) -> dict[str, Any]:
    """The curve and the numbers of an easing; 422 says what an easing can be."""
    return easing_json(parse_easing(request.easing), request.duration_s)


def gallery_json() -> list[dict[str, Any]]:
    """The ready-made easings in sections, with their curves."""
    return [
        {
            "section": entry.section,
            "label": entry.label,
            **easing_json(parse_easing(entry.text)),
        }
        for entry in gallery()
    ]
