"""What the editor of expressions shows while somebody writes."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Body, Depends

from ...core.catalog import lane_label, readers_of, spec_of
from ...core.expressions import ExpressionError, as_text, compile_expression
from ...core.model import Kind, Layer, PropertySpec
from ...core.pixels.colour import format_colour
from ...core.resolve import SceneEvaluator
from ...edits.base import find_layer
from ...edits.expression_edits import SetExpression
from ...edits.value_edits import Target
from ...errors import DocumentError
from ..frames import RenderKit
from ..services import Services, get_services

router = APIRouter(prefix="/api/projects/{project_id}/scenes/{scene_id}", tags=["expressions"])
Served = Annotated[Services, Depends(get_services)]

PLOTTED = 160


@router.post("/expression")
async def expression(
    project_id: str,
    scene_id: str,
    services: Served,
    layer: Annotated[str, Body()],
    property: Annotated[str, Body()],
    text: Annotated[str, Body(max_length=4000)],
    time_s: Annotated[float, Body(ge=0, le=3600, allow_inf_nan=False)] = 0.0,
) -> dict[str, Any]:
    """What an expression gives on a property: what is wrong with it (in words, with the column
    from 0 where that is known), the value at a time, its course over the layer's span, and what
    reads this property."""

    def look(kit: RenderKit) -> dict[str, Any]:
        workspace = services.workspace
        state = workspace.state(project_id)
        saved = SceneEvaluator(state.project, scene_id, kit.tracks, kit.library)
        own = find_layer(saved.scene, layer)
        spec = spec_of(own, property)
        answer: dict[str, Any] = {
            "error": None, "column": None, "value": "", "low": 0.0, "high": 0.0, "curves": [],
            "readers": _readers(saved, own, property),
        }  # fmt: skip
        project = state.project
        try:
            if text.strip():
                compile_expression(text.strip())
                target = Target(layer=layer, property=property)
                edit = SetExpression(scene=scene_id, targets=[target], text=text)
                project = workspace.drafted(project_id, [edit])
        except ExpressionError as error:
            lead = len(text) - len(text.lstrip())
            answer["column"] = None if error.column is None else error.column + lead
            answer["error"] = str(error).removeprefix("expression: ")
            return answer
        except DocumentError as error:
            answer["error"] = str(error).removeprefix(f"{error.field}: ")
            return answer
        evaluator = SceneEvaluator(project, scene_id, kit.tracks, kit.library)
        answer |= _course(evaluator, find_layer(evaluator.scene, layer), spec, time_s)
        return answer

    return await services.frames.run(look)


def _readers(evaluator: SceneEvaluator, layer: Layer, property_id: str) -> list[dict[str, str]]:
    found = []
    for reader, name in readers_of(evaluator.scene, layer.name, property_id):
        other = find_layer(evaluator.scene, reader)
        label = f"{other.name}: {lane_label(other, spec_of(other, name))}"
        found.append({"layer": reader, "property": name, "label": label})
    return found


def _course(
    evaluator: SceneEvaluator, layer: Layer, spec: PropertySpec, time_s: float
) -> dict[str, Any]:
    """The value at a time and the course over the layer's span."""
    length = layer.end_s - layer.start_s
    moments = [layer.start_s + length * i / (PLOTTED - 1) for i in range(PLOTTED)]
    result: dict[str, Any] = {}
    values = [evaluator.values(layer, moment)(spec.id) for moment in moments]
    now = evaluator.values(layer, time_s)(spec.id)
    fault = evaluator.faults.get((layer.id, spec.id))
    if fault:
        result["error"] = fault
    if spec.kind is Kind.COLOUR:
        result["value"] = format_colour(now)
        result["colours"] = [format_colour(value) for value in values]
    elif spec.kind.holds:
        result["value"] = str(now)[:200]
    else:
        rows = [value if isinstance(value, tuple) else (value,) for value in values]
        result["value"] = as_text(
            tuple(round(v, 2) for v in now) if isinstance(now, tuple) else round(now, 2)
        )
        result["curves"] = [[round(row[i], 4) for row in rows] for i in range(len(rows[0]))]
        result["low"] = min(min(row) for row in rows)
        result["high"] = max(max(row) for row in rows)
    return result
