"""Shapes and drawings."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any, ClassVar

from ...geometry.affine import Box
from ...geometry.morph import morph
from ...geometry.outline import Outline, from_svg_path
from ...pixels.colour import Rgba
from ..forms import ShapeForm, form_between, form_box, form_outline
from ..surface import Surface
from .base import Content, Surfaced, Texts


@dataclass(frozen=True)
class ShapeContent(Surfaced):
    outlined: ClassVar[bool] = True

    form: ShapeForm
    surface: Surface

    def box(self, texts: Texts) -> Box:
        return form_box(self.form)

    def painted_box(self, texts: Texts, fixed_scale: float) -> Box:
        return self.surface.around(form_outline(self.form).bounds, fixed_scale)

    def outline(self, texts: Texts) -> Outline:
        return form_outline(self.form)

    @property
    def hollow(self) -> bool:
        return self.surface.fill is None

    @property
    def lined(self) -> bool:
        return self.surface.is_lined

    def between(self, other: Any, amount: float) -> ShapeContent | None:
        if not isinstance(other, ShapeContent):
            return None
        surface = self.surface.between(other.surface, amount)
        if surface is None:
            return None
        return ShapeContent(form_between(self.form, other.form, amount), surface)

    def radius(self) -> float:
        form = self.form
        return max(form.radius, math.hypot(*form.size) / 2, math.hypot(*form.end), 100.0)

    def rim_shift(self, other: Any) -> float | None:
        if not isinstance(other, ShapeContent):
            return None
        a, b = self.form, other.form
        form = replace(b, size=a.size, start=a.start, end=a.end, radius=a.radius)
        if replace(other, form=form) != self:
            return None
        return max(
            math.dist(a.size, b.size) / 2,
            math.dist(a.start, b.start),
            math.dist(a.end, b.end),
            abs(a.radius - b.radius),
        )


@dataclass(frozen=True)
class PartContent:
    """One path of a drawing, SVG path data, with its surface and opacity 0..1."""

    path: str
    surface: Surface
    opacity: float


@dataclass(frozen=True)
class DrawingContent(Content):
    """Several paths, the lowest first."""

    outlined: ClassVar[bool] = True

    parts: tuple[PartContent, ...]

    def box(self, texts: Texts) -> Box:
        return _around([from_svg_path(part.path).bounds for part in self.parts])

    def painted_box(self, texts: Texts, fixed_scale: float) -> Box:
        return _around(
            [
                part.surface.around(from_svg_path(part.path).bounds, fixed_scale)
                for part in self.parts
            ]
        )

    def outline(self, texts: Texts) -> Outline:
        whole = Outline.empty()
        for part in self.parts:
            whole = whole.joined(from_svg_path(part.path), "union")
        return whole

    def between(self, other: Any, amount: float) -> DrawingContent | None:
        """Where both have as many parts: they are matched in their order."""
        if not isinstance(other, DrawingContent) or len(self.parts) != len(other.parts):
            return None
        parts = []
        for a, b in zip(self.parts, other.parts, strict=True):
            surface = a.surface.between(b.surface, amount)
            if surface is None:
                return None
            opacity = a.opacity + (b.opacity - a.opacity) * amount
            parts.append(PartContent(morph(a.path, b.path, amount), surface, opacity))
        return DrawingContent(tuple(parts))

    def inked(self, ink: Rgba, share: float) -> DrawingContent:
        parts = tuple(replace(p, surface=p.surface.toned(ink, share)) for p in self.parts)
        return replace(self, parts=parts)


def _around(boxes: list[Box]) -> Box:
    if not boxes:
        return (0.0, 0.0, 0.0, 0.0)
    lefts, tops, rights, bottoms = zip(*boxes, strict=True)
    return (min(lefts), min(tops), max(rights), max(bottoms))
