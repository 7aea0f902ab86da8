"""How long a phase of a layer lasts by the moves that it wears in it."""

from __future__ import annotations

from ..frame.contents.text import TextContent
from ..frame.pieces import cut_pieces
from ..model import Layer
from ..moves import TEXT_UNITS, tempo_of
from .context import Resolver
from .courses import ArrangedMove
from .letter_units import ranges_of
from .looks import cut_of
from .moves import Worn, place_among, sliced, worn_as_it_is
from .values import LayerValues


def phase_length(evaluator: Resolver, layer: Layer, phase: str) -> float | None:
    """Seconds that the moves of a phase take, "arrive" or "leave"; None where none is worn in it.
    Counted are the letters, words, lines, slices, copies or layers that there are while it
    stands."""
    lasts = layer.end_s - layer.start_s
    moves = tuple(
        move
        for move in layer.moves
        if move.phase == phase and move.on and not isinstance(move, ArrangedMove)
    )
    if not moves or lasts <= 0:
        return None
    # The whole of its time is the phase: so each move is in effect in the middle of it.
    update = {"moves": moves, "arrive_s": 0.0, "leave_s": 0.0, f"{phase}_s": lasts}
    alone = layer.model_copy(update=update)
    values = evaluator.values(alone, layer.start_s + lasts / 2)
    needed = [_needed(evaluator, values, each, phase) for each in worn_as_it_is(evaluator, values)]
    return max(needed, default=None)


def _needed(evaluator: Resolver, v: LayerValues, each: Worn, phase: str) -> float:
    count = 1 if each.shared or each.over == "whole" else _count(evaluator, v, each.over)
    if not each.shared and (count > 1 or (each.over in TEXT_UNITS and v.layer.kind == "text")):
        return tempo_of(each.params, count).whole_s
    return each.kind.lasts_s(phase)


def _count(evaluator: Resolver, v: LayerValues, over: str) -> int:
    """How many units a move over them finds."""
    if over in TEXT_UNITS:
        content = evaluator.shown(v.bare()) if v.layer.kind == "text" else None
        return len(ranges_of(evaluator, content, over)) if isinstance(content, TextContent) else 1
    if over == "slices":
        box = evaluator.content_box(v.bare()) if sliced(v) else None
        return len(cut_pieces(cut_of(v), box)) if box is not None else 1
    return place_among(evaluator, v, over)[1]
