"""What a vector picture is once it is read as shapes, and as parts of a layer."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ...geometry.affine import Box
from ...pixels.mixing import PLAIN


@dataclass(frozen=True)
class GradientFill:
    """``kind`` linear or radial; points in percent of the path's box, stops as documents have
    them."""

    kind: str
    start: tuple[float, float]
    end: tuple[float, float]
    stops: tuple[tuple[float, str], ...]


@dataclass(frozen=True)
class DrawnPart:
    """One path of a drawing, in px from the middle of the drawing; strokes are solid."""

    name: str
    path: str
    fill: str | GradientFill | None
    stroke: str | None
    stroke_width: float = 0.0
    cap: str = "butt"
    join: str = "miter"
    dash: str = ""
    dash_offset: float = 0.0
    opacity: float = 1.0
    area: float = 0.0  # of the box about it, px


@dataclass(frozen=True)
class Drawing:
    """All parts from below up, and what could not be kept as sentences."""

    width: float
    height: float
    parts: tuple[DrawnPart, ...]
    notes: tuple[str, ...]


def refitted(fill: GradientFill, old: Box, new: Box) -> GradientFill:
    """A gradient's points in percent of another box, lying where they were."""

    def move(p: tuple[float, float]) -> tuple[float, float]:
        x = old[0] + (old[2] - old[0]) * p[0] / 100
        y = old[1] + (old[3] - old[1]) * p[1] / 100
        width, height = max(new[2] - new[0], 1e-6), max(new[3] - new[1], 1e-6)
        return ((x - new[0]) / width * 100, (y - new[1]) / height * 100)

    return replace(fill, start=move(fill.start), end=move(fill.end))


def layer_parts(drawing: Drawing) -> tuple[list[dict[str, str]], dict[str, Any]]:
    """A drawing as a layer's ``parts`` and their properties, in JSON form."""
    parts, properties = [], {}
    names: dict[str, int] = {}
    for index, part in enumerate(drawing.parts):
        names[part.name] = names.get(part.name, 0) + 1
        number = names[part.name]
        part_id = f"p{index + 1}"
        parts.append({"id": part_id, "name": part.name if number == 1 else f"{part.name} {number}"})
        values: dict[str, Any] = {"path": part.path, "opacity": round(part.opacity * 100, 4)}
        values["fill.on"] = part.fill is not None
        if isinstance(part.fill, GradientFill):
            values |= {
                "fill.kind": part.fill.kind, "fill.start": part.fill.start,
                "fill.end": part.fill.end, "fill.stops": part.fill.stops,
                "fill.mixing": PLAIN,
            }  # fmt: skip
        elif part.fill is not None:
            values["fill.colour"] = part.fill
        if part.stroke is not None:
            values |= {
                "stroke.width": part.stroke_width, "stroke.colour": part.stroke,
                "stroke.cap": part.cap, "stroke.join": part.join, "stroke.dash": part.dash,
                "stroke.dash-offset": part.dash_offset,
            }  # fmt: skip
        for name, value in values.items():
            properties[f"part.{part_id}.{name}"] = {"value": value}
    return parts, properties
