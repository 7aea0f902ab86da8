"""Where the letters of a text stand in the scene: what a caret and a selection are drawn by."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..frame.contents import TextContent
from ..geometry.affine import Point
from ..paint.library import MediaLibrary
from ..resolve.scene import SceneEvaluator
from ..typography.layout import Line, TextLayout


def letters_view(
    evaluator: SceneEvaluator, library: MediaLibrary, layer_id: str, time_s: float
) -> dict[str, Any]:
    """The letters of a text layer where its place has them, at rest; no lines where it shows no
    text.

    ``text`` is what is shown of it, ``typed`` whether that is what its words say (no expression
    makes others of them). ``lines`` have ``first`` and ``last`` (characters), ``left`` (whether the
    paragraph runs from the right), an ``edge`` where a caret stands at an empty one, and ``cells``:
    first, last, whether it runs from the right, and its corners in the scene, x and y by turns,
    clockwise from its top left.
    """
    layer = next((each for each in evaluator.scene.layers if each.id == layer_id), None)
    resolved = evaluator.layer(layer, time_s) if layer is not None else None
    if layer is None or resolved is None or not isinstance(resolved.content, TextContent):
        return {"layer": layer_id, "text": "", "typed": False, "lines": []}
    content = resolved.content
    layout = content.layout(library)
    place: Callable[[Point], Point] = resolved.lens or resolved.matrix
    values = evaluator.values(layer, time_s)
    return {
        "layer": layer_id,
        "text": content.text,
        "typed": content.text == values.keyed("text"),
        "lines": [_line(layout, line, place) for line in layout.lines],
    }


def _line(layout: TextLayout, line: Line, place: Callable[[Point], Point]) -> dict[str, Any]:
    top, foot = line.baseline - line.ascent, line.baseline + line.descent

    def corners(at: int, left: float, right: float) -> list[float]:
        into = layout.cell_places.get(at)
        flat = ((left, top), (right, top), (right, foot), (left, foot))
        spots = (place(into(p) if into is not None else p) for p in flat)
        return [round(v, 2) for spot in spots for v in spot]

    begin = line.left + (line.width if line.runs_left else 0.0)
    return {
        "first": line.first,
        "last": line.last,
        "left": line.runs_left,
        "edge": corners(line.first, begin, begin),
        "cells": [
            [cell.first, cell.last, cell.runs_left, *corners(cell.first, cell.left, cell.right)]
            for cell in line.cells
        ],
    }
